"""Pins: what each is worth when the sight is dialled, which to dial, where indicators go, how to choose them.

Heights and travels are of the housing; distances from the sight plane, on the far branch.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.ballistics.sightline import far_distances, pin_height, pin_heights, turnover_distance
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.tape.holds import STEP_M, impacts, point_on_bands

MOST_PINS = 20
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


@dataclass(frozen=True)
class Way:
    """A way to shoot a distance: which pin, how far the housing goes down from home [m], and what the
    dialled pin is then at [m] (None above the turnover: set it by the millimetres)."""

    pin: int
    travel_m: float
    dial_to_m: float | None


def ways_to(
    figures: RigFigures,
    heights_m: Sequence[float],
    dialled: int,
    wanted_m: float,
    up_m: float = 0.0,
    down_m: float = math.inf,
) -> tuple[Way, ...]:
    """Every pin that can be brought to a distance, the least travel first.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        dialled: which pin goes with the wheel.
        wanted_m: [m] from the sight plane.
        up_m: travel there is above home [m].
        down_m: travel there is below home [m].

    Returns:
        the pins, each with its travel [m] and what is dialled [m], the least travel first.

    Raises:
        OutOfReach: for the distance itself.

    Source:
        derived in docs/method.md, section 15.
    """
    ways = all_ways_to(figures, heights_m, dialled, [wanted_m], up_m, down_m)[0]
    if ways is None:
        raise OutOfReach(f"this arrow does not reach {wanted_m:g} m at this slope")
    return ways


def all_ways_to(
    figures: RigFigures,
    heights_m: Sequence[float],
    dialled: int,
    wanted_m: Sequence[float],
    up_m: float = 0.0,
    down_m: float = math.inf,
) -> list[tuple[Way, ...] | None]:
    """`ways_to` for several distances (k,) at once; None for one out of reach.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        dialled: which pin goes with the wheel.
        wanted_m: [m] from the sight plane, shape (k,).
        up_m: travel there is above home [m].
        down_m: travel there is below home [m].

    Returns:
        of each distance the ways as `ways_to`, shape (k,); None out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    goals = pin_heights(Trajectories.of(figures, list(wanted_m)))
    travels = np.asarray(heights_m)[None, :] - goals.height_m[:, None]
    dials = far_distances(figures, (heights_m[dialled] - travels).ravel())
    of_each: list[tuple[Way, ...] | None] = []
    for row, (reached, there) in enumerate(zip(goals.reached, travels)):
        ways = [
            Way(pin, float(travel), dials[row * len(heights_m) + pin])
            for pin, travel in enumerate(there)
            if -up_m - 1e-4 <= travel <= down_m + 1e-4
        ]
        of_each.append(tuple(sorted(ways, key=lambda way: abs(way.travel_m))) if reached else None)
    return of_each


@dataclass(frozen=True)
class Indicator:
    """Where a pin's indicator goes: its place on the tape below the first one [mm], or, with the indicator
    on a round distance, how far the pin itself goes up (positive) or down [mm]."""

    pin: int
    distance_m: float
    on_tape_mm: float
    round_m: float
    pin_up_mm: float | None


def indicators(
    figures: RigFigures,
    home_height_m: float,
    heights_m: Sequence[float],
    tape_ratio: float,
    unit_m: float,
    lead_m: float,
) -> tuple[Indicator, ...]:
    """An indicator for each pin, on a tape that is laid on for the first.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        home_height_m: of the pin that the tape was laid on for [m].
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        tape_ratio: tape travel per housing travel [mm/mm].
        unit_m: metres in a unit of distance [m].
        lead_m: what the archer ranges more than the distance from the sight plane [m].

    Returns:
        where each stands [mm] on the tape, and the round distance [m] that is nearest.

    Raises:
        OutOfReach: for a pin.

    Source:
        derived in docs/method.md, section 15.
    """
    indicators = []
    for pin, (height, distance) in enumerate(zip(heights_m, far_distances(figures, list(heights_m)))):
        if distance is None:
            continue
        whole = max(round((distance + lead_m) / unit_m), 1) * unit_m - lead_m
        goal = pin_heights(Trajectories.of(figures, whole))
        up = 1000.0 * float(goal.height_m[0] - height) if goal.reached[0] else None
        on_tape = 1000.0 * tape_ratio * (home_height_m - height)
        indicators.append(Indicator(pin, distance, on_tape, whole, up))
    return tuple(indicators)


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
