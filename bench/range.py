"""Virtual archers with human habits at the range, of every kind of sight, from empty shops, by the program's services.

    python bench/range.py [SEEDS] [FIRST SEED] [KIND]

Printed for each kind: how many ended, and how many of those right; arrows; wrong orders, that made the aim worse by
more than the archer's spread; aims called good enough that are not; questions with nothing behind them. Then three
pins at 18, 30 and 45 m, shot in by the program and by the usual rules of the hand.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import numpy as np

from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.archer import DAY_MRAD, Archer, Habits
from cross_staff.core.simulate.range_by_hand import ByHand, by_hand
from cross_staff.services.practice.range_walk import RangeWalked, walk_by, walk_of

SEEDS = 200
PINS_M, TARGET_M, SPREAD_MRAD = (18.0, 30.0, 45.0), 0.25, 1.0


def careful(seed: int) -> Archer:
    """Three pins, one mrad, days of 0.3: somebody who does what he is told."""
    archer = Archer.drawn("fixed_pins", seed, Habits(a_day=24, day_mrad=DAY_MRAD))
    goals = replace(archer.card.goals, home_m=PINS_M[0], pin_distances_m=PINS_M, target_size_m=TARGET_M)
    archer.sight.card = replace(archer.card, goals=goals)
    archer.sight.spread_mrad = SPREAD_MRAD
    return archer


def three_pins(seed: int) -> tuple[RangeWalked, ByHand]:
    """The same sight by the program and by hand."""
    return walk_by(careful(seed)), by_hand(careful(seed))


def line(kind: str, ended: Sequence[RangeWalked]) -> str:
    """A kind in a line."""
    arrows = [w.arrows for w in ended]
    good = [over for w in ended for over in w.good.values()]
    orders, ends = sum(w.orders for w in ended), sum(w.ends for w in ended)
    right = sum(w.done and all(over <= 1.0 for over in w.good.values()) for w in ended)
    worse, false = sum(len(w.worse) for w in ended), sum(over > 1.0 for over in good)
    questions = sum(w.false_questions for w in ended)
    return (
        f"{kind:<20} ended {sum(w.done for w in ended)} of {len(ended)}, right {right}; arrows {np.median(arrows):.0f} "
        f"(19 in 20 within {np.percentile(arrows, 95):.0f}); wrong orders {worse} of {orders}; false good enough "
        f"{false} of {len(good)}; questions {sum(w.asked for w in ended)}, with nothing behind them {questions} in "
        f"{ends} ends; refused {sum(len(w.refused) for w in ended)}"
    )


def main() -> None:
    """Every kind, a line each as it is finished; then the three pins."""
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else SEEDS
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    kinds = sys.argv[3:] or list(KINDS)
    numbers = range(first, first + seeds)
    print(f"{seeds} virtual archers of each kind of sight, from empty shops", flush=True)
    with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
        for kind in kinds:
            print(line(kind, list(pool.map(walk_of, [kind] * seeds, numbers))), flush=True)
        pairs = list(pool.map(three_pins, numbers))
    for name, arrows, off in (
        ("by the program", [o.arrows for o, _ in pairs], [list(o.good.values()) for o, _ in pairs]),
        ("by hand", [h.arrows for _, h in pairs], [list(h.off.values()) for _, h in pairs]),
    ):
        true = 100.0 * np.mean([len(row) == len(PINS_M) and max(row) <= 1.0 for row in off])
        print(f"three pins, {name}: arrows {np.median(arrows):.0f}, all aims true in {true:.1f} %", flush=True)


if __name__ == "__main__":
    main()
