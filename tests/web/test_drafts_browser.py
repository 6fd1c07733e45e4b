"""Forms under the hand: Back, reload, digits and links in the middle of them, and half-typed numbers."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from cross_staff.storage.database import Database
from tests.browser import Held, InBrowser, unfold
from tests.shop import Shop, rig_card


def with_marks(database: Database) -> None:
    """A rig that is done, and one that has only its card."""
    shop = Shop(database)
    shop.marks(shop.ready(rig_card("single_pin_slider")), 17.0, 47.0, 78.0)
    shop.rig(rig_card())


class Drafts(InBrowser):
    fill_with = staticmethod(with_marks)

    def typed(self, page: Page, name: str, text: str) -> None:
        unfold(page)
        with page.expect_response("**/draft/**"):
            page.locator(f"#{name}").fill(text)

    def test_back_reload_links_digits_and_another_window_keep_what_is_typed(self) -> None:
        page = self.open("/rigs/2/card")
        self.typed(page, "anchor", "web of the hand")
        self.typed(page, "eye_to_sight", "8")  # half of a number
        leave = (
            lambda: page.get_by_role("link", name="Tape").click(),
            lambda: page.keyboard.press("6"),
            lambda: page.get_by_role("link", name="The sight in full").first.click(),
        )
        for away in leave:
            page.locator("h1").click()
            away()
            expect(page.locator("#anchor")).to_have_count(0)
            page.go_back()
            expect(page.locator("#anchor")).to_have_value("web of the hand")
            page.reload()
            expect(page.locator("#anchor")).to_have_value("web of the hand")
            expect(page.locator("#eye_to_sight")).to_have_value("8")
        other = page.context.new_page()
        other.goto(f"{self.server.address}/rigs/2/card")
        expect(other.locator(".unsaved")).to_contain_text("Not saved yet: what you typed at")
        other.locator("#eye_to_sight").fill("815")
        other.get_by_role("button", name="Save the card").click()
        expect(other.locator(".said").first).to_contain_text("Saved. Revision 3 holds now.")
        other.close()

    def test_it_is_discarded_in_one_act(self) -> None:
        page = self.open("/rigs/2/card")
        was = page.locator("#release").input_value()
        self.typed(page, "release", "thumb, brass")
        page.reload()
        page.get_by_role("button", name="discard it").click()
        expect(page.locator("#release")).to_have_value(was)
        expect(page.locator(".unsaved")).to_have_count(0)

    def test_enter_goes_to_the_next_field_and_saves_nothing(self) -> None:
        page = self.open("/rigs/2/card")
        revision = page.locator(".rig-head").inner_text()
        page.locator("#home").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#farthest")).to_be_focused()
        for _ in range(2):  # what is folded is passed over
            page.keyboard.press("Enter")
        expect(page.locator("#pin_distances")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Save the card")).to_be_focused()
        page.reload()
        self.assertEqual(page.locator(".rig-head").inner_text(), revision)

    def test_the_last_letters_before_the_page_is_left_are_kept(self) -> None:
        page = self.open("/rigs/2/card/sight")
        page.locator("#sight_name").fill("three-pin slider, as it hangs here")
        page.goto(f"{self.server.address}/")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        for _ in range(20):  # the last letters are on their way while the next page is
            page.goto(f"{self.server.address}/rigs/2/card/sight")
            if page.locator(".unsaved").count():
                break
        expect(page.locator("#sight_name")).to_have_value("three-pin slider, as it hangs here")

    def test_a_save_is_asked_about_and_back_finds_the_form(self) -> None:
        page = self.open("/rigs/1/card")
        self.typed(page, "eye_to_sight", "802")
        page.get_by_role("button", name="Save the card").click()
        expect(page.locator("h2.now")).to_have_text("Was the bow changed, or only what is written of it?")
        expect(page.get_by_label("Mistyped before")).to_be_checked()
        page.get_by_role("link", name="Back to the form").click()
        expect(page.locator("#eye_to_sight")).to_have_value("802")
        page.locator("#eye_to_sight").press("Control+Enter")
        expect(page.get_by_role("button", name="Save it so")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("#eye_to_sight")).to_have_value("802")
        expect(page.locator("#staff")).not_to_contain_text("set aside")

    def test_without_scripts_it_is_asked_too_and_nothing_is_lost(self) -> None:
        page = self.open("/rigs/1/card", java_script_enabled=False)
        page.get_by_text("Who, and what for").click()
        page.locator("#anchor").fill("web of the hand")
        page.locator("#eye_to_sight").fill("760")
        page.get_by_role("button", name="Save the card").click()
        page.get_by_label("The bow was changed").check()
        page.get_by_role("button", name="Save it so").click()
        expect(page.locator("#anchor")).to_have_value("web of the hand")
        expect(page.locator("#staff")).to_contain_text("set aside")
        page.get_by_role("link", name="Something was done to the bow").click()
        page.get_by_role("button", name="It did not happen").first.click()
        expect(page.locator("#staff")).not_to_contain_text("set aside")


class Marks(InBrowser):
    fill_with = staticmethod(with_marks)

    def test_a_half_typed_number_is_not_logged(self) -> None:
        page = self.open("/rigs/1/tape")
        held = Held(page, "**/rigs/1/tape")
        mark = page.locator("#row-1-mark")
        before = mark.input_value()
        page.locator("#row-0-arrows").fill("5")
        page.locator("#row-2-arrows").focus()
        held.wait()  # the first save is on its way and stays there
        page.locator("#row-2-arrows").fill("4")
        mark.focus()  # the second waits
        mark.fill("4")
        with page.expect_response("**/rigs/1/tape"), page.expect_response("**/rigs/1/tape"):
            held.let_go()
        page.reload()
        expect(mark).to_have_value(before)
        expect(page.locator(".log").last).not_to_contain_text("47 m, 4 mm")
        mark.fill("41,5")
        with page.expect_response("**/rigs/1/tape"):
            page.keyboard.press("Tab")
        page.reload()
        expect(mark).to_have_value("41.5")
