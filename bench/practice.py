"""The practice bench's exercises at random: the program's orders beside somebody who knows all, and one who guesses.

    python bench/practice.py [SEEDS] [FIRST SEED]

For each theme so many bows. Arrows: the all-knowing sets every control once, as it belongs, and shoots until the
program's own verdict is sure; the novice shoots groups of three, moves by each group's whole error, stops after two
good ones, and comes back on another day to what truly is off, until it is not. Turns: the
all-knowing turns each axis by what it is off; the novice turns by guess until the bubble looks centred. Printed are
medians of the ratios.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence

import numpy as np

from cross_staff.core.practice.exercise import AXES, Budget, Exercise, Hidden
from cross_staff.core.simulate.practice_bow import PracticeBow
from cross_staff.core.simulate.range_by_hand import by_hand
from cross_staff.core.simulate.solver import all_knowing_turns, guessed_turns, set_right
from cross_staff.services.practice.program import program_needs

SEEDS = 100
THEMES = {
    "the three axes": ("multi_pin_slider", AXES),
    "the second axis": ("multi_pin_slider", ("second",)),  # on a rail that is true
    "near pin": ("multi_pin_slider", ("home",)),
    "every pin": ("multi_pin_slider", ("home", "pins")),
    "tape": ("single_pin_slider", ("home", "tape")),
}


def exercise(kind: str, goals: tuple[str, ...], seed: int) -> Exercise:
    """A bow as they come."""
    budget = Budget(500, 200, 5000, 30)
    hidden = Hidden(first_deg=0.0) if goals == ("second",) else Hidden()
    return Exercise("random", "random", "whole", 2, seed, "as they come", kind, goals, budget, "-", hidden=hidden)


def turns(each: Exercise) -> tuple[int, int, int, bool, bool]:
    """Turns of the program, of the all-knowing, of the novice; whether the program called it good, and was right."""
    needs = program_needs(each)
    assert needs is not None
    tolerances = {axis: most for axis, _, most in needs.left_rad}
    true = all(abs(off) <= most for _, off, most in needs.left_rad)
    return (
        needs.turns,
        all_knowing_turns(PracticeBow(each), tolerances),
        guessed_turns(PracticeBow(each), each.goals),
        needs.said_good,
        true,
    )


def arrows(each: Exercise) -> tuple[tuple[int, int, int], tuple[int, int, int], bool, bool]:
    """Arrows and movements of the program, the all-knowing, the novice; whether the program came to its end, and
    whether what the novice left at first is true."""
    needs, least = program_needs(each), program_needs(each, right=True)
    assert needs is not None and least is not None
    bow = PracticeBow(each)
    moves = set_right(PracticeBow(each))
    pins = 1 if "pins" not in each.goals else len(bow.pins())
    far = bow.exercise.farthest_m
    marks = (0.65 * far, far) if "tape" in each.goals else ()
    once = by_hand(PracticeBow(each).archer, pins, marks)
    hand = by_hand(bow.archer, pins, marks, until_true=True)
    true = all(off <= 1.0 for off in once.off.values())
    return (needs.arrows, least.arrows, hand.arrows), (needs.turns, moves, hand.moves), needs.said_good, true


def report(name: str, unit: str, rows: Sequence[tuple[int, int, int]]) -> str:
    """Medians, and the medians of the ratios where there is something to divide by."""
    each = np.array(rows, dtype=float)
    some = each[each[:, 1] > 0]
    program, novice = (float(np.median(some[:, k] / some[:, 1])) for k in (0, 2))
    middle = np.median(each, axis=0)
    return (f"  {name}, {unit}: the program {middle[0]:.0f}, all-knowing {middle[1]:.0f}, novice {middle[2]:.0f}; "
            f"over the all-knowing {program:.2f} and {novice:.2f}, of {len(some)} bows")  # fmt: skip


def main() -> None:
    """Follow, and print."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else SEEDS
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    print(f"{count} bows a theme")
    for name, (kind, goals) in THEMES.items():
        every = [exercise(kind, goals, seed) for seed in range(first, first + count)]
        if set(goals) <= set(AXES):
            told = [turns(each) for each in every]
            print(report(name, "turns", [row[:3] for row in told]))
            good = [row for row in told if row[3]]
            right = sum(row[4] for row in good)
            print(
                f"    called good: {len(good)} of {count}, {right} of them true; else left as far as the tool sees",
                flush=True,
            )
            continue
        shot = [arrows(each) for each in every]
        print(report(name, "arrows", [row[0] for row in shot]))
        print(report(name, "movements", [row[1] for row in shot]))
        ended, true = (sum(row[k] for row in shot) for k in (2, 3))
        print(
            f"    the program came to its end: {ended} of {count}; what the novice left at first is true: {true}",
            flush=True,
        )


if __name__ == "__main__":
    main()
