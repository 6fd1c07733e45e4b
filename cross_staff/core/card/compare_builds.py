"""Arrow builds of one bow side by side: speed, reach, and what a misjudged distance costs."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cross_staff.core.ballistics.reach import misjudged_m
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.mount import planner as mount
from cross_staff.core.rig import arrow_build as build
from cross_staff.core.rig import speed
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import SpeedAtSight

MISJUDGED_PART = 0.05  # of the distance, ranged too far


@dataclass(frozen=True)
class ComparedBuilds:
    """A build: mass [kg], front of centre [%], mass per draw weight [kg/N], speed and whether it was
    measured, reach as ranged [m] (None: beyond what matters, or not known), and how high [m] the
    arrow comes in at some distances [m] when they are judged 5 % too far."""

    index: int
    name: str
    mass_kg: float | None
    foc_percent: float | None
    mass_per_force: float | None
    speed: SpeedAtSight | None
    measured: bool
    reach_m: float | None
    reach_known: bool
    misjudged: tuple[tuple[float, float | None], ...]


def compare(card: RigCard) -> tuple[ComparedBuilds, ...]:
    """Every build on the card, in its order."""
    return tuple(_compared(card, index) for index in range(len(card.builds)))


def _compared(card: RigCard, index: int) -> ComparedBuilds:
    made, force = card.builds[index], card.bow.draw_weight_n
    try:
        balance, mass = made.balance(), made.mass_kg()
    except InvalidValue:
        balance, mass = None, None
    own = None if mass is None else speed.measured(card.builds, index, force)
    compared = own or (None if mass is None else speed.predicted(card.builds, index, force))
    reach, known, costs = _reach_and_costs(replace(card, in_use=index)) if mass is not None else (None, False, ())
    return ComparedBuilds(
        index,
        made.name,
        mass,
        None if balance is None else balance.foc_percent,
        build.mass_per_force(mass, force),
        compared,
        own is not None,
        reach,
        known,
        costs,
    )


def _reach_and_costs(card: RigCard) -> tuple[float | None, bool, tuple[tuple[float, float | None], ...]]:
    priors, goals = card.priors(), card.goals
    if priors is None or goals.home_m is None:
        return None, False, ()
    figures = priors.figures
    try:
        place = mount.Place(card.hole, card.detent, card.mount.home or "top")
        reach = mount.plan(card, figures, place).reach
    except (OutOfReach, InvalidValue):
        return None, False, ()
    distances = [d for d in (0.5 * (goals.farthest_m or 0.0), goals.farthest_m) if d]
    costs = tuple((d, misjudged_m(figures, card.distance_from_sight(d), MISJUDGED_PART * d)) for d in distances)
    return reach.farthest_m, bool(reach.limits), costs
