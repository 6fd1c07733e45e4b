"""Taps on a photo under the hand: mouse, finger, keys, another scale, what was put wrong; a large photo made small."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from cross_staff.services.photos import MOST_BYTES
from cross_staff.storage.database import Database
from tests.shop import Shop
from tests.web.photos.test_photos import jpeg, side
from tests.web.stations import Stations

PHONE = (390, 844)
WIDTH = 1600.0


def one_rig(database: Database) -> None:
    Shop(database).ready()


class Taps(Stations):
    fill_with = staticmethod(one_rig)

    def bring(self, size: tuple[int, int] = (1280, 800), **more: bool) -> Page:
        page = self.open("/rigs/1/photo-bench", size=size, **more)
        picture = jpeg(np.full((1200, 1600, 3), 150, np.uint8))
        page.locator("#photo").set_input_files({"name": "p.jpg", "mimeType": "image/jpeg", "buffer": picture})
        page.get_by_role("button", name="Measure it").click()
        page.wait_for_url("**/photo-bench/*use=peep")
        expect(page.locator(".tap-now")).to_contain_text("the nock")
        return page

    def at(self, page: Page, field: str) -> tuple[float, float]:
        """Where a tap of the bow from the side belongs, on the screen."""
        x, y = (float(v) for v in side()[1][field].split())
        page.locator("svg[data-taps]").scroll_into_view_if_needed()
        box = page.locator("svg[data-taps]").bounding_box()
        assert box
        return box["x"] + x * box["width"] / WIDTH, box["y"] + y * box["width"] / WIDTH

    def test_by_mouse_and_keys_to_the_card(self) -> None:
        page = self.bring()
        for number, field in enumerate(("tap_nock", "tap_point", "tap_peep", "tap_pin"), start=1):
            page.mouse.click(*self.at(page, field))
            expect(page.locator(".tap")).to_have_count(number)
        expect(page.locator(".tap-now")).to_contain_text("the eye")
        peep = page.get_by_role("slider", name="the peep")
        before = float(page.locator("#tap_peep").input_value().split()[0])
        peep.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowLeft")
        self.assertAlmostEqual(float(page.locator("#tap_peep").input_value().split()[0]), before - 9.0, delta=0.11)
        page.keyboard.press("Delete")
        expect(page.locator(".tap")).to_have_count(3)
        expect(page.locator(".tap-now")).to_contain_text("the peep")
        page.mouse.click(*self.at(page, "tap_peep"))
        page.locator("#length_1").fill("720")
        page.get_by_role("button", name="Measure").first.click()
        expect(page.locator("#now")).to_contain_text("Peep, square to the arrow: 9")
        page.get_by_role("link", name="Onto the card").click()
        expect(page.locator("#peep_way")).to_have_value("photo")
        self.assertAlmostEqual(float(page.locator("#peep_square").input_value()), 92.3, delta=4.0)

    def test_a_mark_is_dragged_and_one_is_taken_off(self) -> None:
        page = self.bring()
        x, y = self.at(page, "tap_nock")
        page.mouse.click(x + 40, y)
        page.mouse.move(x + 40, y)
        page.mouse.down()
        page.mouse.move(x + 20, y, steps=4)
        page.mouse.move(x, y, steps=4)
        page.mouse.up()
        expect(page.locator(".tap")).to_have_count(1)
        wanted = float(side()[1]["tap_nock"].split()[0])
        self.assertAlmostEqual(float(page.locator("#tap_nock").input_value().split()[0]), wanted, delta=4.0)
        page.get_by_role("button", name="back: the nock").click()
        expect(page.locator(".tap")).to_have_count(0)
        page.get_by_role("button", name="Put one in the middle").click()
        expect(page.locator("#tap_nock")).to_have_value("800 600")

    def test_by_finger_with_what_is_under_it_drawn_larger(self) -> None:
        page = self.bring(PHONE, has_touch=True, is_mobile=True)
        session = page.context.new_cdp_session(page)
        x, y = self.at(page, "tap_nock")
        session.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x + 30, "y": y}]})
        expect(page.locator(".loupe")).to_be_visible()
        for part in (20, 10, 0):
            session.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [{"x": x + part, "y": y}]})
        session.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
        expect(page.locator(".tap")).to_have_count(1)
        wanted = float(side()[1]["tap_nock"].split()[0])
        self.assertAlmostEqual(float(page.locator("#tap_nock").input_value().split()[0]), wanted, delta=8.0)
        expect(page.locator(".loupe")).to_have_count(0)

    def test_another_scale_keeps_what_was_tapped(self) -> None:
        page = self.bring()
        page.mouse.click(*self.at(page, "tap_nock"))
        kept = page.locator("#tap_nock").input_value()
        page.locator("#scale").select_option("sheet")
        expect(page.locator(".tap-now")).to_contain_text("the corners of the rectangle")
        expect(page.locator("#tap_nock")).to_have_value(kept)

    def test_without_javascript_places_are_typed(self) -> None:
        page = self.open("/rigs/1/photo-bench", java_script_enabled=False)
        picture = jpeg(np.full((1200, 1600, 3), 150, np.uint8))
        page.locator("#photo").set_input_files({"name": "p.jpg", "mimeType": "image/jpeg", "buffer": picture})
        page.get_by_role("button", name="Measure it").click()
        for field, text in side()[1].items():
            page.locator(f"#{field}").fill(text)
        page.locator("#length_1").fill("720")
        page.get_by_role("button", name="Measure", exact=False).first.click()
        expect(page.locator("#now")).to_contain_text("Peep, square to the arrow")

    def test_a_large_photo_is_made_small_before_it_is_sent(self) -> None:
        page = self.open("/rigs/1/photo-bench")
        folder = self.enterContext(TemporaryDirectory())
        large = Path(folder) / "p.png"
        noisy = np.random.default_rng(1).integers(0, 255, (1800, 2700, 3), np.uint8)
        Image.fromarray(noisy).save(large, compress_level=1)
        self.assertGreater(large.stat().st_size, MOST_BYTES)
        page.set_default_timeout(120_000)  # a slow machine takes a while over so much noise
        page.locator("#photo").set_input_files(large)
        button = page.get_by_role("button", name="Measure it")
        expect(button).to_be_enabled(timeout=120_000)
        button.click()
        page.wait_for_url("**/photo-bench/*use=peep")
        expect(page.locator("svg[data-taps]")).to_have_attribute("viewBox", "0 0 1600 1067")
