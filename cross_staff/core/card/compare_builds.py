"""Arrow builds of one bow side by side: speed, reach, and what a misjudged distance costs."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.reach import misjudged_m
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig import arrow_build as build
from cross_staff.core.rig import speed
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import SpeedAtSight
from cross_staff.core.rig.reach import PinSetting, SightReach, place_now, sight_reach

MISJUDGED_PART = 0.05  # of the distance, ranged too far


@dataclass(frozen=True)
class ComparedBuilds:
    """A build: mass [kg], front of centre [%], mass per draw weight [kg/N], speed, whether it was measured, and whether
    it is only expected of the bow, the reach (None: not known), and how high [m] the
    arrow comes in at some distances [m] when they are judged 5 % too far."""

    index: int
    name: str
    mass_kg: float | None
    foc_percent: float | None
    mass_per_force: float | None
    speed: SpeedAtSight | None
    measured: bool
    expected: bool
    reach: SightReach | None
    misjudged: tuple[tuple[float, float | None], ...]


def compare(card: RigCard, setting: PinSetting, fitted: RigFigures | None = None) -> tuple[ComparedBuilds, ...]:
    """Every build on the card, in its order.

    Args: setting, pins and tape ratio as they are used; fitted, what the marks make of the build in use.
    """
    return tuple(
        _compared(card, index, setting, fitted if index == card.in_use else None) for index in range(len(card.builds))
    )


def _compared(card: RigCard, index: int, setting: PinSetting, fitted: RigFigures | None) -> ComparedBuilds:
    made, force = card.builds[index], card.bow.draw_weight_n
    try:
        balance, mass = made.balance(), made.mass_kg()
    except InvalidValue:
        balance, mass = None, None
    own = None if mass is None else speed.measured(card.builds, index, force)
    flown = replace(card, in_use=index)
    compared = None if mass is None else flown.speed()
    reach, costs = _reach_and_costs(flown, setting, fitted) if mass is not None else (None, ())
    return ComparedBuilds(
        index,
        made.name,
        mass,
        None if balance is None else balance.foc_percent,
        build.mass_per_force(mass, force),
        compared,
        own is not None,
        mass is not None and flown.expected_speed() is not None,
        reach,
        costs,
    )


def _reach_and_costs(
    card: RigCard, setting: PinSetting, fitted: RigFigures | None
) -> tuple[SightReach | None, tuple[tuple[float, float | None], ...]]:
    priors, goals = card.priors(), card.goals
    if priors is None or goals.home_m is None:
        return None, ()
    figures = fitted or priors.figures
    stood = setting if fitted else replace(setting, below_mm=())  # another arrow wants its pins elsewhere
    try:
        reach = sight_reach(card, figures, place_now(card), stood)
    except (OutOfReach, InvalidValue):
        return None, ()
    distances = [d for d in (0.5 * (goals.farthest_m or 0.0), goals.farthest_m) if d]
    costs = tuple((d, misjudged_m(figures, card.distance_from_sight(d), MISJUDGED_PART * d)) for d in distances)
    return reach, costs
