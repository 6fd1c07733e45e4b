"""Tables for slopes and air: the cut charts, crosswind, the air of a trip."""

from __future__ import annotations

import math
from collections.abc import Sequence

from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.comparison import Weather
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView

WINDS_MPS = (1.0, 2.0, 3.0, 5.0)
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
        if not each.reached:
            cell = "–"
        elif each.level_m is None:
            cell = f"T {words.high_low(t.units, each.miss_m)}"
        else:
            cell = t.ranged(each.level_m)
        table[place % len(ranged)].append(cell)
    way = "up" if up else "down"
    return Table(
        f"cut_{way}",
        f"Dial for a slope {way}",
        (t.unit, *(f"{math.degrees(abs(s)):.0f}°" for s in slopes)),
        list(table.values()),
        f"T: above every level mark; dial the turnover, and arrows come in so much, {t.units.label('offset')}.",
    )


def wind(t: TapeView) -> Table:
    """Crosswind drift by the lag rule."""
    ranged = t.distances()
    columns = [t.drifts(ranged, speed) for speed in WINDS_MPS]
    rows = [
        [t.number(d), *("–" if c[i] is None else on_target(t.units, c[i] or 0.0) for c in columns)]
        for i, d in enumerate(ranged)
    ]
    heads = (t.unit, *(f"{speed:g} m/s" for speed in WINDS_MPS))
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
        "Air of a trip",
        (t.unit, "mark moves, mm", f"old mark shoots, {t.units.label('offset')}"),
        rows,
        f"From {_air(t.units, here)} to {_air(t.units, there)}, by drag alone; speed itself hardly changes.",
    )


def _air(units: Units, weather: Weather) -> str:
    return f"{units.show('altitude', weather.altitude_m)}, {units.show('temperature', weather.temperature_c, 0)}"
