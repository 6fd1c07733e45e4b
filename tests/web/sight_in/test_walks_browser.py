"""Archers with habits and hidden sights walked through the range's real pages, by what they say."""

from __future__ import annotations

import json

from playwright.sync_api import Page

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.sight_in.acts import Act
from cross_staff.core.sight_in.controls import RangeControl
from cross_staff.core.sight_in.log import End
from cross_staff.core.sight_in.questions import DIAL, Answer, Question
from cross_staff.core.simulate.archer import Archer, Habits
from cross_staff.services.practice.range_walk import RangeWalk
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.ends import EndDraft
from cross_staff.storage.database import Database
from tests.web.stations import Stations

MOST_ARROWS = 14
WALKED = (("multi_pin_slider", 3), ("pin_display", 5))
HABITS = Habits(own_move=0.08, forgets_dial=0.1, wrong_pin=0.04, wild=0.04)


class PageWalk(RangeWalk):
    """The same archer; whatever he does is typed and tapped on the page."""

    def __init__(self, database: Database, archer: Archer, page: Page, address: str) -> None:
        super().__init__(database, archer)
        self.page, self.path = page, f"{address}/rigs/{self.rig_id}/sight_in"

    def does(self, rig: Rig, act: Act) -> None:
        self.page.goto(self.path)
        super().does(rig, act)

    def press(self, selector: str) -> None:
        with self.page.expect_navigation():
            self.page.locator(selector).first.click()
        assert not self.page.locator(".error:visible").count(), self.page.locator(".error:visible").all_inner_texts()

    def answered(self, question: Question, said: Answer) -> None:
        if said.kind == DIAL and said.dial_mm is not None:
            self.page.locator("#asked-reads").fill(f"{said.dial_mm:.1f}")
            self.press(".asked-first .one-line button")
            return
        for button in self.page.locator('.asked-first button[name="answer"]').all():
            told = json.loads(button.get_attribute("value") or "{}")
            same = told.get("drive", "") == said.drive and told.get("pin") == said.pin
            same = same and tuple(told.get("ends", ())) == said.ends
            if told["kind"] == said.kind and same:
                with self.page.expect_navigation():
                    button.click()
                return
        super().answered(question, said)  # he opens the end, and mends it

    def told(self, end: End, shot: Shot, wild: bool) -> None:
        self.press(f'form[action$="/{"bad" if wild else "counts"}"] button')

    def stood(self, where: RangeControl) -> None:
        self.press('.asked-first button[name="reads"]')

    def kept(self, draft: EndDraft) -> None:
        page = self.page
        asked = page.locator("#now").inner_text()
        assert asked.startswith("Shoot"), asked
        shown = float(page.locator("#distance").input_value())
        assert abs(shown - (draft.ranged_m or 0.0)) < 0.06, (shown, draft.ranged_m)
        assert page.locator("#pin").input_value() == str(draft.pin)
        for shot in draft.shots:
            page.locator("#mm-right").fill(f"{1000.0 * shot.right_m:.0f}")
            page.locator("#mm-up").fill(f"{1000.0 * shot.up_m:.0f}")
            page.locator("#mm-add").click()
        self.press("#end-done")

    def moved(self, rig: Rig, act: Act, other_way: list[str]) -> None:
        if other_way and self.page.locator('button[name="other_way"]').count():
            self.press('button[name="other_way"]')
        else:
            self.press('form[action$="/moved"] button.is-primary')

    def confirmed(self, step: str, mark_mm: float | None) -> None:
        if mark_mm is not None and self.page.locator("#mark").count():
            self.page.locator("#mark").fill(f"{mark_mm:.1f}")
        self.press(f'form[action*="/step/{step}"] button')


class Walks(Stations):
    def test_two_archers_are_led_through_the_pages(self) -> None:
        for kind, seed in WALKED:
            with self.subTest(kind=kind):
                page = self.open("/")
                walk = PageWalk(self.database(), Archer.drawn(kind, seed, HABITS), page, self.server.address)
                told = walk.walked(MOST_ARROWS)
                self.assertEqual(told.refused, [])
                self.assertTrue(told.done or told.arrows >= MOST_ARROWS)
                self.assertEqual([over for over in told.good.values() if over > 1.5], [])
                self.assertLessEqual(len(told.worse), 1)
                page.goto(walk.path)
                self.assertEqual(page.locator("#now").inner_text() == "Sighted in. On to the tape.", told.done)
