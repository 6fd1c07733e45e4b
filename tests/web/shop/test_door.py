"""The door: asked of everybody who is not at this machine, and the phone's address."""

import tempfile
import unittest
from pathlib import Path

from starlette.testclient import TestClient

from cross_staff.core.shop.throttle import FREE_TRIES
from cross_staff.services.shop.passphrase import choose_passphrase
from cross_staff.settings import Settings
from cross_staff.web.app import create_app
from cross_staff.web.security import COOKIE
from cross_staff.web.shop.door import inside, network_addresses
from tests.web.client import WithClient

WORDS = "slate and heather"
PHONE = ("192.0.2.44", 50000)
AT_HOME = ("127.0.0.1", 50000)


class OffLoopback(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        choose_passphrase(Path(folder.name), WORDS)
        self.app = create_app(Settings(data=Path(folder.name), off_loopback=True, port=8000))
        self.phone = self.client(PHONE, "http://192.0.2.7:8000")

    def client(self, who: tuple[str, int], address: str) -> TestClient:
        client = TestClient(self.app, base_url=address, follow_redirects=False, client=who)
        client.__enter__()
        self.addCleanup(client.__exit__, None, None, None)
        return client

    def come_in(self, words: str = WORDS, to: str = "/sights"):  # type: ignore[no-untyped-def]
        return self.phone.post("/shop", data={"passphrase": words, "to": to})

    def test_a_phone_is_sent_to_the_door_and_back_to_where_it_wanted(self) -> None:
        answer = self.phone.get("/sights")
        self.assertEqual((answer.status_code, answer.headers["location"]), (303, "/shop?to=/sights"))
        self.assertIn('value="/sights"', self.phone.get(answer.headers["location"]).text)
        let_in = self.come_in()
        self.assertEqual((let_in.status_code, let_in.headers["location"]), (303, "/sights"))
        cookie = let_in.headers["set-cookie"].lower()
        self.assertIn("httponly", cookie)
        self.assertIn("samesite=lax", cookie)
        self.assertEqual(self.phone.get("/sights").status_code, 200)

    def test_nothing_is_served_or_taken_before(self) -> None:
        for path in ("/", "/rigs/1/card", "/docs", "/openapi.json", "/phone", "/rigs/1/photos/1"):
            self.assertEqual(self.phone.get(path).status_code, 303, path)
        self.assertEqual(self.phone.post("/rigs", data={"name": "x"}).status_code, 401)
        self.assertEqual(self.phone.post("/api/v1/groups/analyse", json={}).status_code, 401)
        self.assertEqual(self.phone.get("/static/css/shared/app.css").status_code, 200)

    def test_a_made_up_cookie_is_none(self) -> None:
        self.phone.cookies.set(COOKIE, "shop.abc.def")
        self.assertEqual(self.phone.get("/").status_code, 303)

    def test_a_wrong_one_is_said_at_the_field_then_throttled(self) -> None:
        for _ in range(FREE_TRIES):
            answer = self.come_in("wrong words")
            self.assertEqual(answer.status_code, 422)
            self.assertIn("not the shop", answer.text)
        self.assertEqual(self.come_in().status_code, 429)

    def test_who_sits_at_the_machine_is_not_asked(self) -> None:
        self.assertEqual(self.client(AT_HOME, "http://127.0.0.1:8000").get("/").status_code, 200)

    def test_but_not_by_calling_the_machine_by_its_own_name_from_afar(self) -> None:
        self.assertEqual(self.client(PHONE, "http://127.0.0.1:8000").get("/").status_code, 303)

    def test_a_stranger_s_name_is_refused_as_ever(self) -> None:
        self.assertEqual(self.phone.get("/", headers={"Host": "rebound.example"}).status_code, 403)

    def test_the_door_leads_nowhere_else(self) -> None:
        for path in ("//elsewhere.example/", "http://elsewhere.example/", "/\\elsewhere", "elsewhere", "/a\nb"):
            self.assertEqual(inside(path), "/", path)
            self.assertEqual(self.come_in(to=path).headers["location"], "/")

    def test_the_phone_s_address_as_a_code(self) -> None:
        self.come_in()
        page = self.phone.get("/phone?to=/rigs/7/sight_in").text
        self.assertIn("http://192.0.2.7:8000/rigs/7/sight_in", page)
        picture = self.phone.get("/phone.svg", params={"address": "http://192.0.2.7:8000/rigs/7/sight_in"})
        self.assertEqual(picture.headers["content-type"], "image/svg+xml")
        self.assertIn("<svg", picture.text)
        self.assertEqual(self.phone.get("/phone.svg", params={"address": "http://elsewhere.example/"}).status_code, 422)


class OnLoopback(WithClient):
    def test_without_the_network_it_says_how_to_start(self) -> None:
        self.assertIn("--host 0.0.0.0", self.client.get("/phone").text)

    def test_the_machine_s_own_addresses_are_not_loopback(self) -> None:
        self.assertEqual([a for a in network_addresses() if a.startswith("127.")], [])


class BehindAProxy(unittest.TestCase):
    """A proxy on this machine speaks TLS, and everybody comes through it."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        choose_passphrase(Path(folder.name), WORDS)
        settings = Settings(data=Path(folder.name), off_loopback=True, behind="https://staff.example")
        self.client = TestClient(
            create_app(settings), base_url="https://staff.example", follow_redirects=False, client=AT_HOME
        )
        self.client.__enter__()
        self.addCleanup(self.client.__exit__, None, None, None)

    def test_everybody_is_asked_though_they_come_from_this_machine(self) -> None:
        for host in ("staff.example", "127.0.0.1:8000", "localhost"):
            answer = self.client.get("/", headers={"Host": host, "X-Forwarded-For": "203.0.113.9"})
            self.assertEqual((answer.status_code, answer.headers["location"]), (303, "/shop?to=/"), host)
            self.assertEqual(self.client.get("/rigs/1/rig.zip", headers={"Host": host}).status_code, 303)

    def test_the_cookie_is_for_tls_alone(self) -> None:
        headers = {"Origin": "https://staff.example", "Sec-Fetch-Site": "same-origin"}
        answer = self.client.post("/shop", data={"passphrase": WORDS, "to": "/sights"}, headers=headers)
        self.assertIn("; secure", answer.headers["set-cookie"].lower())
        self.assertTrue(answer.headers["set-cookie"].startswith("__Host-"))
        self.assertIn("max-age", answer.headers["strict-transport-security"])
        self.assertEqual(self.client.get("/sights").status_code, 200)
        self.assertIn("https://staff.example/sights", self.client.get("/phone?to=/sights").text)

    def test_another_name_is_refused(self) -> None:
        self.assertEqual(self.client.get("/", headers={"Host": "rebound.example"}).status_code, 403)
        cross = {"Origin": "https://elsewhere.example"}
        self.assertEqual(self.client.post("/shop", data={"passphrase": WORDS}, headers=cross).status_code, 403)

    def test_a_supervisor_needs_no_passphrase_and_learns_nothing(self) -> None:
        answer = self.client.get("/health", headers={"Host": "127.0.0.1:8000"})
        self.assertEqual((answer.status_code, sorted(answer.json())), (200, ["status", "version"]))


class AProxyNobodyTold(WithClient):
    def test_what_comes_through_a_proxy_is_refused_unless_it_was_said(self) -> None:
        for name in ("X-Forwarded-For", "X-Forwarded-Host", "Forwarded"):
            answer = self.client.get("/", headers={name: "203.0.113.9"})
            self.assertEqual(answer.status_code, 403)
            self.assertIn("--behind", answer.text)
