"""Sessions moved by keys and by drag, as a technician does."""

from datetime import date, timedelta

from playwright.sync_api import expect

from tests.browser import InBrowser
from tests.data import Fill
from tests.shop import Shop
from tests.web.plan.test_pages import OPEN


def _one_rig(database) -> None:  # type: ignore[no-untyped-def]
    Shop(database).rig()


class Moving(InBrowser):
    fill_with: Fill | None = _one_rig

    def setUp(self) -> None:
        super().setUp()
        self.page = self.open("/plan")
        self.page.get_by_label("Open", exact=True).fill(OPEN["open"])
        self.page.locator("#latitude").fill(OPEN["latitude"])
        self.page.locator("#longitude").fill(OPEN["longitude"])
        self.page.get_by_role("button", name="Keep it").click()
        expect(self.page.locator(".day .light").first).to_contain_text("light")

    def test_by_keys(self) -> None:
        first = self.page.locator(".week details.session").first
        begun = first.get_attribute("data-start") or ""
        name = first.locator("summary").get_attribute("id") or ""
        first.locator("summary").focus()
        self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("ArrowDown")
        expect(first.locator(".goes-to")).to_contain_text("Enter")
        self.page.keyboard.press("Escape")
        expect(first.locator(".goes-to")).to_have_text("")
        self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Enter")
        moved = self.page.locator(f'details:has([id="{name}"])')
        there = f"{date.fromisoformat(begun[:10]) + timedelta(days=1)}{begun[10:]}"
        expect(moved).to_have_attribute("data-start", there)
        expect(moved).to_contain_text("put there")
        expect(moved.locator("summary")).to_be_focused()

    def test_by_drag(self) -> None:
        first = self.page.locator(".week details.session").first
        name, begun = first.locator("summary").get_attribute("id") or "", first.get_attribute("data-start") or ""
        days = [each.get_attribute("data-day") for each in self.page.locator(".day").all()]
        there = next(day for day in days if day is not None and day > begun[:10])
        self.page.locator(f'.day[data-day="{there}"]').scroll_into_view_if_needed()
        first.locator("summary").hover()
        self.page.mouse.down()
        box = self.page.locator(f'.day[data-day="{there}"] h2').bounding_box()
        assert box is not None
        self.page.mouse.move(box["x"] + 20, box["y"] + 10, steps=8)
        expect(self.page.locator(".day.over")).to_have_attribute("data-day", there)
        self.page.mouse.up()
        expect(self.page.locator(f'details:has([id="{name}"])')).to_have_attribute("data-start", f"{there}{begun[10:]}")

    def test_without_javascript(self) -> None:
        page = self.open("/plan", java_script_enabled=False)
        first = page.locator(".week details.session").first
        first.locator("summary").click()
        there = f"{date.today() + timedelta(days=4)}T12:00"
        first.locator('input[name="start"]').fill(there)
        name = first.locator("summary").get_attribute("id")
        first.get_by_role("button", name="Put it there").click()
        expect(page.locator(f'details:has([id="{name}"])')).to_have_attribute("data-start", there)
