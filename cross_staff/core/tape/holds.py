"""Holds: where arrows come in with a pin on the aim, and over which distances a pin is right as it is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from cross_staff.core.ballistics.flight import Array, RigFigures, Trajectories, path_heights
from cross_staff.core.ballistics.sightline import far_distances

STEP_M = 0.05  # of the table that bands are read off
LOOK_TO_M = 200.0
_LEAST_STEPS, _STEP_M = 32, 2.0  # of a path that is flown


def impacts(figures: RigFigures, heights_m: ArrayLike, distances_m: ArrayLike, slope_rad: float = 0.0) -> Array:
    """Height of impact against the aim for every pin at every distance [m]; nan where the arrow stops short.
    Each pin's arrow is flown once, and read wherever it is asked for.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        distances_m: [m] from the sight plane, shape (k,).
        slope_rad: [rad] of the line of sight, up positive, within 80 degrees.

    Returns:
        up [m], shape (n, k); nan where the arrow stops short.

    Source:
        derived in docs/method.md, section 15.
    """
    heights, distances = (np.atleast_1d(np.asarray(v, float)) for v in (heights_m, distances_m))
    end = float(distances.max())
    shots = Trajectories.of(figures, np.full(len(heights), end), slope_rad)
    up, sound = path_heights(shots, heights, end, distances, max(_LEAST_STEPS, math.ceil(end / _STEP_M)))
    return np.where(sound, up, np.nan)


@dataclass(frozen=True)
class Band:
    """From where to where a pin, held on the middle, stays within half the target [m]; starts_near: the
    whole way from the bow."""

    near_m: float
    far_m: float
    starts_near: bool


def point_on_bands(figures: RigFigures, heights_m: Sequence[float], target_m: float) -> list[Band | None]:
    """The point-on band of each pin for a target of a given height, around the pin's own distance.

    Read off a table of impacts every 5 cm, by straight lines between its rows.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        target_m: its whole height [m].

    Returns:
        n bands, from and to [m]; None for a pin above the turnover.

    Source:
        derived in docs/method.md, section 15.
    """
    if not heights_m:
        return []
    own = far_distances(figures, list(heights_m))
    known = [d for d in own if d is not None]
    end = min(LOOK_TO_M, 1.6 * max(known, default=1.0) + 20.0)
    distances = np.arange(0.5, end, STEP_M)
    table = impacts(figures, heights_m, distances)
    return [None if d is None else _band(distances, up, d, target_m / 2.0) for d, up in zip(own, table)]


def _band(distances: Array, up: Array, own_m: float, half: float) -> Band:
    inside = np.abs(np.where(np.isfinite(up), up, np.inf)) <= half
    middle = int(np.clip(np.searchsorted(distances, own_m), 1, len(distances) - 1))
    outside_before = np.flatnonzero(~inside[:middle])
    outside_after = np.flatnonzero(~inside[middle:])
    first = outside_before[-1] if len(outside_before) else None
    last = middle + outside_after[0] if len(outside_after) else None
    near = float(distances[0]) if first is None else _crossing(distances, up, int(first), half)
    far = float(distances[-1]) if last is None else _crossing(distances, up, int(last) - 1, half)
    return Band(min(near, own_m), max(far, own_m), first is None)


def _crossing(distances: Array, up: Array, row: int, half: float) -> float:
    """Where the height passes the edge of the target between a row and the next [m]."""
    a, b = up[row], up[row + 1]
    if not np.isfinite(a + b) or a == b:
        return float(distances[row + 1])
    edge = half if max(a, b) > half else -half
    part = float(np.clip((edge - a) / (b - a), 0.0, 1.0))
    return float(distances[row] + part * STEP_M)


def best_hold(figures: RigFigures, heights_m: Sequence[float], distance_m: float) -> tuple[int, float] | None:
    """The pin that is least off at a distance, and how high it shoots there [m]; None out of reach.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        distance_m: [m] from the sight plane.

    Returns:
        which pin, and how high it shoots there [m]; None out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    up = impacts(figures, list(heights_m), distance_m)[:, 0]
    known = [(abs(float(v)), pin) for pin, v in enumerate(up) if np.isfinite(v)]
    if not known:
        return None
    pin = min(known)[1]
    return pin, float(up[pin])


def midway(figures: RigFigures, heights_m: Sequence[float]) -> list[float | None]:
    """The distance that is right with the target held midway between each pin and the next [m].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).

    Returns:
        n - 1 distances [m]; None out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    between = [(a + b) / 2.0 for a, b in zip(heights_m, heights_m[1:])]
    return far_distances(figures, between) if between else []
