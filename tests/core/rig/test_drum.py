"""Line and drum, clicks from zero, turns and clicks."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.rig.drum import DrumReading, scale_mm_per_click
from cross_staff.core.rig.sight import Control, SightModel

SCOPE = SightModel(
    "scope", "target_scope", controls=(Control("Drum", "elevation", 0.05, 20.0, 1.0),), scale_division_mm=1.0
)


class Drum(unittest.TestCase):
    def read(self, mm: float, ratio: float = 1.0, **changes: object) -> DrumReading:
        told = DrumReading.of(replace(SCOPE, **changes), mm, ratio)  # type: ignore[arg-type]
        assert told
        return told

    def test_whole_lines_and_the_clicks_beyond(self) -> None:
        self.assertEqual(self.read(36.443), DrumReading(728.9, 36, 8.9, 36, 8.9))
        self.assertEqual(self.read(7.0), DrumReading(140.0, 7, 0.0, 7, 0.0))

    def test_what_rounds_to_a_whole_line_is_that_line(self) -> None:
        """19.97 clicks beyond a line are nought beyond the next, never twenty."""
        self.assertEqual(self.read(7.9985), DrumReading(160.0, 8, 0.0, 8, 0.0))

    def test_the_sign_is_left_to_words(self) -> None:
        self.assertEqual(self.read(-1.6), self.read(1.6))

    def test_a_ratio_makes_a_click_more_on_the_scale(self) -> None:
        self.assertEqual(scale_mm_per_click(SCOPE, 1.25), 0.0625)
        told = self.read(10.0, 1.25)
        self.assertEqual((told.clicks, told.line, told.drum), (160.0, 10, 0.0))

    def test_a_drum_that_is_no_division_shows_its_own_turn(self) -> None:
        told = self.read(9.96, 1.25)
        self.assertEqual((told.clicks, told.line, told.turns, told.drum), (159.4, 9, 7, 19.4))

    def test_what_is_not_known_is_left_out(self) -> None:
        bare = (Control("Drum", "elevation", 0.05),)
        self.assertEqual(self.read(3.2, controls=bare, scale_division_mm=None), DrumReading(64.0))
        self.assertIsNone(DrumReading.of(SightModel(), 3.0))
        self.assertIsNone(scale_mm_per_click(SightModel(), 1.0))
