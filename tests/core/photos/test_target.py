"""Holes found on rendered targets: what is called sure is one hole, each overlapping pair is a place to look at."""

import unittest

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Disc, Photo, Sheet, measured
from cross_staff.core.photos.target import find_holes
from cross_staff.core.simulate.pictures import Camera, SeenTarget

WIDTH, HEIGHT = 1200, 900


class Holes(unittest.TestCase):
    def test_targets_aslant(self) -> None:
        rng, off = np.random.default_rng(7), []
        single = found_single = pairs = seen_pairs = 0
        for number in range(10):
            holes = [tuple(rng.normal(0.0, 0.07, 2)) for _ in range(5)]
            pair = (holes[0][0] + 0.004, holes[0][1] + 0.002)
            target = SeenTarget((*holes, *([pair] if number % 2 else [])), shaft_m=rng.uniform(0.0055, 0.009))  # type: ignore[arg-type]
            camera = Camera(
                WIDTH,
                HEIGHT,
                rng.uniform(0.95, 1.1),
                *rng.uniform(-0.4, 0.4, 2),
                rng.uniform(-0.2, 0.2),
                0.01,
                0.9,
                0.02,
            )
            four = camera.on_photo(target.quarters if number % 3 == 0 else target.corners) + rng.normal(
                0.0, 1.5, (4, 2)
            )
            taps = tuple(map(tuple, four))
            scale = Disc(taps, target.face_m) if number % 3 == 0 else Sheet(taps, target.side_m, target.side_m)  # type: ignore[arg-type]
            there = camera.on_photo(target.holes)
            found = find_holes(camera.photo(target.scene, rng), scale, target.shaft_m)
            near = 0.8 * target.shaft_m * WIDTH / camera.across_m
            for hole in found:
                apart = np.hypot(*(there - (hole.x, hole.y)).T)
                nearest = int(apart.argmin())
                if not hole.sure:
                    seen_pairs += bool(number % 2) and apart[0] < near
                    continue
                self.assertLess(apart[nearest], near, f"target {number}: a hole where there is none")
                found_single += 1
                figures = measured(Photo(WIDTH, HEIGHT), scale, [(hole.x, hole.y)], lambda seen: seen[0])
                off += [(f.value - true) / f.sd for f, true in zip(figures, target.holes[nearest], strict=True)]
            single += 4 if number % 2 else 5
            pairs += number % 2
        self.assertGreaterEqual(found_single, 0.85 * single)
        self.assertGreaterEqual(seen_pairs, pairs - 1)
        self.assertGreaterEqual(float(np.mean(np.abs(off) < 1.96)), 0.95)

    def test_a_photo_of_nothing_has_no_holes(self) -> None:
        rng = np.random.default_rng(1)
        sheet = Sheet(((100, 80), (1100, 90), (1090, 820), (110, 810)), 0.6, 0.45)
        for picture in (np.full((HEIGHT, WIDTH, 3), 200), rng.integers(90, 130, (HEIGHT, WIDTH, 3))):
            self.assertEqual([hole for hole in find_holes(picture.astype(np.uint8), sheet, 0.006) if hole.sure], [])

    def test_bad_input(self) -> None:
        picture = np.full((HEIGHT, WIDTH, 3), 200, np.uint8)
        sheet = Sheet(((100, 80), (1100, 90), (1090, 820), (110, 810)), 0.6, 0.45)
        for shaft in (0.0, 0.05, float("nan")):
            with self.assertRaises(InvalidValue):
                find_holes(picture, sheet, shaft)
        with self.assertRaisesRegex(InvalidValue, "too small on so large a target"):
            find_holes(picture, Sheet(sheet.corners, 3.0, 2.2), 0.004)
        with self.assertRaises(InvalidValue):
            find_holes(picture, Sheet(((1, 1), (1, 1), (2, 2), (1, 2)), 0.6, 0.4), 0.006)
