import math
import unittest

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.vials import Reversal, bubble_between, line_from_shim


class Bubbles(unittest.TestCase):
    def test_between_its_lines_wherever_they_are_on_the_photo(self) -> None:
        self.assertAlmostEqual(bubble_between(400.0, 600.0, 1, 520.0, 580.0), 0.5)
        self.assertAlmostEqual(bubble_between(300.0, 700.0, 2, 540.0, 600.0), 0.7)
        self.assertAlmostEqual(bubble_between(300.0, 700.0, 2, 400.0, 460.0), -0.7)

    def test_a_shim_under_one_end(self) -> None:
        self.assertAlmostEqual(line_from_shim(1.0, 100.0, 2.0), math.asin(0.01) / 2.0)
        with self.assertRaisesRegex(InvalidValue, "no vial has"):
            line_from_shim(100.0, 100.0, 1.0)

    def test_from_which_error_on_both_sides_of_the_room_are_likely(self) -> None:
        doubtful = [Reversal(0.0, error).doubtful for error in (1.4, -1.4, 1.6, -1.6)]
        self.assertEqual(doubtful, [False, False, True, True])
