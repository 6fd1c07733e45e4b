"""From an empty bench to a first tape, as different people come to it: how much has to be filled in and pressed."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser import InBrowser
from tests.hand import Hand

MOST_FIELDS, MOST_CLICKS = 10, 5
SHOP = {
    "sight_kind": "single_pin_slider", "arrow_mass": "412", "shaft_diameter": "6.1", "readings": "281 282",
    "peep_square": "104", "eye_to_sight": "812", "home": "18", "farthest": "60", "target_size": "25",
}  # fmt: skip
INCHES = SHOP | {"shaft_diameter": "15/64", "eye_to_sight": "32", "peep_square": "4 1/8", "home": "20",
                 "farthest": "70", "target_size": "10"}  # fmt: skip


class FirstTape(InBrowser):
    def begin(self, page: Page, name: str, units: str = "metric") -> Hand:
        """Put a rig on the bench."""
        page.locator("#units").select_option(units)
        hand = Hand(page)
        hand.fill(name=name)
        hand.press("button", "Put it on the bench")
        return hand

    def print_it(self, hand: Hand, what: str, most: int = MOST_CLICKS) -> None:
        """From a saved card to the sheet; says what it took."""
        hand.press("link", "Tape")
        hand.press("link", "Print", exact=True)
        with hand.page.expect_download() as sheet:
            hand.press("button", "Print and keep it")
        self.assertTrue(sheet.value.suggested_filename.endswith(".pdf"))
        print(hand.said(what))
        self.assertLessEqual(hand.fields, MOST_FIELDS)
        self.assertLessEqual(hand.clicks, most)

    def save(self, hand: Hand) -> None:
        hand.press("button", "Save the card")
        expect(hand.page.get_by_role("status").first).to_contain_text("Revision 2 holds now")

    def test_a_shop_with_scale_rule_and_chronograph(self) -> None:
        page = self.open("/")
        hand = self.begin(page, "Hedge bow")
        expect(page.locator("#sight_kind")).to_be_focused()  # no key is pressed before the first field that matters
        hand.fill(**SHOP)
        expect(page.locator("#next-needed")).to_be_hidden()
        self.save(hand)
        self.print_it(hand, "a shop build")

    def test_at_home_with_nothing_but_a_rule_in_inches(self) -> None:
        page = self.open("/")
        hand = self.begin(page, "Gate bow", "yards")
        for name in ("readings", "arrow_mass", "shaft_diameter"):
            with page.expect_response("**/card/estimate"):
                page.locator(f"button[name=estimate][value={name}]").click()
            expect(page.locator(f"button[name=estimate][value={name}]")).to_have_count(0)
        hand.clicks += 3
        hand.fill(
            **{name: text for name, text in INCHES.items() if name not in ("readings", "arrow_mass", "shaft_diameter")}
        )
        self.save(hand)
        expect(page.locator(".need .note")).to_have_count(3)
        hand.clicks -= 3  # a button in place of a field each
        hand.fields += 3
        self.print_it(hand, "a home build, three figures estimated by a button")

    def test_without_scripts_and_in_inches(self) -> None:
        page = self.open("/", java_script_enabled=False)
        hand = self.begin(page, "Barn bow", "yards")
        page.locator("button[name=estimate][value=peep_square]").click()
        expect(page.get_by_text("Put in place of a measurement")).to_be_visible()
        hand.fill(**{name: text for name, text in INCHES.items() if name != "peep_square"})
        self.save(hand)
        hand.fields += 1
        self.print_it(hand, "without scripts, the peep estimated")

    def test_without_a_peep(self) -> None:
        page = self.open("/")
        hand = self.begin(page, "Bare bow")
        hand.fill(**{name: text for name, text in SHOP.items() if name != "peep_square"})
        page.locator("#peep_way").select_option("eye")
        page.locator("#peep_square").fill("110")
        hand.fields += 1  # in place of the peep's height
        self.save(hand)
        self.print_it(hand, "without a peep")

    def test_another_sight_on_the_same_bow(self) -> None:
        page = self.open("/")
        hand = self.begin(page, "Twin bow")
        hand.fill(**SHOP)
        self.save(hand)
        page.goto(self.server.address)
        again = Hand(page)
        again.press("button", "Twin bow: same bow, second sight")
        again.fill(sight_kind="target_scope", eye_to_sight="851")
        self.save(again)
        self.print_it(again, "a second sight on the same bow")
        self.assertEqual(again.fields, 2)

    def test_another_arrow_of_the_same_bow(self) -> None:
        page = self.open("/")
        hand = self.begin(page, "Two-arrow bow")
        hand.fill(**SHOP)
        self.save(hand)
        page.get_by_role("link", name="Arrow builds side by side").click()
        other = Hand(page)
        other.press("button", "Copy")
        other.fill(arrow_mass="455")
        other.press("button", "Save this build")
        expect(page.get_by_role("heading", level=1)).to_have_text("Two-arrow bow")
        other.press("button", "Use")
        expect(page.get_by_role("status")).to_contain_text("Another build is in use")
        self.print_it(other, "another arrow of the same bow", MOST_CLICKS + 1)  # it is put on the bow as well
        self.assertEqual(other.fields, 1)

    def test_n_goes_from_one_that_matters_to_the_next(self) -> None:
        page = self.open("/")
        self.begin(page, "Ridge bow")
        page.locator("h1").click()
        for name, text in SHOP.items():
            if page.locator(f"#{name}").input_value():
                continue  # what the shop chose last
            page.keyboard.press("n")
            expect(page.locator(f"#{name}")).to_be_focused()
            Hand(page).fill(**{name: text})
            page.locator("h1").click()
        expect(page.locator("#next-needed")).to_be_hidden()
