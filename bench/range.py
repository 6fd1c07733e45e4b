"""Simulated archers of every kind of sight: sighted in by the program's orders alone, and by chasing groups.

Printed: arrows and movements, how often the true middle ends within a third of the archer's spread, at
the reference and over all aims, and how many chasers are settled, by the same rule, with as many arrows.
"""

from __future__ import annotations

import os
import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from cross_staff.core.estimation.groups import SMALL_PART
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.archer import SightInOutcome, by_chasing, by_orders

SEEDS = 200


def within(outcomes: list[SightInOutcome], reference: bool = False) -> float:
    """Percent of aims that end within a third of the spread."""
    off = [list(each.off.values()) for each in outcomes]
    return 100.0 * float(np.mean([v <= SMALL_PART for row in off for v in (row[:1] if reference else row)]))


def line(kind: str, orders: list[SightInOutcome], chased: list[SightInOutcome]) -> str:
    arrows = np.array([each.arrows for each in orders])
    return (
        f"{kind:<20} {np.median(arrows):4.0f} arrows (95 % in {np.percentile(arrows, 95):.0f}), "
        f"{np.median([each.moves for each in orders]):3.0f} movements; within a third: reference "
        f"{within(orders, True):5.1f} %, all aims {within(orders):5.1f} %; not finished "
        f"{sum(not each.done for each in orders)} | chasing {len(chased)}: "
        f"{np.median([each.moves for each in chased]):4.0f} movements, settled with as many arrows "
        f"{sum(each.done for each in chased)}, all aims {within(chased):5.1f} %"
    )


def main(seeds: int = SEEDS, chasers: int = SEEDS) -> None:
    """Every kind, a line each as it is finished; the chaser may shoot as many arrows as the orders took."""
    print(f"{seeds} simulated archers of each kind of sight, {chasers} of them chasing too", flush=True)
    with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
        for kind in KINDS:
            orders = list(pool.map(by_orders, [kind] * seeds, range(seeds), chunksize=4))
            most = [each.arrows for each in orders[:chasers]]
            chased = list(pool.map(by_chasing, [kind] * len(most), range(len(most)), most, chunksize=4))
            print(line(kind, orders, chased), flush=True)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:3]))
