"""A line of a visit: on the phone, by keyboard, by taps, without JavaScript; from lines to a mended tape."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.shop import Shop


def _printed(database: Database) -> None:
    shop = Shop(database)
    rig_id = shop.ready()
    shop.marks(rig_id, 17.0, 38.0, 61.0, 78.0)
    shop.printed(rig_id)


PHONE = (390, 844)


class ProofLog(InBrowser):
    fill_with = staticmethod(_printed)

    def test_a_line_on_the_phone_takes_few_taps(self) -> None:
        page = self.open("/rigs/1/prove", PHONE, has_touch=True)
        line = page.locator("#line")
        page.get_by_role("group", name="Distance").get_by_role("button", name="61").tap()
        expect(line.locator("#up")).to_be_focused()
        page.keyboard.type("3")
        page.get_by_role("group", name="Arrows").get_by_role("button", name="6 arrows").tap()
        page.get_by_role("button", name="Keep this line").tap()
        expect(page.get_by_role("status").first).to_contain_text("Kept.")
        expect(page.locator(".proof-log")).to_contain_text("at 61\u00a0m, 6 arrows 3.0\u00a0cm low")
        for button in line.get_by_role("button").all():
            box = button.bounding_box()
            if box is not None and button.is_visible():
                self.assertGreaterEqual(box["height"], 44.0, button.inner_text())
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_taps_on_the_target_are_the_middle(self) -> None:
        page = self.open("/rigs/1/prove", PHONE, has_touch=True)
        page.get_by_text("Tap them, another day").tap()
        face = page.locator(".taps-face")
        face.scroll_into_view_if_needed()
        box = face.bounding_box()
        assert box is not None
        for right, down in ((0.25, 0.25), (0.25, 0.75), (0.25, 0.5)):
            face.tap(position={"x": box["width"] * right, "y": box["height"] * down})
        expect(page.locator("#arrows")).to_have_value("3")
        expect(page.locator("#right_way")).to_have_value("left")
        self.assertAlmostEqual(float(page.locator("#right").input_value()), 15.0, delta=0.6)
        self.assertLess(float(page.locator("#up").input_value()), 0.7)
        page.get_by_role("button", name="Clear the taps").tap()
        expect(face.locator(".tapped circle")).to_have_count(0)

    def test_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/1/card")
        page.keyboard.press("7")
        expect(page).to_have_url(re.compile("/rigs/1/prove$"))
        page.locator("#distance").focus()
        page.keyboard.press("Control+A")
        page.keyboard.type("47")
        for text in ("", "5"):
            page.keyboard.press("Tab")
            page.keyboard.type(text)
        page.locator("#up").focus()
        page.keyboard.type("2 high")
        page.keyboard.press("Control+Enter")
        expect(page.locator(".proof-log")).to_contain_text("at 47\u00a0m, 5 arrows 2.0\u00a0cm high")

    def test_without_javascript(self) -> None:
        page = self.open("/rigs/1/prove", java_script_enabled=False)
        expect(page.get_by_role("group", name="Distance")).to_have_count(0)
        page.locator("#distance").fill("38")
        page.locator("#up").fill("wide")
        page.get_by_role("button", name="Keep this line").click()
        expect(page.locator("#up-error")).to_contain_text("not a number")
        expect(page.locator("#distance")).to_have_value("38")
        page.locator("#up").fill("1,5 low")
        page.get_by_role("button", name="Keep this line").click()
        expect(page.locator(".proof-log")).to_contain_text("at 38\u00a0m, 4 arrows 1.5\u00a0cm low")
        page.get_by_role("button", name="take back: at 38").click()
        expect(page.get_by_role("status").first).to_contain_text("Taken back.")
        page.get_by_text("Taken back: 1").click()
        page.get_by_role("button", name="put it back").click()
        expect(page.get_by_role("button", name="take back: at 38")).to_be_visible()


class ShiftMended(InBrowser):
    fill_with = staticmethod(_printed)

    def test_from_lines_to_the_mended_pointer(self) -> None:
        page, kept = self.open("/rigs/1/prove"), 0
        for day in range(6):
            for distance in ((38, 78), (47, 61))[day % 2]:
                page.locator("#distance").fill(str(distance))
                page.locator("#up").fill(f"{0.31 * (distance + 0.82):.1f} low")
                page.get_by_text("Tap them, another day").click()
                page.locator("#day").fill(f"2026-11-{10 + day}")
                page.get_by_role("button", name="Keep this line").click()
                kept += 1
                expect(page.locator(".proof-log tr")).to_have_count(kept)
        expect(page.locator("#now")).to_contain_text("towards the near end of the tape")
        page.get_by_role("button", name="Done, the strip moved instead").click()
        expect(page.get_by_role("status").first).to_contain_text("A new chain of lines begins")
        expect(page.locator("#now")).to_contain_text("Shoot 4 arrows")
        rig = open_rig(Database(self.server.settings.database_file), 1)
        assert rig.prove.current is not None
        self.assertEqual((len(rig.prove.lines), rig.prove.current.lines), (12, ()))
        self.assertEqual(len(rig.evaluation.own), 4)
