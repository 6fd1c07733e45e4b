"""Keys and focus: nothing typed is left by a key, and after every act the hand is where the work goes on."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.shop import PINS_M, Shop

FOCUSED = """() => {
  const at = document.activeElement, box = at.getBoundingClientRect();
  const seen = box.bottom > 0 && box.top < innerHeight;
  return { inMain: Boolean(at.closest("main")), seen, words: at.outerHTML.slice(0, 200), where: location.href };
}"""


def _bows(database: Database) -> None:
    """Rig 1 printed and shot in; rig 2 with nothing but its card; rig 3 prepared, half mounted."""
    shop = Shop(database)
    first = shop.ready()
    for number, distance in enumerate(PINS_M):
        shop.end(first, f"end{number}", distance, number, dial_mm=20.0)
    shop.marks(first, 17.0, 38.0, 61.0, 78.0)
    shop.printed(first)
    for day in range(3):
        shop.proof(first, day, 61.0)
    shop.rig()
    third = shop.rig()
    shop.prepared(third)
    shop.mounted(third, left=3)
    fourth = shop.rig()
    shop.prepared(fourth)
    shop.mounted(fourth)
    shop.plumb(fourth)


class Focus(InBrowser):
    fill_with = staticmethod(_bows)

    def act(self, page: Page, button: Locator) -> dict[str, object]:
        """Press it by keyboard; where the focus is, once the page has come anew."""
        expect(button).to_be_visible()
        button.focus()
        with page.expect_navigation():
            page.keyboard.press("Enter")
        page.wait_for_load_state("load")
        page.wait_for_timeout(50)
        return page.evaluate(FOCUSED)  # type: ignore[no-any-return]

    def test_after_every_act_it_is_in_the_work_and_in_sight(self) -> None:
        acts = [
            ("/rigs/2/prepare", ".answer, .col .is-primary"),
            ("/rigs/4/prepare", ".log button.plain"),
            ("/rigs/3/mount", ".col .is-primary"),
            ("/rigs/3/mount", ".log button.plain"),
            ("/rigs/1/level", ".log button.plain"),
            ("/rigs/1/sight_in", ".range-log button.plain"),
            ("/rigs/1/tape", ".log button.plain, .end-aside button, #marks-body button"),
            ("/rigs/1/prove", ".proof-log button"),
            ("/rigs/1/events", ".is-primary"),
        ]
        for path, selector in acts:
            with self.subTest(path, button=selector):
                page = self.open(path)
                told = self.act(page, page.locator(selector).locator("visible=true").first)
                self.assertTrue(told["inMain"] and told["seen"], told)

    def test_a_row_of_a_log_keeps_the_hand(self) -> None:
        page = self.open("/rigs/1/prove")
        row = page.locator(".proof-log button").locator("visible=true").first
        name = row.get_attribute("aria-label") or row.inner_text()
        self.act(page, row)
        self.assertTrue(page.evaluate("() => Boolean(document.activeElement.closest('.proof-log'))"), name)

    def test_a_thumb_is_not_given_a_keyboard(self) -> None:
        page = self.open("/rigs/3/mount", size=(390, 844), has_touch=True, is_mobile=True)
        with page.expect_navigation():
            page.locator(".col .is-primary").first.tap()
        page.wait_for_load_state("load")
        self.assertNotIn(page.evaluate("document.activeElement.tagName"), ("INPUT", "SELECT", "TEXTAREA"))


class Keys(InBrowser):
    fill_with = staticmethod(_bows)

    def test_no_key_leaves_what_is_typed_and_not_kept(self) -> None:
        page = self.open("/rigs/1/prove")
        page.locator("#up").fill("3")
        page.locator("#up").evaluate("(field) => field.blur()")
        for key in ("b", "2", "p", "/"):
            page.keyboard.press(key)
            expect(page.locator("#save-bar")).to_contain_text(f"{key.upper()} once more leaves it")
            expect(page.locator("#up")).to_have_value("3")
        page.keyboard.press("/")
        expect(page).to_have_url(re.compile("/search$"))

    def test_nor_from_a_bubble_that_was_moved(self) -> None:
        page = self.open("/rigs/4/level")
        page.locator(".marker.bubble").nth(1).press("ArrowRight")
        page.keyboard.press("5")
        expect(page.locator("#save-bar")).to_contain_text("not saved yet")
        expect(page).to_have_url(re.compile("/rigs/4/level"))

    def test_keys_do_what_the_list_says_on_every_page_of_a_rig(self) -> None:
        for station in ("card", "mount", "level", "sight_in", "tape", "prove"):
            page = self.open(f"/rigs/1/{station}")
            page.evaluate("document.activeElement.blur()")
            page.keyboard.press("?")
            expect(page.locator("#keys .eye").last).to_have_text("On every page")
            page.keyboard.press("Escape")
            page.keyboard.press("n")
            self.assertTrue(page.evaluate(FOCUSED)["inMain"], station)
            page.evaluate("document.activeElement.blur()")
            page.keyboard.press("p")
            page.wait_for_url(re.compile("/tape/print$"))  # until it is loaded, its keys too
            page.keyboard.press("4")
            page.wait_for_url(re.compile("/level$"))
            page.evaluate("document.activeElement.blur()")
            page.keyboard.press("b")
            expect(page.locator("#bench-title")).to_be_visible()


class Told(InBrowser):
    """What a screen reader is told of what stands on a drawing."""

    fill_with = staticmethod(_bows)

    def test_a_bubble_and_a_shot_say_where_they_are(self) -> None:
        page = self.open("/rigs/4/level")
        bubble = page.get_by_role("slider").nth(1)
        for _ in range(3):
            bubble.press("ArrowLeft")
        expect(bubble).to_have_attribute("aria-valuetext", "0.3 lines left")
        bubble.press("0")
        expect(bubble).to_have_attribute("aria-valuetext", "in the middle")
        page = self.open("/rigs/1/sight_in")
        page.locator("#mm-right").fill("-12")
        page.locator("#mm-up").fill("30")
        page.get_by_role("button", name="Add").click()
        shot = page.get_by_role("slider", name="Shot 1")
        shot.press("x")
        expect(shot).to_have_attribute("aria-valuetext", "12 left, 30 high mm, called bad")
        shot.press("Delete")
        expect(page.locator("#target")).to_be_focused()

    def test_a_tear_says_both_its_sides(self) -> None:
        page = self.open("/rigs/2/prepare?line=paper_tear")
        spot = page.get_by_role("slider")
        expect(spot).to_have_attribute("aria-valuetext", "not placed yet")
        spot.press("ArrowRight")
        spot.press("Shift+ArrowDown")
        expect(spot).to_have_attribute("aria-valuetext", re.compile(r"^0.5 mm right, 5 mm down$"))
