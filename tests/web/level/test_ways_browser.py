"""The five ways of a bench through the real pages, each with a bow whose truth nobody sees, from an empty shop.

With LEVEL_COUNTS=1 each way prints what it took.
"""

from __future__ import annotations

import math
import os
import re
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
from playwright.sync_api import expect

from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.hidden_bow import HiddenBow, HiddenVial
from cross_staff.core.simulate.technician import Habits, Technician, outcome
from cross_staff.services.card import save as card_service
from cross_staff.services.practice.level_walk import MOST_ACTS
from tests.web.level.hands import Hands
from tests.web.stations import Stations

FIRST_READING = 4  # fields at most from an empty shop
MOST_FIELDS, MOST_CLICKS = 193, 160  # of a whole way with vials that nobody calibrated


class Ways(Stations):
    def begun(self) -> tuple[int, Hands]:
        """A new rig with nothing but its name, and its level opened."""
        page = self.open("/")
        hands = Hands(page, "", self.server.address)
        page.get_by_label("Name", exact=False).first.wait_for()
        form = page.locator('form[action="/rigs"]')
        hands.put(form.locator("[name=name]"), "Bow on the vise")
        hands.press(form.locator("button").last)
        rig_id = int(page.url.split("/rigs/")[1].split("/")[0])
        hands.path = f"/rigs/{rig_id}/level"
        hands.clicks += 1
        page.goto(f"{self.server.address}{hands.path}")
        return rig_id, hands

    def all_the_same(self, hands: Hands) -> None:
        """The bow is not tuned yet: the reason stands there already."""
        hands.page.get_by_text("Level it all the same").first.click()
        hands.clicks += 1
        hands.press(hands.page.locator('form[action$="/level/anyway"] button'))

    def technician(self, seed: int, **habits: object) -> Technician:
        """Somebody with vials that nobody calibrated, who does what the page says."""
        bow = HiddenBow.drawn(np.random.default_rng(seed), False)
        bow.vials = {kind: HiddenVial(v.line_rad, v.error_div, 4) for kind, v in bow.vials.items()}
        bow.put_on("flat", "flat")
        usual = Habits(("vise_riser",), False, False, "flat", "to_string", 0.0, 0.0, 0.0, 0.0)
        return Technician(bow, replace(usual, **habits), datetime.now(UTC))  # type: ignore[arg-type]

    def walk(self, rig_id: int, hands: Hands, technician: Technician) -> None:
        for _ in range(MOST_ACTS):
            rig = self.rig(rig_id)
            acts = technician.act(rig.card, rig.level)
            if not acts:
                break
            for act in acts:
                hands.carry_out(act, rig.card)
        went = outcome(technician, self.rig(rig_id).level)
        self.assertEqual((hands.refused, went.impossible, went.step), ([], (), "done"))
        if os.environ.get("LEVEL_COUNTS"):
            print(f"{self._testMethodName}: {hands.counted}, {technician.turns} turns: {dict(went.standings)}")
        self.assertLess(hands.fields, MOST_FIELDS)
        self.assertLess(hands.clicks, MOST_CLICKS)
        for axis, standing in went.standings.items():
            self.assertIn(standing, ("good", "accepted"))
            if standing == "good":
                self.assertLessEqual(went.over(axis), 1.0, axis)

    def test_four_fields_from_an_empty_shop_to_the_first_reading(self) -> None:
        _, hands = self.begun()
        self.all_the_same(hands)
        for level in ("reference", "string"):
            hands.send(f"reverse/{level}", turned_way=0.4)
        hands.send("plumb", beside=0.3)
        expect(hands.page.locator("#now")).to_have_text("Read the first axis.")
        self.assertLessEqual(hands.fields, FIRST_READING)

    def test_jig_then_bow(self) -> None:
        """In the jig no bow is asked for; on the bow all is read again."""
        rig_id, hands = self.begun()
        technician = self.technician(3, on_bench="first")
        rig = self.rig(rig_id)
        self.assertFalse(rig.checklist.gate_open)
        for act in technician.act(rig.card, rig.level):
            hands.carry_out(act, rig.card)
        expect(hands.page.locator("#now")).to_have_text("Read the first axis.")
        while True:
            rig = self.rig(rig_id)
            acts = technician.act(rig.card, rig.level)
            for act in acts:
                hands.carry_out(act, rig.card)
            if acts[0].kind == "where":
                break
        self.assertEqual(rig.level.label, "bench_only")
        self.all_the_same(hands)
        self.walk(rig_id, hands, technician)
        self.assertIn("Done", hands.page.locator("#now").inner_text())

    def test_rail_then_riser_on_a_draw_board(self) -> None:
        rig_id, hands = self.begun()
        self.all_the_same(hands)
        self.walk(rig_id, hands, self.technician(4, methods=("board_riser",), second="to_rail"))

    def test_in_the_vise_tilted_forward_without_a_first_axis(self) -> None:
        rig_id, hands = self.begun()
        rig = self.rig(rig_id)
        card = replace(rig.card, sight=KINDS["fixed_pins"].template)
        card_service.save(self.database(), rig_id, rig.revision.number, card, rig.units, datetime.now(UTC), "sight")
        hands.page.reload()
        self.all_the_same(hands)
        technician = self.technician(5)
        self.walk(rig_id, hands, technician)
        self.assertNotIn("rail", hands.page.locator(".the-order").inner_text().lower())
        tilts = {round(math.degrees(r.pitch_rad)) for r in self.rig(rig_id).level.readings if not r.turn}
        self.assertIn(-35, tilts)

    def test_bench_only(self) -> None:
        rig_id, hands = self.begun()
        self.walk(rig_id, hands, self.technician(6, on_bench="only"))
        expect(hands.page.locator("#now")).to_have_text("Done, bench only.")
        self.assertFalse(self.rig(rig_id).checklist.gate_open)  # nobody asked for the bow

    def test_by_hand_with_a_helper(self) -> None:
        rig_id, hands = self.begun()
        self.all_the_same(hands)
        technician = self.technician(7, methods=("hand_plumb", "hand_rod"), place="corner")
        self.walk(rig_id, hands, technician)
        held = {r.place for r in self.rig(rig_id).level.readings if r.method == "hand_plumb" and not r.turn}
        self.assertEqual(held, {"corner"})

    def test_how_far_the_housing_wandered_is_tapped(self) -> None:
        rig_id, hands = self.begun()
        self.all_the_same(hands)
        page = hands.page
        page.goto(f"{self.server.address}{hands.path}?axis=first&method=plumb_wander")
        drawing = page.locator("svg[data-place]")
        box = drawing.bounding_box()
        page.mouse.click(box["x"] + box["width"] * (280.0 + 80.0) / 560.0, box["y"] + box["height"] / 2.0)
        expect(page.locator("#wander")).to_have_value(re.compile(r"^(1\.9|2|2\.1)$"))
        hands.put(page.locator("#travel"), "45")
        hands.press(page.locator(".take"))
        look = self.rig(rig_id).level.readings[-1]
        self.assertAlmostEqual(look.right_m, 0.002, delta=0.00011)

    def test_the_look_before_once_more_by_one_key(self) -> None:
        rig_id, hands = self.begun()
        self.all_the_same(hands)
        for level in ("reference", "string"):
            hands.send(f"reverse/{level}", turned_way=0.4)
        hands.send("plumb", beside=0.3)
        hands.put(hands.page.locator("#vial"), "0.1")
        hands.press(hands.page.locator(".take"))
        hands.send("reverse/rail", turned_way=0)
        expect(hands.page.locator("#again")).to_contain_text("Same again: 0.1 right, near its bottom")
        hands.page.locator(".marker.bubble").first.focus()
        with hands.page.expect_navigation():
            hands.page.keyboard.press("=")
        looks = [(r.vial_div, r.place) for r in self.rig(rig_id).level.readings]
        self.assertEqual(looks, [(0.1, "top"), (0.1, "bottom")])


if __name__ == "__main__":
    import unittest

    unittest.main()
