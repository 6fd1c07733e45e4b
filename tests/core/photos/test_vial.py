"""Bubbles found on rendered vials of several colours and angles; what is not sure is said to be."""

import unittest

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.vial import FoundBubble, find_bubble
from cross_staff.core.simulate.pictures import Camera, SeenVial

COLOURS = (
    ((0.72, 0.85, 0.2), (0.88, 0.94, 0.6)),
    ((0.9, 0.75, 0.15), (0.97, 0.92, 0.62)),
    ((0.35, 0.6, 0.9), (0.75, 0.87, 0.97)),
    ((0.9, 0.35, 0.25), (0.96, 0.75, 0.7)),
    ((0.85, 0.87, 0.87), (0.97, 0.98, 0.98)),
)
FRAMES = (0.12, 0.55, 0.9)
WITHIN = 0.1  # lines


def seen(number: int, rng: np.random.Generator) -> tuple[SeenVial, Camera]:
    fluid, clear = COLOURS[number % 5]
    vial = SeenVial(
        rng.uniform(-1.6, 1.6), rng.uniform(1.3, 2.1), lines=1 + number % 2, fluid=fluid, clear=clear,
        frame=(FRAMES[number % 3],) * 3, bend_per_m=rng.uniform(-2.0, 2.0),
        glare=None if rng.random() < 0.6 else rng.uniform(-0.8, 0.8),
    )  # fmt: skip
    angles = (*rng.uniform(-0.5, 0.5, 2), rng.uniform(-0.4, 0.4))
    camera = Camera(
        800,
        600,
        rng.uniform(0.045, 0.08),
        *angles,
        rng.uniform(-0.02, 0.02),
        rng.uniform(0.6, 1.6),
        rng.uniform(0.01, 0.04),
    )
    return vial, camera


def look(vial: SeenVial, camera: Camera, rng: np.random.Generator) -> FoundBubble:
    corners = camera.on_photo(vial.corners) + rng.normal(0.0, 1.2, (4, 2))
    return find_bubble(camera.photo(vial.scene, rng), [tuple(corner) for corner in corners])


class Bubbles(unittest.TestCase):
    def test_two_hundred_vials(self) -> None:
        rng = np.random.default_rng(11)
        right = wrong = 0
        for number in range(200):
            vial, camera = seen(number, rng)
            found = look(vial, camera, rng)
            if found.sure:
                off = abs((found.stands(1.0) or 9.0) - vial.bubble)
                right, wrong = right + (off <= WITHIN), wrong + (off > WITHIN)
        self.assertEqual(wrong, 0, "sure, and not right")
        self.assertGreaterEqual(right, 190)

    def test_a_bubble_against_the_end_is_not_sure(self) -> None:
        rng = np.random.default_rng(2)
        found = look(SeenVial(2.75, 1.8), Camera(800, 600, 0.05), rng)
        self.assertFalse(found.sure)

    def test_a_vial_without_lines_says_so(self) -> None:
        rng = np.random.default_rng(3)
        found = look(SeenVial(0.3, 1.8, lines=0), Camera(800, 600, 0.05), rng)
        self.assertIsNone(found.lines)
        self.assertIsNone(found.stands(1.0))
        self.assertIn("lines", found.why)
        self.assertIsNotNone(found.ends)

    def test_a_photo_of_nothing(self) -> None:
        rng = np.random.default_rng(4)
        corners = [(100, 100), (700, 120), (690, 300), (90, 290)]
        for picture in (np.full((600, 800, 3), 128), rng.integers(0, 255, (600, 800, 3)), np.zeros((600, 800, 3))):
            self.assertFalse(find_bubble(picture.astype(np.uint8), corners).sure)

    def test_taps_that_make_no_vial(self) -> None:
        picture = np.zeros((600, 800, 3), np.uint8)
        for corners in ([(1, 1)] * 4, [(1, 1), (700, 1), (700, 300)], [(10, 10), (700, 300), (700, 10), (10, 300)]):
            with self.assertRaises(InvalidValue) as refused:
                find_bubble(picture, corners)
            self.assertEqual(refused.exception.field, "scale")
