"""Bows with hidden axes levelled through the real pages, by what they say."""

from __future__ import annotations

from cross_staff.core.simulate.technician import outcome
from cross_staff.demo.level_work import empty_shop
from cross_staff.services.practice.level_walk import MOST_ACTS
from tests.web.level.hands import Hands
from tests.web.stations import Stations

SEEDS = (13, 20)


class Walks(Stations):
    def test_two_bows_are_levelled_through_the_pages(self) -> None:
        for seed in SEEDS:
            with self.subTest(seed=seed):
                self.walk(seed)

    def walk(self, seed: int) -> None:
        rig_id, technician = empty_shop(self.database(), seed)
        path = f"/rigs/{rig_id}/level"
        page = self.open(path)
        hands = Hands(page, path, self.server.address)
        for _ in range(MOST_ACTS):
            rig = self.rig(rig_id)
            acts = technician.act(rig.card, rig.level)
            if not acts:
                break
            self.assertGreater(len(page.locator("#now").inner_text()), 8)
            for act in acts:
                hands.carry_out(act, rig.card)
        self.assertEqual(hands.refused, [])
        went = outcome(technician, self.rig(rig_id).level)
        self.assertEqual((went.impossible, went.step), ((), "done"))
        for axis, standing in went.standings.items():
            if standing == "good":
                self.assertLessEqual(went.over(axis), 1.0, axis)
        page.goto(self.server.address + path)
        shown = page.locator("#now").inner_text()
        every_good = set(went.standings.values()) == {"good"}
        self.assertEqual(shown == "Good enough: stop.", every_good)
        self.assertTrue(every_good or shown.startswith("Done"), shown)
