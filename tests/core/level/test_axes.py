import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.cant import Case, cost, fall, false_cant
from cross_staff.core.ballistics.sightline import marks
from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.axes import AXES, PRIOR_SD_RAD, AxisReading, Slip, solve
from cross_staff.core.level.vials import cant_of, rail_tilt, reference_tilt, reversal, sight_tilt
from tests.rigs import RIG_A, RIG_B

DEG = math.radians(1.0)
# a2, a3, cant, pitch, tilt [deg]: docs/method.md, section 11
TILTS = (
    (0.0, 0.0, 1.5, 0.0, -1.50000),
    (0.8, 0.0, 0.0, 0.0, -0.80000),
    (0.0, 2.0, 0.0, 40.0, 1.28542),
    (0.0, 2.0, 0.0, -40.0, -1.28542),
    (0.6, -1.4, 0.3, 35.0, -1.54020),
)
# a2, a3, slope [deg], distance [m], delta, false cant [deg], right, up [mm], fall [m]; rig A
COSTS = (
    (0.0, 2.0, 30.0, 50.0, 2.0709, 1.22679, 37.91, -0.41, 1.7706),
    (0.0, 2.0, -30.0, 50.0, 1.9970, -1.08482, -30.96, -0.29, 1.6350),
    (0.0, 2.0, 0.0, 95.0, 4.5022, 0.15706, 20.40, -0.03, 7.4408),
    (0.5, -1.0, 20.0, 70.0, 3.1287, -0.90743, -60.87, -0.48, 3.8435),
    (0.0, 3.0, -45.0, 35.0, 1.2198, -2.93952, -33.07, -0.85, 0.6449),
)


def reading(
    pitch: float, axes: tuple[float, float, float], cant: float = 0.5, yaw: float = 0.0, rail: bool = False
) -> AxisReading:
    """An exact reading of (a1, a2, a3) [deg] at a pitch [deg], sd 0.1 deg."""
    first, second, third = (a * DEG for a in axes)
    p, c, e = pitch * DEG, cant * DEG, yaw * DEG
    seen = rail_tilt(first, e, c, p) if rail else sight_tilt(second, third, c, p)
    return AxisReading(p, seen, reference_tilt(e, c, p), 0.1 * DEG, rail)


class Vials(unittest.TestCase):
    def test_reference_values(self) -> None:
        for a2, a3, c, p, tilt in TILTS:
            self.assertAlmostEqual(sight_tilt(a2 * DEG, a3 * DEG, c * DEG, p * DEG) / DEG, tilt, places=5)

    def test_the_reference_tells_the_cant(self) -> None:
        for yaw in (0.0, 1.2):
            for p in (-50.0, 0.0, 35.0):
                seen = reference_tilt(yaw * DEG, 0.7 * DEG, p * DEG)
                self.assertAlmostEqual(cant_of(seen, yaw * DEG, p * DEG) / DEG, 0.7, places=9)
        with self.assertRaisesRegex(InvalidValue, "no cant"):
            cant_of(25 * DEG, 0.0, 75 * DEG)

    def test_left_handed_mirrors_right_handed(self) -> None:
        for a2, a3, c, p, tilt in TILTS:
            self.assertAlmostEqual(sight_tilt(-a2 * DEG, -a3 * DEG, -c * DEG, p * DEG) / DEG, -tilt, places=5)

    def test_reversal(self) -> None:
        made = reversal(1.2, 0.4)
        self.assertAlmostEqual(made.tilt, 0.8)
        self.assertAlmostEqual(made.error, 0.4)


class Solving(unittest.TestCase):
    def test_reference_values(self) -> None:
        exact = ((-40, -2.28133, -0.38302), (0, -1.29970, -0.50000), (40, 0.28965, -0.38302))
        solution = solve([AxisReading(p * DEG, s * DEG, r * DEG, 0.1 * DEG) for p, s, r in exact])
        for name, value, sd in (("second_axis", 0.800, 0.068), ("third_axis", 1.999, 0.110)):
            self.assertAlmostEqual(solution.axes[name].value_rad / DEG, value, delta=0.003)
            self.assertAlmostEqual(solution.axes[name].sd_rad / DEG, sd, delta=0.003)
        self.assertEqual(solution.undetermined, ("first_axis",))
        self.assertAlmostEqual(solution.axes["first_axis"].sd_rad, PRIOR_SD_RAD)

    def test_what_was_put_in_comes_out_whatever_the_vise_does(self) -> None:
        generator = np.random.default_rng(4)
        for _ in range(30):
            axes = tuple(generator.uniform(-3.0, 3.0, 3))
            readings = [reading(p, axes, float(generator.uniform(-2, 2))) for p in (-38.0, -5.0, 6.0, 41.0)]
            rails = [reading(p, axes, float(generator.uniform(-2, 2)), rail=True) for p in (0.0, 3.0)]
            tight = [replace(r, sd_rad=1e-5 * DEG) for r in readings + rails]
            solution = solve(tight)
            for name, value in zip(AXES, axes):
                self.assertAlmostEqual(solution.axes[name].value_rad / DEG, value, places=5)

    def test_one_pitch_leaves_one_combination(self) -> None:
        level = solve([reading(0.0, (0.0, 0.8, 2.0))] * 4)
        self.assertEqual(level.undetermined, ("first_axis", "third_axis"))
        self.assertAlmostEqual(abs(level.best_next_pitch_rad / DEG), 45.0)
        down = solve([reading(-40.0, (0.0, 0.8, 2.0))] * 4)
        self.assertEqual(down.undetermined, AXES)
        self.assertGreater(down.best_next_pitch_rad, 0.0)

    def test_a_yawed_reference_goes_one_for_one_into_the_third_axis(self) -> None:
        readings = [reading(p, (0.0, 0.8, 2.0), yaw=0.6) for p in (-40.0, 0.0, 40.0)]
        believed = solve(readings)
        self.assertAlmostEqual(believed.axes["third_axis"].value_rad / DEG, 1.4, delta=0.01)
        known = solve(readings, 0.6 * DEG, 0.0)
        self.assertAlmostEqual(known.axes["third_axis"].value_rad / DEG, 2.0, delta=0.01)
        unproved = solve(readings, 0.0, 0.5 * DEG)
        self.assertAlmostEqual(unproved.axes["third_axis"].sd_rad / DEG, math.hypot(0.110, 0.5), delta=0.005)

    def test_a_vise_nose_down_does_not_leak_into_the_second_axis(self) -> None:
        solution = solve([reading(p, (0.0, 0.0, 2.0)) for p in (-43.0, -3.0, 37.0)])
        self.assertAlmostEqual(solution.axes["second_axis"].value_rad / DEG, 0.0, delta=0.01)

    def test_a_flipped_sign_is_noticed_and_named(self) -> None:
        for index in range(4):
            readings = [reading(p, (0.0, 0.8, 2.0)) for p in (-40.0, -20.0, 20.0, 40.0)]
            readings[index] = replace(readings[index], vial_rad=-readings[index].vial_rad)
            if abs(readings[index].vial_rad) > 0.4 * DEG:
                self.assertEqual(solve(readings).slips, (Slip(index, "sight_sign"),))

    def test_a_reading_that_is_simply_wrong_is_pointed_at(self) -> None:
        readings = [reading(p, (0.0, 0.8, 2.0)) for p in (-40.0, -20.0, 0.0, 20.0, 40.0)]
        readings[2] = replace(readings[2], vial_rad=readings[2].vial_rad + 1.1 * DEG)
        self.assertEqual([slip.index for slip in solve(readings).slips], [2])
        self.assertEqual(solve([reading(p, (0.0, 0.8, 2.0)) for p in (-40.0, 0.0, 40.0)]).slips, ())

    def test_each_way_of_writing_a_sign_wrong_is_named(self) -> None:
        for slip, wrong in (
            ("reference_sign", lambda r: replace(r, reference_rad=-r.reference_rad)),
            ("both_signs", lambda r: replace(r, vial_rad=-r.vial_rad, reference_rad=-r.reference_rad)),
            ("pitch_sign", lambda r: replace(r, pitch_rad=-r.pitch_rad)),
        ):
            readings = [reading(p, (0.0, 0.8, 2.0), 2.0) for p in (-40.0, -20.0, 0.0, 25.0, 40.0)]
            readings[4] = wrong(readings[4])
            self.assertEqual(solve(readings).slips, (Slip(4, slip),))

    def test_the_next_pitch_is_the_one_that_would_tell_most(self) -> None:
        """Against trying each: a reading added at every five degrees, and the axis that is known least."""
        for pitches in ((-40.0, 0.0), (0.0, 0.0, 10.0), (20.0, 30.0), (-40.0, 40.0), (-45.0,), (45.0,)):
            readings = [reading(p, (0.0, 0.8, 2.0)) for p in pitches]
            now = solve(readings)
            widest = max(("second_axis", "third_axis"), key=lambda name: now.axes[name].sd_rad)
            left = {
                degrees: solve([*readings, reading(float(degrees), (0.0, 0.8, 2.0))]).axes[widest].sd_rad
                for degrees in range(-45, 46, 5)
            }
            best = now.best_next_pitch_rad / DEG
            self.assertAlmostEqual(left[round(best)], min(left.values()), delta=2e-4 * min(left.values()))

    def test_of_two_that_tell_alike_the_one_far_from_what_was_read(self) -> None:
        self.assertGreater(solve([reading(-3.0, (0.0, 0.0, 0.0), 0.0)] * 3).best_next_pitch_rad, 0.0)
        self.assertLess(solve([reading(3.0, (0.0, 0.0, 0.0), 0.0)] * 3).best_next_pitch_rad, 0.0)

    def test_what_was_read_of_the_rail_counts_for_where_the_mean_is(self) -> None:
        """Level readings leave the third axis alike either way: it is read away from the tilt of the rest."""
        for rail, side in ((30.0, -45.0), (-30.0, 45.0)):
            level = [reading(0.0, (0.0, 0.0, 0.0), 0.0)] * 2
            tilted = [reading(rail, (0.0, 0.0, 0.0), 0.0, rail=True)] * 2
            self.assertAlmostEqual(solve(level + tilted).best_next_pitch_rad / DEG, side)

    def test_nothing_read_is_nothing_known(self) -> None:
        solution = solve([])
        self.assertEqual((solution.undetermined, solution.p_value), (AXES, None))

    def test_what_cannot_be_read_is_refused(self) -> None:
        good = reading(0.0, (0.0, 0.0, 0.0))
        for wrong, words in (
            (replace(good, pitch_rad=89 * DEG), "89 degrees is too steep"),
            (replace(good, pitch_rad=-80.5 * DEG), "too steep"),
            (replace(good, reference_rad=-30.5 * DEG), "no vial shows more"),
            (replace(good, vial_rad=31 * DEG), "no vial shows more"),
            (replace(good, sd_rad=0.0), "more than nought"),
        ):
            with self.assertRaisesRegex(InvalidValue, words):
                solve([wrong])
        apart = [replace(good, pitch_rad=n * DEG, sd_rad=sd) for n, sd in enumerate((1e305, 1e306, 1e-100))]
        with self.assertRaisesRegex(InvalidValue, "too far apart"):
            solve(apart)


class Costs(unittest.TestCase):
    def test_reference_values(self) -> None:
        for a2, a3, slope, distance, delta, cant, right, up, drop in COSTS:
            case = Case(distance, slope * DEG)
            values = cost(RIG_A, a2 * DEG, a3 * DEG, [case])[0]
            self.assertAlmostEqual(values.cant_rad / DEG, cant, places=4)
            self.assertAlmostEqual(1000.0 * values.right_m, right, delta=0.02)
            self.assertAlmostEqual(1000.0 * values.up_m, up, delta=0.01)
            self.assertAlmostEqual(fall(RIG_A, [case])[0], drop, delta=2e-4)
            self.assertAlmostEqual(false_cant(a2 * DEG, a3 * DEG, slope * DEG, delta * DEG) / DEG, cant, delta=2e-5)

    def test_a_true_sight_costs_nothing_and_a_mirrored_one_the_opposite(self) -> None:
        cases = [Case(d, s * DEG) for d in (20.0, 70.0) for s in (-35.0, 0.0, 35.0)]
        for case in cost(RIG_B, 0.0, 0.0, cases):
            self.assertAlmostEqual(case.right_m, 0.0, places=9)
        one, other = cost(RIG_B, 0.01, 0.02, cases), cost(RIG_B, -0.01, -0.02, cases)
        for a, b in zip(one, other):
            self.assertAlmostEqual(a.right_m, -b.right_m, places=9)
            self.assertAlmostEqual(a.up_m, b.up_m, places=9)

    def test_third_axis_changes_side_between_up_and_down_and_costs_more_uphill(self) -> None:
        up, down = cost(RIG_A, 0.0, 2 * DEG, [Case(60.0, 30 * DEG), Case(60.0, -30 * DEG)])
        self.assertTrue(down.right_m < 0.0 < up.right_m)
        self.assertGreater(up.right_m, -down.right_m)

    def test_without_drag_the_fall_is_half_g_t_squared(self) -> None:
        free = replace(RIG_A, drag_per_m=0.0)
        time = marks(free, 20.0, [60.0])[0].time_s
        self.assertAlmostEqual(fall(free, [Case(60.0, 0.0)])[0], 0.5 * 9.80665 * time**2, places=6)

    def test_out_of_reach_is_none(self) -> None:
        slow = replace(RIG_B, speed_mps=20.0, drag_per_m=0.02)
        self.assertEqual(cost(slow, 0.0, 0.01, [Case(200.0, 0.0)]), [None])
        self.assertEqual(cost(slow, 0.0, 0.01, []), [])
