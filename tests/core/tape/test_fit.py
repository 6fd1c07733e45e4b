import math
import unittest

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.tape.forecast import PlannedGroup, contradiction, good_to, next_shot
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solve

PRIORS = Priors(Known(80.2, 0.6), Known(0.0015, 0.25), Known(0.82, 0.005), Known(0.104, 0.005))
MARKS = tuple(Observation(*row) for row in ((18, 0.1, 0.15), (35, 8.6, 0.20), (55, 21.7, 0.25), (70, 31.2, 0.35)))
TAPE = (
    (18, 0.0130, 0.1323, 0.0030),
    (30, 5.9603, 0.1141, 0.0043),
    (50, 18.1526, 0.1354, 0.0084),
    (70, 31.4999, 0.2518, 0.0218),
    (90, 45.6390, 0.4790, 0.0531),
    (110, 60.5152, 0.8188, 0.1108),
)


class ReferenceFit(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.fit = solve(PRIORS, 18.0, MARKS)

    def test_posterior(self) -> None:
        known = self.fit.known
        for name, value, sd, last in (
            ("speed_mps", 80.540, 0.484, 2e-3),
            ("eye_to_sight_m", 0.81906, 0.00489, 2e-5),
            ("peep_height_m", 0.10572, 0.00475, 2e-5),
        ):
            with self.subTest(figure=name):
                self.assertAlmostEqual(known(name).value, value, delta=last)
                self.assertAlmostEqual(known(name).sd, sd, delta=last)
        self.assertAlmostEqual(math.log(known("drag_per_m").value), -6.6499, delta=2e-4)
        self.assertAlmostEqual(known("drag_per_m").sd, 0.1754, delta=2e-4)
        self.assertAlmostEqual(self.fit.mark_zero_mm.value, 0.0130, delta=2e-4)
        self.assertAlmostEqual(self.fit.mark_zero_mm.sd, 0.1323, delta=2e-4)

    def test_tape_with_its_uncertainty(self) -> None:
        rows = self.fit.tape([row[0] for row in TAPE])
        for (_, mark, sd, on_target), row in zip(TAPE, rows):
            self.assertAlmostEqual(row.mark_mm, mark, delta=2e-4)
            self.assertAlmostEqual(row.sd_mm, sd, delta=2e-4)
            self.assertAlmostEqual(row.sd_on_target_m, on_target, delta=2e-4)

    def test_chi_squared_and_pulls(self) -> None:
        self.assertEqual(self.fit.degrees_of_freedom, 3)
        self.assertAlmostEqual(self.fit.chi2, 4.783, delta=0.01)
        self.assertAlmostEqual(self.fit.p_value, 0.188, delta=0.002)
        self.assertAlmostEqual(self.fit.pulls["speed_mps"], (80.540 - 80.2) / 0.6, delta=0.005)
        self.assertIsNone(contradiction(self.fit))

    def test_residuals_are_observed_less_fitted(self) -> None:
        fitted = {row.distance_m: row.mark_mm for row in self.fit.tape([35.0])}
        residual = self.fit.residuals[1]
        self.assertAlmostEqual(residual.residual_mm, 8.6 - fitted[35.0], places=5)
        self.assertAlmostEqual(residual.standardised, residual.residual_mm / 0.20, places=6)
        self.assertEqual(residual.sd_mm, 0.20)


class Behaviour(unittest.TestCase):
    def test_each_mark_against_what_all_others_predict(self) -> None:
        """A residual in its own sds, by the leverage of its row: the same as fitting without it."""
        fit = solve(PRIORS, 18.0, MARKS)
        for index, residual in enumerate(fit.residuals):
            others = solve(PRIORS, 18.0, [o for n, o in enumerate(MARKS) if n != index])
            seen = MARKS[index]
            predicted = others.tape([seen.distance_m])[0]
            sd = math.hypot(seen.reading_sd_mm, predicted.sd_mm)
            self.assertAlmostEqual(residual.against_others, (seen.mark_mm - predicted.mark_mm) / sd, delta=0.03)

    def test_any_zero_will_do(self) -> None:
        plain = solve(PRIORS, 18.0, MARKS)
        moved = solve(PRIORS, 18.0, [Observation(o.distance_m, o.mark_mm + 37.5, o.reading_sd_mm) for o in MARKS])
        self.assertAlmostEqual(moved.mark_zero_mm.value, plain.mark_zero_mm.value + 37.5, places=4)
        self.assertAlmostEqual(moved.figures.speed_mps, plain.figures.speed_mps, places=4)

    def test_a_group_off_the_aim_says_the_same_as_the_mark_that_centres_it(self) -> None:
        rig = PRIORS.figures
        for distance, short in ((50.0, 2.0), (90.0, 12.0)):
            home, wanted = pin_height(rig, 18.0), pin_height(rig, distance)
            centred = 1000.0 * (home - wanted)
            up = float(impact_heights(rig, home - (centred - short) / 1000.0, [distance])[0])
            self.assertLess(up, 0.0)
            mark = Observation(distance, centred, 0.2)
            group = Observation(distance, centred - short, 0.2, up, 0.0, "group")
            one, other = (solve(PRIORS, 18.0, [Observation(18, 0.0, 0.1), o]) for o in (mark, group))
            self.assertAlmostEqual(one.tape([95.0])[0].mark_mm, other.tape([95.0])[0].mark_mm, delta=0.01)

    def test_speed_alone_gives_a_wide_tape(self) -> None:
        alone, fitted = solve(PRIORS, 18.0, []), solve(PRIORS, 18.0, MARKS)
        self.assertEqual(alone.mark_zero_mm.value, 0.0)
        self.assertIsNone(alone.p_value)
        self.assertGreater(alone.tape([90.0])[0].sd_mm, 2.0 * fitted.tape([90.0])[0].sd_mm)

    def test_an_unknown_tape_ratio_is_found(self) -> None:
        priors = Priors(
            PRIORS.speed_mps, PRIORS.drag_per_m, PRIORS.eye_to_sight_m, PRIORS.peep_height_m, Known(1.0, None)
        )
        home = pin_height(PRIORS.figures, 18.0)
        geared = [
            Observation(d, 3.0 * 1000.0 * (home - pin_height(PRIORS.figures, d)), 0.1) for d in (18, 30, 45, 60, 75, 90)
        ]
        known = solve(priors, 18.0, geared).known("tape_ratio")
        self.assertAlmostEqual(known.value, 3.0, delta=3.0 * known.sd)
        self.assertLess(known.sd, 0.2)

    def test_a_wrong_mark_is_the_suspect(self) -> None:
        wrong = [*MARKS[:2], Observation(55, 24.7, 0.25), MARKS[3]]
        fit = solve(PRIORS, 18.0, wrong)
        worst = max(range(4), key=lambda i: abs(fit.residuals[i].against_others))
        self.assertEqual(worst, 2)
        self.assertTrue(fit.residuals[2].suspect)
        self.assertFalse(fit.residuals[0].suspect)

    def test_inputs_that_contradict_name_the_largest_pull(self) -> None:
        priors = Priors(Known(86.0, 0.9), Known(0.0015, 0.05), PRIORS.eye_to_sight_m, PRIORS.peep_height_m)
        pull = contradiction(solve(priors, 18.0, MARKS))
        self.assertEqual(pull.parameter, "speed_mps")
        self.assertLess(pull.pull_sds, -3.0)
        self.assertLess(pull.p_value, 0.01)

    def test_no_drag_at_all_stays_no_drag(self) -> None:
        priors = Priors(PRIORS.speed_mps, Known(0.0, 0.25), PRIORS.eye_to_sight_m, PRIORS.peep_height_m)
        self.assertEqual(solve(priors, 18.0, MARKS).figures.drag_per_m, 0.0)

    def test_what_cannot_be_reached_is_refused_by_name(self) -> None:
        slow = Priors(Known(25.0, 0.5), Known(0.004, 0.25), PRIORS.eye_to_sight_m, PRIORS.peep_height_m)
        with self.assertRaisesRegex(InvalidValue, "out of reach of this arrow: 200 m"):
            solve(slow, 18.0, [Observation(200.0, 90.0, 0.2)])
        with self.assertRaisesRegex(InvalidValue, "sd: must be more than nought"):
            solve(Priors(Known(80.0, 0.0), *(PRIORS.drag_per_m, PRIORS.eye_to_sight_m, PRIORS.peep_height_m)), 18.0, [])


class Outlook(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.fit = solve(PRIORS, 18.0, MARKS)

    def test_the_next_shot_gains_what_it_promises(self) -> None:
        shot = PlannedGroup(6, 1.0, 0.15)
        best = next_shot(self.fit, range(10, 91, 5), 95.0, shot)
        then = solve(PRIORS, 18.0, [*MARKS, self._expected(best.distance_m, shot)])
        self.assertAlmostEqual(best.sd_at_farthest_m_now, self.fit.tape([95.0])[0].sd_on_target_m, places=9)
        self.assertAlmostEqual(best.sd_at_farthest_m_then, then.tape([95.0])[0].sd_on_target_m, delta=1e-3)

    def test_no_other_candidate_gains_more(self) -> None:
        shot, distances = PlannedGroup(6, 1.0, 0.15), [25.0, 50.0, 75.0]
        best = next_shot(self.fit, distances, 95.0, shot)
        for distance in distances:
            then = solve(PRIORS, 18.0, [*MARKS, self._expected(distance, shot)])
            self.assertGreaterEqual(then.tape([95.0])[0].sd_on_target_m, best.sd_at_farthest_m_then - 2e-4)

    def test_nothing_to_weigh_is_none(self) -> None:
        self.assertIsNone(next_shot(self.fit, [], 95.0))

    def test_out_of_reach_is_not_weighed(self) -> None:
        """Neither a farthest distance that no arrow reaches, nor such a candidate among others."""
        slow = Priors(Known(45.0, 0.5), Known(0.002, 0.25), PRIORS.eye_to_sight_m, PRIORS.peep_height_m)
        fit = solve(slow, 18.0, [])
        self.assertIsNone(next_shot(fit, [30.0], 390.0))
        self.assertIsNone(next_shot(fit, [390.0], 60.0))
        self.assertEqual(next_shot(fit, [390.0, 50.0], 60.0).distance_m, 50.0)

    def test_six_arrows_are_planned_where_nothing_is_said(self) -> None:
        """A usual archer, 1 mrad: 61 m by six arrows."""
        self.assertAlmostEqual(PlannedGroup().standard_error_m(61.0), 0.061 / math.sqrt(6.0))

    def test_good_to_is_where_the_band_meets_the_target(self) -> None:
        target = good_to(self.fit, 18.0, 120.0, 0.20)
        inside, outside = self.fit.tape([target, target + 0.5])
        self.assertLessEqual(1.96 * inside.sd_on_target_m, 0.10)
        self.assertGreater(1.96 * outside.sd_on_target_m, 0.10)
        self.assertIsNone(good_to(self.fit, 18.0, 120.0, 0.001))

    def _expected(self, distance_m: float, shot: PlannedGroup) -> Observation:
        mark = self.fit.tape([distance_m])[0].mark_mm
        return Observation(distance_m, mark, shot.reading_sd_mm, 0.0, shot.standard_error_m(distance_m), "group")
