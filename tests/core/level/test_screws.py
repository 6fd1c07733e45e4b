import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.level.screws import (
    ASK,
    GOOD,
    LEAST_LOOKS,
    MOST_LOOKS,
    MOST_TURN,
    READ,
    SQUARED,
    TEST_TURN,
    TURN,
    USUAL_GAIN_RAD,
    USUAL_PLAY_RAD,
    AnglePerTurnPrior,
    Beyond,
    Estimate,
    Evidence,
    Turn,
    angle_per_turn,
    chance_within,
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
    return Turn(turns, 1.0 * DEG, (1.0 + move_deg) * DEG, math.sqrt(2.0) * LOOK)


def evidence(*looks_deg: float, **more: object) -> Evidence:
    """Looks at an axis, and nothing that its method does not see."""
    seen = estimate([v * DEG for v in looks_deg], LOOK)
    return replace(Evidence(tuple(v * DEG for v in looks_deg), LOOK, seen, seen), **more)  # type: ignore[arg-type]


class Deciding(unittest.TestCase):
    def act(self, *looks_deg: float, turns: tuple[Turn, ...] = (), prior: AnglePerTurnPrior = PRIOR):  # type: ignore[no-untyped-def]
        return decide(evidence(*looks_deg), turns, TOLERANCE, prior)

    def test_a_second_look_only_where_it_can_change_what_is_done(self) -> None:
        self.assertEqual((self.act().kind, self.act(0.1).because), (READ, "second_look"))
        self.assertEqual(self.act(2.0).kind, TURN)
        confirmed = decide(evidence(0.1, looked_before=True), (), TOLERANCE, PRIOR)
        self.assertEqual(confirmed.kind, GOOD)
        near = decide(evidence(0.17, looked_before=True), (), TOLERANCE, PRIOR)
        self.assertEqual((near.kind, near.because), (READ, "not_sure"))
        self.assertEqual(self.act(2.0, 2.6).because, "looks_apart")
        self.assertEqual((LEAST_LOOKS, MOST_LOOKS), (2, 12))  # docs/method.md, section 12

    def test_good_is_said_only_when_it_is_sure(self) -> None:
        self.assertEqual(self.act(0.02, -0.03).kind, GOOD)
        self.assertEqual((self.act(0.18, 0.19).kind, self.act(0.18, 0.19).because), (READ, "not_sure"))
        self.assertEqual(self.act(0.22, 0.24).kind, TURN)  # many looks cost more
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

    def test_nothing_is_turned_by_more_than_a_turn(self) -> None:
        slow = AnglePerTurnPrior(0.3 * DEG, 0.3, 1, USUAL_PLAY_RAD)
        made = (turned(-0.25, -0.08), turned(-1.0, -0.31))
        self.assertEqual(abs(self.act(9.0, 9.0, turns=made, prior=slow).turns), MOST_TURN)
        self.assertEqual(MOST_TURN, 1.0)


class NotSeen(unittest.TestCase):
    """What the tool cannot see: no turn, no further look, another outcome."""

    def unseen(self, *looks: float, sd_deg: float, **more: object):  # type: ignore[no-untyped-def]
        known = evidence(*looks, bias_alone=True, **more)
        wide = replace(known.whole, sd=math.hypot(known.whole.sd, sd_deg * DEG))
        return decide(replace(known, whole=wide), (), TOLERANCE, PRIOR)

    def test_squared_where_only_the_bias_is_left(self) -> None:
        self.assertEqual(self.unseen(0.02, 0.0, sd_deg=0.7).kind, SQUARED)
        self.assertEqual(self.unseen(0.02, 0.0, sd_deg=0.05).kind, GOOD)
        self.assertEqual(self.unseen(1.0, 1.0, sd_deg=0.7).kind, TURN)

    def test_the_chance_that_is_asked_for(self) -> None:
        self.assertAlmostEqual(chance_within(0.0, 1.0, 1.96), 0.95, delta=0.001)
        self.assertAlmostEqual(chance_within(1.0, 1.0, 1.0), 0.4772, delta=0.0005)
        self.assertEqual([chance_within(v, 0.0, 1.0) for v in (0.5, 1.5)], [1.0, 0.0])

    def test_what_more_looks_cannot_take_away_is_asked_for(self) -> None:
        def act(*looks: float, **more: object) -> tuple[str, str]:
            known = evidence(*looks, floor_sd=0.2 * DEG, **more)
            wide = replace(known.seen, sd=0.2 * DEG)
            action = decide(replace(known, seen=wide, whole=wide), (), TOLERANCE, PRIOR)
            return action.kind, action.because

        self.assertEqual(act(0.1, 0.1, other_tilt=True), (READ, "other_tilt"))
        self.assertEqual(act(0.1, 0.1, unmatched="match", other_tilt=True), (ASK, "match"))
        self.assertEqual(act(0.1, 0.1, unmatched="again"), (READ, "seat_moved"))
        self.assertEqual(act(0.1, 0.1), (ASK, "cannot_prove"))
        self.assertEqual(act(0.2, 0.2), (ASK, "cannot_prove"))  # nothing tells it from nought: a turn would be a guess

    def test_what_others_turned_is_good_until_it_is_doubtful(self) -> None:
        for sd, whole_sd, bias, carried, expected in (
            (0.05, 0.05, False, True, (GOOD, "carried")), (0.15, 0.15, False, True, (READ, "first_look")),
            (0.05, 0.05, False, False, (READ, "first_look")), (0.05, 0.5, True, True, (SQUARED, "carried")),
            (0.05, 0.5, False, True, (READ, "first_look")),
        ):  # fmt: skip
            seen, whole = Estimate(0.0, sd * DEG, 0), Estimate(0.0, whole_sd * DEG, 0)
            known = Evidence((), LOOK, whole, seen, bias_alone=bias, carried=carried)
            action = decide(known, (), TOLERANCE, PRIOR)
            self.assertEqual((action.kind, action.because), expected, (sd, whole_sd, carried))

    def test_a_ring_is_moved_to_its_bubble(self) -> None:
        act = decide(evidence(1.0, 1.0), (), TOLERANCE, PRIOR, free=True)
        self.assertEqual((act.because, act.turns), ("by_bubble", 0.0))
        self.assertAlmostEqual(act.move, -1.0 * DEG)


class Ends(unittest.TestCase):
    """A bubble at the end of its glass."""

    def act(self, beyond: Beyond, turns: tuple[Turn, ...] = (), free: bool = False):  # type: ignore[no-untyped-def]
        return decide(Evidence((), LOOK, beyond=beyond), turns, TOLERANCE, PRIOR, free)

    def test_a_first_turn_is_by_eye_and_the_way_that_brings_it_down(self) -> None:
        act = self.act(Beyond(1, 2.0 * DEG))
        self.assertEqual((act.kind, act.because, act.turns), (TURN, "coarse", 0.0))
        self.assertEqual(self.act(Beyond(1, 2.0 * DEG), free=True).because, "coarse")

    def test_a_turn_the_wrong_way_is_turned_back(self) -> None:
        act = self.act(Beyond(1, 2.5 * DEG, turns=0.25, before=1.9 * DEG))
        self.assertEqual((act.because, act.turns), ("back", -0.25))
        act = self.act(Beyond(-1, 2.5 * DEG, turns=0.5, before=2.5 * DEG))
        self.assertEqual((act.because, act.turns), ("back", -0.25))

    def test_by_the_gain_where_that_is_known_and_never_more_than_a_turn(self) -> None:
        act = self.act(Beyond(1, 2.5 * DEG), (turned(0.25, 0.6),))
        self.assertEqual(act.because, "by_gain")
        self.assertAlmostEqual(act.turns, -1.0, delta=0.1)
        self.assertAlmostEqual(act.move / DEG, 2.4 * act.turns, delta=0.3)
        self.assertEqual(self.act(Beyond(1, 9.0 * DEG), (turned(0.25, 0.6),)).turns, -1.0)

    def test_after_many_it_is_asked_what_else_is_wrong(self) -> None:
        self.assertEqual(self.act(Beyond(1, 2.0 * DEG, tried=4)).kind, TURN)
        self.assertEqual(self.act(Beyond(1, 2.0 * DEG, tried=5)).because, "stuck")


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
        turn = Turn(0.25, 1.0 * DEG, 1.7 * DEG, math.sqrt(5.0) * LOOK)
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
        looks = [off / DEG] * (1 + more)
        self.assertEqual(decide(evidence(*looks), [], TOLERANCE, PRIOR).kind, GOOD)
        self.assertEqual(decide(evidence(*looks[1:]), [], TOLERANCE, PRIOR).kind, READ)
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
