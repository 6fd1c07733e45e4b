"""A rig goes out of one shop and into another through the pages."""

from __future__ import annotations

import csv
import io
import json
import re
import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import mock

from cross_staff.core.carry.records import LOGS
from cross_staff.core.errors import NotKept
from cross_staff.services import bench
from cross_staff.services.carry import incoming
from cross_staff.services.carry.documents import RIG, archived, written
from cross_staff.services.keeping.backups import state_of
from cross_staff.services.level import instruments
from cross_staff.services.rig import open_rig
from tests import carried as made
from tests.rigs import NOON, full_card
from tests.web.client import WithClient


class Carried(WithClient):
    def send(self, content: bytes, name: str = "rig.zip"):  # type: ignore[no-untyped-def]
        return self.client.post("/carry", files={"file": (name, content)})

    def look(self, content: bytes) -> tuple[str, str]:
        """The address under which a sent file is looked at, and the page."""
        answer = self.send(content)
        self.assertEqual(answer.status_code, 303, answer.text)
        return answer.headers["location"], self.client.get(answer.headers["location"]).text

    def test_a_file_is_looked_at_before_it_is_taken_in(self) -> None:
        address, page = self.look(archived(made.whole_rig(), made.PICTURES))
        self.assertIn("Take this rig in.", page)
        self.assertIn("entries of arrows: 3", page)
        self.assertRegex(page, r"revision 2, 2026-11-24 \d\d:05: measured")
        self.assertRegex(page, r"Last written down in the file 2026-11-24 \d\d:30\.")
        self.assertEqual(bench.every(self.database), [])
        taken = self.client.post(address)
        self.assertEqual(taken.headers["location"], "/rigs/1/keep?taken=27")
        self.assertIn("Taken in: 27 records.", self.client.get(taken.headers["location"]).text)
        self.assertEqual(self.client.get("/rigs/1/rig.zip").content, archived(made.whole_rig(), made.PICTURES))
        self.assertEqual(self.client.get("/rigs/1/rig.json").content, written(RIG, made.whole_rig()))
        self.assertEqual(self.client.get(address).status_code, 404)  # it was taken in

    def test_the_same_file_again_is_nothing_to_do(self) -> None:
        content = archived(made.whole_rig(), made.PICTURES)
        self.client.post(self.look(content)[0])
        _, page = self.look(content)
        self.assertIn("Nothing to do: this rig is here, with all of it.", page)
        self.assertNotIn("Take it in", page)

    def test_two_windows_take_a_file_in_once(self) -> None:
        content = written(RIG, made.whole_rig())
        first, second = self.look(content)[0], self.look(content)[0]
        self.client.post(first)
        self.assertEqual(self.client.post(second).headers["location"], "/rigs/1/keep?taken=0")
        self.assertEqual(bench.every(self.database), [1])

    def test_what_is_wrong_is_listed_with_its_place_and_nothing_is_taken(self) -> None:
        rig = made.whole_rig()
        wrong = replace(rig, observations=(replace(rig.observations[0], arrows=500),))
        answer = self.send(written(RIG, wrong), "rig.json")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("observations 1, arrows", answer.text)
        self.assertIn("must lie between 1 and 99 arrows", answer.text)
        for content, said in ((b"", "choose one first"), (b"PK\x03\x04", "is damaged"), (b"{}", "is not one that")):
            self.assertIn(said, self.send(content).text)
        self.assertIn("choose one first", self.client.post("/carry", files={"file": ("", b"")}).text)
        self.assertEqual(bench.every(self.database), [])

    def test_where_both_went_on_it_is_asked(self) -> None:
        rig = made.whole_rig()
        self.client.post(self.look(written(RIG, replace(rig, observations=rig.observations[:1])))[0])
        edited = replace(rig.observations[0], mark_mm=19.0)
        address, page = self.look(written(RIG, replace(rig, observations=(edited,))))
        self.assertIn("The file and what is here differ", page)
        self.assertNotIn("Take it in", page)
        self.assertIn("Only here: marks of the tape: 1", page)
        self.assertRegex(page, r"Last written down here 2026-11-24 \d\d:30, in the file 2026-11-24 \d\d:30")
        refused = self.client.post(address)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("It was not taken in", refused.text)
        self.assertEqual(self.client.post(address, data={"beside": "yes"}).status_code, 303)
        names = [open_rig(self.database, each).card.name for each in bench.every(self.database)]
        self.assertEqual(names, ["Test bow", "Test bow, from a file"])

    def test_an_edit_is_said(self) -> None:
        plain = json.loads(written(RIG, made.whole_rig()))
        plain["rig"]["observations"][1]["mark_mm"] = 21.0
        self.assertIn("edited by hand", self.look(json.dumps(plain).encode())[1])

    def test_a_file_nobody_takes_in_is_let_go_after_a_day(self) -> None:
        address, _ = self.look(written(RIG, made.whole_rig()))
        folder = self.client.app.state.settings.data / incoming.FOLDER  # type: ignore[attr-defined]
        self.assertEqual(len(list(folder.iterdir())), 1)
        incoming.hold(folder.parent, b"another", datetime.now(UTC) + timedelta(days=2))
        self.assertEqual(self.client.get(address).status_code, 404)
        self.assertEqual(self.client.get("/carry/../../shop.json").status_code, 404)

    def test_a_photo_that_is_not_here_is_said(self) -> None:
        self.client.post(self.look(written(RIG, made.whole_rig()))[0])
        for page in ("mount/marks", "mount/knocked", "level"):
            text = self.client.get(f"/rigs/1/{page}").text
            self.assertIn("its photo is not in this shop", text, page)
            self.assertNotIn("/rigs/1/photos/", text)
        self.assertEqual(self.client.get("/rigs/1/photos/1").status_code, 404)
        _, page = self.look(archived(made.whole_rig(), made.PICTURES))
        self.assertIn("Take the photos in that were missing.", page)

    def test_levels_and_sights_go_and_come(self) -> None:
        instruments.add(self.database, made.carried_instrument("0" * 32).log[0].instrument, NOON)
        content = self.client.get("/instruments.json").content
        _, page = self.look(content)
        self.assertIn("Nothing to do: these levels and jigs", page)
        self.assertEqual(self.client.get("/sights/9/sight.json").status_code, 404)
        page = self.client.get("/instruments").text
        self.assertIn("/instruments.json", page)
        self.assertIn("of a day that nobody noted", page)  # as the file had it

    def test_a_record_that_todays_rules_refuse_is_named_before_it_travels(self) -> None:
        rig_id = self.add_rig()
        with mock.patch("cross_staff.services.carry.write.rig_faults", return_value=("observations 1: too far",)):
            page = self.client.get(f"/rigs/{rig_id}/keep").text
        self.assertIn("Another shop would not take this file", page)
        self.assertNotIn("Another shop would not", self.client.get(f"/rigs/{rig_id}/keep").text)


class Tables(WithClient):
    def rows(self, address: str) -> list[list[str]]:
        answer = self.client.get(address)
        self.assertEqual((answer.status_code, answer.headers["content-type"]), (200, "text/csv; charset=utf-8"))
        return list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))

    def test_every_log_of_a_rig(self) -> None:
        self.client.post("/carry", files={"file": ("rig.json", written(RIG, made.whole_rig()))})
        token = next((self.client.app.state.settings.data / incoming.FOLDER).iterdir()).name  # type: ignore[attr-defined]
        self.client.post(f"/carry/{token}")
        for name in LOGS:
            rows = self.rows(f"/rigs/1/log/{name}.csv")
            self.assertEqual(len(rows) - 1, len(made.whole_rig().logs[name]), name)
        marks = self.rows("/rigs/1/log/observations.csv")
        self.assertEqual(
            (marks[0][:5], marks[3][4]), (["place", "line", "revision", "entered_utc", "ranged_m"], "61.0")
        )
        self.assertEqual(self.client.get("/rigs/1/log/rig_drafts.csv").status_code, 404)

    def test_the_bench(self) -> None:
        self.add_rig(full_card(name="=cmd|' /C calc'!A0"))
        gone = self.add_rig(full_card(name="@SUM(A1)"))
        bench.archive(self.database, gone)
        rows = self.rows("/bench.csv")
        self.assertEqual([row[1] for row in rows], ["rig", "'=cmd|' /C calc'!A0", "'@SUM(A1)"])
        self.assertEqual(rows[2][5], "archived")
        self.assertEqual(rows[0][6:], ["Card", "Prepare", "Mount", "Level", "Sight in", "Tape", "Prove"])

    def test_every_table_of_a_page_is_a_file_of_it(self) -> None:
        rig_id = self.add_rig(full_card(archer="-2+3"))
        self.shop.marks(rig_id, 17.0, 38.0, 61.0)
        for page in (f"/rigs/{rig_id}/tape", f"/rigs/{rig_id}/card/revisions", f"/rigs/{rig_id}/tape?all=1"):
            html = self.client.get(page).text
            nav = html[html.index('aria-label="Tables of this page as CSV"') :]
            links = re.findall(r'<a href="(\?[^"]*table=\d+)">([^<]+)</a>', nav)
            self.assertTrue(links, page)
            for link, name in links:
                rows = self.rows(page.split("?")[0] + link.replace("&amp;", "&"))
                self.assertGreater(len(rows), 1, (page, name))
        self.assertEqual(self.client.get(f"/rigs/{rig_id}/tape?table=99").headers["content-type"][:9], "text/html")
        self.assertNotIn("As CSV", self.client.get("/carry").text)

    def test_fields_of_a_table_are_in_its_file(self) -> None:
        rig_id = self.add_rig()
        self.shop.marks(rig_id, 17.0, 38.0)
        html = self.client.get(f"/rigs/{rig_id}/tape").text
        numbers = re.findall(r"[?&]table=(\d+)\">([^<]+)<", html)
        cells = [
            cell for number, _ in numbers for row in self.rows(f"/rigs/{rig_id}/tape?table={number}") for cell in row
        ]
        self.assertIn("38", [cell.strip() for cell in cells])


class About(WithClient):
    def test_it_says_version_folder_size_and_licence(self) -> None:
        page = self.client.get("/about").text
        for said in ("0.1.0", str(self.client.app.state.settings.data), "0 rigs", "MIT", "Back up now"):  # type: ignore[attr-defined]
            self.assertIn(said, page)

    def test_a_backup_by_hand_stands_on_about_and_bench(self) -> None:
        self.add_rig()
        self.assertNotIn("Backed up", self.client.get("/").text)
        self.assertEqual(self.client.post("/about/backup").headers["location"], "/about")
        self.assertIn("Backed up today", self.client.get("/about").text)
        self.assertIn("Backed up today", self.client.get("/").text)
        self.assertTrue(state_of(self.client.app.state.keeping).file.endswith(".sqlite3"))  # type: ignore[attr-defined]

    def test_a_failure_stands_there_too_with_what_to_do(self) -> None:
        self.add_rig()
        self.client.post("/about/backup")
        full = NotKept("the disk is full", "make room, or name another place")
        with mock.patch("cross_staff.storage.backups.copy", side_effect=full):
            self.client.post("/about/backup")
        for page in (self.client.get("/").text, self.client.get("/about").text):
            self.assertIn("The disk is full.", page)
            self.assertIn("Make room, or name another place.", page)
            self.assertIn("The last one is of today", page)

    def test_health_is_for_a_supervisor(self) -> None:
        self.assertEqual(self.client.get("/health").json(), {"status": "ok", "version": "0.1.0"})
        with mock.patch("cross_staff.services.bench.readable", side_effect=NotKept("gone", "look at the disk")):
            answer = self.client.get("/health")
        self.assertEqual((answer.status_code, answer.json()["status"]), (503, "unwell"))


class Demo(WithClient):
    def test_every_page_says_so_and_a_rig_can_be_kept(self) -> None:
        rig_id = self.add_rig()
        self.assertNotIn("demo-label", self.client.get("/").text)
        settings = self.client.app.state.settings  # type: ignore[attr-defined]
        self.client.app.state.settings = settings.model_copy(update={"demo": True})  # type: ignore[attr-defined]
        pages = (
            "/",
            "/sights",
            "/instruments",
            "/about",
            "/carry",
            "/nowhere",
            f"/rigs/{rig_id}/tape",
            f"/rigs/{rig_id}/keep",
        )
        for page in pages:
            text = self.client.get(page).text
            self.assertIn("demo-label", text, page)
            self.assertIn(str(settings.data), text)
        self.assertIn(f'href="/rigs/{rig_id}/rig.zip"', self.client.get(f"/rigs/{rig_id}/tape").text)
        self.assertNotIn("Back up now", self.client.get("/about").text)


if __name__ == "__main__":
    unittest.main()
