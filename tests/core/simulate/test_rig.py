import unittest

import numpy as np

from cross_staff.core.simulate.rig import VirtualRig
from tests.rigs import RIG_A, true_mark


class Virtual(unittest.TestCase):
    def setUp(self) -> None:
        self.rig = VirtualRig(RIG_A, 17.0, 20.0)

    def test_marks_are_those_of_the_hidden_figures(self) -> None:
        self.assertAlmostEqual(self.rig.mark(61.0), true_mark(61.0), places=6)

    def test_groups_scatter_about_where_the_sight_points(self) -> None:
        draw = np.random.default_rng(3)
        ups = [self.rig.shoot(draw, 61.0, self.rig.mark(61.0), 6).up_m for _ in range(400)]
        self.assertAlmostEqual(float(np.mean(ups)), 0.0, delta=0.005)
        wanted = np.hypot(0.061 / np.sqrt(6.0), 1e-4 * (0.82 + 61.0) / 0.82)
        self.assertAlmostEqual(float(np.std(ups)), wanted, delta=0.1 * wanted)

    def test_a_mark_too_near_hits_low(self) -> None:
        group = self.rig.shoot(np.random.default_rng(3), 61.0, self.rig.mark(61.0) - 5.0, 6)
        self.assertAlmostEqual(group.up_m, -0.005 * (0.82 + 61.0) / 0.82, delta=0.08)

    def test_the_chronograph_stands_in_front(self) -> None:
        readings = self.rig.chronograph(np.random.default_rng(3), 500, 1.5, 0.3)
        self.assertAlmostEqual(float(np.mean(readings)), 81.0 * np.exp(-0.00142 * 1.5), delta=0.05)
