"""Coordinates of an explanation's picture: curves or points between two axes with round numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.explain.explainers import Explainer, Picture
from cross_staff.web.forms.units import Units

WIDTH, HEIGHT = 760.0, 420.0
LEFT, RIGHT, TOP, BOTTOM = 74.0, 20.0, 18.0, 46.0
NICE = (1.0, 2.0, 2.5, 5.0, 10.0)
PLAIN = ("angle", "count")  # drawn as they are


@dataclass(frozen=True)
class Chart:
    """A picture with its marks [px]: round numbers on both axes, curves as paths and points by name, where the sliders
    stand."""

    across: list[tuple[float, str]]
    up: list[tuple[float, str]]
    curves: list[tuple[str, str, tuple[float, float]]]
    points: list[tuple[str, list[tuple[float, float]]]]
    at: float | None
    nought: float | None
    names: tuple[str, str]


def shown(units: Units, quantity: str, value: float) -> float:
    """A value as it is drawn: in the units of the page."""
    return value if quantity in PLAIN else units.from_si(quantity, value)


def unit_of(units: Units, quantity: str) -> str:
    """The unit beside an axis."""
    return {"angle": "°", "count": ""}.get(quantity) or (units.label(quantity) if quantity not in PLAIN else "")


def _round_numbers(low: float, high: float) -> list[float]:
    span = max(high - low, 1e-9)
    raw = span / 5.0
    size = 10.0 ** math.floor(math.log10(raw))
    step = next(nice * size for nice in NICE if nice * size >= raw)
    first = math.ceil(low / step - 1e-9)
    return [n * step for n in range(first, math.floor(high / step + 1e-9) + 1)]


def chart(explainer: Explainer, picture: Picture, units: Units) -> Chart:
    """The picture in pixels; points are drawn to one scale both ways."""
    (across, x_name), (up, y_name) = explainer.across, explainer.up
    every = [p for curve in (*picture.curves.values(), *picture.points.values()) for p in curve]
    xs, ys = [shown(units, across, x) for x, _ in every], [shown(units, up, y) for _, y in every]
    low_x, high_x, low_y, high_y = min(xs), max(xs), min(ys), max(ys)
    if picture.points:
        reach = 1.05 * max(map(abs, (low_x, high_x, low_y, high_y)))
        low_y, high_y = -reach, reach
        wide = reach * (WIDTH - LEFT - RIGHT) / (HEIGHT - TOP - BOTTOM)
        low_x, high_x = -wide, wide
    elif high_y - low_y < 1e-9:
        low_y, high_y = low_y - 1.0, high_y + 1.0
    else:
        low_y, high_y = low_y - 0.06 * (high_y - low_y), high_y + 0.06 * (high_y - low_y)

    def x(value: float) -> float:
        return LEFT + (value - low_x) / (high_x - low_x) * (WIDTH - LEFT - RIGHT)

    def y(value: float) -> float:
        return HEIGHT - BOTTOM - (value - low_y) / (high_y - low_y) * (HEIGHT - TOP - BOTTOM)

    def place(point: tuple[float, float]) -> tuple[float, float]:
        return round(x(shown(units, across, point[0])), 1), round(y(shown(units, up, point[1])), 1)

    curves = []
    for name, curve in picture.curves.items():
        placed = [place(p) for p in curve]
        path = "M" + " L".join(f"{px} {py}" for px, py in placed)
        curves.append((name, path, placed[-1]))
    at = None if picture.at is None else x(shown(units, across, picture.at))
    return Chart(
        [(x(v), f"{v:g}") for v in _round_numbers(low_x, high_x)],
        [(y(v), f"{v:.10g}") for v in (round(n, 9) for n in _round_numbers(low_y, high_y))],
        curves,
        [(name, [place(p) for p in points]) for name, points in picture.points.items()],
        None if at is None else min(max(at, LEFT), WIDTH - RIGHT),
        y(0.0) if low_y < 0.0 < high_y else None,
        (_named(x_name, unit_of(units, across)), _named(y_name, unit_of(units, up))),
    )


def _named(name: str, unit: str) -> str:
    return f"{name}, {unit}" if unit else name
