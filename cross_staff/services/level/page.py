"""What the pages of the level show, worked out in one go."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from cross_staff.core.errors import OutOfReach
from cross_staff.core.level import screws
from cross_staff.core.level.cost import CostRow, distances, sideways, tolerances, worst
from cross_staff.core.level.station import AXES, AxisState, draw_twist
from cross_staff.core.level.vials import reference_tilt, sight_tilt
from cross_staff.services.rig import Rig


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
    degrees; full draw less at rest [rad], None without both."""

    rig: Rig
    looks: Mapping[str, AxisLooks]
    costs: Costs | None
    twist_rad: float | None


def level_page(rig: Rig) -> LevelPage:
    """What the page shows."""
    looks = {axis: _looks(state) for axis, state in rig.level.axes.items()}
    return LevelPage(rig, looks, _left(rig), draw_twist(rig.level.by_method))


def _looks(state: AxisState) -> AxisLooks:
    """With the sd of one look at the axis as it is read now, tilt counted."""
    look_sd = state.now.sd * math.sqrt(state.now.count) if state.now else state.unit.look_sd
    more = 0
    if state.now is not None and not state.settled:
        more = screws.looks_needed(state.now, look_sd, state.tolerance) or 0
    return AxisLooks(screws.provable(look_sd), more)


def _left(rig: Rig) -> Costs | None:
    figures, axes = rig.figures, rig.level.axes
    if figures is None or any(not s.unit.calibrated for s in axes.values()) or axes["second"].now is None:
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
