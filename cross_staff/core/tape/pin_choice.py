"""Which distances to choose for pins, and what a choice costs.

Heights and travels are of the housing; distances from the sight plane, on the far branch.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.ballistics.sightline import far_distances, pin_height, pin_heights, turnover_distance
from cross_staff.core.errors import InvalidValue
from cross_staff.core.tape.holds import STEP_M, impacts, point_on_bands

MOST_PINS = 20


@dataclass(frozen=True)
class Price:
    """What a set of pins costs: the worst hold between them, by the nearer pin, and where [m]; the smallest
    gap between two pins in the housing [mm]; from where to where the target is covered without a hold."""

    worst_hold_m: float
    worst_at_m: float
    least_gap_mm: float
    covered: tuple[tuple[float, float], ...]


def price(figures: RigFigures, distances_m: Sequence[float], target_m: float) -> Price | None:
    """What it costs to shoot with these pins, undialled; None for fewer than two, or out of reach.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distances_m: of the pins [m] from the sight plane, shape (n,).
        target_m: height of the target [m].

    Returns:
        largest miss between the pins [m], and where [m]; None for fewer than two, or out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    solved = pin_heights(Trajectories.of(figures, list(distances_m)))
    if len(distances_m) < 2 or not solved.reached.all():
        return None
    between = np.arange(distances_m[0], distances_m[-1] + STEP_M, STEP_M)
    nearest = np.abs(impacts(figures, solved.height_m, between)).min(axis=0)
    worst = int(np.nanargmax(nearest))
    gaps = 1000.0 * (solved.height_m[:-1] - solved.height_m[1:])
    bands = point_on_bands(figures, [float(h) for h in solved.height_m], target_m)
    covered: list[tuple[float, float]] = []
    for band in sorted((b for b in bands if b is not None), key=lambda b: b.near_m):
        if covered and band.near_m <= covered[-1][1] + STEP_M:
            covered[-1] = (covered[-1][0], max(covered[-1][1], band.far_m))
        else:
            covered.append((band.near_m, band.far_m))
    return Price(float(nearest[worst]), float(between[worst]), float(gaps.min()), tuple(covered))


def even_gaps(figures: RigFigures, first_m: float, last_m: float, count: int) -> tuple[float, ...]:
    """Distances whose pins stand evenly spaced between two [m].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        first_m: nearest distance [m] from the sight plane.
        last_m: farthest distance [m] from the sight plane.
        count: how many pins, 2 and up.

    Returns:
        count distances [m].

    Raises:
        InvalidValue: for fewer than two pins, or last nearer than first.
        OutOfReach: for either end.

    Source:
        derived in docs/method.md, section 15.
    """
    _check_count(count)
    if not last_m > first_m:
        raise InvalidValue("last", "must be farther than the first pin")
    if first_m < turnover_distance(figures):
        raise InvalidValue("first", "lies inside the turnover: its pin is no higher than farther ones")
    heights = np.linspace(pin_height(figures, first_m), pin_height(figures, last_m), count)
    inner = far_distances(figures, heights[1:-1]) if count > 2 else []
    return (first_m, *(d for d in inner if d is not None), last_m)


def widest_cover(figures: RigFigures, first_m: float, room_m: float, count: int) -> tuple[float, ...]:
    """Even gaps down to the lowest place in the housing.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        first_m: nearest distance [m] from the sight plane.
        room_m: first pin to the lowest place [m].
        count: how many pins, 2 and up.

    Returns:
        count distances [m].

    Raises:
        InvalidValue: for no room.
        OutOfReach: for the first distance.

    Source:
        derived in docs/method.md, section 15.
    """
    lowest = reach(figures, first_m, SightRoom(pin_room_m=room_m)).farthest_m
    if not lowest:
        raise InvalidValue("room", "leaves no pin below the first, or more than any distance needs")
    return even_gaps(figures, first_m, lowest, count)


def bands_that_meet(figures: RigFigures, first_m: float, target_m: float, count: int) -> tuple[float, ...]:
    """Each pin's point-on band begins where the one before ends: no hold anywhere on a target of that size.

    The next pin is the one whose arrow, at the end of the band before, is half the target high: its height
    is that of a shot at that distance which comes in that much above the aim.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        first_m: nearest distance [m] from the sight plane.
        target_m: its whole height [m].
        count: how many pins, 2 and up.

    Returns:
        count distances [m].

    Raises:
        InvalidValue: for a first distance above the turnover.
        OutOfReach: for the first distance.

    Source:
        derived in docs/method.md, section 15.
    """
    _check_count(count)
    meeting = [first_m]
    while len(meeting) < count:
        band = point_on_bands(figures, [pin_height(figures, meeting[-1])], target_m)[0]
        if band is None:
            raise InvalidValue("first", "lies inside the turnover")
        solved = pin_heights(Trajectories.of(figures, band.far_m, 0.0, target_m / 2.0))
        following = far_distances(figures, solved.height_m)[0] if solved.reached[0] else None
        if following is None or following > ranges.DISTANCE_M.high:
            break
        meeting.append(following)
    return tuple(meeting)


def _check_count(count: int) -> None:
    if not 2 <= count <= MOST_PINS:
        raise InvalidValue("count", f"must be 2 to {MOST_PINS} pins")
