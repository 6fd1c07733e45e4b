import random
import sqlite3
from contextlib import closing
from dataclasses import replace
from datetime import date
from functools import partial

from sqlalchemy import event

from cross_staff.core.level.log import LevelReading
from cross_staff.core.stations import STATES, summary
from cross_staff.services import bench
from cross_staff.services.bench import PAGE, Asked
from cross_staff.services.card import save as card
from cross_staff.services.elsewhere import Told
from cross_staff.services.level import record as level
from cross_staff.services.level.screw_history import angle_per_turn_priors
from cross_staff.services.memory import Memory
from cross_staff.services.records import records
from cross_staff.services.rig import evaluated, open_rig
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from cross_staff.storage import rigs, standings
from tests.core.level.test_station import levelled_card
from tests.data import WithDatabase
from tests.rigs import NOON, full_card


class Bench(WithDatabase):
    def names(self, asked: Asked = Asked()) -> list[str]:
        return [line.summary.name for line in bench.bench(self.database, asked).lines if line.summary]

    def test_rigs_stand_by_due_date(self) -> None:
        for name, due in (("later", date(2027, 1, 5)), ("never", None), ("soon", date(2026, 12, 1))):
            self.add_rig(full_card(name=name, due=due))
        self.assertEqual(self.names(), ["soon", "later", "never"])
        self.assertEqual(self.names(Asked(sort="name")), ["later", "never", "soon"])

    def test_filters_are_by_archer_state_and_archived(self) -> None:
        for name, archer in (("one", "Maren Oake"), ("two", "Ivo Tarn"), ("three", "")):
            self.add_rig(full_card(name=name, archer=archer))
        fresh = bench.add(self.database, "four", "Ivo Tarn", {}, NOON)
        bench.archive(self.database, 1)
        self.assertEqual(self.names(Asked(archer="Ivo Tarn")), ["four", "two"])
        self.assertEqual(self.names(Asked(sort="archer")), ["four", "two", "three"])
        self.assertEqual(self.names(Asked(archived=True)), ["one"])
        self.assertEqual(self.names(Asked(state="stale")), [])
        shown = bench.bench(self.database, Asked(), gone=1)
        self.assertEqual((shown.on_bench, shown.archived, shown.archers), (3, 1, ("Ivo Tarn",)))
        self.assertEqual(shown.gone.summary.name, "one")  # type: ignore[union-attr]
        due = STATES.index("due")
        self.assertTrue(all(line.summary.urgency == due for line in shown.lines if line.rig_id != fresh))  # type: ignore[union-attr]

    def test_a_page_holds_fifty_and_costs_as_many_statements_as_one_rig(self) -> None:
        self.add_rig()
        bench.bench(self.database, Asked())
        one = self.statements(lambda: bench.bench(self.database, Asked()))
        for number in range(60):
            bench.add(self.database, f"bow {number:02d}", "", {}, NOON)
        while bench.bring_up(self.database):
            pass
        self.assertEqual(self.statements(lambda: bench.bench(self.database, Asked())), one)
        first, second = (bench.bench(self.database, Asked(sort="name", page=page)) for page in (1, 2))
        self.assertEqual((len(first.lines), len(second.lines), first.pages), (PAGE, 11, 2))
        self.assertLess(one, 12)

    def statements(self, act) -> int:  # type: ignore[no-untyped-def]
        count = 0

        def note(*_args: object) -> None:
            nonlocal count
            count += 1

        for engine in (self.database._reader, self.database._writer):
            event.listen(engine, "before_cursor_execute", note)
        act()
        for engine in (self.database._reader, self.database._writer):
            event.remove(engine, "before_cursor_execute", note)
        return count

    def test_opening_a_rig_asks_as_much_among_many_as_alone(self) -> None:
        first = self.add_rig()
        open_rig(self.database, first)
        alone = self.statements(lambda: open_rig(self.database, first))
        for _ in range(20):
            self.add_rig()
        open_rig(self.database, first)  # once, for what the archer's other bows tell
        self.assertEqual(self.statements(lambda: open_rig(self.database, first)), alone)

    def test_what_is_asked_for_every_page_is_found_by_an_index(self) -> None:
        plans = {
            "SELECT DISTINCT rig_id FROM rig_revisions WHERE json_extract(card, '$.sight.name') = 'x'"
            " ORDER BY rig_id DESC LIMIT 21": "ix_rig_revisions_sight",
            "SELECT rig_id FROM rig_standings WHERE fresh = 0 ORDER BY rig_id DESC LIMIT 51": "ix_rig_standings_old",
            "SELECT summary FROM rig_standings WHERE archived = 0 ORDER BY due, name LIMIT 50": "archived_due_name",
            "SELECT summary FROM rig_standings WHERE archived = 0 AND urgency = 1 ORDER BY due, name": "urgency_due",
        }
        with self.database.reading() as connection:
            for query, index in plans.items():
                plan = str(connection.exec_driver_sql(f"EXPLAIN QUERY PLAN {query}").all())
                self.assertIn(index, plan)
                self.assertNotIn("TEMP B-TREE", plan, query)

    def test_a_new_program_works_out_every_line_anew(self) -> None:
        rig_id = self.add_rig()
        bench.bench(self.database, Asked())
        with closing(sqlite3.connect(self.file)) as other, other:
            other.execute("UPDATE rig_standings SET program = 0, summary = NULL")
        self.assertIsNone(bench.bench(self.database, Asked()).lines[0].summary)
        bench.begin(self.database)
        self.assertEqual(bench.bench(self.database, Asked()).lines[0].summary.name, "Test bow")  # type: ignore[union-attr]
        with self.database.reading() as connection:
            self.assertEqual(standings.outdated(connection, 5), ([], 0))
            self.assertEqual(rigs.row(connection, rig_id).version, 3)

    def test_a_line_that_moved_on_meanwhile_is_not_called_fresh(self) -> None:
        rig_id = self.add_rig()
        rig = open_rig(self.database, rig_id)
        tape.save_rows(self.database, rig_id, [RowEdit(17.0, 20.0, key="a" * 16)], NOON)
        with self.database.writing() as connection:
            standings.keep(connection, rig_id, rig.version, summary(rig.state))
            self.assertEqual(standings.outdated(connection, 5), ([rig_id], 1))


class NeverStale(WithDatabase):
    def test_what_is_kept_is_what_would_be_worked_out_now(self) -> None:
        """Many random changes, by services and past them; after each, every rig as kept against as computed."""
        dice, made = random.Random(11), [self.add_rig(replace(levelled_card(), name=f"bow {n}")) for n in range(3)]
        for step in range(60):
            self.change(dice, dice.choice(made), step)
            bench.bench(self.database, Asked())
            for rig_id in made:
                kept = open_rig(self.database, rig_id)
                with self.database.reading() as connection:
                    line = standings.line(connection, rig_id)
                    gains = angle_per_turn_priors(connection, rig_id, rigs.latest(connection, rig_id).card, Memory(0))
                    fresh = evaluated(records(connection, rig_id, Told(tuple(sorted(gains.items())))))
                self.assertEqual(repr(kept.state), repr(fresh.state), f"step {step}, rig {rig_id}")
                self.assertEqual(
                    (kept.history, kept.units, kept.archived), (fresh.history, fresh.units, fresh.archived)
                )
                self.assertEqual(line.summary, summary(fresh.state), f"step {step}, rig {rig_id}")  # type: ignore[union-attr]
                self.assertEqual(line.archived, fresh.archived)  # type: ignore[union-attr]

    def change(self, dice: random.Random, rig_id: int, step: int) -> None:
        database = self.database
        what = dice.randrange(6)
        if what == 0:
            edit = RowEdit(17.0 + 3.0 * dice.randrange(20), dice.uniform(20.0, 60.0), key=f"{step:016x}")
            tape.save_rows(database, rig_id, [edit], NOON)
        elif what == 1:
            now = open_rig(database, rig_id)
            changed = replace(now.card, eye_to_sight_m=dice.uniform(0.75, 0.85), archer=f"archer {step}")
            card.save(database, rig_id, now.revision.number, changed, {}, NOON)
        elif what == 2:
            bench.archive(database, rig_id, dice.random() < 0.5)
        elif what == 3:
            reading = LevelReading("first", "rail_vial", 0.0, dice.uniform(-2.0, 2.0), 0.0, 0, NOON)
            level.read(database, rig_id, reading)
        elif what == 4:
            turned = open_rig(database, rig_id).level_log
            turns = dice.uniform(-0.5, 0.5) if turned else None
            level.read(
                database, rig_id, LevelReading("first", "rail_vial", 0.0, dice.uniform(-2.0, 2.0), 0.0, 0, NOON, turns)
            )
        else:  # another program writes into the same file
            with closing(sqlite3.connect(self.file)) as other, other:
                other.execute(
                    "INSERT INTO bench_entries"
                    " (rig_id, station, key, revision, entered_utc, choice, points, after, note, removed)"
                    " VALUES (?, 'prepare', 'rest_up', 1, '2026-11-24 12:00:00', 'good', '[]', '', '', 0)",
                    (rig_id,),
                )


class Remembering(WithDatabase):
    def test_it_is_bounded_and_makes_once(self) -> None:
        memory, made = Memory(2), []
        for key in (1, 2, 1, 3, 1, 2):
            self.assertEqual(memory.get(key, partial(self.tenfold, made, key)), 10 * key)
        self.assertEqual((made, len(memory)), ([1, 2, 3, 2], 2))

    def tenfold(self, made: list[int], key: int) -> int:
        made.append(key)
        return 10 * key

    def test_an_error_is_not_kept(self) -> None:
        memory = Memory(2)
        with self.assertRaises(ZeroDivisionError):
            memory.get("x", lambda: 1 // 0)
        self.assertEqual(memory.get("x", lambda: 5), 5)
