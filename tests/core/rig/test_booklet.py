"""Labels of a booklet, as printed: numbers and letters that count up or down, lists, anything else by its place."""

from __future__ import annotations

import unittest

from cross_staff.core.rig.booklet import Booklet, Strip


def booklet(*strips: tuple[str, float], labels: str = "") -> Booklet:
    return Booklet(
        17.0, 61.0, tuple(Strip(label, order, 30.0 + order) for label, order in strips), labels=tuple(labels.split())
    )


class Labels(unittest.TestCase):
    def test_a_strip_that_was_not_measured_is_called_as_it_is_printed(self) -> None:
        for kept, order, label in (
            (booklet(("4", 4), ("9", 9)), 6.0, "6"),
            (booklet(("14", 4), ("19", 9)), 6.0, "16"),
            (booklet(("14", 4), ("9", 9)), 6.0, "12"),
            (booklet(("A", 1), ("F", 6)), 3.0, "C"),
            (booklet(("f", 1), ("a", 6)), 3.0, "d"),
            (booklet(("T4", 4), ("T9", 9)), 6.0, "T6"),
            (booklet(("A", 1), ("F", 6)), 40.0, "place 40"),
            (booklet(("T4", 4), ("9", 9)), 6.0, "place 6"),
            (booklet(("red", 4), ("blue", 9)), 6.0, "place 6"),
            (booklet(("red", 4), ("blue", 9)), 9.0, "blue"),
            (booklet(("4", 4), ("19", 9)), 6.0, "place 6"),
            (booklet(("2", 2), labels="3 2 7 1"), 3.0, "7"),
            (booklet(("2", 2), labels="3 2 7 1"), 5.0, "place 5"),
            (booklet(), 2.0, "place 2"),
        ):
            with self.subTest(kept.strips, order=order):
                self.assertEqual(kept.label_at(order), label)

    def test_a_label_says_its_place(self) -> None:
        for kept, label, order in (
            (booklet(), "7", 7.0),
            (booklet(), "7,5", 7.5),
            (booklet(), "C", 3.0),
            (booklet(), "T4", None),
            (booklet(), "red", None),
            (booklet(("14", 4), ("9", 9)), "12", 6.0),
            (booklet(("T4", 4), ("T9", 9)), "T6", 6.0),
            (booklet(("T4", 4), ("T9", 9)), "6", 6.0),
            (booklet(("4", 4), ("9", 9)), "Q", None),
            (booklet(("f", 1), ("a", 6)), "d", 3.0),
            (booklet(("red", 4), ("blue", 9)), "blue", 9.0),
            (booklet(labels="3 2 7 1"), "7", 3.0),
            (booklet(labels="3 2 7 1"), "9", None),
        ):
            with self.subTest(label):
                self.assertEqual(kept.order_of(label), order)

    def test_there_and_back(self) -> None:
        for kept in (booklet(("14", 4), ("9", 9)), booklet(("f", 1), ("a", 6)), booklet(labels="3 2 7 1 5 9")):
            for order in (1.0, 2.0, 5.0, 6.0):
                self.assertEqual(kept.order_of(kept.label_at(order)), order)
