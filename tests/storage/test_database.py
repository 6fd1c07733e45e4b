import json
import threading
from dataclasses import replace
from pathlib import Path

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError, OperationalError

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig import RigCard
from cross_staff.storage import observations, rigs
from cross_staff.storage.tables import metadata
from tests.data import WithDatabase
from tests.rigs import NOON, entry, full_card


class Opening(WithDatabase):
    def test_pragmas_hold_on_both_engines(self) -> None:
        for way in (self.database.reading, self.database.writing):
            with way() as connection:
                read = {
                    name: connection.execute(text(f"PRAGMA {name}")).scalar()
                    for name in ("journal_mode", "synchronous", "foreign_keys", "busy_timeout")
                }
            self.assertEqual(read, {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1, "busy_timeout": 5000})

    def test_migrations_make_what_the_tables_say_and_may_run_again(self) -> None:
        self.database.migrate()
        with self.database.writing() as connection:
            self.assertEqual(compare_metadata(MigrationContext.configure(connection), metadata), [])

    def test_a_failed_transaction_leaves_nothing(self) -> None:
        with self.assertRaises(ZeroDivisionError), self.database.writing() as connection:
            rigs.add_rig(connection, RigCard("half done"), {}, NOON, "")
            raise ZeroDivisionError
        with self.database.reading() as connection:
            self.assertEqual(rigs.rig_ids(connection), [])

    def test_an_observation_needs_its_rig(self) -> None:
        with self.assertRaises(IntegrityError), self.database.writing() as connection:
            observations.add(connection, 77, entry(1, 17.0, 20.0))

    def test_writers_that_read_first_lose_nothing(self) -> None:
        rig_id = self.add_rig()

        def append() -> None:
            for _ in range(10):
                with self.database.writing() as connection:
                    line = len(observations.log(connection, rig_id)) + 1
                    observations.add(connection, rig_id, entry(line, 17.0, 20.0))

        threads = [threading.Thread(target=append) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        with self.database.reading() as connection:
            lines = [e.line for e in observations.log(connection, rig_id)]
        self.assertEqual(sorted(lines), list(range(1, 41)))


class Records(WithDatabase):
    def test_a_card_comes_back_as_it_went_in(self) -> None:
        rig_id = self.add_rig()
        with self.database.reading() as connection:
            found = rigs.latest(connection, rig_id)
        self.assertEqual(found.card, full_card())
        self.assertEqual((found.number, found.why, found.saved), (2, "measured", NOON))

    def test_nothing_measured_can_be_changed_or_deleted(self) -> None:
        rig_id = self.add_rig()
        with self.database.writing() as connection:
            observations.add(connection, rig_id, entry(1, 17.0, 20.0))
        for statement in (
            "UPDATE observations SET mark_mm = 1",
            "DELETE FROM observations",
            "UPDATE rig_revisions SET card = '{}'",
            "DELETE FROM rig_revisions",
        ):
            with (
                self.subTest(statement),
                self.assertRaisesRegex((IntegrityError, OperationalError), "never change"),
                self.database.writing() as connection,
            ):
                connection.execute(text(statement))

    def test_an_older_base_is_refused(self) -> None:
        rig_id = self.add_rig()
        with self.assertRaises(StaleRevision) as caught, self.database.writing() as connection:
            rigs.add_revision(connection, rig_id, 1, full_card(), NOON, "")
        self.assertEqual((caught.exception.based_on, caught.exception.current), (1, 2))

    def test_an_unknown_rig_is_said(self) -> None:
        with self.database.reading() as connection:
            for ask in (rigs.latest, rigs.units):
                with self.assertRaisesRegex(NotFound, "no rig 42"):
                    ask(connection, 42)

    def test_the_log_keeps_every_entry_as_it_was_made(self) -> None:
        rig_id = self.add_rig()
        made = [
            entry(1, 17.0, 20.0),
            entry(1, 17.0, 20.4),
            entry(2, 38.0, 30.0, up_m=-0.02, arrows=6, left_out=True, key="ab"),
        ]
        with self.database.writing() as connection:
            ids = [observations.add(connection, rig_id, each) for each in made]
        with self.database.reading() as connection:
            kept = observations.log(connection, rig_id)
        self.assertEqual(kept, [replace(each, entry_id=number) for each, number in zip(made, ids)])


class Layouts(WithDatabase):
    def test_a_card_of_the_first_layout_is_read(self) -> None:
        old = json.loads((Path(__file__).parent / "first_layout.json").read_text())
        with self.database.writing() as connection:
            rig_id = rigs.add_rig(connection, RigCard("older"), {}, NOON, "")
            row = {
                "rig_id": rig_id,
                "number": 2,
                "saved_utc": "2026-11-24 12:00:00",
                "why": "",
                "card": json.dumps(old),
            }
            connection.execute(
                text(
                    "INSERT INTO rig_revisions (rig_id, number, saved_utc, why, card) "
                    "VALUES (:rig_id, :number, :saved_utc, :why, :card)"
                ),
                row | {"card": json.dumps(old)},
            )
            card = rigs.latest(connection, rig_id).card
        self.assertEqual((card.bow.words, card.sight.kind), ("compound, 36 in axle to axle", "multi_pin_slider"))
        self.assertEqual(card.sight.name, "three pins, 44 mm housing")
        self.assertEqual(card.tape.width_mm, 9.0)
        self.assertEqual(card.chronograph.kept_mps, (82.0, 82.4))
        self.assertEqual(card.missing(), ())
