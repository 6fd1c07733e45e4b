"""Bows with hidden axes levelled through the real pages, by what they say."""

from __future__ import annotations

import math

from playwright.sync_api import Page

from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.simulate.technician import Act, outcome
from cross_staff.demo.level_work import empty_shop
from cross_staff.services.practice.level_walk import MOST_ACTS
from tests.web.stations import Stations

SEEDS = (13, 20)


class Walks(Stations):
    def test_two_bows_are_levelled_through_the_pages(self) -> None:
        for seed in SEEDS:
            with self.subTest(seed=seed):
                self.walk(seed)

    def walk(self, seed: int) -> None:
        rig_id, technician = empty_shop(self.database(), seed)
        self.path = f"/rigs/{rig_id}/level"
        page = self.open(self.path)
        for _ in range(MOST_ACTS):
            rig = self.rig(rig_id)
            acts = technician.act(rig.card, rig.level)
            if not acts:
                break
            self.assertGreater(len(page.locator("#now").inner_text()), 8)
            for act in acts:
                self.carry_out(page, act, rig.level.axes[act.entry.axis].action.turns if act.entry else 0.0)
        went = outcome(technician, self.rig(rig_id).level)
        self.assertEqual((went.impossible, went.step), ((), "done"))
        for axis, standing in went.standings.items():
            if standing == "good":
                self.assertLessEqual(went.over(axis), 1.0, axis)
        page.goto(self.server.address + self.path)
        shown = page.locator("#now").inner_text()
        every_good = set(went.standings.values()) == {"good"}
        self.assertEqual(shown == "Good enough: stop.", every_good)
        self.assertTrue(every_good or shown.startswith("Done"), shown)

    def carry_out(self, page: Page, act: Act, asked: float) -> None:
        if act.entry is not None:
            (self.turned if act.entry.turn else self.read)(page, act.entry, asked)
            return
        if act.kind == "reverse":
            self.send(page, "reverse", first_way=act.points[0], turned_way=act.points[1])
        elif act.kind in ("plumb", "match"):
            page.locator(f'form[action$="/{act.kind}"] [name=seat]').select_option(act.seat)
            if act.reseated and act.kind == "match":
                page.locator(f'form[action$="/{act.kind}"] [name=reseated]').check()
            self.send(page, act.kind, side=act.points[0], beside=act.reference_div)
        elif act.kind == "undo":
            with page.expect_navigation():
                page.locator(f'form[action$="/undo/{act.which}"] button').click()
        elif page.locator('[name="left_by"]').count():
            self.send(page, "leave", left_by="Sela Brandt")
        else:
            page.goto(f"{self.server.address}{self.path}?axis={act.which}")
            page.get_by_text("It cannot be turned, or not further").click()
            self.send(page, f"accept/{act.which}", reason="left so, after all that could be read")

    def send(self, page: Page, action: str, **typed: object) -> None:
        form = page.locator(f'form[action*="/level/{action}"]')
        for name, value in typed.items():
            form.locator(f'[name="{name}"]').fill(f"{value}")
        with page.expect_navigation():
            form.locator("button").last.click()
        self.assertEqual(page.locator(".error").all_inner_texts(), [])

    def at(self, page: Page, axis: str, method: str = "") -> None:
        """The page with the form of an axis, and of a way of reading it; opened where it is not."""
        form = page.locator("#reading")
        there = form.count() and form.locator('[name="axis"]').get_attribute("value") == axis
        if not there or (method and form.locator('[name="method"]').input_value() != method):
            page.goto(f"{self.server.address}{self.path}?axis={axis}&method={method}")

    def turned(self, page: Page, entry: LevelReading, asked: float) -> None:
        self.at(page, entry.axis)
        if entry.turns is None:
            page.locator('[name="by_eye"]').check()
        else:
            self.assertAlmostEqual(entry.turns, asked)  # as the form has it already
            self.assertFalse(page.locator('[name="by_eye"]').is_checked())
        with page.expect_navigation():
            page.get_by_role("button", name="keep the turn alone").click()

    def read(self, page: Page, entry: LevelReading, _asked: float) -> None:
        self.at(page, entry.axis, entry.method)
        reads = BY_KEY[entry.method].reads
        page.locator('[name="pitch"]').fill(f"{math.degrees(entry.pitch_rad):.0f}")
        if reads == "arrows":
            for name, value in (("distance", entry.distance_m), ("right", 100.0 * (entry.right_m or 0.0))):
                page.locator(f'[name="{name}"]').fill(f"{value:.1f}")
        else:
            page.locator('[name="vial"]').fill(f"{entry.vial_div:.1f}")
            page.locator('[name="vial_end"]').select_option({-1: "left", 0: "", 1: "right"}[entry.vial_end])
        if page.locator('#reading [name="seat"]').count():
            page.locator('#reading [name="seat"]').select_option(entry.seat)
        if entry.reseated:
            page.locator('#reading [name="reseated"]').check()
        if page.locator('[name="turned"]').count():
            page.locator('[name="turned"]').fill("")
        page.locator('[name="by_eye"]').uncheck()
        with_reference = page.locator('[name="reference"]')
        self.assertEqual(with_reference.count() == 1, reads not in ("line", "arrows"))
        if with_reference.count():
            with_reference.fill(f"{entry.reference_div:.1f}")
        with page.expect_navigation():
            page.locator(".take").click()
        self.assertEqual(page.locator(".error").all_inner_texts(), [])
