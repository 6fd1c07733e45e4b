"""The card's pages in a real browser."""

from __future__ import annotations

from dataclasses import replace

from playwright.sync_api import expect

from cross_staff.storage.database import Database
from tests.browser import Held
from tests.rigs import TEMPLATES
from tests.shop import Shop, rig_card
from tests.web.stations import Stations


def two_cards(database: Database) -> None:
    """Rig 1 is done and has two builds of arrow, rig 2 a sight with two pins on one post."""
    shop = Shop(database)
    full = rig_card()
    heavier = replace(full.build, name="mid-size", measured_mass_kg=0.027, sessions=())
    shop.marks(shop.ready(replace(full, builds=(full.build, heavier))), 17.0, 38.0, 61.0, 78.0)
    shop.rig(rig_card("vertical_pin_slider"))


class Card(Stations):
    fill_with = staticmethod(two_cards)

    def test_the_sight_is_described_row_by_row(self) -> None:
        page = self.open("/rigs/2/card/sight")
        rows = page.locator("table[data-prefix=control] tbody tr")
        count = rows.count()
        page.locator(f"#control_{count - 1}_name").fill("Third knob")
        expect(rows).to_have_count(count + 1)
        page.locator("#head_in_use").fill("ring")
        with page.expect_response("**/stale"):
            page.locator("#kind").select_option("fixed_pins")
        page.get_by_role("button", name="Save the sight").click()
        expect(page.locator(".said").first).to_have_text("Saved.")
        expect(page.locator(f"#control_{count - 1}_name")).to_have_value("Third knob")
        page.locator(f"#control_{count - 1}_checked").check()
        page.get_by_role("button", name="keep it as a model").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text(TEMPLATES["vertical_pin_slider"].name)

    def test_what_was_done_to_the_bow_is_told_before_it_is_saved(self) -> None:
        page = self.open("/rigs/1/card")
        page.get_by_role("link", name="Something was done to the bow").click()
        page.get_by_label("sight or bow knocked").check()
        expect(page.locator("#events-ahead")).to_contain_text("Sets aside 6 looks at the axes, 4 marks.")
        page.get_by_role("button", name="Record it").click()
        expect(page.locator("#staff")).to_contain_text("set aside: rig changed")
        expect(page.get_by_text("Prove it again:")).to_be_visible()
        page.get_by_role("button", name="It did not happen: sight or bow knocked").click()
        expect(page.locator("#staff")).not_to_contain_text("set aside")

    def test_another_build_and_back(self) -> None:
        page = self.open("/rigs/1/card/arrows")
        expect(page.locator(".builds")).to_contain_text("predicted")
        page.get_by_role("button", name="Use mid-size").click()
        expect(page.get_by_role("status")).to_contain_text("Another build is in use")
        page.get_by_role("button", name="Use slim").click()
        expect(page.get_by_role("button", name="Use mid-size")).to_be_visible()  # saved, before the link is followed
        page.get_by_role("link", name="Open mid-size").click()
        page.locator("#parts tbody tr:last-child input").first.fill("Wrap")
        expect(page.locator("#parts tbody tr")).to_have_count(7)

    def test_a_part_typed_before_the_script_is_there_still_gets_a_spare_row(self) -> None:
        page = self.open("/")
        held = Held(page, "**/js/shared/rows.js")
        page.goto(f"{self.server.address}/rigs/1/card/arrows/1", wait_until="commit")
        held.wait()
        page.locator("#parts tbody tr:last-child input").first.fill("Wrap")
        held.let_go()
        expect(page.locator("#parts tbody tr")).to_have_count(7)
        expect(page.locator("#parts tbody tr:last-child input").first).to_have_value("")
