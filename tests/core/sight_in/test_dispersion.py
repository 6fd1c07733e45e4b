import unittest
from dataclasses import replace

from scipy import stats

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import USUAL_SPREAD_MRAD
from cross_staff.core.sight_in.conditions import compared
from cross_staff.core.sight_in.dispersion import pooled_dispersion, squares_within
from cross_staff.core.sight_in.log import End
from tests.ends import GOALS, believed, end, exact_card, range_log, ranged_card

NO_GROUP = replace(GOALS, group_size_m=None)


def pair(order: int, ranged_m: float, apart_m: float, **changes: object) -> End:
    """Two arrows side by side."""
    return end(order, ranged_m, shots=(Shot(0.1, 0.2, False, "a"), Shot(0.1 + apart_m, 0.2, False, "b")), **changes)


class Squares(unittest.TestCase):
    def test_two_arrows_a_known_angle_apart(self) -> None:
        """2 mrad apart: each 1 mrad from their middle, 2 mrad^2 with 2 degrees of freedom."""
        squares, freedom = squares_within(ranged_card(), [pair(1, 50.0, 0.100), pair(2, 20.0, 0.040)])
        self.assertAlmostEqual(squares, 4.0)
        self.assertEqual(freedom, 4.0)

    def test_one_arrow_and_an_end_that_was_not_ranged_tell_nothing(self) -> None:
        alone = replace(pair(1, 50.0, 0.1), shots=pair(1, 50.0, 0.1).shots[:1])
        bad = replace(pair(1, 50.0, 0.1), shots=(*alone.shots, Shot(0.5, 0.5, True, "c")))
        unranged = replace(pair(1, 50.0, 0.1), ranged_m=None)
        self.assertEqual(squares_within(ranged_card(), [alone, bad, unranged]), (0.0, 0.0))


class Pooled(unittest.TestCase):
    def test_a_tight_archer_is_known_as_such(self) -> None:
        spread = pooled_dispersion(ranged_card(goals=NO_GROUP), [pair(1, 50.0, 0.02)])
        self.assertAlmostEqual(spread.mrad, 0.2)  # 0.4 mrad apart: 0.08 mrad^2 by 2 degrees of freedom
        self.assertEqual((spread.freedom, spread.known), (2.0, True))

    def test_arrows_in_one_hole_say_nothing_of_a_spread(self) -> None:
        spread = pooled_dispersion(ranged_card(goals=NO_GROUP), [pair(1, 50.0, 0.0)])
        self.assertEqual((spread.mrad, spread.freedom, spread.known), (USUAL_SPREAD_MRAD, None, False))

    def test_from_sixty_degrees_of_freedom_it_is_as_good_as_known(self) -> None:
        ends = [pair(n, 50.0, 0.1) for n in range(24)]
        self.assertEqual(pooled_dispersion(ranged_card(), ends).freedom, 58.0)
        self.assertIsNone(pooled_dispersion(ranged_card(), [*ends, pair(30, 50.0, 0.1)]).freedom)


class Today(unittest.TestCase):
    def test_against_the_cards_usual_group_while_there_is_nothing_else(self) -> None:
        goals = replace(GOALS, group_size_m=0.33, group_at_m=50.0)  # 2 mrad
        estimate = believed(exact_card(goals=goals), range_log(pair(1, 17.0, 0.0)))
        ratio, chance = compared(estimate, [pair(1, 50.0, 0.3), pair(2, 50.0, 0.3)], 1)
        self.assertAlmostEqual(ratio, (36.0 / 4.0) ** 0.5 / 2.0)  # 6 mrad apart: 18 mrad^2 by 2, twice
        self.assertAlmostEqual(chance, stats.f.sf(ratio**2, 4, 10))

    def test_without_either_nothing_is_said(self) -> None:
        estimate = believed(exact_card(goals=NO_GROUP), range_log(pair(1, 17.0, 0.02)))
        self.assertEqual(compared(estimate, [pair(1, 50.0, 0.3)], 1), (None, None))
