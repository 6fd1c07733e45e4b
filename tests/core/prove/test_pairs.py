import math
import unittest

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.prove.pairs import PAIRS, PairDifference, PairGroup, PairKind, canted_m, compare


def group(right: float | None, up: float | None, arrows: int = 6, day: str = "a", distance: float = 38.0) -> PairGroup:
    return PairGroup(distance, arrows, right, up, day)


class Differences(unittest.TestCase):
    def told(self, right: float | None, up: float | None, arrows: int = 6, day: str = "a") -> PairDifference:
        return compare([group(0.0, 0.0, arrows)], [group(right, up, arrows, day)], 1.0, 0.35)

    def test_a_large_one_is_real_and_to_its_side(self) -> None:
        told = self.told(0.12, 0.0)
        self.assertTrue(told.real)
        self.assertEqual(told.sides, ("right",))
        self.assertIsNone(told.more)
        assert told.right_mrad is not None
        self.assertAlmostEqual(told.right_mrad.value, 120.0 / 38.0, places=6)
        self.assertAlmostEqual(told.right_mrad.sd or 0.0, math.sqrt(2.0 / 6.0), places=6)

    def test_a_small_one_asks_for_arrows_and_is_at_most_so_much(self) -> None:
        told = self.told(0.0, -0.03)
        self.assertFalse(told.real)
        self.assertEqual(told.sides, ())
        self.assertGreater(told.at_most_mrad, 1.0)
        assert told.more is not None
        self.assertGreater(told.more, 10)

    def test_another_day_counts_against_it(self) -> None:
        same, other = self.told(0.06, 0.0), self.told(0.06, 0.0, day="b")
        self.assertLess(same.p, other.p)

    def test_a_spread_that_nobody_stated_makes_it_less_sure(self) -> None:
        pair = ([group(0.0, 0.0)], [group(0.09, 0.0)])
        known, unknown = (compare(*pair, 1.0, 0.35, unsure).p for unsure in (0.0, 0.4))
        self.assertLess(known, 0.01)
        self.assertGreater(unknown, 4.0 * known)

    def test_none_at_all_cannot_be_told_by_sixty_arrows(self) -> None:
        self.assertIsNone(self.told(0.001, 0.0).more)

    def test_one_direction_is_enough(self) -> None:
        told = self.told(None, -0.15)
        self.assertIsNone(told.right_mrad)
        self.assertEqual(told.sides, ("low",))

    def test_what_is_asked_for_tells_it_four_times_in_five(self) -> None:
        rng, true = np.random.default_rng(2), 0.05
        asked = self.told(0.0, true).more
        assert asked is not None
        arrows = 6 + asked
        told = 0
        for _ in range(300):
            first, second = (rng.normal((0.0, mean), 0.038 / math.sqrt(arrows)) for mean in (0.0, true))
            told += compare([group(*first, arrows)], [group(*second, arrows)], 1.0, 0.35).real
        self.assertAlmostEqual(told / 300.0, 0.8, delta=0.08)

    def test_chance_alone_is_seldom_real(self) -> None:
        rng, alarms = np.random.default_rng(5), 0
        for _ in range(600):
            ups = rng.normal(0.0, 0.038 / math.sqrt(6.0), (2, 2))
            alarms += compare([group(*ups[0])], [group(*ups[1])], 1.0, 0.35).real
        self.assertLessEqual(alarms, 14)

    def test_refusals_say_what_is_missing(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "group of arrows"):
            compare([], [group(0.0, 0.0)], 1.0, 0.3)
        with self.assertRaisesRegex(InvalidValue, "note of both kinds"):
            compare([group(0.0, None)], [group(None, 0.0)], 1.0, 0.3)


class Kinds(unittest.TestCase):
    def test_every_kind_says_where_to_look_on_every_side(self) -> None:
        self.assertEqual(set(PAIRS), set(PairKind))
        for words in PAIRS.values():
            self.assertEqual(set(words.looks), {"left", "right", "high", "low"})

    def test_a_canted_bow_goes_to_the_side_of_its_top_and_down(self) -> None:
        right, up = canted_m(3.0, math.radians(5.0))
        self.assertAlmostEqual(right, 0.2615, places=3)
        self.assertAlmostEqual(up, -0.0114, places=3)


if __name__ == "__main__":
    unittest.main()
