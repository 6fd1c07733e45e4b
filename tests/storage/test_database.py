import json
import threading
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError, OperationalError

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.mount.station import WitnessMark
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.rig.staleness import Said, TakenUp
from cross_staff.storage import bench_entries, observations, rigs, sight_models, witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.tables import metadata
from cross_staff.storage.witness_marks import Photo
from tests.data import WithDatabase
from tests.rigs import NOON, TEMPLATES, entry, full_card


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
            latest = rigs.latest(connection, rig_id)
        self.assertEqual(latest.card, full_card())
        self.assertEqual((latest.number, latest.why, latest.saved), (2, "measured", NOON + timedelta(minutes=2)))

    def test_nothing_measured_can_be_changed_or_deleted(self) -> None:
        rig_id = self.add_rig()
        with self.database.writing() as connection:
            observations.add(connection, rig_id, entry(1, 17.0, 20.0))
            bench_entries.add(connection, rig_id, BenchEntry("prepare", "d_loop", 1, NOON, choice="loose"))
            photo = witness_marks.add_photo(connection, rig_id, Photo(b"jpeg", 4, 3), NOON)
            witness_marks.add(connection, rig_id, WitnessMark(1, 1, "rest", "line", photo), NOON)
            sight_models.add(connection, SightModel("own"), NOON)
        for statement in (
            "UPDATE observations SET mark_mm = 1",
            "DELETE FROM observations",
            "UPDATE rig_revisions SET card = '{}'",
            "DELETE FROM rig_revisions",
            "UPDATE bench_entries SET choice = 'good'",
            "DELETE FROM bench_entries",
            "UPDATE witness_marks SET place = ''",
            "DELETE FROM photos",
            "DELETE FROM sight_models",
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
            for ask in (rigs.latest, rigs.row, rigs.revisions):
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


class Bench(WithDatabase):
    def test_entries_come_back_as_they_went_in_and_stations_are_kept_apart(self) -> None:
        rig_id = self.add_rig()
        made = [
            BenchEntry("prepare", "paper_tear", 2, NOON, None, "", ((0.01, -0.002),), "grip", "third shot"),
            BenchEntry("prepare", "cam_timing", 2, NOON, 0.0005, removed=True),
            BenchEntry("mount", "play", 2, NOON, choice="done"),
        ]
        with self.database.writing() as connection:
            ids = [bench_entries.add(connection, rig_id, each) for each in made]
            kept = [bench_entries.log(connection, rig_id, station) for station in ("prepare", "mount")]
        self.assertEqual(kept[0], [replace(e, entry_id=i) for e, i in zip(made[:2], ids)])
        self.assertEqual([e.key for e in kept[1]], ["play"])

    def test_sight_models_keep_their_numbers(self) -> None:
        with self.database.writing() as connection:
            model = sight_models.add(connection, TEMPLATES["target_scope"], NOON)
            self.assertEqual(sight_models.find(connection, model).sight, TEMPLATES["target_scope"])
            sight_models.change(connection, model, 1, SightModel("second"), NOON)
            with self.assertRaises(StaleRevision):
                sight_models.change(connection, model, 1, SightModel("late"), NOON)
            sight_models.change(connection, model, 2, SightModel("second"), NOON, removed=True)
            self.assertEqual(sight_models.all_models(connection), [])
            with self.assertRaisesRegex(NotFound, "no sight model 9"):
                sight_models.find(connection, 9)

    def test_what_happened_and_archived_are_kept(self) -> None:
        rig_id = self.add_rig()
        said = Said(("knock",), (("arrow", "again"),), (1,), (TakenUp("level", 2),))
        with self.database.writing() as connection:
            rigs.add_revision(connection, rig_id, 2, full_card(), NOON, "a fall", said)
            rigs.set_archived(connection, rig_id, True)
            self.assertEqual(rigs.latest(connection, rig_id).said, said)
            self.assertTrue(rigs.row(connection, rig_id).archived)
            with self.assertRaises(NotFound):
                rigs.set_archived(connection, 99, True)

    def test_a_photo_belongs_to_its_rig(self) -> None:
        one, other = self.add_rig(), self.add_rig()
        with self.database.writing() as connection:
            photo = witness_marks.add_photo(connection, one, Photo(b"jpeg", 4, 3), NOON)
            self.assertEqual(witness_marks.photo(connection, one, photo), Photo(b"jpeg", 4, 3))
            with self.assertRaises(NotFound):
                witness_marks.photo(connection, other, photo)

    def test_a_file_of_the_first_version_is_brought_up_with_all_that_it_holds(self) -> None:
        file = self.file.with_name("old.sqlite3")
        old = Database(file)
        self.addCleanup(old.close)
        config = Config()
        config.set_main_option("script_location", "cross_staff.storage:migrations")
        with old._writer.connect() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "0001")
        card = (Path(__file__).parent / "first_layout.json").read_text()
        with old.writing() as connection:
            connection.execute(
                text("INSERT INTO rigs (id, created_utc, units) VALUES (1, '2026-11-20 08:00:00.000000', '{}')")
            )
            connection.execute(
                text(
                    "INSERT INTO rig_revisions (rig_id, number, saved_utc, why, card) "
                    "VALUES (1, 1, '2026-11-20 08:00:00.000000', 'booked in', :card)"
                ),
                {"card": card},
            )
        old.migrate()
        with old.reading() as connection:
            self.assertEqual(rigs.latest(connection, 1).card.bow.words, "compound, 36 in axle to axle")
            self.assertFalse(rigs.row(connection, 1).archived)
        with self.assertRaisesRegex(IntegrityError, "never change"), old.writing() as connection:
            connection.execute(text("DELETE FROM rig_revisions"))


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
