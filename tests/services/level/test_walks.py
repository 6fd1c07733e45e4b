"""A virtual technician levels bows of his own through the services, from empty shops."""

from statistics import median

from cross_staff.demo.level_work import empty_shop_walk
from tests.data import WithDatabase

SEEDS = range(10)


class Walks(WithDatabase):
    def test_ten_bows_are_levelled_and_nothing_is_called_good_that_is_not(self) -> None:
        good = 0
        for seed in SEEDS:
            with self.subTest(seed=seed):
                went = empty_shop_walk(self.database, seed)
                self.assertEqual(went.impossible, ())
                self.assertEqual(went.step, "done")
                self.assertLessEqual(went.largest_first, 1.0)
                for axis, standing in went.standings.items():
                    if standing == "good":
                        good += 1
                        self.assertLessEqual(went.over(axis), 1.0, axis)
                    else:
                        self.assertEqual(standing, "accepted")
        self.assertGreater(good, 1.5 * len(SEEDS))

    def test_few_looks_and_turns_lead_to_what_the_method_can_give(self) -> None:
        """Clean references, calibrated and not; the counts of many are printed by bench/level_walks.py."""
        for calibrated, looks, turns in ((True, 12, 4), (False, 16, 5)):
            told = [empty_shop_walk(self.database, seed, calibrated) for seed in SEEDS]
            self.assertLessEqual(median(walk.readings for walk in told), looks)
            self.assertLessEqual(median(walk.turns for walk in told), turns)
            for walk in told:
                self.assertEqual((walk.impossible, walk.step), ((), "done"))
                for axis, standing in walk.standings.items():
                    if standing == "good":
                        self.assertLessEqual(walk.over(axis), 1.0, axis)
