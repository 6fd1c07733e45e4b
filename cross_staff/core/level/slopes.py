"""Shooting the third axis in: what a group on a slope says, where to stand, and how many arrows tell it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.ballistics.cant import Case, falls
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.level.chain import SPREAD_RAD, SlopeShot
from cross_staff.core.level.cost import USUAL_SLOPE_RAD, distances
from cross_staff.core.level.log import History
from cross_staff.core.level.methods import PART_SD_RAD
from cross_staff.core.rig.card import RigCard

LEAST_ARROWS, MOST_ARROWS = 3, 18
NINETEEN_IN_TWENTY = 1.96


def spread_of(card: RigCard) -> float:
    """What an archer's arrows scatter [rad]; a usual one where nobody stated it.

    Args:
        card: of the rig.

    Returns:
        [rad].

    Source:
        docs/method.md, section 12.
    """
    return (card.goals.spread_mrad or 1000.0 * SPREAD_RAD) / 1000.0


def worth(card: RigCard, log: History, figures: RigFigures | None) -> dict[int, SlopeShot]:
    """What each group on a slope says, linear in the axes; nothing while nobody can reckon the flight.

    Args:
        card: of the rig.
        log: looks in order.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.

    Returns:
        metres a radian of each axis, by the id of the group's entry.

    Source:
        docs/method.md, section 12.
    """
    groups = [
        (k.entry.reading_id, k.entry.distance_m, k.entry.pitch_rad, k.entry.arrows or 1)
        for k in log.looks
        if k.entry.axis == "third" and k.entry.right_m is not None and k.entry.distance_m is not None
    ]
    told = of_groups(card, figures, [(distance or 0.0, slope, count) for _, distance, slope, count in groups])
    return {number: shot for (number, *_), shot in zip(groups, told) if shot is not None}


def of_groups(
    card: RigCard, figures: RigFigures | None, groups: Sequence[tuple[float, float, int]]
) -> list[SlopeShot | None]:
    """What groups say, linear in the axes; None of one whose flight nobody can reckon.

    Args:
        card: of the rig.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        groups: distance [m as ranged], slope [rad] and arrows of each.

    Returns:
        one for each group.

    Source:
        docs/method.md, sections 11 and 12.
    """
    if not groups or figures is None or card.goals.home_m is None:
        return [None] * len(groups)
    cases = [Case(card.distance_from_sight(distance), slope) for distance, slope, _ in groups]
    home, *flights = falls(figures, (Case(card.distance_from_sight(card.goals.home_m), 0.0), *cases))
    told: list[SlopeShot | None] = []
    for (_, _, arrows), case, flight in zip(groups, cases, flights):
        if home is None or flight is None:
            told.append(None)
            continue
        fall, delta, height = flight
        lever, pitch = figures.eye_to_sight_m + case.distance_m, case.slope_rad + delta
        told.append(
            SlopeShot(
                (home[2] - height) * lever / figures.eye_to_sight_m,
                -fall * math.cos(pitch) / math.cos(case.slope_rad),
                fall * math.sin(pitch) / math.cos(case.slope_rad),
                lever,
                spread_of(card) * case.distance_m / math.sqrt(arrows),
            )
        )
    return told


@dataclass(frozen=True)
class SlopePlan:
    """Where to stand: the target's distance [m as ranged] and slope up and down [rad]; arrows uphill and as many
    downhill; what they then tell of the third axis, 19 times in 20 [rad], and whether that is enough."""

    distance_m: float
    slope_rad: float
    arrows: int
    tells_rad: float
    enough: bool


def plan(card: RigCard, figures: RigFigures | None, tolerance_rad: float) -> SlopePlan | None:
    """The fewest arrows up and down one slope that prove a third axis, at the distance that wants fewest.

    Up less down takes out windage, and nearly all of rail and second axis; what grip and wind do otherwise uphill
    than downhill stays.

    Args:
        card: of the rig, with its steepest slopes and farthest distance.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        tolerance_rad: what may be left of the axis [rad].

    Returns:
        where to stand and how many; the most that is asked for where nothing is enough; None while the card is not
        complete, or only level ground is shot.

    Source:
        derived in docs/method.md, section 12.
    """
    slope = slope_of(card)
    if card.goals.level_only or slope <= 0.0:
        return None
    plans = [known for distance in distances(card) if (known := _at(card, figures, distance, slope, tolerance_rad))]
    return min(plans, key=lambda each: (not each.enough, each.arrows, each.tells_rad), default=None)


def slope_of(card: RigCard) -> float:
    """The slope to shoot it in on: the gentler of the archer's steepest up and down, which he has both.

    Args:
        card: of the rig.

    Returns:
        [rad].

    Source:
        a rule of the craft.
    """
    told = [slope for slope in (card.goals.slope_up_rad, card.goals.slope_down_rad) if slope]
    return min(told) if told else USUAL_SLOPE_RAD


def _at(card: RigCard, figures: RigFigures | None, distance: float, slope: float, tolerance: float) -> SlopePlan | None:
    up, down = of_groups(card, figures, [(distance, slope, 1), (distance, -slope, 1)])
    if up is None or down is None:
        return None
    one = math.hypot(up.sd_m, down.sd_m) / abs(up.third_m - down.third_m)
    for arrows in range(LEAST_ARROWS, MOST_ARROWS + 1):
        tells = NINETEEN_IN_TWENTY * math.hypot(one / math.sqrt(arrows), PART_SD_RAD["slope"])
        if tells <= tolerance:
            break
    return SlopePlan(distance, slope, arrows, tells, tells <= tolerance)
