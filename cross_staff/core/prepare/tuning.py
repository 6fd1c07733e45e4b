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
LEAST_MOVED_M = 0.0005  # a tear that moved by less was not moved
GRIP = "grip"


@dataclass(frozen=True)
class TuningStep:
    """A step that can be tried: its key, what it is, the axis it works on, the step that takes it back, what the bow
    must have for it (one of WAYS; empty: every bow), and what it makes old. Keys are as the archer sees them."""

    key: str
    words: str
    axis: str
    back: str
    needs: str = ""
    cause: str = "tuned"

    def possible(self, cams_by: str) -> bool:
        """Whether a bow whose cams are tuned so, a key of CAMS_BY, has it."""
        return not self.needs or self.needs in WAYS[cams_by]


CABLES, YOKES, SPACERS = "cables", "yokes", "spacers"
WAYS: dict[str, tuple[str, ...]] = {
    "": (),
    "none": (),
    "cables": (CABLES,),
    "yokes": (CABLES, YOKES),
    "spacers": (CABLES, SPACERS),
    "both": (CABLES, YOKES, SPACERS),
}
STEPS = {
    step.key: step
    for step in (
        TuningStep(GRIP, "settle the grip: same place, relaxed, nothing else changed", "both", GRIP),
        TuningStep("nock_down", "lower the nocking point by 1 mm, or raise the rest by as much", "up", "nock_up"),
        TuningStep("nock_up", "raise the nocking point by 1 mm, or lower the rest by as much", "up", "nock_down"),
        TuningStep("rest_right", "move the rest 0.5 mm to the right", "right", "rest_left"),
        TuningStep("rest_left", "move the rest 0.5 mm to the left", "right", "rest_right"),
        TuningStep(
            "yoke_right",
            "half a twist into the right leg of the yoke, half out of the left",
            "right",
            "yoke_left",
            YOKES,
            "tuned_cams",
        ),
        TuningStep(
            "yoke_left",
            "half a twist into the left leg of the yoke, half out of the right",
            "right",
            "yoke_right",
            YOKES,
            "tuned_cams",
        ),
        TuningStep("cam_right", "move the cam a thin spacer to the right", "right", "cam_left", SPACERS, "tuned_cams"),
        TuningStep("cam_left", "move the cam a thin spacer to the left", "right", "cam_right", SPACERS, "tuned_cams"),
        TuningStep(
            "cable_in", "half a twist into the cable that sets the timing", "up", "cable_out", CABLES, "tuned_cable"
        ),
        TuningStep(
            "cable_out", "half a twist out of the cable that sets the timing", "up", "cable_in", CABLES, "tuned_cable"
        ),
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
    """good: nothing to do. Else the step to try, and why: first_grip, vertical, trial, keep, reverse, other (what was
    tried before did not help), or exhausted, with no step, where all of it was tried."""

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


def advise(
    kind: str, readings: Sequence[TuneReading], handed: str = "right", distance_m: float = 0.0, cams_by: str = ""
) -> TuningAdvice:
    """The next step for a tear or a bare shaft; none is ordered again that did not help.

    Grip first. Up and down before sideways: a nock that tears high, or a bare shaft that lands low, asks for a lower
    nocking point. Sideways by trial: the last step of a pair is kept where it shrank the offset, turned round where it
    grew; a pair of which one moved nothing, or neither helped, is left for the next that the bow has: the rest, then
    yoke legs, then spacers beside the cams; the nocking point, then a cable. The very first sideways step goes to the
    side where the nock tore (or away from where the bare shaft landed) for a right-handed bow, mirrored for a
    left-handed one.

    Args:
        kind: one of KINDS.
        readings: tears or bare shafts [m], oldest first.
        handed: right or left.
        distance_m: of the bare shaft [m].
        cams_by: how the bow's cams are tuned, a key of WAYS.

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
    nock = (right, up) if kind == "paper_tear" else (-right, -up)  # where the nock is, as the arrow leaves
    upright_first = abs(up) > limit and abs(up) >= abs(right) or abs(right) <= limit
    for axis in ("up", "right") if upright_first else ("right", "up"):
        if abs(last.point[_PLACE[axis]]) <= limit / 2.0:
            continue  # the other one is at fault
        for pair in _ladder(axis, nock, handed):
            told = _by_trial(readings, axis, pair) if STEPS[pair].possible(cams_by) else None
            if told is not None:
                return told
    return TuningAdvice(False, "", "exhausted")


_PLACE = {"right": 0, "up": 1}


def _ladder(axis: str, nock: Point, handed: str) -> tuple[str, ...]:
    """The usual direction of each pair of steps, in the order in which they are tried."""
    if axis == "up":
        high = nock[1] > 0.0
        return ("nock_down", "cable_in") if high else ("nock_up", "cable_out")
    to_the_right = (nock[0] > 0.0) == (handed == "right")
    return ("rest_right", "yoke_right", "cam_right") if to_the_right else ("rest_left", "yoke_left", "cam_left")


def _by_trial(readings: Sequence[TuneReading], axis: str, usual: str) -> TuningAdvice | None:
    """What one pair of steps still has to offer: its usual direction while neither was tried, then the one that has
    shrunk the offset on this bow; None where it has not helped."""
    place, pair = _PLACE[axis], (usual, STEPS[usual].back)
    tried = [
        (after.after, before.point[place], after.point[place])
        for before, after in zip(readings, readings[1:])
        if after.after in pair
    ]
    if not tried:
        first = STEPS[usual].needs == ""
        return TuningAdvice(False, usual, ("vertical" if axis == "up" else "trial") if first else "other")
    step, before, after = tried[-1]
    moved, now = after - before, readings[-1].point[place]
    if abs(moved) < LEAST_MOVED_M:
        return None
    about = abs(now / moved)
    through = sum(then * later < 0.0 for _, then, later in tried)
    if through > 1:  # there and back: as near as such steps go
        return None
    if abs(after) < abs(before) or after * before < 0.0:  # it shrank, or went through
        towards = step if moved * now < 0.0 else STEPS[step].back
        return TuningAdvice(False, towards, "keep" if towards == step else "reverse", about)
    helped = any(abs(now_) < abs(then) for each, then, now_ in tried if each != step)
    if any(each != step for each, _, _ in tried) and not helped:
        return None
    return TuningAdvice(False, STEPS[step].back, "reverse", about)


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
