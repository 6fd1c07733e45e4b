"""Backup, restore, export and import as they are typed."""

from __future__ import annotations

import json
import unittest
from pathlib import Path

from typer.testing import CliRunner, Result

from cross_staff import __version__
from cross_staff.cli import app
from cross_staff.services import bench
from cross_staff.services.carry.documents import RIG, archived, written
from cross_staff.storage.serving import only_server
from tests.carried import PICTURES, whole_rig
from tests.data import WithDatabase
from tests.shop import Shop


class Files(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.data = self.file.parent
        self.out = self.file.parent.parent

    def typed(self, *words: str | Path, answer: str | None = None, data: Path | None = None) -> Result:
        return CliRunner().invoke(app, [*map(str, words), "--data", str(data or self.data)], input=answer)

    def done(self, *words: str | Path, answer: str | None = None, data: Path | None = None) -> str:
        result = self.typed(*words, answer=answer, data=data)
        self.assertEqual(result.exit_code, 0, result.output)
        return result.output

    def refused(self, *words: str | Path, answer: str | None = None) -> str:
        result = self.typed(*words, answer=answer)
        self.assertEqual(result.exit_code, 1, result.output)
        self.assertNotIn("Traceback", result.output)
        return " ".join(result.output.split())

    def test_the_version(self) -> None:
        self.assertEqual(CliRunner().invoke(app, ["--version"]).output, f"Cross Staff {__version__}\n")

    def test_a_backup_and_back(self) -> None:
        self.shop.rig()
        copy = self.out / "b.sqlite3"
        self.assertIn("1 rigs", self.done("backup", copy))
        self.assertIn("--over", self.refused("backup", copy))
        self.done("backup", copy, "--over")
        self.shop.new("later")
        self.database.close()
        self.assertIn("Nothing was changed", self.refused("restore", copy, answer="n\n"))
        self.assertEqual(len(bench.every(self.database)), 2)
        self.database.close()
        said = self.done("restore", copy, answer="y\n")
        self.assertIn("it is sound", said)
        self.assertIn("before-restore", said)
        self.assertEqual(len(bench.every(self.database)), 1)

    def test_restore_asks_for_the_server_to_be_stopped(self) -> None:
        copy = self.out / "b.sqlite3"
        self.done("backup", copy)
        with only_server(self.data):
            self.assertIn("another server works on", self.refused("restore", copy, "--yes"))

    def test_what_cannot_be_restored_is_said_in_a_line(self) -> None:
        (self.out / "x").write_text("x" * 4000)
        said = self.refused("restore", self.out / "x", "--yes")
        self.assertIn("Cross Staff restored nothing", said)
        self.assertIn("it is no database. Name another file.", said)
        self.assertIn("is the data itself", self.refused("backup", self.file, "--over"))

    def test_a_rig_by_name_and_into_another_shop(self) -> None:
        self.shop.rig()
        file = self.out / "rig.zip"
        self.done("export", "test BOW", file)
        other = self.out / "other"
        said = self.done("import", file, answer="y\n", data=other)
        self.assertIn("is not known here: it is put in", said)
        self.assertIn("revisions of the card: 2", said)
        self.assertIn("Taken in as rig 1: 2 records.", said)
        self.assertIn("is here already", self.done("import", file, data=other))
        self.assertIn("there is no rig nobody", self.refused("export", "nobody", file))
        self.assertIn(".json, or in .zip", self.refused("export", "1", self.out / "rig.txt"))
        self.assertEqual(self.typed("export", "1").exit_code, 2)
        self.assertEqual(self.typed("export", "1", file, "--all", self.out).exit_code, 2)

    def test_a_folder_without_data_is_said_and_not_made(self) -> None:
        nowhere = self.out / "nowhere"
        for words in (("export", "1", self.out / "x.zip"), ("backup", self.out / "x.sqlite3")):
            result = self.typed(*words, data=nowhere)
            self.assertEqual(result.exit_code, 1)
            self.assertIn("there is no data at", result.output)
        self.assertFalse(nowhere.exists())

    def test_where_both_went_on_it_wants_a_word(self) -> None:
        file = self.out / "rig.json"
        file.write_bytes(written(RIG, whole_rig()))
        self.done("import", file, "--yes")
        Shop(self.database, {}).end(1, "more", 26.0)
        edited = json.loads(file.read_text())
        edited["rig"]["proof_lines"][0]["note"] = "edited"
        file.write_text(json.dumps(edited))
        said = self.refused("import", file, "--yes")
        self.assertIn("edited since it was written", said)
        self.assertIn("--beside takes it in as another one", said)
        self.done("import", file, "--yes", "--beside")
        self.assertEqual(len(bench.every(self.database)), 2)

    def test_what_is_wrong_in_a_file_is_listed(self) -> None:
        file = self.out / "rig.json"
        plain = json.loads(written(RIG, whole_rig()))
        plain["rig"]["observations"][0]["arrows"] = 500
        plain["rig"]["range_ends"][1]["pin"] = 8
        file.write_text(json.dumps(plain))
        result = self.typed("import", file, "--yes")
        self.assertEqual(result.exit_code, 1)
        self.assertIn("\n  observations 1, arrows: must lie between 1 and 99 arrows", result.output)
        self.assertIn("\n  range_ends 2, pin: ", result.output)
        self.assertIn("cannot be read: no such file", self.refused("import", self.out / "none.json"))
        self.assertEqual(bench.every(self.database), [])

    def test_everything_into_a_folder(self) -> None:
        (self.out / "rig.zip").write_bytes(archived(whole_rig(), PICTURES))
        self.done("import", self.out / "rig.zip", "--yes")
        said = self.done("export", "--all", self.out / "all")
        self.assertIn("2 files", said)
        self.assertEqual(
            sorted(path.name for path in (self.out / "all").iterdir()), ["instruments.json", "rig-1-test-bow.zip"]
        )
        self.assertEqual((self.out / "all" / "rig-1-test-bow.zip").read_bytes(), archived(whole_rig(), PICTURES))


if __name__ == "__main__":
    unittest.main()
