"""Lengths and angles off photos of known geometry: aslant, through a lens that bends, with a shaking finger."""

import math
import unittest

import numpy as np
from scipy import ndimage

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Disc, Line, Photo, Sheet, check_scale, flatness, measured, places
from cross_staff.core.simulate.pictures import Camera

WIDTH, HEIGHT = 1600, 1200
PHOTO = Photo(WIDTH, HEIGHT)
SPOTS = ((-0.11, 0.05), (0.13, -0.02), (0.02, 0.11))
A4 = [(-0.1485, 0.105), (0.1485, 0.105), (0.1485, -0.105), (-0.1485, -0.105)]


def camera(rng: np.random.Generator, tilt: float, size: float = 1.0, **more: float) -> Camera:
    aside, up = rng.uniform(-tilt, tilt, 2)
    lens = 0.02 * rng.choice([-1.0, 1.0])
    return Camera(
        int(WIDTH * size), int(HEIGHT * size), rng.uniform(0.42, 0.6), aside, up, rng.uniform(-0.2, 0.2), lens, **more
    )


def asked(seen: np.ndarray) -> np.ndarray:
    """A length, another one across it, and the angle between."""
    one, other = seen[1] - seen[0], seen[2] - seen[0]
    angle = math.atan2(one[0] * other[1] - one[1] * other[0], float(one @ other))
    return np.array([np.hypot(*one), np.hypot(*other), angle])


TRUE = asked(np.array(SPOTS))


class Straightened(unittest.TestCase):
    def test_without_tilt_lens_or_noise_it_is_exact(self) -> None:
        seen = Camera(WIDTH, HEIGHT, 0.4)
        sheet = Sheet(tuple(map(tuple, seen.on_photo(A4))), 0.297, 0.21)  # type: ignore[arg-type]
        np.testing.assert_allclose(places(PHOTO, sheet, seen.on_photo(SPOTS)), SPOTS, atol=1e-9)

    def test_a_tilted_camera_is_straightened(self) -> None:
        seen = Camera(WIDTH, HEIGHT, 0.45, 0.5, -0.4, 0.3)
        sheet = Sheet(tuple(map(tuple, seen.on_photo(A4))), 0.297, 0.21)  # type: ignore[arg-type]
        np.testing.assert_allclose(places(PHOTO, sheet, seen.on_photo(SPOTS)), SPOTS, atol=1e-9)

    def test_upside_down_it_is_the_same(self) -> None:
        seen = Camera(WIDTH, HEIGHT, 0.45, 0.2, 0.1, math.pi)
        sheet = Sheet(tuple(map(tuple, seen.on_photo(A4))), 0.297, 0.21)  # type: ignore[arg-type]
        np.testing.assert_allclose(places(PHOTO, sheet, seen.on_photo(SPOTS)), SPOTS, atol=1e-9)

    def within(self, kind: str, tilt: float, runs: int = 250) -> tuple[float, float]:
        """How often the truth lies within the stated 95 %, and the typical error in stated sds."""
        rng, off = np.random.default_rng(23), []
        for _ in range(runs):
            seen = camera(rng, tilt)

            def tapped(there: object, seen: Camera = seen) -> list[tuple[float, float]]:
                return [tuple(p) for p in seen.on_photo(there) + rng.normal(0.0, PHOTO.sd, (len(there), 2))]  # type: ignore[arg-type, misc]

            if kind == "sheet":
                scale: Sheet | Disc | Line = Sheet(tuple(tapped(A4)), 0.297, 0.21)  # type: ignore[arg-type]
            elif kind == "disc":
                scale = Disc(tuple(tapped([(0, 0.1), (0.1, 0), (0, -0.1), (-0.1, 0)])), 0.2)  # type: ignore[arg-type]
            else:
                scale = Line(tuple(tapped([(-0.15, -0.03), (0.15, -0.03)])), 0.3)  # type: ignore[arg-type]
            figures = measured(PHOTO, scale, tapped(SPOTS), asked)
            off += [(f.value - true) / f.sd for f, true in zip(figures, TRUE, strict=True)]
        away = np.abs(off)
        return float(np.mean(away < 1.96)), float(np.sqrt(np.mean(np.square(off))))

    def test_the_truth_lies_within_what_is_stated(self) -> None:
        for kind, tilt in (("sheet", 0.5), ("disc", 0.5), ("line", 0.1)):
            within, typical = self.within(kind, tilt)
            self.assertGreaterEqual(within, 0.95, kind)
            self.assertGreater(typical, 0.3, f"{kind}: far more careful than it need be")

    def test_on_rendered_photos_whose_spots_are_found_by_their_darkness(self) -> None:
        rng, off = np.random.default_rng(5), []
        dots = [*A4, *SPOTS]

        def scene(right: np.ndarray, up: np.ndarray) -> np.ndarray:
            near = np.min([np.hypot(right - x, up - y) for x, y in dots], axis=0)
            return np.where((near < 0.004)[..., None], 0.1, np.array((0.9, 0.85, 0.8)))

        for _ in range(12):
            seen = camera(rng, 0.4, 0.5, noise=0.03, blur=1.2)
            picture = seen.photo(scene, rng)
            marks, count = ndimage.label(ndimage.gaussian_filter(picture[:, :, 0].astype(float), 1.0) < 110)
            self.assertEqual(count, len(dots))
            middles = np.array(ndimage.center_of_mass(marks > 0, marks, range(1, count + 1)))[:, ::-1] + 0.5
            there = seen.on_photo(dots)
            own = [tuple(middles[int(np.hypot(*(middles - p).T).argmin())]) for p in there]
            photo = Photo(seen.width, seen.height)
            sheet = Sheet(tuple(own[:4]), 0.297, 0.21)  # type: ignore[arg-type]
            off += [
                (f.value - true) / f.sd for f, true in zip(measured(photo, sheet, own[4:], asked), TRUE, strict=True)
            ]
        self.assertGreaterEqual(float(np.mean(np.abs(off) < 1.96)), 0.95)


class Refused(unittest.TestCase):
    def no(self, scale: Sheet | Disc | Line, words: str) -> None:
        with self.assertRaisesRegex(InvalidValue, words):
            check_scale(PHOTO, scale)

    def test_taps_on_one_point(self) -> None:
        self.no(Sheet(((100, 100), (101, 100), (900, 900), (100, 900)), 0.3, 0.2), "on one point")
        self.no(Line(((100, 100), (100, 102)), 0.3), "on one point")

    def test_a_scale_shorter_than_two_parts_in_a_hundred(self) -> None:
        self.no(Line(((100, 100), (131, 100)), 0.3), "shorter than 2 %")
        check_scale(PHOTO, Line(((100, 100), (133, 100)), 0.3))

    def test_taps_off_the_picture_crossed_or_the_wrong_way_round(self) -> None:
        self.no(Line(((100, 100), (1700, 100)), 0.3), "off the picture")
        self.no(Line(((100, math.nan), (700, 100)), 0.3), "off the picture")
        self.no(Sheet(((100, 100), (900, 900), (900, 100), (100, 900)), 0.3, 0.2), "no four-sided figure")
        self.no(Sheet(((100, 100), (100, 900), (900, 900), (900, 100)), 0.3, 0.2), "the wrong way")
        self.no(Sheet(((100, 100), (900, 100), (1300, 101), (100, 100.5)), 0.3, 0.2), "one point|four-sided|too small")

    def test_a_face_seen_at_more_than_sixty_degrees(self) -> None:
        def face(degrees: float) -> Disc:
            seen = Camera(WIDTH, HEIGHT, 0.5, math.radians(degrees))
            return Disc(tuple(map(tuple, seen.on_photo([(0, 0.1), (0.1, 0), (0, -0.1), (-0.1, 0)]))), 0.2)  # type: ignore[arg-type]

        self.no(face(63.0), "flatter than 60 degrees")
        check_scale(PHOTO, face(55.0))
        self.assertAlmostEqual(flatness(PHOTO, face(0.0)), 1.0, places=6)
