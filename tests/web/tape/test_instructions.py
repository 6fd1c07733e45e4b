"""Every printed instruction of two dozen rigs, done as it is printed and flown by the oracle: it hits within 2 mm and
half a digit."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass

from cross_staff.core.ballistics.sightline import pin_height, turnover_distance
from cross_staff.core.tape.comparison import Weather, carried
from cross_staff.core.tape.layout import Wanted, tape_rows
from cross_staff.services import bench
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import record as tape
from cross_staff.web.forms.units import YARD_M, Units
from cross_staff.web.tape import hold_tables, pin_tables, slope_tables
from cross_staff.web.tape import tables as tape_tables
from cross_staff.web.tape.tables import Shown, TapeView, tape_view
from tests.core.oracle import height_at
from tests.data import WithDatabase
from tests.web.tape.flown_rigs import RIGS, FlownRig, fill

HIT_M = 0.002


def number(text: str) -> float:
    """The first number of a cell."""
    search = re.search(r"[−-]?\d+(?:\.\d+)?", text)
    assert search, text
    return float(search.group().replace("−", "-"))


@dataclass
class Flown:
    """A rig whose instructions are read as a person reads them, and flown."""

    rig: FlownRig
    t: TapeView

    @property
    def unit_m(self) -> float:
        return self.rig.unit_m

    @property
    def strip_m(self) -> float:
        return YARD_M if self.t.card.tape.unit_m < 1.0 else 1.0

    @property
    def offset_m(self) -> float:
        return 0.01 if self.rig.units[1] == "cm" else 0.0254

    @property
    def ratio(self) -> float:
        fit = self.t.evaluation.fit
        assert fit
        return fit.tape_ratio

    @property
    def dialled(self) -> int:
        return self.t.evaluation.pins.dialled

    def at(self, cell: str, unit_m: float | None = None) -> float:
        """A distance as it is ranged, from the sight plane [m]."""
        return self.t.card.distance_from_sight(number(cell) * (unit_m or self.unit_m))

    def miss(self, height_m: float, distance_m: float, slope_rad: float = 0.0) -> float:
        up = height_at(self.t.figures, height_m, distance_m, slope_rad)
        assert up is not None
        return up

    def half_digit(self, distance_m: float, millimetres: float = 0.0, metres: float = 0.0) -> float:
        """What half a printed digit of a travel [mm of the housing] or a distance [m] costs there [m]."""
        lever = self.t.figures.eye_to_sight_m
        slope = abs(pin_height(self.t.figures, distance_m + 0.5) - pin_height(self.t.figures, distance_m - 0.5))
        return (millimetres / 1000.0 + metres * slope) * (lever + distance_m) / lever

    def dialled_height(self, pin: int, moved_mm: float) -> float:
        """A pin's height with the housing so far below home."""
        return self.t.heights[pin] - moved_mm / 1000.0

    def pin_of(self, cell: str) -> int:
        """Which pin a cell speaks of: its pointer, or itself."""
        names = [self.t.pin_name(pin) for pin in range(len(self.t.heights))]
        return next((pin for pin, name in enumerate(names) if cell.startswith(name)), 0)

    def set_to(self, cell: str) -> float:
        """The housing's travel below home where the pin's pointer stands on a number, as the strip has it [mm]; of
        scale and drum by its lines and clicks."""
        t, fit = self.t, self.t.evaluation.fit
        assert fit
        if t.drummed:
            line, drum = (float(part) for part in cell.replace("−", "-").split(", "))
            shown = [(20.0 * turn + drum) * 0.05 * self.ratio for turn in range(80)]  # the drum shows its own turn
            read = next(mm for mm in shown if line - 0.03 <= mm < line + 1.03)
            return (t.card.tape.direction * read - t.evaluation.home_mark_mm) / self.ratio
        mark = fit.tape([self.at(cell, self.strip_m)], self.dialled)[0].mark_mm
        assert mark is not None
        return (mark - t.evaluation.home_mark_mm) / self.ratio

    def said(self, cell: str, middle: str = "0") -> float:
        """How high a cell says that arrows come in [m]."""
        return (
            0.0 if cell in (middle, f"T {middle}") else self.offset_m * number(cell) * (1.0 if "high" in cell else -1.0)
        )

    def digit(self, said_m: float) -> float:
        """Half a digit of it."""
        return self.offset_m * (0.5 if abs(said_m) >= 9.95 * self.offset_m - 1e-9 else 0.05)


class Instructions(WithDatabase):
    fill_with = staticmethod(fill)

    def rigs(self) -> Iterator[Flown]:
        """Every rig, each in a test of its own."""
        for rig_id, rig in zip(bench.every(self.database), RIGS, strict=True):
            kept = open_rig(self.database, rig_id)
            self.assertEqual(kept.card.name, rig.name)
            view = tape_view(kept, Units.of(kept.units))
            assert view
            with self.subTest(rig.name):
                yield Flown(rig, view)

    def assert_hits(self, f: Flown, height_m: float, distance_m: float, digit_m: float, row: object) -> None:
        self.assertLessEqual(abs(f.miss(height_m, distance_m)), HIT_M + digit_m, (f.rig.name, row))

    def test_the_dialled_pin_is_the_one_that_was_chosen(self) -> None:
        for f in self.rigs():
            chosen = {"near": 0, "far": len(f.rig.pins) - 1}.get(f.rig.dialled, 1)
            self.assertEqual(f.dialled, chosen, f.rig.name)

    def test_every_mark(self) -> None:
        compared = 0
        for f in self.rigs():
            table = tape_tables.marks(f.t, Shown.MM)
            zero = f.t.evaluation.home_mark_mm
            for row in table.rows:
                distance = f.at(row[0])
                if (
                    distance < turnover_distance(f.t.figures) + 0.3
                    or len(row) > 4
                    and "above home" not in row[4] + " above home"
                ):
                    continue
                scale, from_home = number(row[1]), number(row[2])
                travel = from_home / f.ratio
                self.assert_hits(f, f.dialled_height(f.dialled, travel), distance,
                                 f.half_digit(distance, 0.05 / f.ratio, metres=0.06 * f.unit_m), row)  # fmt: skip
                self.assertAlmostEqual(f.t.card.tape.direction * scale - zero, from_home, delta=0.11)
                compared += 1
        self.assertGreater(compared, 300)

    def test_what_the_hand_sets(self) -> None:
        for f in self.rigs():
            if not f.t.drummed:
                continue
            for row in tape_tables.marks(f.t).rows:
                distance = f.at(row[0])
                if distance < turnover_distance(f.t.figures) + 0.3:
                    continue
                digit = f.half_digit(distance, 0.05 * 0.05, metres=0.06 * f.unit_m)
                self.assert_hits(f, f.dialled_height(f.dialled, f.set_to(row[1])), distance, digit, row)
                clicks = number(row[2])
                self.assertAlmostEqual(clicks * 0.05 * f.ratio, f.t.reading_mm(f.set_to(row[1])), delta=0.006)
                self.assertAlmostEqual(number(row[3]) * 0.05, f.set_to(row[1]), delta=0.006)

    def test_every_pin_at_every_dialled_distance(self) -> None:
        for f in self.rigs():
            if len(f.t.heights) < 2:
                continue
            for row in pin_tables.dialled(f.t).rows:
                moved = 1000.0 * (f.t.heights[f.dialled] - pin_height(f.t.figures, f.at(row[0])))
                for pin, cell in enumerate(row[1:]):
                    if cell != "–":
                        digit = 2.0 * f.half_digit(f.at(cell), metres=0.06 * f.unit_m)
                        digit += f.half_digit(f.at(row[0]), metres=0.06 * f.unit_m)
                        self.assert_hits(f, f.dialled_height(pin, moved), f.at(cell), digit, row)

    def test_which_pin_and_what_is_set(self) -> None:
        """At home nothing is touched; else a pointer goes on the number, read off the strip, and its own pin hits."""
        at_home = dialled = 0
        for f in self.rigs():
            for row in pin_tables.ways(f.t).rows:
                distance, pin = f.at(row[0]), f.pin_of(row[1])
                if row[2] == "–":
                    continue
                if row[2] == "nothing to dial":
                    up = f.miss(f.t.heights[pin], distance)
                    self.assertLessEqual(abs(up), 0.5 * f.t.target_m + HIT_M, row)
                    self.assertAlmostEqual(up, f.said(row[3], "on"), delta=HIT_M + f.digit(up), msg=str(row))
                    at_home += 1
                    continue
                self.assertIn(pin, f.t.evaluation.pins.pointed, (f.rig.name, row))
                moved = number(row[4]) * (-1.0 if "up" in row[4] else 1.0)
                whole = f.half_digit(distance, 0.05, metres=0.06 * f.unit_m)
                self.assert_hits(f, f.dialled_height(pin, moved), distance, whole, row)
                if not f.t.drummed:  # the strip is laid on for the dialled pin: this pointer stands beside it
                    beyond = 1000.0 * (f.t.heights[f.dialled] - f.t.heights[pin])
                    moved = f.set_to(row[2]) - beyond
                    whole += f.half_digit(distance, metres=0.06 * f.strip_m)
                else:
                    moved = f.set_to(row[2])
                self.assert_hits(f, f.dialled_height(pin, moved), distance, whole, row)
                dialled += 1
        self.assertGreater(at_home, 40)
        self.assertGreater(dialled, 60)

    def test_nothing_is_dialled_beyond_what_the_sight_has(self) -> None:
        for f in self.rigs():
            reach, rig = f.t.reach, f.rig
            assert reach and reach.above_mm is not None and reach.below_mm is not None
            for row in pin_tables.ways(f.t).rows:
                if row[2] in ("–", "nothing to dial"):
                    continue
                moved = number(row[4]) * (-1.0 if "up" in row[4] else 1.0)
                self.assertTrue(-rig.reserve_mm - 0.2 <= moved <= (rig.travel_mm or 0.0) - rig.reserve_mm + 0.2, row)

    def test_every_hold(self) -> None:
        for f in self.rigs():
            for row in hold_tables.holds(f.t).rows:
                for pin, cell in enumerate(row[1:]):
                    if cell == "–":
                        continue
                    up = f.miss(f.t.heights[pin], f.at(row[0]))
                    digit = f.digit(up) + f.half_digit(f.at(row[0]), metres=0.051 * f.unit_m * (row[0].count(".") > 0))
                    self.assertLessEqual(abs(up + f.said(cell, "on")), HIT_M + digit, (f.rig.name, row, pin))

    def test_every_band_and_midway_hold(self) -> None:
        for f in self.rigs():
            heights = f.t.heights
            for pin, row in enumerate(hold_tables.bands(f.t).rows):
                if row[2] == "–":
                    continue
                digit = f.half_digit(f.at(row[2]), metres=0.06 * f.unit_m)
                self.assertAlmostEqual(f.miss(heights[pin], f.at(row[2])), -0.125, delta=HIT_M + digit + 0.002)
                if row[3] != "–":
                    between = (heights[pin] + heights[pin + 1]) / 2.0
                    self.assert_hits(f, between, f.at(row[3]), f.half_digit(f.at(row[3]), metres=0.06 * f.unit_m), row)

    def test_every_cut(self) -> None:
        for f in self.rigs():
            if f.rig.level_only:
                continue
            top = pin_height(f.t.figures, turnover_distance(f.t.figures))
            start = f.t.evaluation.tape_home_m or 0.0
            for up in (True, False):
                table = slope_tables.cut(f.t, up)
                slopes = [math.radians(number(head)) * (1.0 if up else -1.0) for head in table.heads[1:]]
                for row in table.rows:
                    for slope, cell in zip(slopes, row[1:]):
                        distance = f.at(row[0])
                        if cell == "–":
                            continue
                        if cell.startswith("T"):
                            self.assertAlmostEqual(f.miss(top, distance, slope), f.said(cell), delta=HIT_M + 0.001)
                            continue
                        nearer = number(cell) * f.unit_m - start
                        self.assertTrue("*" in cell if nearer < -0.15 else "*" not in cell or nearer < 0.05, cell)
                        digit = f.half_digit(f.at(cell), metres=0.06 * f.unit_m) * max(distance / f.at(cell), 1.0)
                        miss = f.miss(pin_height(f.t.figures, f.at(cell)), distance, slope)
                        self.assertLessEqual(abs(miss), HIT_M + digit, (f.rig.name, row, math.degrees(slope)))

    def test_what_a_misjudged_distance_costs(self) -> None:
        for f in self.rigs():
            for row in hold_tables.misjudged(f.t).rows:
                distance = f.at(row[0])
                for error, cell in zip((1.0, 2.0, 5.0), row[1:]):
                    far = cell.split(" / ")[0]
                    miss = f.miss(pin_height(f.t.figures, distance + error * f.unit_m), distance)
                    self.assertAlmostEqual(miss, f.said(far), delta=HIT_M + f.digit(miss), msg=str(row))

    def test_the_air_of_a_trip(self) -> None:
        """The old mark in other air comes in as high as is said, flown."""
        here, there = Weather(100.0, 10.0), Weather(2300.0, 30.0)
        for f in self.rigs():
            other = carried(f.t.figures, here, there)
            for row in slope_tables.trip_table(f.t, here, there).rows:
                if row[2] == "–":
                    continue
                up = height_at(other, pin_height(f.t.figures, f.at(row[0])), f.at(row[0]), 0.0)
                assert up is not None
                self.assertAlmostEqual(up, f.said(row[2]), delta=HIT_M + f.digit(up), msg=f"{f.rig.name} {row}")

    def test_every_pointer(self) -> None:
        """On its line, at home, its pin is right; as far beyond the dialled one's as the strip has it."""
        for f in self.rigs():
            if len(f.t.heights) < 2:
                continue
            table = pin_tables.pointers(f.t)
            self.assertEqual(len(table.rows), len(f.t.evaluation.pins.pointed), f.rig.name)
            for row in table.rows:
                pin = f.pin_of(row[0])
                at = f.at(row[1], f.strip_m)
                self.assert_hits(f, f.t.heights[pin], at, f.half_digit(at, metres=0.06 * f.strip_m), row)
                beyond = 0.0 if "home line" in row[3] else number(row[3]) * (1.0 if "farther" in row[3] else -1.0)
                self.assertAlmostEqual(f.set_to(row[1]) * f.ratio, beyond, delta=0.06 + 0.06 * f.ratio)
                if row[5] not in ("as it is", "–"):
                    moved = number(row[5]) * (1.0 if "up" in row[5] else -1.0)
                    at = f.at(row[4], f.strip_m)
                    self.assert_hits(f, f.t.heights[pin] + moved / 1000.0, at, f.half_digit(at, 0.06), row)

    def test_every_line_of_the_strip(self) -> None:
        """The fitted strip laid on with its home line under the pointer at home: every line hits."""
        for f in self.rigs():
            start = f.t.evaluation.tape_home_m or 0.0
            beside = tape.tapes_to_print(f.t.rig, Wanted(start, f.t.card.goals.farthest_m or 0.0))
            for tick in beside.fitted[0].ticks:
                at = f.t.card.distance_from_sight(tick.count * f.strip_m)
                self.assert_hits(f, f.dialled_height(f.dialled, tick.position_mm / f.ratio), at, 0.0, tick)

    def test_the_gaps_add_up(self) -> None:
        for f in self.rigs():
            if len(f.t.heights) < 2:
                continue
            rows = pin_tables.gaps(f.t).rows
            below = [number(row[2]) for row in rows]
            for one, other, row in zip(below, below[1:], rows):
                self.assertAlmostEqual(one + number(row[4]), other, delta=0.11)
            for row in rows:  # where it belongs it is right for its own distance
                home = pin_height(f.t.figures, f.t.card.distance_from_sight(f.t.card.goals.home_m or 0.0))
                at = f.at(row[1])
                digit = f.half_digit(at, 0.06, metres=0.051 * f.unit_m * (row[1].count(".") > 0))
                self.assert_hits(f, home - number(row[2]) / 1000.0, at, digit, row)

    def test_a_bias_is_that_low_at_the_far_end(self) -> None:
        for f in self.rigs():
            card, evaluation = f.t.card, f.t.evaluation
            if f.dialled or card.goals.home_m is None or card.goals.farthest_m is None:
                continue
            home, far = card.goals.home_m, card.goals.farthest_m
            for distance, low in ((home, 0.0), (0.5 * (home + far), 0.02), (far, 0.04)):
                row = tape_rows(card, evaluation, Wanted(home, far, low_m=0.04), [distance])[0]
                assert row.mark_mm is not None
                travel = (row.mark_mm - evaluation.home_mark_mm) / f.ratio
                at = card.distance_from_sight(distance)
                self.assertAlmostEqual(f.miss(f.dialled_height(0, travel), at), -low, delta=HIT_M)
