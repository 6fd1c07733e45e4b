"""The two ways to a tape on a few simulated bows: the program errs less, and its bands are not a boast."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np

from cross_staff.core.simulate.tape_trial import FARTHEST_M, GROUP, Stage, by_hand, by_program, draw
from cross_staff.core.simulate.tape_trial import Trial as Trial_

BOWS = 12


class Trial(unittest.TestCase):
    hand: list[float]
    program: list[list[Stage]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.hand = [by_hand(draw(seed), 18) for seed in range(BOWS)]
        cls.program = [by_program(draw(seed), 18) for seed in range(BOWS)]

    def test_eighteen_arrows_by_the_program_err_less(self) -> None:
        by_both = [float(np.sqrt(np.mean(np.square(e)))) for e in ([s[-1].error_m for s in self.program], self.hand)]
        self.assertLess(by_both[0], 0.6 * by_both[1])

    def test_more_arrows_are_surer_and_the_bands_hold(self) -> None:
        for stages in self.program:
            widths = [stage.sd_m for stage in stages]
            self.assertEqual([stage.arrows for stage in stages], list(range(GROUP, 19, GROUP)))
            self.assertLess(widths[-1], widths[0])
        held = [stage.held for stages in self.program for stage in stages[1:]]
        self.assertGreater(np.mean(held), 0.85)

    def test_nobody_shoots_farther_than_two_thirds_of_the_way(self) -> None:
        """Home first, then whole distances to 63 m, the farthest of which tells most."""
        with mock.patch.object(Trial_, "shots", autospec=True, side_effect=Trial_.shots) as shots:
            by_program(draw(4), 12)
        distances = [call.args[1] for call in shots.call_args_list]
        self.assertEqual((distances[0], max(distances), len(distances)), (17.0, 63.0, 4))

    def test_the_same_seed_is_the_same_bow(self) -> None:
        self.assertEqual(by_hand(draw(3), 18), by_hand(draw(3), 18))
        self.assertEqual(draw(5).true, draw(5).true)
        self.assertNotEqual(draw(5).true, draw(6).true)
        self.assertGreater(draw(5).mark(FARTHEST_M), 20.0)

    def test_wider_priors_put_the_truth_farther_off(self) -> None:
        near, far = draw(7), draw(7, 1.5)
        apart = [t.true.speed_mps - t.priors.speed_mps.value for t in (near, far)]
        self.assertAlmostEqual(apart[1], 1.5 * apart[0], places=9)
