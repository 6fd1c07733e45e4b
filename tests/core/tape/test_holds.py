"""Holds and bands against the oracle integrator."""

from __future__ import annotations

import unittest

from cross_staff.core.ballistics.sightline import pin_height, turnover_distance
from cross_staff.core.tape.holds import best_hold, impacts, midway, point_on_bands
from tests.core.oracle import height_at
from tests.rigs import RIG_A, RIG_B


class Holds(unittest.TestCase):
    def test_the_reference_impacts(self) -> None:
        up = impacts(RIG_A, [pin_height(RIG_A, 20.0)], [5.0, 7.0, 10.0, 15.0, 25.0])[0]
        for computed, wanted in zip(up, (-8.52, 12.65, 32.96, 35.99, -75.55)):
            self.assertAlmostEqual(1000.0 * float(computed), wanted, delta=0.02)

    def test_far_beyond_it_falls_and_falls(self) -> None:
        self.assertLess(float(impacts(RIG_B, [0.09], [390.0])[0, 0]), -100.0)

    def test_a_band_ends_where_the_arrow_leaves_the_target(self) -> None:
        for distance in (17.0, 38.0, 61.0):
            height = pin_height(RIG_A, distance)
            band = point_on_bands(RIG_A, [height], 0.25)[0]
            assert band
            self.assertTrue(band.near_m <= distance <= band.far_m)
            self.assertAlmostEqual(height_at(RIG_A, height, band.far_m, 0.0) or 0.0, -0.125, delta=3e-4)
            if not band.starts_near:
                self.assertAlmostEqual(height_at(RIG_A, height, band.near_m, 0.0) or 0.0, 0.125, delta=3e-4)
        self.assertTrue(point_on_bands(RIG_A, [pin_height(RIG_A, 17.0)], 0.25)[0].starts_near)  # type: ignore[union-attr]

    def test_a_band_that_no_target_bounds_ends_where_the_arrow_is_looked_at(self) -> None:
        """A pin for 10 m on a wall of ten metres: to 1.6 times its own distance and 20 m more."""
        height = pin_height(RIG_A, 17.0)
        band = point_on_bands(RIG_A, [height], 10.0)[0]
        assert band
        self.assertTrue(band.starts_near)
        self.assertAlmostEqual(band.far_m, 1.6 * 17.0 + 20.0, delta=0.1)

    def test_each_edge_lies_between_its_two_rows(self) -> None:
        """The table has a row every 5 cm: the edge is read to a millimetre, whichever side the arrow leaves by."""
        for distance, target in ((38.0, 0.25), (61.0, 0.10), (95.0, 0.40), (26.0, 0.02)):
            height = pin_height(RIG_A, distance)
            band = point_on_bands(RIG_A, [height], target)[0]
            assert band
            for edge, side in ((band.near_m, 0.5), (band.far_m, -0.5)):
                up = height_at(RIG_A, height, edge, 0.0) or 0.0
                self.assertAlmostEqual(up, side * target, delta=2e-4, msg=(distance, edge))

    def test_a_pin_above_the_turnover_has_none(self) -> None:
        top = pin_height(RIG_A, turnover_distance(RIG_A))
        self.assertEqual(point_on_bands(RIG_A, [top + 0.002], 0.25), [None])
        self.assertEqual(point_on_bands(RIG_A, [], 0.25), [])

    def test_midway_between_two_pins(self) -> None:
        heights = [pin_height(RIG_A, d) for d in (17.0, 38.0)]
        height = midway(RIG_A, heights)[0]
        assert height
        self.assertAlmostEqual(height_at(RIG_A, sum(heights) / 2.0, height, 0.0) or 0.0, 0.0, delta=5e-4)
        self.assertEqual(midway(RIG_A, heights[:1]), [])


class Choices(unittest.TestCase):
    def test_the_pin_that_is_least_off(self) -> None:
        heights = [pin_height(RIG_A, d) for d in (17.0, 38.0, 61.0)]
        self.assertEqual(best_hold(RIG_A, heights, 38.0), (1, best_hold(RIG_A, heights[1:], 38.0)[1]))  # type: ignore[index]
        pin, up = best_hold(RIG_A, heights, 45.0) or (9, 0.0)
        self.assertEqual(pin, 1)
        self.assertAlmostEqual(up, height_at(RIG_A, heights[1], 45.0, 0.0) or 0.0, delta=5e-4)
        self.assertIsNone(best_hold(RIG_A, [], 45.0))
