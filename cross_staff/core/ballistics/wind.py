"""Drift in a crosswind, by the lag rule: an estimate of whether a sideways miss means anything."""

from __future__ import annotations

from numpy.typing import ArrayLike

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import pin_heights


def drifts(figures: RigFigures, distances_m: ArrayLike, crosswind_mps: float) -> list[float | None]:
    """Drift W (t - d / v0) at each distance [m], with the wind; None out of reach.

    Never a windage setting.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.
        crosswind_mps: W [m/s] across the line of sight, from the left positive.

    Returns:
        drift [m] with the wind, shape (n,); None out of reach.

    Source:
        the lag rule of exterior ballistics (docs/method.md, section 15).
    """
    shots = Trajectories.of(figures, distances_m)
    solved = pin_heights(shots)
    lag = solved.arrival.time_s - shots.distance_m / figures.speed_mps
    return [crosswind_mps * float(t) if ok else None for t, ok in zip(lag, solved.reached)]
