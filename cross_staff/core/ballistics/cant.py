"""What axes cost: the cant that a centred bubble puts in, and how far it moves the arrow."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from cross_staff.core.ballistics.flight import Array, RigFigures, Trajectories, elevation, path_integral
from cross_staff.core.ballistics.sightline import pin_heights


def false_cant(second_rad: float, third_rad: float, slope_rad: float, delta_rad: float) -> float:
    """Cant about the line of sight that centring the sight's bubble puts in [rad].

    With the vial (x, y, z) = (cos a2 cos a3, cos a2 sin a3, -sin a2) turned by delta about X, c solves
    y' sin(slope) + (z' cos c - x sin c) cos(slope) = 0: c = acos(-y' tan(slope) / R) - atan2(x, z'),
    R = hypot(x, z').

    Args:
        second_rad: a2 [rad], clockwise positive.
        third_rad: a3 [rad], right end forward positive.
        slope_rad: [rad] of the line of sight, up positive, within 80 degrees.
        delta_rad: arrow line above the line of sight [rad].

    Returns:
        cant [rad], top limb right positive.

    Source:
        derived in docs/method.md, section 11.
    """
    x = math.cos(second_rad) * math.cos(third_rad)
    y = math.cos(second_rad) * math.sin(third_rad)
    z = -math.sin(second_rad)
    forward = y * math.cos(delta_rad) - z * math.sin(delta_rad)
    up = y * math.sin(delta_rad) + z * math.cos(delta_rad)
    share = -forward * math.tan(slope_rad) / math.hypot(x, up)
    return math.acos(max(-1.0, min(1.0, share))) - math.atan2(x, up)


@dataclass(frozen=True)
class Case:
    """A target: distance [m] and slope of the line of sight [rad]."""

    distance_m: float
    slope_rad: float


@dataclass(frozen=True)
class Cost:
    """What a case costs: the false cant [rad], and the impact's shift to the right and up [m]."""

    case: Case
    cant_rad: float
    right_m: float
    up_m: float


def fall(figures: RigFigures, cases: Sequence[Case]) -> list[float | None]:
    """How far the arrow has fallen from its drag-slowed bore line at each target [m], the sight set
    for it; None out of reach.

    D = v0 sin(delta) int exp(-k s) dt - h cos(delta), s the path length.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        cases: distance [m] and slope [rad] of each, shape (n,).

    Returns:
        D [m] of each case, shape (n,); None out of reach.

    Source:
        derived in docs/method.md, section 11.
    """
    return [None if case is None else case[0] for case in falls(figures, tuple(cases))]


@lru_cache(maxsize=256)  # they do not hang on the axes, which are what is asked about
def falls(figures: RigFigures, cases: tuple[Case, ...]) -> tuple[tuple[float, float, float] | None, ...]:
    """Fall [m], arrow line above the line of sight [rad] and pin height [m] of each case; None out of reach.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        cases: distance [m] and slope [rad] of each, shape (n,).

    Returns:
        fall [m], arrow line above the line of sight [rad] and pin height [m] of each case, shape (n,); None out of
            reach.

    Source:
        derived in docs/method.md, section 11.
    """
    if not cases:
        return ()
    shots = Trajectories.of(figures, [c.distance_m for c in cases], [c.slope_rad for c in cases])
    solved = pin_heights(shots)
    height: Array = np.where(solved.reached, solved.height_m, 0.0)
    delta = elevation(shots, height)
    slowed = path_integral(shots, height)
    drops = shots.speed_mps * np.sin(delta) * slowed - height * np.cos(delta)
    rows = zip(drops, delta, solved.height_m, solved.reached)
    return tuple((float(d), float(a), float(h)) if ok else None for d, a, h, ok in rows)


def cost(figures: RigFigures, second_rad: float, third_rad: float, cases: Sequence[Case]) -> list[Cost | None]:
    """What second and third axis cost at each target, against the same bow held truly plumb.

    Right D sin c, up -D (1 - cos c).

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        second_rad: a2 [rad], clockwise positive.
        third_rad: a3 [rad], right end forward positive.
        cases: distance [m] and slope [rad] of each, shape (n,).

    Returns:
        cant [rad], right [m] and up [m] of each case, shape (n,); None out of reach.

    Source:
        derived in docs/method.md, section 11.
    """
    costs: list[Cost | None] = []
    for case, known in zip(cases, falls(figures, tuple(cases))):
        if known is None:
            costs.append(None)
            continue
        drop, delta, _ = known
        c = false_cant(second_rad, third_rad, case.slope_rad, delta)
        costs.append(Cost(case, c, drop * math.sin(c), -drop * (1.0 - math.cos(c))))
    return costs
