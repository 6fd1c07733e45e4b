"""The tables that are read at the tape: the same on a page, on the phone, and on the range sheet."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import TypeVar

from cross_staff.core.rig.sight import Control
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.rig import Rig
from cross_staff.services.tape.page import TapePage
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import words

Rows = list[list[str]]
MOST_ROWS = 40
USUAL_TARGET_M = 0.2


@dataclass(frozen=True)
class Table:
    """A table: its key and title, heads, rows of cells, and a note below."""

    key: str
    title: str
    heads: tuple[str, ...]
    rows: Rows
    note: str = ""


@dataclass(frozen=True)
class TapeView(TapePage):
    """A rig whose tape is known, in the units that its tables are shown in."""

    units: Units

    @property
    def unit(self) -> str:
        return self.units.label("distance")

    @property
    def pin_names(self) -> list[str]:
        count = len(self.heights)
        at = self.evaluation.pins.at_m
        return [
            f"{words.pin_name(pin, count)}, {whole_distance(self.units, at[pin])}" if count > 1 else "the pin"
            for pin in range(count)
        ]

    def ranged(self, distance_m: float | None, decimals: int = 1) -> str:
        """A distance from the sight plane as the archer ranges it, without its unit."""
        if distance_m is None:
            return "–"
        return trimmed(self.units.from_si("distance", self.card.ranged_distance(distance_m)), decimals)

    def number(self, ranged_m: float) -> str:
        return trimmed(self.units.from_si("distance", ranged_m), 1)

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
    heights = rig.results.get("heights at home", evaluation.heights_at_home)
    return TapeView(rig, evaluation, figures, heights, target, units)


def _clicks(control: Control, travel_mm: float) -> list[str]:
    """Clicks for a travel, and the same as turns and clicks."""
    count = control.clicks(travel_mm)
    apart = control.turns_and_clicks(count)
    sign = "−" if count < 0 else ""
    return [fixed(count, 1), "–" if apart is None else f"{sign}{apart[0]} + {fixed(apart[1], 1)}"]


def marks(t: TapeView) -> Table:
    """Every distance with its mark on the scale, from home, and what it is worth; clicks where there are any."""
    control = t.card.sight.dialling_control() if t.card.sight_kind.dialled else None
    home, ratio = t.evaluation.home_mark_mm, t.evaluation.fit.tape_ratio if t.evaluation.fit else 1.0
    start = t.evaluation.tape_home_m or 0.0
    ranged = sorted({*t.distances(start, every=5.0), *(d for d in t.card.goals.distances_m if d > start)})
    rows = []
    for d, row in zip(ranged, t.marks(start, ranged)):
        if row.mark_mm is None or row.sd_on_target_m is None:
            rows.append([t.number(d), "–", "–", *(["–", "–"] if control else []), "out of reach"])
            continue
        cells = [t.number(d), fixed(t.card.tape.direction * row.mark_mm, 1), fixed(row.mark_mm - home, 1)]
        if control:
            cells += _clicks(control, (row.mark_mm - home) / ratio)
        rows.append([*cells, f"± {on_target(t.units, COVERAGE * row.sd_on_target_m)}"])
    heads = [t.unit, "scale, mm", "from home, mm", *(["clicks", "turns + clicks"] if control else []), "on the target"]
    note = "Clicks from home, to a tenth; turn against the spring last, to take the play out." if control else ""
    return Table("marks", "Marks", tuple(heads), rows, note)
