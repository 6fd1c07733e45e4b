"""Sight in under the hand: the target, the phone, the network cut in the middle."""

import re

from playwright.sync_api import Page, expect

from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.shop import PINS_M, Shop, rig_card

PHONE = (390, 844)


def shot_in(database: Database) -> None:
    """Rig 1 at the range, its third pin shot with an arrow far out; rig 2 with fixed pins, never shot."""
    shop = Shop(database)
    rig_id = shop.ready()
    for number, distance in enumerate(PINS_M):
        shop.end(rig_id, f"end{number}", distance, number, wild=number == 2, dial_mm=20.0)
    shop.rig(rig_card("fixed_pins"))


class InHand(InBrowser):
    """A bow at the range: taps, thumbs, keys, and a network that goes away."""

    fill_with = staticmethod(shot_in)

    expected_complaints = ("status of 4", "ERR_INTERNET_DISCONNECTED")

    def tap(self, page: Page, x: float, y: float) -> None:
        """Tap at millimetres from the aim."""
        box = page.locator("#target").bounding_box()
        half = float(page.locator("#target").get_attribute("data-half") or 1)
        assert box
        page.mouse.click(
            box["x"] + box["width"] * (0.5 + x / half / 2), box["y"] + box["height"] * (0.5 - y / half / 2)
        )

    def fresh(self, size: tuple[int, int] = (1280, 900)) -> Page:
        page = self.open("/rigs/1/sight_in", size=size)
        page.locator("#target").scroll_into_view_if_needed()
        return page

    def ends(self, page: Page) -> int:
        return page.locator(".range-log tbody tr:not(.moved)").count()

    def test_an_end_by_mouse(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        for x, y in ((20, 30), (-40, 10), (15, -60)):
            self.tap(page, x, y)
            page.wait_for_timeout(450)
        expect(page.locator(".shot")).to_have_count(3)
        expect(page.locator("#kept")).to_have_text("3 kept")
        with page.expect_navigation():
            page.get_by_role("button", name="End is done").click()
        self.assertEqual(self.ends(page), before + 1)
        expect(page.locator(".range-log tbody tr").first).to_contain_text("3")

    def test_a_double_tap_is_one_arrow(self) -> None:
        page = self.fresh()
        box = page.locator("#target").bounding_box()
        assert box
        page.mouse.dblclick(box["x"] + 200, box["y"] + 200)
        expect(page.locator(".shot")).to_have_count(1)
        expect(page.locator("#kept")).to_have_text("1 kept")  # or it would arrive while another test counts ends

    def test_keys_alone(self) -> None:
        page = self.fresh()
        page.locator("#mm-right").focus()
        for text in ("21", "34", "-8", "5"):
            page.keyboard.type(text)
            page.keyboard.press("Enter")
        expect(page.locator(".shot")).to_have_count(2)
        first = page.locator(".shot").first
        expect(first).to_have_attribute("aria-valuetext", "21 right, 34 high mm")
        first.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowDown")
        expect(page.locator(".shot").first).to_have_attribute("aria-valuetext", "22 right, 24 high mm")
        page.keyboard.press("x")
        expect(page.locator(".shot.bad")).to_have_count(1)
        page.locator(".shot").nth(1).focus()
        page.keyboard.press("Delete")
        expect(page.locator(".shot")).to_have_count(1)
        page.get_by_role("button", name="Redo").click()
        expect(page.locator(".shot")).to_have_count(2)
        page.locator("#mm-up").focus()
        with page.expect_navigation():
            page.keyboard.press("Control+Enter")
        expect(page.locator(".range-log tbody tr").first).to_contain_text("1 + 1 bad")

    def test_zoom_and_a_shot_off_the_picture(self) -> None:
        page = self.fresh()
        page.locator("#mm-right").fill("900")
        page.locator("#mm-up").fill("-20")
        page.get_by_role("button", name="Add").click()
        expect(page.locator(".shot.off")).to_have_attribute("aria-valuetext", re.compile("off the picture"))
        for _ in range(8):
            page.get_by_role("button", name="Zoom out").click()
        expect(page.locator(".shot.off")).to_have_count(0)
        page.locator("#mm-right").fill("2500")
        page.locator("#mm-up").fill("0")
        page.get_by_role("button", name="Add").click()
        expect(page.locator("#shots-error")).to_contain_text("Off any butt")
        expect(page.locator(".shot")).to_have_count(1)

    def test_a_refused_end_stays_in_the_page(self) -> None:
        page = self.fresh()
        self.tap(page, 10, 10)
        page.locator("#distance").fill("9000")
        page.get_by_role("button", name="End is done").click()
        expect(page.locator("#shots-error")).to_contain_text("Distance: 9000")
        expect(page.locator(".shot")).to_have_count(1)
        page.reload()
        expect(page.locator(".shot")).to_have_count(1)
        page.locator("#distance").fill("38")
        with page.expect_navigation():
            page.get_by_role("button", name="End is done").click()
        expect(page.locator(".range-log tbody tr").first).to_contain_text("38")

    def test_a_phone_with_the_network_cut_in_the_middle(self) -> None:
        page = self.fresh(PHONE)
        before = self.ends(page)
        page.locator("#head-so").click()
        self.tap(page, 20, 30)
        expect(page.locator("#kept")).to_have_text("1 kept")
        page.context.set_offline(True)
        page.wait_for_timeout(450)
        self.tap(page, -60, 10)
        page.wait_for_timeout(450)
        self.tap(page, 40, -50)
        expect(page.locator("#kept")).to_have_text("3 wait in this page")
        page.get_by_role("button", name="End is done").click()
        expect(page.locator(".shot")).to_have_count(0)  # the next end can be shot meanwhile
        page.locator("#head-so").click()
        page.wait_for_timeout(450)
        self.tap(page, 5, 5)
        expect(page.locator("#kept")).to_have_text("4 wait in this page")
        page.context.set_offline(False)
        expect(page.locator("#kept")).to_have_text(re.compile("1 kept"))
        page.goto(self.server.address + "/rigs/1/sight_in")
        self.assertEqual(self.ends(page), before + 2)
        expect(page.locator(".range-log tbody tr").nth(1)).to_contain_text("3")

    def test_a_second_window_goes_on_with_the_same_end(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        self.tap(page, 20, 30)
        page.context.set_offline(True)
        page.wait_for_timeout(450)
        self.tap(page, -60, 10)
        page.context.set_offline(False)
        other = page.context.new_page()
        other.goto(self.server.address + "/rigs/1/sight_in")
        expect(other.locator(".shot")).to_have_count(2)
        with other.expect_navigation():
            other.get_by_role("button", name="End is done").click()
        self.assertEqual(self.ends(other), before + 1)

    def test_an_opened_end_is_corrected(self) -> None:
        page = self.fresh()
        before = self.ends(page)
        page.get_by_role("link", name=re.compile("open again: the low pin")).last.click()  # the one with the wild shot
        expect(page.locator(".shot")).to_have_count(6)
        page.locator(".shot").last.focus()
        page.keyboard.press("x")
        page.keyboard.press("Tab")
        with page.expect_navigation():
            page.get_by_role("button", name="End is done").click()
        self.assertEqual(self.ends(page), before)
        expect(page.get_by_text(re.compile(r"was it called bad\?"))).to_have_count(0)

    def test_the_way_from_an_end_to_a_movement_and_on(self) -> None:
        page = self.open("/rigs/2/sight_in")
        page.get_by_role("button", name="It is so", exact=True).click()
        expect(page.locator("#now")).to_contain_text("Shoot 2 arrows at 5")
        for right, up in (("30", "55"), ("24", "61")):
            page.locator("#mm-right").fill(right)
            page.locator("#mm-up").fill(up)
            page.locator("#mm-up").press("Enter")
        with page.expect_navigation():
            page.get_by_role("button", name="End is done").click()
        expect(page.locator(".moves li")).to_have_count(2)
        expect(page.locator(".next-group")).to_have_count(1)
        page.get_by_role("button", name="Done, it moved that way").click()
        expect(page.locator("#now")).to_contain_text("Shoot 2 arrows at 5")
