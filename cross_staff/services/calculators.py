"""Quick calculators, without a rig: what a degree costs, a slope, an arrow, two pins, how many arrows."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics import arrow, cant
from cross_staff.core.ballistics.cant import Case
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.ballistics.slope import SlopeCut, cut_chart
from cross_staff.core.errors import CrossStaffError
from cross_staff.core.rig.card import SPREADS_ACROSS_GROUP

MOST_ARROWS = 999


@dataclass(frozen=True)
class Degree:
    """How far to the right a bow lands that is held out of plumb, or whose third axis is off on a slope [m]."""

    canted_m: float | None
    third_m: float | None


def figures_of(speed_mps: float, mass_kg: float, diameter_m: float, eye_to_sight_m: float, peep_m: float) -> RigFigures:
    """The four figures of a bow, its drag as usual for such a shaft. Raises InvalidValue."""
    return RigFigures(speed_mps, arrow.prior_drag(diameter_m, mass_kg), eye_to_sight_m, peep_m).checked()


def degree(figures: RigFigures, distance_m: float, off_rad: float, slope_rad: float) -> Degree:
    """What a bow out of plumb costs on the level, and a third axis that is off on a slope; out of reach None."""
    level = cant.cost(figures, off_rad, 0.0, [Case(distance_m, 0.0)])[0]
    slope = cant.cost(figures, 0.0, off_rad, [Case(distance_m, slope_rad)])[0]
    return Degree(None if level is None else level.right_m, None if slope is None else slope.right_m)


def slope(figures: RigFigures, distance_m: float, slope_rad: float) -> SlopeCut:
    """What to dial for a distance along a slope."""
    return cut_chart(figures, [distance_m], [slope_rad])[0]


def pins_apart(figures: RigFigures, near_m: float, far_m: float) -> float | None:
    """How far apart the pins of two distances stand [m]; None where the arrow does not get there."""
    try:
        return pin_height(figures, near_m) - pin_height(figures, far_m)
    except CrossStaffError:
        return None


def balance(length_m: float, kg_per_m: float, front_kg: float, rear_kg: float) -> arrow.Balance:
    """Mass and balance of a shaft with what is at its point's end and at its nock's. Raises InvalidValue."""
    parts = (arrow.Component("front", front_kg, length_m), arrow.Component("rear", rear_kg, 0.03))
    return arrow.balance(length_m, kg_per_m, parts)


def arrows(group_m: float, within_m: float) -> int:
    """How many arrows tell a group's middle to so much [m], 19 times in 20; group_m, the archer's six across [m]."""
    spread = group_m / SPREADS_ACROSS_GROUP
    return min(max(math.ceil((1.96 * spread / within_m) ** 2 - 1e-9), 1), MOST_ARROWS)
