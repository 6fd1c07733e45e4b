"""Which strip to cut: by what it leaves, and whether the fit can tell it from the next."""

from __future__ import annotations

import unittest

import numpy as np

from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.tape.booklet import StripChoice, sequences
from cross_staff.core.tape.booklet_choice import RIVAL, Leaves, cut
from cross_staff.core.tape.forecast import NextShot


def strips(*ups: float, worst: dict[int, float] | None = None) -> list[Leaves]:
    """Strips 1, 2, ... that shoot so high at the farthest distance [m]."""
    made = []
    for n, up in enumerate(ups, start=1):
        choice = StripChoice(str(n), float(n), 30.0 + n, up, True)
        made.append(Leaves(choice, (worst or {}).get(n, up), up))
    return made


def labels(told: object) -> list[str]:
    return [each.choice.label for each in told]  # type: ignore[attr-defined]


class Cutting(unittest.TestCase):
    def test_a_sure_fit_names_one(self) -> None:
        told = cut(strips(-0.11, -0.01, 0.09), 0.01, 0.25, None)
        self.assertEqual((told.best.choice.label, told.rivals, told.tell), ("2", (), None))

    def test_by_hand_the_chance_that_the_next_is_the_better_one(self) -> None:
        """-1 and +9 cm: the truth lies beyond the middle of the two, 4 cm away, 1.6 sds: 5.5 in 100."""
        self.assertEqual(labels(cut(strips(-0.01, 0.09), 0.025, 0.25, None).rivals), ["2"])
        self.assertEqual(labels(cut(strips(-0.01, 0.09), 0.023, 0.25, None).rivals), [])

    def test_what_it_leaves_on_the_way_counts(self) -> None:
        told = cut(strips(0.01, 0.03, worst={1: 0.08}), 0.001, 0.25, None)
        self.assertEqual(told.best.choice.label, "2")

    def test_strips_that_are_good_enough_either_way_are_said_to_be(self) -> None:
        self.assertTrue(cut(strips(-0.01, 0.03), 0.02, 0.25, None).alike)
        self.assertFalse(cut(strips(-0.01, 0.03), 0.06, 0.25, None).alike)
        self.assertFalse(cut(strips(-0.01, 0.03), 0.02, None, None).alike)

    def test_whether_the_next_group_will_tell(self) -> None:
        six, two = (NextShot(70.0, 0.06, sd) for sd in (0.02, 0.04))
        self.assertTrue(cut(strips(-0.01, 0.09), 0.06, 0.25, six).tells)
        self.assertFalse(cut(strips(-0.01, 0.09), 0.06, 0.25, two).tells)
        self.assertEqual(cut(strips(-0.01, 0.09), 0.06, 0.25, two).tell, two)
        self.assertIsNone(cut(strips(-0.01, 0.09), 0.001, 0.25, two).tell)

    def test_nothing_to_choose_from(self) -> None:
        self.assertIsNone(cut([], 0.02, 0.25, None))
        self.assertEqual(cut(strips(0.01, 0.01), 0.0, 0.25, None).rivals, ())

    def test_a_rival_is_right_as_often_as_is_said(self) -> None:
        """By simulation: a strip that is left out is the better one in fewer than one case in twenty."""
        rng, sd, wrong, cases = np.random.default_rng(3), 0.04, 0, 2000
        for _ in range(cases):
            ups = np.arange(-3, 4) * 0.10 + rng.uniform(-0.05, 0.05)
            told = cut(strips(*map(float, ups)), sd, 0.25, None)
            true = rng.normal(0.0, sd)
            right = str(1 + int(np.argmin(np.abs(ups - true))))
            wrong += right not in labels((told.best, *told.rivals))
        self.assertLess(wrong, 1.3 * RIVAL * cases)


class Edges(unittest.TestCase):
    def test_labels_that_go_on_from_edge_to_edge_are_one_row(self) -> None:
        odd, even = [Strip("1", 1, 31.0, "left"), Strip("5", 5, 35.0, "left")], [Strip("2", 2, 32.0, "right")]
        self.assertEqual([len(row) for row in sequences(Booklet(strips=(*odd, *even)))], [3])

    def test_edges_that_do_not_go_on_are_rows_of_their_own(self) -> None:
        left = [Strip("1", 1, 31.0, "left"), Strip("5", 5, 35.0, "left")]
        right = [Strip("2", 2, 40.0, "right"), Strip("4", 4, 36.0, "right"), Strip("x", 9, 3.0, "third")]
        self.assertEqual([[s.label for s in row] for row in sequences(Booklet(strips=(*left, *right)))],
                         [["1", "5"], ["2", "4"]])  # fmt: skip
