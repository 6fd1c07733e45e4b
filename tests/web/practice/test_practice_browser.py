"""The practice bench in the browser: arrows land on the target, bubbles stand in the glass; by keys, by thumb."""

from __future__ import annotations

from datetime import UTC, datetime

from playwright.sync_api import Page, expect

from cross_staff.demo.practice_work import practised
from cross_staff.services.practice.catalogue import exercise
from cross_staff.services.practice.record import begin, practice
from cross_staff.storage.database import Database
from tests.web.stations import Stations

NOW = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)


def two(database: Database) -> None:
    practised(database, NOW)
    begin(database, exercise("all-three"), "", {}, NOW)


class Bench(Stations):
    fill_with = staticmethod(two)

    def shoots(self, page: Page, distance: str, arrows: str) -> None:
        page.locator(".practice-act summary", has_text="Shoot").first.click()
        if not page.locator("#p_distance").is_visible():
            page.locator(".practice-act summary", has_text="Shoot").first.click()
        page.locator("#p_distance").fill(distance)
        page.locator("#p_arrows").fill(arrows)
        with page.expect_navigation():
            page.get_by_role("button", name="Shoot an end").click()

    def test_arrows_land_on_the_target_and_are_kept(self) -> None:
        page = self.open("/rigs/2/sight_in")
        self.shoots(page, "10", "3")
        expect(page.locator("#target-shots > *")).not_to_have_count(0)
        expect(page.locator("#kept")).to_have_text("3 kept")
        self.assertEqual(page.locator("#distance").input_value(), "10")
        self.assertNotIn("shots=", page.url)
        page.reload()
        expect(page.locator("#kept")).to_have_text("3 kept")  # and no more
        end = self.rig(2).every_end[-1]
        shots = practice(self.rig(2)).acts[-1].saw["shots"]
        self.assertEqual([[round(1000 * s.right_m), round(1000 * s.up_m)] for s in end.shots], shots)

    def test_a_bubble_stands_where_the_bow_shows_it(self) -> None:
        page = self.open("/rigs/3/level?axis=first")
        page.locator(".practice-act summary", has_text="Look").click()
        with page.expect_navigation():
            page.get_by_role("button", name="Read the vial").click()
        saw = practice(self.rig(3)).acts[-1].saw
        expect(page.locator(".practice-answer")).to_contain_text("First axis")
        if saw["end"]:
            self.assertEqual(page.locator("#vial_end").input_value(), "right" if saw["end"] == 1 else "left")
        else:
            self.assertEqual(float(page.locator("#vial").input_value()), saw["vial"])

    def test_without_scripts_and_by_thumb_all_of_it_works(self) -> None:
        page = self.open("/rigs/2/sight_in", size=(390, 844), java_script_enabled=False)
        self.shoots(page, "10", "2")
        expect(page.locator(".practice-answer")).to_contain_text("2 arrows at 10")
        self.assertEqual(len(page.locator("#shots").input_value().split("\n")), 2)
        finished = self.open("/rigs/1/practice")
        expect(finished.locator("#took")).to_contain_text("the program", ignore_case=True)
        expect(finished.locator("#took td.num").nth(5)).not_to_have_text("–", timeout=30_000)

    def test_a_slider_goes_by_keys(self) -> None:
        page = self.open("/explain/cant")
        page.locator("#cant").focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator("#value-cant")).to_have_text("3.5°")
        expect(page.locator(".explain-says")).to_contain_text("leans 3.5°")
