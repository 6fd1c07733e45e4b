"""Coordinates of the station's drawings: dialled against found, and left and right over distance."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.prove.page import ProveChart
from cross_staff.services.prove.sides import SideSeen
from cross_staff.web.forms.units import Units, trimmed

WIDTH, HEIGHT = 520.0, 330.0
LEFT, RIGHT, TOP, BOTTOM = 54.0, 14.0, 16.0, 44.0
LEAST_HALF_M = 0.15
NICE = (1.0, 2.0, 2.5, 5.0, 10.0)


BIG, SMALL, TIP, FOOT = 8.5, 6.0, 8.0, 13.0  # a numbered dot, a plain one, a triangle
NUMBER_BELOW, ROW_LEFT, COLUMN_BELOW = 4.4, 8.0, 20.0


@dataclass(frozen=True)
class Grid:
    """A line of the grid: its place [px], its number, and where that stands."""

    at: float
    words: str
    text: tuple[float, float]


@dataclass(frozen=True)
class Spot:
    """A group: its place, the ends of its error bar [px], its number, and words for who does not see it."""

    x: float
    y: float
    top: float
    bottom: float
    number: str
    suspect: bool
    words: str
    slope: str = ""

    @property
    def radius(self) -> float:
        return BIG if self.number else SMALL

    @property
    def number_y(self) -> float:
        return self.y + NUMBER_BELOW

    @property
    def triangle(self) -> str:
        """The way of the mark of a group on a slope: its tip uphill or downhill."""
        up = -1.0 if self.slope == "up" else 1.0
        return f"M{self.x:.1f} {self.y + up * TIP:.1f}l{TIP:g} {-up * FOOT:g}h{-2.0 * TIP:g}z"


@dataclass(frozen=True)
class Chart:
    """The frame with its grid, where the target's half begins and how high it is, the band and its middle as paths, the
    groups."""

    columns: tuple[Grid, ...]
    rows: tuple[Grid, ...]
    zero: float
    half: tuple[float, float] | None
    band: str
    middle: str
    spots: tuple[Spot, ...]
    words: str
    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    right: float = WIDTH - RIGHT
    top: float = TOP
    bottom: float = HEIGHT - BOTTOM
    tick: float = HEIGHT - BOTTOM + 5.0
    label_y: float = HEIGHT - 4.0

    @property
    def wide(self) -> float:
        return self.right - self.left


class _Frame:
    """Where distances and offsets lie on the picture."""

    def __init__(self, distances: Sequence[float], offs: Sequence[float]) -> None:
        low, high = min(distances), max(distances)
        room = 0.06 * max(high - low, 1.0)
        self.low, self.high = low - room, high + room
        self.half = max(LEAST_HALF_M, 1.12 * max((abs(off) for off in offs), default=0.0))

    def x(self, distance: float) -> float:
        return LEFT + (distance - self.low) / (self.high - self.low) * (WIDTH - LEFT - RIGHT)

    def y(self, off: float) -> float:
        off = max(-self.half, min(self.half, off))
        return TOP + (self.half - off) / (2.0 * self.half) * (HEIGHT - TOP - BOTTOM)

    def rows(self, units: Units) -> tuple[Grid, ...]:
        span = units.from_si("offset", self.half)
        step = _nice(span / 3.0)
        counts = range(-int(span / step), int(span / step) + 1)
        told = ((self.y(units.to_si("offset", n * step)), trimmed(abs(n * step), 1)) for n in counts)
        return tuple(Grid(y, words, (LEFT - ROW_LEFT, y + NUMBER_BELOW)) for y, words in told)

    def columns(self, distances: Sequence[float], units: Units) -> tuple[Grid, ...]:
        kept: list[float] = []
        for distance in sorted(set(distances)):
            if not kept or self.x(distance) - self.x(kept[-1]) > 34.0:
                kept.append(distance)
        below = HEIGHT - BOTTOM + COLUMN_BELOW
        return tuple(Grid(self.x(d), units.as_typed("distance", d), (self.x(d), below)) for d in kept)


def _nice(step: float) -> float:
    size = 10.0 ** math.floor(math.log10(step))
    return next(nice * size for nice in NICE if nice * size >= step)


def chart_of(chart: ProveChart, units: Units, wanted_m: Sequence[float]) -> Chart:
    """Dialled against found: how high every line would have hit, dialled right, and what the tape does."""
    ups = [abs(spot.up_m) + spot.sd_m for spot in chart.spots]
    band = [abs(point.up_m) + COVERAGE * point.sd_m for point in chart.band] if chart.spots else []
    widest = 1.6 * max([0.5 * chart.target_m, *ups])
    offs = [*ups, *(min(each, widest) for each in band), 0.55 * chart.target_m]
    frame = _Frame([*wanted_m, *(spot.distance_m for spot in chart.spots)], offs)
    upper = [(frame.x(p.distance_m), frame.y(p.up_m + COVERAGE * p.sd_m)) for p in chart.band]
    lower = [(frame.x(p.distance_m), frame.y(p.up_m - COVERAGE * p.sd_m)) for p in reversed(chart.band)]
    middle = [(frame.x(p.distance_m), frame.y(p.up_m)) for p in chart.band]
    spots = []
    beside: dict[float, int] = {}
    for spot in chart.spots:
        place = beside.get(spot.distance_m, 0)
        beside[spot.distance_m] = place + 1
        x = frame.x(spot.distance_m) + (-1.0) ** place * 9.0 * ((place + 1) // 2)
        ends = frame.y(spot.up_m + COVERAGE * spot.sd_m), frame.y(spot.up_m - COVERAGE * spot.sd_m)
        spots.append(Spot(x, frame.y(spot.up_m), *ends, str(spot.visit), spot.suspect, spot.line.day.isoformat()))
    top, foot = frame.y(0.5 * chart.target_m), frame.y(-0.5 * chart.target_m)
    words = f"{len(spots)} lines of {len(chart.days)} days against distance, with what the tape does"
    return Chart(
        frame.columns(wanted_m, units),
        frame.rows(units),
        frame.y(0.0),
        (top, foot - top),
        _path([*upper, *lower]) + "Z" if chart.band else "",
        _path(middle) if chart.band else "",
        tuple(spots),
        words,
    )


def sides_of(seen: Sequence[SideSeen], units: Units) -> Chart:
    """Left and right of all groups over distance, right upwards; slopes by their sign."""
    offs = [abs(each.group.right_m) + COVERAGE * each.group.se_m for each in seen]
    frame = _Frame([0.0, *(each.ranged_m for each in seen)], offs)
    spots = []
    beside: dict[float, int] = {}
    for each in seen:
        place = beside.get(each.ranged_m, 0)
        beside[each.ranged_m] = place + 1
        x = frame.x(each.ranged_m) + (-1.0) ** place * 10.0 * ((place + 1) // 2)
        group = each.group
        ends = frame.y(group.right_m + COVERAGE * group.se_m), frame.y(group.right_m - COVERAGE * group.se_m)
        steep = "" if abs(group.slope_rad) < math.radians(3.0) else "up" if group.slope_rad > 0.0 else "down"
        spots.append(Spot(x, frame.y(group.right_m), *ends, "", False, each.day, steep))
    columns = frame.columns([each.ranged_m for each in seen], units)
    words = f"{len(spots)} groups, how far right or left over distance"
    return Chart(columns, frame.rows(units), frame.y(0.0), None, "", "", tuple(spots), words)


def _path(points: Sequence[tuple[float, float]]) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)
