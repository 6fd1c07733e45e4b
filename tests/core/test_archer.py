"""A simulated archer of every kind of sight, sighted in by the program's orders alone: ten fixed seeds.

`make bench` has two hundred.
"""

import os
import unittest
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from cross_staff.core.groups import SMALL_PART
from cross_staff.core.sights import KINDS
from cross_staff.core.simulate.archer import HiddenSight, Went, both

SEEDS = range(10)


class Orders(unittest.TestCase):
    went: dict[str, list[Went]]

    @classmethod
    def setUpClass(cls) -> None:
        jobs = [(kind, seed) for kind in KINDS for seed in SEEDS]
        with ProcessPoolExecutor(max(os.cpu_count() or 1, 1)) as pool:
            found = list(pool.map(both, *zip(*jobs)))
        cls.went = {kind: found[n * len(SEEDS) : (n + 1) * len(SEEDS)] for n, kind in enumerate(KINDS)}

    def test_every_kind_is_finished_in_one_season_s_arrows(self) -> None:
        for kind, found in self.went.items():
            self.assertGreaterEqual(sum(w.done for w in found), 9, kind)

    def test_the_true_middle_is_within_a_third_of_the_spread(self) -> None:
        off = np.array([v for found in self.went.values() for w in found for v in w.off])
        self.assertGreaterEqual(np.mean(off <= SMALL_PART), 0.95)
        for kind, found in self.went.items():
            middle = np.mean([np.mean(w.off) <= SMALL_PART for w in found])
            self.assertGreaterEqual(middle, 0.9, kind)

    def test_in_fewer_arrows_than_chasing_with_the_same_stopping_rule(self) -> None:
        for kind, found in self.went.items():
            self.assertEqual([w.arrows for w in found if w.chased_done and w.chased_arrows <= w.arrows], [], kind)
            self.assertLess(np.median([w.moves for w in found]), 0.3 * np.median([w.chased_moves for w in found]))

    def test_chasing_leaves_it_farther_off(self) -> None:
        for kind, found in self.went.items():
            ours, theirs = np.mean([np.mean(w.off) for w in found]), np.mean([np.mean(w.chased_off) for w in found])
            self.assertLess(ours, theirs, kind)


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
