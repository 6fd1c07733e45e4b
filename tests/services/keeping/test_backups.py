"""Nothing that was acknowledged is lost: by a plain copy, a backup, a restore, a full disk."""

from __future__ import annotations

import os
import shutil
import sqlite3
import threading
import unittest
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from cross_staff.core.errors import InvalidValue, NotKept
from cross_staff.services.keeping.backups import Keeping, backup, state_of, tonight
from cross_staff.services.keeping.keeper import IDLE, Keeper
from cross_staff.services.keeping.nights import kept, name_of
from cross_staff.services.keeping.restore import check, restore
from cross_staff.services.mount.record import mark_joint
from cross_staff.services.rig import open_rig
from cross_staff.services.tape.record import RowEdit, save_rows
from cross_staff.storage import backups
from cross_staff.storage.database import Database
from cross_staff.storage.serving import only_server
from cross_staff.storage.witness_marks import Photo
from tests.carried import jpeg
from tests.data import WithDatabase
from tests.rigs import NOON

NIGHT = datetime(2026, 11, 27, 12, tzinfo=UTC)


class Kept(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.other = self.file.parent.parent / "elsewhere"
        self.other.mkdir()

    def marks(self, count: int, first: int = 0) -> None:
        for n in range(first, first + count):
            save_rows(self.database, self.rig_id, [RowEdit(20.0 + n, 20.0, 0.0, 3)], NOON + timedelta(minutes=n))

    def count(self, file: Path) -> int:
        """How many marks a file has, by itself."""
        with closing(sqlite3.connect(f"file:{file}?immutable=1", uri=True)) as alone:
            return int(alone.execute("SELECT count(*) FROM observations").fetchone()[0])

    def served(self, now: datetime) -> Keeper:
        return Keeper(Keeping.of(self.file, None), False, lambda: now)


class PlainCopy(Kept):
    def test_a_plain_copy_of_the_one_file_has_every_mark_when_nobody_wrote_for_a_while(self) -> None:
        self.marks(25)
        before = self.other / "at-once.sqlite3"
        shutil.copy(self.file, before)
        self.assertLess(self.count(before), 25)  # what made this necessary
        self.served(datetime.now(UTC) + IDLE).look()
        copy = self.other / "later.sqlite3"
        shutil.copy(self.file, copy)
        self.assertEqual(self.count(copy), 25)

    def test_while_somebody_writes_it_waits(self) -> None:
        self.marks(1)
        self.served(datetime.now(UTC)).look()
        self.assertGreater(backups.waits_in_log(self.file), 0)
        with self.database.writing():
            self.served(datetime.now(UTC) + IDLE).look()  # holds nobody up
        self.assertGreater(backups.waits_in_log(self.file), 0)

    def test_the_keeper_looks_by_itself_and_ends(self) -> None:
        looked = threading.Event()
        keeper = self.served(datetime.now(UTC))
        with (
            mock.patch("cross_staff.services.keeping.keeper.EVERY_S", 0.01),
            mock.patch.object(keeper, "look", side_effect=lambda: (looked.set(), 1 / 0)),
            self.assertLogs("cross_staff.services.keeping.keeper", "ERROR"),
        ):
            keeper.start()
            self.assertTrue(looked.wait(30.0))
            keeper.stop()
        self.assertFalse(keeper._thread.is_alive())


class ABackup(Kept):
    def test_it_is_one_file_with_everything_while_others_write(self) -> None:
        self.marks(5)
        mark_joint(self.database, self.rig_id, "rest", "a line", Photo(jpeg(9), 8, 6), NOON)
        target = self.other / "backup.sqlite3"
        with self.database.writing() as connection:
            connection.exec_driver_sql("UPDATE rigs SET archived = 1")
            facts = backup(self.file, target)
        self.assertEqual((facts.rigs, self.count(target)), (1, 5))
        self.assertEqual([path.name for path in self.other.iterdir()], ["backup.sqlite3"])
        self.assertEqual(target.stat().st_mode & 0o777, 0o600)
        with closing(sqlite3.connect(target)) as alone:
            self.assertEqual(alone.execute("PRAGMA journal_mode").fetchone(), ("delete",))
            self.assertEqual(alone.execute("SELECT jpeg FROM photos").fetchone()[0], jpeg(9))
            self.assertEqual(alone.execute("SELECT archived FROM rigs").fetchone(), (0,))
        self.assertFalse((target.parent / "shop.json").exists())

    def test_onto_the_data_itself_by_any_name_it_is_refused(self) -> None:
        self.marks(2)
        link, hard = self.other / "link.sqlite3", self.other / "hard.sqlite3"
        link.symlink_to(self.file)
        os.link(self.file, hard)
        for target in (self.file, link, hard, self.file.with_name(f"{self.file.name}-wal")):
            with (
                self.subTest(target.name),
                self.assertRaisesRegex((NotKept, InvalidValue), "is the data itself|is there already"),
            ):
                backup(self.file, target)
            with self.subTest(target.name), self.assertRaises(NotKept):
                backup(self.file, target, over=True)
        self.assertEqual(len(open_rig(self.database, self.rig_id).log), 2)

    def test_another_file_is_never_written_over_unasked(self) -> None:
        target = self.other / "letter.txt"
        target.write_text("dear shop")
        with self.assertRaisesRegex(InvalidValue, "is there already"):
            backup(self.file, target)
        with self.assertRaisesRegex(NotKept, "is no backup of this program"):
            backup(self.file, target, over=True)
        self.assertEqual(target.read_text(), "dear shop")
        backup(self.file, self.other / "b.sqlite3")
        self.marks(1)
        backup(self.file, self.other / "b.sqlite3", over=True)
        self.assertEqual(self.count(self.other / "b.sqlite3"), 1)

    def test_a_full_disk_leaves_the_older_backup_whole(self) -> None:
        target = self.other / "b.sqlite3"
        backup(self.file, target)
        before = target.read_bytes()
        little = os.statvfs_result((4096, 4096, 100, 1, 1, 0, 0, 0, 0, 255))
        full = sqlite3.OperationalError("database or disk is full")
        full.sqlite_errorcode = sqlite3.SQLITE_FULL
        for where, kind in (("os.statvfs", {"return_value": little}), ("sqlite3.connect", {"side_effect": full})):
            with (
                self.subTest(where),
                mock.patch(f"cross_staff.storage.backups.{where}", **kind),
                self.assertRaisesRegex(NotKept, "the disk is full"),
            ):
                backups.copy(self.file, target)
        self.assertEqual((target.read_bytes(), [path.name for path in self.other.iterdir()]), (before, ["b.sqlite3"]))

    def test_a_folder_that_is_not_there_is_said_and_not_made(self) -> None:
        with self.assertRaisesRegex(NotKept, "is not there"):
            backup(self.file, self.other / "usb" / "b.sqlite3")
        with self.assertRaisesRegex(NotKept, "is a folder"):
            backup(self.file, self.other)
        with self.assertRaisesRegex(NotKept, "there is no data"):
            backup(self.file.with_name("none.sqlite3"), self.other / "b.sqlite3")


class EveryNight(Kept):
    def setUp(self) -> None:
        super().setUp()
        self.keeping = Keeping.of(self.file, None)

    def names(self) -> list[str]:
        return sorted(path.name for path in self.keeping.folder.iterdir())

    def test_once_a_night_and_the_old_ones_go(self) -> None:
        for day in range(40):
            now = NIGHT + timedelta(days=day)
            self.assertIsNotNone(tonight(self.keeping, now))
            self.assertIsNone(tonight(self.keeping, now + timedelta(minutes=1)))
        nights = kept(NIGHT.date() + timedelta(days=day) for day in range(40))
        self.assertEqual(self.names(), sorted(map(name_of, nights)))
        state = state_of(self.keeping)
        self.assertEqual((state.made, state.failing), (NIGHT + timedelta(days=39), False))
        self.assertGreater(state.size, 10_000)

    def test_other_files_in_the_folder_stay(self) -> None:
        self.keeping.folder.mkdir()
        for name in ("letter.txt", "cross-staff-before-0012.sqlite3"):
            (self.keeping.folder / name).write_text("x")
        for day in range(60):
            tonight(self.keeping, NIGHT + timedelta(days=day))
        self.assertLessEqual({"letter.txt", "cross-staff-before-0012.sqlite3"}, set(self.names()))

    def test_another_disk_that_is_not_plugged_in_is_said_and_tried_again(self) -> None:
        keeping = Keeping.of(self.file, self.other / "usb")
        state = tonight(keeping, NIGHT)
        assert state is not None
        self.assertTrue(state.failing)
        self.assertIn("usb is not there", state.reason)
        self.assertIn("plug its disk in", state.remedy)
        self.assertIsNone(tonight(keeping, NIGHT + timedelta(minutes=59)))
        (self.other / "usb").mkdir()
        self.assertFalse(tonight(keeping, NIGHT + timedelta(minutes=61)).failing)  # type: ignore[union-attr]
        self.assertEqual(state_of(keeping).reason, "")

    def test_a_failure_keeps_what_is_known_of_the_last_one(self) -> None:
        tonight(self.keeping, NIGHT)
        with mock.patch("cross_staff.storage.backups.copy", side_effect=NotKept("full", "make room")):
            state = tonight(self.keeping, NIGHT + timedelta(days=1))
        assert state is not None
        self.assertEqual((state.failing, state.made), (True, NIGHT))
        self.assertTrue(state.late(NIGHT + timedelta(days=3)))
        self.assertFalse(state.late(NIGHT + timedelta(days=2)))

    def test_a_disk_that_is_too_full_to_write_it_down_is_told_of_all_the_same(self) -> None:
        tonight(self.keeping, NIGHT)
        full = NotKept("the disk is full", "make room")
        with (
            mock.patch("cross_staff.storage.backups.copy", side_effect=full),
            mock.patch("cross_staff.services.keeping.backups.put_file", side_effect=full),
        ):
            tonight(self.keeping, NIGHT + timedelta(days=1))
        self.assertTrue(state_of(self.keeping).failing)
        tonight(self.keeping, NIGHT + timedelta(days=1, hours=2))
        self.assertFalse(state_of(self.keeping).failing)

    def test_one_that_was_deleted_is_made_again(self) -> None:
        tonight(self.keeping, NIGHT)
        for path in self.keeping.folder.iterdir():
            path.unlink()
        self.assertIsNotNone(tonight(self.keeping, NIGHT + timedelta(hours=1)))

    def test_damaged_data_takes_no_good_backup_away(self) -> None:
        tonight(self.keeping, NIGHT)
        good = self.keeping.folder / self.names()[0]
        before = good.read_bytes()
        self.database.close()
        backups.checkpoint(self.file)
        content = bytearray(self.file.read_bytes())
        content[8192:40_960] = os.urandom(40_960 - 8192)
        self.file.write_bytes(content)
        state = tonight(self.keeping, NIGHT, again=True)
        assert state is not None
        self.assertTrue(state.failing)
        self.assertEqual(good.read_bytes(), before)


class Restoring(Kept):
    def setUp(self) -> None:
        super().setUp()
        self.marks(3)
        self.backup = self.other / "b.sqlite3"
        backup(self.file, self.backup)

    def again(self) -> Database:
        self.database.close()
        database = Database(self.file)
        self.addCleanup(database.close)
        return database

    def test_it_puts_back_what_was_and_keeps_what_is(self) -> None:
        self.marks(2, 10)
        self.database.close()
        done = restore(self.file, self.backup, NIGHT)
        self.assertEqual(done.facts.records, check(self.backup).records)
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 3)
        assert done.kept is not None
        self.assertEqual((done.kept.name, self.count(done.kept)), ("before-restore-2026-11-27-120000.sqlite3", 5))
        self.database.close()
        restore(self.file, done.kept, NIGHT + timedelta(seconds=1))
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 5)

    def test_into_an_empty_place(self) -> None:
        file = self.other / "new" / "cross-staff.sqlite3"
        self.assertIsNone(restore(file, self.backup, NIGHT).kept)
        self.assertEqual(self.count(file), 3)

    def test_while_a_server_works_on_it_nothing_is_done(self) -> None:
        with only_server(self.file.parent), self.assertRaisesRegex(NotKept, "another server works on"):
            restore(self.file, self.backup, NIGHT)

    def test_what_is_no_backup_is_refused_and_what_is_here_stays(self) -> None:
        newer, broken, foreign, none = (
            self.other / f"{name}.sqlite3" for name in ("newer", "broken", "foreign", "none")
        )
        shutil.copy(self.backup, newer)
        with closing(sqlite3.connect(newer)) as connection, connection:
            connection.execute("UPDATE alembic_version SET version_num = '0999'")
        content = bytearray(self.backup.read_bytes())
        content[8192:40_960] = os.urandom(40_960 - 8192)
        broken.write_bytes(content)
        with closing(sqlite3.connect(foreign)) as connection:
            connection.execute("CREATE TABLE recipes (x)")
        (self.other / "text").write_text("no database at all, and long enough to be none" * 50)
        for file, said in (
            (newer, "newer version of this program .layout 0999"),
            (broken, "is damaged|cannot be read"),
            (foreign, "another's database"),
            (none, "is not there"),
            (self.other / "text", "it is no database"),
            (self.file, "is the data itself"),
        ):
            with self.subTest(file.name), self.assertRaisesRegex(NotKept, said):
                restore(self.file, file, NIGHT)
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 3)
        self.assertFalse((self.file.parent / "backups").exists())

    def test_an_older_backup_is_brought_up(self) -> None:
        old = self.other / "old.sqlite3"
        with closing(sqlite3.connect(old)) as connection:
            connection.executescript(Path("tests/storage/old/0009.sql").read_text())
        self.database.close()
        restore(self.file, old, NIGHT)
        self.assertTrue(open_rig(self.again(), 1).card.name)

    def test_damaged_data_is_kept_byte_for_byte(self) -> None:
        self.database.close()
        backups.checkpoint(self.file)
        content = bytearray(self.file.read_bytes())
        content[8192:40_960] = os.urandom(40_960 - 8192)
        self.file.write_bytes(content)
        done = restore(self.file, self.backup, NIGHT)
        assert done.kept is not None
        self.assertEqual(done.kept.read_bytes(), bytes(content))
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 3)

    def test_a_plain_copy_with_its_log_beside_it_can_be_put_back_too(self) -> None:
        self.marks(4, 20)
        for end in ("", "-wal"):
            shutil.copy(f"{self.file}{end}", f"{self.other / 'plain.sqlite3'}{end}")
        self.database.close()
        restore(self.file, self.other / "plain.sqlite3", NIGHT)
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 7)

    def test_a_disk_that_fills_half_way_leaves_what_was(self) -> None:
        self.marks(1, 30)
        self.database.close()
        with (
            mock.patch(
                "cross_staff.storage.backups.put_in_place", side_effect=NotKept("the disk is full", "make room")
            ),
            self.assertRaisesRegex(NotKept, "disk is full"),
        ):
            restore(self.file, self.backup, NIGHT)
        self.assertEqual(len(open_rig(self.again(), self.rig_id).log), 4)
        self.assertEqual([path.name for path in self.file.parent.glob(".*")], [])


if __name__ == "__main__":
    unittest.main()
