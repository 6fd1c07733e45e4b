"""Groups against PHYSICS' reference values, against scipy's own tests, and against laws."""

import math
import unittest

import numpy as np
from scipy import stats

from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import (
    ADJUST,
    LEAVE,
    NOT_YET_KNOWN,
    SHOOT_MORE,
    Shot,
    analyse,
    beyond_chance,
    chance_limit,
    hotelling_p,
    inside,
    suspects,
)

REFERENCE = [(21, 34), (8, 51), (30, 22), (-4, 40), (15, 61)]


def impacts(places: object, scale: float = 1e-3) -> list[Shot]:
    return [Shot(float(x) * scale, float(y) * scale) for x, y in places]  # type: ignore[attr-defined]


class Reference(unittest.TestCase):
    def setUp(self) -> None:
        self.group = analyse(impacts(REFERENCE), 30.0, 0.80, 0.02)

    def test_middle_error_and_radius(self) -> None:
        assert self.group.mean_m and self.group.se_m
        self.assertAlmostEqual(1000 * self.group.mean_m[0], 14.0, 6)
        self.assertAlmostEqual(1000 * self.group.mean_m[1], 41.6, 6)
        self.assertAlmostEqual(1000 * self.group.se_m[0], 5.771, 3)
        self.assertAlmostEqual(1000 * self.group.se_m[1], 6.742, 3)
        self.assertAlmostEqual(1000 * (self.group.mean_radius_m or 0), 16.86, 2)

    def test_chance_and_movement(self) -> None:
        self.assertEqual(self.group.beyond_chance, (False, True))
        self.assertAlmostEqual(self.group.p_value or 0, 0.0112, 4)
        assert self.group.move_sight_m
        self.assertAlmostEqual(1000 * self.group.move_sight_m[0], 0.3636, 4)
        self.assertAlmostEqual(1000 * self.group.move_sight_m[1], 1.0805, 4)
        self.assertEqual((self.group.verdict, self.group.shots_to_settle), (ADJUST, 0))


class AgainstScipy(unittest.TestCase):
    """Statistics against an independent package."""

    def setUp(self) -> None:
        generator = np.random.default_rng(5)
        self.groups = [generator.normal((0.004, -0.003), 0.01, (n, 2)) for n in (3, 4, 6, 9, 15, 40) for _ in range(8)]

    def test_the_t_test_of_each_direction(self) -> None:
        for places in self.groups:
            direction = analyse(impacts(places, 1.0), 25.0, 0.8)
            p = stats.ttest_1samp(places, 0.0).pvalue
            self.assertEqual(direction.beyond_chance, (p[0] < 0.05, p[1] < 0.05))

    def test_standard_errors(self) -> None:
        for places in self.groups:
            errors = analyse(impacts(places, 1.0), 25.0, 0.8)
            np.testing.assert_allclose(errors.se_m, stats.sem(places), rtol=1e-12)

    def test_hotelling_is_the_f_test_of_ones_regressed_on_the_shots(self) -> None:
        for places in self.groups:
            count = len(places)
            ones = np.ones(count)
            left = ones - places @ np.linalg.lstsq(places, ones, rcond=None)[0]
            explained = 1.0 - float(left @ left) / count
            f = (explained / 2.0) / ((1.0 - explained) / (count - 2))
            self.assertAlmostEqual(hotelling_p(places) or 0, stats.f.sf(f, 2, count - 2), 10)

    def test_the_limit_is_scipys_quantile(self) -> None:
        for freedom in (2, 5, 17.5, 90):
            self.assertAlmostEqual(chance_limit(freedom), stats.t.ppf(0.975, freedom), 9)
        self.assertAlmostEqual(chance_limit(None), stats.norm.ppf(0.975), 9)

    def test_inside_a_circle_against_drawn_points(self) -> None:
        generator = np.random.default_rng(8)
        for mean, sd, radius in (((0, 0), (1, 1), 2.0), ((1.5, -0.4), (0.3, 0.9), 1.2), ((0.2, 0.1), (0.05, 0.5), 0.3)):
            drawn = generator.normal(mean, sd, (200_000, 2))
            self.assertAlmostEqual(inside(mean, sd, radius), np.mean(np.hypot(*drawn.T) < radius), 2)

    def test_inside_a_round_spread_has_a_closed_form(self) -> None:
        for radius in (0.3, 1.0, 2.5):
            self.assertAlmostEqual(inside((0, 0), (1, 1), radius), 1.0 - np.exp(-0.5 * radius**2), 3)

    def test_far_outside_is_nought(self) -> None:
        self.assertEqual(inside((50.0, 0.0), (0.1, 0.1), 1.0), 0.0)


class Laws(unittest.TestCase):
    def test_mirrored_shots_mirror_everything(self) -> None:
        one = analyse(impacts(REFERENCE), 30.0, 0.8)
        other = analyse(impacts([(-x, -y) for x, y in REFERENCE]), 30.0, 0.8)
        assert one.mean_m and other.mean_m
        np.testing.assert_allclose(one.mean_m, np.negative(other.mean_m))
        self.assertEqual(
            (one.p_value, one.beyond_chance, one.verdict), (other.p_value, other.beyond_chance, other.verdict)
        )

    def test_the_order_does_not_matter(self) -> None:
        self.assertAlmostEqual(
            analyse(impacts(REFERENCE), 30.0, 0.8).p_value or 0,
            analyse(impacts(REFERENCE[::-1]), 30.0, 0.8).p_value or 1,
        )

    def test_a_called_bad_shot_counts_for_nothing(self) -> None:
        with_bad = [*impacts(REFERENCE), Shot(0.5, -0.5, True)]
        self.assertEqual(analyse(with_bad, 30.0, 0.8), analyse(impacts(REFERENCE), 30.0, 0.8))

    def test_farther_away_the_same_offset_wants_less(self) -> None:
        near, far = (analyse(impacts(REFERENCE), d, 0.8).move_sight_m for d in (20.0, 60.0))
        assert near and far
        self.assertAlmostEqual(near[0] * 20.8, far[0] * 60.8)


class Few(unittest.TestCase):
    def test_none_kept(self) -> None:
        kept = analyse([Shot(0, 0, True)], 20.0, 0.8)
        self.assertEqual((kept.count, kept.mean_m, kept.verdict, kept.shots_to_settle), (0, None, NOT_YET_KNOWN, 3))

    def test_three_of_which_two_are_called_bad(self) -> None:
        bad = analyse([Shot(0.01, 0.02), Shot(0.4, 0, True), Shot(0, 0.4, True)], 20.0, 0.8)
        self.assertEqual((bad.count, bad.verdict, bad.shots_to_settle), (1, NOT_YET_KNOWN, 2))
        self.assertIsNone(bad.se_m)

    def test_a_known_spread_stands_in(self) -> None:
        made = analyse([Shot(0.09, 0.0)], 20.0, 0.8, known_spread_m=0.02)
        self.assertEqual((made.beyond_chance, made.verdict), ((True, False), ADJUST))
        self.assertAlmostEqual((made.se_m or (0, 0))[0], 0.02)
        self.assertIsNone(made.p_value)

    def test_shots_on_one_line_have_no_p_value(self) -> None:
        self.assertIsNone(analyse(impacts([(1, 1), (2, 2), (3, 3)]), 20.0, 0.8).p_value)

    def test_three_on_the_same_spot(self) -> None:
        spot = analyse(impacts([(5, 0)] * 3), 20.0, 0.8)
        self.assertEqual((spot.beyond_chance, spot.p_value), ((True, False), None))

    def test_off_any_butt(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "off any butt"):
            analyse([Shot(2.1, 0.0)], 20.0, 0.8)
        with self.assertRaisesRegex(InvalidValue, "numbers"):
            analyse([Shot(float("nan"), 0.0)], 20.0, 0.8)


class Verdicts(unittest.TestCase):
    def test_six_about_the_aim_are_left(self) -> None:
        left = analyse(impacts([(9, 1), (-9, 2), (1, 10), (-1, -12), (6, -6), (-6, 5)]), 20.0, 0.8, 0.03)
        self.assertEqual((left.verdict, left.shots_to_settle, left.ready), (LEAVE, 0, True))

    def test_a_middling_offset_asks_for_more_and_says_how_many(self) -> None:
        many = analyse(impacts([(19, 1), (-4, 2), (14, 10), (-6, -12), (16, -6), (-3, 5)]), 20.0, 0.8, 0.03)
        self.assertEqual(many.verdict, SHOOT_MORE)
        assert many.shots_to_settle and many.mean_m and many.se_m
        total = many.count + many.shots_to_settle
        sd = many.se_m[0] * many.count**0.5
        self.assertTrue(beyond_chance(many.mean_m[0], sd / total**0.5, total - 1))
        self.assertFalse(beyond_chance(many.mean_m[0], sd / (total - 1) ** 0.5, total - 2))

    def test_ready_needs_six_and_the_circle(self) -> None:
        five = impacts([(1, 0), (-1, 0), (0, 1), (0, -1), (1, 1)])
        self.assertFalse(analyse(five, 20.0, 0.8, 0.03).ready)
        self.assertFalse(analyse([*five, Shot(0, 0)], 20.0, 0.8, 0.0005).ready)
        self.assertTrue(analyse([*five, Shot(0, 0)], 20.0, 0.8, 0.03).ready)


class Suspects(unittest.TestCase):
    def test_a_wild_one_is_pointed_at_by_its_own_index(self) -> None:
        shots = [Shot(0.3, 0.3, True), *impacts([(5, 3), (-4, 2), (3, -6), (-2, -3), (320, -200)])]
        self.assertEqual(suspects(shots), (5,))
        self.assertEqual(analyse(shots, 20.0, 0.8).count, 5)  # it still counts

    def test_three_say_nothing(self) -> None:
        self.assertEqual(suspects(impacts([(0, 0), (1, 0), (900, 0)])), ())

    def test_how_often_a_sound_end_and_a_wild_arrow_are_pointed_at(self) -> None:
        """One clean end of six in a hundred; an arrow five sds out 80 times in 100 where the spread is known from five
        ends, 33 where it is not."""
        generator = np.random.default_rng(6)
        ends = generator.normal(0.0, 0.01, (1500, 6, 2))
        clean = sum(bool(suspects(self.shots(end), 0.01)) for end in ends)
        self.assertLess(clean, 30)
        angles = generator.uniform(0.0, 2.0 * math.pi, 1500)
        ends[:, 2] = 0.05 * np.column_stack([np.cos(angles), np.sin(angles)])
        known = sum(2 in suspects(self.shots(end), 0.01) for end in ends[:500])
        alone = sum(2 in suspects(self.shots(end)) for end in ends[:500])
        self.assertGreaterEqual(known, 0.76 * 500)
        self.assertGreaterEqual(alone, 0.26 * 500)

    @staticmethod
    def shots(places: np.ndarray) -> list[Shot]:
        return [Shot(float(x), float(y)) for x, y in places]

    def test_a_tight_group_has_a_floor(self) -> None:
        tight = impacts([(0, 0), (0, 0), (0, 0), (0, 0), (3, 0)])
        self.assertEqual(suspects(tight), (4,))
        self.assertEqual(suspects(tight, known_spread_m=0.02), ())
