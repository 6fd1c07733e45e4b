"""The tables that are read at the tape: the same on a page, on the phone, and on the range sheet."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

from cross_staff.core.rig.drum import DrumReading
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.rig import Rig
from cross_staff.services.tape.page import TapePage
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.reading_words import clicks_words, line_words, signed, turns_words
from cross_staff.web.shared.table import Table
from cross_staff.web.shared.words import on_target

MOST_ROWS = 40
USUAL_TARGET_M = 0.2


@dataclass(frozen=True)
class TapeView(TapePage):
    """A rig whose tape is known, in the units that its tables are shown in."""

    units: Units

    @property
    def unit(self) -> str:
        return self.units.label("distance")

    def pin_name(self, pin: int) -> str:
        """A pin by its name."""
        return pin_words.pin_name(self.card, self.evaluation.pins.at_m, pin, self.units)

    def pointer_name(self, pin: int) -> str:
        """The pointer of a pin."""
        return pin_words.pointer_name(self.card, self.evaluation.pins, pin, self.units)

    def line(self, line_m: float | None) -> str:
        """The number under a pointer [m from the sight plane], in the strip's unit."""
        return "–" if line_m is None else pin_words.on_strip(self.card, self.card.ranged_distance(line_m), self.units)

    @property
    def drummed(self) -> bool:
        """Whether a scale and a drum are set, and no line of a strip."""
        return self.card.sight_kind.has_drum and self.card.sight.dialling_control() is not None

    def drum_words(self, travel_mm: float) -> str:
        """What scale and drum are set to with the housing so far below home [mm]; from home, where nobody read the
        scale."""
        if not self.on_scale:
            return f"{signed(self.card.sight, self.ratio * travel_mm, self.ratio, line_words)} from home"
        return signed(self.card.sight, self.reading_mm(travel_mm), self.ratio, line_words)

    def reading_mm(self, travel_mm: float) -> float:
        """What the scale reads with the housing so far below home [mm]."""
        return self.card.tape.direction * (self.evaluation.home_mark_mm + self.ratio * travel_mm)

    @property
    def on_scale(self) -> bool:
        """Whether the marks are readings of the sight's own scale."""
        return self.evaluation.fit is None or self.evaluation.fit.on_scale

    @property
    def ratio(self) -> float:
        """Tape travel per housing travel [-]."""
        return self.evaluation.fit.tape_ratio if self.evaluation.fit else 1.0

    @property
    def pin_names(self) -> list[str]:
        """Every pin by its name, with what it is for where there are several."""
        at = self.evaluation.pins.at_m
        return [pin_words.with_distance(self.card, at, pin, self.units) for pin in range(len(self.heights))]

    def with_asked(self, ranged_m: list[float], asked_m: float | None) -> list[float]:
        """Distances for the rows of a table, with the one that was asked for among them."""
        if asked_m is None or self.place_of(ranged_m, asked_m) is not None:
            return ranged_m
        return sorted([*ranged_m, asked_m])

    @staticmethod
    def place_of(ranged_m: Sequence[float], asked_m: float | None) -> int | None:
        """The row of the distance that was asked for."""
        if asked_m is None:
            return None
        return next((row for row, d in enumerate(ranged_m) if abs(d - asked_m) < 0.02), None)

    def ranged(self, distance_m: float | None, decimals: int = 1) -> str:
        """A distance from the sight plane as the archer ranges it, without its unit."""
        if distance_m is None:
            return "–"
        return trimmed(self.units.from_si("distance", self.card.ranged_distance(distance_m)), decimals)

    def number(self, ranged_m: float) -> str:
        """A distance as it was typed, or to the tenth, without its unit."""
        return self.units.as_typed("distance", ranged_m)

    def distances(self, from_m: float | None = None, every: float | None = None) -> list[float]:
        """Distances for the rows of a table, as ranged [m]: those that are shot, else whole ones."""
        goals = self.card.goals
        start = from_m if from_m is not None else goals.home_m or 0.0
        end = goals.farthest_m or start
        if goals.distances_m and every is None:
            return [d for d in goals.distances_m if d >= start - 0.5 or from_m is None]
        unit = self.units.unit("distance").si
        step = every or (5.0 if (end - start) / unit <= 5.0 * MOST_ROWS else 10.0)
        first = math.ceil(start / unit / step - 1e-9) * step
        counts = [first + i * step for i in range(MOST_ROWS) if (first + i * step) * unit <= end + 1e-6]
        return sorted({start, end, *(c * unit for c in counts)})


Made = TypeVar("Made")


def kept(t: TapeView, what: Hashable, make: Callable[[], Made]) -> Made:
    """What a page works out from records that have not changed, once. Args: what, it and all that it hangs on
    beside the rig, its units and the target."""
    return t.rig.results.get((what, t.units, t.target_m), make)


def tape_view(rig: Rig, units: Units) -> TapeView | None:
    """The rig for its tables; None while there is no tape."""
    evaluation = rig.evaluation
    if evaluation.fit is None or evaluation.tape_home_m is None or rig.card.goals.farthest_m is None:
        return None
    target, figures = rig.card.goals.target_size_m or USUAL_TARGET_M, evaluation.fit.figures
    return TapeView(rig, evaluation, figures, rig.heights_m, target, units)


class Shown(StrEnum):
    """What the readings of a table are shown in."""

    HAND = "hand"
    MM = "mm"
    INCH = "in"
    DIVISION = "division"
    CLICK = "click"
    TURN = "turn"


SHOWN = {
    Shown.HAND: "as the hand sets it",
    Shown.MM: "millimetres",
    Shown.INCH: "inches",
    Shown.DIVISION: "divisions of the scale",
    Shown.CLICK: "clicks",
    Shown.TURN: "turns + clicks",
}


def shown_in(sight: SightModel) -> list[tuple[str, str]]:
    """What the readings of this sight can be shown in."""
    control = sight.dialling_control()
    lacks = {
        Shown.DIVISION: not sight.scale_division_mm,
        Shown.CLICK: control is None,
        Shown.TURN: control is None or not control.clicks_per_turn,
    }
    return [(way.value, words) for way, words in SHOWN.items() if not lacks.get(way)]


def marks(t: TapeView, shown: Shown = Shown.HAND) -> Table:
    """Every distance with its mark as the hand sets it, from home, what it is worth, and what it lacks."""
    start = t.evaluation.tape_home_m or 0.0
    ranged = marked_distances(t, start)
    columns = [column for column in reading_columns(t, shown) if t.on_scale or not column[1]]
    rows, home = [], t.evaluation.home_mark_mm
    for d, row in zip(ranged, t.marks(start, ranged)):
        if row.mark_mm is None or row.sd_on_target_m is None:
            rows.append([t.number(d), *("–" for _ in columns), "–", "out of the arrow's reach"])
            continue
        cells = [say(row.mark_mm if of_scale else row.mark_mm - home) for _, of_scale, say in columns]
        wide = f"± {on_target(t.units, COVERAGE * row.sd_on_target_m)}"
        rows.append([t.number(d), *cells, wide, lacks(t, d, row.mark_mm - home)])
    heads = [t.unit, *(head for head, _, _ in columns), "on the target", "needs"]
    if not any(row[-1] for row in rows):
        rows, heads = [row[:-1] for row in rows], heads[:-1]
    note = ["Turn against the spring last, to take the play out."] if t.card.sight.dialling_control() else []
    if len(t.heights) > 1:
        note.insert(0, f"For the {t.pin_name(t.evaluation.pins.dialled)}, which goes with the wheel.")
    return Table("marks", "Marks", tuple(heads), rows, " ".join(note))


def marked_distances(t: TapeView, start_m: float) -> list[float]:
    """Distances of a table of marks [m as ranged]: from where the tape begins, and those between the turnover and
    home, which want the sight above it."""
    near = t.evaluation.turnover_m or start_m
    if t.evaluation.pins.dialled:
        near = start_m
    shot = (d for d in t.card.goals.distances_m if d > start_m or near <= d < start_m)
    return sorted({*t.distances(start_m, every=5.0), *shot})


def lacks(t: TapeView, ranged_m: float, from_home_mm: float) -> str:
    """What a mark needs that the sight does not have as it is mounted; empty where it has it."""
    reach, fit = t.reach, t.evaluation.fit
    ratio = fit.tape_ratio if fit else 1.0
    if from_home_mm < -0.05:
        needs = -from_home_mm / ratio
        there = None if reach is None else reach.above_mm
        have = "" if there is None or there >= needs - 0.05 else f", {fixed(max(there, 0.0), 1)} there"
        return f"{fixed(needs, 1)} mm above home{have}"
    end = None if reach is None else reach.of_pin(t.evaluation.pins.dialled)
    return "beyond reach" if end is not None and ranged_m > end + 0.05 else ""


Column = tuple[str, bool, Callable[[float], str]]  # its head, whether it is of the scale or from home, and a mark in it


def reading_columns(t: TapeView, shown: Shown) -> list[Column]:
    """The columns of a table of marks; a mark [mm, growing with distance] goes in."""
    sight, ways = t.card.sight, {key for key, _ in shown_in(t.card.sight)}
    grows, ratio = t.card.tape.direction, t.ratio
    division = sight.scale_division_mm or 1.0

    def mm(per: float, decimals: int, sign: float) -> Callable[[float], str]:
        return lambda mark: fixed(sign * mark / per, decimals)

    def drum(say: Callable[[DrumReading], str], sign: float) -> Callable[[float], str]:
        return lambda mark: signed(sight, sign * mark, ratio, say)

    simple = {
        Shown.MM: ("mm", 1.0, 1),
        Shown.INCH: ("in", 25.4, 3),
        Shown.DIVISION: ("divisions", division, 2),
    }
    if shown in simple:
        unit, per, decimals = simple[shown]
        return [
            (f"scale, {unit}", True, mm(per, decimals, grows)),
            (f"from home, {unit}", False, mm(per, decimals, 1.0)),
        ]
    if shown in (Shown.CLICK, Shown.TURN) and shown in ways:
        say = clicks_words if shown == Shown.CLICK else turns_words
        return [(f"{SHOWN[shown]} from zero", True, drum(say, grows)), ("from home", False, drum(say, 1.0))]
    if t.card.sight_kind.has_drum and sight.dialling_control():
        return [
            ("line, drum", True, drum(line_words, grows)),
            ("clicks from zero", True, drum(clicks_words, grows)),
            ("clicks from home", False, drum(clicks_words, 1.0)),
        ]
    columns: list[Column] = [("scale, mm", True, mm(1.0, 1, grows)), ("from home, mm", False, mm(1.0, 1, 1.0))]
    if sight.dialling_control():
        columns += [("clicks", False, drum(clicks_words, 1.0)), ("turns + clicks", False, drum(turns_words, 1.0))]
    return columns
