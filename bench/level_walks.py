"""Walks of a virtual technician through the level, from empty shops, by the program's own services.

    python bench/level_walks.py [WALKS] [FIRST SEED]

Every walk has a bow of its own with hidden axes, seats, draw twist, screws and glass, a hand with human habits, any
kind of sight, right- or left-handed, vials calibrated or not. Printed is how they ended: what was called good enough
and was not, orders that could not be obeyed, readings and turns. Then the same bows with clean references and a hand
without slips, vials calibrated, and not: how few looks and turns lead to what the method can give.
"""

from __future__ import annotations

import sys
import tempfile
from collections import Counter
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from cross_staff.core.simulate.technician import WalkOutcome
from cross_staff.demo.level_work import empty_shop_walk
from cross_staff.storage.database import Database

WALKS = 500


def walks(count: int, first: int, clean: bool | None = None) -> list[WalkOutcome]:
    """So many walks, each in a shop of its own."""
    ended = []
    for seed in range(first, first + count):
        with tempfile.TemporaryDirectory() as folder:
            database = Database(Path(folder) / "shop.sqlite3")
            database.migrate()
            ended.append(empty_shop_walk(database, seed, clean))
            database.close()
    return ended


def report(ended: Sequence[WalkOutcome], first: int) -> list[str]:
    """What is printed of them."""
    outcomes = Counter((walk.step, walk.label) for walk in ended)
    lines = [f"{len(ended)} walks from empty shops"]
    lines += [f"  ended {step}{f', {label}' if label else ''}: {n}" for (step, label), n in sorted(outcomes.items())]
    good = [
        (n, axis, walk.over(axis))
        for n, walk in enumerate(ended)
        for axis, standing in walk.standings.items()
        if standing == "good"
    ]
    false = [each for each in good if each[2] > 1.0]
    part, twice = 100.0 * len(false) / max(len(good), 1), sum(over > 2.0 for _, _, over in false)
    lines.append(f"good enough said {len(good)} times, false {len(false)} ({part:.2f} %), beyond twice {twice}")
    lines += [f"  seed {first + n}: {axis} axis at {over:.2f} times its tolerance" for n, axis, over in false]
    squared = [walk for walk in ended if walk.label]
    lines.append(f"squared, its label kept: {len(squared)}; of these within the tolerance at full draw all the same: "
                 f"{sum(walk.over('third') <= 1.0 for walk in squared)}")  # fmt: skip
    unended = [f"  seed {first + n}: {walk.standings}" for n, walk in enumerate(ended) if walk.step != "done"]
    lines += [f"not ended: {len(unended)}", *unended]
    impossible = [f"seed {first + n}: {words}" for n, walk in enumerate(ended) for words in walk.impossible]
    lines.append(f"orders that could not be obeyed: {len(impossible)}")
    lines += [f"  {words}" for words in impossible]
    lines.append(f"screws driven more than a turn on a first try: {sum(walk.largest_first > 1.0 for walk in ended)}")
    for name, counts in (("readings", [w.readings for w in ended]), ("turns", [w.turns for w in ended])):
        lines.append(f"{name}: median {np.median(counts):.0f}, 19 in 20 within {np.percentile(counts, 95):.0f}, "
                     f"at most {max(counts)}")  # fmt: skip
    return lines


def main() -> None:
    """Walk, and print."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else WALKS
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    for clean, words in ((None, "as people work"), (True, "clean, calibrated"), (False, "clean, not calibrated")):
        print(words)
        print("\n".join(report(walks(count, first, clean), first)), flush=True)


if __name__ == "__main__":
    main()
