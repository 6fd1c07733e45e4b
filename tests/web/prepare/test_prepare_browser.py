"""Prepare in a real browser: by mouse, by keyboard alone, on a phone."""

from __future__ import annotations

from playwright.sync_api import expect

from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.storage.database import Database
from tests.shop import Shop, rig_card
from tests.web.stations import Stations


def three_sheets(database: Database) -> None:
    """Rig 1 has an empty sheet and no card, rig 2 an empty sheet, rig 3 a good one."""
    shop = Shop(database)
    shop.new()
    shop.rig(rig_card("fixed_pins"))
    shop.prepared(shop.rig())


class Prepare(Stations):
    fill_with = staticmethod(three_sheets)

    def test_the_sheet_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/1/prepare")
        for check in CHECKS.values():
            expect(page.locator("#now")).to_have_text(check.do)
            page.wait_for_load_state()  # the keys listen only then
            if check.key == "spine":
                break
            if check.kind == "choice":
                page.keyboard.press("1")
            else:
                expect(page.locator("#number")).to_be_focused()
                page.keyboard.type("200" if check.quantity == "count" else "0")
                page.keyboard.press("Enter")
            if list(CHECKS)[list(CHECKS).index(check.key) + 1] == "spine":
                break
        expect(page.locator("#now")).to_have_text(CHECKS["paper_tear"].do)
        page.locator(".marker").focus()
        for key in ("ArrowRight", "ArrowRight", "Shift+ArrowUp"):
            page.keyboard.press(key)
        expect(page.locator("#right")).to_have_value("1")
        expect(page.locator("#up")).to_have_value("5")
        page.keyboard.press("Enter")
        expect(page.locator(".spot")).to_have_count(1)
        self.assertEqual(self.rig(1).checklist.line("paper_tear").entry.points, ((0.001, 0.005),))

    def test_a_tear_is_put_where_it_is_seen_by_mouse(self) -> None:
        page = self.open("/rigs/2/prepare?line=paper_tear")
        before = len(self.rig(2).log_of("prepare"))
        self.drag(page, 60.0, 40.0)
        right, up = (float(page.locator(f"#{name}").input_value()) for name in ("right", "up"))
        self.assertGreater(right, 3.0)
        self.assertAlmostEqual(up / right, -40.0 / 60.0, delta=0.06)
        page.locator("#right").fill("-4")
        place = page.locator(".marker").get_attribute("transform")
        page.locator("#right").fill("4")
        self.assertNotEqual(place, page.locator(".marker").get_attribute("transform"))
        earlier = page.locator(".log tbody tr").count()
        page.get_by_role("button", name="Take it").click()
        expect(page.locator(".log tbody tr")).to_have_count(earlier + 1)
        self.assertEqual(len(self.rig(2).log_of("prepare")), before + 1)

    def test_a_walk_back_row_by_row(self) -> None:
        page = self.open("/rigs/3/prepare?line=walk_back")
        box = page.locator("svg[data-place]").bounding_box()
        row = page.locator(".marker").nth(1).bounding_box()
        page.mouse.click(box["x"] + 0.7 * box["width"], row["y"] + row["height"] / 2.0)
        self.assertGreater(float(page.locator("#wb_1_right").input_value()), 5.0)
        page.keyboard.press("0")
        expect(page.locator("#wb_1_right")).to_have_value("0")
        for number in (0, 2, 3):
            page.locator(".marker").nth(number).press("0")
        page.get_by_role("button", name="Take it").click()
        expect(page.locator(".log")).to_contain_text("Walk-back4 distances")

    def test_without_javascript(self) -> None:
        page = self.open("/rigs/2/prepare?line=eyes_closed", java_script_enabled=False)
        page.get_by_role("button", name="the peep is too high").click()
        expect(page.get_by_role("status")).to_contain_text("Let down first, then lower it a little.")
        page.get_by_role("button", name="Undo: Peep, drawn with eyes closed").click()
        expect(page.locator("#now")).to_have_text(CHECKS["eyes_closed"].do)

    def test_thumbs_fit_at_the_range(self) -> None:
        page = self.open("/rigs/2/prepare?line=ties", size=(390, 844))
        for answer in page.locator(".answer").all():
            self.assertGreaterEqual(answer.bounding_box()["height"], 44)
        page.get_by_role("button", name="secured after shooting").click()
        expect(page.locator(".staff li:visible")).to_have_count(3)
