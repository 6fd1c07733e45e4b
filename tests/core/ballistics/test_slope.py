"""The cut chart: reference values, and every dialled distance flown by the oracle."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.sightline import pin_height, turnover_distance
from cross_staff.core.ballistics.slope import cut_chart, level_distances
from cross_staff.core.ballistics.wind import drifts
from tests.core.oracle import height_at
from tests.rigs import RIG_A, RIG_B


class Cuts(unittest.TestCase):
    def test_the_reference_values(self) -> None:
        asked = [(30.0, -40.0), (30.0, 25.0), (60.0, -20.0), (60.0, 35.0), (90.0, 15.0)]
        values = level_distances(RIG_A, [d for d, _ in asked], [math.radians(p) for _, p in asked])
        for level, wanted in zip(values, (21.3437, 27.1138, 55.6158, 50.7581, 88.8245)):
            self.assertAlmostEqual(level or 0.0, wanted, delta=2e-4)

    def test_short_and_steep_dial_the_turnover_and_miss(self) -> None:
        for distance, slope, miss in ((12.0, 35.0, 18.8), (15.0, 35.0, 17.5), (20.0, 50.0, 43.5)):
            row = cut_chart(RIG_A, [distance], [math.radians(slope)])[0]
            self.assertIsNone(row.level_m)
            self.assertAlmostEqual(1000.0 * (row.miss_m or 0.0), miss, delta=0.06)

    def test_every_row_hits_when_it_is_dialled(self) -> None:
        slopes = [math.radians(s) for s in (-35.0, -10.0, 0.0, 20.0, 50.0)]
        rows = cut_chart(RIG_A, [12.0, 26.0, 47.0, 95.0], slopes)
        self.assertEqual(len(rows), 20)
        for row in rows:
            dial = turnover_distance(RIG_A) if row.level_m is None else row.level_m
            up = height_at(RIG_A, pin_height(RIG_A, dial), row.distance_m, row.slope_rad)
            self.assertAlmostEqual(up or 0.0, row.miss_m or 0.0, delta=5e-4)
            uncut = height_at(RIG_A, pin_height(RIG_A, row.distance_m), row.distance_m, row.slope_rad)
            self.assertAlmostEqual(uncut or 0.0, row.uncut_m or 0.0, delta=5e-4)

    def test_up_and_down_differ_and_level_is_itself(self) -> None:
        up, down, level = level_distances(RIG_A, [78.0] * 3, [0.5, -0.5, 0.0])
        self.assertGreater((up or 0.0) - (down or 0.0), 2.0)
        self.assertEqual(level, 78.0)
        inside = level_distances(RIG_A, [6.0], [0.0])[0]
        self.assertAlmostEqual(pin_height(RIG_A, inside or 0.0), pin_height(RIG_A, 6.0), delta=1e-6)

    def test_out_of_reach_and_nothing(self) -> None:
        self.assertFalse(cut_chart(RIG_A, [390.0], [math.radians(45.0)])[0].reached)
        self.assertEqual(cut_chart(RIG_A, [], [0.1]), [])
        self.assertEqual(level_distances(RIG_A, [], []), [])


class Wind(unittest.TestCase):
    def test_the_lag_rule(self) -> None:
        drift = drifts(RIG_A, [50.0, 100.0], 3.0)
        self.assertAlmostEqual(drift[0] or 0.0, 3.0 * (0.64022 - 50.0 / 81.0), delta=1e-4)
        self.assertAlmostEqual(drift[1] or 0.0, 3.0 * (1.33119 - 100.0 / 81.0), delta=1e-4)
        self.assertIsNone(drifts(RIG_B, [399.0], 3.0)[0])

    def test_nothing_drifts_without_drag(self) -> None:
        free = drifts(replace(RIG_A, drag_per_m=0.0), [50.0], 3.0)[0]
        self.assertLess(abs(free or 0.0), 0.004)
