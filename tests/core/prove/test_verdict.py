import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.prove.lines import ProofShots, Proving, scale_of
from cross_staff.core.prove.verdict import Doubt, TapeVerdict, VerdictKind, judge
from cross_staff.core.simulate.proofs import HiddenTape, history
from tests.rigs import RIG_A

SCALE = scale_of(RIG_A, 17.0)
ASKED = Proving((26.0, 38.0, 47.0, 61.0, 78.0, 95.0), 0.25, 1.0, 0.3)
OFF = ((26, 26, -0.02, "a"), (61, 61, -0.09, "a"), (78, 78, -0.13, "b"), (47, 47, -0.05, "b"), (78, 80, 0.02, "c"))
GOOD = (
    *((38, 38, 0.01, "a"), (61, 61, -0.01, "a"), (78, 78, 0.03, "b"), (47, 47, 0.0, "b")),
    *((78, 78, -0.01, "c"), (61, 61, 0.015, "c"), (78, 78, -0.02, "d"), (61, 61, -0.01, "d")),
)


def shots(*rows: tuple[float, float, float, str]) -> list[ProofShots]:
    return [ProofShots(float(distance), float(dialled), up, 4, session) for distance, dialled, up, session in rows]


def dialled_true(a_mm: float, b: float, visits: int, distances: tuple[float, ...]) -> list[ProofShots]:
    """Lines without any scatter, dialled by a tape that is off by so much."""
    truth = HiddenTape(a_mm, b)
    return [ProofShots(d, d, truth.up_m(SCALE, d), 4, str(v)) for v in range(visits) for d in distances]


class References(unittest.TestCase):
    """docs/method.md, section 17."""

    def test_five_lines_cannot_tell_yet(self) -> None:
        told = judge(SCALE, shots(*OFF), ASKED)
        self.assertEqual((told.kind, told.off), (VerdictKind.CANNOT_TELL, False))
        for known, value, sd in (
            (told.shift_mm, 0.607, 0.408),
            (told.stretch, 0.0175, 0.0137),
            (told.shift_alone_mm, 1.034, 0.233),
        ):
            self.assertAlmostEqual(known.value, value, delta=6e-4)
            self.assertAlmostEqual(known.sd or 0.0, sd, delta=6e-4)
        last = told.rows[-1]
        self.assertAlmostEqual(last.up_m, -0.1727, delta=1e-4)
        self.assertAlmostEqual(last.sd_m, 0.0574, delta=1e-4)
        self.assertAlmostEqual(last.chance_within, 0.203, delta=1e-3)
        following = told.next
        assert following is not None
        self.assertEqual(following.distance_m, 95.0)
        self.assertAlmostEqual(following.sd_then_m, 0.0370, delta=1e-4)

    def test_eight_lines_of_four_days_say_true(self) -> None:
        told = judge(SCALE, shots(*GOOD), ASKED)
        self.assertEqual(told.kind, VerdictKind.TRUE)
        self.assertEqual(told.worst_m, 95.0)
        self.assertAlmostEqual(told.smallest_chance, 0.979, delta=1e-3)


class Causes(unittest.TestCase):
    def told(self, a_mm: float, b: float, distances: tuple[float, ...] = (26.0, 47.0, 61.0, 78.0)) -> TapeVerdict:
        return judge(SCALE, dialled_true(a_mm, b, 8, distances), ASKED)

    def test_a_shift_is_given_as_what_the_pointer_goes(self) -> None:
        told = self.told(3.0, 0.0)
        self.assertEqual((told.kind, told.off), (VerdictKind.SHIFTED, True))
        self.assertAlmostEqual(told.shift_alone_mm.value, 3.0, delta=0.05)

    def test_a_stretch_has_no_shift(self) -> None:
        told = self.told(0.0, -0.06)
        self.assertEqual(told.kind, VerdictKind.STRETCHED)
        self.assertAlmostEqual(told.stretch.value, -0.06, delta=0.01)

    def test_both_at_once_are_never_called_a_shift(self) -> None:
        self.assertNotEqual(self.told(1.0, 0.04).kind, VerdictKind.SHIFTED)

    def test_few_far_lines_leave_the_cause_open_and_ask_for_a_near_one(self) -> None:
        for a_mm, stretch in ((0.0, 0.07), (0.0, -0.07), (3.0, 0.0)):
            told = judge(SCALE, dialled_true(a_mm, stretch, 3, (61.0, 78.0)), ASKED)
            self.assertEqual((told.kind, told.off, told.doubt), (VerdictKind.CANNOT_TELL, True, Doubt.CAUSE))
            assert told.next is not None
            self.assertEqual(told.next.distance_m, 26.0)

    def test_groups_at_one_distance_claim_nothing(self) -> None:
        for up in (0.0, 0.30):
            rows = [(61.0, 61.0, up, str(day)) for day in range(12)]
            told = judge(SCALE, shots(*rows), ASKED)
            self.assertEqual(told.kind, VerdictKind.CANNOT_TELL)

    def test_no_line_claims_nothing_and_names_the_first(self) -> None:
        told = judge(SCALE, [], ASKED)
        self.assertEqual((told.kind, told.misfit), (VerdictKind.CANNOT_TELL, None))
        self.assertIsNotNone(told.next)

    def test_many_lines_of_one_day_do_not_say_true(self) -> None:
        lines = [replace(each, session="one") for each in dialled_true(0.0, 0.0, 6, (38.0, 78.0))]
        apart = judge(SCALE, dialled_true(0.0, 0.0, 6, (38.0, 78.0)), ASKED)
        self.assertEqual(apart.kind, VerdictKind.TRUE)
        self.assertLess(judge(SCALE, lines, ASKED).smallest_chance, apart.smallest_chance)

    def test_dialled_off_the_distance_says_the_same(self) -> None:
        """A tape that reads as it should, dialled for 80 at 78 m, comes in as high as 80 is above 78 there."""
        up = (SCALE.place_mm(80.0) - SCALE.place_mm(78.0)) / SCALE.mm_per_m(78.0)
        plain, off = (judge(SCALE, [ProofShots(78.0, d, u, 4, "a")], ASKED) for d, u in ((78.0, 0.0), (80.0, up)))
        self.assertAlmostEqual(plain.shift_mm.value, off.shift_mm.value, delta=1e-9)


class Contradictions(unittest.TestCase):
    def test_a_line_that_lies_is_named_and_nothing_is_claimed(self) -> None:
        lines = dialled_true(0.0, 0.0, 4, (38.0, 78.0))
        lines[3] = replace(lines[3], up_m=0.45)
        told = judge(SCALE, lines, ASKED)
        self.assertEqual((told.kind, told.doubt, told.suspects), (VerdictKind.CANNOT_TELL, Doubt.DAYS, (3,)))

    def test_a_pointer_that_was_knocked_between_two_visits(self) -> None:
        truth = HiddenTape(knocked_mm=2.0, knocked_before=4)
        lines = [
            ProofShots(d, d, truth.up_m(SCALE, d, visit), 4, f"day {visit}") for visit in range(8) for d in (38.0, 78.0)
        ]
        told = judge(SCALE, lines, ASKED)
        self.assertEqual((told.kind, told.doubt, told.moved_after), (VerdictKind.CANNOT_TELL, Doubt.MOVED, "day 3"))

    def test_a_day_spread_that_is_not_known_claims_less(self) -> None:
        lines = history(SCALE, HiddenTape(), ASKED, 6, np.random.default_rng(4))
        sure, unsure = (judge(SCALE, lines, replace(ASKED, day_sd_ln=sd)) for sd in (0.0, 0.55))
        self.assertLess(unsure.smallest_chance, 1.0)
        self.assertAlmostEqual(unsure.shift_mm.value, sure.shift_mm.value, delta=0.3)

    def test_histories_are_seldom_called_wrongly(self) -> None:
        for truth in (HiddenTape(), HiddenTape(shift_mm=2.5), HiddenTape(stretch=0.04)):
            for seed in range(12):
                told = judge(SCALE, history(SCALE, truth, ASKED, 8, np.random.default_rng(seed)), ASKED)
                off = max(abs(truth.up_m(SCALE, d, last=True)) for d in ASKED.wanted_m) > 0.15
                self.assertFalse(told.kind == VerdictKind.TRUE and off, (truth, seed))
                self.assertFalse(told.off and truth == HiddenTape(), (truth, seed))

    def test_a_distance_has_to_be_wanted(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "name a distance"):
            judge(SCALE, [], replace(ASKED, wanted_m=()))


class WhatItMaySay(unittest.TestCase):
    def test_chances_are_chances_and_do_not_exceed_the_whole(self) -> None:
        for lines in ([], shots(*OFF), shots(*GOOD)):
            following = judge(SCALE, lines, ASKED).next
            assert following is not None
            self.assertTrue(0.0 <= following.may_be_true + following.may_be_off <= 1.0 + 1e-12)
            self.assertFalse(math.isnan(following.sd_then_m))


if __name__ == "__main__":
    unittest.main()
