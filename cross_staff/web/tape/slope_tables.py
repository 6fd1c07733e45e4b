"""Tables for slopes and air: the cut charts, crosswind, the air of a trip."""

from __future__ import annotations

import math
from collections.abc import Sequence

from cross_staff.core.ballistics.slope import SlopeCut
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.comparison import Weather
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView

WINDS = {"mps": (1.0, 2.0, 3.0, 5.0), "mph": (2.0, 5.0, 8.0, 12.0)}
USUAL_SLOPES_DEG = (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0)


def slopes_of(card: RigCard, up: bool) -> list[float]:
    """The slopes of a cut chart [rad]: up to the steepest on the card."""
    steepest = card.goals.slope_up_rad if up else card.goals.slope_down_rad
    most = math.degrees(steepest) if steepest else 30.0
    chosen = [s for s in USUAL_SLOPES_DEG if s < most - 0.5] + [most]
    return [math.radians(s) * (1.0 if up else -1.0) for s in chosen[-6:]]


def cut(t: TapeView, up: bool, slopes_rad: Sequence[float] | None = None) -> Table:
    """What to dial for a distance on a slope, up or down."""
    slopes = list(slopes_rad) if slopes_rad is not None else slopes_of(t.card, up)
    ranged = t.distances()
    cut = t.cuts(ranged, slopes)
    table: dict[int, list[str]] = {i: [t.number(d)] for i, d in enumerate(ranged)}
    for place, each in enumerate(cut):
        table[place % len(ranged)].append(_cut_cell(t, each))
    way, dialled = "up" if up else "down", t.card.sight_kind.dialled
    with_pin = f", {t.pointer_name(t.evaluation.pins.dialled)}" if dialled and len(t.heights) > 1 else ""
    rows = list(table.values())
    return Table(
        f"cut_{way}",
        f"Dial for a slope {way}{with_pin}" if dialled else f"Shoot a slope {way} as on the level",
        (t.unit, *(f"{math.degrees(abs(s)):.0f}°" for s in slopes)),
        rows,
        _cut_note(t, [cell for row in rows for cell in row[1:]]),
    )


def _cut_cell(t: TapeView, cut: SlopeCut) -> str:
    """What to dial; with a star where it is nearer than the strip begins, in brackets where it is beyond reach."""
    if not cut.reached:
        return "–"
    if cut.level_m is None:
        return f"T {words.high_low(t.units, cut.miss_m)}"
    level, start = t.card.ranged_distance(cut.level_m), t.evaluation.tape_home_m
    if t.card.sight_kind.dialled and start is not None and level < start - 0.05:
        return f"{t.ranged(cut.level_m)} *"
    end = t.reach.of_pin(t.evaluation.pins.dialled) if t.reach else None
    return f"({t.ranged(cut.level_m)})" if end is not None and level > end + 0.05 else t.ranged(cut.level_m)


def _cut_note(t: TapeView, cells: list[str]) -> str:
    """What the signs of a cut chart mean, those that are in it."""
    said = []
    if any(cell.startswith("T ") for cell in cells):
        said.append(f"T: above every level mark; dial the turnover, and arrows hit so much, {t.units.label('offset')}.")
    if any(cell.endswith("*") for cell in cells):
        start = whole_distance(t.units, round(t.evaluation.tape_home_m or 0.0, 1))
        said.append(f"*: nearer than the strip's first line, {start}: shoot it as that distance, by “Dialled”.")
    if any(cell.startswith("(") for cell in cells):
        said.append("In brackets: beyond the sight's reach.")
    return " ".join(said)


def wind(t: TapeView) -> Table:
    """Crosswind drift by the lag rule."""
    ranged = t.distances()
    unit, speeds = t.units.unit("wind"), WINDS[t.units.unit("wind").key]
    columns = [t.drifts(ranged, speed * unit.si) for speed in speeds]
    rows = [
        [t.number(d), *("–" if c[i] is None else on_target(t.units, c[i] or 0.0) for c in columns)]
        for i, d in enumerate(ranged)
    ]
    heads = (t.unit, *(f"{speed:g} {unit.label}" for speed in speeds))
    return Table("wind", "Crosswind, an estimate", heads, rows, words.CAUTION_ESTIMATE)


def trip_table(t: TapeView, here: Weather, there: Weather) -> Table:
    """What the air of a trip does to the marks."""
    ranged = [d for d in t.distances() if d >= (t.evaluation.tape_home_m or 0.0) - 0.5]
    rows = [
        [
            t.number(d),
            "–" if each.mark_mm is None else fixed(each.mark_mm, 2),
            words.high_low(t.units, each.up_m),
        ]
        for d, each in zip(ranged, t.trip(ranged, here, there))
    ]
    return Table(
        "trip",
        f"Air of a trip, {t.pin_name(t.evaluation.pins.dialled)}" if len(t.heights) > 1 else "Air of a trip",
        (t.unit, "mark moves, mm", f"old mark shoots, {t.units.label('offset')}"),
        rows,
        f"From {_air(t.units, here)} to {_air(t.units, there)}, by drag alone; speed itself hardly changes.",
    )


def _air(units: Units, weather: Weather) -> str:
    return f"{units.show('altitude', weather.altitude_m)}, {units.show('temperature', weather.temperature_c, 0)}"
