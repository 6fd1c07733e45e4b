"""Pins: the reference values, what a dialled pin makes of the others, choices with their prices."""

from __future__ import annotations

import math
import unittest

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.errors import InvalidValue
from cross_staff.core.tape.pin_choice import bands_that_meet, even_gaps, price, widest_cover
from cross_staff.core.tape.pins import ABOVE_TURNOVER, covers_m, stack_rows, worth
from tests.core.oracle import height_at
from tests.rigs import RIG_A, RIG_B

PINS = [("near", 20.0), ("middle", 35.0), ("far", 50.0)]
HEIGHTS = [pin_height(RIG_A, d) for _, d in PINS]


class Stack(unittest.TestCase):
    def test_the_reference_stack(self) -> None:
        rows = stack_rows(RIG_A, 20.0, PINS, "far", 70.0)
        for row, below in zip(rows, (0.0, 7.9681, 17.2548)):
            self.assertAlmostEqual(1000.0 * (row.below_m or 0.0), below, delta=2e-4)
        self.assertAlmostEqual(1000.0 * (pin_height(RIG_A, 50.0) - pin_height(RIG_A, 70.0)), 13.3522, delta=2e-4)
        for row, now in zip(rows, (43.850, 56.239, 70.0)):
            self.assertAlmostEqual(row.distance_now_m or 0.0, now, delta=2e-3)
        self.assertEqual(rows[-1].gap_to_next_m, None)

    def test_the_near_pin_dialled(self) -> None:
        rows = stack_rows(RIG_A, 20.0, PINS, "near", 40.0)
        for row, now in zip(rows, (40.0, 52.604, 66.529)):
            self.assertAlmostEqual(row.distance_now_m or 0.0, now, delta=2e-3)

    def test_dialled_up_the_near_pins_stand_above_the_turnover(self) -> None:
        rows = stack_rows(RIG_A, 20.0, PINS, "far", 30.0)
        self.assertEqual([row.problem for row in rows], [ABOVE_TURNOVER, ABOVE_TURNOVER, ""])
        self.assertEqual([row.distance_now_m for row in rows], [None, None, 30.0])

    def test_gaps_go_by_distance_whatever_the_order(self) -> None:
        near, far = stack_rows(RIG_A, 20.0, PINS, "far", 60.0), stack_rows(RIG_A, 20.0, PINS[::-1], "far", 60.0)
        self.assertEqual({r.name: r.gap_to_next_m for r in near}, {r.name: r.gap_to_next_m for r in far})

    def test_out_of_reach_is_a_row_and_not_an_error(self) -> None:
        rows = stack_rows(RIG_B, 20.0, [*PINS, ("moon", 390.0)], "far", 60.0)
        self.assertEqual((rows[-1].below_m, rows[-1].distance_now_m, rows[-1].problem), (None, None, "out_of_reach"))

    def test_what_cannot_be_is_said(self) -> None:
        for pins, name, to, field in (
            ([("a", 20.0), ("a", 30.0)], "a", 40.0, "pins"),
            (PINS, "none", 40.0, "dialled_pin"),
            (PINS, "far", 0.1, "dial_to_m"),
            ([("a", 390.0), ("b", 30.0)], "a", 40.0, "dialled_pin"),
        ):
            with self.assertRaises(InvalidValue) as caught:
                stack_rows(RIG_B, 20.0, pins, name, to)
            self.assertEqual(caught.exception.field, field)


class Dialled(unittest.TestCase):
    def test_the_table_agrees_with_the_stack(self) -> None:
        row = worth(RIG_A, HEIGHTS, 2, [70.0, 30.0])
        for computed, wanted in zip(row[0], (43.850, 56.239, 70.0)):
            self.assertAlmostEqual(computed or 0.0, wanted, delta=2e-3)
        self.assertEqual(row[1][:2], [None, None])


class Choices(unittest.TestCase):
    def test_even_gaps_are_even(self) -> None:
        heights = [pin_height(RIG_A, d) for d in even_gaps(RIG_A, 17.0, 61.0, 4)]
        gaps = [a - b for a, b in zip(heights, heights[1:])]
        self.assertAlmostEqual(max(gaps), min(gaps), delta=1e-6)

    def test_bands_that_meet_need_no_hold(self) -> None:
        pins = bands_that_meet(RIG_A, 17.0, 0.25, 4)
        heights = [pin_height(RIG_A, d) for d in pins]
        for tenths in range(100, int(10 * pins[-1])):
            off = min(abs(float(impact_heights(RIG_A, h, tenths / 10.0)[0])) for h in heights)
            self.assertLessEqual(off, 0.1265)
        hold = price(RIG_A, pins, 0.25)
        assert hold
        self.assertEqual(len(hold.covered), 1)
        self.assertAlmostEqual(hold.worst_hold_m, 0.125, delta=2e-3)

    def test_the_widest_cover_uses_the_room(self) -> None:
        pins = widest_cover(RIG_A, 17.0, 0.030, 3)
        self.assertAlmostEqual(pin_height(RIG_A, pins[0]) - pin_height(RIG_A, pins[-1]), 0.030, delta=1e-6)
        self.assertGreater(price(RIG_A, pins, 0.25).worst_hold_m, price(RIG_A, (17.0, 33.0, 47.0), 0.25).worst_hold_m)  # type: ignore[union-attr]

    def test_from_two_pins_to_twenty(self) -> None:
        self.assertEqual(len(even_gaps(RIG_A, 20.0, 60.0, 20)), 20)
        for count in (1, 21):
            with self.assertRaisesRegex(InvalidValue, "2 to 20 pins"):
                even_gaps(RIG_A, 20.0, 60.0, count)

    def test_what_cannot_be_chosen_is_said(self) -> None:
        for wrong in (
            lambda: even_gaps(RIG_A, 50.0, 40.0, 3),
            lambda: even_gaps(RIG_A, 17.0, 61.0, 1),
            lambda: even_gaps(RIG_A, 5.0, 12.0, 5),
            lambda: widest_cover(RIG_A, 17.0, 0.0, 3),
        ):
            with self.assertRaises(InvalidValue):
                wrong()
        self.assertIsNone(price(RIG_A, (17.0,), 0.25))

    def test_the_price_of_a_set_of_pins(self) -> None:
        """The smallest of its gaps; the worst hold, flown by the oracle at every half metre; what is covered."""
        distances = (20.0, 35.0, 50.0)
        made = price(RIG_A, distances, 0.25)
        gaps = [1000.0 * (a - b) for a, b in zip(HEIGHTS, HEIGHTS[1:])]
        self.assertAlmostEqual(made.least_gap_mm, min(gaps))
        self.assertGreater(max(gaps) - min(gaps), 1.0)
        holds = {d / 2.0: min(abs(height_at(RIG_A, h, d / 2.0, 0.0) or 9.0) for h in HEIGHTS) for d in range(40, 101)}
        worst = max(holds, key=lambda d: holds[d])
        self.assertAlmostEqual(made.worst_at_m, worst, delta=0.5)
        self.assertAlmostEqual(made.worst_hold_m, holds[worst], delta=0.02)
        for near, far in made.covered:
            self.assertTrue(all(hold <= 0.126 for d, hold in holds.items() if near <= d <= far))
        self.assertEqual(len(made.covered), 3)

    def test_a_pin_hides_more_the_farther_out(self) -> None:
        self.assertAlmostEqual(covers_m(0.5, 0.82, 82.0), 0.0505, delta=1e-4)
        self.assertTrue(math.isclose(covers_m(1.0, 0.82, 50.0), 2.0 * covers_m(0.5, 0.82, 50.0)))
