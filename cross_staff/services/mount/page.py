"""What the planner shows, worked out in one go."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from cross_staff.core.errors import CrossStaffError, InvalidValue, OutOfReach
from cross_staff.core.mount.planner import PlaceChoice, Plan, Remedy, plan, plan_all, remedies, take
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.reach import Place, place_now
from cross_staff.services.rig import Rig


@dataclass(frozen=True)
class Planner:
    """The place that is looked at and what it comes to, what would help there, what the sight comes to as it is
    mounted, every place, and the card with the sight at that place."""

    place: Place
    shown: Plan
    here: Plan
    remedies: tuple[Remedy, ...]
    choice: PlaceChoice
    taken: RigCard


def planner(rig: Rig, asked: Callable[[RigCard], Place] | None) -> Planner | None:
    """What the planner shows.

    Args:
        rig: as it stands.
        asked: gives the place that is looked at; None for the best one, or where the sight was put.

    Returns:
        The plan; None while the card is not complete.

    Raises:
        OutOfReach, InvalidValue: where there is no plan for these figures.
    """
    card, figures = rig.card, rig.figures
    if figures is None or card.goals.home_m is None or card.goals.farthest_m is None:
        return None
    setting = rig.setting
    choice = plan_all(card, figures, setting)
    place = asked(card) if asked else place_now(card) if card.mount.home else choice.best.place
    shown, here = plan(card, figures, place, setting), plan(card, figures, place_now(card), setting)
    bought = remedies(card, figures, shown, setting) if not shown.far_enough(card.goals.farthest_m) else ()
    return Planner(place, shown, here, tuple(bought), choice, take(card, place))


def planned_here(rig: Rig) -> Plan | None:
    """What the sight comes to as it is mounted; None while the card lacks something."""
    card, figures = rig.card, rig.figures
    if figures is None or card.goals.home_m is None:
        return None
    try:
        return plan(card, figures, place_now(card), rig.setting)
    except CrossStaffError:
        return None


NO_PLAN = (OutOfReach, InvalidValue)
