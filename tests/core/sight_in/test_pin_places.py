"""Where the pins stand, beside where they belong."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.sight import TapeSeat
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.pin_places import (
    PinStands,
    pin_setting,
    pins_stand,
    pointers_at_home,
    stood_heights_m,
)
from cross_staff.core.tape.stack import stack
from cross_staff.core.tape.station import evaluate
from tests.ends import PINS_M, believed, end, exact_card, hits, moved, range_log
from tests.rigs import RIG_A, entry

WANTED = (17.0, 26.0, 50.0)


def below(distance_m: float) -> float:
    """How far below the place of the top pin one for a distance belongs [mm]."""
    return 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, distance_m))


class ByMarks(unittest.TestCase):
    def rows(self) -> list:
        """The pins were shot for 17, 26 and 38 m at home; then the last was wanted for 50 m."""
        far = [entry(n, d, 5.0 + below(d), arrows=12) for n, d in enumerate((47.0, 70.0), start=4)]
        return [*(entry(n, d, 5.0, arrows=12, pin=n) for n, d in enumerate(PINS_M)), *far]

    def test_a_shot_pin_stands_where_it_was_shot_whatever_is_wanted_of_it_now(self) -> None:
        card = exact_card("multi_pin_slider", goals=replace(exact_card().goals, pin_distances_m=WANTED))
        evaluation = evaluate(card, self.rows(), pins=Pins(WANTED, 0))
        top, second, low = pins_stand(card, evaluation, None)
        self.assertEqual(top.below_mm, 0.0)
        self.assertAlmostEqual(low.below_mm or 0.0, below(38.0), delta=0.5)
        self.assertAlmostEqual(low.worth_m or 0.0, 38.0, delta=0.6)
        self.assertGreater(low.sd_mm or 0.0, 0.01)
        assert evaluation.fit
        places = stack(card, evaluation.fit, WANTED)
        self.assertAlmostEqual(places.pins[2].below_mm or 0.0, below(50.0), delta=0.6)
        heights = stood_heights_m(evaluation.fit, card, places, (top, second, low))
        self.assertAlmostEqual(1000.0 * (heights[0] - heights[2]), below(38.0), delta=0.5)
        self.assertEqual(pin_setting(card, evaluation, (top, second, low)).below_mm[2], low.below_mm)

    def test_one_that_nobody_shot_is_not_known_and_drawn_where_it_belongs(self) -> None:
        card = exact_card("multi_pin_slider")
        evaluation = evaluate(card, [self.rows()[0], *self.rows()[3:]], pins=Pins(PINS_M, 0))
        stands = pins_stand(card, evaluation, None)
        self.assertEqual([each.below_mm is None for each in stands], [False, True, True])
        assert evaluation.fit
        heights = stood_heights_m(evaluation.fit, card, stack(card, evaluation.fit, PINS_M), stands)
        self.assertAlmostEqual(1000.0 * (heights[0] - heights[1]), below(26.0), delta=0.4)

    def test_every_pointer_has_its_line_and_how_far_it_may_be_off(self) -> None:
        card = exact_card("vertical_pin_slider")
        evaluation = evaluate(card, self.rows(), pins=Pins(PINS_M, 0, (0, 1, 2)))
        assert evaluation.fit
        stands = pins_stand(card, evaluation, None)
        heights = stood_heights_m(evaluation.fit, card, stack(card, evaluation.fit, PINS_M), stands)
        lines = pointers_at_home(card, evaluation, heights, 1.0)
        for line, wanted in zip(lines, PINS_M):
            self.assertAlmostEqual(line.line_m or 0.0, wanted, delta=0.6)
            self.assertGreater(line.sd_m or 0.0, 0.02)
        fixed = exact_card("fixed_pins")
        self.assertEqual(pointers_at_home(fixed, evaluation, heights, 1.0), ())

    def test_the_ratio_is_not_known_before_the_marks_tell_it(self) -> None:
        card = exact_card("multi_pin_slider")
        blind = card.with_tape(TapeSeat(ratio=None))
        few = evaluate(blind, self.rows()[:1], pins=Pins(PINS_M, 0))
        self.assertIsNone(pin_setting(blind, few, ()).ratio)
        told = pin_setting(blind, evaluate(blind, self.rows(), pins=Pins(PINS_M, 0)), ()).ratio
        self.assertAlmostEqual(told or 0.0, 1.0, delta=0.05)


class ByArrows(unittest.TestCase):
    def test_pins_of_a_sight_without_a_dial_stand_where_their_arrows_say(self) -> None:
        card = exact_card("fixed_pins")
        off = {0: 0.0, 1: 1.5, 2: -2.0}
        log = range_log(*(end(n, PINS_M[n], 0.0, hits(off[n], PINS_M[n], PINS_M[n]), pin=n) for n in off))
        estimate = believed(card, log)
        evaluation = evaluate(card, [], pins=Pins(PINS_M))
        for pin, each in enumerate(pins_stand(card, replace(evaluation, fit=estimate.fit), estimate)):
            self.assertAlmostEqual(each.below_mm or 0.0, below(PINS_M[pin]) - off[pin], delta=0.4)

    def test_arrows_of_every_pin_place_the_whole_of_a_geared_stack(self) -> None:
        """The spread stands a tenth wide: two pins were shot, and the third is known by them."""
        card = exact_card("geared_stack")
        wide = [-0.1 * below(d) for d in PINS_M]
        log = range_log(*(end(n, PINS_M[n], 0.0, hits(wide[n], PINS_M[n], PINS_M[n]), pin=n) for n in (0, 2)))
        estimate = believed(card, log)
        stands = pins_stand(card, replace(evaluate(card, [], pins=Pins(PINS_M)), fit=estimate.fit), estimate)
        self.assertAlmostEqual(stands[2].below_mm or 0.0, 1.1 * below(38.0), delta=0.5)
        self.assertAlmostEqual(stands[1].below_mm or 0.0, 1.1 * below(26.0), delta=0.4)
        one = believed(card, range_log(end(0, PINS_M[0], 0.0, 0.0, pin=0)))
        alone = pins_stand(card, replace(evaluate(card, [], pins=Pins(PINS_M)), fit=one.fit), one)
        self.assertIsNone(alone[2].below_mm)

    def test_a_pin_that_was_set_to_its_place_stands_there_before_an_arrow(self) -> None:
        card = exact_card("multi_pin_slider")
        place = moved(5, "Pin screw", "pin", 3.0, pin=1, placed=True)
        estimate: AimEstimate = believed(card, range_log(end(0, 17.0, pin=0, dial_mm=5.0), place))
        stands = pins_stand(card, replace(evaluate(card, [], pins=Pins(PINS_M)), fit=estimate.fit), estimate)
        self.assertAlmostEqual(stands[1].below_mm or 0.0, below(26.0), delta=0.4)
        self.assertGreater(stands[1].sd_mm or 0.0, 0.3)
        self.assertEqual(stands[2], PinStands(2))
