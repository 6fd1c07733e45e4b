"""From a name and a PIN to a signed card, by keyboard alone; the archer's line on his phone, without scripts."""

import re

from playwright.sync_api import Page, expect

from tests.browser import InBrowser
from tests.data import Fill
from tests.shop import METRIC, Shop


def _one_rig(database) -> None:  # type: ignore[no-untyped-def]
    shop = Shop(database, dict(METRIC))
    rig = shop.rig()
    shop.marks(rig, 17.0, 38.0, 61.0, 95.0)
    shop.printed(rig)


class HandedOver(InBrowser):
    fill_with: Fill | None = _one_rig

    def focus(self, page: Page, name: str, role: str = "button") -> None:
        """Go by Tab to a control."""
        wanted = page.get_by_role(role, name=name, exact=True).first  # type: ignore[arg-type]
        for _ in range(90):
            if wanted.evaluate("(element) => element === document.activeElement"):
                return
            page.keyboard.press("Tab")
        self.fail(f"Tab does not come to {name}")

    def signed_in(self) -> Page:
        page = self.open("/people")
        self.focus(page, "Name", "textbox")
        page.keyboard.type("Bo Tarn")
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        page.keyboard.type("2580")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Bo Tarn").first).to_be_visible()
        page.goto(f"{self.server.address}/who?to=/rigs/1/prove/lock")
        self.focus(page, "You are", "combobox")
        page.keyboard.press("b")
        page.keyboard.press("Tab")
        page.keyboard.type("2580")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/rigs/1/prove/lock$"))
        return page

    def test_by_keyboard_alone(self) -> None:
        page = self.signed_in()
        expect(page.get_by_label("Locked by")).to_have_value("Bo Tarn")
        first = page.locator("#now").inner_text()
        self.focus(page, "Thread-locker")
        page.keyboard.press("Enter")
        expect(page.locator("#now")).not_to_have_text(first)
        expect(page.locator(".lock-list")).to_contain_text("thread-locker, Bo Tarn")
        page.goto(f"{self.server.address}/rigs/1/prove/hand-over")
        expect(page.get_by_label("Handed over by")).to_have_value("Bo Tarn")
        self.focus(page, "Sign it as it stands now")
        page.keyboard.press("Enter")
        expect(page.locator("#now")).to_contain_text("Signed by Bo Tarn")
        with page.expect_download() as got:
            page.get_by_role("link", name="Print it: one side").click()
        self.assertEqual(got.value.path().read_bytes()[:5], b"%PDF-")

    def test_the_archer_writes_a_line_on_his_phone_without_scripts(self) -> None:
        page = self.open("/rigs/1/archer", size=(390, 844), java_script_enabled=False)
        page.get_by_role("button", name="Make a link").click()
        page.goto(self.server.address + (page.locator(".device-list .reads a").first.get_attribute("href") or ""))
        page.get_by_label("Shot at").fill("38")
        page.get_by_label("Middle off by").fill("far")
        page.get_by_role("button", name="Keep this line").click()
        expect(page.get_by_label("Middle off by")).to_have_value("far")
        page.get_by_label("Middle off by").fill("3 low")
        page.get_by_role("button", name="Keep this line").click()
        line = page.locator(".archer-lines li").first
        expect(line).to_contain_text("at 38")
        line.get_by_role("button").click()
        expect(page.get_by_text("No line yet.")).to_be_visible()
