"""Prepare, Mount and the card's other pages in a real browser: by mouse, by keyboard alone, on a phone."""

from __future__ import annotations

import io
import re
from fractions import Fraction

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.simulate.bench import HiddenAxis
from cross_staff.demo.bench_work import LINE_RAD
from cross_staff.services import bench, card, prepare
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.core.level.test_station import PLUMB, levelled_card
from tests.rigs import NOON
from tests.web.client import METRIC


class Stations(InBrowser):
    def rig(self, rig_id: int):  # type: ignore[no-untyped-def]
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        return open_rig(database, rig_id)

    def drag(self, page: Page, right: float, down: float) -> None:
        """Press beside the middle of the drawing, in pixels of the screen."""
        box = page.locator("svg[data-place]").bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2.0, box["y"] + box["height"] / 2.0)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2.0 + right, box["y"] + box["height"] / 2.0 + down, steps=4)
        page.mouse.up()


class Prepare(Stations):
    def test_the_sheet_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/5/prepare")
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
        self.assertEqual(self.rig(5).sheet.line("paper_tear").entry.points, ((0.001, 0.005),))

    def test_a_tear_is_put_where_it_is_seen_by_mouse(self) -> None:
        page = self.open("/rigs/6/prepare?line=paper_tear")
        before = len(self.rig(6).prepare_log)
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
        self.assertEqual(len(self.rig(6).prepare_log), before + 1)

    def test_a_walk_back_row_by_row(self) -> None:
        page = self.open("/rigs/3/prepare?line=walk_back")
        box = page.locator("svg[data-place]").bounding_box()
        row = page.locator(".marker").nth(1).bounding_box()
        page.mouse.click(box["x"] + 0.7 * box["width"], row["y"] + row["height"] / 2.0)
        self.assertGreater(float(page.locator("#wb_1_right").input_value()), 5.0)
        page.keyboard.press("0")
        expect(page.locator("#wb_1_right")).to_have_value("0")
        page.get_by_role("button", name="Take it").click()
        expect(page.locator(".log")).to_contain_text("Walk-back4 distances")

    def test_without_javascript(self) -> None:
        page = self.open("/rigs/6/prepare?line=eyes_closed", java_script_enabled=False)
        page.get_by_role("button", name="the peep is too high").click()
        expect(page.get_by_role("status")).to_contain_text("Let down first, then lower it a little.")
        page.get_by_role("button", name="Undo: Peep, drawn with eyes closed").click()
        expect(page.locator("#now")).to_have_text(CHECKS["eyes_closed"].do)

    def test_thumbs_fit_at_the_range(self) -> None:
        page = self.open("/rigs/6/prepare?line=ties", size=(390, 844))
        for answer in page.locator(".answer").all():
            self.assertGreaterEqual(answer.bounding_box()["height"], 44)
        page.get_by_role("button", name="secured after shooting").click()
        expect(page.locator(".staff li:visible")).to_have_count(3)


class Mount(Stations):
    def test_planning_and_taking_a_place(self) -> None:
        page = self.open("/rigs/3/mount")
        expect(page.locator(".drawing.side")).to_be_visible()
        with page.expect_response("**/mount?*"):
            page.locator("#home").select_option("centred")
        expect(page.locator("#mount-plan")).to_contain_text("home centred on the rail")
        expect(page).to_have_url(re.compile("home=centred"))
        page.go_back()
        page.goto(self.server.address + "/rigs/3/mount?home=reserve")
        page.get_by_role("button", name="Mount it here").click()
        expect(page.get_by_role("status")).to_contain_text("holds now")
        self.assertEqual(self.rig(3).card.mount.home, "reserve")

    def test_the_steps_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/6/mount")
        for _ in range(len(self.rig(6).steps)):
            before = page.locator("#now").inner_text()
            page.locator("#now").evaluate("document.activeElement.blur()")
            while page.evaluate("document.activeElement.textContent.trim()") != "It is so":
                page.keyboard.press("Tab")
            page.keyboard.press("Enter")
            expect(page.locator("#now")).not_to_have_text(before)
        expect(page.locator("#now")).to_have_text("The sight is mounted.")

    def test_a_witness_mark_with_a_photo(self) -> None:
        page = self.open("/rigs/6/mount/marks", size=(390, 844))
        out = io.BytesIO()
        Image.new("RGB", (1200, 900), (60, 80, 90)).save(out, "PNG")
        page.locator("#joint").fill("pointer")
        page.locator("#photo").set_input_files({"name": "a.png", "mimeType": "image/png", "buffer": out.getvalue()})
        page.get_by_role("button", name="Keep this mark").click()
        picture = page.get_by_alt_text("Photo of the mark: pointer")
        expect(picture).to_be_visible()
        self.assertGreater(picture.evaluate("image => image.naturalWidth"), 100)
        page.locator("#photo").set_input_files(
            {"name": "b.png", "mimeType": "image/png", "buffer": b"0" * (13 * 1024 * 1024)}
        )
        expect(page.locator(".field:has(#photo)")).to_contain_text("send one of at most 12 MB")


class Level(Stations):
    def levelling(self) -> int:
        """A bow in the vise, its gate open and the bow plumb; returns its id."""
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        rig_id = bench.add(database, "In the vise", "", METRIC, NOON)
        card.save(database, rig_id, 1, levelled_card(), METRIC, NOON, "measured")
        opened = BenchEntry("prepare", OVERRIDE, 0, NOON, note="checked at the shop")
        prepare.override_gate(database, rig_id, opened)
        prepare.enter(database, rig_id, PLUMB)
        return rig_id

    def test_an_axis_is_brought_in_by_the_pages_orders_alone(self) -> None:
        for seed in (3, 8):
            hidden = HiddenAxis.drawn(np.random.default_rng(seed))
            rig_id = self.levelling()
            page = self.open(f"/rigs/{rig_id}/level")
            turns = 0
            for _ in range(40):
                if "first axis" not in page.locator("#work-title, .eye").first.inner_text().lower():
                    break
                if asked := page.locator("#turned").input_value():
                    way = -1.0 if page.locator("#turned_way").input_value() == "anticlockwise" else 1.0
                    if "turn half of it back" in page.locator(".field:has(#vial)").inner_text():
                        asked = f"{float(Fraction(asked)) / 2.0}"
                        page.locator("#turned").fill(asked)
                        way = -way
                        turns -= 1
                    hidden.turn(way * float(Fraction(asked)))
                    turns += 1
                page.locator("#vial").fill(f"{-hidden.look() / LINE_RAD:.2f}")
                with page.expect_navigation():
                    page.locator("#vial").press("Enter")
            self.assertEqual(self.rig(rig_id).level.axes["first"].standing, "good", seed)
            self.assertLessEqual(turns, 8)
            self.assertLess(abs(hidden.error_rad), 1.1 * self.rig(rig_id).level.axes["first"].tolerance, seed)

    def test_a_reading_by_keyboard_alone(self) -> None:
        page = self.open("/rigs/2/level")
        before = len(self.rig(2).level_log)
        expect(page.locator(".marker.bubble").nth(1)).to_be_focused()
        for key in ("ArrowRight", "ArrowRight", "Shift+ArrowLeft"):
            page.keyboard.press(key)
        expect(page.locator("#vial")).to_have_value("-0.8")
        with page.expect_navigation():
            page.keyboard.press("Enter")
        self.assertEqual((len(self.rig(2).level_log), self.rig(2).level_log[-1].vial_div), (before + 1, -0.8))
        page.get_by_role("button", name="Undo: ").first.press("Enter")
        expect(page.locator(".log tbody tr").first).to_contain_text("taken back")

    def test_a_bubble_is_put_by_thumb_at_the_range(self) -> None:
        page = self.open("/rigs/2/level", size=(390, 844))
        page.locator("svg.vial").nth(1).scroll_into_view_if_needed()
        box = page.locator("svg.vial").nth(1).bounding_box()
        page.mouse.click(box["x"] + 0.7 * box["width"], box["y"] + 0.5 * box["height"])
        self.assertAlmostEqual(float(page.locator("#vial").input_value()), 0.2 * 560.0 / 58.0, delta=0.2)
        self.assertGreaterEqual(page.locator(".take").bounding_box()["height"], 44)

    def test_a_photo_is_read_by_putting_its_marks(self) -> None:
        page = self.open(f"/rigs/{self.levelling()}/level")
        out = io.BytesIO()
        Image.new("RGB", (1000, 400), (190, 200, 120)).save(out, "PNG")
        page.locator("#vial-photo").set_input_files(
            {"name": "v.png", "mimeType": "image/png", "buffer": out.getvalue()}
        )
        page.get_by_role("button", name="Read it off the photo").click()
        expect(page.locator(".marker")).to_have_count(4)
        box = page.locator("svg[data-place]").bounding_box()
        page.mouse.click(box["x"] + 0.62 * box["width"], box["y"] + 0.5 * box["height"])
        self.assertAlmostEqual(float(page.locator("#right_end").input_value()), 620.0, delta=4.0)
        page.locator("#lines").fill("1")
        page.locator("button.is-primary").click()
        expect(page.get_by_text("The bubble was read off a photo")).to_be_visible()
        self.assertAlmostEqual(float(page.locator("#vial").input_value()), 0.1, delta=0.03)

    def test_sliders_move_the_drawings(self) -> None:
        page = self.open("/rigs/2/level/picture")
        with page.expect_response("**/level/picture?*"):
            page.locator("#pitch").press("Home")
        expect(page.locator("#level-picture")).to_contain_text("60° down")
        page.goto(self.server.address + "/rigs/2/level/cost")
        with page.expect_response("**/level/cost?*"):
            page.locator("#third").press("End")
        expect(page.locator("#level-cost")).to_contain_text("third +3.00°")


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
