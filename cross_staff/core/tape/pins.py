"""Pins: where each belongs, and what each is worth when the sight is dialled.

Heights and travels are of the housing; distances from the sight plane, on the far branch.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import far_distances, pin_height, pin_heights, turnover_distance
from cross_staff.core.errors import InvalidValue, OutOfReach

ABOVE_TURNOVER, BEYOND = "above_turnover", "out_of_reach"


@dataclass(frozen=True)
class PinRow:
    """A pin: below_m, how far below the reference height it belongs [m]; gap_to_next_m to the next in
    distance [m]; distance_now_m, what it is worth as dialled; problem, a code where something is None."""

    name: str
    distance_m: float
    below_m: float | None
    gap_to_next_m: float | None
    distance_now_m: float | None
    problem: str = ""


def stack_rows(
    figures: RigFigures, reference_m: float, pins: Sequence[tuple[str, float]], dialled: str, dial_to_m: float
) -> tuple[PinRow, ...]:
    """The pins of a sight, and what each is worth once one of them is dialled to a distance.

    below = h_ref - h(d); the housing moves by s = h(d_dialled) - h(dial_to), and every pin is then right
    for the far distance of h(d) - s.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home distance [m] from the sight plane.
        pins: name and distance [m] of each, in any order.
        dialled: one of the names.
        dial_to_m: where that pin is dialled to [m] from the sight plane.

    Returns:
        each pin: below the reference [mm], gap to the next [mm], what it is worth dialled [m]; by distance.

    Raises:
        InvalidValue: naming the argument.

    Source:
        docs/method.md, section 15.
    """
    names = [name for name, _ in pins]
    if len(set(names)) < len(names):
        raise InvalidValue("pins", "two pins have the same name")
    if dialled not in names:
        raise InvalidValue("dialled_pin", "is not the name of one of the pins")
    reference = _height_of(figures, reference_m, "reference_distance_m")
    goal = _height_of(figures, dial_to_m, "dial_to_m")
    solved = pin_heights(Trajectories.of(figures, [d for _, d in pins]))
    heights = [float(h) if ok else None for h, ok in zip(solved.height_m, solved.reached)]
    own = heights[names.index(dialled)]
    if own is None:
        raise InvalidValue("dialled_pin", "its own distance is out of reach of this arrow")
    moved = own - goal
    now = far_distances(figures, [-1.0 if h is None else h - moved for h in heights])
    order = sorted(range(len(pins)), key=lambda i: pins[i][1])
    following = dict(zip(order, order[1:]))
    rows = []
    for i, (name, distance) in enumerate(pins):
        height, after = heights[i], heights[following[i]] if i in following else None
        gap = None if height is None or after is None else height - after
        worth = dial_to_m if name == dialled and dial_to_m >= turnover_distance(figures) else now[i]
        problem = BEYOND if height is None else ABOVE_TURNOVER if worth is None else ""
        below = None if height is None else reference - height
        rows.append(PinRow(name, distance, below, gap, None if height is None else worth, problem))
    return tuple(rows)


def _height_of(figures: RigFigures, distance_m: float, field: str) -> float:
    ranges.DISTANCE_M.check(field, distance_m, "m")
    try:
        return pin_height(figures, distance_m)
    except OutOfReach as error:
        raise InvalidValue(field, str(error)) from error


def worth(
    figures: RigFigures, heights_m: Sequence[float], dialled: int, dial_to_m: Sequence[float]
) -> list[list[float | None]]:
    """What every pin is worth with the dialled pin at each distance.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        dialled: which pin goes with the wheel.
        dial_to_m: [m] from the sight plane, shape (k,).

    Returns:
        k rows of n distances [m]; None above the turnover or out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    goals = pin_heights(Trajectories.of(figures, list(dial_to_m)))
    moved = heights_m[dialled] - goals.height_m
    table = np.asarray(heights_m)[None, :] - moved[:, None]
    worth = far_distances(figures, table.ravel())
    rows = [worth[k * len(heights_m) : (k + 1) * len(heights_m)] for k in range(len(dial_to_m))]
    return [row if ok else [None] * len(row) for row, ok in zip(rows, goals.reached)]


def covers_m(thickness_mm: float, eye_to_sight_m: float, distance_m: float) -> float:
    """How much of the target a pin of a thickness hides from the eye, t (L + d) / L [m].

    Args:
        thickness_mm: t [mm].
        eye_to_sight_m: L [m] along the arrow line, 0.3 to 1.5.
        distance_m: [m] along the line of sight, from the sight plane, 0.5 to 400.

    Returns:
        [m] on the target.

    Source:
        similar triangles.
    """
    return thickness_mm / 1000.0 * (eye_to_sight_m + distance_m) / eye_to_sight_m
