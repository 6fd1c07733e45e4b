"""What an archer's other bows tell of his spread and of his days."""

from __future__ import annotations

import math
import unittest

from cross_staff.core.rig.scatter import (
    DAY_PART,
    DAY_SD_LN,
    OTHER_BOW_SD_LN,
    OtherBow,
    Scatter,
    of_archer,
    usual_scatter,
)
from tests.rigs import full_card

OWN = usual_scatter(full_card())
USUAL = math.log(DAY_PART)


class OfArcher(unittest.TestCase):
    def test_without_other_bows_nothing_is_learned(self) -> None:
        for others in ((), (OtherBow(None, None),), (OtherBow(2.0, None),), (OtherBow(None, (USUAL, DAY_SD_LN)),)):
            told = of_archer(OWN, others)
            self.assertAlmostEqual(told.day_mrad, OWN.day_mrad)
            self.assertAlmostEqual(told.day_sd_ln, DAY_SD_LN)
            self.assertEqual((told.spread_mrad, told.other_bows), (OWN.spread_mrad, False))

    def test_what_one_bow_told_is_where_the_next_one_begins(self) -> None:
        """One bow alone: its posterior is the next one's prior."""
        told = of_archer(OWN, (OtherBow(1.0, (math.log(0.6), 0.3)),))
        self.assertAlmostEqual(told.day_mrad / OWN.spread_mrad, 0.6)
        self.assertAlmostEqual(told.day_sd_ln, 0.3)

    def test_several_bows_add_up_and_what_is_known_of_archers_counts_once(self) -> None:
        """By hand, s0 0.55 and two of 0.4: precision 1/0.4^2 twice less 1/0.55^2 once."""
        told = of_archer(OWN, (OtherBow(1.0, (-0.5, 0.4)), OtherBow(1.0, (-0.9, 0.4))))
        precision = 2.0 / 0.4**2 - 1.0 / 0.55**2
        mean = ((-0.5 - 0.9) / 0.4**2 - USUAL / 0.55**2) / precision
        self.assertAlmostEqual(told.day_sd_ln, precision**-0.5)
        self.assertAlmostEqual(math.log(told.day_mrad / OWN.spread_mrad), mean)

    def test_a_spread_that_nobody_stated_begins_with_that_of_the_others(self) -> None:
        unsaid = Scatter(1.5, 0.525, 0.4)
        told = of_archer(unsaid, (OtherBow(0.8, None), OtherBow(0.9, None), OtherBow(None, None)))
        self.assertAlmostEqual(told.spread_mrad, math.sqrt(0.72))
        self.assertEqual((told.spread_sd_ln, told.other_bows, told.assumed), (OTHER_BOW_SD_LN, True, True))
        self.assertAlmostEqual(told.day_mrad, DAY_PART * told.spread_mrad)
        self.assertEqual(of_archer(OWN, (OtherBow(0.8, None),)).spread_mrad, OWN.spread_mrad)  # his own word holds
