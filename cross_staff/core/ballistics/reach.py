"""How far a rig goes: which limit of the sight binds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.sightline import far_distances, pin_height, pin_heights, turnover_distance

FLIGHT_STEPS = 64
BEYOND_M = 200.0  # a limit farther out than this binds nobody
LIMITS = ("slider_travel", "clearance", "tape_length", "lowest_pin")


@dataclass(frozen=True)
class SightRoom:
    """What a sight leaves, all [m], None for what does not apply: travel of the slider and length of
    the tape below the reference mark, tape ratio [-], the housing's lower edge below the pin and the
    clearance it must keep from the arrow line, and how far below the reference pin the lowest sits."""

    slider_travel_m: float | None = None
    housing_below_pin_m: float | None = None
    arrow_clearance_m: float | None = None
    tape_length_m: float | None = None
    tape_ratio: float = 1.0
    pin_room_m: float | None = None


@dataclass(frozen=True)
class Reach:
    """Farthest distance from the sight plane [m] and the limit that binds, both None where none
    does; every limit's own distance [m], None beyond 200 m, 0 where not even the turnover is left."""

    farthest_m: float | None
    binding: str | None
    limits: dict[str, float | None]


@lru_cache(maxsize=512)  # a planner asks for the same ones at every choice
def reach(figures: RigFigures, reference_distance_m: float, room: SightRoom) -> Reach:
    """The farthest distance that the sight can be set for, and what stops it there.

    Each limit is a lowest pin height: h_ref - travel, h_ref - tape/ratio, h_ref - room for pins, and
    edge + clearance; the distance is the far one with that pin height.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_distance_m: home distance [m], level, from the sight plane.
        room: travel [mm], tape [mm], room for pins [m], clearance [mm]; what is None does not bind.

    Returns:
        the farthest distance [m], what binds, and each limit [m].

    Raises:
        OutOfReach: for the reference distance itself.

    Source:
        docs/method.md, section 9.
    """
    reference = pin_height(figures, reference_distance_m)
    lowest = _lowest_heights(reference, room)
    reach = far_distances(figures, list(lowest.values())) if lowest else []
    highest = pin_height(figures, turnover_distance(figures))
    limits = {name: _within(lowest[name], highest, distance) for name, distance in zip(lowest, reach)}
    known = {name: distance for name, distance in limits.items() if distance is not None}
    binding = min(known, key=lambda name: known[name], default=None)
    return Reach(known[binding] if binding else None, binding, limits)


def _lowest_heights(reference_m: float, room: SightRoom) -> dict[str, float]:
    heights = {}
    if room.slider_travel_m is not None:
        heights["slider_travel"] = reference_m - room.slider_travel_m
    if room.housing_below_pin_m is not None and room.arrow_clearance_m is not None:
        heights["clearance"] = room.housing_below_pin_m + room.arrow_clearance_m
    if room.tape_length_m is not None:
        heights["tape_length"] = reference_m - room.tape_length_m / room.tape_ratio
    if room.pin_room_m is not None:
        heights["lowest_pin"] = reference_m - room.pin_room_m
    return heights


def _within(height_m: float, highest_m: float, distance_m: float | None) -> float | None:
    """A limit's distance: 0 where even the turnover wants a lower pin, None where it does not bind."""
    if height_m > highest_m:
        return 0.0
    return None if distance_m is None or distance_m > BEYOND_M else distance_m


def misjudged_m(figures: RigFigures, distance_m: float, error_m: float) -> float | None:
    """How much too high the arrow comes in when the sight is set `error_m` too far [m].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distance_m: where the target stands [m] from the sight plane.
        error_m: how much too far the sight is set [m].

    Returns:
        up [m]; None out of reach.

    Source:
        derived in docs/method.md, section 9.
    """
    return all_misjudged_m(figures, [distance_m], [error_m])[0][0]


def all_misjudged_m(
    figures: RigFigures, distances_m: Sequence[float], errors_m: Sequence[float]
) -> list[list[float | None]]:
    """`misjudged_m` for every distance (n,) and error (k,).

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distances_m: where the target stands [m], shape (n,).
        errors_m: how much too far the sight is set [m], shape (k,).

    Returns:
        n rows of k heights, up [m]; None out of reach.

    Source:
        derived in docs/method.md, section 9.
    """
    at, wrong = np.repeat(np.asarray(distances_m, float), len(errors_m)), np.tile(errors_m, len(distances_m))
    set_for = pin_heights(Trajectories.of(figures, np.maximum(at + wrong, 0.1)))
    arrival = arrive(Trajectories.of(figures, at), set_for.height_m, FLIGHT_STEPS)
    known = set_for.reached & arrival.sound & (at + wrong > 0.1)
    up = [float(v) if ok else None for v, ok in zip(arrival.height_m, known)]
    return [up[row : row + len(errors_m)] for row in range(0, len(up), len(errors_m))]
