"""Every exercise can be solved within its budget, by the program's own orders or by the rules of tuning."""

from __future__ import annotations

import json
import unittest
from dataclasses import replace
from datetime import UTC, datetime

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.log import MINUTES
from cross_staff.core.prepare.tuning import STEPS, TEAR_GOOD_M
from cross_staff.core.simulate.practice_bow import PracticeBow
from cross_staff.core.simulate.solver import all_knowing_turns, guessed_turns, set_right
from cross_staff.devices.stand_ins import stand_in
from cross_staff.services.practice import record
from cross_staff.services.practice.catalogue import exercise, exercises
from cross_staff.services.practice.page import practice_rigs
from cross_staff.services.practice.program import program_needs
from cross_staff.services.rig import open_rig
from cross_staff.storage import rigs
from tests.data import WithDatabase
from tests.web.practice.learner import closes_the_tear

NOW = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)


class Budgets(unittest.TestCase):
    def test_the_programs_orders_solve_each_within_its_budget_and_what_it_calls_good_is(self) -> None:
        for each in exercises():
            needs = program_needs(each)
            if needs is None:
                self.assertLessEqual(set(each.goals), {"peep", "paper"})
                continue
            with self.subTest(each.key):
                self.assertTrue(needs.said_good)
                self.assertLessEqual(needs.arrows, each.budget.arrows)
                self.assertLessEqual(needs.turns, each.budget.turns)
                minutes = MINUTES[acts.LOOK] * needs.looks + MINUTES[acts.TURN] * needs.turns
                self.assertLessEqual(minutes + 3 * needs.arrows, each.budget.minutes)
                for axis, off, allowed in needs.left_rad:
                    self.assertLessEqual(abs(off), allowed, axis)

    def test_a_tear_is_closed_one_step_after_the_other(self) -> None:
        each = exercise("paper")
        arrows, turns, left_mm = closes_the_tear(each)
        self.assertLessEqual(left_mm, 2000.0 * TEAR_GOOD_M)
        self.assertLessEqual(arrows, each.budget.arrows)
        self.assertLessEqual(turns, each.budget.turns)
        self.assertIn("nock_down", STEPS)

    def test_guessing_takes_more_turns_than_knowing(self) -> None:
        each = exercise("all-three")
        most = {"first": 0.01, "second": 0.008, "third": 0.02}
        knowing = sum(all_knowing_turns(PracticeBow(replace(each, seed=n)), most) for n in range(12))
        guessing = sum(guessed_turns(PracticeBow(replace(each, seed=n)), tuple(most)) for n in range(12))
        self.assertGreater(guessing, 2 * knowing)

    def test_a_sight_that_is_set_right_needs_only_to_be_shown(self) -> None:
        each = exercise("first-arrows")
        bow = PracticeBow(each)
        self.assertGreater(set_right(bow), 0)
        self.assertEqual(set_right(bow), 0)
        found, shown = program_needs(each), program_needs(each, right=True)
        assert found is not None and shown is not None
        self.assertLess(shown.arrows, found.arrows)


class Kept(WithDatabase):
    def test_what_was_done_is_kept_and_goes_on_where_it_was_left(self) -> None:
        rig_id = record.begin(self.database, exercise("second-axis"), "Reed", {}, NOW)
        look = {"axis": "second", "method": "to_string", "seat": "flat"}
        first = record.do(self.database, rig_id, acts.LOOK, look, NOW)
        told = record.practice(open_rig(self.database, rig_id))
        self.assertEqual(told.acts, (first,))
        again = PracticeBow(told.exercise).do(acts.LOOK, look, 1)
        self.assertEqual(dict(first.saw), again)
        self.assertEqual(practice_rigs(self.database)[0][0].practice, told)

    def test_a_rig_of_the_shop_is_not_practised_on(self) -> None:
        rig_id = self.add_rig()
        with self.assertRaises(NotFound):
            record.do(self.database, rig_id, acts.DAY, {}, NOW)
        with self.assertRaises(NotFound):
            record.practice(open_rig(self.database, rig_id))

    def test_a_stand_in_instrument_reads_this_bow(self) -> None:
        rig_id = record.begin(self.database, exercise("second-axis"), "", {}, NOW)
        before = record.on_instruments(self.database, rig_id)
        self.assertAlmostEqual(before["roll"], 1.3)
        record.do(self.database, rig_id, acts.TURN, {"axis": "second", "turns": 0.5}, NOW)
        self.assertGreater(abs(record.on_instruments(self.database, rig_id)["roll"] - 1.3), 0.1)
        made = stand_in("chronograph", [f"speed={before['speed']}"], "none", 1)
        readings = [line for line in made.lines(20.0) if b'"speed"' in line]
        shown = [json.loads(line)["value"] for line in readings]
        self.assertAlmostEqual(sum(shown) / len(shown), before["speed"], delta=1.0)
        with self.assertRaises(NotFound):
            record.on_instruments(self.database, self.add_rig())

    def test_what_cannot_be_done_is_not_kept(self) -> None:
        rig_id = record.begin(self.database, exercise("second-axis"), "", {}, NOW)
        with self.assertRaises(InvalidValue):
            record.do(self.database, rig_id, acts.TURN, {"axis": "second"}, NOW)
        record.do(self.database, rig_id, acts.FINISH, {}, NOW)
        with self.assertRaises(InvalidValue):
            record.do(self.database, rig_id, acts.DAY, {}, NOW)
        self.assertEqual([act.kind for act in record.practice(open_rig(self.database, rig_id)).acts], [acts.FINISH])

    def test_nothing_is_learned_of_it_and_it_learns_nothing(self) -> None:
        own = self.add_rig()
        name = open_rig(self.database, own).card.archer
        rig_id = record.begin(self.database, exercise("all-three"), name, {}, NOW)
        with self.database.reading() as connection:
            sight = rigs.latest(connection, rig_id).card.sight.name
            self.assertEqual(rigs.versions_with_sight(connection, own, sight, 9), [])
            self.assertEqual(rigs.versions_with_archer(connection, rig_id, name, 9), [])


if __name__ == "__main__":
    unittest.main()
