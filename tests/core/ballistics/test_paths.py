"""A path read at many distances is the flight to each of them."""

from __future__ import annotations

import unittest

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures, Trajectories, arrive, path_heights, path_integral
from cross_staff.core.ballistics.reach import all_misjudged_m, misjudged_m
from cross_staff.core.ballistics.sightline import far_distances, impact_heights, pin_height, turnover_distance
from cross_staff.core.tape.holds import impacts
from cross_staff.core.tape.ways import Travel, answers
from tests.rigs import RIG_A, RIG_B

SLOW = RigFigures(42.0, 0.0035, 0.7, 0.09)


class Paths(unittest.TestCase):
    def test_it_is_the_flight_to_each_distance(self) -> None:
        for figures, end in ((RIG_A, 130.0), (RIG_B, 120.0), (SLOW, 70.0)):
            for slope in (-0.6, 0.0, 0.6):
                heights = np.array([pin_height(figures, d) for d in (10.0, 25.0, 50.0)])
                distances = np.linspace(0.5, end, 61)
                up = impacts(figures, heights, distances, slope)
                for height, row in zip(heights, up):
                    shots = Trajectories.of(figures, distances, slope)
                    known = arrive(shots, np.full(61, height), 200)
                    np.testing.assert_allclose(row[known.sound], known.height_m[known.sound], atol=2e-5)

    def test_between_its_steps_too(self) -> None:
        distances = np.linspace(40.0, 44.0, 41)
        one = impacts(RIG_A, pin_height(RIG_A, 30.0), np.append(distances, 190.0))[0, :41]
        np.testing.assert_allclose(one, impact_heights(RIG_A, pin_height(RIG_A, 30.0), distances), atol=1e-6)

    def test_an_arrow_that_stops_short_has_no_height_there(self) -> None:
        steep = np.array([pin_height(SLOW, 40.0)])
        up, flies = path_heights(Trajectories.of(SLOW, 400.0, 1.2), steep, 400.0, [10.0, 390.0], 200)
        self.assertEqual((up.shape, flies[0].tolist()), ((1, 2), [True, False]))

    def test_the_arrow_beside_it_flies_on(self) -> None:
        """One shot that stops short takes neither the others nor its own near part with it."""
        shots = Trajectories.of(SLOW, [400.0, 60.0], [1.2, 0.0])
        heights = np.array([pin_height(SLOW, 40.0)] * 2)
        _, flies = path_heights(shots, heights, 60.0, [10.0, 20.0, 59.0], 200)
        self.assertEqual(flies[1].tolist(), [True, True, True])
        _, far = path_heights(shots, heights, 110.0, [10.0, 109.0], 200)
        self.assertEqual(far.tolist(), [[True, False], [True, True]])

    def test_the_integral_behind_the_fall(self) -> None:
        """exp(-k s) integrated along the flight, by ten thousand steps of the path itself."""
        for distance, slope in ((50.0, 0.5), (95.0, 0.0), (35.0, -0.8)):
            height = np.array([pin_height(RIG_A, distance, slope)])
            ends = np.linspace(0.002, distance, 4001)
            shots = Trajectories.of(RIG_A, ends, slope)
            up = arrive(shots, np.full(len(ends), height[0]), 32)
            along = np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(ends), np.diff(up.height_m)))])
            slowed = np.exp(-RIG_A.drag_per_m * along)
            expected = np.sum(0.5 * (slowed[1:] + slowed[:-1]) * np.diff(up.time_s))
            integral = path_integral(Trajectories.of(RIG_A, distance, slope), height)[0]
            self.assertAlmostEqual(integral, expected + up.time_s[0], delta=2e-5)


class Together(unittest.TestCase):
    def test_many_at_once_are_each_by_itself(self) -> None:
        heights = [pin_height(RIG_A, d) for d in (20.0, 35.0, 50.0)]
        wanted, travel = [22.0, 47.0, 61.0, 90.0], Travel(2.0, 50.0)
        for distance, together in zip(wanted, answers(RIG_A, heights, (0, 1, 2), wanted, 0.1, travel)):
            alone = answers(RIG_A, heights, (0, 1, 2), [distance], 0.1, travel)[0]
            self.assertEqual([way.pin for way in together.ways], [way.pin for way in alone.ways])
            for one, other in zip(together.ways, alone.ways):
                self.assertAlmostEqual(one.travel_mm, other.travel_mm, places=4)
        table = all_misjudged_m(RIG_A, [30.0, 60.0], [2.0, -2.0])
        for row, distance in zip(table, (30.0, 60.0)):
            for read_off, error in zip(row, (2.0, -2.0)):
                self.assertAlmostEqual(read_off or 0.0, misjudged_m(RIG_A, distance, error) or 0.0, places=6)
        self.assertGreater(table[0][0] or 0.0, 0.0)
        self.assertIsNone(misjudged_m(SLOW, 395.0, 3.0))

    def test_heights_above_the_level_maximum_do_not_hold_the_others_up(self) -> None:
        top = pin_height(RIG_A, turnover_distance(RIG_A))
        made = far_distances(
            RIG_A, [top + 0.01, pin_height(RIG_A, 61.0), top + 1e-6, pin_height(RIG_A, 95.0), top - 1e-9]
        )
        self.assertIsNone(made[0])
        self.assertIsNone(made[2])
        self.assertAlmostEqual(made[1] or 0.0, 61.0, places=4)
        self.assertAlmostEqual(made[3] or 0.0, 95.0, places=4)
        self.assertLess(abs((made[4] or 0.0) - turnover_distance(RIG_A)), 0.05)


if __name__ == "__main__":
    unittest.main()
