"""Tapes that are proven over days: what is said of them, and how often it is wrong.

    python bench/proof.py [HISTORIES]

Every history has two lines a visit of four arrows each, one at 26 to 47 m and one at 61 or 78 m, or any two of these
stakes; the tape is wanted to 95 m with a target of 25 cm; spread 1 mrad, days 0.3 mrad. Printed are the verdicts, and
how many were confident and wrong: true while it is off by more than 1.2 times half the target somewhere, wrong while it
is within 0.8 times everywhere, a cause that is not the one.
"""

from __future__ import annotations

import sys
from collections import Counter
from dataclasses import replace
from itertools import product

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.prove.lines import Proving, TapeScale, scale_of
from cross_staff.core.prove.verdict import TapeVerdict, VerdictKind, judge
from cross_staff.core.simulate.proofs import HiddenTape, history

HISTORIES = 200
FIGURES, HOME_M = RigFigures(81.0, 0.00142, 0.82, 0.104), 17.0
ASKED = Proving((26.0, 38.0, 47.0, 61.0, 78.0, 95.0), 0.25, 1.0, 0.3)
SURE_WRONG, SURE_RIGHT = 1.2, 0.8  # of half the target
CASES = {
    "true tape": HiddenTape(),
    "shift 1.5 mm": HiddenTape(shift_mm=1.5),
    "shift -2.5 mm": HiddenTape(shift_mm=-2.5),
    "stretch 4 %": HiddenTape(stretch=0.04),
    "stretch -5 %, shift -0.3 mm": HiddenTape(-0.3, -0.05),
    "stretch 4 %, shift 1 mm": HiddenTape(1.0, 0.04),
    "stretch 4 %, shift -1 mm": HiddenTape(-1.0, 0.04),
    "true, days twice as believed": HiddenTape(days_times=2.0),
    "stretch 4 %, days twice as believed": HiddenTape(stretch=0.04, days_times=2.0),
    "true, other arrows on one visit": HiddenTape(swapped=0.12),
    "knocked by 0.8 mm half way": HiddenTape(knocked_mm=0.8, knocked_before=-1),
    "knocked by 1.5 mm half way": HiddenTape(knocked_mm=1.5, knocked_before=-1),
    "true, one line lies by 20 cm": HiddenTape(lie_m=0.20),
    "stretch 4 %, one line lies by -20 cm": HiddenTape(stretch=0.04, lie_m=-0.20),
}


def wrong(told: TapeVerdict, truth: HiddenTape, scale: TapeScale) -> bool:
    """Whether a verdict is confident and not so."""
    half = 0.5 * ASKED.target_m
    worst = max(abs(truth.up_m(scale, distance, last=True)) for distance in ASKED.wanted_m)
    if told.kind == VerdictKind.TRUE:
        return worst > SURE_WRONG * half
    if told.off and worst < SURE_RIGHT * half:
        return True
    if told.kind == VerdictKind.SHIFTED:
        return truth.stretch != 0.0
    return told.kind == VerdictKind.STRETCHED and truth.stretch == 0.0


def counted(
    truth: HiddenTape, visits: int, histories: int, scale: TapeScale, spread_out: bool = True
) -> tuple[Counter[str], int]:
    """How often each verdict, and how many were confident and wrong."""
    truth = replace(truth, knocked_before=visits // 2) if truth.knocked_before < 0 else truth
    said: Counter[str] = Counter()
    bad = 0
    for seed in range(histories):
        lines = history(scale, truth, ASKED, visits, np.random.default_rng(seed), spread_out)
        told = judge(scale, lines, ASKED)
        said[told.kind] += 1
        bad += wrong(told, truth, scale)
    return said, bad


def main() -> None:
    """Print every case."""
    histories = int(sys.argv[1]) if len(sys.argv) > 1 else HISTORIES
    scale = scale_of(FIGURES, HOME_M)
    for name, truth in CASES.items():
        for visits, spread_out in product((6, 10), (True, False)):
            said, bad = counted(truth, visits, histories, scale, spread_out)
            told = ", ".join(f"{kind.value.replace('_', ' ')} {said[kind]}" for kind in VerdictKind if said[kind])
            pair = "near and far" if spread_out else "any two"
            print(f"{name}, {visits} visits, {pair}: {told}; wrong {bad}")


if __name__ == "__main__":
    main()
