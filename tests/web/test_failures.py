"""What is shown when something fails, and what goes on beside it."""

from __future__ import annotations

import logging
import sqlite3
import threading
import unittest
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterator
from contextlib import closing, contextmanager
from unittest import mock

from starlette.testclient import TestClient

from cross_staff.core.errors import NotKept
from cross_staff.core.level.log import LevelReading
from cross_staff.services import bench
from cross_staff.services.rig import open_rig
from cross_staff.storage import level_readings
from tests.browser import LiveServer
from tests.rigs import NOON
from tests.web.client import HOST, WithClient, fields

SHAFT = {"shaft_length_m": 0.72, "shaft_g_per_m": 16.8, "components": []}


class Quiet(WithClient):
    """Errors that nobody foresaw are answered, not raised into the test; their log is looked at."""

    def setUp(self) -> None:
        super().setUp()
        self.client = TestClient(self.client.app, base_url=HOST, follow_redirects=False, raise_server_exceptions=False)


class Unforeseen(Quiet):
    def test_a_page_of_ours_says_what_was_kept_and_the_log_says_why(self) -> None:
        rig_id = self.add_rig()
        with (
            mock.patch("cross_staff.web.bench.routes.bench.add", side_effect=KeyError("lost")),
            self.assertLogs("cross_staff") as log,
        ):
            answer = self.client.post("/rigs", data={"name": "Grey bow", "archer": "Maren Oake"})
        self.assertEqual(answer.status_code, 500)
        self.assertIn("This could not be done.", answer.text)
        self.assertIn("Content-Security-Policy".lower(), answer.headers)
        self.assertEqual(fields(answer.text), {"name": "Grey bow", "archer": "Maren Oake"})
        self.assertIn('action="/rigs"', answer.text)
        self.assertIn("KeyError", log.output[0])
        self.assertRegex(log.output[0], r"\([0-9a-f]{6}\)")
        self.assertEqual(self.client.get(f"/rigs/{rig_id}/card").status_code, 200)

    def test_a_fragment_and_a_calculator_are_told_in_their_own_way(self) -> None:
        rig_id = self.add_rig()
        form = self.form(f"/rigs/{rig_id}/card")
        with mock.patch("cross_staff.web.card.routes.evaluated", side_effect=KeyError), self.assertLogs("cross_staff"):
            answer = self.client.post(f"/rigs/{rig_id}/card/reckoning", data=form, headers={"HX-Request": "true"})
        self.assertEqual((answer.status_code, answer.text.count("<html")), (500, 0))
        with (
            mock.patch("cross_staff.web.api.arrow.arrow.balance", side_effect=KeyError),
            self.assertLogs("cross_staff"),
        ):
            answer = self.client.post("/api/v1/arrow/build", json=SHAFT)
        self.assertEqual((answer.status_code, answer.headers["content-type"]), (500, "application/problem+json"))

    def test_a_disk_that_is_full_or_gone_is_said_and_the_text_kept(self) -> None:
        rig_id = self.add_rig()
        form = self.form(f"/rigs/{rig_id}/card") | {"archer": "Jory Penhale"}
        full = NotKept("the disk is full", "make room on it, then try again")
        with mock.patch("cross_staff.services.card.save.rigs.add_revision", side_effect=full):
            answer = self.client.post(f"/rigs/{rig_id}/card", data=form)
        self.assertEqual(answer.status_code, 503)
        self.assertIn("The disk is full.", answer.text)
        self.assertIn("make room on it", answer.text)
        self.assertEqual(fields(answer.text)["archer"], "Jory Penhale")

    def test_a_full_disk_is_told_from_what_the_database_says(self) -> None:
        with self.assertRaisesRegex(NotKept, "the disk is full"), self.database.writing() as connection:
            connection.exec_driver_sql("PRAGMA max_page_count = 1")
            connection.exec_driver_sql("CREATE TABLE much AS SELECT zeroblob(900000) AS it")


class OneRigInTrouble(Quiet):
    """A rig whose records cannot be worked out, as an older version let them in."""

    def setUp(self) -> None:
        super().setUp()
        self.sound = self.add_rig()
        self.rig_id = self.add_rig()
        readings = [LevelReading("first", "rail_vial", 0.0, v, 0.0, 2, NOON, t) for v, t in ((1.0, None), (0.5, 1e160))]
        with self.database.writing() as connection:
            for reading in readings * 2:
                level_readings.add(connection, self.rig_id, reading)
            level_readings.add(connection, self.rig_id, LevelReading("first", "rail_vial", 0.0, 1e160, -1e160, 2, NOON))
        logging.getLogger("cross_staff").setLevel(logging.CRITICAL)
        self.addCleanup(logging.getLogger("cross_staff").setLevel, logging.NOTSET)

    def test_the_bench_and_every_other_rig_work(self) -> None:
        page = self.client.get("/")
        self.assertEqual(page.status_code, 200)
        self.assertIn("cannot be worked out", page.text)
        self.assertIn(f'href="/rigs/{self.rig_id}/trouble"', page.text)
        self.assertEqual(self.client.get(f"/rigs/{self.sound}/level").status_code, 200)

    def test_its_pages_say_why_and_undo_is_at_hand(self) -> None:
        for path in ("card", "level", "tape", "sight_in", "trouble"):
            page = self.client.get(f"/rigs/{self.rig_id}/{path}")
            self.assertEqual(page.status_code, 500)
            self.assertIn("Take back the entry that cannot be right.", page.text)
        while page.status_code == 500:
            newest = fields(page.text[page.text.index("a reading of the first axis") :])
            answer = self.client.post(f"/rigs/{self.rig_id}/trouble", data=newest)
            self.assertEqual(answer.status_code, 303)
            page = self.client.get(f"/rigs/{self.rig_id}/trouble")
        self.assertEqual(page.headers["location"], f"/rigs/{self.rig_id}/card")
        self.assertEqual(self.client.get(f"/rigs/{self.rig_id}/level").status_code, 200)
        self.assertNotIn("cannot be worked out", self.client.get("/").text)

    def test_every_kind_of_record_can_be_taken_back_there(self) -> None:
        page = self.client.get(f"/rigs/{self.rig_id}/trouble").text
        self.assertIn("the card of revision 2, back to revision 1", page)
        data = {"kind": "card", "key": "1"}
        self.assertEqual(self.client.post(f"/rigs/{self.rig_id}/trouble", data=data).status_code, 303)
        for kind, key in (("card", "77"), ("mark", "5"), ("line", "prepare:x"), ("end", "x"), ("move", "x"), ("", "")):
            answer = self.client.post(f"/rigs/{self.rig_id}/trouble", data={"kind": kind, "key": key})
            self.assertEqual(answer.status_code, 404, kind)

    def test_what_older_versions_let_in_is_refused_now(self) -> None:
        from cross_staff.core.prepare.station import OVERRIDE
        from cross_staff.core.rig.log import BenchEntry
        from cross_staff.services.prepare import record as prepare

        reason = BenchEntry("prepare", OVERRIDE, 0, NOON, note="checked at the shop")
        prepare.override_gate(self.database, self.sound, reason)
        form = {"axis": "first", "method": "rail_vial", "pitch": "0", "vial": "0", "reference": "0"}
        self.client.post(f"/rigs/{self.sound}/level/read", data=form)
        for turned in ("1" * 160, "5000/1", "1/0", "9 9/1", "1e3", "\u00b2", " " * 20_000 + "1", "1" * 5000 + "/2"):
            with self.subTest(turned[:12]):
                answer = self.client.post(f"/rigs/{self.sound}/level/read", data=form | {"turned": turned})
                self.assertIn(answer.status_code, (422, 303))
                self.assertLessEqual(
                    max(abs(r.turns or 0.0) for r in open_rig(self.database, self.sound).level_log), 10.0
                )


class Held(unittest.TestCase):
    """Another program holds the data: only what must be written waits."""

    def setUp(self) -> None:
        self.server = LiveServer(fill_with=None, busy_timeout_ms=1500)
        self.addCleanup(self.server.stop)
        from cross_staff.storage.database import Database

        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        self.rig_id = bench.add(database, "Grey bow", "", {}, NOON)

    @contextmanager
    def lock(self) -> Iterator[None]:
        with closing(sqlite3.connect(self.server.settings.database_file, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            yield
            other.execute("ROLLBACK")

    def ask(self, path: str, data: dict[str, str] | None = None) -> tuple[int, str]:
        body = urllib.parse.urlencode(data).encode() if data is not None else None
        try:
            with urllib.request.urlopen(self.server.address + path, body, timeout=60) as answer:
                return answer.status, answer.read().decode()
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode()

    def test_pages_and_styles_are_served_while_saves_wait_and_are_refused(self) -> None:
        answers: list[tuple[int, str]] = []

        def save() -> None:
            answers.append(self.ask(f"/rigs/{self.rig_id}/card", {"name": "Grey bow", "archer": "Jory Penhale"}))

        with self.lock():
            saves = [threading.Thread(target=save) for _ in range(3)]
            for each in saves:
                each.start()
            for path in ("/static/css/shared/app.css", "/", f"/rigs/{self.rig_id}/card", "/sights"):
                self.assertEqual(self.ask(path)[0], 200)
            self.assertTrue(all(each.is_alive() for each in saves), "a save did not wait")
            for each in saves:
                each.join()
        for status, text in answers:
            self.assertEqual(status, 503)
            self.assertIn("Another program holds the data", text)
            self.assertEqual(fields(text)["archer"], "Jory Penhale")


class Garbled(WithClient):
    """Requests that no page sends."""

    def test_numbers_that_no_record_has(self) -> None:
        rig_id = self.add_rig()
        huge = str(2**63)
        for path in (
            f"/rigs/{huge}/card",
            f"/sights/{huge}",
            f"/rigs/{rig_id}/photos/{huge}",
            f"/rigs/{'9' * 400}/tape",
        ):
            self.assertEqual(self.client.get(path).status_code, 404, path[:40])
        for path in (f"/rigs/{huge}/copy", f"/rigs/{rig_id}/tape/undo/{huge}", f"/rigs/{rig_id}/level/undo/{huge}"):
            self.assertEqual(self.client.post(path).status_code, 404, path)

    def test_hosts_origins_and_addresses_that_are_none(self) -> None:
        for host in ("[", "127.0.0.1:x", "a@[", "[::1"):
            self.assertEqual(self.client.get("/", headers={"Host": host}).status_code, 403, host)
        for origin in ("http://[", "[", "://", "http://"):
            self.assertEqual(self.client.post("/rigs", headers={"Origin": origin}).status_code, 403, origin)
        for to in ("//[", "/\\x", "//x", "http://["):
            self.assertEqual(self.client.get("/shop", params={"to": to}).status_code, 200)
            self.assertEqual(self.client.get("/phone", params={"to": to}).status_code, 200)
        self.assertEqual(self.client.get("/phone.svg?address=//[").status_code, 422)
        self.assertEqual(self.client.get("/phone.svg?address=http://[").status_code, 422)

    def test_the_door_of_a_machine_that_listens_to_itself(self) -> None:
        answer = self.client.post("/shop", data={"passphrase": "slate and brass", "to": "/sights"})
        self.assertEqual((answer.status_code, answer.headers["location"]), (303, "/sights"))

    def test_other_loopback_addresses_are_this_machine_too(self) -> None:
        self.assertEqual(self.client.get("/", headers={"Host": "127.0.0.2:8000"}).status_code, 200)
        self.assertEqual(self.client.get("/", headers={"Host": "[::1]:8000"}).status_code, 200)

    def test_fields_far_too_long(self) -> None:
        rig_id, digits = self.add_rig(), "9" * 5000
        here = f"/rigs/{rig_id}"
        posts = {
            f"{here}/sight_in/own-move": {"drive": "x", "amount": "1", "moved_pin": digits},
            f"{here}/level/read": {"axis": "first", "photo": digits, "turned": digits, "vial": digits},
            f"{here}/sight_in/end": {"key": "a", "session": "99999", "distance": "17", "shots": "1 2"},
            f"{here}/sight_in/import": {"csv": "distance_m,right_mm,up_mm\n17,1," + "2" * 40_000},
            f"{here}/mount/marks": {"line": digits, "joint": "rest", "place": "x"},
            f"{here}/tape": {"row-0-distance": digits, "row-0-mark": digits, "row-0-line": digits, "row-0-pin": digits},
            f"{here}/card": {"name": "x", "home": digits, "shown_build": digits, "based_on": digits},
        }
        for path, data in posts.items():
            with self.subTest(path):
                self.assertLess(self.client.post(path, data=data).status_code, 500)

    def test_blanks_cost_nothing(self) -> None:
        """Twenty times the blanks are not four hundred times the steps: no pattern goes back over them."""
        from cross_staff.web.forms.numbers import NotANumber, read, read_list
        from cross_staff.web.forms.units import Units
        from cross_staff.web.tape.form import pasted_rows

        blanks = " " * 2_000_000  # some minutes, were it quadratic
        for text in (blanks + "x", "1" + blanks + "x", blanks, "-" + blanks + "-"):
            with self.assertRaises(NotANumber):
                read(text, "plain", Units())
        self.assertEqual(read(blanks + "5" + blanks, "plain", Units()).value, 5.0)
        self.assertEqual(pasted_rows(f"17{blanks}20", 0)[0][0].cells["distance"], "17")
        self.assertEqual([each.value for each in read_list("1" + blanks + "2", "plain", Units())], [1.0, 2.0])


if __name__ == "__main__":
    unittest.main()
