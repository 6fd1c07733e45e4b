import math
import unittest

import numpy as np

from cross_staff.core.level.screws import (
    GOOD,
    LEAST_LOOKS,
    MOST_LOOKS,
    READ,
    TEST_TURN,
    TURN,
    USUAL_GAIN_RAD,
    USUAL_PLAY_RAD,
    AnglePerTurnPrior,
    Turn,
    angle_per_turn,
    decide,
    estimate,
    looks_needed,
    provable,
    went_the_other_way,
)
from cross_staff.core.simulate.bench import HiddenAxis, follow

DEG = math.radians(1.0)
LOOK, TOLERANCE = 0.05 * DEG, 0.25 * DEG
PRIOR = AnglePerTurnPrior(USUAL_GAIN_RAD, 0.5, 1, USUAL_PLAY_RAD)


def turned(turns: float, move_deg: float) -> Turn:
    return Turn(turns, 1.0 * DEG, (1.0 + move_deg) * DEG, LOOK, LOOK)


class Deciding(unittest.TestCase):
    def act(self, *looks_deg: float, turns: tuple[Turn, ...] = (), prior: AnglePerTurnPrior = PRIOR):  # type: ignore[no-untyped-def]
        return decide([v * DEG for v in looks_deg], LOOK, turns, TOLERANCE, prior)

    def test_two_looks_before_anything(self) -> None:
        self.assertEqual((self.act().kind, self.act(2.0).because), (READ, "second_look"))
        self.assertEqual(self.act(2.0, 2.6).because, "looks_apart")
        self.assertEqual((LEAST_LOOKS, MOST_LOOKS), (2, 12))  # docs/method.md, section 12

    def test_good_is_said_only_when_it_is_sure(self) -> None:
        self.assertEqual(self.act(0.02, -0.03).kind, GOOD)
        self.assertEqual((self.act(0.22, 0.24).kind, self.act(0.22, 0.24).because), (READ, "not_sure"))
        self.assertEqual(self.act(*[0.245] * MOST_LOOKS).kind, TURN)

    def test_the_first_turn_is_a_small_test_the_way_the_card_says(self) -> None:
        act = self.act(2.0, 2.05)
        self.assertEqual((act.kind, act.because, act.turns), (TURN, "test_turn", -TEST_TURN))
        reversed_card = AnglePerTurnPrior(USUAL_GAIN_RAD, 0.5, -1, USUAL_PLAY_RAD)
        self.assertEqual(self.act(2.0, 2.05, prior=reversed_card).turns, TEST_TURN)
        self.assertLess(abs(self.act(0.4, 0.41).turns), TEST_TURN)

    def test_then_by_the_gain_that_was_learned(self) -> None:
        act = self.act(1.4, 1.4, turns=(turned(-0.25, -0.6),))
        self.assertEqual(act.because, "by_gain")
        self.assertAlmostEqual(act.turns, -1.4 / 2.4, delta=0.05)
        self.assertAlmostEqual(act.move / DEG, -1.4, delta=0.15)

    def test_a_turn_that_moved_nothing_is_tested_again_larger(self) -> None:
        act = self.act(
            2.0, 2.0, turns=(turned(-0.1, 0.01),), prior=AnglePerTurnPrior(0.1 * DEG, 2.0, 1, USUAL_PLAY_RAD)
        )
        self.assertEqual((act.because, round(act.turns * 24)), ("test_again", -5))

    def test_it_is_tested_again_from_the_last_turn(self) -> None:
        prior = AnglePerTurnPrior(0.1 * DEG, 2.0, 1, USUAL_PLAY_RAD)
        act = self.act(2.0, 2.0, turns=(turned(-0.05, 0.01), turned(0.125, 0.0)), prior=prior)
        self.assertEqual((act.because, act.turns), ("test_again", 0.25))

    def test_a_knob_against_its_card_is_noticed(self) -> None:
        self.assertTrue(went_the_other_way([turned(-0.25, 0.6)], PRIOR))
        self.assertFalse(went_the_other_way([turned(-0.25, -0.6)], PRIOR))
        self.assertGreater(self.act(2.6, 2.6, turns=(turned(-0.25, 0.6),)).turns, 0.0)

    def test_in_divisions_it_works_the_same(self) -> None:
        prior = AnglePerTurnPrior(5.0, 0.5, 1, 0.1)
        made = (Turn(-0.25, 2.0, 0.8, 0.1, 0.1),)
        self.assertLess(decide([0.8, 0.8], 0.1, made, 0.3, prior).turns, 0.0)


class Learning(unittest.TestCase):
    def test_the_gain_comes_in_with_more_turns(self) -> None:
        one, three = (
            angle_per_turn([turned(0.25, 0.7)], PRIOR),
            angle_per_turn([turned(0.25, 0.7), turned(0.5, 1.4), turned(-0.5, -1.4)], PRIOR),
        )
        self.assertAlmostEqual(three.value / DEG, 2.8, delta=0.15)
        self.assertLess(three.sd, one.sd)
        self.assertIsNone(angle_per_turn([], PRIOR))

    def test_a_single_turn_tells_as_much_as_its_parts_err(self) -> None:
        """Hand (4 % and 0.02 turn), play, both looks, and the prior of its size, by hand."""
        turn = Turn(0.25, 1.0 * DEG, 1.7 * DEG, LOOK, 2.0 * LOOK)
        width = USUAL_GAIN_RAD * math.sinh(0.5) * 1.2
        value = turn.move / 0.25
        for _ in range(3):
            hand = (0.04 * turn.move) ** 2 + (0.02 * value) ** 2
            told = 0.25**2 / (hand + USUAL_PLAY_RAD**2 + LOOK**2 + 4.0 * LOOK**2)
            value = (turn.move / 0.25 * told + USUAL_GAIN_RAD / width**2) / (told + width**-2.0)
        learned = angle_per_turn([turn], PRIOR)
        self.assertAlmostEqual(learned.value / value, 1.0, places=6)
        self.assertAlmostEqual(learned.sd * math.sqrt(told + width**-2.0), 1.0, places=6)

    def test_looks_are_averaged_and_scatter_counts(self) -> None:
        self.assertAlmostEqual(estimate([1.0, 1.2], 0.1).sd, 0.1 / math.sqrt(2.0))
        self.assertGreater(estimate([0.0, 1.0, 0.0, 1.0], 0.1).sd, 0.2)
        self.assertIsNone(estimate([], 0.1))
        self.assertLess(provable(LOOK), TOLERANCE)

    def test_the_looks_that_are_asked_for_would_settle_it(self) -> None:
        off = TOLERANCE - 1.3 * LOOK
        now = estimate([off], LOOK)
        more = looks_needed(now, LOOK, TOLERANCE)
        self.assertGreater(more, 0)
        self.assertEqual(decide([off] * (1 + more), LOOK, [], TOLERANCE, PRIOR).kind, GOOD)
        self.assertEqual(decide([off] * more, LOOK, [], TOLERANCE, PRIOR).kind, READ)
        self.assertIsNone(looks_needed(estimate([2.0 * TOLERANCE], LOOK), LOOK, TOLERANCE))
        self.assertIsNone(looks_needed(estimate([0.999 * TOLERANCE], LOOK), LOOK, TOLERANCE))
        self.assertEqual(looks_needed(estimate([0.0] * 3, LOOK), LOOK, TOLERANCE), 0)


class Counted(HiddenAxis):
    """An axis that counts how often it is looked at and turned."""

    looked = turned = 0

    def look(self) -> float:
        self.looked += 1
        return super().look()

    def turn(self, turns: float) -> None:
        self.turned += 1
        super().turn(turns)


class OnTheBench(unittest.TestCase):
    def test_every_look_and_turn_is_counted(self) -> None:
        for seed in range(5):
            axis = Counted.drawn(np.random.default_rng(seed))
            went = follow(axis, TOLERANCE)
            self.assertEqual((went.looks, went.turns, len(went.log)), (axis.looked, axis.turned, axis.turned))
            self.assertEqual(went.error_rad, axis.error_rad)

    def test_twenty_axes_are_brought_in_by_orders_alone(self) -> None:
        went = [follow(HiddenAxis.drawn(np.random.default_rng(seed)), TOLERANCE) for seed in range(20)]
        self.assertTrue(all(each.good for each in went))
        self.assertLessEqual(sorted(each.turns for each in went)[10], 3)
        self.assertLessEqual(max(each.turns for each in went), 8)
        self.assertTrue(all(abs(each.error_rad) <= TOLERANCE for each in went))
