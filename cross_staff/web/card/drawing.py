"""Coordinates of the card's small drawings: the arrow, the readings, the string triangle."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics.arrow import Balance
from cross_staff.core.rig.card import ArrowBuild, PeepEntry
from cross_staff.core.rig.chronograph import ChronographSession, SpeedSummary
from cross_staff.web.forms.units import Units

WIDTH = 300.0
_LEFT, _RIGHT = 14.0, 286.0


@dataclass(frozen=True)
class ArrowDrawing:
    """The arrow to scale along its length: places of parts, middle and balance point [px]."""

    parts: tuple[tuple[float, str], ...]
    middle: float
    balance: float


def arrow_drawing(build: ArrowBuild, balance: Balance | None) -> ArrowDrawing | None:
    """The arrow from throat (left) to the end of the shaft (right)."""
    if balance is None or not build.shaft_length_m:
        return None
    scale = (_RIGHT - _LEFT) / build.shaft_length_m

    def place(metres: float) -> float:
        return round(_LEFT + scale * min(max(metres, -0.02), build.shaft_length_m + 0.02), 1)  # type: ignore[operator]

    parts = tuple((place(p.centre_from_throat_m), p.name) for p in build.components)
    return ArrowDrawing(parts, place(build.shaft_length_m / 2.0), place(balance.balance_from_throat_m))


@dataclass(frozen=True)
class DrawnSpeed:
    """One chronograph reading on the strip [px], with its text."""

    index: int
    x: float
    text: str
    left_out: bool
    odd: bool


@dataclass(frozen=True)
class SpeedStrip:
    """Readings on a line, the mean, and one spread to either side [px]."""

    readings: tuple[DrawnSpeed, ...]
    mean: float
    low: float
    high: float

    @property
    def width(self) -> float:
        return max(self.high - self.low, 0.0)


def speed_strip(session: ChronographSession, summary: SpeedSummary | None, units: Units) -> SpeedStrip | None:
    """Readings along a line that spans them all."""
    if summary is None:
        return None
    values = session.readings_mps
    low, high = min(values), max(values)
    room = max(high - low, 0.002 * summary.mean_mps)
    middle = (low + high) / 2.0
    scale = (_RIGHT - _LEFT - 16.0) / room

    def place(speed: float) -> float:
        return round((_LEFT + _RIGHT) / 2.0 + scale * (speed - middle), 1)

    spread = summary.spread_mps or 0.0
    readings = tuple(
        DrawnSpeed(i, place(v), units.plain("speed", v), i in session.left_out, i == summary.odd)
        for i, v in enumerate(values)
    )
    mean = summary.mean_mps
    return SpeedStrip(
        readings,
        place(mean),
        max(place(mean - spread), _LEFT - 8.0),
        min(place(mean + spread), _RIGHT + 8.0),
    )


@dataclass(frozen=True)
class PeepDrawing:
    """The string's triangle at full draw [px], nock at the left, arrow to the right, and its words."""

    nock: tuple[float, float]
    peep: tuple[float, float]
    string_end: tuple[float, float]
    arc: str
    along: str
    square: str
    angle: str
    measured: bool

    @property
    def foot(self) -> tuple[float, float]:
        """Where the height meets the arrow line."""
        return self.peep[0], self.nock[1]

    @property
    def along_words(self) -> tuple[float, float]:
        return (self.nock[0] + self.peep[0]) / 2.0 - 12.0, (self.nock[1] + self.peep[1]) / 2.0 - 8.0

    @property
    def square_words(self) -> tuple[float, float, float]:
        """x of both lines beside the height, and the baseline of each."""
        middle = (self.nock[1] + self.peep[1]) / 2.0
        return self.peep[0] + 9.0, middle, middle + 16.0


def peep_drawing(entry: PeepEntry, units: Units) -> PeepDrawing:
    """Along the string and square to the arrow, side by side, for this rig or a usual one."""
    angle = entry.angle() or math.radians(39.0)
    height = entry.height()
    measured = height is not None and entry.way in ("along", "estimated")
    along = entry.along_m if measured and entry.along_m else 0.150
    square = height.height_m if measured and height else along * math.sin(angle)
    nock, reach = (34.0, 128.0), 118.0
    peep = (nock[0] + reach * math.cos(angle), nock[1] - reach * math.sin(angle))
    end = (nock[0] + 1.35 * reach * math.cos(angle), nock[1] - 1.35 * reach * math.sin(angle))
    radius = 34.0
    arc = (
        f"M{nock[0] + radius:.1f} {nock[1]:.1f} A{radius:.1f} {radius:.1f} 0 0 0 "
        f"{nock[0] + radius * math.cos(angle):.1f} {nock[1] - radius * math.sin(angle):.1f}"
    )
    return PeepDrawing(
        nock,
        (round(peep[0], 1), round(peep[1], 1)),
        (round(end[0], 1), round(end[1], 1)),
        arc,
        units.show("length", along, 0 if units.length == "mm" else 2),
        units.show("length", square, 0 if units.length == "mm" else 2),
        units.show("angle", angle, 1),
        measured,
    )
