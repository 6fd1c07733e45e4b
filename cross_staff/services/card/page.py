"""What a card comes to as it is typed, worked out in one go."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.ballistics.arrow import Balance
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig import chronograph, speed
from cross_staff.core.rig.arrow_build import Margins, SpineDoubt, margins, mass_per_force, spine_doubts
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import SpeedAtSight, SpeedSummary
from cross_staff.core.rig.events import Cause
from cross_staff.core.rig.expected_speed import ExpectedSpeed
from cross_staff.core.rig.staleness import causes, made_stale


@dataclass(frozen=True)
class ArrowFigures:
    """The build in use: balance and mass [kg], drag [1/m], the newest session, the speed at the sight plane and
    whether it is predicted; mass per draw weight [kg/N] where it is less than the bow's maker allows; what is in
    doubt. None is not known; `problem` says why nothing is."""

    problem: str = ""
    balance: Balance | None = None
    mass_kg: float | None = None
    drag_per_m: float | None = None
    summary: SpeedSummary | None = None
    at_sight: SpeedAtSight | None = None
    predicted: bool = False
    too_light: float | None = None
    spine_doubts: tuple[SpineDoubt, ...] = ()
    margins: Margins | None = None
    expected: ExpectedSpeed | None = None


def arrow_figures(card: RigCard) -> ArrowFigures:
    """What the build in use comes to."""
    build, force = card.build, card.bow.draw_weight_n
    session = build.newest_session
    summary = chronograph.summary(session) if session.kept_mps else None
    try:
        balance = build.balance()
    except InvalidValue as error:
        return ArrowFigures(error.message, summary=summary)
    own = speed.measured(card.builds, card.in_use, force)
    ratio, least = mass_per_force(build.mass_kg(), force), card.bow.least_mass_per_force
    return ArrowFigures(
        "",
        balance,
        build.mass_kg(),
        build.drag_per_m(),
        summary,
        card.speed(),
        own is None,
        ratio if ratio is not None and least is not None and ratio < least else None,
        spine_doubts(build, force),
        margins(build, card.bow.nock_to_rest_m),
        card.expected_speed(),
    )


@dataclass(frozen=True)
class Ahead:
    """What saving a card would call up, and which results that makes old."""

    causes: tuple[Cause, ...]
    stale: tuple[str, ...]


def ahead(kept: RigCard, card: RigCard) -> Ahead:
    """What saving would make old, before it is saved."""
    called_up = causes(kept, card)
    return Ahead(called_up, made_stale(called_up))
