"""An archer's link: opens his rig and nothing else, takes his lines, ends at once or by the day."""

import re
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from starlette.routing import Route
from starlette.testclient import TestClient

from cross_staff.services.rig import open_rig
from cross_staff.services.shop import links
from cross_staff.services.shop.passphrase import choose_passphrase
from cross_staff.settings import Settings
from cross_staff.storage import authors
from cross_staff.web.app import create_app, page_routers
from tests.shop import METRIC, Shop

WORDS = "slate and heather"
LINE = {"distance": "38", "arrows": "4", "up": "3 low", "day": "2026-11-20"}


class Link(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        choose_passphrase(Path(folder.name), WORDS)
        self.app = create_app(Settings(data=Path(folder.name), off_loopback=True, port=8000))
        self.home = self.client("127.0.0.1", "http://127.0.0.1:8000")
        self.archer = self.client("192.0.2.44", "http://192.0.2.7:8000")
        self.database = self.app.state.database
        shop = Shop(self.database, dict(METRIC))
        self.rig, self.other = shop.rig(), shop.rig()
        shop.marks(self.rig, 17.0, 38.0, 61.0, 95.0)
        shop.printed(self.rig)
        self.make()

    def client(self, address: str, base: str) -> TestClient:
        client = TestClient(self.app, base_url=base, follow_redirects=False, client=(address, 50000))
        client.__enter__()
        self.addCleanup(client.__exit__, None, None, None)
        return client

    def make(self, days: str = "30") -> str:
        self.assertEqual(self.home.post(f"/rigs/{self.rig}/archer", data={"days": days}).status_code, 303)
        self.path = f"/archer/{links.token_of(links.of_rig(self.database, self.rig)[0])}"
        return self.path

    def test_it_opens_the_rig_without_a_passphrase_and_leads_nowhere_else(self) -> None:
        page = self.archer.get(self.path)
        self.assertEqual((page.status_code, page.headers["cache-control"]), (200, "no-store"))
        for words in ("What you shot by the tape", "Marks", "until "):
            self.assertIn(words, page.text)
        for address in re.findall(r'(?:href|src|action)="([^"]*)"', page.text):
            self.assertTrue(address.startswith(("/static/", f"{self.path}")), address)
        self.assertEqual(self.archer.get(f"{self.path}/sheet.pdf").content[:5], b"%PDF-")

    def test_no_other_route_is_opened_by_it(self) -> None:
        tried = 0
        for router, _ in page_routers():
            for route in router.routes:
                assert isinstance(route, Route)
                if route.path.startswith("/archer/") or route.path in ("/shop", "/health"):
                    continue
                path = re.sub(r"{\w+}", str(self.rig), route.path)
                for method in route.methods or ():
                    answer = self.archer.request(method, path, headers={"Referer": f"http://192.0.2.7:8000{self.path}"})
                    self.assertIn(answer.status_code, (303, 401), f"{method} {path}")
                    if answer.status_code == 303:
                        self.assertTrue(answer.headers["location"].startswith("/shop?to="), path)
                    tried += 1
        self.assertGreater(tried, 100)
        for path in ("/api/v1/groups/analyse", "/openapi.json", "/drafts"):
            self.assertIn(self.archer.get(path).status_code, (303, 401), path)

    def test_a_token_that_is_none_opens_nothing(self) -> None:
        token = self.path.removeprefix("/archer/")
        for odd in (token[:-1], f"{token}x", token.replace("1.", "2.", 1), "1", "1.", "x" * 400, "9" * 30 + ".a"):
            self.assertEqual(self.archer.get(f"/archer/{odd}").status_code, 404, odd)

    def test_ended_or_worn_off_it_says_so(self) -> None:
        number = links.of_rig(self.database, self.rig)[0].link
        self.assertEqual(self.home.post(f"/rigs/{self.other}/archer/{number}/end").status_code, 404)
        self.home.post(f"/rigs/{self.rig}/archer/{number}/end")
        for answer in (
            self.archer.get(self.path),
            self.archer.get(f"{self.path}/sheet.pdf"),
            self.archer.post(f"{self.path}/line", data=LINE),
        ):
            self.assertEqual((answer.status_code, "This link has ended" in answer.text), (410, True))
        self.assertEqual(open_rig(self.database, self.rig).prove.lines, ())
        self.make("1")
        with mock.patch("cross_staff.web.archer.routes.datetime") as clock:
            clock.now.return_value = datetime.now(UTC) + timedelta(days=2)
            self.assertEqual(self.archer.get(self.path).status_code, 410)

    def test_a_line_of_his_is_kept_under_his_name_and_taken_back_by_him(self) -> None:
        self.assertEqual(self.archer.post(f"{self.path}/line", data=LINE).status_code, 303)
        line = open_rig(self.database, self.rig).prove.lines[0]
        self.assertEqual((line.ranged_m, round(line.up_m or 0.0, 3)), (38.0, -0.03))
        with self.database.reading() as connection:
            kept = authors.newest(connection, None, 1, None, self.rig, ())[0]
        self.assertEqual((kept.who, kept.came_by), (open_rig(self.database, self.rig).card.archer, "link"))
        self.assertEqual(self.archer.post(f"{self.path}/line/{line.key}/undo").status_code, 303)
        self.assertEqual(open_rig(self.database, self.rig).prove.lines, ())

    def test_lines_of_the_shop_are_not_his_to_take_back(self) -> None:
        Shop(self.database, dict(METRIC)).proof(self.rig, 1, 26.0)
        key = open_rig(self.database, self.rig).prove.lines[0].key
        self.assertEqual(self.archer.post(f"{self.path}/line/{key}/undo").status_code, 404)
        self.archer.post(f"{self.path}/line", data=LINE | {"key": key})
        self.assertEqual(len(open_rig(self.database, self.rig).prove.lines), 2)

    def test_what_is_wrong_is_said_at_its_field(self) -> None:
        answer = self.archer.post(f"{self.path}/line", data=LINE | {"distance": "far"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn('value="far"', answer.text)
        self.assertEqual(self.home.post(f"/rigs/{self.rig}/archer", data={"days": "0"}).status_code, 422)
        self.assertEqual(self.home.post(f"/rigs/{self.rig}/archer", data={"days": "many"}).status_code, 422)

    def test_a_rig_fresh_from_the_bench_has_its_page_too(self) -> None:
        bare = Shop(self.database, dict(METRIC)).new("Bare bow")
        self.home.post(f"/rigs/{bare}/archer", data={"days": "3"})
        token = links.token_of(links.of_rig(self.database, bare)[0])
        page = self.archer.get(f"/archer/{token}")
        self.assertEqual((page.status_code, "In the shop" in page.text), (200, True))
        self.assertEqual(self.archer.get(f"/archer/{token}/sheet.pdf").status_code, 303)
