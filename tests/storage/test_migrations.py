"""Files of every version there was are brought up, and every row of them arrives."""

from __future__ import annotations

import hashlib
import sqlite3
import unittest
from contextlib import closing
from pathlib import Path
from typing import Any

from cross_staff.core.errors import NotKept
from cross_staff.services import bench
from cross_staff.services.bench import Asked
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database
from tests.data import WithDatabase

OLD = Path(__file__).parent / "old"
VERSIONS = Path("cross_staff/storage/migrations/versions")
# a migration that was ever released is never edited: a change of layout is a new one
WRITTEN = {
    "0001_rigs.py": "2a5aa700aa23f9af",
    "0002_bench.py": "68f86d09631a6e94",
    "0003_level.py": "0d15f98b54b4b7f8",
    "0004_range.py": "b1e0a23078a872d3",
    "0005_tape.py": "2115c196bd980254",
    "0006_standings.py": "3445b5a6710d64cd",
    "0007_events.py": "c201b03af954603d",
    "0008_instruments.py": "938a658ce2101a6e",
    "0009_range.py": "e2aaecf40e5ecaeb",
    "0010_rulers.py": "56f0c5a621d392d9",
    "0011_proof.py": "b7d269c079e382a2",
    "0012_identity.py": "e523729210dc829d",
    "0013_devices.py": "0b3b630eca0607c1",
    "0014_people.py": "cd46aa7d43dd8f2c",
    "0015_practice.py": "30ec194f08bed10c",
    "0016_places.py": "21e6767bf6a519b7",
}


def rows(file: Path) -> dict[str, list[dict[str, Any]]]:
    """Every row of every table, by its columns."""
    with closing(sqlite3.connect(file)) as connection:
        connection.row_factory = sqlite3.Row
        names = [row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        query = "SELECT * FROM {} ORDER BY rowid"
        return {name: [dict(row) for row in connection.execute(query.format(name))] for name in names}


class Migrations(WithDatabase):
    def old(self, name: str) -> Path:
        file = self.file.with_name(f"{name}.sqlite3")
        with closing(sqlite3.connect(file)) as connection:
            connection.executescript((OLD / f"{name}.sql").read_text())
        return file

    def test_every_row_of_every_version_arrives(self) -> None:
        names = sorted(path.stem for path in OLD.glob("*.sql"))
        self.assertEqual(
            names,
            [
                "0001",
                "0001_first",
                "0002",
                "0003",
                "0004",
                "0005",
                "0006",
                "0007",
                "0008",
                "0009",
                "0010",
                "0011",
                "0012",
                "0013",
                "0014",
                "0015",
            ],
        )
        for name in names:
            with self.subTest(name):
                file = self.old(name)
                before = rows(file)
                database = Database(file)
                self.addCleanup(database.close)
                database.migrate()
                after = rows(file)
                for table in set(before) - {"alembic_version"}:
                    self.assertEqual(len(before[table]), len(after[table]), table)
                    for old, new in zip(before[table], after[table]):
                        self.assertEqual(old, {column: new[column] for column in old}, table)
                self.assertEqual([row["key"] for row in after["observations"] if row["key"] is None], [])
                copy = file.parent / "backups" / f"{name}-before-0016.sqlite3"
                self.assertEqual(rows(copy), before)
                self.assertEqual(copy.stat().st_mode & 0o777, 0o600)

    def test_every_rig_of_every_version_opens_and_stands_on_the_bench(self) -> None:
        for path in sorted(OLD.glob("*.sql")):
            with self.subTest(path.stem):
                database = Database(self.old(path.stem))
                self.addCleanup(database.close)
                database.migrate()
                lines = bench.bench(database, Asked()).lines
                self.assertGreater(len(lines), 0)
                for line in lines:
                    self.assertEqual(line.summary.problem, "")  # type: ignore[union-attr]
                    self.assertTrue(open_rig(database, line.rig_id).card.name)

    def test_the_same_layout_is_not_copied(self) -> None:
        self.database.migrate()
        self.assertEqual(list(self.file.parent.rglob("*before*")), [])

    def test_no_migration_was_edited(self) -> None:
        editeds = {path.name: hashlib.sha256(path.read_bytes()).hexdigest()[:16] for path in VERSIONS.glob("0*.py")}
        self.assertEqual(editeds, WRITTEN)

    def test_a_newer_layout_is_refused_in_words(self) -> None:
        with closing(sqlite3.connect(self.file)) as connection, connection:
            connection.execute("UPDATE alembic_version SET version_num = '0999'")
        with self.assertRaisesRegex(NotKept, "newer version of this program .layout 0999"):
            self.database.migrate()

    def test_records_of_a_migrated_file_are_guarded_and_counted(self) -> None:
        database = Database(self.old("0001_first"))
        self.addCleanup(database.close)
        database.migrate()
        with closing(sqlite3.connect(database.file)) as connection:
            with self.assertRaisesRegex(sqlite3.IntegrityError, "never change"):
                connection.execute("DELETE FROM observations")
            before = connection.execute("SELECT version FROM rigs WHERE id = 1").fetchone()[0]
            connection.execute("UPDATE rigs SET archived = 1 WHERE id = 1")
            after = connection.execute("SELECT version FROM rigs WHERE id = 1").fetchone()[0]
        self.assertEqual(after, before + 1)


if __name__ == "__main__":
    unittest.main()
