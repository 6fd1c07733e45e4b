import math
import unittest

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.chronograph import ChronographSession, odd_reading, summary


class Readings(unittest.TestCase):
    def test_mean_spread_and_standard_error(self) -> None:
        error = summary(ChronographSession((80.0, 81.0, 82.0)))
        self.assertEqual((error.count, error.mean_mps, error.spread_mps), (3, 81.0, 1.0))
        self.assertAlmostEqual(error.standard_error_mps, 1.0 / math.sqrt(3.0))

    def test_one_reading_has_no_spread(self) -> None:
        spread = summary(ChronographSession((81.0,)))
        self.assertIsNone(spread.spread_mps)
        self.assertIsNone(spread.odd)

    def test_one_odd_reading_is_pointed_out_and_only_that(self) -> None:
        self.assertEqual(odd_reading(ChronographSession((82.1, 82.3, 79.6, 82.2, 82.0))), 2)
        self.assertIsNone(odd_reading(ChronographSession((82.1, 82.3, 81.9, 82.2, 82.0))))
        self.assertIsNone(odd_reading(ChronographSession((82.1, 82.3, 79.6, 82.2, 82.0), frozenset({2}))))

    def test_three_readings_cannot_point_at_one(self) -> None:
        self.assertIsNone(odd_reading(ChronographSession((82.1, 82.3, 70.0))))

    def test_left_out_readings_do_not_count(self) -> None:
        self.assertEqual(summary(ChronographSession((80.0, 90.0, 82.0), frozenset({1}))).mean_mps, 81.0)
        with self.assertRaisesRegex(InvalidValue, "at least one reading"):
            summary(ChronographSession((80.0,), frozenset({0})))

    def test_how_far_out_of_the_rest_is_odd(self) -> None:
        """Four about 81 with s 0.8165: by Student's t with three degrees of freedom 5.841 s sqrt(1 + 1/4) = 5.332."""
        rest = (80.0, 81.0, 82.0, 81.0)
        self.assertIsNone(odd_reading(ChronographSession((*rest, 86.2))))
        self.assertEqual(odd_reading(ChronographSession((*rest, 86.45))), 4)

    def test_equal_readings_are_luck_and_leave_a_thousandth(self) -> None:
        """5.841 times a thousandth of 81, times sqrt(1 + 1/4) = 0.529."""
        self.assertIsNone(odd_reading(ChronographSession((81.0,) * 4 + (81.5,))))
        self.assertEqual(odd_reading(ChronographSession((81.0,) * 4 + (81.56,))), 4)

    def test_what_is_taken_where_nothing_is_said(self) -> None:
        session = ChronographSession((81.0,))
        self.assertEqual((session.distance_m, session.accuracy, summary(session).count), (1.5, 0.005, 1))
