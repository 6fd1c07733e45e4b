"""A technician's hands at the real pages of the level, with a counter: fields that were filled in, clicks, readings."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from playwright.sync_api import Locator, Page

from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.rig.card import RigCard
from cross_staff.core.simulate.technician import Act


@dataclass
class Hands:
    """Carries out what a technician does, as the pages have it; a field that stands right already is not touched."""

    page: Page
    path: str
    address: str
    fields: int = 0
    clicks: int = 0
    readings: int = 0
    refused: list[str] = field(default_factory=list)

    @property
    def counted(self) -> str:
        return f"{self.fields} fields, {self.clicks} clicks, {self.readings} readings"

    def put(self, where: Locator, value: object) -> None:
        """Fill in a field, unless it stands there."""
        text, tag = f"{value}", where.evaluate("e => e.tagName")
        stands = where.input_value()
        if stands == text or (stands == "0" and text in ("0.0", "-0.0")):
            return
        if tag == "SELECT":
            where.select_option(text)
        else:
            where.fill(text)
        self.fields += 1

    def tick(self, where: Locator, wanted: bool) -> None:
        if where.is_checked() != wanted:
            where.set_checked(wanted)
            self.clicks += 1

    def press(self, where: Locator) -> None:
        self.clicks += 1
        with self.page.expect_navigation():
            where.click()
        self.refused += self.page.locator(".error").all_inner_texts()

    def send(self, action: str, **typed: object) -> None:
        form = self.page.locator(f'form[action*="/level/{action}"]').first
        for name, value in typed.items():
            self.put(form.locator(f'[name="{name}"]'), value)
        self.press(form.locator("button").last)

    def at(self, axis: str, method: str = "") -> None:
        """The form of an axis, and of a way of reading it; opened where it is not."""
        form = self.page.locator("#reading")
        there = form.count() and form.locator('[name="axis"]').get_attribute("value") == axis
        if not there or (method and form.locator('[name="method"]').input_value() != method):
            self.clicks += 1
            self.page.goto(f"{self.address}{self.path}?axis={axis}&method={method}")

    def carry_out(self, act: Act, card: RigCard) -> None:
        if act.entry is not None:
            (self.turned if act.entry.turn else self.read)(act.entry, card)
        elif act.kind == "where":
            self.send(f"where/{act.which}")
        elif act.kind == "reverse":
            self.send("reverse", first_way=act.points[0], turned_way=act.points[1])
        elif act.kind in ("plumb", "match"):
            form = self.page.locator(f'form[action$="/{act.kind}"]')
            self.put(form.locator("[name=seat]"), act.seat)
            if act.reseated and act.kind == "match":
                self.tick(form.locator("[name=reseated]"), True)
            self.send(act.kind, side=act.points[0], beside=act.reference_div)
        elif act.kind == "calibrate" and act.canted is not None:
            self.readings += 1
            seen = act.canted
            asked = {"moved_vial": seen.vial_div, "moved_beside": seen.beside_div}
            if seen.off and self.page.locator("form[action*='/calibrate/'] [name=off]").count():
                asked |= {"off": f"{1000.0 * seen.off:g}", "over": f"{1000.0 * (seen.over or 0.0):g}"}
            self.send("calibrate", **{name: value for name, value in asked.items() if value is not None})
        elif act.kind == "undo":
            self.press(self.page.locator(f'form[action$="/undo/{act.which}"] button'))
        elif act.kind == "leave":
            self.send("leave", left_by="Sela Brandt")
        else:
            self.page.goto(f"{self.address}{self.path}?axis={act.which}")
            self.page.get_by_text("It cannot be turned, or not further").click()
            self.clicks += 2
            self.send(f"accept/{act.which}", reason="left so, after all that could be read")

    def turned(self, entry: LevelReading, _card: RigCard) -> None:
        """A turn alone, as it was made; the form has what was asked for."""
        self.at(entry.axis)
        by_eye = self.page.locator('[name="by_eye"]')
        self.tick(by_eye, entry.turns is None)
        if entry.turns is not None:
            typed = self.page.locator('[name="turned"]').input_value()
            whole, _, part = typed.partition("/")
            asked = float(whole) / float(part or 1) if typed else 0.0
            assert abs(asked - abs(entry.turns)) < 1e-6, (typed, entry.turns)
        self.press(self.page.get_by_role("button", name="keep the turn alone"))

    def read(self, entry: LevelReading, _card: RigCard) -> None:
        self.readings += 1
        self.at(entry.axis, entry.method)
        page, reads = self.page, BY_KEY[entry.method].reads
        self.put(page.locator('[name="pitch"]'), f"{math.degrees(entry.pitch_rad):.0f}")
        if reads == "arrows":
            for name, value in (("distance", entry.distance_m), ("right", 100.0 * (entry.right_m or 0.0))):
                self.put(page.locator(f'[name="{name}"]'), f"{value:.1f}")
        else:
            self.put(page.locator('#reading [name="vial_end"]'), {-1: "left", 0: "", 1: "right"}[entry.vial_end])
            if not entry.vial_end:
                self.put(page.locator('#reading [name="vial"]'), f"{entry.vial_div:.1f}")
        for name, value in (("seat", entry.seat), ("place", entry.place)):
            if page.locator(f'#reading [name="{name}"]').count():
                self.put(page.locator(f'#reading [name="{name}"]'), value)
        if entry.reseated:
            self.tick(page.locator('#reading [name="reseated"]'), True)
        if page.locator('[name="turned"]').count():
            self.put(page.locator('[name="turned"]'), "")
        self.tick(page.locator('[name="by_eye"]'), False)
        beside = page.locator('#reading [name="reference"]')
        assert (beside.count() == 1) == (reads not in ("line", "arrows")), reads
        if beside.count():
            self.put(beside, f"{entry.reference_div:.1f}")
        self.press(page.locator(".take"))
