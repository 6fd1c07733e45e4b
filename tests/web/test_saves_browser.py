"""How a save stands is seen at the thing itself, whatever happens to it on the way."""

from __future__ import annotations

import re
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager
from unittest import mock

from playwright.sync_api import Page, expect

from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.services import bench
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in.ends import EndDraft, EndWriter, SavedEnd
from cross_staff.storage.database import Database
from tests.browser import Held, InBrowser, unfold
from tests.core.level.test_station import levelled_card
from tests.shop import Shop, rig_card

UNRELIABLE = """
const sent = window.fetch.bind(window);
window.fetch = async (...asked) => {
  const how = localStorage.getItem("network");
  if (how === "away") throw new TypeError("away");
  const answer = await sent(...asked);
  if (how !== "loses one answer") return answer;
  localStorage.removeItem("network");
  throw new TypeError("lost");
};
"""


def one_rig(database: Database) -> None:
    shop = Shop(database)
    rig_id = shop.rig(levelled_card())
    shop.prepared(rig_id)
    shop.plumb(rig_id)
    shop.rig()


class Saves(InBrowser):
    fill_with = staticmethod(one_rig)
    busy_timeout_ms = 200
    expected_complaints = ("status of 4", "status of 503", "Error Code 503", "ERR_INTERNET_DISCONNECTED", "htmx:")

    @contextmanager
    def held(self) -> Iterator[None]:
        """Another program holds the data."""
        with closing(sqlite3.connect(self.server.settings.database_file, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            yield
            other.execute("ROLLBACK")

    @property
    def rig(self):  # type: ignore[no-untyped-def]
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        return open_rig(database, 1)

    def saved(self, page: Page) -> None:
        """The page says so, by itself or at the form."""
        expect(page.get_by_role("status").filter(has_text=re.compile(r"^\s*Saved")).first).to_be_visible()

    def state(self, page: Page, state: str):  # type: ignore[no-untyped-def]
        return page.locator(f'.save-state[data-state="{state}"]').first

    def test_what_is_typed_while_a_row_is_on_its_way_is_told_by_its_own_answer(self) -> None:
        page = self.open("/rigs/2/tape")
        row = int(page.locator("tr.mark-row").last.get_attribute("data-index") or 0)
        first = Held(page, "**/rigs/2/tape")
        page.fill(f"#row-{row}-distance", "17")
        page.locator(f"#row-{row}-mark").focus()  # the row goes, without its mark
        first.wait()
        page.fill(f"#row-{row}-mark", "20.5")
        page.locator(f"#row-{row}-up").focus()
        first.let_go()
        said = page.locator(f'tr.mark-row[data-index="{row}"] .save-state')
        expect(said).to_contain_text("Saved")

    def test_a_mark_typed_while_the_data_is_held_says_so_and_is_saved_later(self) -> None:
        page = self.open("/rigs/1/tape")
        page.fill("#row-0-distance", "17")
        with self.held():
            page.fill("#row-0-mark", "20.5")
            page.locator("#row-0-up").focus()
            expect(self.state(page, "not-saved")).to_contain_text("the data is held")
            expect(page.locator("#row-0-mark")).to_have_value("20.5")
        expect(self.state(page, "saved")).to_be_visible()
        self.assertEqual([entry.mark_mm for entry in self.rig.log], [20.5])

    def test_a_card_saved_without_a_connection_is_kept_and_sent_later(self) -> None:
        page = self.open("/rigs/1/card")
        unfold(page)
        page.fill("#archer", "Jory Penhale")
        page.context.set_offline(True)
        page.get_by_role("button", name="Save the card").click()
        expect(self.state(page, "not-saved")).to_contain_text("does not answer")
        expect(page.locator("#archer")).to_have_value("Jory Penhale")
        self.assertNotEqual(self.rig.card.archer, "Jory Penhale")
        page.context.set_offline(False)
        self.saved(page)
        self.assertEqual(self.rig.card.archer, "Jory Penhale")

    def test_a_reload_brings_back_what_was_not_saved(self) -> None:
        page = self.unreliable("/rigs/1/card?saved=1")
        page.evaluate("localStorage.setItem('network', 'away')")
        unfold(page)
        page.fill("#release", "hinge")
        page.get_by_role("button", name="Save the card").click()
        expect(self.state(page, "not-saved")).to_be_visible()
        page.reload()
        expect(page.locator("#release")).to_have_value("hinge")
        expect(self.state(page, "not-saved")).to_be_visible()
        page.goto(self.server.address + "/sights")
        expect(page.locator("#save-bar")).to_contain_text("not saved yet")
        expect(page.locator("#save-bar a")).to_have_attribute("href", "/rigs/1/card")
        page.evaluate("localStorage.removeItem('network')")
        expect(page.locator("#save-bar")).to_contain_text("is saved now")
        self.assertEqual(self.rig.card.release, "hinge")

    def test_a_save_whose_answer_was_lost_is_carried_out_once(self) -> None:
        page = self.unreliable("/")
        page.evaluate("localStorage.setItem('network', 'loses one answer')")
        page.fill("#name", "Once bow")
        page.get_by_role("button", name="Put it on the bench").click()
        page.wait_for_url("**/card")
        self.assertIsNone(page.evaluate("localStorage.getItem('network')"))
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        names = [open_rig(database, rig_id).card.name for rig_id in bench.every(database)]
        self.assertEqual(names.count("Once bow"), 1)

    def test_what_is_typed_on_after_an_answer_was_lost_is_saved_too(self) -> None:
        page = self.unreliable("/rigs/1/card")
        page.evaluate("localStorage.setItem('network', 'loses one answer')")
        unfold(page)
        page.fill("#anchor", "corner of the mouth")
        page.get_by_role("button", name="Save the card").click()
        expect(self.state(page, "not-saved")).to_be_visible()
        page.fill("#rules", "lights are barred")
        page.wait_for_url("**saved=1**")
        card = self.rig.card
        self.assertEqual((card.anchor, card.goals.rules), ("corner of the mouth", "lights are barred"))

    def unreliable(self, path: str) -> Page:
        """A page whose network goes away, or loses an answer, as its storage says."""
        page = self.open("/sights")
        page.add_init_script(UNRELIABLE)
        page.goto(self.server.address + path)
        return page

    def test_a_form_with_a_field_named_method_says_so_too(self) -> None:
        page = self.open("/rigs/1/level?axis=first")
        page.fill("#vial", "0.2")
        page.context.set_offline(True)
        page.get_by_role("button", name="Take this reading").click()
        expect(self.state(page, "not-saved")).to_contain_text("does not answer")
        page.context.set_offline(False)
        page.wait_for_url("**/level")
        self.assertEqual(len(self.rig.level_log), 1)

    def test_what_is_refused_says_so_at_its_field(self) -> None:
        page = self.open("/rigs/1/card")
        page.fill("#eye_to_sight", "much")
        page.get_by_role("button", name="Save the card").click()
        expect(page.locator("#eye_to_sight-error")).to_contain_text("not a number")
        expect(page.locator("#eye_to_sight")).to_have_value("much")

    def test_a_page_that_answered_a_form_is_not_sent_again_by_the_next_save(self) -> None:
        """Refused first, saved then, both at one address: the page is fetched, the refused form is gone."""
        path = "/rigs/1/tape/booklet"
        page = self.open(path)
        for name, text in {"label_0": "4", "span_0": "40", "label_1": "5", "span_1": "much"}.items():
            page.fill(f"#{name}", text)
        page.get_by_role("button", name="Keep these strips").click()
        expect(page.locator("#span_1-error")).to_be_visible()
        page.fill("#span_1", "44")
        page.get_by_role("button", name="Keep these strips").click()
        self.saved(page)
        expect(page.locator("#span_1")).to_have_value("44")
        self.assertEqual([strip.span_mm for strip in self.rig.card.sight.booklet.strips], [40.0, 44.0])
        self.assertEqual(page.evaluate("performance.getEntriesByType('navigation')[0].type"), "navigate")

    def test_a_field_that_both_changed_is_asked(self) -> None:
        page = self.open("/rigs/1/card")
        other = page.context.new_page()
        other.goto(self.server.address + "/rigs/1/card")
        other.fill("#farthest", "90")
        other.get_by_role("button", name="Save the card").click()
        self.saved(other)
        page.fill("#farthest", "85")
        page.get_by_role("button", name="Save the card").click()
        expect(page.locator(".conflict")).to_contain_text("Farthest wanted")
        page.get_by_label("saved at").check()
        page.get_by_role("button", name="Save the card").click()
        self.saved(page)
        expect(page.locator("#farthest")).to_have_value("90")

    def test_an_import_says_how_far_it_is_while_it_runs(self) -> None:
        going, keep = threading.Event(), EndWriter.save
        self.addCleanup(going.set)

        def save(writer: EndWriter, draft: EndDraft) -> SavedEnd:
            if draft.key == "b":
                going.wait(60.0)
            return keep(writer, draft)

        page = self.open("/rigs/1/sight_in")
        page.get_by_text("Shots out and in, as CSV").click()
        page.fill("[name=csv]", "end,distance_m,right_mm,up_mm\na,17,5,5\nb,26,1,2\nb,26,3,4\n")
        with mock.patch.object(EndWriter, "save", save):
            page.get_by_role("button", name="Take them in").click()
            expect(self.state(page, "waiting")).to_have_text("1 of 3 shots are in…")
            going.set()
            page.wait_for_url("**/sight_in?taken=3")
        self.assertEqual([len(end.shots) for end in self.rig.every_end], [1, 2])


def with_strips(database: Database) -> None:
    """Rig 1 has marks, and strips of a booklet of which one can be cut."""
    shop = Shop(database)
    rig_id = shop.rig(rig_card("single_pin_slider"))
    shop.marks(rig_id, 17.0, 38.0, 61.0)
    shop.strips(rig_id, Booklet(17.0, 78.0, (Strip("A", 1.0, 34.0), Strip("F", 6.0, 46.0))))


class TwoFormsOfOneAddress(InBrowser):
    fill_with = staticmethod(with_strips)
    expected_complaints = ("ERR_FAILED",)

    def test_what_was_typed_goes_back_into_the_form_it_was_typed_in(self) -> None:
        page = self.open("/rigs/1/tape/booklet")
        self.assertGreater(page.locator("form[action='/rigs/1/tape/booklet']").count(), 1)
        page.route(
            "**/tape/booklet", lambda route: route.abort() if route.request.method == "POST" else route.continue_()
        )
        page.fill("#label_0", "no. 23")
        page.get_by_role("button", name="Keep").click()
        expect(page.locator('.save-state[data-state="not-saved"]')).to_be_visible()
        page.reload()
        expect(page.locator("#label_0")).to_have_value("no. 23")
        with page.expect_navigation():  # tried again by itself, then to the page as it is now
            page.unroute("**/tape/booklet")
        expect(page.locator(".said, .save-state").filter(has_text=re.compile(r"^\s*Saved")).first).to_be_visible()
        expect(page.locator("#label_0")).to_have_value("no. 23")
