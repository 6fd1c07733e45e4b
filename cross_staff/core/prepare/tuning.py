"""Paper tears, bare shafts and the walk-back test: one small, reversible step at a time.

Which way a sideways step helps is not agreed on among archers, so it is tried: one small step, keep
the direction that shrank the tear, and remember it for this bow and hand.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

Point = tuple[float, float]  # right, up [m]

TEAR_GOOD_M = 0.005  # a hole this clean is as good as paper can tell
TEAR_FAIR_M = 0.010  # a tear that can be lived with, and is noted
BARE_GOOD_MRAD = 2.0  # a bare shaft this close to the fletched ones, of its distance
WALK_BACK_CHANCE = 0.05
GROUP_MRAD = 1.0
GRIP = "grip"


@dataclass(frozen=True)
class TuningStep:
    """A step that can be tried: its key, what it is, the axis it works on, and the step that takes it
    back. Keys are as the archer sees them."""

    key: str
    words: str
    axis: str
    back: str


STEPS = {
    step.key: step
    for step in (
        TuningStep(GRIP, "settle the grip: same place, relaxed, nothing else changed", "both", GRIP),
        TuningStep("nock_down", "lower the nocking point by 1 mm, or raise the rest by as much", "up", "nock_up"),
        TuningStep("nock_up", "raise the nocking point by 1 mm, or lower the rest by as much", "up", "nock_down"),
        TuningStep("rest_right", "move the rest 0.5 mm to the right", "right", "rest_left"),
        TuningStep("rest_left", "move the rest 0.5 mm to the left", "right", "rest_right"),
    )
}
KINDS = ("paper_tear", "bare_shaft")


@dataclass(frozen=True)
class TuneReading:
    """A tear (where the nock tore relative to the point) or a bare shaft (relative to the fletched
    ones), right and up [m], and the step that was done just before it ('' for as found)."""

    point: Point
    after: str = ""


@dataclass(frozen=True)
class TuningAdvice:
    """good: nothing to do. Else the step to try, and why: first_grip, vertical, trial, keep, reverse
    or again (a step that did nothing)."""

    good: bool
    step: str = ""
    why: str = ""
    about_steps: float | None = None


def size_m(point: Point) -> float:
    """How far a point lies from the middle.

    Args:
        point: right and up [m].

    Returns:
        [m].

    Source:
        Pythagoras.
    """
    return math.hypot(*point)


def advise(kind: str, readings: Sequence[TuneReading], handed: str = "right", distance_m: float = 0.0) -> TuningAdvice:
    """The next step for a tear or a bare shaft.

    Grip first. Up and down before sideways: a nock that tears high, or a bare shaft that lands low,
    asks for a lower nocking point. Sideways by trial: the last sideways step is kept where it shrank
    the offset, turned round where it grew; the very first one goes to the side where the nock tore
    (or away from where the bare shaft landed) for a right-handed bow, mirrored for a left-handed one.

    Args:
        kind: one of KINDS.
        readings: tears or bare shafts [m], oldest first.
        handed: right or left.
        distance_m: of the bare shaft [m].

    Returns:
        the next step, why, and how many such steps it may take.

    Source:
        docs/method.md, section 10.
    """
    last = readings[-1]
    right, up = last.point
    limit = TEAR_GOOD_M if kind == "paper_tear" else BARE_GOOD_MRAD * 1e-3 * max(distance_m, 5.0)
    if size_m(last.point) <= limit:
        return TuningAdvice(True)
    if not any(reading.after == GRIP for reading in readings):
        return TuningAdvice(False, GRIP, "first_grip")
    if abs(up) > limit and abs(up) >= abs(right) or abs(right) <= limit:
        return _upright(kind, readings, up)
    return _sideways(kind, readings, handed)


def _upright(kind: str, readings: Sequence[TuneReading], up: float) -> TuningAdvice:
    nock_high = up > 0.0 if kind == "paper_tear" else up < 0.0
    usual = "nock_down" if nock_high else "nock_up"
    return _by_trial(readings, "up", usual, 1)


def _sideways(kind: str, readings: Sequence[TuneReading], handed: str) -> TuningAdvice:
    right = readings[-1].point[0]
    nock_right = right > 0.0 if kind == "paper_tear" else right < 0.0
    usual = "rest_right" if nock_right == (handed == "right") else "rest_left"
    return _by_trial(readings, "right", usual, 0)


def _by_trial(readings: Sequence[TuneReading], axis: str, usual: str, place: int) -> TuningAdvice:
    """The direction that has shrunk the offset on this bow; the usual one while none was tried."""
    pairs = [
        (after.after, before.point[place], after.point[place])
        for before, after in zip(readings, readings[1:])
        if after.after in STEPS and STEPS[after.after].axis == axis
    ]
    if not pairs:
        return TuningAdvice(False, usual, "vertical" if axis == "up" else "trial")
    step, before, after = pairs[-1]
    moved = after - before
    if abs(moved) < 0.0005:
        return TuningAdvice(False, step, "again")
    towards = step if moved * readings[-1].point[place] < 0.0 else STEPS[step].back
    about = abs(readings[-1].point[place] / moved)
    return TuningAdvice(False, towards, "keep" if towards == step else "reverse", about)


@dataclass(frozen=True)
class WalkBack:
    """What the walk-back impacts show: plumb, slant or curve (None: not yet enough); lean of the
    line [rad], to the right growing with distance positive; chance of the slant and of the curve by
    luck; places of the fitted line [m] for each impact."""

    shape: str | None
    slant_rad: float = 0.0
    slant_p: float | None = None
    curve_p: float | None = None
    fitted_m: tuple[float, ...] = ()


def walk_back(impacts: Sequence[Point], spread_mrad: float = GROUP_MRAD, arrows: int = 1) -> WalkBack:
    """Shape of a walk-back: one aim at a plumb line from several distances, all with the near pin.

    A line, then a parabola, are fitted to right against distance, weighted by the archer's spread
    (1 / (spread d)); each added term is real when its chance, by the normal law, is under 5 %.

    Args:
        impacts: distance and right [m] of each group, shape (n, 2).
        spread_mrad: one sd in one direction [mrad].
        arrows: how many at each distance.

    Returns:
        its shape, plumb, slant or curve, and the slant [rad]; shape None for fewer than three distances.

    Source:
        docs/method.md, section 10.
    """
    if len({d for d, _ in impacts}) < 3:
        return WalkBack(None)
    distance, right = np.array(impacts, float).T
    sd = spread_mrad * 1e-3 * distance / math.sqrt(arrows)
    middle = distance.mean()
    slope, slope_sd, fitted = _last_term(distance - middle, right, sd, 1)
    bend, bend_sd, curved = _last_term(distance - middle, right, sd, 2)
    slant_p, curve_p = (_two_sided(v / s) for v, s in ((slope, slope_sd), (bend, bend_sd)))
    curve = curve_p < WALK_BACK_CHANCE
    shape = "curve" if curve else "slant" if slant_p < WALK_BACK_CHANCE else "plumb"
    return WalkBack(shape, math.atan(slope), slant_p, curve_p, tuple(curved if curve else fitted))


def _last_term(x: np.ndarray, y: np.ndarray, sd: np.ndarray, degree: int) -> tuple[float, float, list[float]]:
    """The highest term of a weighted polynomial with its sd, and the fitted values."""
    design = np.vander(x, degree + 1, increasing=True)
    weighted = design / sd[:, None]
    covariance = np.linalg.inv(weighted.T @ weighted)
    solved = covariance @ weighted.T @ (y / sd)
    return float(solved[-1]), math.sqrt(float(covariance[-1, -1])), [float(v) for v in design @ solved]


def _two_sided(sds: float) -> float:
    return math.erfc(abs(sds) / math.sqrt(2.0))
