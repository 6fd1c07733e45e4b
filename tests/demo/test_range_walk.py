"""Archers with habits walked through every kind of sight from an empty shop, by the program's own services."""

import os
import unittest

from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services.practice.range_walk import RangeWalked, walk_of

SEEDS = int(os.environ.get("ARCHER_SEEDS", "1"))


class Walks(unittest.TestCase):
    takes_long = True
    walks: dict[str, list[RangeWalked]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.walks = {kind: [walk_of(kind, seed) for seed in range(SEEDS)] for kind in KINDS}

    def test_every_kind_ends_and_nothing_that_was_done_is_refused(self) -> None:
        for kind, walks in self.walks.items():
            self.assertGreaterEqual(sum(walk.done for walk in walks), 0.9 * SEEDS, kind)
            self.assertEqual([walk.refused for walk in walks if walk.refused], [], kind)

    def test_what_is_called_good_is_good(self) -> None:
        good = [over for walks in self.walks.values() for walk in walks for over in walk.good.values()]
        self.assertGreaterEqual(len(good), 14 * SEEDS)
        self.assertLessEqual(sum(over > 1.0 for over in good), 0.05 * len(good))

    def test_hardly_an_order_makes_it_worse(self) -> None:
        walks = [walk for walks in self.walks.values() for walk in walks]
        self.assertLessEqual(sum(len(walk.worse) for walk in walks), max(1.0, 0.02 * sum(w.orders for w in walks)))

    def test_in_not_too_many_arrows(self) -> None:
        for kind, walks in self.walks.items():
            self.assertLessEqual(min(walk.arrows for walk in walks), 80, kind)
