"""Which control is named, how much of it, and what is offered when it ends."""

import unittest
from dataclasses import replace

from cross_staff.core.rig.sight import Control, Screw, SightModel
from cross_staff.core.sight_in.controls import (
    CLICK,
    MARK,
    MM,
    STEP,
    TURN,
    RangeControl,
    advise,
    choose_sideways,
    control_for,
    range_controls,
    remedies,
)
from tests.rigs import TEMPLATES

MULTI = TEMPLATES["multi_pin_slider"]
TARGET = TEMPLATES["target_scope"]


class Listed(unittest.TestCase):
    def test_controls_and_screws_make_one_list(self) -> None:
        lists = {drive.moves: drive for drive in range_controls(MULTI)}
        self.assertEqual(set(lists), {"elevation", "gang_elevation", "gang_windage", "windage", "pin"})
        self.assertEqual((lists["windage"].unit, lists["windage"].per_unit_mm), (CLICK, 0.05))
        self.assertEqual((lists["pin"].unit, lists["pin"].unlock), (MM, "Pin screw: a turn"))
        self.assertEqual(lists["elevation"].unlock, "Slide lock")

    def test_every_kind_has_a_way_sideways(self) -> None:
        for kind, model in TEMPLATES.items():
            with self.subTest(kind):
                self.assertIsNotNone(choose_sideways(range_controls(model), 0.4))

    def test_what_was_moved_since_is_taken_off_the_travel_that_is_left(self) -> None:
        micro = Control("Micro", "windage", 0.05, 20.0, travel_mm=10.0, position_mm=4.0)
        (drive,) = range_controls(SightModel(controls=(micro,)), lambda name: {"Micro": 2.5}[name])
        self.assertEqual(drive.left_mm, (6.5, 3.5))

    def test_how_exactly_a_unit_that_is_on_the_card_is_known(self) -> None:
        for unit, part in ((CLICK, 0.05), (TURN, 0.08), (MM, 0.03), (MARK, 0.01), (STEP, 0.02)):
            known = RangeControl("drive", "windage", unit, 2.0).travel_per_unit()
            self.assertAlmostEqual(known.sd, 2.0 * part, msg=unit)

    def test_an_unknown_click_is_a_trial(self) -> None:
        (drive,) = range_controls(replace(MULTI, controls=(Control("Micro", "windage", None, 20.0),), screws=()))
        self.assertEqual((drive.unit, drive.per_unit_mm), (CLICK, None))
        advice = advise(drive, 0.5, (drive.travel_per_unit().size, drive.travel_per_unit().sd), MULTI)
        assert advice
        self.assertTrue(advice.trial)

    def test_clicks_of_a_turn_are_reckoned(self) -> None:
        (drive,) = range_controls(replace(MULTI, controls=(Control("Micro", "windage", None, 20.0, 1.0),), screws=()))
        self.assertEqual((drive.unit, drive.per_unit_mm), (CLICK, 0.05))
        (turned,) = range_controls(replace(MULTI, controls=(Control("Knob", "windage", per_turn_mm=0.8),), screws=()))
        self.assertEqual((turned.unit, turned.per_unit_mm), (TURN, 0.8))

    def test_what_must_never_be_touched_is_no_control(self) -> None:
        model = replace(MULTI, controls=(), screws=(Screw("Stop", "pin", never=True),))
        self.assertEqual(range_controls(model), ())


class Chosen(unittest.TestCase):
    def test_coarse_before_fine_micro_last(self) -> None:
        last = range_controls(TARGET)
        self.assertEqual(choose_sideways(last, 7.0).moves, "coarse")  # type: ignore[union-attr]
        self.assertEqual(choose_sideways(last, 0.3).moves, "windage")  # type: ignore[union-attr]
        multi = range_controls(MULTI)
        self.assertEqual(choose_sideways(multi, -3.1).moves, "gang_windage")  # type: ignore[union-attr]
        self.assertEqual(choose_sideways(multi, 2.4).moves, "windage")  # type: ignore[union-attr]

    def test_without_a_micro_the_housing_does_it_all(self) -> None:
        only = [drive for drive in range_controls(MULTI) if drive.moves != "windage"]
        self.assertEqual(choose_sideways(only, 0.2).moves, "gang_windage")  # type: ignore[union-attr]


class Advised(unittest.TestCase):
    def setUp(self) -> None:
        self.micro = control_for(range_controls(MULTI), "windage")

    def test_clicks_which_way_and_what_they_make(self) -> None:
        assert self.micro
        advice = advise(self.micro, 0.61, (0.05, 0.001), MULTI)
        assert advice
        self.assertEqual((advice.amount, advice.way), (12.0, "right"))
        self.assertAlmostEqual(advice.moved_mm, 0.6)

    def test_against_its_card_the_amount_turns_round_and_the_way_stays(self) -> None:
        assert self.micro
        advice = advise(self.micro, 0.61, (-0.05, 0.001), MULTI)
        assert advice
        self.assertEqual((advice.amount, advice.way), (-12.0, "right"))
        self.assertAlmostEqual(advice.moved_mm, 0.6)

    def test_less_than_half_a_click_is_nothing(self) -> None:
        assert self.micro
        self.assertIsNone(advise(self.micro, 0.02, (0.05, 0.001), MULTI))

    def test_the_end_of_travel_is_foreseen_and_answered(self) -> None:
        short = RangeControl("Housing", "gang_elevation", MM, 1.0, left_mm=(2.0, 9.0))
        advice = advise(short, -5.0, (1.0, 0.03), MULTI)
        assert advice
        self.assertEqual((advice.way, advice.amount), ("down", -2.0))
        self.assertAlmostEqual(advice.short_mm, -3.0)
        self.assertEqual(advice.left_mm, 0.0)
        self.assertEqual(advice.instead, ("other_hole", "other_pin"))
        enough = advise(short, 5.0, (1.0, 0.03), MULTI)
        assert enough
        self.assertEqual((enough.short_mm, enough.left_mm), (0.0, 4.0))

    def test_no_travel_at_all_still_says_what_else(self) -> None:
        stuck = RangeControl("Micro", "windage", CLICK, 0.05, left_mm=(0.0, 10.0))
        advice = advise(stuck, -1.0, (0.05, 0.001), MULTI)
        assert advice
        self.assertEqual((advice.amount, advice.short_mm), (0.0, -1.0))
        self.assertIn("gang_windage", advice.instead)

    def test_remedies_come_from_what_the_sight_has(self) -> None:
        micro = RangeControl("Micro", "windage", CLICK, 0.05)
        self.assertEqual(remedies(micro, TARGET), ("coarse", "reversed_bracket"))
        bare = replace(TEMPLATES["single_pin_slider"], holes_mm=(), screws=(), controls=())
        self.assertEqual(remedies(RangeControl("Wheel", "elevation", MM, 1.0), bare), ("shop",))

    def test_moved_travel_is_taken_off_what_is_left(self) -> None:
        control = Control("Micro", "windage", 0.05, 20.0, travel_mm=10.0, position_mm=5.0)
        model = replace(MULTI, controls=(control,), screws=())
        (drive,) = range_controls(model, lambda name: 1.5)
        self.assertEqual(drive.left_mm, (6.5, 3.5))

    def test_a_bracket_goes_by_its_places(self) -> None:
        bracket = control_for(range_controls(TARGET), "coarse")
        assert bracket and bracket.unit == STEP
        self.assertIsNone(advise(bracket, 7.2, (1.0, 0.02), TARGET))  # nobody said where it stands
        advice = advise(bracket, 7.2, (1.0, 0.02), TARGET, place_mm=0.0)
        assert advice
        self.assertEqual((advice.amount, advice.place_mm), (6.0, 6.0))
        self.assertIsNone(advise(bracket, 7.2, (1.0, 0.02), TARGET, place_mm=12.0))  # its last place
