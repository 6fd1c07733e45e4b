"""People and visits on the pages: entered, who holds a device, what a viewer may, who wrote what."""

import tempfile
import unittest
from pathlib import Path
from typing import Any

from starlette.testclient import TestClient

from cross_staff.services.shop.passphrase import choose_passphrase
from cross_staff.settings import Settings
from cross_staff.storage import authors
from cross_staff.web.app import create_app
from tests.shop import Shop
from tests.web.client import WithClient

WORDS = "slate and heather"
IDA = {"name": "Ida Fell", "role": "technician", "pin": "4711"}
ULF = {"name": "Ulf Moor", "role": "viewer", "pin": "8642"}


class AtThisMachine(WithClient):
    def enter(self, *people: dict[str, str]) -> None:
        for each in people:
            self.assertEqual(self.client.post("/people", data=each).status_code, 303)

    def sign_in(self, person: str, pin: str) -> Any:
        return self.client.post("/who", data={"person": person, "pin": pin, "to": "/sights"})

    def test_nobody_is_asked_and_nothing_is_signed_before_people_are_entered(self) -> None:
        self.assertIn("Nobody is entered yet", self.client.get("/who").text)
        self.assertEqual(
            self.client.post("/rigs", data={"name": "Long bow", "kind": "single_pin_slider"}).status_code, 303
        )
        self.assertIn("nobody by name", self.client.get("/changes").text)

    def test_what_is_wrong_is_said_at_its_field_and_what_was_typed_stays(self) -> None:
        self.enter(IDA)
        for change, words in (
            ({"name": "ida fell"}, "somebody else has this name"),
            ({"name": ""}, "by which name"),
            ({"name": "Ulf", "pin": "12"}, "4 to 8 digits"),
            ({"name": "Ulf", "role": "king"}, "choose one from the list"),
        ):
            answer = self.client.post("/people", data=IDA | change)
            self.assertEqual(answer.status_code, 422, change)
            self.assertIn(words, answer.text)
            self.assertIn(f'value="{change["name"]}"', answer.text)

    def test_the_first_is_a_technician_and_the_last_stays_one(self) -> None:
        self.assertIn("the first is a technician", self.client.post("/people", data=ULF).text)
        self.enter(IDA, ULF)
        self.assertIn("last technician", self.client.post("/people/1", data=IDA | {"role": "viewer"}).text)
        self.assertIn("last technician", self.client.post("/people/1/remove", data={}).text)

    def test_a_name_without_typing_it(self) -> None:
        self.enter(IDA)
        rig = self.add_rig()
        wrong = self.sign_in("1", "0000")
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("not the PIN", wrong.text)
        self.assertEqual(self.sign_in("1", "4711").headers["location"], "/sights")
        self.assertIn(">Ida Fell</a>", self.client.get("/sights").text)
        self.client.post(f"/rigs/{rig}/mount/step/threads", data={"state": "done", "note": ""})
        with self.database.reading() as connection:
            self.assertIn("Ida Fell", authors.names(connection))
        mine = self.client.get("/changes?who=Ida+Fell").text
        self.assertIn("Ida Fell", mine)
        self.assertIn("Nothing was written that is so", self.client.get("/changes?who=Ulf+Moor").text)
        self.assertIn(
            "Nothing was written that is so", self.client.get(f"/changes?who=Ida+Fell&rig={rig}&room=tape").text
        )

    def test_another_pin_another_name_and_back_again(self) -> None:
        self.enter(IDA)
        self.client.post("/people/1", data={"name": "Ida Carr", "role": "technician", "pin": ""})
        self.assertEqual(self.sign_in("1", "4711").status_code, 303)
        self.assertIn(">Ida Carr</a>", self.client.get("/").text)
        gone = self.client.post("/people/1/remove", data={})
        self.assertIn("Back again", self.client.get(gone.headers["location"]).text)
        self.assertNotIn(">Ida Carr</a>", self.client.get("/").text)
        self.client.post("/people/1/remove", data={"back": "yes"})
        self.assertIn("Ida Carr", self.client.get("/people").text)

    def test_a_viewer_looks_on(self) -> None:
        self.enter(IDA, ULF)
        rig = self.add_rig()
        self.sign_in("2", "8642")
        page = self.client.get(f"/rigs/{rig}/card")
        self.assertIn("Looking on", page.text)
        for path in ("/rigs", f"/rigs/{rig}/card", "/people", "/devices", f"/rigs/{rig}/prove", "/about/backup"):
            answer = self.client.post(path, data={"name": "Long bow"})
            self.assertEqual((answer.status_code, "looks on" in answer.text), (403, True), path)
        self.assertEqual(self.client.post("/who", data={"back": "yes", "to": "/"}).status_code, 303)
        self.assertNotIn("Looking on", self.client.get("/").text)

    def test_log_out(self) -> None:
        self.enter(IDA)
        self.sign_in("1", "4711")
        self.assertEqual(self.client.post("/out", data={}).status_code, 303)
        self.assertIn(">Sign in</a>", self.client.get("/").text)

    def test_clients_data_stays_in_no_browser(self) -> None:
        rig = self.add_rig()
        for path in ("/", f"/rigs/{rig}/card", f"/rigs/{rig}/rig.zip", "/bench.csv", "/people", "/changes"):
            self.assertEqual(self.client.get(path).headers["cache-control"], "no-store", path)
        self.assertNotIn("cache-control", self.client.get("/static/css/shared/app.css").headers)

    def test_odd_filters_find_nothing_or_everything(self) -> None:
        self.add_rig()
        for query in ("who=%00", "rig=abc", "rig=99", "room=attic", "before=0", "before=-1", "rig=" + "9" * 12):
            self.assertEqual(self.client.get(f"/changes?{query}").status_code, 200, query)

    def test_many_rows_are_paged(self) -> None:
        rig = self.add_rig()
        for number in range(8):
            Shop(self.database).end(rig, f"e{number}", 26.0, dial_mm=24.0)
        from unittest import mock

        with mock.patch("cross_staff.services.shop.changes.PAGE", 10):
            page = self.client.get("/changes").text
            self.assertIn("Older ones", page)
            older = page.partition('href="/changes?who=')[2].partition('"')[0].replace("&amp;", "&")
            self.assertEqual(self.client.get(f"/changes?who={older}").status_code, 200)


class OverTheNetwork(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        choose_passphrase(Path(folder.name), WORDS)
        self.app = create_app(Settings(data=Path(folder.name), off_loopback=True, port=8000))
        self.home = self.client("127.0.0.1", "http://127.0.0.1:8000")
        self.phone = self.client("192.0.2.44", "http://192.0.2.7:8000")

    def client(self, address: str, base: str) -> TestClient:
        client = TestClient(self.app, base_url=base, follow_redirects=False, client=(address, 50000))
        client.__enter__()
        self.addCleanup(client.__exit__, None, None, None)
        return client

    def test_a_phone_says_who_holds_it_once_there_are_people(self) -> None:
        self.phone.post("/shop", data={"passphrase": WORDS, "to": "/"})
        self.assertEqual(self.phone.get("/sights").status_code, 200)
        self.home.post("/people", data=IDA)
        asked = self.phone.get("/sights")
        self.assertEqual((asked.status_code, asked.headers["location"]), (303, "/who?to=/sights"))
        self.assertEqual(self.phone.post("/rigs", data={"name": "x"}).status_code, 401)
        self.phone.post("/who", data={"person": "1", "pin": "4711", "to": "/sights"})
        self.assertEqual(self.phone.get("/sights").status_code, 200)
        self.assertEqual(self.home.get("/sights").status_code, 200)

    def test_visits_are_listed_and_ended_one_by_one(self) -> None:
        other = self.client("192.0.2.45", "http://192.0.2.7:8000")
        for each in (self.phone, other):
            each.post("/shop", data={"passphrase": WORDS, "to": "/"})
        page = self.home.get("/people").text
        self.assertIn("192.0.2.44", page)
        self.assertIn("192.0.2.45", page)
        visit = int(page.partition("/visits/")[2].partition("/")[0])
        self.home.post(f"/visits/{visit}/end", data={})
        self.assertEqual(sorted((self.phone.get("/").status_code, other.get("/").status_code)), [200, 303])
        self.assertEqual(self.home.post("/visits/99/end", data={}).status_code, 404)

    def test_another_passphrase_turns_the_others_out(self) -> None:
        other = self.client("192.0.2.45", "http://192.0.2.7:8000")
        for each in (self.phone, other):
            each.post("/shop", data={"passphrase": WORDS, "to": "/"})
        told = {"old": WORDS, "new": "gorse on the ridge", "again": "gorse on the ridge"}
        wrong = self.phone.post("/passphrase", data=told | {"old": "wrong words"})
        self.assertEqual((wrong.status_code, "not the shop" in wrong.text), (422, True))
        self.assertEqual(self.phone.post("/passphrase", data=told).status_code, 303)
        self.assertEqual((self.phone.get("/").status_code, other.get("/").status_code), (200, 303))
        self.assertEqual(other.post("/shop", data={"passphrase": "gorse on the ridge", "to": "/"}).status_code, 303)
