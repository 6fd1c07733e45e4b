"""Mount in a real browser."""

from __future__ import annotations

import io
import re
import tempfile

from PIL import Image
from playwright.sync_api import expect

from cross_staff.storage.database import Database
from tests.shop import Shop, rig_card
from tests.web.stations import Stations


def two_sights(database: Database) -> None:
    """Rig 1 can be planned, rig 2 is still to be mounted."""
    shop = Shop(database)
    shop.rig(rig_card("single_pin_slider"))
    shop.rig(rig_card("fixed_pins"))


class Mount(Stations):
    fill_with = staticmethod(two_sights)

    def test_planning_and_taking_a_place(self) -> None:
        page = self.open("/rigs/1/mount")
        expect(page.locator(".drawing.side")).to_be_visible()
        with page.expect_response("**/mount?*"):
            page.locator("#home").select_option("centred")
        expect(page.locator("#mount-plan")).to_contain_text("home centred on the rail")
        expect(page).to_have_url(re.compile("home=centred"))
        page.go_back()
        page.goto(self.server.address + "/rigs/1/mount?home=reserve")
        page.get_by_role("button", name="Mount it here").click()
        expect(page.get_by_role("status")).to_contain_text("holds now")
        self.assertEqual(self.rig(1).card.mount.home, "reserve")

    def test_the_steps_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/2/mount")
        for _ in range(len(self.rig(2).steps)):
            before = page.locator("#now").inner_text()
            page.locator("#now").evaluate("document.activeElement.blur()")
            while page.evaluate("document.activeElement.textContent.trim()") != "It is so":
                page.keyboard.press("Tab")
            page.keyboard.press("Enter")
            expect(page.locator("#now")).not_to_have_text(before)
        expect(page.locator("#now")).to_have_text("The sight is mounted.")

    def test_a_witness_mark_with_a_photo(self) -> None:
        page = self.open("/rigs/2/mount/marks", size=(390, 844))
        out = io.BytesIO()
        Image.new("RGB", (1200, 900), (60, 80, 90)).save(out, "PNG")
        page.locator("#joint").fill("pointer")
        page.locator("#photo").set_input_files({"name": "a.png", "mimeType": "image/png", "buffer": out.getvalue()})
        page.get_by_role("button", name="Keep this mark").click()
        picture = page.get_by_alt_text("Photo of the mark: pointer")
        expect(picture).to_be_visible()
        self.assertGreater(picture.evaluate("image => image.naturalWidth"), 100)
        with tempfile.NamedTemporaryFile(suffix=".png") as large:
            large.write(b"0" * (13 * 1024 * 1024))
            large.flush()
            page.locator("#photo").set_input_files(large.name)
            expect(page.locator(".field:has(#photo)")).to_contain_text("send one of at most 12 MB")
