"""A rig goes from the demo into an empty shop, to the range and back: by hand, without JavaScript, by keyboard."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database
from tests.browser import InBrowser, LiveServer
from tests.shop import Shop
from tests.web.test_axe import AXE, OF_WIDTH

PHONE = (390, 844)


def _marked(database: Database) -> None:
    shop = Shop(database)
    shop.marks(shop.rig(), 17.0, 38.0, 61.0)


class FromTheDemo(InBrowser):
    fill_with = staticmethod(_marked)
    demo = True

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "rig.zip"
        self.shop = LiveServer()
        self.addCleanup(self.shop.stop)

    def _note_outside(self, url: str) -> None:
        if not url.startswith(self.shop.address):
            super()._note_outside(url)

    def kept(self, page: Page) -> None:
        with page.expect_download() as download:
            page.get_by_role("link", name="Keep this rig").click()
        download.value.save_as(self.file)

    def brought(self, page: Page) -> None:
        page.goto(f"{self.shop.address}/carry")
        page.get_by_label("File, up to").set_input_files(self.file)
        page.get_by_role("button", name="Look at it").click()

    def test_a_rig_that_is_kept_goes_on_in_an_empty_shop_without_javascript(self) -> None:
        page = self.open("/rigs/1/tape", PHONE, java_script_enabled=False)
        expect(page.get_by_text("all of it goes when the program stops")).to_be_visible()
        self.kept(page)
        page.goto(self.shop.address)
        page.get_by_role("link", name="Bring a rig in from a file").click()
        self.brought(page)
        expect(page.get_by_role("heading", name="Take this rig in.")).to_be_visible()
        page.get_by_role("button", name="Take it in").click()
        expect(page.get_by_text("Taken in: 5 records.")).to_be_visible()
        expect(page.get_by_text("all of it goes")).to_have_count(0)
        page.get_by_role("link", name="Go on with it").click()
        self.assertNotIn("/keep", page.url)
        self.brought(page)
        expect(page.get_by_role("heading", name="Nothing to do")).to_be_visible()

    def test_an_edited_file_says_where_then_stands_beside(self) -> None:
        page = self.open("/rigs/1/tape")
        with page.expect_download() as download:
            page.get_by_role("link", name="Keep and carry").click()
            page.get_by_role("link", name="Without photos").click()
        download.value.save_as(self.file)
        self.brought(page)
        page.get_by_role("button", name="Take it in").click()
        plain = json.loads(self.file.read_text())
        plain["rig"]["observations"][0]["arrows"] = 5000
        self.file.write_text(json.dumps(plain))
        self.brought(page)
        expect(page.get_by_role("cell", name="observations 1, arrows")).to_be_visible()
        plain["rig"]["observations"][0]["arrows"] = 5
        self.file.write_text(json.dumps(plain))
        self.brought(page)
        expect(page.get_by_text("edited by hand")).to_be_visible()
        beside = page.get_by_role("button", name="beside it, as another one")
        beside.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Test bow, from a file")).to_be_visible()
        database = Database(self.shop.settings.database_file)
        self.addCleanup(database.close)
        self.assertEqual([open_rig(database, rig).log[0].arrows for rig in (1, 2)], [6, 5])

    def test_the_label_can_be_read_and_hit_by_everybody(self) -> None:
        page = self.open("/rigs/1/tape", color_scheme="light")
        page.evaluate(AXE.read_text())
        for size, rules in (((1280, 800), "runOnly: ['wcag2a', 'wcag2aa']"), (PHONE, OF_WIDTH)):
            page.set_viewport_size({"width": size[0], "height": size[1]})
            found = page.evaluate(f"axe.run('.demo-label', {{{rules}}}).then(r => r.violations.map(v => v.id))")
            self.assertEqual(found, [])
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), size[0])
