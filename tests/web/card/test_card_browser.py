"""The card's pages in a real browser."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.web.stations import Stations


class Card(Stations):
    def test_the_sight_is_described_row_by_row(self) -> None:
        page = self.open("/rigs/4/card/sight")
        rows = page.locator("table[data-prefix=control] tbody tr")
        count = rows.count()
        page.locator(f"#control_{count - 1}_name").fill("Third knob")
        expect(rows).to_have_count(count + 1)
        page.locator("#head_in_use").fill("ring")
        with page.expect_response("**/stale"):
            page.locator("#kind").select_option("fixed_pins")
        page.get_by_role("button", name="Save the sight").click()
        expect(page.locator(f"#control_{count - 1}_name")).to_have_value("Third knob")
        page.locator(f"#control_{count - 1}_checked").check()
        page.get_by_role("button", name="keep it as a model").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("two pins on one post")

    def test_what_was_done_to_the_bow_is_told_before_it_is_saved(self) -> None:
        page = self.open("/rigs/1/card")
        page.get_by_text("Something was done to the bow").click()
        page.get_by_label("sight off and on, or knocked").check()
        expect(page.locator("#stale-ahead")).to_contain_text("Saving this makes stale: level, home mark.")
        page.get_by_role("button", name="Save the card").click()
        expect(page.locator("#staff")).to_contain_text("stale: rig changed")

    def test_another_build_and_back(self) -> None:
        page = self.open("/rigs/1/card/arrows")
        expect(page.locator(".builds")).to_contain_text("predicted")
        page.get_by_role("button", name="Use mid-size, wet days").click()
        expect(page.get_by_role("status")).to_contain_text("Another build is in use")
        page.get_by_role("button", name="Use slim carbon, low vanes").click()
        page.get_by_role("link", name="Open mid-size, wet days").click()
        page.locator("#parts tbody tr:last-child input").first.fill("Wrap")
        expect(page.locator("#parts tbody tr")).to_have_count(7)
