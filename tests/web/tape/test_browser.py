"""The tape's pages in the browser: one way through them by mouse, one by keyboard, one on the phone."""

from __future__ import annotations

from playwright.sync_api import expect

from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.services.sight_in import record as sight_in
from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.shop import Shop, rig_card


def marked(database: Database) -> None:
    """Rig 1 has pins and marks, rig 2 marks, rig 3 marks and strips of a booklet."""
    shop = Shop(database)
    pins = shop.rig()
    shop.marks(pins, 17.0, 38.0, 61.0)
    sight_in.choose(database, pins, "dialled", "near", shop.now())
    shop.marks(shop.rig(rig_card("single_pin_slider")), 17.0, 38.0, 61.0)
    with_strips = shop.rig(rig_card("single_pin_slider"))
    shop.marks(with_strips, 17.0, 38.0, 61.0, 78.0)
    shop.strips(with_strips, Booklet(17.0, 78.0, (Strip("A", 1.0, 34.0), Strip("F", 6.0, 46.0))))


class Bench(InBrowser):
    fill_with = staticmethod(marked)

    def test_from_which_pin_to_a_tape_that_is_kept(self) -> None:
        page = self.open("/rigs/1/tape")
        page.locator("#tape-pages").get_by_role("link", name="Dialled").click()
        page.locator("#wanted").fill("53")
        page.keyboard.press("Enter")
        expect(page.locator("h2.now")).to_contain_text("53 m: top pin's pointer to 53.")
        page.get_by_role("button", name="Dial the low pin").click()
        expect(page.locator("#table-dialled-title")).to_contain_text("low pin")
        page.locator("#tape-pages").get_by_role("link", name="Print").click()
        expect(page.locator("#from")).not_to_have_value("17")
        page.locator("#other").select_option("yd")
        page.locator("#width").fill("12")
        page.keyboard.press("Enter")
        with page.expect_download() as download:
            page.get_by_role("button", name="Print and keep it").click()
        self.assertTrue(download.value.suggested_filename.endswith(".pdf"))
        page.reload()
        expect(page.locator("#printed-title")).to_be_visible()

    def test_a_mark_is_left_out_with_a_reason_and_taken_back(self) -> None:
        page = self.open("/rigs/3/tape")
        with page.expect_response("**/tape"):
            page.locator("[name=row-1-left_out]").check()
        expect(page.locator("#row-1-said")).to_contain_text("write why, in a few words")
        page.locator("#row-1-reason").fill("gust at the shot")
        with page.expect_response("**/tape"):
            page.keyboard.press("Tab")
        expect(page.locator("#row-1-said")).to_contain_text("Left out of the fit")
        expect(page.locator("#tape-log")).to_contain_text("left out of the fit: gust at the shot")
        with page.expect_response("**/tape"):
            page.locator("[name=row-1-left_out]").uncheck()
        expect(page.locator("#row-1-said")).not_to_contain_text("Left out")

    def test_strips_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/2/tape/booklet")
        page.locator("#label_0").focus()
        for text in ("A", "1", "38", "", "F", "6", "52", ""):
            page.keyboard.type(text)
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.locator("h2.now")).to_contain_text("trip")
        expect(page.locator("#table-strips tbody tr")).not_to_have_count(0)
        page.locator("#span_1").fill("30,5 mm")
        page.keyboard.press("Enter")
        expect(page.locator("#span_1")).to_have_value("30.5")

    def test_strips_that_contradict_one_another_stay_as_typed(self) -> None:
        page = self.open("/rigs/3/tape/booklet")
        page.locator("#span_1").fill("34")
        page.get_by_role("button", name="Keep these strips").click()
        expect(page.get_by_role("alert")).to_contain_text("contradict the others")
        expect(page.locator("#span_1")).to_have_value("34")


class Phone(InBrowser):
    fill_with = staticmethod(marked)

    def test_the_range_sheet_is_read_and_chosen_with_a_thumb(self) -> None:
        page = self.open("/rigs/1/tape/range-sheet", size=(390, 844), has_touch=True)
        expect(page.locator("#table-marks")).to_be_visible()
        page.get_by_text("What is on it").click()
        page.get_by_label("Point-on bands").check()
        box = page.get_by_label("Point-on bands").locator("..").bounding_box()
        assert box
        self.assertGreaterEqual(box["height"], 44)
        page.get_by_role("button", name="Lay it out so").click()
        expect(page.locator("#table-bands")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="Download the page").click()
        self.assertIn("range-a4", download.value.suggested_filename)

    def test_a_hold_is_asked_for_at_the_line(self) -> None:
        page = self.open("/rigs/1/tape/holds", size=(390, 844), has_touch=True)
        page.locator("#at").fill("50")
        page.get_by_role("button", name="Where do I hold?").click()
        expect(page.locator("h2.now")).to_contain_text("For 50 m: hold")
