"""A photo laid over another: what stood still falls on itself, what moved is measured."""

import unittest

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.overlay import laid_over, shift
from cross_staff.core.photos.plane import Photo, Point
from cross_staff.core.simulate.pictures import Camera

BEFORE, AFTER = Photo(1600, 1200), Photo(1200, 900)
FIXED = ((-0.02, 0.01), (0.02, 0.012), (0.0, -0.015))


def taps(camera: Camera, *places: tuple[float, float], shake: float = 0.0, seed: int = 0) -> list[Point]:
    off = np.random.default_rng(seed).normal(0.0, shake, (len(places), 2)) if shake else 0.0
    return [(float(x), float(y)) for x, y in camera.on_photo(places) + off]


class Laid(unittest.TestCase):
    def setUp(self) -> None:
        self.first, self.later = Camera(1600, 1200, 0.09), Camera(1200, 900, 0.1, rolled_rad=0.5)

    def test_points_that_did_not_move_fall_on_themselves(self) -> None:
        laid = laid_over(BEFORE, AFTER, taps(self.first, *FIXED), taps(self.later, *FIXED))
        self.assertLess(laid.off, 1e-6)
        there = (0.007, -0.003)
        np.testing.assert_allclose(laid.point(taps(self.later, there)[0]), taps(self.first, there)[0], atol=1e-6)

    def test_how_far_a_mark_moved_lies_within_what_is_stated(self) -> None:
        within = 0
        for seed in range(120):
            own = taps(self.first, *FIXED, (0.003, 0.0), shake=BEFORE.sd, seed=seed)
            other = taps(self.later, *FIXED, (0.0055, 0.001), shake=AFTER.sd, seed=1000 + seed)
            told = shift(BEFORE, AFTER, own[:3], other[:3], own[3], other[3], 0.04005)
            within += abs(told.value - np.hypot(0.0025, 0.001)) < 1.96 * told.sd
        self.assertGreaterEqual(within, 0.93 * 120)

    def test_what_cannot_be_laid(self) -> None:
        own, other = taps(self.first, *FIXED), taps(self.later, *FIXED)
        for fixed, again, field in (
            (own[:1], other[:1], "fixed"), (own * 2, other * 2, "fixed"), (own, other[:2], "again"),
            ([own[0], own[0], own[2]], other, "fixed"), (own, [other[0], other[0], other[2]], "again"),
            (own, [other[1], other[0], other[2]], "again"),
        ):  # fmt: skip
            with self.assertRaises(InvalidValue) as refused:
                laid_over(BEFORE, AFTER, fixed, again)
            self.assertEqual(refused.exception.field, field)
        with self.assertRaises(InvalidValue):
            shift(BEFORE, AFTER, own, other, own[0], other[0], 0.0)
