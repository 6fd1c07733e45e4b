"""Coordinates of the small drawings of Prepare: a tear in paper, a bare shaft, a walk-back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.prepare.tuning import BARE_GOOD_MRAD, TEAR_GOOD_M, Point, TuneReading, WalkBack
from cross_staff.web.forms.units import Units, trimmed

SIDE = 360.0
_REACH_M = {"paper_tear": 0.032, "bare_shaft": 0.36, "walk_back": 0.25}
ROW_TOP, ROW_GAP, ROWS = 46.0, 48.0, 6


@dataclass(frozen=True)
class TearSpot:
    """An earlier reading: its place [px] and number."""

    x: float
    y: float
    number: int


@dataclass(frozen=True)
class PlaceDrawing:
    """A square with its middle, the good circle, earlier readings, the spot to be placed, pixels for
    one typed unit, the ends and names of its scale [px], and what that unit is called."""

    side: float
    middle: float
    per_unit: float
    good: float
    spots: tuple[TearSpot, ...]
    x: float
    y: float
    rings: tuple[tuple[float, str], ...]
    unit: str

    @property
    def paper(self) -> float:
        """The side of the paper within its frame."""
        return self.side - 1.0

    @property
    def trail(self) -> str:
        """The earlier readings joined up, as the points of a line."""
        return " ".join(f"{spot.x:.1f},{spot.y:.1f}" for spot in self.spots)


def place_drawing(
    kind: str, readings: Sequence[TuneReading], typed: Point, distance_m: float, units: Units
) -> PlaceDrawing:
    """The drawing of a tear or a bare shaft; `typed` is where the spot stands now, right and up [m]."""
    quantity = "length" if kind == "paper_tear" else "offset"
    middle = SIDE / 2.0
    scale = (middle - 14.0) / _REACH_M[kind]

    def at(point: Point) -> tuple[float, float]:
        return _inside(middle + scale * point[0]), _inside(middle - scale * point[1])

    good = TEAR_GOOD_M if kind == "paper_tear" else BARE_GOOD_MRAD * 1e-3 * max(distance_m, 5.0)
    apart = 0.01 if kind == "paper_tear" else 0.1
    if units.unit(quantity).key == "in":
        apart = 0.0127 if kind == "paper_tear" else 0.1016
    rings = tuple((scale * n * apart, trimmed(units.from_si(quantity, n * apart), 1)) for n in (1, 2, 3))
    spots = tuple(TearSpot(*at(reading.point), number) for number, reading in enumerate(readings, start=1))
    x, y = at(typed)
    per_unit = scale * units.to_si(quantity, 1.0)
    return PlaceDrawing(SIDE, middle, per_unit, scale * good, spots, x, y, rings, units.label(quantity))


def _inside(px: float) -> float:
    return min(max(px, 6.0), SIDE - 6.0)


@dataclass(frozen=True)
class WalkRow:
    """A row of the walk-back: its distance in words, place of the spot and of the fitted line [px]."""

    index: int
    y: float
    x: float
    fitted_x: float | None
    label: str


@dataclass(frozen=True)
class WalkDrawing:
    """The plumb line with a row for each distance, pixels for one typed unit, and what that is called."""

    side: float
    height: float
    middle: float
    per_unit: float
    rows: tuple[WalkRow, ...]
    unit: str

    @property
    def paper(self) -> tuple[float, float]:
        """Width and height of the paper within its frame."""
        return self.side - 1.0, self.height - 1.0

    @property
    def line_end(self) -> float:
        return self.height - 8.0

    @property
    def row_end(self) -> float:
        return self.side - 8.0

    @property
    def line(self) -> str:
        """The fitted line, as the points of a polyline; empty while there is none."""
        return " ".join(f"{row.fitted_x:.1f},{row.y:.1f}" for row in self.rows if row.fitted_x is not None)


def walk_drawing(impacts: Sequence[tuple[float | None, float]], shape: WalkBack | None, units: Units) -> WalkDrawing:
    """The walk-back: impacts (distance or None, right) [m], a row each, in the order of the form."""
    middle = SIDE / 2.0
    scale = (middle - 20.0) / _REACH_M["walk_back"]
    known = [i for i, (distance, _) in enumerate(impacts) if distance is not None]
    fitted = dict(zip(known, shape.fitted_m)) if shape and shape.fitted_m else {}
    rows = tuple(
        WalkRow(
            index,
            ROW_TOP + ROW_GAP * index,
            _inside(middle + scale * right),
            _inside(middle + scale * fitted[index]) if index in fitted else None,
            "" if distance is None else units.show("distance", distance, 0),
        )
        for index, (distance, right) in enumerate(impacts)
    )
    height = ROW_TOP + ROW_GAP * len(rows)
    return WalkDrawing(SIDE, height, middle, scale * units.to_si("offset", 1.0), rows, units.label("offset"))
