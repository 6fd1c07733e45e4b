"""Coordinates of the level station's drawings: vials, tolerance bars, and the bow that is pitched and
canted by hand, from tilts that the core worked out."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.cant_trial import CantFound, CantTrial
from cross_staff.core.level.methods import LINE, METHODS, Method

WIDTH, HEIGHT = 560.0, 108.0
_REACH = 232.0  # to the outermost line on either side
_Y = 56.0


@dataclass(frozen=True)
class VialDrawing:
    """A vial with its lines [px]: pixels a division, the bubble's place, and its name."""

    name: str
    field: str
    per_line: float
    middle: float
    y: float
    x: float
    lines: tuple[tuple[float, str, bool], ...]


def vial(name: str, field: str, divisions: float, count: int) -> VialDrawing:
    """A vial of `count` lines a side with its bubble `divisions` to the right of the middle."""
    middle, per_line = WIDTH / 2.0, _REACH / max(count, 2)
    lines = tuple(
        (middle + k * per_line, f"{abs(k)} {'L' if k < 0 else 'R'}", abs(k) == 1) for k in range(-count, count + 1) if k
    )
    x = min(max(middle + divisions * per_line, 30.0), WIDTH - 30.0)
    return VialDrawing(name, field, per_line, middle, _Y, x, lines)


@dataclass(frozen=True)
class RulerDrawing:
    """A plumb line with a scale across it [px]: pixels a unit, the step of a key and its decimals, the place of the
    housing's edge, ticks with their words."""

    per_unit: float
    step: float
    places: int
    unit: str
    x: float
    ticks: tuple[tuple[float, str], ...]


def ruler(at: float, inches: bool) -> RulerDrawing:
    """A scale of six millimetres a side, or a quarter of an inch in sixteenths, with the edge `at` so many."""
    middle, half = WIDTH / 2.0, 240.0
    per_unit, step, places = (half / 0.25, 0.01, 2) if inches else (half / 6.0, 0.1, 1)
    count = 4 if inches else 6
    gap = half / count
    ticks = tuple((middle + k * gap, _tick(k, inches)) for k in range(-count, count + 1))
    x = min(max(middle + at * per_unit, 30.0), WIDTH - 30.0)
    return RulerDrawing(per_unit, step, places, "in" if inches else "mm", x, ticks)


def _tick(k: int, inches: bool) -> str:
    side = "L" if k < 0 else "R"
    return "" if not k else f"{abs(k)}/16 {side}" if inches else f"{abs(k)} {side}"


@dataclass(frozen=True)
class Bar:
    """An axis beside its tolerance [px of 300]: the good span, the value, its 95 % span."""

    good_left: float
    good_width: float
    x: float
    low: float
    high: float


def bar(state: AxisState) -> Bar | None:
    """The tolerance bar of an axis; None before it is read."""
    if state.now is None:
        return None
    scale = 45.0 / state.tolerance

    def x(value: float) -> float:
        return min(max(150.0 + scale * value, 6.0), 294.0)

    spread = 1.96 * state.now.sd
    value = state.now.value
    return Bar(x(-state.tolerance), 90.0, x(value), x(value - spread), x(value + spread))


@dataclass(frozen=True)
class Picture:
    """Bow, sight and vial as pitched and canted: the side view's turn, the housing's yaw from above
    (drawn several times as large), the canted rear view, and where both bubbles stand."""

    pitch_deg: float
    cant_deg: float
    third_deg: float
    second_deg: float
    sight_x: float
    reference_x: float
    sight_words: str
    reference_words: str
    yaw_drawn_deg: float
    middle: float
    per_line: float
    lines: tuple[float, ...]

    @property
    def turn_deg(self) -> float:
        """How far the bow is turned on the paper, clockwise."""
        return -self.pitch_deg


YAW_TIMES, LINE_DEG = 6.0, 0.5


def picture(
    pitch_deg: float, cant_deg: float, second_deg: float, third_deg: float, bubbles_rad: tuple[float, float]
) -> Picture:
    """What both vials show, half a degree a line, and the turned drawings. Args: bubbles_rad, tilts of the sight's
    vial and of the reference."""
    sight, reference = (math.degrees(tilt) / LINE_DEG for tilt in bubbles_rad)
    middle, per_line = 150.0, 24.0

    def x(lines: float) -> float:
        return round(middle + per_line * min(max(lines, -5.2), 5.2), 1)

    return Picture(
        pitch_deg,
        cant_deg,
        third_deg,
        second_deg,
        x(sight),
        x(reference),
        _words(sight),
        _words(reference),
        -YAW_TIMES * third_deg,
        middle,
        per_line,
        tuple(middle + per_line * k for k in range(-4, 5) if k),
    )


def _words(lines: float) -> str:
    if abs(lines) < 0.05:
        return "in the middle"
    beyond = " (beyond its lines)" if abs(lines) > 5.0 else ""
    return f"{abs(lines):.1f} {'right' if lines > 0 else 'left'}{beyond}"


@dataclass(frozen=True)
class MethodDrawing:
    """A method's sketch: turn of the drawing [deg], whether a bow is there and drawn, a plumb line,
    where the reference sits [px from the grip] and in words."""

    turn: float
    bow: bool
    drawn: bool
    plumb: bool
    reference: tuple[float, float] | None
    at: str


_REFERENCES = {
    "string": ((-47.0, -39.0), "on the string"),
    "string_rest": ((-10.0, -40.0), "on the string"),
    "riser": ((12.0, 16.0), "on a flat of the riser"),
    "rail": ((41.0, -50.0), "square on the rail"),
    "jig": ((5.0, 14.0), "on the jig"),
    "line": (None, "is the line itself"),
    "bow": ((12.0, 16.0), "on its seat"),
    "arrows": (None, "is where the arrows go"),
}


def method_drawing(method: Method) -> MethodDrawing:
    """The sketch of a method: how the bow is held and where the reference sits."""
    place, words = _REFERENCES[method.reference_at]
    tilted = method in METHODS["third"]
    return MethodDrawing(
        24.0 if tilted else 0.0,
        method.reference_at != "jig",
        method.full_draw,
        method.reads == LINE,
        place,
        words,
    )


@dataclass(frozen=True)
class CantDrawing:
    """Two groups on the target [px of 300]: middle and 95 % circle of each, the computed place of the canted one (None
    where it is not known), how the bow was canted [deg, drawn as it was], and how wide the picture is [m]."""

    plumb: tuple[float, float, float]
    canted: tuple[float, float, float]
    computed: tuple[float, float] | None
    cant_deg: float
    width_m: float


def cant_drawing(trial: CantTrial, found: CantFound) -> CantDrawing:
    """Both groups of a cant on purpose, to one scale."""
    far = [*trial.plumb_m, *trial.canted_m, trial.plumb_m[0] + (found.computed_m or 0.0)]
    width = max(2.6 * max(map(abs, far)), 8.0 * found.sd_m, 0.2)

    def place(right: float, up: float) -> tuple[float, float]:
        return round(150.0 + 300.0 * right / width, 1), round(150.0 - 300.0 * up / width, 1)

    radii = [round(max(300.0 * 1.96 * found.sd_m / math.sqrt(2.0) / width, 5.0), 1)] * 2
    computed = None if found.computed_m is None else place(trial.plumb_m[0] + found.computed_m, trial.canted_m[1])
    return CantDrawing(
        (*place(*trial.plumb_m), radii[0]),
        (*place(*trial.canted_m), radii[1]),
        computed,
        round(math.degrees(found.cant_rad), 1),
        width,
    )
