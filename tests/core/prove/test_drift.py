import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.cant import Case, falls, false_cant
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.prove.drift import TERMS, Cause, Drift, SideGroup, _mixture, diagnose, shares
from tests.rigs import RIG_A, RIG_B

HOME = 20.0
LEVEL = tuple((d, 0.0) for d in (20.0, 38.0, 61.0, 78.0, 95.0))
SLOPES = tuple((d, slope) for d in (20.0, 47.0, 61.0, 95.0) for slope in (-25.0, 0.0, 25.0))


def right_m(figures: RigFigures, distance: float, slope: float, term: str, size: float) -> float:
    """Where a term of PHYSICS 5 puts a group, worked out here by itself."""
    lever = figures.eye_to_sight_m
    fall, delta, height = falls(figures, (Case(distance, slope),))[0] or (0.0, 0.0, 0.0)
    if term == "windage":
        return size * (lever + distance)
    if term == "offset":
        return size
    if term == "lean":
        return (pin_height(figures, HOME) - height) * math.sin(size) * (lever + distance) / lever
    return fall * math.sin(false_cant(0.0, size, slope, delta))


def groups(
    figures: RigFigures,
    at: tuple[tuple[float, float], ...],
    truth: dict[str, float],
    rng: np.random.Generator | None = None,
    arrows: int = 6,
    wind_mps: float = 0.0,
) -> list[SideGroup]:
    told = []
    for distance, degrees in at:
        slope, se = math.radians(degrees), 1e-3 * distance / math.sqrt(arrows)
        right = sum(right_m(figures, distance, slope, term, size) for term, size in truth.items())
        right += drifts(figures, [distance], wind_mps)[0] or 0.0
        told.append(SideGroup(distance, slope, right + (rng.normal(0.0, se) if rng else 0.0), se))
    return told


class Terms(unittest.TestCase):
    def test_each_comes_back_as_it_was_put_in(self) -> None:
        truth = {"windage": 1.2e-3, "offset": 0.012, "lean": math.radians(1.4), "third_axis": math.radians(2.5)}
        for figures in (RIG_A, RIG_B):
            exact = [replace(group, se_m=1e-4) for group in groups(figures, SLOPES, truth)]
            told = diagnose(figures, HOME, exact)
            for name in TERMS:
                known = told.terms[name]
                assert known is not None
                self.assertAlmostEqual(known.value, truth[name], delta=max(2.0 * (known.sd or 0.0), 2e-4), msg=name)

    def test_simulated_terms_lie_within_their_sds(self) -> None:
        truth = {"windage": 0.8e-3, "offset": -0.008, "lean": math.radians(-1.0), "third_axis": math.radians(1.5)}
        rng = np.random.default_rng(7)
        pulls: dict[str, list[float]] = {name: [] for name in TERMS}
        for _ in range(120):
            told = diagnose(RIG_A, HOME, groups(RIG_A, SLOPES, truth, rng, 12))
            for name, known in told.terms.items():
                if known is not None:
                    pulls[name].append((known.value - truth[name]) / (known.sd or 1.0))
        for name, seen in pulls.items():
            self.assertGreater(len(seen), 100, name)
            self.assertLess(abs(float(np.mean(seen))), 0.3, name)
            self.assertAlmostEqual(float(np.std(seen)), 1.0, delta=0.2, msg=name)

    def test_what_is_not_determined_is_not_told(self) -> None:
        one = diagnose(RIG_A, HOME, groups(RIG_A, ((61.0, 0.0),), {"windage": 1e-3}))
        self.assertEqual(one.undetermined, TERMS)
        self.assertEqual([one.terms[name] for name in TERMS], [None] * 4)
        level = diagnose(RIG_A, HOME, groups(RIG_A, LEVEL, {"windage": 1e-3}))
        self.assertIn("third_axis", level.undetermined)

    def test_level_ground_shows_rail_and_vial_as_one(self) -> None:
        """A second axis alone, -D sin a2, comes out as a lean of -a2 with a little windage and offset."""
        second = math.radians(2.0)
        seen = []
        for distance, _ in LEVEL:
            fall = (falls(RIG_A, (Case(distance, 0.0),))[0] or (0.0,))[0]
            seen.append(SideGroup(distance, 0.0, -fall * math.sin(second), 1e-3))
        told = diagnose(RIG_A, HOME, seen)
        lean = told.terms["lean"]
        assert lean is not None
        self.assertAlmostEqual(lean.value, -second, delta=math.radians(0.25))
        cause = next(each for each in told.causes if each.cause == Cause.LEAN)
        self.assertIn("no arrow there tells one from the other", cause.why)

    def test_windage_is_given_as_what_the_housing_goes(self) -> None:
        told = diagnose(RIG_A, HOME, groups(RIG_A, SLOPES, {"windage": 1e-3}, arrows=5000))
        housing = told.housing_mm
        assert housing is not None
        self.assertAlmostEqual(housing.value, 0.82, delta=0.03)

    def test_the_third_axis_changes_sides_with_the_slope(self) -> None:
        up, down = shares(RIG_A, HOME, [SideGroup(61.0, math.radians(s), 0.0, 1.0) for s in (25.0, -25.0)])[:, 3]
        self.assertGreater(up, 0.3)
        self.assertLess(down, -0.3)


class Causes(unittest.TestCase):
    def first(self, at: tuple[tuple[float, float], ...], wind: float = 0.0, **truth: float) -> Cause:
        return self.told(at, wind, **truth).causes[0].cause

    def told(self, at: tuple[tuple[float, float], ...], wind: float = 0.0, **truth: float) -> Drift:
        return diagnose(RIG_A, HOME, groups(RIG_A, at, truth, wind_mps=wind))

    def test_each_is_the_likeliest_where_it_is_at_work(self) -> None:
        self.assertEqual(self.first(LEVEL, windage=2e-3), Cause.WINDAGE)
        near = ((12.0, 0.0), (17.0, 0.0), (26.0, 0.0), (61.0, 0.0))
        self.assertEqual(
            diagnose(RIG_A, HOME, groups(RIG_A, near, {"offset": 0.012}, arrows=40)).causes[0].cause, Cause.OFFSET
        )
        self.assertEqual(self.first(LEVEL, lean=math.radians(2.0)), Cause.LEAN)
        self.assertEqual(self.first(SLOPES, third_axis=math.radians(2.0)), Cause.THIRD)
        self.assertEqual(self.first(LEVEL), Cause.NONE)

    def test_amounts_come_out_where_a_cause_is_at_work(self) -> None:
        """Also on level ground, where the terms together are not determined."""
        for name, size, cause in (
            ("windage", 2e-3, Cause.WINDAGE),
            ("lean", math.radians(2.0), Cause.LEAN),
            ("lean", math.radians(-2.0), Cause.LEAN),
        ):
            told = diagnose(RIG_A, HOME, groups(RIG_A, LEVEL, {name: size}))
            amount = told.amount(cause)
            assert amount is not None
            self.assertEqual(told.causes[0].cause, cause)
            self.assertAlmostEqual(amount.value, size, delta=2.0 * (amount.sd or 0.0))
            self.assertLess(amount.sd or 0.0, 0.5 * abs(size))
        self.assertIsNone(self.told(LEVEL).amount(Cause.TORQUE))

    def test_nothing_is_said_to_show_only_where_much_was_shot(self) -> None:
        few = [SideGroup(d, 0.0, 0.0, 1e-3 * d) for d in (20.0, 61.0)]
        self.assertIsNone(diagnose(RIG_A, HOME, few).told)
        many = diagnose(RIG_A, HOME, [replace(g, se_m=2e-4) for g in groups(RIG_A, SLOPES, {})])
        assert many.told is not None
        self.assertEqual(many.told.cause, Cause.NONE)

    def test_wind_stays_on_the_list(self) -> None:
        self.assertIn(Cause.WIND, [each.cause for each in self.told(LEVEL, wind=3.0).causes])

    def test_groups_that_differ_at_one_distance_ask_for_tune(self) -> None:
        seen = [SideGroup(61.0, 0.0, right, 0.02) for right in (-0.2, 0.2, -0.15, 0.18)]
        told = diagnose(RIG_A, HOME, seen)
        self.assertEqual(told.causes[0].cause, Cause.TORQUE)
        self.assertNotIn(Cause.NONE, [each.cause for each in told.causes])

    def test_every_cause_says_why_and_what_to_check(self) -> None:
        for each in self.told(LEVEL, windage=1e-3).causes:
            self.assertTrue(each.why and each.check)
            self.assertTrue(0.0 <= each.chance <= 1.0)

    def test_noise_alone_is_seldom_called_a_cause(self) -> None:
        rng, alarms = np.random.default_rng(3), 0
        for _ in range(100):
            first = diagnose(RIG_A, HOME, groups(RIG_A, LEVEL, {}, rng)).causes[0]
            alarms += first.cause != Cause.NONE and first.chance > 0.9
        self.assertLessEqual(alarms, 5)


class Many(unittest.TestCase):
    def test_likelihood_amounts_and_variances_are_those_of_the_groups_whole_covariance(self) -> None:
        rng = np.random.default_rng(3)
        known, right, sizes = rng.normal(0.0, 2.0, (9, 6)), rng.normal(0.0, 3.0, 9), rng.uniform(0.5, 2.0, 6)
        for mask in (
            np.zeros(6, dtype=bool),
            np.array([True, False, True, True, False, False]),
            np.ones(6, dtype=bool),
        ):
            shares_of = known[:, mask] * sizes[mask]
            whole = np.eye(9) + shares_of @ shares_of.T
            likely, means, variances = _mixture(known, right, sizes, mask)
            expected = -0.5 * (right @ np.linalg.solve(whole, right) + np.linalg.slogdet(whole)[1])
            self.assertAlmostEqual(likely, float(expected), places=9)
            np.testing.assert_allclose(
                means[mask], sizes[mask] * (shares_of.T @ np.linalg.solve(whole, right)), atol=1e-9
            )
            left = 1.0 - np.diag(shares_of.T @ np.linalg.solve(whole, shares_of))
            np.testing.assert_allclose(variances[mask], sizes[mask] ** 2 * left, atol=1e-9)
            self.assertEqual((means[~mask].any(), variances[~mask].any()), (False, False))

    def test_three_hundred_at_one_stake_determine_nothing_more(self) -> None:
        """Once a calculator was busy with these for a quarter of a minute."""
        told = diagnose(RIG_A, HOME, [SideGroup(0.5, 0.0, 0.0, 1e-5)] * 300)
        self.assertEqual([name for name in TERMS if told.terms[name] is not None], [])
        self.assertEqual(told.dof, 299)


class Refusals(unittest.TestCase):
    def test_each_says_what_is_wrong(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "at least one group"):
            diagnose(RIG_A, HOME, [])
        with self.assertRaisesRegex(InvalidValue, "more than nought"):
            diagnose(RIG_A, HOME, [SideGroup(20.0, 0.0, 0.0, 0.0)])
        with self.assertRaisesRegex(OutOfReach, "out of reach"):
            diagnose(RigFigures(25.0, 0.01, 0.8, 0.1), 15.0, [SideGroup(300.0, 0.0, 0.0, 0.1)])


if __name__ == "__main__":
    unittest.main()
