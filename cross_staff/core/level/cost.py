"""What the axes cost this archer, and what he may leave: tolerance at the target into degrees."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.ballistics.cant import Case, cost, falls
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import sight_shift_at_target
from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.card import RigCard

AXES = ("first", "second", "third")
USUAL_SLOPE_RAD = math.radians(25.0)
_DEGREE = math.radians(1.0)


def slopes(card: RigCard) -> tuple[float, ...]:
    """The slopes that count: steepest up, level, steepest down [rad]; level alone where only that is shot.

    Args:
        card: the rig's card.

    Returns:
        [rad], up positive; level alone where only that is shot.

    Source:
        a rule of the craft; docs/method.md, section 11.
    """
    goals = card.goals
    if goals.level_only:
        return (0.0,)
    up = USUAL_SLOPE_RAD if goals.slope_up_rad is None else goals.slope_up_rad
    down = USUAL_SLOPE_RAD if goals.slope_down_rad is None else goals.slope_down_rad
    return (up, 0.0, -down)


def distances(card: RigCard) -> tuple[float, ...]:
    """Three distances that count, as ranged [m]: a third, two thirds, and all of the farthest, taken
    from those that are shot.

    Args:
        card: the rig's card.

    Returns:
        three distances [m as ranged], the farthest last.

    Source:
        a rule of the craft; docs/method.md, section 11.
    """
    far = card.goals.farthest_m
    if far is None:
        return ()
    shot = card.goals.distances_m or (far / 3.0, 2.0 * far / 3.0, far)
    wanted = (far / 3.0, 2.0 * far / 3.0, far)
    return tuple(sorted({min((*shot, far), key=lambda d: abs(d - w)) for w in wanted}))


@dataclass(frozen=True)
class CostRow:
    """A slope [rad], and the sideways shift at each distance [m], right positive; None out of reach."""

    slope_rad: float
    right_m: tuple[float | None, ...]


def sideways(
    card: RigCard, figures: RigFigures, first_rad: float, second_rad: float, third_rad: float
) -> tuple[CostRow, ...]:
    """Where the arrows go, sideways, with the windage set at home on the level.

    The rail's lean s(d) sin a1 (L + d)/L, s the travel down from home, and D sin c of the false cant;
    the windage that home asks for, in proportion to L + d, is taken out.

    Args:
        card: the rig's card.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        first_rad: a1 [rad], clockwise positive.
        second_rad: a2 [rad], clockwise positive.
        third_rad: a3 [rad], right end forward positive.

    Returns:
        right [m] at every distance and slope that counts.

    Raises:
        OutOfReach: for home itself.

    Source:
        docs/method.md, section 11.
    """
    home, far = (
        card.distance_from_sight(card.goals.home_m or 0.0),
        [card.distance_from_sight(d) for d in distances(card)],
    )
    cases = (Case(home, 0.0), *(Case(distance, slope) for slope in slopes(card) for distance in far))
    zero, *rest = _right(figures, first_rad, second_rad, third_rad, cases)
    if zero is None:
        raise OutOfReach("home is out of reach of this arrow")
    lever = figures.eye_to_sight_m
    left = [
        None if right is None else right - zero * (lever + case.distance_m) / (lever + home)
        for right, case in zip(rest, cases[1:])
    ]
    count = len(far)
    return tuple(CostRow(slope, tuple(left[i * count : (i + 1) * count])) for i, slope in enumerate(slopes(card)))


def _right(
    figures: RigFigures, first: float, second: float, third: float, cases: tuple[Case, ...]
) -> list[float | None]:
    """The shift at each case [m], the rail leaning about the place of the first one's pin."""
    known = falls(figures, cases)
    if known[0] is None:
        return [None] * len(cases)
    rights: list[float | None] = []
    for case, there, costs in zip(cases, known, cost(figures, second, third, cases)):
        if there is None or costs is None:
            rights.append(None)
            continue
        below = known[0][2] - there[2]
        lean = below * math.sin(first) * float(sight_shift_at_target(figures.eye_to_sight_m, case.distance_m))
        rights.append(costs.right_m + lean)
    return rights


def worst(rows: Sequence[CostRow]) -> float:
    """The largest sideways shift of a table [m].

    Args:
        rows: the table.

    Returns:
        [m], without its sign.

    Source:
        docs/method.md, section 11.
    """
    return max((abs(r) for row in rows for r in row.right_m if r is not None), default=0.0)


def tolerances(card: RigCard, figures: RigFigures, tolerance_m: float) -> dict[str, float]:
    """What each axis may be off [rad] for a cost of at most `tolerance_m` at the worst target: the third, which shows
    on slopes alone, all of it; first and second, which show together on the level, each a third of the sum of squares.

    Args:
        card: the rig's card.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        tolerance_m: [m] on the target, more than nought.

    Returns:
        what each axis may be off [rad], by its name.

    Raises:
        OutOfReach: for home itself.

    Source:
        derived in docs/method.md, section 11.
    """
    tolerances = {}
    for axis in AXES:
        one = [(_DEGREE if name == axis else 0.0) for name in AXES]
        each = worst(sideways(card, figures, *one))
        if each > 0.0:
            share = 1.0 if axis == "third" else math.sqrt(len(AXES))
            tolerances[axis] = _DEGREE * tolerance_m / share / each
    return tolerances
