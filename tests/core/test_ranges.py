import math
import unittest

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import DISTANCE_M, DRAG_PER_M, EYE_TO_SIGHT_M, PEEP_HEIGHT_M, PITCH_RAD, SPEED_MPS

# the ends that docs/method.md states for every calculator
ENDS = ((SPEED_MPS, 20.0, 200.0), (DRAG_PER_M, 0.0, 0.02), (EYE_TO_SIGHT_M, 0.3, 1.5), (PEEP_HEIGHT_M, 0.02, 0.3),
        (DISTANCE_M, 0.5, 400.0), (PITCH_RAD, math.radians(-80.0), math.radians(80.0)))  # fmt: skip


class Ranges(unittest.TestCase):
    def test_each_holds_its_ends_and_nothing_beyond(self) -> None:
        for taken, low, high in ENDS:
            with self.subTest(low=low, high=high):
                self.assertTrue(taken.holds(low) and taken.holds(high))
                self.assertFalse(taken.holds(low - 1e-9) or taken.holds(high + 1e-9))
                self.assertFalse(taken.holds(math.nan) or taken.holds(math.inf))

    def test_a_refusal_names_field_and_ends(self) -> None:
        self.assertEqual(DISTANCE_M.check("distance_m", 50.0, "m"), 50.0)
        with self.assertRaisesRegex(InvalidValue, "between 0.5 and 400 m") as refused:
            DISTANCE_M.check("distance_m", 401.0, "m")
        self.assertEqual(refused.exception.field, "distance_m")
