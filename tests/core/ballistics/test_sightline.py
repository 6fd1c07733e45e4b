import math
import random
import unittest

import numpy as np

from cross_staff.core.ballistics import sightline
from cross_staff.core.ballistics.flight import GRAVITY, RigFigures, Trajectories, arrive
from cross_staff.core.errors import InvalidValue, OutOfReach
from tests.core.oracle import height_at, reaches
from tests.rigs import RIG_A, RIG_B

# distance m, pin height mm, mark mm, time s, speed m/s
LEVEL = {
    "A": (
        RIG_A,
        (
            (7, 89.2281, -1.3273, 0.08684, 80.1882),
            (20, 87.9009, 0, 0.25048, 78.7218),
            (35, 79.9328, 7.9681, 0.44318, 77.0647),
            (50, 70.6461, 17.2548, 0.64022, 75.4445),
            (75, 53.8208, 34.0801, 0.97885, 72.8260),
            (100, 35.7125, 52.1884, 1.33119, 70.3107),
        ),
    ),
    "B": (
        RIG_B,
        (
            (7, 78.8618, -5.4663, 0.10604, 65.5181),
            (20, 73.3955, 0, 0.30724, 63.7550),
            (35, 61.4705, 11.9250, 0.54660, 61.7828),
            (50, 48.0736, 25.3219, 0.79421, 59.8768),
            (75, 23.6122, 49.7834, 1.22696, 56.8492),
            (100, -3.4906, 76.8862, 1.68804, 54.0129),
        ),
    ),
}
# distance m, slope deg, pin height mm, equivalent level distance m
SLOPING = (
    (30, -40, 87.2940, 21.3437),
    (30, 25, 84.3891, 27.1138),
    (60, -20, 66.9910, 55.6158),
    (60, 35, 70.1575, 50.7581),
    (90, 15, 43.9592, 88.8245),
)


# speed, drag, eye to sight, peep, distance, slope: near the arrow's reach, where only the thorough search finds it
NEAR_REACH = (
    (49.29, 0.00189, 0.859, 0.111, 118.75, 0.705), (43.50, 0.0024, 0.828, 0.110, 95.31, 0.640),
    (33.69, 0.00195, 0.815, 0.119, 145.65, -0.364), (51.96, 0.00348, 0.666, 0.083, 114.50, 0.637),
    (30.22, 0.0001, 0.703, 0.124, 62.69, 0.496), (42.07, 0.00123, 0.674, 0.119, 91.11, 0.855),
    (45.11, 0.00253, 0.716, 0.095, 93.75, 0.834), (44.55, 0.0013, 0.694, 0.086, 135.76, 0.277),
)  # fmt: skip


class NearReach(unittest.TestCase):
    def test_the_low_flight_is_found_and_meets_the_aim(self) -> None:
        """Flown by the oracle: a steeper pin's arrow comes in higher, so it is the low one of the two."""
        for speed, drag, lever, peep, distance, slope in NEAR_REACH:
            figures = RigFigures(speed, drag, lever, peep)
            with self.subTest(speed=speed, slope=slope):
                height = sightline.pin_height(figures, distance, slope)
                self.assertAlmostEqual(height_at(figures, height, distance, slope), 0.0, delta=5e-4)
                self.assertGreater(height_at(figures, height - 1e-4, distance, slope), 0.0)

    def test_three_millimetres_before_the_arrow_s_reach(self) -> None:
        """The launch angles that arrive are a thousandth of a degree wide there: the search narrows down on them."""
        for speed, drag, lever, peep, distance, slope in (
            (30.31, 0.00171, 0.81, 0.103, 101.973, -0.196),
            (39.69, 0.00244, 0.682, 0.109, 146.688, -0.175),
            (38.56, 0.00255, 0.736, 0.103, 83.3564, 0.512),
        ):
            figures = RigFigures(speed, drag, lever, peep)
            with self.subTest(speed=speed):
                height = sightline.pin_height(figures, distance, slope)
                self.assertAlmostEqual(height_at(figures, height, distance, slope), 0.0, delta=5e-4)
                with self.assertRaises(OutOfReach):
                    sightline.pin_height(figures, distance + 0.01, slope)

    def test_a_little_farther_there_is_none(self) -> None:
        for speed, drag, lever, peep, distance, slope in NEAR_REACH:
            with self.subTest(speed=speed, slope=slope), self.assertRaises(OutOfReach):
                sightline.pin_height(RigFigures(speed, drag, lever, peep), 1.3 * distance, slope)


class ReferenceValues(unittest.TestCase):
    def test_level_marks(self) -> None:
        for name, (rig, rows) in LEVEL.items():
            marks = sightline.marks(rig, 20.0, [row[0] for row in rows])
            for (distance, height, mark, time, speed), got in zip(rows, marks):
                with self.subTest(rig=name, distance=distance):
                    self.assertAlmostEqual(1000.0 * got.pin_height_m, height, delta=2e-4)
                    self.assertAlmostEqual(got.mark_mm, mark, delta=2e-4)
                    self.assertAlmostEqual(got.time_s, time, delta=2e-5)
                    self.assertAlmostEqual(got.speed_mps, speed, delta=2e-4)

    def test_slopes_and_equivalent_distances(self) -> None:
        distances = [row[0] for row in SLOPING]
        slopes = np.radians([row[1] for row in SLOPING])
        marks = sightline.marks(RIG_A, 20.0, distances, slopes)
        equivalents = sightline.equivalent_distances(RIG_A, Trajectories.of(RIG_A, distances, slopes))
        for (distance, slope, height, equivalent), mark, got in zip(SLOPING, marks, equivalents):
            with self.subTest(distance=distance, slope=slope):
                self.assertAlmostEqual(1000.0 * mark.pin_height_m, height, delta=2e-4)
                self.assertAlmostEqual(got, equivalent, delta=2e-4)

    def test_turnover(self) -> None:
        for rig, distance, above in ((RIG_A, 10.9, 2.5), (RIG_B, 8.3, 5.7)):
            turnover_distance = sightline.turnover_distance(rig)
            self.assertAlmostEqual(turnover_distance, distance, delta=0.05)
            rise = sightline.pin_height(rig, turnover_distance) - sightline.pin_height(rig, 20.0)
            self.assertAlmostEqual(1000.0 * rise, above, delta=0.05)

    def test_impacts_with_the_sight_set_for_20_m(self) -> None:
        impact_heights = sightline.impact_heights(RIG_A, sightline.pin_height(RIG_A, 20.0), [5, 7, 10, 15, 25])
        for got, wanted in zip(1000.0 * impact_heights, (-8.52, 12.65, 32.96, 35.99, -75.55)):
            self.assertAlmostEqual(got, wanted, delta=0.02)

    def test_short_steep_shots_have_no_equivalent_distance_and_miss_by_so_much(self) -> None:
        turnover_pin = sightline.pin_height(RIG_A, sightline.turnover_distance(RIG_A))
        for distance, degrees, miss in ((12, 35, 18.8), (15, 35, 17.5), (20, 50, 43.5)):
            shots = Trajectories.of(RIG_A, distance, math.radians(degrees))
            self.assertEqual(sightline.equivalent_distances(RIG_A, shots), [None])
            high = arrive(shots, np.array([turnover_pin]), 32).height_m[0]
            self.assertAlmostEqual(1000.0 * high, miss, delta=0.1)


class AgainstAGeneralIntegrator(unittest.TestCase):
    """Whether the arrow of every solved row really comes within half a millimetre of the aim."""

    def test_random_shots_over_the_whole_domain(self) -> None:
        draw = random.Random(1295)
        for number in range(60):
            slow = number % 2 == 1
            rig = RigFigures(
                draw.uniform(40, 56 if slow else 130),
                draw.uniform(0.002 if slow else 0.0, 0.004),
                draw.uniform(0.5, 1.0),
                draw.uniform(0.07, 0.13),
            )
            distance = draw.uniform(50 if slow else 2, 120)
            slope = math.radians(draw.uniform(-50, 50))
            with self.subTest(rig=rig, distance=distance, slope=slope):
                solved = sightline.pin_heights(Trajectories.of(rig, distance, slope))
                if solved.reached[0]:
                    height = height_at(rig, float(solved.height_m[0]), distance, slope)
                    self.assertIsNotNone(height)
                    self.assertLess(abs(height), 0.5e-3)
                else:
                    self.assertFalse(reaches(rig, distance / 0.95, slope))

    def test_a_slow_arrow_uphill_near_its_reach(self) -> None:
        rig, slope = RigFigures(40.0, 0.004, 0.8, 0.1), math.radians(50.0)
        for distance in (50.0, 60.0, 66.0):
            solved = sightline.pin_heights(Trajectories.of(rig, distance, slope))
            self.assertTrue(solved.reached[0])
            self.assertLess(abs(height_at(rig, float(solved.height_m[0]), distance, slope)), 0.5e-3)
        self.assertFalse(sightline.pin_heights(Trajectories.of(rig, 80.0, slope)).reached[0])

    def test_it_is_the_low_path(self) -> None:
        rig, slope = RigFigures(40.0, 0.004, 0.8, 0.1), math.radians(50.0)
        shots = Trajectories.of(rig, 64.0, slope)
        solved = sightline.pin_heights(shots)
        lower = arrive(shots, solved.height_m - 0.002, 256)  # pin down, arrow up
        self.assertGreater(lower.height_m[0], 0.0)


class Laws(unittest.TestCase):
    def test_without_drag_a_level_shot_is_a_parabola(self) -> None:
        rig = RigFigures(75.0, 0.0, 0.8, 0.1)
        height = sightline.pin_height(rig, 60.0)
        delta = math.atan((0.1 - height) / 0.8)
        run = 60.0 - height * math.sin(delta)
        time = run / (75.0 * math.cos(delta))
        rise = -height * math.cos(delta) + 75.0 * math.sin(delta) * time - GRAVITY * time**2 / 2.0
        self.assertAlmostEqual(rise, 0.0, delta=1e-4)

    def test_a_movement_of_the_pin_moves_the_impact_the_other_way(self) -> None:
        for distance in (20.0, 50.0, 90.0):
            shots, by = Trajectories.of(RIG_A, distance), 1e-5
            height = sightline.pin_heights(shots).height_m
            moved = arrive(shots, height + by, 32).height_m[0] - arrive(shots, height, 32).height_m[0]
            lever = float(sightline.sight_shift_at_target(0.82, distance))
            self.assertAlmostEqual(moved / by, -lever, delta=0.02 * lever)

    def test_a_mark_grows_with_the_tape_ratio(self) -> None:
        plain, geared = (sightline.marks(RIG_A, 20.0, [60.0], tape_ratio=r)[0] for r in (1.0, 2.5))
        self.assertAlmostEqual(geared.mark_mm, 2.5 * plain.mark_mm, places=9)

    def test_the_near_partner_shares_the_mark(self) -> None:
        near = sightline.near_partner(RIG_A, 20.0)
        self.assertLess(near, sightline.turnover_distance(RIG_A))
        self.assertAlmostEqual(sightline.pin_height(RIG_A, near), sightline.pin_height(RIG_A, 20.0), delta=1e-6)

    def test_a_level_distance_inside_the_turnover_has_its_partner_beyond(self) -> None:
        near = sightline.near_partner(RIG_A, 20.0)
        equivalent_distances = sightline.equivalent_distances(RIG_A, Trajectories.of(RIG_A, near))
        self.assertAlmostEqual(equivalent_distances[0], 20.0, delta=0.01)

    def test_out_of_reach_is_said(self) -> None:
        slow = RigFigures(20.0, 0.01, 0.8, 0.1)
        with self.assertRaisesRegex(OutOfReach, "does not reach 300 m"):
            sightline.pin_height(slow, 300.0)
        self.assertEqual(sightline.marks(slow, 10.0, [300.0]), [None])

    def test_absurd_figures_are_refused_by_name(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "speed_mps: must lie between 20 and 200"):
            RigFigures(1.5, 0.001, 0.8, 0.1).checked()
        with self.assertRaisesRegex(InvalidValue, "drag_per_m"):
            RigFigures(80.0, 0.5, 0.8, 0.1).checked()
