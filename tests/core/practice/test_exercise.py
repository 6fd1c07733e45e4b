"""Exercises as files: strictly read, whole again, every fault at its place."""

from __future__ import annotations

import json
import unittest
from datetime import UTC, datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import Budget, Exercise, Hidden, exercise_of, written
from cross_staff.core.practice.log import PracticeAct, act_entry, begin_entry, check_entry, practice_of
from cross_staff.core.rig.log import BenchEntry

NOW = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)


def exercise(**more: object) -> Exercise:
    """An exercise of two axes; `more` is hidden."""
    hidden = Hidden(**({"first_deg": 0.0, "second_deg": 1.4} | more))  # type: ignore[arg-type]
    return Exercise(
        "two-axes", "Two axes", "level", 1, 7, "Something leans.", "multi_pin_slider", ("first", "second"),
        Budget(0, 6, 60), "First before second.", hidden=hidden, hints=("Look first.",),
    )  # fmt: skip


class Files(unittest.TestCase):
    def test_an_exercise_comes_back_as_it_was(self) -> None:
        for each in (exercise(), exercise(reversed=("second", "windage"), yaw_deg=0.5, wild=0.1)):
            self.assertEqual(exercise_of(written(each)), each)

    def test_what_is_wrong_by_hand_is_said_at_its_place(self) -> None:
        row = json.loads(written(exercise()))
        for change, field in (
            ({"format": "another 2"}, "file"),
            ({"sed": 3}, "sed"),
            ({"seed": 3.5}, "seed"),
            ({"seed": True}, "seed"),
            ({"seed": -1}, "seed"),
            ({"theme": "magic"}, "theme"),
            ({"kind": "laser"}, "kind"),
            ({"goals": ["home", "moon"]}, "goals"),
            ({"goals": []}, "goals"),
            ({"goals": "first"}, "goals"),
            ({"budget": {"arrows": 3, "turns": 2}}, "budget.minutes"),
            ({"budget": 3}, "budget"),
            ({"hidden": {"second_deg": "much"}}, "hidden.second_deg"),
            ({"hidden": {"second_deg": 9}}, "hidden.second_deg"),
            ({"hidden": {"second_deg": float("nan")}}, "hidden.second_deg"),
            ({"hidden": {"reversed": ["peep"]}}, "hidden.reversed"),
            ({"calibrated": 1}, "calibrated"),
            ({"say": " "}, "say"),
            ({"say": "x" * 400}, "say"),
            ({"key": "../up"}, "key"),
        ):
            with self.subTest(change), self.assertRaises(InvalidValue) as refused:
                exercise_of(json.dumps(row | change))
            self.assertEqual(refused.exception.field, field)

    def test_no_json_at_all_and_far_too_much_of_it(self) -> None:
        for text in ("", "[]", "{", "[" * 3000, "x" * 5000):
            with self.subTest(text[:9]), self.assertRaises(InvalidValue):
                exercise_of(text)


class Log(unittest.TestCase):
    def test_what_was_done_comes_back_with_what_it_cost(self) -> None:
        done = (
            PracticeAct(acts.LOOK, {"axis": "second", "method": "to_string"}, {"vial": 1.2}, NOW, 1),
            PracticeAct(acts.TURN, {"axis": "second", "turns": 0.25}, {"drawn": False}, NOW, 2),
            PracticeAct(acts.SHOOT, {"arrows": 3, "distance": 10.0}, {"shots": [[1.0, 2.0]] * 3}, NOW, 3),
            PracticeAct(acts.DAY, {}, {}, NOW, 4),
            PracticeAct(acts.FINISH, {}, {}, NOW, 5),
        )
        told = practice_of([begin_entry(exercise(), "Reed", NOW), *map(act_entry, done)])
        assert told is not None
        self.assertEqual((told.exercise, told.learner, told.acts, told.finished), (exercise(), "Reed", done, True))
        self.assertEqual(told.spent(), {"arrows": 3, "turns": 1, "minutes": 11, "days": 2, "hints": 0})

    def test_a_rig_of_the_shop_has_none(self) -> None:
        self.assertIsNone(practice_of([]))

    def test_entries_that_this_bench_does_not_make_are_refused(self) -> None:
        good = act_entry(PracticeAct(acts.DAY, {}, {}, NOW, 1))
        check_entry(good)
        check_entry(begin_entry(exercise(), "", NOW))
        for entry, field in (
            (BenchEntry(acts.STATION, "exercise", 1, NOW, note="{}"), "file"),
            (BenchEntry(acts.STATION, "act:0", 1, NOW, choice="day", after="{}", note="{}"), "key"),
            (BenchEntry(acts.STATION, "act:x", 1, NOW, choice="day", after="{}", note="{}"), "key"),
            (BenchEntry(acts.STATION, "act:1", 1, NOW, choice="fly", after="{}", note="{}"), "choice"),
            (BenchEntry(acts.STATION, "act:1", 1, NOW, choice="day", after="[]", note="{}"), "after"),
            (BenchEntry(acts.STATION, "act:1", 1, NOW, choice="day", after="{}", note="x"), "note"),
            (BenchEntry(acts.STATION, "other", 1, NOW), "key"),
            (BenchEntry(acts.STATION, "act:1", 1, NOW, removed=True), "removed"),
        ):
            with self.subTest(entry.key, field=field), self.assertRaises(InvalidValue) as refused:
                check_entry(entry)
            self.assertEqual(refused.exception.field, field)


if __name__ == "__main__":
    unittest.main()
