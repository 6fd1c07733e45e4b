"""The cut chart: what to dial for a slope and a distance, up and down separately."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.ballistics.flight import Array, RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.sightline import equivalent_distances, pin_height, pin_heights, turnover_distance

_STEPS = 96


@dataclass(frozen=True)
class SlopeCut:
    """A shot on a slope: the level distance to dial [m]; where there is none (short and steep) the turnover
    is dialled instead; miss_m, how high the arrow then comes in; uncut_m, how high it would come in with
    the slant distance dialled [m]. None: out of reach."""

    distance_m: float
    slope_rad: float
    level_m: float | None
    miss_m: float | None
    uncut_m: float | None
    reached: bool


def level_distances(
    figures: RigFigures, distances_m: Sequence[float], slopes_rad: Sequence[float]
) -> list[float | None]:
    """Level distance with the pin height of each shot [m]; a level one's is its own, or, inside the
    turnover, its far-branch partner. None out of reach, or above the level maximum.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distances_m: slant [m], shape (n,).
        slopes_rad: [rad] of the line of sight, up positive, shape (n,).

    Returns:
        n level distances [m]; a level one's is its own, or, inside the turnover, its far-branch partner; None out of
            reach, or above the level maximum.

    Source:
        derived in docs/method.md, section 15.
    """
    if not len(distances_m):
        return []
    turnover = turnover_distance(figures)
    distances = equivalent_distances(
        figures, Trajectories.of(figures, np.asarray(distances_m, float), np.asarray(slopes_rad))
    )
    return [
        float(d) if slope == 0.0 and d >= turnover and e is not None else e
        for d, slope, e in zip(distances_m, slopes_rad, distances)
    ]


def cut_chart(figures: RigFigures, distances_m: Sequence[float], slopes_rad: Sequence[float]) -> list[SlopeCut]:
    """Every distance at every slope, slope by slope.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distances_m: slant [m], shape (k,).
        slopes_rad: [rad] of the line of sight, up positive, shape (n,).

    Returns:
        n k rows of distance [m], slope [rad] and level distance [m], slope by slope.

    Source:
        docs/method.md, section 15.
    """
    distances = np.tile(np.asarray(distances_m, float), len(slopes_rad))
    slopes = np.repeat(np.asarray(slopes_rad, float), len(distances_m))
    if not len(distances):
        return []
    level = level_distances(figures, distances.tolist(), slopes.tolist())
    shots = Trajectories.of(figures, distances, slopes)
    reached = pin_heights(shots).reached
    at_turnover = _impacts(shots, np.full(len(distances), pin_height(figures, turnover_distance(figures))))
    flat = pin_heights(Trajectories.of(figures, distances))
    uncut = np.where(flat.reached, _impacts(shots, flat.height_m), np.nan)
    return [
        SlopeCut(
            float(d), float(p), e, _known(at_turnover[i]) if ok and e is None else None, _known(uncut[i]), bool(ok)
        )
        for i, (d, p, e, ok) in enumerate(zip(distances, slopes, level, reached))
    ]


def _impacts(shots: Trajectories, heights_m: Array) -> Array:
    arrival = arrive(shots, heights_m, _STEPS)
    return np.where(arrival.sound, arrival.height_m, np.nan)


def _known(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None
