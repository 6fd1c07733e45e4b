"""Coordinates of the holds' drawing: how high or low each pin shoots over distance, and its point-on band."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cross_staff.web.forms.units import trimmed
from cross_staff.web.tape.tables import TapeView

WIDTH, HEIGHT = 760.0, 300.0
LEFT, RIGHT, TOP, BOTTOM = 52.0, 744.0, 14.0, 258.0
_POINTS = 160


@dataclass(frozen=True)
class Curve:
    """One pin: its path, where its name stands, and its band along the foot of the drawing."""

    points: str
    name: str
    name_x: float
    name_y: float
    band_x1: float
    band_x2: float
    band_y: float


@dataclass(frozen=True)
class HoldDrawing:
    """Axes with their words, the target's band, and a curve a pin."""

    curves: tuple[Curve, ...]
    zero_y: float
    target_y: float
    target_height: float
    across: tuple[tuple[float, str], ...]
    upward: tuple[tuple[float, str], ...]
    words: str
    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    right: float = RIGHT
    top: float = TOP
    bottom: float = BOTTOM

    @property
    def across_px(self) -> float:
        return self.right - self.left


def _path(points: list[tuple[float, float] | None]) -> str:
    """A path through the points, broken where one is off the drawing."""
    pieces, down = [], False
    for point in points:
        if point is not None:
            pieces.append(f"{'L' if down else 'M'}{point[0]} {point[1]}")
        down = point is not None
    return "".join(pieces)


def hold_drawing(t: TapeView) -> HoldDrawing:
    """The drawing for the pins at home."""
    goals, units = t.card.goals, t.units
    far = min(max(goals.farthest_m or 0.0, max(t.evaluation.pins.at_m, default=0.0)) * 1.02, 200.0)
    near = 3.0
    half = max(2.5 * t.target_m, 0.3)

    def x(ranged: float) -> float:
        return round(LEFT + (RIGHT - LEFT) * (ranged - near) / (far - near), 1)

    def y(up: float) -> float:
        return round((TOP + BOTTOM) / 2.0 - (BOTTOM - TOP) / 2.0 * up / half, 1)

    ranged = np.linspace(near, far, _POINTS)
    up = t.shots_at(np.maximum(ranged - t.card.ranged_distance(0.0), 0.5))
    bands = t.bands()
    curves = []
    for pin, (row, band) in enumerate(zip(up, bands)):
        inside = [(x(float(d)), y(float(v))) for d, v in zip(ranged, row) if np.isfinite(v) and abs(v) <= half]
        if not inside or band is None:
            continue
        end = inside[-1]
        lead = t.card.ranged_distance(0.0)
        curves.append(
            Curve(
                _path(
                    [
                        (x(float(d)), y(float(v))) if np.isfinite(v) and abs(v) <= half else None
                        for d, v in zip(ranged, row)
                    ]
                ),
                f"{t.number(t.evaluation.pins.at_m[pin])} {t.unit}",
                min(end[0] + 4.0, RIGHT - 40.0),
                end[1] - 5.0,
                max(x(band.near_m + lead), LEFT),
                min(x(band.far_m + lead), RIGHT),
                BOTTOM + 6.0 + 4.0 * (pin % 2),
            )
        )
    unit = units.unit("distance").si
    step = next(s for s in (5.0, 10.0, 20.0, 50.0) if far / unit / s <= 10.0)
    across = tuple((x(c * unit), trimmed(c, 0)) for c in np.arange(step, far / unit + 1e-6, step))
    offset = units.unit("offset").si
    rise = next(s for s in (2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0) if half / offset / s <= 4.0 or s == 200.0)
    count = int(half / offset / rise)
    upward = tuple((y(i * rise * offset), f"{abs(i) * rise:g}") for i in range(-count, count + 1))
    return HoldDrawing(
        tuple(curves),
        y(0.0),
        y(t.target_m / 2.0),
        y(-t.target_m / 2.0) - y(t.target_m / 2.0),
        across,
        upward,
        f"high and low, {units.label('offset')}, over {units.label('distance')}",
    )
