from __future__ import annotations

import io
import json
import unittest
import zipfile
from pathlib import Path
from typing import Any
from unittest import mock

import jsonschema_rs

from cross_staff.services.carry import documents
from cross_staff.services.carry.documents import (
    INSTRUMENTS,
    MOST_PHOTO_BYTES,
    RIG,
    SIGHT,
    Unreadable,
    archived,
    read,
    schema,
    written,
)
from tests.carried import PICTURES, SUMS, UID, carried_instrument, whole_rig

DOCS = Path("docs/files")


def zipped(*members: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in members:
            archive.writestr(name, content)
    return out.getvalue()


class Reading(unittest.TestCase):
    def setUp(self) -> None:
        self.content = written(RIG, whole_rig())

    def refused(self, content: bytes) -> str:
        with self.assertRaises(Unreadable) as caught:
            read(content)
        return str(caught.exception)

    def edited(self, change: Any) -> bytes:
        plain = json.loads(self.content)
        change(plain)
        return json.dumps(plain).encode()

    def test_what_is_written_is_read_again(self) -> None:
        document = read(self.content)
        self.assertEqual((document.content, document.edited, dict(document.photos)), (whole_rig(), False, {}))
        self.assertEqual(written(RIG, document.content), self.content)
        self.assertEqual(read(b"\xef\xbb\xbf" + self.content).content, whole_rig())

    def test_photos_travel_in_a_zip_that_is_the_same_for_the_same_rig(self) -> None:
        content = archived(whole_rig(), PICTURES)
        self.assertEqual(content, archived(whole_rig(), PICTURES))
        document = read(content)
        self.assertEqual(dict(document.photos), {each: PICTURES[each] for each in SUMS[:2]})
        self.assertEqual(document.content, whole_rig())

    def test_damage_is_said_with_its_place(self) -> None:
        for content, said in (
            (b"", "line 1, column 1: is no JSON"),
            (self.content[: len(self.content) // 2], "the file is damaged or cut off"),
            (b"\xff\xfe\x00", "byte 1: is not UTF-8"),
            (b"[]", "is no file of a rig"),
            (b'{"format": NaN}', "NaN is no number"),
            (b'{"format": 1, "format": 2}', "“format” stands twice"),
            (b"[" * 100_000, "nested deeper"),
            (archived(whole_rig(), PICTURES)[:900], "zip: is damaged"),
            (b"PK\x03\x04 and nothing more", "zip: is damaged"),
        ):
            with self.subTest(said):
                self.assertIn(said, self.refused(content))

    def test_a_foreign_an_older_and_a_newer_file_are_told_apart(self) -> None:
        self.assertIn("format: is not one that this program writes", self.refused(b'{"format": "recipe"}'))
        self.assertIn("format: is not one", self.refused(b'{"format": ["x"]}'))
        newer = self.edited(lambda plain: plain.update(format_version=9, program_version="7.1"))
        self.assertIn("is 9, written by Cross Staff 7.1: this program reads up to 1", self.refused(newer))
        for version in (0, True, "1", None):
            older = self.edited(lambda plain, version=version: plain.update(format_version=version))
            self.assertIn("format_version: is missing, or none", self.refused(older))

    def test_a_file_edited_by_hand_is_held_to_every_rule_and_says_where(self) -> None:
        for change, said in (
            (
                lambda p: p["rig"]["observations"][1].update(mark_mm="20"),
                "observations 2, mark_mm: must be a number",
            ),
            (lambda p: p["rig"]["observations"][1].update(mark_mm=1e308 * 10), "Infinity is no number"),
            (lambda p: p["rig"]["observations"][1].update(colour="red"), "observations 2, colour: is not known"),
            (lambda p: p["rig"]["observations"][1].pop("mark_mm"), "observations 2, mark_mm: is missing"),
            (lambda p: p["rig"]["observations"][1].update(line=1.5), "observations 2, line"),
            (lambda p: p["rig"]["observations"][1].update(entered_utc="noon"), "observations 2, entered_utc"),
            (lambda p: p["rig"]["observations"][1].update(arrows=5000), "observations 2, arrows: must lie between"),
            (lambda p: p["rig"]["revisions"][2]["card"].update(handed="both"), "revisions 3, handed: choose one"),
            (lambda p: p.update(colour="red"), "colour: is not known"),
            (lambda p: p.pop("sha256"), "sha256: is missing"),
            (lambda p: p.update(rig=[]), "file: must be an object"),
        ):
            with self.subTest(said):
                self.assertIn(said, self.refused(self.edited(change)))

    def test_a_sound_edit_is_taken_and_known_to_be_one(self) -> None:
        document = read(self.edited(lambda plain: plain["rig"]["observations"][1].update(mark_mm=20.9)))
        self.assertTrue(document.edited)
        self.assertEqual(document.content.observations[1].mark_mm, 20.9)

    def test_a_zip_takes_nothing_that_does_not_belong_in_it(self) -> None:
        own = ("rig.json", self.content)
        picture = (f"photos/{SUMS[0]}.jpg", PICTURES[SUMS[0]])
        for members, said in (
            ((own, ("../../etc/cron.d/x", b"x")), "does not belong"),
            ((own, ("photos/../rig.jpg", b"x")), "does not belong"),
            ((own, ("/rig.jpg", b"x")), "does not belong"),
            ((own, ("photos\\x.jpg", b"x")), "does not belong"),
            ((own, ("photos/a/b.jpg", b"x")), "does not belong"),
            ((own, ("run.sh", b"x")), "does not belong"),
            ((picture,), "holds no rig.json"),
            ((own, (f"photos/{SUMS[2]}.jpg", PICTURES[SUMS[2]])), "is no photo of this rig"),
            ((own, (f"photos/{SUMS[0]}.jpg", PICTURES[SUMS[1]])), "its sum is another"),
            ((own, (f"photos/{SUMS[0]}.jpg", b"0" * (MOST_PHOTO_BYTES + 1))), "is larger than 16 MB"),
            ((own, *((f"photos/{n}.jpg", b"") for n in range(2001))), "holds more than 2000 files"),
        ):
            with self.subTest(said):
                self.assertIn(said, self.refused(zipped(*members)))

    def test_a_small_zip_that_unpacks_to_very_much_is_refused_unread(self) -> None:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("rig.json", self.content)
            for number in range(4):
                archive.writestr(f"photos/{number}.jpg", bytes(5_000_000))
        with mock.patch("cross_staff.services.carry.documents.MOST_UNPACKED_BYTES", 16_000_000):
            self.assertIn("unpacks to more than 15 MB", self.refused(out.getvalue()))

    def test_a_sight_and_instruments_travel_too(self) -> None:
        tools = (carried_instrument(UID, numbers=2),)
        self.assertEqual(read(written(INSTRUMENTS, tools)).content, tools)


class Schemas(unittest.TestCase):
    def test_the_documented_ones_are_those_of_the_program_and_hold_what_it_writes(self) -> None:
        for name, kind, content in (
            ("rig", RIG, whole_rig()),
            ("instruments", INSTRUMENTS, (carried_instrument(UID),)),
            ("sight-model", SIGHT, None),
        ):
            with self.subTest(name):
                kept = json.loads((DOCS / f"{name}.schema.json").read_text())
                self.assertEqual(kept, schema(kind), "make schemas")
                validator = jsonschema_rs.validator_for(kept)
                if content is not None:
                    validator.validate(json.loads(written(kind, content)))

    def test_a_number_has_its_unit_in_its_name(self) -> None:
        told = (DOCS.parent / "files.md").read_text()
        for log in documents.schema(RIG)["$defs"].values():
            for name, field in log.get("properties", {}).items():
                if log.get("title", "").endswith("Record") and "number" in json.dumps(field.get("anyOf", field)):
                    plain = name.rsplit("_", 1)[-1] in ("m", "mm", "rad", "mps", "c", "div", "utc", "number")
                    self.assertTrue(plain or f"`{name}`" in told, f"{log['title']}.{name}: which unit?")


if __name__ == "__main__":
    unittest.main()
