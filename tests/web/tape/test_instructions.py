"""Every printed instruction, done as it is printed and flown by the oracle: it hits within 2 mm and half a digit."""

from __future__ import annotations

import math
import re
from dataclasses import replace

from cross_staff.core.ballistics.sightline import pin_height, turnover_distance
from cross_staff.core.rig.card import Goals, Mount
from cross_staff.core.rig.sight import Control, Housing, Pin, SightModel
from cross_staff.core.tape.layout import Wanted, tape_rows
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from cross_staff.web.forms.units import Units
from cross_staff.web.tape import hold_tables, pin_tables, slope_tables
from cross_staff.web.tape import tables as tape_tables
from cross_staff.web.tape.tables import TapeView, tape_view
from tests.core.oracle import height_at
from tests.data import WithDatabase
from tests.rigs import NOON, full_card, true_mark

STAKES = (12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0, 95.0)
HIT_M = 0.002


def number(text: str) -> float:
    """The first number of a cell."""
    search = re.search(r"[−-]?\d+(?:\.\d+)?", text)
    assert search, text
    return float(search.group().replace("−", "-"))


class Instructions(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        pins = (Pin(0.48), Pin(0.48), Pin(0.48))
        wheel = Control("Wheel", "elevation", 0.05, 20.0)
        sight = SightModel(
            "three pins", "multi_pin_slider", pins=pins, controls=(wheel,), slider_travel_mm=60.0,
            housing=Housing(44.0, 50.0, 22.0, 30.0),
        )  # fmt: skip
        goals = Goals(17.0, 95.0, 0.25, 0.10, 38.0, STAKES, (17.0, 38.0, 61.0), False, 0.61, 0.61)
        self.rig_id = self.add_rig(full_card(sight=sight, goals=goals, mount=Mount(home="reserve", reserve_mm=3.0)))
        rows = [RowEdit(d, round(true_mark(d), 1), arrows=12, pin=0) for d in (17.0, 47.0, 78.0)]
        tape.save_rows(self.database, self.rig_id, rows, NOON)
        self.dial("near")

    def dial(self, school: str) -> None:
        sight_in.choose(self.database, self.rig_id, "dialled", school, NOON)
        dial = tape_view(open_rig(self.database, self.rig_id), Units())
        assert dial
        self.t: TapeView = dial

    def miss(self, height_m: float, distance_m: float, slope_rad: float = 0.0) -> float:
        up = height_at(self.t.figures, height_m, distance_m, slope_rad)
        assert up is not None
        return up

    def half_digit(self, distance_m: float, millimetres: float = 0.0, metres: float = 0.0) -> float:
        """What half a printed digit of a mark [mm] or a dialled distance [m] costs there [m]."""
        lever = self.t.figures.eye_to_sight_m
        slope = abs(pin_height(self.t.figures, distance_m + 0.5) - pin_height(self.t.figures, distance_m - 0.5))
        return (millimetres / 1000.0 + metres * slope) * (lever + distance_m) / lever

    def dialled_height(self, pin: int, moved_mm: float) -> float:
        """A pin's height with the housing so far below home."""
        return self.t.heights[pin] - moved_mm / 1000.0

    def test_every_mark(self) -> None:
        for school, pin in (("near", 0), ("far", 2)):
            self.dial(school)
            for row in tape_tables.marks(self.t).rows:
                distance, from_home = number(row[0]), number(row[2])
                if distance > self.t.evaluation.tape_home_m + 0.2:  # type: ignore[operator]
                    miss = self.miss(self.dialled_height(pin, from_home), distance)
                    self.assertLessEqual(abs(miss), HIT_M + self.half_digit(distance, 0.05), row)
                clicks, turns = number(row[3]), row[4]
                self.assertAlmostEqual(clicks * 0.05, from_home, delta=0.05 + 0.0025 + 1e-6)
                whole, rest = (number(part) for part in turns.replace("−", "").split(" + "))
                self.assertAlmostEqual(whole * 20.0 + rest, abs(clicks), delta=0.11)

    def test_every_pin_at_every_dialled_distance(self) -> None:
        for school, own in (("near", 0), ("far", 2)):
            self.dial(school)
            for row in pin_tables.dialled(self.t).rows:
                moved = 1000.0 * (self.t.heights[own] - pin_height(self.t.figures, number(row[0])))
                for pin, cell in enumerate(row[1:]):
                    if cell != "–":
                        miss = self.miss(self.dialled_height(pin, moved), number(cell))
                        self.assertLessEqual(abs(miss), HIT_M + 2.0 * self.half_digit(number(cell), metres=0.05), row)

    def test_which_pin_and_what_to_dial(self) -> None:
        names = {"top pin": 0, "pin 2": 1, "low pin": 2}
        for school in ("near", "far"):
            self.dial(school)
            for row in pin_tables.ways(self.t).rows:
                distance, pin = number(row[0]), names[row[1]]
                moved = number(row[3]) * (-1.0 if "up" in row[3] else 1.0)
                miss = self.miss(self.dialled_height(pin, moved), distance)
                self.assertLessEqual(abs(miss), HIT_M + self.half_digit(distance, 0.05), row)

    def test_every_hold(self) -> None:
        table = hold_tables.holds(self.t)
        for row in table.rows:
            for pin, cell in enumerate(row[1:]):
                if cell == "–":
                    continue
                hold = 0.0 if cell == "on" else 0.01 * number(cell) * (1.0 if "high" in cell else -1.0)
                miss = self.miss(self.t.heights[pin], number(row[0])) + hold
                digit = 0.005 if abs(hold) >= 0.0995 else 0.0005
                self.assertLessEqual(abs(miss), HIT_M + digit, (row, pin))

    def test_every_band_and_midway_hold(self) -> None:
        heights = self.t.heights
        for pin, row in enumerate(hold_tables.bands(self.t).rows):
            self.assertAlmostEqual(self.miss(heights[pin], number(row[2])), -0.125, delta=HIT_M + 0.01)
            if row[3] != "–":
                between = (heights[pin] + heights[pin + 1]) / 2.0
                digit = self.half_digit(number(row[3]), metres=0.05)
                self.assertLessEqual(abs(self.miss(between, number(row[3]))), HIT_M + digit)

    def test_every_cut(self) -> None:
        top = pin_height(self.t.figures, turnover_distance(self.t.figures))
        for up in (True, False):
            table = slope_tables.cut(self.t, up)
            slopes = [math.radians(number(head)) * (1.0 if up else -1.0) for head in table.heads[1:]]
            for row in table.rows:
                for slope, cell in zip(slopes, row[1:]):
                    distance = number(row[0])
                    if cell.startswith("T"):
                        said = 0.0 if cell == "T 0" else 0.01 * number(cell)
                        self.assertAlmostEqual(self.miss(top, distance, slope), said, delta=HIT_M)
                        continue
                    digit = self.half_digit(number(cell), metres=0.05) * distance / number(cell)
                    miss = self.miss(pin_height(self.t.figures, number(cell)), distance, slope)
                    self.assertLessEqual(abs(miss), HIT_M + digit, (row, math.degrees(slope)))

    def test_what_a_misjudged_distance_costs(self) -> None:
        for row in hold_tables.misjudged(self.t).rows:
            distance = number(row[0])
            for error, cell in zip((1.0, 2.0, 5.0), row[1:]):
                far = cell.split(" / ")[0]
                said = 0.0 if far == "0" else 0.01 * number(far) * (1.0 if "high" in far else -1.0)
                miss = self.miss(pin_height(self.t.figures, distance + error), distance)
                self.assertAlmostEqual(miss, said, delta=HIT_M + (0.005 if abs(said) >= 0.0995 else 0.0005))

    def test_every_indicator(self) -> None:
        for pin, row in enumerate(pin_tables.pointers(self.t).rows):
            digit = self.half_digit(number(row[1]), metres=0.05)
            self.assertLessEqual(abs(self.miss(self.t.heights[pin], number(row[1]))), HIT_M + digit)
            if row[4] not in ("as it is", "–"):
                moved = number(row[4]) * (1.0 if "up" in row[4] else -1.0)
                miss = self.miss(self.t.heights[pin] + moved / 1000.0, number(row[3]))
                self.assertLessEqual(abs(miss), HIT_M + self.half_digit(number(row[3]), 0.05))

    def test_the_gaps_add_up(self) -> None:
        rows = pin_tables.gaps(self.t).rows
        below = [number(row[2]) for row in rows]
        self.assertAlmostEqual(below[1] + number(rows[1][4]), below[2], delta=0.11)
        hidden = 0.48 / 1000.0 * (0.82 + 61.0) / 0.82
        self.assertAlmostEqual(number(rows[2][5]), 100.0 * hidden, delta=0.06)

    def test_a_bias_is_that_low_at_the_far_end(self) -> None:
        card, evaluation = self.t.card, self.t.evaluation
        plain = Wanted(17.0, 95.0)
        for distance, low in ((17.0, 0.0), (56.0, 0.02), (95.0, 0.04)):
            row = tape_rows(card, evaluation, replace(plain, low_m=0.04), [distance])[0]
            assert row.mark_mm is not None
            miss = self.miss(self.dialled_height(0, row.mark_mm - evaluation.home_mark_mm), distance)
            self.assertAlmostEqual(miss, -low, delta=HIT_M)
