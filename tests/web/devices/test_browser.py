"""Five stand-ins fill a rig from card to tape; what is out of range, cold, gone or typed over is not taken."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from unittest import mock

from playwright.sync_api import Page, expect

from cross_staff.devices import stand_ins
from cross_staff.devices.stand_ins import StandIn
from cross_staff.services import devices
from cross_staff.storage.database import Database
from tests.browser import InBrowser
from tests.shop import Shop
from tests.stand_ins import Listening
from tests.web.test_axe import AXE

NAMES = {
    "chronograph": "Gate",
    "inclinometer": "Tilt box",
    "rangefinder": "Finder",
    "scale": "Scale",
    "caliper": "Caliper",
}
TRUTH = {"speed": 81.4, "pitch": 0.0, "roll": 0.0, "distance": 26.0, "slope": -12.0, "mass": 26.71, "length": 6.52}


class Filled(InBrowser):
    @classmethod
    def setUpClass(cls) -> None:
        often = {"chronograph": 1.1, "inclinometer": 0.1, "rangefinder": 0.5, "scale": 0.2, "caliper": 0.2}
        cls.enterClassContext(mock.patch.object(stand_ins, "EVERY_S", often))
        listening = Listening(
            StandIn(kind, truth={f: TRUTH[f] for f in stand_ins.GIVES[kind]}, faults=frozenset(["doubles"]))  # type: ignore[index, misc]
            for kind in NAMES
        )
        cls.addClassCleanup(listening.stop)

        def fill(database: Database) -> None:
            Shop(database).new("Fern bow")
            Shop(database).ready()
            for (kind, name), port in zip(NAMES.items(), listening.ports):
                devices.add(database, name, kind, "127.0.0.1", port, datetime.now(UTC))

        cls.fill_with = staticmethod(fill)
        super().setUpClass()

    @property
    def shop(self) -> Shop:
        database = Database(self.server.settings.database_file)
        self.addCleanup(database.close)
        return Shop(database)

    def take(self, page: Page, field: str) -> float:
        """F2 in a field, once its instrument is heard; what then stands there."""
        where = page.locator(f"#{field}")
        where.focus()
        beside = page.get_by_role("button", name="Take it").and_(
            page.locator(f"#{field} ~ .take button, .field:has(#{field}) .take button")
        )
        expect(beside.first).to_be_enabled()
        for _ in range(20):  # a reading may have grown too old just now
            where.press("F2")
            if where.input_value():
                break
            page.wait_for_timeout(200)
        return float(where.input_value())

    def test_from_card_to_tape(self) -> None:
        page = self.open("/rigs/1/card")
        page.locator("#sight_kind").select_option("single_pin_slider")
        self.assertAlmostEqual(self.take(page, "arrow_mass"), 26.71, delta=0.08)
        self.assertAlmostEqual(self.take(page, "shaft_diameter"), 6.52, delta=0.08)
        page.get_by_role("button", name="Shot by shot").click()
        expect(page.locator("#readings")).to_have_value(re.compile(r"^(\S+ ){3}\S+"))
        page.get_by_role("button", name="Shot by shot").click()
        speeds = [float(each) for each in page.locator("#readings").input_value().split()]
        for each in speeds:
            self.assertAlmostEqual(each, 81.4, delta=2.0)
        for name, text in (
            ("eye_to_sight", "820"),
            ("peep_square", "104"),
            ("home", "17"),
            ("farthest", "78"),
            ("target_size", "25"),
        ):
            page.locator(f"#{name}").fill(text)
        page.keyboard.press("Control+Enter")
        page.wait_for_url("**saved=1**")
        rig = self.shop.open(1)
        self.assertEqual(rig.card.build.newest_session.readings_mps, tuple(speeds))
        expect(page.locator(".taken-from").first).to_contain_text("by ")
        expect(page.locator(".field:has(#readings) .taken-from")).to_contain_text(f"{len(speeds)} of them by Gate")

        page = self.open("/rigs/2/level?axis=second")
        before = page.locator(".log tbody tr").count()
        page.get_by_role("button", name="Follow it").click()
        expect(page.locator("input[name=taken]")).to_be_attached()
        expect(page.locator("#pitch")).to_have_value(re.compile(r"^-?0(\.[0-2])?$"))
        page.locator("#vial").fill("0")
        page.locator("#vial").press("Control+Enter")
        expect(page.locator(".log")).to_contain_text("tilt by Tilt box")
        expect(page.locator("input[name=taken]")).to_have_count(0)  # the next reading begins anew
        tilt = page.locator("#pitch").input_value()
        page.locator("#pitch").fill("1")
        page.locator("#pitch").fill(tilt)
        page.locator("#vial").fill("0")
        page.locator("#vial").press("Control+Enter")
        expect(page.locator(".log tbody tr")).to_have_count(before + 2)
        expect(page.locator(".log")).to_contain_text("tilt by Tilt box")
        self.assertEqual(page.locator(".log .taken-from").count(), 1)

        page = self.open("/rigs/2/sight_in")
        self.assertAlmostEqual(self.take(page, "distance"), 26.0, delta=1.0)
        expect(page.locator(".field:has(#distance) .take")).to_contain_text("12° down Finder")
        page.locator("#mm-right").fill("12")
        page.locator("#mm-up").fill("-8")
        page.get_by_role("button", name="Add").click()
        page.locator("#stands").select_option("home")
        with page.expect_navigation():
            page.get_by_role("button", name="End is done").click()
        expect(page.locator(".range-log")).to_contain_text("distance by Finder")

        page = self.open("/rigs/2/tape?read=lines")
        last = page.locator("tr.mark-row").last.get_attribute("data-index")
        self.assertAlmostEqual(self.take(page, f"row-{last}-distance"), 26.0, delta=1.0)
        expect(page.locator(".take:visible")).to_have_count(1)
        page.locator(f"#row-{last}-distance").fill("61")  # what is typed holds
        self.assertAlmostEqual(self.take(page, f"row-{last}-mark"), 6.52, delta=0.08)
        page.locator(f"#row-{last}-up").focus()
        expect(page.locator("tr.mark-row .save-state").first).to_contain_text("Saved")

        page.goto(f"{self.server.address}/rigs/2/taken")
        for name in ("Tilt box", "Finder", "Caliper"):
            expect(page.locator("table")).to_contain_text(name)
        page.goto(f"{self.server.address}/rigs/1/taken")
        for name in ("Gate", "Scale", "Caliper"):
            expect(page.locator("table")).to_contain_text(name)

    def test_what_is_out_of_the_field_s_range_is_shown_and_not_taken(self) -> None:
        page = self.open("/rigs/2/card")
        wide = page.locator(".field:has(#shaft_diameter) .take")
        expect(wide).to_contain_text("6.5")
        page = self.open("/rigs/2/prepare?line=rest_centred")
        row = page.locator(".field:has(#number) .take")
        expect(row.get_by_role("button")).to_be_enabled()
        page.locator("#number").press("F2")
        self.assertAlmostEqual(float(page.locator("#number").input_value()), 6.52, delta=0.08)
        page.locator("#number").press("Control+A")
        page.keyboard.type("0.4")
        self.assertEqual(page.locator("input[name=taken]").input_value(), "[]")

    def test_nothing_of_it_is_in_the_way_of_a_screen_reader(self) -> None:
        for path, size in (
            ("/rigs/2/card", (1280, 800)),
            ("/rigs/2/level?axis=second", (390, 844)),
            ("/devices", (320, 700)),
        ):
            page = self.open(path, size=size)
            expect(page.locator(".take b, .reads").first).not_to_be_empty()
            page.evaluate(AXE.read_text())
            self.assertEqual(page.evaluate("axe.run().then((r) => r.violations.map((v) => v.id))"), [], path)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), size[0], path)

    def test_the_page_of_the_instruments_says_what_they_say(self) -> None:
        page = self.open("/devices")
        for name, words in (("Scale", "mass 26.7"), ("Finder", "slope -1"), ("Tilt box", "pitch")):
            expect(page.locator("[data-device]").filter(has_text=name).locator(".reads")).to_contain_text(words)
        expect(page.locator("[data-device].connected")).to_have_count(5)


class TwoScales(InBrowser):
    @classmethod
    def setUpClass(cls) -> None:
        cls.enterClassContext(mock.patch.object(stand_ins, "EVERY_S", stand_ins.EVERY_S | {"scale": 0.2}))
        listening = Listening(StandIn("scale", truth={"mass": mass}) for mass in (31.2, 26.71))
        cls.addClassCleanup(listening.stop)

        def fill(database: Database) -> None:
            Shop(database).rig()
            for name, port in zip(("Old scale", "Scale"), listening.ports):
                devices.add(database, name, "scale", "127.0.0.1", port, datetime.now(UTC))

        cls.fill_with = staticmethod(fill)
        super().setUpClass()

    def test_of_two_that_say_the_same_figure_the_hand_says_which(self) -> None:
        page = self.open("/rigs/1/card")
        lines = page.locator(".field:has(#arrow_mass) .take > div")
        expect(lines).to_have_count(2)
        expect(lines.nth(0)).to_contain_text("31.2 g Old scale")
        page.locator("#arrow_mass").fill("")
        page.locator("#arrow_mass").press("F2")
        expect(page.get_by_role("status").filter(has_text="2 instruments say it: which?")).to_be_attached()
        expect(page.locator("#arrow_mass")).to_have_value("")
        expect(lines.nth(0).get_by_role("button")).to_be_focused()
        lines.nth(1).get_by_role("button").press("Enter")
        self.assertAlmostEqual(float(page.locator("#arrow_mass").input_value()), 26.71, delta=0.1)
        self.assertIn('"device":2', page.locator("input[name=taken]").input_value())
        page.keyboard.press("Control+Enter")
        page.wait_for_url("**saved=1**")
        expect(page.locator(".field:has(#arrow_mass) .taken-from")).to_contain_text("by Scale")
