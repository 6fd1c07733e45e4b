"""What a line is, found while levelling (docs/method.md, section 12)."""

import math
import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.lines import Canted, cant_by, glass_too_coarse, line_by, lines_by
from cross_staff.core.level.screws import ASK, TURN, AnglePerTurnPrior
from cross_staff.core.level.station import Given, level_state
from cross_staff.core.level.units import COARSE_LINE_RAD, unit_for
from cross_staff.core.rig.card import LevelSetup, Vial
from tests.core.level.test_chain import LINE, Bench
from tests.core.level.test_station import DEG, levelled_card


def guessed(**known: Vial) -> Bench:
    """A bow of which nobody knows what a line is, but for what is known."""
    none = {kind: Vial(roll_error_div=0.0) for kind in ("reference", "rail", "sight", "string")}
    return Bench(levelled_card(**(none | known)))


class ByACant(unittest.TestCase):
    def test_ten_millimetres_over_half_a_metre_by_hand(self) -> None:
        tilt = cant_by(10.0, 500.0)
        self.assertAlmostEqual(tilt / DEG, 1.1460, places=4)
        self.assertAlmostEqual(line_by(tilt, -2.2, "moved_vial") / DEG, 0.5209, places=4)

    def test_both_vials_at_once(self) -> None:
        setup = LevelSetup()
        lines = lines_by(setup, "third", "vise_riser", Canted(2.0, 3.0, 10.0, 500.0))
        self.assertEqual(
            {kind: round(line / DEG, 3) for kind, line in lines.items()}, {"sight": 0.573, "reference": 0.382}
        )
        self.assertEqual(
            set(lines_by(setup, "first", "rail_vial", Canted(2.0, 3.0, 10.0, 500.0))), {"rail", "reference"}
        )
        for string, told in (
            (2.0, True),
            (0.6, False),
        ):  # a string level that hardly moved tells nothing, and stops nothing
            lines = lines_by(setup, "first", "rail_vial", Canted(2.0, 3.0, 10.0, 500.0, string))
            self.assertEqual("string" in lines, told)
        self.assertEqual(set(lines_by(setup, "third", "hand_plumb", Canted(2.0, None, 10.0, 500.0))), {"sight"})

    def test_beside_a_level_that_is_known_no_plumb_line_is_needed(self) -> None:
        setup = LevelSetup(reference=Vial(0.5 * DEG))
        lines = lines_by(setup, "second", "to_string", Canted(2.0, -3.0))
        self.assertEqual({kind: round(line / DEG, 3) for kind, line in lines.items()}, {"sight": 0.75})

    def test_what_tells_nothing_is_refused_where_it_was_typed(self) -> None:
        known = LevelSetup(reference=Vial(0.5 * DEG))
        for setup, seen, name in (
            (LevelSetup(), Canted(0.4, 2.0, 10.0, 500.0), "moved_vial"),
            (LevelSetup(), Canted(2.0, None, 10.0, 500.0), "moved_beside"),
            (LevelSetup(), Canted(2.0, 2.0), "off"),
            (LevelSetup(), Canted(2.0, 2.0, 600.0, 500.0), "off"),
            (LevelSetup(), Canted(3.0, 3.0, 250.0, 500.0), "moved_vial"),
            (known, Canted(2.0, 0.5), "moved_beside"),
        ):
            with self.subTest(seen=seen), self.assertRaises(InvalidValue) as refused:
                lines_by(setup, "third", "vise_riser", seen)
            self.assertEqual(refused.exception.field, name)


class ByATurn(unittest.TestCase):
    def state(self, bench: Bench, sd_ln: float):  # type: ignore[no-untyped-def]
        prior = AnglePerTurnPrior(2.0 * DEG, sd_ln, 1, 0.05 * DEG)
        return level_state(bench.card, bench.readings, bench.entries, None, Given(angles_per_turn={"second": prior}))

    def turned(self) -> Bench:
        """A screw that other bows taught, two degrees a turn, counted; lines of half a degree that nobody knows."""
        bench = guessed()
        bench.axes["second"] = 2.0
        bench.look("second", "to_string")
        bench.turn("second", -0.75, -1.5)
        bench.look("second", "to_string")
        return bench

    def test_the_first_counted_turn_tells_the_line_rather_too_coarse(self) -> None:
        bench = self.turned()
        for sd_ln, least, most in ((0.05, 0.5, 0.65), (0.2, 0.6, 0.9)):
            line = self.state(bench, sd_ln).axes["second"].unit.vial / DEG
            self.assertTrue(least < line < most, line)

    def test_a_screw_that_nobody_knows_tells_none(self) -> None:
        self.assertEqual(self.state(self.turned(), 0.5).axes["second"].unit.vial, COARSE_LINE_RAD)

    def test_an_uncounted_turn_tells_none(self) -> None:
        bench = guessed()
        bench.axes["second"] = 2.0
        bench.look("second", "to_string")
        bench.turn("second", None, -1.5)
        bench.look("second", "to_string")
        self.assertEqual(self.state(bench, 0.05).axes["second"].unit.vial, COARSE_LINE_RAD)

    def test_one_level_that_is_known_is_counted_as_it_is(self) -> None:
        setup = LevelSetup(reference=Vial(0.3 * DEG))
        unit = unit_for(setup, "second", "to_string")
        self.assertEqual((unit.calibrated, unit.vial, unit.reference), (False, COARSE_LINE_RAD, 0.3 * DEG))


class WhenToAsk(unittest.TestCase):
    def test_lines_that_could_never_show_it_are_calibrated_first(self) -> None:
        """What may be left of 0.4 degrees would be 0.2 line on the glass."""
        bench = guessed()
        bench.tolerances |= {"third": 0.4 * DEG, "second": 3.0 * DEG, "first": 3.0 * DEG}
        self.assertTrue(glass_too_coarse(bench.card.level, "third", "vise_riser", -35 * DEG, 0.4 * DEG))
        self.assertFalse(glass_too_coarse(bench.card.level, "third", "vise_riser", -35 * DEG, 0.8 * DEG))
        bench.squared()
        bench.look("third", "vise_riser", -35.0)
        self.assertEqual((bench.third.action.kind, bench.third.action.because), (ASK, "calibrate"))

    def test_a_new_seat_is_matched_before_guessed_lines_turn_the_third_axis(self) -> None:
        """A roll of the reference is larger in lines that are counted coarse: tilted, it would pass for the axis."""
        for vial, step in ((Vial(), "match"), (Vial(LINE), "axis")):
            bench = guessed(sight=vial, reference=replace(vial, roll_error_div=0.0))
            bench.tolerances |= {"first": 4.0 * DEG, "second": 4.0 * DEG}
            bench.squared()
            bench.match()
            bench.seat, bench.roll = "string", 1.4
            bench.look("third", "vise_string", -35.0)
            self.assertEqual((bench.state.current, bench.state.step), ("third", step))

    def test_an_axis_that_is_far_off_is_turned_before(self) -> None:
        bench = guessed()
        bench.tolerances |= {"third": 0.4 * DEG}
        bench.axes["third"] = 4.0
        bench.squared()
        bench.look("third", "vise_riser", -35.0)
        self.assertEqual(bench.third.action.kind, TURN)

    def test_calibrated_it_goes_on(self) -> None:
        bench = guessed()
        bench.tolerances |= {"second": 0.3 * DEG}
        bench.match()
        bench.look("second", "to_string")
        bench.look("second", "to_string")
        self.assertEqual(bench.state.axes["second"].action.because, "calibrate")
        fine = Vial(LINE, roll_error_div=0.0)
        bench.card = replace(bench.card, level=replace(bench.card.level, reference=fine, sight=fine))
        self.assertNotEqual(bench.state.axes["second"].action.because, "calibrate")
        self.assertTrue(math.isclose(bench.state.axes["second"].unit.vial, LINE))


if __name__ == "__main__":
    unittest.main()
