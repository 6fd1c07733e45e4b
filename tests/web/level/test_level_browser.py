"""Level in a real browser."""

from __future__ import annotations

import io

from PIL import Image
from playwright.sync_api import expect

from tests.core.level.test_station import levelled_card
from tests.shop import Shop
from tests.web.stations import Stations


class Level(Stations):
    def levelling(self) -> int:
        """A bow in the vise, prepared and mounted, and plumb; returns its id."""
        shop = Shop(self.database())
        rig_id = shop.rig(levelled_card())
        shop.prepared(rig_id)
        shop.mounted(rig_id)
        shop.plumb(rig_id)
        return rig_id

    def test_a_reading_by_keyboard_alone(self) -> None:
        rig_id = self.levelling()
        page = self.open(f"/rigs/{rig_id}/level")
        before = len(self.rig(rig_id).level_log)
        expect(page.locator(".marker.bubble").nth(1)).to_be_focused()
        for key in ("ArrowRight", "ArrowRight", "Shift+ArrowLeft"):
            page.keyboard.press(key)
        expect(page.locator("#vial")).to_have_value("-0.8")
        with page.expect_navigation():
            page.keyboard.press("Enter")
        log = self.rig(rig_id).level_log
        self.assertEqual((len(log), log[-1].vial_div), (before + 1, -0.8))
        page.get_by_role("button", name="Undo: ").first.press("Enter")
        expect(page.locator(".log tbody tr").first).to_contain_text("taken back")

    def test_a_bubble_is_put_by_thumb_at_the_range(self) -> None:
        page = self.open(f"/rigs/{self.levelling()}/level", size=(390, 844))
        page.locator("svg.vial").nth(1).scroll_into_view_if_needed()
        box = page.locator("svg.vial").nth(1).bounding_box()
        page.mouse.click(box["x"] + 0.7 * box["width"], box["y"] + 0.5 * box["height"])
        self.assertAlmostEqual(float(page.locator("#vial").input_value()), 0.2 * 560.0 / 58.0, delta=0.2)
        self.assertGreaterEqual(page.locator(".take").bounding_box()["height"], 44)

    def test_a_photo_is_read_by_putting_its_marks(self) -> None:
        page = self.open(f"/rigs/{self.levelling()}/level")
        out = io.BytesIO()
        Image.new("RGB", (1000, 400), (190, 200, 120)).save(out, "PNG")
        page.locator("#vial-photo").set_input_files(
            {"name": "v.png", "mimeType": "image/png", "buffer": out.getvalue()}
        )
        page.get_by_role("button", name="Read it off the photo").click()
        page.wait_for_url("**/level/photo/*")
        page.wait_for_load_state("networkidle")
        page.get_by_role("button", name="tap: the line left of the middle").click()  # square on: no corners
        expect(page.locator(".tap-now")).to_contain_text("the line left of the middle")
        box = page.locator("svg[data-taps]").bounding_box()
        assert box
        for number, part in enumerate((0.3, 0.7, 0.42, 0.62), start=1):
            page.mouse.click(box["x"] + part * box["width"], box["y"] + 0.5 * box["height"])
            expect(page.locator(".tap")).to_have_count(number)
        self.assertAlmostEqual(float(page.locator("#right_end").input_value().split()[0]), 620.0, delta=4.0)
        page.locator("#lines").fill("1")
        page.get_by_role("button", name="Take it to the reading").click()
        expect(page.get_by_text("The bubble was read off a photo")).to_be_visible()
        self.assertAlmostEqual(float(page.locator("#vial").input_value()), 0.1, delta=0.03)

    def test_sliders_move_the_drawings(self) -> None:
        rig_id = self.levelling()
        page = self.open(f"/rigs/{rig_id}/level/picture")
        with page.expect_response("**/level/picture?*"):
            page.locator("#pitch").press("Home")
        expect(page.locator("#level-picture")).to_contain_text("60° down")
        page.goto(f"{self.server.address}/rigs/{rig_id}/level/cost")
        with page.expect_response("**/level/cost?*"):
            page.locator("#third").press("End")
        expect(page.locator("#level-cost")).to_contain_text("third +3.00°")
