"""Strips of a booklet: the one that is this rig's own is found, and what the others cost is flown."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.tape.booklet import MOST_CHOICES, match, own_span, speed_of_span
from tests.core.oracle import height_at
from tests.rigs import RIG_A, RIG_B


def strip_of(order: float, speed: float) -> Strip:
    """A strip that is rig A's tape with another speed."""
    return Strip(f"s{order:g}", order, own_span(replace(RIG_A, speed_mps=speed), 17.0, 95.0))


class Match(unittest.TestCase):
    def test_its_own_strip_fits_exactly(self) -> None:
        strips = [strip_of(1, 85.0), strip_of(2, 81.0), strip_of(3, 77.0)]
        exactly = match(RIG_A, 17.0, 95.0, strips, 95.0)
        self.assertAlmostEqual(exactly.exact_order, 2.0, places=6)
        self.assertEqual((exactly.choices[0].label, exactly.choices[0].measured), ("s2", True))
        self.assertAlmostEqual(exactly.choices[0].up_m or 0.0, 0.0, delta=1e-4)
        self.assertFalse(exactly.beyond)

    def test_each_error_is_what_really_flies(self) -> None:
        for choice in match(RIG_A, 17.0, 61.0, [strip_of(1, 88.0), strip_of(9, 75.0)], 95.0, 1.0).choices:
            speed = speed_of_span(RIG_A, 17.0, 61.0, [choice.span_mm])[0]
            assert speed and choice.up_m is not None
            strip = replace(RIG_A, speed_mps=speed)
            self.assertAlmostEqual(own_span(strip, 17.0, 61.0), choice.span_mm, delta=1e-5)
            pin = pin_height(RIG_A, 17.0) - (pin_height(strip, 17.0) - pin_height(strip, 95.0))
            self.assertAlmostEqual(height_at(RIG_A, pin, 95.0, 0.0) or 0.0, choice.up_m, delta=5e-4)

    def test_a_strip_is_laid_on_where_the_dialled_pin_is_right_at_home(self) -> None:
        """A middle pin: its tape begins at 33 m, and there the lines are brought together."""
        for choice in match(RIG_A, 17.0, 61.0, [strip_of(1, 88.0), strip_of(9, 75.0)], 95.0, 1.0, 33.0).choices:
            speed = speed_of_span(RIG_A, 17.0, 61.0, [choice.span_mm])[0]
            assert speed and choice.up_m is not None
            strip = replace(RIG_A, speed_mps=speed)
            pin = pin_height(RIG_A, 33.0) - (pin_height(strip, 33.0) - pin_height(strip, 95.0))
            self.assertAlmostEqual(height_at(RIG_A, pin, 95.0, 0.0) or 0.0, choice.up_m, delta=5e-4)

    def test_unmeasured_strips_are_called_by_their_place(self) -> None:
        place = match(RIG_A, 17.0, 95.0, [strip_of(1, 85.0), strip_of(5, 77.0)], 95.0)
        self.assertEqual(sorted(c.label for c in place.choices), ["2", "3", "4", "s1", "s5"])
        apart = [abs(c.order - place.exact_order) for c in place.choices]
        self.assertEqual(apart, sorted(apart))

    def test_strips_beyond_the_measured_ones_are_offered_too(self) -> None:
        """Its own place lies at 4.5 of strips 1 and 3: 4 and 5 stand beside it."""
        own = own_span(RIG_A, 17.0, 95.0)
        made = match(RIG_A, 17.0, 95.0, [Strip("a", 1.0, own - 3.5), Strip("b", 3.0, own - 1.5)], 95.0)
        self.assertAlmostEqual(made.exact_order, 4.5)
        self.assertEqual([choice.order for choice in made.choices[:2]], [4.0, 5.0])
        self.assertEqual([round(choice.span_mm - own, 6) for choice in made.choices[:2]], [-0.5, 0.5])

    def test_between_its_own_two_neighbours(self) -> None:
        """Measured strips need not be evenly apart: each piece is a line of its own, whichever way they grow."""
        own = own_span(RIG_A, 17.0, 95.0)
        for sign in (1.0, -1.0):
            for at, order in ((-0.5, 1.5), (1.0, 2.5), (3.0, 3.5), (8.0, 4.5)):
                spans = [own - sign * (at - below) for below in (-1.0, 0.0, 2.0, 4.0, 12.0)]
                strips = [Strip(f"s{n}", float(n), span) for n, span in enumerate(spans, start=1)]
                self.assertAlmostEqual(match(RIG_A, 17.0, 95.0, strips, 95.0).exact_order, order, msg=(sign, at))

    def test_two_strips_lead_beyond_themselves(self) -> None:
        themselves = match(RIG_A, 17.0, 95.0, [strip_of(1, 92.0), strip_of(3, 89.0)], 95.0)
        self.assertTrue(themselves.beyond)
        self.assertGreater(themselves.exact_order, 3.0)
        self.assertLess(abs(themselves.choices[0].up_m or 1.0), 0.1)

    def test_spans_that_fall_with_the_place_will_do(self) -> None:
        up = match(RIG_A, 17.0, 95.0, [strip_of(1, 85.0), strip_of(3, 77.0)], 95.0)
        down = match(RIG_A, 17.0, 95.0, [strip_of(-1, 85.0), strip_of(-3, 77.0)], 95.0)
        self.assertAlmostEqual(up.exact_order, -down.exact_order, places=6)

    def test_a_wheel_stretches_every_strip(self) -> None:
        wide = [replace(s, span_mm=2.3 * s.span_mm) for s in (strip_of(1, 85.0), strip_of(3, 77.0))]
        plain = match(RIG_A, 17.0, 95.0, [strip_of(1, 85.0), strip_of(3, 77.0)], 95.0)
        self.assertAlmostEqual(match(RIG_A, 17.0, 95.0, wide, 95.0, 2.3).exact_order, plain.exact_order, places=6)

    def test_strips_that_contradict_each_other_are_named(self) -> None:
        for spans, words in (
            ((40.0, 44.0, 42.0), "“b” with 44 mm and “c” with 42 mm contradict"),
            ((40.0, 40.0, 42.0), "contradict"),
        ):
            strips = [Strip(name, i, span) for i, (name, span) in enumerate(zip("abc", spans))]
            with self.assertRaisesRegex(InvalidValue, words):
                match(RIG_A, 17.0, 95.0, strips, 95.0)
        with self.assertRaisesRegex(InvalidValue, "same place"):
            match(RIG_A, 17.0, 95.0, [Strip("a", 1, 40.0), Strip("b", 1, 42.0)], 95.0)
        with self.assertRaisesRegex(InvalidValue, "at least two"):
            match(RIG_A, 17.0, 95.0, [Strip("a", 1, 40.0)], 95.0)
        with self.assertRaisesRegex(InvalidValue, "length"):
            match(RIG_A, 17.0, 95.0, [Strip("a", 1, 0.0), Strip("b", 2, 42.0)], 95.0)
        with self.assertRaisesRegex(InvalidValue, "farther than from_m"):
            match(RIG_A, 95.0, 17.0, [Strip("a", 1, 40.0), Strip("b", 2, 42.0)], 95.0)

    def test_what_no_arrow_gives_has_no_error(self) -> None:
        error = match(RIG_A, 17.0, 95.0, [Strip("a", 1, 0.001), Strip("b", 2, 900.0)], 95.0)
        self.assertIsNone(next(c for c in error.choices if c.label == "a").up_m)
        with self.assertRaises(OutOfReach):
            match(RIG_B, 17.0, 399.0, [Strip("a", 1, 40.0), Strip("b", 2, 42.0)], 95.0)

    def test_a_far_extrapolation_stays_bounded(self) -> None:
        bounded = match(RIG_A, 17.0, 95.0, [Strip("a", 1, 40.0), Strip("b", 2, 40.0000001)], 95.0)
        self.assertLessEqual(len(bounded.choices), MOST_CHOICES)
        back = match(RIG_A, 17.0, 95.0, [Strip("a", 1, 50.0), Strip("b", 2, 50.0000001)], 95.0)
        self.assertLessEqual(len(back.choices), MOST_CHOICES)

    def test_the_sides_of_a_gauge(self) -> None:
        kept = Booklet(strips=(Strip("1", 1, 40.0, "front"), Strip("A", 1, 50.0, "back"), Strip("2", 2, 42.0, "front")))
        self.assertEqual(kept.sides, ("front", "back"))
