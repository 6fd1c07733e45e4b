"""Shooting the third axis in, a cant on purpose, the time a vial takes (docs/method.md, section 12)."""

import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.cant import Case, fall
from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.cant_trial import CantTrial, arrows_to_tell, found, trial_of
from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.screws import TURN, AnglePerTurnPrior
from cross_staff.core.level.settling import settling
from cross_staff.core.level.slopes import plan, slope_of
from cross_staff.core.level.station import Given, check_reading, level_state
from cross_staff.core.rig.card import SPREADS_ACROSS_GROUP, RigCard, Vial
from tests.core.level.test_chain import Bench
from tests.core.level.test_station import DEG, levelled_card
from tests.rigs import NOON, RIG_A


def spread_card(mrad: float = 1.0, **goals: object) -> RigCard:
    """Of an archer who scatters so much."""
    card = levelled_card()
    scattered = {"group_at_m": 20.0, "group_size_m": 20.0 * 1e-3 * SPREADS_ACROSS_GROUP * mrad}
    return replace(card, goals=replace(card.goals, **(scattered | goals)))


class Plan(unittest.TestCase):
    def test_six_and_six_at_95_m_and_25_degrees_tell_what_the_physics_say(self) -> None:
        """0.4 degrees (sd) of rig A with arrows of 0.85 mrad, what grip and wind do not counted."""
        card = spread_card(0.85, slope_up_rad=25 * DEG, slope_down_rad=25 * DEG, distances_m=(95.0,))
        at = plan(card, RIG_A, 0.001 * DEG)
        arrows_alone = math.sqrt((at.tells_rad / 1.96 / DEG) ** 2 - 0.1**2) * math.sqrt(at.arrows / 6.0)
        self.assertAlmostEqual(arrows_alone, 0.4, delta=0.03)
        self.assertEqual((at.enough, at.arrows), (False, 18))

    def test_the_fewest_arrows_that_prove_it_far_out_on_the_gentler_slope(self) -> None:
        card = spread_card(slope_up_rad=30 * DEG, slope_down_rad=20 * DEG)
        at = plan(card, RIG_A, 1.5 * DEG)
        self.assertTrue(at.enough)
        self.assertLess(at.arrows, 10)
        self.assertEqual((at.distance_m, at.slope_rad), (95.0, 20 * DEG))
        self.assertLessEqual(at.tells_rad, 1.5 * DEG)
        self.assertEqual(slope_of(spread_card(slope_up_rad=None, slope_down_rad=None)), 25 * DEG)

    def test_nothing_to_plan_on_level_ground_or_without_a_card(self) -> None:
        self.assertIsNone(plan(spread_card(level_only=True), RIG_A, DEG))
        self.assertIsNone(plan(spread_card(), None, DEG))

    def test_the_plan_obeyed_leads_to_the_turn_of_the_screw(self) -> None:
        """Groups as a third axis of three degrees throws them, up, down and on the level."""
        bench = Bench(spread_card(slope_up_rad=25 * DEG, slope_down_rad=25 * DEG))
        bench.tolerances["third"] = 1.0 * DEG
        bench.squared(4)
        at = plan(bench.card, RIG_A, bench.tolerances["third"])
        distance = bench.card.distance_from_sight(at.distance_m)
        drop = fall(RIG_A, (Case(distance, 25 * DEG), Case(distance, -25 * DEG)))
        for slope, fallen in ((25.0, drop[0]), (-25.0, drop[1]), (0.0, 0.0)):
            thrown = fallen * math.sin(3.0 * DEG) * math.sin(slope * DEG) / math.cos(slope * DEG)
            bench.readings.append(
                LevelReading(
                    "third", "shooting", slope * DEG, 0.0, 0.0, 1, bench.now(), right_m=thrown + 0.01,
                    distance_m=at.distance_m, arrows=at.arrows, reading_id=len(bench.readings) + 1,
                )
            )  # fmt: skip
            check_reading(bench.card.level, bench.readings[-1])  # a group on the level is one too
        prior = AnglePerTurnPrior(2.0 * DEG, 0.1, 0, 0.0)
        given = Given(bench.tolerances, {"third": prior}, RIG_A)
        third = level_state(bench.card, bench.readings, bench.entries, None, given).axes["third"]
        self.assertAlmostEqual(third.now.value / DEG, 3.0, delta=0.5)
        self.assertEqual(third.action.kind, TURN)
        self.assertTrue(third.action.turns)


class CantedOnPurpose(unittest.TestCase):
    card = spread_card()
    drop = fall(RIG_A, (Case(spread_card().distance_from_sight(50.0), 0.0),))[0]

    def trial(self, degrees: float, bubble: float, arrows: int = 12) -> CantTrial:
        """Canted clockwise by so much, the bubble left of its middle."""
        right = self.drop * math.sin(degrees * DEG)
        return CantTrial(50.0, bubble, (0.01, 0.0), (0.01 + right, -0.01), (arrows, arrows))

    def test_found_is_what_was_computed(self) -> None:
        shown = found(self.card, RIG_A, self.trial(4.0, -8.0))
        self.assertAlmostEqual(shown.cant_rad / DEG, 4.0, places=6)
        self.assertAlmostEqual(shown.line_rad / DEG, 0.5, places=6)
        self.assertTrue(shown.told and shown.agrees and shown.calibrates)
        self.assertAlmostEqual(shown.computed_m, shown.right_m, delta=1e-9)

    def test_the_other_way_and_what_does_not_agree(self) -> None:
        shown = found(self.card, RIG_A, self.trial(-4.0, 8.0))
        self.assertAlmostEqual(shown.line_rad / DEG, 0.5, places=6)
        wrong = found(self.card, RIG_A, self.trial(4.0, 8.0))  # bubble on the side that it cannot be
        self.assertFalse(wrong.agrees)
        self.assertFalse(wrong.calibrates)

    def test_few_arrows_at_a_small_cant_tell_nothing(self) -> None:
        shown = found(self.card, RIG_A, self.trial(0.5, -1.0, 3))
        self.assertFalse(shown.told or shown.calibrates)

    def test_nothing_is_computed_that_nobody_knows(self) -> None:
        bare = replace(self.card, level=replace(self.card.level, sight=Vial()))
        shown = found(bare, RIG_A, self.trial(4.0, -8.0))
        self.assertEqual((shown.computed_m, shown.agrees), (None, None))
        self.assertIsNone(found(self.card, None, self.trial(4.0, -8.0)))

    def test_how_many_arrows_tell_it(self) -> None:
        few = arrows_to_tell(self.card, RIG_A, 50.0, 8.0)
        many = arrows_to_tell(self.card, RIG_A, 50.0, 4.0)
        self.assertLess(few, many)
        self.assertIsNone(arrows_to_tell(self.card, RIG_A, 20.0, 0.5))
        self.assertIsNone(arrows_to_tell(self.card, None, 50.0, 4.0))

    def test_it_is_kept_and_read_back(self) -> None:
        trial = self.trial(4.0, -8.0)
        self.assertEqual(trial_of(trial.entry("level", NOON)), trial)
        with self.assertRaises(InvalidValue):
            trial_of(replace(trial.entry("level", NOON), points=()))
        for wrong, field in (
            ({"bubble_div": 0.0}, "bubble"), ({"distance_m": 0.0}, "distance"), ({"arrows": (1, 6)}, "arrows_plumb"),
            ({"canted_m": (9.0, 0.0)}, "right_canted"),
        ):  # fmt: skip
            with self.assertRaises(InvalidValue) as refused:
                replace(trial, **wrong).check()
            self.assertEqual(refused.exception.field, field)


class Settling(unittest.TestCase):
    def log(self, *seconds: float | None) -> list[LevelReading]:
        return [LevelReading("second", "to_string", 0.0, 0.0, 0.0, 1, NOON, settled_s=s) for s in seconds]

    def test_four_looks_in_five(self) -> None:
        known = settling(self.log(3.0, 4.0, 5.0, 6.0, 9.0, None), "sight")
        self.assertEqual((known.seconds, known.looks), (6.0, 5))

    def test_before_three_looks_and_of_another_vial_nothing_is_known(self) -> None:
        self.assertIsNone(settling(self.log(3.0, 4.0, None), "sight"))
        self.assertIsNone(settling(self.log(3.0, 4.0, 5.0), "rail"))

    def test_a_break_for_tea_is_no_time_to_settle(self) -> None:
        self.assertIsNone(settling(self.log(3.0, 4.0, 900.0, 0.2), "sight"))


if __name__ == "__main__":
    unittest.main()
