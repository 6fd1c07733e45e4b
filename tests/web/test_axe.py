"""Every page under axe-core, by day and by lamp, wide and narrow."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from playwright.sync_api import Page, expect

from cross_staff.demo.practice_work import practised
from cross_staff.demo.shop import fill
from cross_staff.demo.week import WITH_LINK
from cross_staff.services.shop import links
from cross_staff.storage.database import Database
from tests.browser import InBrowser

AXE = Path(__file__).parents[1] / "vendor" / "axe.min.js"
# pages that say what is wrong
STATUS = {"/rigs/77/tape": 404, "/rigs/3/tape/print?bar=50": 422, "/rigs/1/tape/pins?last=3": 422}
PAGES = (
    "/", "/calculators", "/help", "/docs", "/search?q=bow", "/rigs/1/card/sheet",
    "/?show=archived", "/sights", "/sights/new?copy=target_scope", "/rigs/1/card", "/rigs/5/card",
    "/rigs/1/card/revisions", "/rigs/1/card/compare?a=1&b=2", "/rigs/1/card/sight", "/rigs/1/card/tools",
    "/rigs/1/card/arrows", "/rigs/1/card/arrows/1", "/rigs/6/prepare", "/rigs/6/prepare?line=paper_tear",
    "/rigs/6/prepare?line=rest_centred", "/rigs/1/prepare?line=walk_back", "/rigs/1/prepare?line=spine",
    "/rigs/1/mount", "/rigs/5/mount", "/rigs/6/mount", "/rigs/1/mount/marks", "/rigs/1/mount/marks/sheet",
    "/rigs/1/mount/knocked", "/rigs/1/level",
    "/rigs/2/level", "/rigs/5/level", "/rigs/6/level", "/rigs/2/level?axis=third&method=shooting",
    "/rigs/3/level?axis=third", "/instruments", "/instruments/1", "/rigs/2/level/setup", "/rigs/2/level/cost",
    "/rigs/2/level/picture",
    "/rigs/2/level/cant", "/rigs/2/level/scope",
    "/rigs/7/level/photo/27", "/rigs/7/sight_in/photo/28", "/rigs/7/photo-bench",
    "/rigs/7/photo-bench/26?use=peep", "/rigs/7/photo-bench/26?use=pins",
    "/rigs/7/photo-bench/overlay", "/rigs/7/sight_in", "/rigs/6/sight_in",
    "/rigs/1/sight_in?step=marks", "/rigs/5/sight_in", "/rigs/7/sight_in?end=demo-0424", "/phone", "/shop",
    "/rigs/7/tape", "/rigs/1/tape", "/rigs/2/tape",
    "/rigs/4/tape", "/rigs/5/tape", "/rigs/3/tape/print",
    "/rigs/1/tape/pins", "/rigs/7/tape/dialled?wanted=61", "/rigs/1/tape/holds?at=50",
    "/rigs/1/tape/slopes?there_m=1500", "/rigs/1/tape/fits", "/rigs/3/tape/booklet", "/rigs/5/tape/booklet",
    "/rigs/4/events", "/rigs/3/events?did=strings",
    "/rigs/4/tape/change", "/rigs/1/tape/change?to=1", "/rigs/1/tape/range-sheet",
    "/rigs/3/prove", "/rigs/9/prove", "/rigs/10/prove",
    "/rigs/9/prove/drift", "/rigs/9/prove/pairs?kind=cant", "/rigs/9/prove/slope",
    "/rigs/12/prove/knocked",
    "/rigs/9/keep", "/carry", "/about", "/devices", "/rigs/1/taken",
    "/plan", "/rigs/6/plan", "/rigs/9/prove/lock", "/rigs/9/prove/hand-over", "/rigs/9/archer",
    "/people", "/who?to=/sights", "/changes",
    "/practice", "/rigs/13/practice", "/rigs/14/practice", "/rigs/14/sight_in", "/rigs/14/level", "/explain",
    "/explain/chased?rig=1", "/explain/cosine?full=1",
    *STATUS,
)  # fmt: skip


# what differs by lamp: all else was looked at before
OF_COLOUR = "runOnly: ['color-contrast', 'link-in-text-block']"
# and by width
OF_WIDTH = "runOnly: ['scrollable-region-focusable', 'target-size']"
PHONE = (390, 844)
SMALLEST = 320


LEAST_PX = 11.8  # 12 but for rounding
# what is smaller, but for the paper that is shown in its true size and what is for a screen reader alone
SMALLER = """(least) => {
  const small = new Set(), texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (texts.nextNode()) {
    const words = texts.currentNode.data.trim(), holder = texts.currentNode.parentElement;
    if (!words || !holder.checkVisibility() || holder.closest(".sr, .sheet, header.top .mark")) continue;
    const drawing = holder.closest("svg");
    const scale = drawing?.viewBox.baseVal.width ? Math.hypot(holder.getScreenCTM().a, holder.getScreenCTM().b) : 1;
    const px = parseFloat(getComputedStyle(holder).fontSize) * scale;
    if (px < least) small.add(`${px.toFixed(1)} px: ${words.slice(0, 30)}`);
  }
  return [...small];
}"""


def fill_with_practice(database: Database) -> None:
    """The demo's rigs, and two of the practice bench."""
    fill(database)
    practised(database, datetime(2026, 5, 9, 8, 0, tzinfo=UTC))


class Axe(InBrowser):
    """Each page is opened once, and looked at by day, by lamp, and as narrow as a phone; no text of it is tiny."""

    fill_with = staticmethod(fill_with_practice)

    def look(self, page: Page, path: str, how: str, rules: str = "") -> None:
        with self.subTest(path, how=how):
            violations = page.evaluate(f"axe.run({{resultTypes: ['violations'], {rules}}}).then(r => r.violations)")
            said = [(v["id"], v["nodes"][0]["html"][:140], v["nodes"][0]["failureSummary"][:300]) for v in violations]
            self.assertEqual(said, [])
            self.assertEqual(page.evaluate(SMALLER, LEAST_PX), [])

    def archer_s(self) -> str:
        """The page that the demo's archer has a link to."""
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        return f"/archer/{links.token_of(links.of_rig(database, WITH_LINK)[0])}"

    def test_every_page(self) -> None:
        page = self.open("/", color_scheme="light")
        source = AXE.read_text()
        for path in (*PAGES, self.archer_s()):
            page.set_viewport_size({"width": 1280, "height": 800})
            answer = page.goto(self.server.address + path)
            with self.subTest(path):
                self.assertEqual(answer.status, STATUS.get(path, 200))
            page.evaluate("document.fonts.ready.then(() => true)")
            page.evaluate(source)
            self.look(page, path, "by day")
            page.emulate_media(color_scheme="dark")
            self.look(page, path, "by lamp", OF_COLOUR)
            page.emulate_media(color_scheme="light")
            page.set_viewport_size({"width": PHONE[0], "height": PHONE[1]})
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE[0], path)
            self.look(page, path, "on a phone", OF_WIDTH)
            page.set_viewport_size({"width": SMALLEST, "height": PHONE[1]})
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), SMALLEST, path)
            with self.subTest(path, how="smallest"):
                self.assertEqual(page.evaluate(SMALLER, LEAST_PX), [])

    def test_what_is_asked_before_a_save(self) -> None:
        page = self.open("/rigs/3/card", color_scheme="light")
        page.locator("#eye_to_sight").fill("650")
        page.get_by_role("button", name="Save the card").click()
        expect(page.get_by_role("button", name="Save it so")).to_be_focused()
        page.evaluate(AXE.read_text())
        self.look(page, "what is asked", "by day")
        page.emulate_media(color_scheme="dark")
        self.look(page, "what is asked", "by lamp", OF_COLOUR)
        page.set_viewport_size({"width": PHONE[0], "height": PHONE[1]})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE[0])


class Interface(InBrowser):
    expected_complaints = ("status of 422",)

    def test_an_example_of_the_json_interface_is_sent_and_answered(self) -> None:
        page = self.open("/docs")
        part = page.locator('form[data-try$="/reach"]')
        part.locator("textarea").press("Control+Enter")
        expect(part.get_by_role("status")).to_contain_text("farthest_m")
        part.locator("textarea").fill('{"rig": 1}')
        part.get_by_role("button").click()
        expect(part.get_by_role("status")).to_contain_text("422")


class EmptyBench(InBrowser):
    def test_the_first_page_of_all(self) -> None:
        page = self.open("/")
        page.evaluate(AXE.read_text())
        self.assertEqual(page.evaluate("axe.run().then(r => r.violations.map(v => v.id))"), [])
