import math
import unittest
from typing import Any

from cross_staff.core.rig.correction import Change, Meaning, likely

INCH, POUND, GRAIN = 0.0254, 4.448, 0.0000648


def looked_at(path: str, old: Any, new: Any) -> Meaning:
    return likely([Change(path, old, new)])


class Likely(unittest.TestCase):
    def test_within_what_such_a_measurement_errs_it_was_measured_again(self) -> None:
        for path, old, new in (
            ("eye_to_sight_m", 0.812, 0.820),
            ("eye_to_sight_m", 32.25 * INCH, 32.5 * INCH),
            ("peep.square_m", 0.105, 0.113),
            ("bow.draw_weight_n", 60 * POUND, 61 * POUND),
            ("builds.0.measured_mass_kg", 402 * GRAIN, 403 * GRAIN),
            ("peep.angle_rad", math.radians(38.0), math.radians(40.0)),
        ):
            with self.subTest(path, old=old, new=new):
                self.assertEqual(looked_at(path, old, new), Meaning.AGAIN)

    def test_digits_changed_about_a_wrong_digit_or_a_lost_point_look_mistyped(self) -> None:
        for path, old, new in (
            ("eye_to_sight_m", 32.25 * INCH, 23.25 * INCH),
            ("eye_to_sight_m", 23.25 * INCH, 32.25 * INCH),
            ("eye_to_sight_m", 0.812, 0.912),
            ("peep.square_m", 0.105, 0.0105),
            ("bow.draw_weight_n", 60 * POUND, 50 * POUND),
            ("builds.0.measured_mass_kg", 402 * GRAIN, 420 * GRAIN),
            ("eye_to_sight_m", 0.812, None),
            ("anchor", "knuckle under the jaw", ""),
            ("builds.0.components.1.mass_kg", 100 * GRAIN, 10 * GRAIN),
        ):
            with self.subTest(path, old=old, new=new):
                self.assertEqual(looked_at(path, old, new), Meaning.MISTYPED)

    def test_anything_else_is_a_change_of_the_bow(self) -> None:
        for path, old, new in (
            ("eye_to_sight_m", 0.812, 0.743),
            ("bow.draw_weight_n", 60 * POUND, 65 * POUND),
            ("anchor", "knuckle under the jaw", "web of the hand"),
            ("mount.detent", 1, 2),
            ("builds.0.components", (1,), (1, 2)),
        ):
            with self.subTest(path, old=old, new=new):
                self.assertEqual(looked_at(path, old, new), Meaning.CHANGED)

    def test_the_gravest_of_several_decides(self) -> None:
        again, slip = Change("eye_to_sight_m", 0.812, 0.815), Change("eye_to_sight_m", 32.25 * INCH, 23.25 * INCH)
        moved = Change("mount.detent", 1, 2)
        self.assertEqual(likely([again]), Meaning.AGAIN)
        self.assertEqual(likely([again, slip]), Meaning.MISTYPED)
        self.assertEqual(likely([again, slip, moved]), Meaning.CHANGED)
        self.assertEqual(likely([]), Meaning.CHANGED)

    def test_a_slip_in_the_unit_that_it_was_typed_in(self) -> None:
        for path, old, new in (
            ("sight.housing.inner_mm", 44.7, 47.4),
            ("peep.along_m", 0.165, 0.156),
            ("sight.housing.inner_mm", 1.75 * 25.4, 1.57 * 25.4),
            ("sight.housing.inner_mm", 44.0, 34.0),
            ("eye_to_sight_m", 0.8125, 0.8525),
        ):
            with self.subTest(path, old=old):
                self.assertEqual(looked_at(path, old, new), Meaning.MISTYPED)
        self.assertEqual(looked_at("sight.housing.inner_mm", 44.0, 36.0), Meaning.CHANGED)
        self.assertEqual(looked_at("eye_to_sight_m", 0.812, 0.921), Meaning.CHANGED)  # two digits, not changed about
        self.assertEqual(looked_at("eye_to_sight_m", 0.8126, 0.6128), Meaning.CHANGED)  # too far apart for a slip


class Reading(unittest.TestCase):
    def test_the_finest_that_is_read_is_nothing_to_ask_about(self) -> None:
        self.assertTrue(Change("eye_to_sight_m", 0.8120, 0.8121).within_reading)
        self.assertFalse(Change("eye_to_sight_m", 0.8120, 0.8122).within_reading)
        grain_per_inch = GRAIN / INCH
        self.assertTrue(Change("builds.0.shaft_kg_per_m", 9.5 * grain_per_inch, 9.55 * grain_per_inch).within_reading)
        self.assertFalse(Change("builds.0.shaft_kg_per_m", 9.5 * grain_per_inch, 9.6 * grain_per_inch).within_reading)
        self.assertFalse(Change("anchor", "a", "b").within_reading)
        self.assertFalse(Change("mount.detent", 0, 1).within_reading)
