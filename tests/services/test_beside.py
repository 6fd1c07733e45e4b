"""What is worked out beside the pages: fairly, for those who look first, by another process, and without it too."""

import multiprocessing
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from unittest import mock

from cross_staff.core.errors import Busy, NotFound
from cross_staff.services import bench
from cross_staff.services.bench import AT_ONCE, Asked
from cross_staff.services.beside import IDLE_S, PLAN_S, Beside, Worker
from cross_staff.services.memory import Memory
from cross_staff.services.plan.page import newest_plan, shop_plan, take_plan
from cross_staff.services.rig import helped_by, open_rig
from cross_staff.services.tape.record import RowEdit, save_rows
from cross_staff.storage.database import Database
from tests.data import WithDatabase
from tests.rigs import NOON, full_card, true_mark

MANY = AT_ONCE + 3


def until(what: object, seconds: float = 120.0) -> bool:
    """Whether something comes to hold."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if what():  # type: ignore[operator]
            return True
        time.sleep(0.05)
    return False


class OldLines(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rigs = [self.add_rig(full_card(archer=f"archer {n}")) for n in range(MANY)]
        bench.bench(self.database, Asked())
        for rig_id in self.rigs:
            self.mark(rig_id)

    def old(self) -> list[int]:
        page = bench.bench(self.database, Asked(), beside=True)
        self.assertEqual(page.waiting, sum(not line.fresh for line in page.lines))
        return sorted(line.rig_id for line in page.lines if not line.fresh)

    def mark(self, rig_id: int, mark_mm: float = 20.0) -> None:
        save_rows(self.database, rig_id, [RowEdit(17.0, mark_mm, 0.0, 6, key="a" * 16)], NOON)

    def test_where_many_have_changed_no_page_waits_and_each_old_line_says_so(self) -> None:
        with mock.patch("cross_staff.services.rig.evaluated", side_effect=AssertionError("worked out")):
            self.assertEqual(self.old(), self.rigs)
        bench.bench(self.database, Asked())
        self.assertEqual(self.old(), [])

    def test_few_are_worked_out_at_once(self) -> None:
        bench.bench(self.database, Asked())
        for rig_id in self.rigs[:AT_ONCE]:
            self.mark(rig_id, 21.0)
        self.assertEqual(self.old(), [])

    def test_each_in_its_turn_however_often_one_changes(self) -> None:
        worker, worked = Worker(self.database), []
        with mock.patch("cross_staff.services.beside.work_out", lambda _database, rig_id: worked.append(rig_id)):
            for _ in range(2 * MANY):  # all of them stay old
                worker.work()
        self.assertEqual(worked, sorted(self.rigs, reverse=True) * 2)

    def test_who_looks_comes_first_and_what_is_done_is_not_done_again(self) -> None:
        worker = Worker(self.database)
        worker.hear(self.rigs[:2])
        worker.work()
        worker.work()
        self.assertEqual(self.old(), self.rigs[2:])
        while worker.work() != IDLE_S:
            pass
        self.assertEqual(self.old(), [])

    def test_one_that_fails_or_a_lock_does_not_end_the_work(self) -> None:
        worker = Worker(self.database)
        for error in (Busy("held", "wait"), KeyError("lost")):
            with mock.patch("cross_staff.services.beside.work_out", side_effect=error):
                if isinstance(error, KeyError):
                    with self.assertLogs("cross_staff.services.beside", "ERROR"):
                        self.assertEqual(worker.work(), IDLE_S)
                else:
                    self.assertEqual(worker.work(), IDLE_S)
        while worker.work() != IDLE_S:
            pass
        self.assertEqual(self.old(), [])

    def test_the_plan_where_somebody_looks_and_not_again_at_once(self) -> None:
        bench.bench(self.database, Asked())
        worker = Worker(self.database)
        worker.work()
        self.assertIsNone(worker.plan)
        worker.hear(None)
        worker.work()
        assert worker.plan is not None
        first, worker.plan = worker.plan, None
        worker.hear(None)
        worker.work()
        self.assertIsNone(worker.plan, f"within {PLAN_S} s")
        take_plan(self.database, *first)
        self.assertEqual(newest_plan(self.database, first[0].quarter), (first[1], True))
        self.mark(self.rigs[0], 21.0)
        self.assertEqual(newest_plan(self.database, first[0].quarter), (first[1], False))


class OtherProcess(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rigs = [self.add_rig(full_card(archer=f"archer {n}")) for n in range(MANY)]
        self.beside = Beside(self.file)
        self.beside.start()
        self.addCleanup(self.beside.stop)
        helped_by(self.database, self.beside.rig)

    def test_rigs_lines_and_plans_come_from_it_and_without_it_from_here(self) -> None:
        here = Database(self.file)
        self.addCleanup(here.close)
        with mock.patch("cross_staff.services.rig.evaluated", side_effect=AssertionError("worked out here")):
            there = open_rig(self.database, self.rigs[0])
        own = open_rig(here, self.rigs[0])
        for one, other in ((there.card, own.card), (there.standings, own.standings), (there.version, own.version)):
            self.assertEqual(one, other)
        self.assertEqual(there.results.get("a", lambda: 7), 7)
        fresh = lambda: not bench.bench(self.database, Asked(), beside=True).waiting  # noqa: E731
        self.assertTrue(until(fresh), "the lines of the bench stay old")
        self.beside.want_plan()
        made: list[object] = []
        for _ in range(3000):  # nobody reads the plan meanwhile: neither side waits for the other for ever
            self.beside.want(self.rigs)
        self.assertTrue(until(lambda: made.extend(self.beside.plans()) or made), "no plan")
        self.mark_and_come()
        self.assertEqual(len(made[0][1].plans), len(shop_plan(here, datetime.now(UTC)).plans))  # type: ignore[index]
        with self.assertRaises(NotFound):
            open_rig(self.database, 999)
        self.assertIsNone(self.beside.rig(999))
        self.beside.stop()
        self.assertFalse(self.beside.works)
        self.assertIsNone(self.beside.rig(self.rigs[1]))
        self.assertEqual(open_rig(self.database, self.rigs[1]).card.name, "Test bow")
        self.beside.want(self.rigs)  # nobody hears it: nothing fails
        self.assertEqual(multiprocessing.active_children(), [])

    def test_an_archers_other_bows_are_worked_out_there_too(self) -> None:
        one, other = (self.add_rig(full_card(name=name, archer="Sela Brandt")) for name in ("one", "other"))
        with mock.patch("cross_staff.services.rig.evaluated", side_effect=AssertionError("worked out here")):
            before = open_rig(self.database, one)
            for day in range(3):
                rows = [RowEdit(d, true_mark(d) + 1.2 * (day - 1) * d / 61.0, arrows=12) for d in (17.0, 38.0, 61.0)]
                save_rows(self.database, other, rows, NOON + timedelta(days=day))
            after = open_rig(self.database, one)
            bench.archive(self.database, other)
            self.assertIs(open_rig(self.database, one), after, "what its pages worked out of it is lost")
        self.assertNotEqual(after.evaluation.scatter, before.evaluation.scatter)
        self.assertEqual(after.told.bows[0].day_told, open_rig(self.database, other).evaluation.scatter.day_told)

    def mark_and_come(self) -> None:
        """The worker goes on after a plan."""
        for rig_id in self.rigs:
            save_rows(self.database, rig_id, [RowEdit(17.0, 20.0, 0.0, 6, key="a" * 16)], NOON)
        fresh = lambda: not bench.bench(self.database, Asked(), beside=True).waiting  # noqa: E731
        self.assertTrue(until(fresh), "the worker stands still")


class Once(unittest.TestCase):
    def test_who_asks_meanwhile_waits_for_the_first(self) -> None:
        memory, made, go = Memory(4), [], threading.Event()

        def make() -> int:
            made.append(1)
            go.wait(30.0)
            return 7

        got: list[int] = []
        askers = [threading.Thread(target=lambda: got.append(memory.get("a", make))) for _ in range(5)]
        for each in askers:
            each.start()
        until(lambda: made)
        go.set()
        for each in askers:
            each.join()
        self.assertEqual((got, len(made)), ([7] * 5, 1))
        self.assertIn("a", memory)

    def test_one_of_each_where_that_is_enough(self) -> None:
        """A rig that is shot with has another version with each arrow: once these pushed all other rigs out."""
        memory = Memory(3)
        for version in range(50):
            for rig in ("still", "shot with"):
                memory.get((rig, version if rig == "shot with" else 0), lambda: 7, rig)
        self.assertEqual(len(memory), 2)
        self.assertIn(("still", 0), memory)
        self.assertIn(("shot with", 49), memory)
        for rig in range(20):
            memory.get((rig, 0), lambda: 0, rig)
        self.assertEqual((len(memory), len(memory._newest) <= 6), (3, True))

    def test_where_it_fails_each_tries_for_himself_and_nothing_is_kept(self) -> None:
        memory = Memory(4)
        for _ in range(2):
            with self.assertRaises(KeyError):
                memory.get("a", lambda: {}["lost"])
        self.assertNotIn("a", memory)
        self.assertEqual(memory.get("a", lambda: 3), 3)


if __name__ == "__main__":
    unittest.main()
