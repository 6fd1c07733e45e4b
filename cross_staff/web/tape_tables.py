"""The tables that are read at the tape: the same on a page, on the phone, and on the range sheet."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from cross_staff.core.cut import cut_chart
from cross_staff.core.fits import Weather, trip
from cross_staff.core.flight import RigFigures
from cross_staff.core.holds import impacts, midway, point_on_bands
from cross_staff.core.pins import covers_m, indicators, ways_to, worth
from cross_staff.core.reach import misjudged_m
from cross_staff.core.reckoning import Reckoning, Wanted, tape_rows
from cross_staff.core.rig import RigCard
from cross_staff.core.sights import KINDS
from cross_staff.core.stack import gap_sds_mm
from cross_staff.core.wind import drifts
from cross_staff.services.rig import RigView
from cross_staff.web import tape_words as words
from cross_staff.web.sentences import on_target, whole_distance
from cross_staff.web.units import Units, fixed, trimmed

Rows = list[list[str]]
WINDS_MPS = (1.0, 2.0, 3.0, 5.0)
MISJUDGED = (1.0, 2.0, 5.0)  # whole units of distance
USUAL_SLOPES_DEG = (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0)
MOST_ROWS = 40
USUAL_TARGET_M = 0.2
_FAR_OFF_M = 3.0  # a hold beyond this is no hold


@dataclass(frozen=True)
class Table:
    """A table: its key and title, heads, rows of cells, a note below, and whether its first column holds words."""

    key: str
    title: str
    heads: tuple[str, ...]
    rows: Rows
    note: str = ""


@dataclass(frozen=True)
class Told:
    """A rig whose tape is known, with what every table needs."""

    found: RigView
    units: Units
    reckoning: Reckoning
    figures: RigFigures
    heights: tuple[float, ...]
    target_m: float

    @property
    def card(self) -> RigCard:
        return self.found.card

    @property
    def unit(self) -> str:
        return self.units.label("distance")

    @property
    def pin_names(self) -> list[str]:
        count = len(self.heights)
        at = self.reckoning.pins.at_m
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
            return [d for d in goals.distances_m if d >= start - 0.5 or from_m is None][:MOST_ROWS]
        unit = self.units.unit("distance").si
        step = every or (5.0 if (end - start) / unit <= 5.0 * MOST_ROWS else 10.0)
        first = math.ceil(start / unit / step - 1e-9) * step
        counts = [first + i * step for i in range(MOST_ROWS) if (first + i * step) * unit <= end + 1e-6]
        return sorted({start, end, *(c * unit for c in counts)})


def told(found: RigView, units: Units) -> Told | None:
    """The rig for its tables; None while there is no tape."""
    reckoning = found.reckoning
    if reckoning.fit is None or reckoning.tape_home_m is None or found.card.goals.farthest_m is None:
        return None
    target = found.card.goals.target_size_m or USUAL_TARGET_M
    return Told(found, units, reckoning, reckoning.fit.figures, reckoning.heights_at_home(), target)


def marks(t: Told) -> Table:
    """Every distance with its mark on the scale, from home, and what it is worth; clicks where there are any."""
    control = click_of(t.card)
    home, ratio = t.reckoning.home_mark_mm, t.reckoning.fit.tape_ratio if t.reckoning.fit else 1.0
    start = t.reckoning.tape_home_m or 0.0
    ranged = sorted({*t.distances(start, every=5.0), *(d for d in t.card.goals.distances_m if d > start)})[:MOST_ROWS]
    rows = []
    for d, row in zip(ranged, tape_rows(t.card, t.reckoning, Wanted(start, ranged[-1]), ranged)):
        if row.mark_mm is None or row.sd_on_target_m is None:
            rows.append([t.number(d), "–", "–", *(["–", "–"] if control else []), "out of reach"])
            continue
        cells = [t.number(d), fixed(t.card.tape.direction * row.mark_mm, 1), fixed(row.mark_mm - home, 1)]
        if control:
            cells += clicks(control, (row.mark_mm - home) / ratio)
        rows.append([*cells, f"± {on_target(t.units, 1.96 * row.sd_on_target_m)}"])
    heads = [t.unit, "scale, mm", "from home, mm", *(["clicks", "turns + clicks"] if control else []), "on the target"]
    note = "Clicks from home, to a tenth; turn against the spring last, to take the play out." if control else ""
    return Table("marks", "Marks", tuple(heads), rows, note)


@dataclass(frozen=True)
class Click:
    """A click of the control that dials: millimetres, and how many make a turn (None: not known)."""

    mm: float
    a_turn: float | None


def click_of(card: RigCard) -> Click | None:
    """The click that the sight is dialled with, where it has one."""
    if not KINDS[card.sight.kind].dialled:
        return None
    for control in card.sight.controls:
        if control.moves == "elevation" and control.per_click_mm:
            return Click(control.per_click_mm, control.clicks_per_turn)
    return None


def clicks(click: Click, travel_mm: float) -> list[str]:
    """Clicks for a travel to a tenth, and the same as turns and clicks."""
    count = round(travel_mm / click.mm, 1)
    if not click.a_turn:
        return [fixed(count, 1), "–"]
    turns = math.floor(abs(count) / click.a_turn)
    rest = abs(count) - turns * click.a_turn
    return [fixed(count, 1), f"{'−' if count < 0 else ''}{turns} + {fixed(rest, 1)}"]


def gaps(t: Told) -> Table:
    """The stack: what each pin is for, where it belongs, the gap to the next, and what it hides."""
    at, fit = t.reckoning.pins.at_m, t.reckoning.fit
    top = t.heights[0]
    sds = gap_sds_mm(t.card, fit, at[:1], at)[0] if fit else []
    rows = []
    for pin, height in enumerate(t.heights):
        distance = t.card.distance_from_sight(at[pin])
        after = 1000.0 * (height - t.heights[pin + 1]) if pin + 1 < len(t.heights) else None
        kept = t.card.sight.pins[pin].thickness_mm if pin < len(t.card.sight.pins) else None
        hides = None if kept is None else covers_m(kept, t.figures.eye_to_sight_m, distance)
        rows.append(
            [
                words.pin_name(pin, len(t.heights)),
                t.number(at[pin]),
                fixed(1000.0 * (top - height), 1),
                "" if pin == 0 or not sds else f"± {1.96 * sds[pin]:.1f}",
                "–" if after is None else fixed(after, 1),
                "–" if hides is None else f"{on_target(t.units, hides)}, {100.0 * hides / t.target_m:.0f} %",
            ]
        )
    return Table(
        "gaps",
        "Pin gaps",
        ("pin", t.unit, "below the top, mm", "", "to the next, mm", "pin hides, part of the target"),
        rows,
        f"Housing millimetres. The target is {on_target(t.units, t.target_m)}.",
    )


def dialled(t: Told) -> Table:
    """What every pin is worth for every distance dialled."""
    own = t.reckoning.pins.dialled
    start = t.reckoning.tape_home_m or 0.0
    ranged = [start, *(d for d in t.distances(start, every=5.0) if d > start + 0.5)][:MOST_ROWS]
    table = worth(t.figures, t.heights, own, [t.card.distance_from_sight(d) for d in ranged])
    names = [
        words.pin_name(pin, len(t.heights)) + (" (dialled)" if pin == own else "") for pin in range(len(t.heights))
    ]
    rows = [[t.number(d), *(t.ranged(v) for v in found)] for d, found in zip(ranged, table)]
    return Table(
        "dialled",
        f"Dial the {words.pin_name(own, len(t.heights))} to",
        (t.unit, *names),
        rows,
        "A dash: that pin stands above the turnover, and is right for no distance.",
    )


def ways(t: Told) -> Table:
    """For every distance that is shot: which pin takes the least dialling, and where the dial then stands."""
    rows = []
    for d in t.distances():
        rows.append([t.number(d), *way_words(t, d)])
    return Table(
        "ways",
        "Which pin, and what to dial",
        (t.unit, "least travel", "dial to", "housing, mm", "or"),
        rows,
        "Travel of the housing from home, down unless it says up.",
    )


def way_words(t: Told, ranged_m: float) -> list[str]:
    """The least travel for a distance in four cells: pin, what to dial, millimetres, the next best."""
    up, down = travel(t)
    found = ways_to(
        t.figures, t.heights, t.reckoning.pins.dialled, t.card.distance_from_sight(ranged_m), up / 1000.0, down / 1000.0
    )
    if not found:
        return ["none", "out of travel", "–", "–"]
    best, *rest = found
    name = words.pin_name(best.pin, len(t.heights))
    other = f"{words.pin_name(rest[0].pin, len(t.heights))} at {_dial(t, rest[0].dial_to_m)}" if rest else "–"
    millimetres = 1000.0 * best.travel_m
    if abs(millimetres) < 0.05:
        return [name, "home: nothing to dial", "0", other]
    return [name, _dial(t, best.dial_to_m), fixed(abs(millimetres), 1) + (" up" if millimetres < 0 else ""), other]


def _dial(t: Told, dial_to_m: float | None) -> str:
    return "by the mm" if dial_to_m is None else f"{t.ranged(dial_to_m)} {t.unit}"


def travel(t: Told) -> tuple[float, float]:
    """Travel of the slider above and below home [mm]; what is not known does not bind."""
    sight, mount = t.card.sight, t.card.mount
    above = mount.reserve_mm or 0.0
    if mount.home == "reserve" and not above:
        above = 3.0
    if sight.slider_travel_mm is None:
        return above, math.inf
    if mount.home == "centred":
        above = sight.slider_travel_mm / 2.0
    return above, max(sight.slider_travel_mm - above, 0.0)


def pointers(t: Told) -> Table:
    """Where every pin's indicator goes, or which round distance to set the pin to."""
    lead = t.card.ranged_distance(0.0)
    found = indicators(
        t.figures, t.heights[0], t.heights, t.reckoning.fit.tape_ratio if t.reckoning.fit else 1.0,
        t.units.unit("distance").si, lead,
    )  # fmt: skip
    rows = []
    for each in found:
        up = each.pin_up_mm
        move = "–" if up is None else "as it is" if abs(up) < 0.05 else f"{abs(up):.1f} {'up' if up > 0 else 'down'}"
        place = "at the pointer" if each.pin == 0 else f"{fixed(each.on_tape_mm, 1)} farther"
        rows.append(
            [
                words.pin_name(each.pin, len(t.heights)), t.ranged(each.distance_m), place,
                t.number(each.round_m + lead), move,
            ]
        )  # fmt: skip
    return Table(
        "indicators",
        "Indicators",
        (
            "pin",
            f"its indicator points to, {t.unit}",
            "on the tape, mm",
            f"or set the pin for, {t.unit}",
            "pin moves, mm",
        ),
        rows,
        "With the sight at home. Keep the holders mid-range, a hair clear of the tape; hold, tighten, look again.",
    )


def holds(t: Told) -> Table:
    """For every distance and pin: where to hold, in heights of the target too."""
    ranged = t.distances()
    up = impacts(t.figures, list(t.heights), [t.card.distance_from_sight(d) for d in ranged])
    rows = [
        [t.number(d), *(words.hold(t.units, _near(float(up[pin, i])), t.target_m) for pin in range(len(t.heights)))]
        for i, d in enumerate(ranged)
    ]
    return Table(
        "holds",
        f"Holds, {t.units.label('offset')}",
        (t.unit, *t.pin_names),
        rows,
        f"In brackets: heights of a target of {on_target(t.units, t.target_m)}.",
    )


def _near(up_m: float) -> float | None:
    return up_m if math.isfinite(up_m) and abs(up_m) <= _FAR_OFF_M else None


def bands(t: Told) -> Table:
    """Each pin's point-on band, and what midway to the next pin is right for."""
    found = point_on_bands(t.figures, list(t.heights), t.target_m)
    between = [*midway(t.figures, list(t.heights)), None]
    rows = []
    for name, band, middle in zip(t.pin_names, found, between):
        near = "–" if band is None else "the bow" if band.starts_near else t.ranged(band.near_m)
        rows.append([name, near, "–" if band is None else t.ranged(band.far_m), t.ranged(middle)])
    return Table(
        "bands",
        f"Point-on for {on_target(t.units, t.target_m)}",
        ("held on the middle", f"from, {t.unit}", f"to, {t.unit}", f"midway to the next, {t.unit}"),
        rows,
    )


def misjudged(t: Told) -> Table:
    """What a misjudged distance costs."""
    unit = t.units.unit("distance").si
    rows = []
    for d in t.distances():
        at = t.card.distance_from_sight(d)
        cells = []
        for error in MISJUDGED:
            far, near = (misjudged_m(t.figures, at, sign * error * unit) for sign in (1.0, -1.0))
            cells.append(f"{words.high_low(t.units, far)} / {words.high_low(t.units, near)}")
        rows.append([t.number(d), *cells])
    heads = (t.unit, *(f"{error:g} too far / too near" for error in MISJUDGED))
    return Table("misjudged", f"Misjudged, {t.units.label('offset')}", heads, rows)


def slopes_of(card: RigCard, up: bool) -> list[float]:
    """The slopes of a cut chart [rad]: up to the steepest on the card."""
    steepest = card.goals.slope_up_rad if up else card.goals.slope_down_rad
    most = math.degrees(steepest) if steepest else 30.0
    chosen = [s for s in USUAL_SLOPES_DEG if s < most - 0.5] + [most]
    return [math.radians(s) * (1.0 if up else -1.0) for s in chosen[-6:]]


def cut(t: Told, up: bool, slopes_rad: Sequence[float] | None = None) -> Table:
    """What to dial for a distance on a slope, up or down."""
    slopes = list(slopes_rad) if slopes_rad is not None else slopes_of(t.card, up)
    ranged = t.distances()
    found = cut_chart(t.figures, [t.card.distance_from_sight(d) for d in ranged], slopes)
    table: dict[int, list[str]] = {i: [t.number(d)] for i, d in enumerate(ranged)}
    for place, each in enumerate(found):
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
        (f"{t.unit}, {way}", *(f"{math.degrees(abs(s)):.0f}°" for s in slopes)),
        list(table.values()),
        f"T: above every level mark; dial the turnover, and arrows come in so much, {t.units.label('offset')}.",
    )


def wind(t: Told) -> Table:
    """Crosswind drift by the lag rule."""
    ranged = t.distances()
    at = [t.card.distance_from_sight(d) for d in ranged]
    columns = [drifts(t.figures, at, speed) for speed in WINDS_MPS]
    rows = [
        [t.number(d), *("–" if c[i] is None else on_target(t.units, c[i] or 0.0) for c in columns)]
        for i, d in enumerate(ranged)
    ]
    heads = (t.unit, *(f"{speed:g} m/s" for speed in WINDS_MPS))
    return Table("wind", "Crosswind, an estimate", heads, rows, words.CAUTION_ESTIMATE)


def trip_table(t: Told, here: Weather, there: Weather) -> Table:
    """What the air of a trip does to the marks."""
    ranged = [d for d in t.distances() if d >= (t.reckoning.tape_home_m or 0.0) - 0.5]
    fit = t.reckoning.fit
    found = trip(fit, [t.card.distance_from_sight(d) for d in ranged], here, there) if fit else ()
    rows = [
        [
            t.number(d),
            "–" if each.mark_mm is None else fixed(each.mark_mm, 2),
            words.high_low(t.units, each.up_m),
        ]
        for d, each in zip(ranged, found)
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


Maker = Callable[[Told], Table]
# what a range sheet can carry, in the order it is printed; those of several pins only where there are several
SHEET: dict[str, tuple[str, Maker]] = {
    "marks": ("Marks", marks),
    "gaps": ("Pin gaps", gaps),
    "dialled": ("What every pin is worth when dialled", dialled),
    "ways": ("Which pin for which distance", ways),
    "indicators": ("Indicators", pointers),
    "holds": ("Holds", holds),
    "bands": ("Point-on bands", bands),
    "cut_up": ("Cut chart, up", lambda t: cut(t, True)),
    "cut_down": ("Cut chart, down", lambda t: cut(t, False)),
    "misjudged": ("What a misjudged distance costs", misjudged),
    "wind": ("Crosswind, an estimate", wind),
}
OF_SEVERAL_PINS = ("gaps", "dialled", "ways", "indicators")
USUAL = ("marks", "ways", "holds", "cut_up", "cut_down")


def offered(t: Told) -> list[str]:
    """The tables that make sense for this rig, by their keys."""
    several, moves = len(t.heights) > 1, KINDS[t.card.sight.kind].dialled
    hills = not t.card.goals.level_only
    return [
        key
        for key in SHEET
        if (several or key not in OF_SEVERAL_PINS)
        and (moves or key not in ("marks", "dialled", "ways", "indicators"))
        and (hills or not key.startswith("cut_"))
    ]
