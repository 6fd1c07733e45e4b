"""What the pages of the level show, worked out in one go."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from cross_staff.core.errors import OutOfReach
from cross_staff.core.level import screws
from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.cost import CostRow, distances, sideways, tolerances, worst
from cross_staff.core.level.lines import VIAL_KIND
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import Method
from cross_staff.core.level.needs import NINETEEN_IN_TWENTY, Tool, drawn, easiest, good_to_m, tools
from cross_staff.core.level.settling import Settling, settling
from cross_staff.core.level.slopes import SlopePlan, plan
from cross_staff.core.level.station import ways_of
from cross_staff.core.level.vials import reference_tilt, sight_tilt
from cross_staff.core.rig.card import INSTRUMENT_KINDS
from cross_staff.core.rig.instrument import USUAL_DAYS, overdue
from cross_staff.core.sight_in.log import End
from cross_staff.services.level import instruments
from cross_staff.services.rig import Rig
from cross_staff.storage.database import Database


@dataclass(frozen=True)
class AxisLooks:
    """What looks can still do for an axis: the smallest tolerance that they could prove [rad, or lines where the
    vials are not calibrated]; how many more would likely settle it, 0 for none."""

    provable: float
    more: int


@dataclass(frozen=True)
class Costs:
    """What is left of the axes, sideways at the target: distances [m as ranged], a row for each slope [m]; and of
    each axis what it may be off [rad] for a tolerance, and what it costs alone at worst [m]."""

    distances_m: tuple[float, ...]
    rows: tuple[CostRow, ...]
    allowed_rad: Mapping[str, float]
    alone_m: Mapping[str, float]


@dataclass(frozen=True)
class LevelPage:
    """All that the page shows beside the state: looks by axis; what is left costs, None while it cannot be said in
    degrees; what each method of the third axis can prove here, the easiest that proves it by itself (None: none does),
    the one at full draw that is to decide, and how far at rest in the vise is enough [m as ranged]; what the third axis
    may cost at worst, 19 times in 20, with all that was not seen counted [m]; levels whose reversal is due again, with
    the days since, by kind; instruments that the shop knows better by now; the names of the shop's levels that this
    rig is read with, by kind; where to stand to shoot the third axis in (None: it cannot be said); how long its vials
    take to rest, by kind, where looks told it; the ways of reading each axis; the newest ends of the range, which can
    be groups of a slope."""

    rig: Rig
    looks: Mapping[str, AxisLooks]
    costs: Costs | None
    tools: tuple[Tool, ...]
    easiest: Tool | None
    decide_by: Tool
    vise_to_m: float | None
    unseen_m: float | None
    overdue: tuple[tuple[str, int], ...]
    newer: tuple[str, ...]
    shop_levels: Mapping[str, str]
    slopes: SlopePlan | None
    settles: Mapping[str, Settling]
    ways: Mapping[str, tuple[Method, ...]]
    ends: tuple[End, ...]


def level_page(database: Database, rig: Rig, today: date) -> LevelPage:
    """What the page shows."""
    setup, third = rig.card.level, rig.level.axes["third"]
    known = rig.figures is not None and setup.tolerance_m is not None and rig.card.goals.farthest_m is not None
    needed = tools(setup, third.tolerance if known else None)
    vise = next(tool for tool in needed if tool.method.key == "vise_riser")
    shop = {kind: instruments.find(database, number).record for kind, number in setup.from_shop}
    days = {kind: shop[kind].reverse_days if kind in shop else USUAL_DAYS for kind in INSTRUMENT_KINDS}
    late = ((kind, overdue(getattr(setup, kind), today, days[kind])) for kind in INSTRUMENT_KINDS)
    return LevelPage(
        rig,
        {axis: _looks(state) for axis, state in rig.level.axes.items()},
        _left(rig),
        needed,
        easiest(needed),
        drawn(needed),
        good_to_m(rig.card, rig.figures, vise.provable_rad) if rig.figures is not None else None,
        _unseen(third, setup.tolerance_m) if known else None,
        tuple((kind, since) for kind, since in late if since is not None),
        tuple(each.record.name for each in instruments.newer(database, setup)),
        {kind: record.name for kind, record in shop.items()},
        plan(rig.card, rig.figures, third.tolerance) if known else None,
        {k: s for k in VIAL_KIND.values() if (s := settling(rig.level.readings, k)) is not None},
        {axis: ways_of(rig.card, axis) for axis in AXES},
        _ends(rig),
    )


MOST_ENDS = 6


def _ends(rig: Rig) -> tuple[End, ...]:
    """The newest ends of the range that have a middle, the newest first."""
    shot = [end for end in rig.range_log.ends if end.ranged_m is not None and end.middle[0] is not None]
    return tuple(reversed(shot[-MOST_ENDS:]))


def _unseen(third: AxisState, tolerance_m: float | None) -> float | None:
    """What the third axis may cost at the worst target [m], in proportion to what its tolerance costs."""
    if third.now is None or tolerance_m is None:
        return None
    return tolerance_m * (abs(third.now.value) + NINETEEN_IN_TWENTY * third.now.sd) / third.tolerance


def _looks(state: AxisState) -> AxisLooks:
    """With the sd of one look at the axis as it is read now, tilt counted."""
    steep = abs(math.sin(state.pitch_rad)) if state.axis == "third" else 1.0
    look_sd = state.unit.look_sd(state.pitch_rad) / max(steep, 0.1)
    more = 0
    alone = state.action.because == "not_sure" or (state.axis != "third" and state.action.kind == screws.READ)
    if state.seen is not None and state.seen.count and alone:
        more = screws.looks_needed(state.seen, look_sd, state.tolerance) or 0
    return AxisLooks(screws.provable(look_sd), more)


def _left(rig: Rig) -> Costs | None:
    figures, axes = rig.figures, rig.level.axes
    guessed = any(not axes[axis].unit.calibrated for axis in rig.level.required)
    if figures is None or guessed or axes["second"].now is None:
        return None
    first, second, third = (s.now.value if s.now else 0.0 for s in axes.values())
    try:
        rows = sideways(rig.card, figures, first, second, third)
    except OutOfReach:
        return None
    return Costs(distances(rig.card), rows, {}, {})


def costs_of(rig: Rig, left_rad: Mapping[str, float], tolerance_m: float) -> Costs | None:
    """What axes that are off cost, and what each may be off.

    Args:
        rig: as it stands.
        left_rad: what is left of each axis [rad].
        tolerance_m: what they may cost together [m].

    Returns:
        The costs; None while the card is not complete.

    Raises:
        OutOfReach: for home itself.
    """
    card, figures = rig.card, rig.figures
    if figures is None or card.goals.home_m is None or card.goals.farthest_m is None:
        return None
    alone = {
        axis: worst(sideways(card, figures, *(left_rad[axis] if each == axis else 0.0 for each in AXES)))
        for axis in AXES
    }
    rows = sideways(card, figures, *(left_rad[axis] for axis in AXES))
    return Costs(distances(card), rows, tolerances(card, figures, tolerance_m), alone)


def bubbles(pitch_rad: float, cant_rad: float, second_rad: float, third_rad: float) -> tuple[float, float]:
    """Tilts of the sight's vial and of a true reference for a bow pitched and canted by hand [rad]."""
    return sight_tilt(second_rad, third_rad, cant_rad, pitch_rad), reference_tilt(0.0, cant_rad, pitch_rad)
