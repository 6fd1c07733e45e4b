"""Simulated archers of every kind of sight: sighted in by the program's orders alone, and by chasing groups.

Printed: arrows and movements, how often the true middle ends within a third of the archer's spread, at
the reference and over all aims, and how many chasers are settled, by the same rule, with as many arrows.
"""

from __future__ import annotations

import os
import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from cross_staff.core.groups import SMALL_PART
from cross_staff.core.sights import KINDS
from cross_staff.core.simulate.archer import Went, both

SEEDS = 200


def within(found: list[Went], chased: bool = False, reference: bool = False) -> float:
    """Percent of aims that end within a third of the spread."""
    off = [w.chased_off if chased else w.off for w in found]
    return 100.0 * float(np.mean([v <= SMALL_PART for row in off for v in (row[:1] if reference else row)]))


def line(kind: str, found: list[Went]) -> str:
    arrows = np.array([w.arrows for w in found])
    fewer = sum(w.arrows < w.chased_arrows or not w.chased_done for w in found)
    settled = sum(w.chased_done for w in found)
    return (
        f"{kind:<20} {np.median(arrows):4.0f} arrows (95 % in {np.percentile(arrows, 95):.0f}), "
        f"{np.median([w.moves for w in found]):3.0f} movements; within a third: reference "
        f"{within(found, reference=True):5.1f} %, all aims {within(found):5.1f} %; not finished "
        f"{sum(not w.done for w in found)} | chasing: {np.median([w.chased_moves for w in found]):4.0f} movements, "
        f"settled with as many arrows {settled}, all aims {within(found, chased=True):5.1f} %; "
        f"fewer arrows by orders {fewer} of {len(found)}"
    )


def main(seeds: int = SEEDS) -> None:
    """Every kind, a line each as it is finished."""
    print(f"{seeds} simulated archers of each kind of sight", flush=True)
    with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
        for kind in KINDS:
            found = list(pool.map(both, [kind] * seeds, range(seeds), chunksize=4))
            print(line(kind, found), flush=True)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else SEEDS)
