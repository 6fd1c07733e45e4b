"""The drawings of the bench sheet."""

import unittest

from cross_staff.core.prepare.tuning import TuneReading, walk_back
from cross_staff.web.forms.units import Units
from cross_staff.web.prepare.drawing import SIDE, place_drawing, walk_drawing

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class Drawings(unittest.TestCase):
    def test_a_tear_stands_where_the_nock_tore(self) -> None:
        readings = [TuneReading((0.01, 0.0)), TuneReading((0.005, 0.005), "grip")]
        drawing = place_drawing("paper_tear", readings, (-0.01, 0.02), 0.0, METRIC)
        self.assertLess(drawing.x, drawing.middle)
        self.assertLess(drawing.y, drawing.middle)
        self.assertAlmostEqual(drawing.middle - drawing.x, 10.0 * drawing.per_unit, delta=0.1)
        self.assertEqual([spot.number for spot in drawing.spots], [1, 2])
        far = place_drawing("paper_tear", [], (0.9, 0.9), 0.0, INCHES)
        self.assertTrue(0.0 < far.y < far.x < SIDE)
        self.assertEqual([words for _, words in far.rings], ["0.5", "1", "1.5"])

    def test_a_walk_back_has_its_fitted_line(self) -> None:
        impacts = [(10.0, 0.05), (20.0, 0.10), (30.0, 0.15), (None, 0.0)]
        drawing = walk_drawing(impacts, walk_back(impacts[:3]), METRIC)
        self.assertEqual(len(drawing.line.split()), 3)
        self.assertIsNone(drawing.rows[3].fitted_x)
        self.assertAlmostEqual(drawing.rows[0].x - drawing.middle, 5.0 * drawing.per_unit, delta=0.1)
        self.assertEqual(walk_drawing(impacts, None, METRIC).line, "")


if __name__ == "__main__":
    unittest.main()
