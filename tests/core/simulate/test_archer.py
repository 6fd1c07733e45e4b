"""A simulated archer of every kind of sight, sighted in by the program's orders alone, from fixed seeds.

The suite has one a kind, `make trials` ten, `make bench` two hundred.
"""

import os
import unittest

import numpy as np

from cross_staff.core.estimation.groups import SMALL_PART
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.archer import HiddenSight, SightInOutcome, by_chasing, by_orders

SEEDS = int(os.environ.get("ARCHER_SEEDS", "1"))
CHASERS = max(1, SEEDS // 3)
CHASED = list(KINDS)[:: 1 if SEEDS >= 10 else 3]


class Orders(unittest.TestCase):
    takes_long = True
    orders: dict[str, list[SightInOutcome]]
    chased: dict[str, list[SightInOutcome]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.orders = {kind: [by_orders(kind, seed) for seed in range(SEEDS)] for kind in KINDS}
        cls.chased = {
            kind: [by_chasing(kind, seed, cls.orders[kind][seed].arrows) for seed in range(CHASERS)] for kind in CHASED
        }

    def test_every_kind_is_finished_in_one_season_s_arrows(self) -> None:
        for kind, outcomes in self.orders.items():
            self.assertGreaterEqual(sum(each.done for each in outcomes), 0.9 * SEEDS, kind)

    def test_the_true_middle_is_within_a_third_of_the_spread(self) -> None:
        off = np.array([v for value in self.orders.values() for each in value for v in each.off.values()])
        self.assertGreaterEqual(np.mean(off <= SMALL_PART), 0.95)
        for kind, value in self.orders.items():
            middle = np.mean([np.mean(list(each.off.values())) <= SMALL_PART for each in value])
            self.assertGreaterEqual(middle, 0.9, kind)

    def test_chasing_is_not_settled_with_as_many_arrows_and_ends_farther_off(self) -> None:
        for kind, outcomes in self.chased.items():
            orders = self.orders[kind][:CHASERS]
            self.assertEqual([each.done for each in outcomes], [False] * CHASERS, kind)
            self.assertGreaterEqual(min(c.arrows - o.arrows for c, o in zip(outcomes, orders)), 0)
            ours, theirs = (np.mean([np.mean(list(e.off.values())) for e in each]) for each in (orders, outcomes))
            self.assertLess(ours, theirs, kind)
            self.assertLess(np.median([e.moves for e in orders]), 0.3 * np.median([e.moves for e in outcomes]))


class Hidden(unittest.TestCase):
    def test_the_arrows_go_where_the_hidden_figures_send_them(self) -> None:
        sight = HiddenSight.drawn("fixed_pins", np.random.default_rng(4))
        shots = [s for s in sight.shoot(0, 26.0, 3000, None) if not s.called_bad]
        lever = sight.figures.eye_to_sight_m
        right = 1000 * np.mean([s.right_m for s in shots]) * lever / (lever + 26.0)
        self.assertAlmostEqual(right, sight.right_mm, delta=0.05)
        self.assertAlmostEqual(np.std([s.up_m for s in shots]), sight.spread_mrad * 0.026, delta=0.001)

    def test_a_called_bad_arrow_is_wild_and_said(self) -> None:
        sight = HiddenSight.drawn("fixed_pins", np.random.default_rng(4))
        bad = [s for s in sight.shoot(0, 26.0, 3000, None) if s.called_bad]
        self.assertAlmostEqual(len(bad) / 3000, 0.03, delta=0.015)
        self.assertGreater(np.std([s.right_m for s in bad]), 2.5 * sight.spread_mrad * 0.026)
