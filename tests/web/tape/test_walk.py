"""Bows whose truth only the script knows, shot in from an empty shop; then the pages are obeyed, and it is flown."""

from __future__ import annotations

import csv
import io
import re
from html import unescape

from cross_staff.core.ballistics.sightline import impact_heights
from cross_staff.core.simulate.archer import Archer
from cross_staff.services.practice.range_walk import RangeWalk
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import record
from tests.web.client import WithClient

WANTED_M = (12.0, 17.0, 22.0, 26.0, 30.0, 38.0, 47.0, 55.0, 61.0, 70.0, 78.0)
WALKS = (
    ("single_pin_slider", 3, ""), ("vertical_pin_slider", 1, "far"), ("multi_pin_slider", 2, "pin2"),
    ("target_scope", 4, ""),
)  # fmt: skip


class Obeyed(WithClient):
    takes_long = True

    def test_what_is_set_as_the_pages_say_hits_the_target(self) -> None:
        """The strip is laid on at home and the pointers are set as the page says; then a number is set under one of
        them, or nothing is touched: as far as the tape is called good, the arrow is in the target."""
        answered = 0
        for kind, seed, dialled in WALKS:
            archer = Archer.drawn(kind, seed)
            walk = RangeWalk(self.database, archer)
            if dialled:
                record.choose(self.database, walk.rig_id, "dialled", dialled, walk.now())
            walk.walked(120)
            rig = open_rig(self.database, walk.rig_id)
            assert rig.evaluation.fit and rig.evaluation.good_to_m and rig.card.goals.target_size_m
            with self.subTest(kind):
                for wanted in (d for d in WANTED_M if d <= rig.evaluation.good_to_m):
                    said = self.say(walk.rig_id, wanted)
                    stands = self.stands(rig, said)
                    if stands is None:
                        self.assertRegex(said, "beyond|higher than it goes")
                        continue
                    pin, dial_mm = stands
                    height = archer.sight.heights_m[pin] - 1e-3 * (dial_mm - archer.zero_mm)
                    at = rig.card.distance_from_sight(wanted)
                    up = float(impact_heights(archer.sight.figures, height, at)[0])
                    self.assertLessEqual(abs(up), 0.5 * rig.card.goals.target_size_m, said)
                    answered += 1
        self.assertGreater(answered, 36)

    def say(self, rig_id: int, wanted_m: float) -> str:
        page = unescape(self.client.get(f"/rigs/{rig_id}/tape/dialled?wanted={wanted_m:g}").text).replace("\u00a0", " ")
        found = re.search(r'<h2 class="now[^>]*>(.*?)</h2>', page)
        assert found
        return found[1]

    def stands(self, rig: Rig, said: str) -> tuple[int, float] | None:
        """Which pin is aimed with, and what the scale then reads [mm]; None where nothing is to be set."""
        fit, pins, grows = rig.evaluation.fit, rig.evaluation.pins, rig.card.tape.direction
        assert fit
        last, home = len(pins.at_m) - 1, rig.evaluation.home_mark_mm
        names = {"top pin": 0, "low pin": last} | {f"pin {n + 1}": n for n in range(1, last)}

        def line_mm(number: float) -> float:
            """Where a line of the strip lies, from its home line [mm]."""
            mark = fit.tape([rig.card.distance_from_sight(number)], pins.dialled)[0].mark_mm
            assert mark is not None
            return mark - home

        if held := re.search(r": (.*?), nothing to dial", said):
            return names.get(held[1], 0), grows * home
        if drum := re.search(r"line (−?)(\d+), drum (\d+\.\d)", said):
            return 0, (-1.0 if drum[1] else 1.0) * (float(drum[2]) + 0.05 * float(drum[3]))
        if number := re.search(r": (?:(.*?)'s pointer|the pointer) to (\d+(?:\.\d)?)\.", said):
            pin = names.get(number[1] or "", 0)
            beyond = 0.0 if pin == pins.dialled else line_mm(self.pointers(rig.rig_id)[number[1]])
            return pin, grows * (home + line_mm(float(number[2])) - beyond)
        return None

    def pointers(self, rig_id: int) -> dict[str, float]:
        """The line that each pin's pointer was set on, the sight at home."""
        file = self.client.get(f"/rigs/{rig_id}/tape/dialled?csv=indicators").text.removeprefix("\ufeff")
        rows = list(csv.reader(io.StringIO(file)))[1:]
        return {row[0].removesuffix("'s pointer"): float(row[1]) for row in rows}
