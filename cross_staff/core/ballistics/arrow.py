"""Mass, balance and front of centre of an arrow; its drag before any impact was measured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.ballistics.air import STANDARD_DENSITY_KGM3, drag_per_m
from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range

# Published wind-tunnel and flight figures on the shaft section run from 1.5 (laminar boundary
# layer) to 2.6 (turbulent); the prior sits between them and is wide enough for both.
PRIOR_DRAG_COEFFICIENT = 2.0
PRIOR_DRAG_SD_LN = 0.25
USUAL_DRAG_PER_M = Range(0.0006, 0.005)  # arrows that are shot from bows lie well inside this
PRIOR_VIRTUAL_MASS_KG = 0.008
PRIOR_VIRTUAL_MASS_SD_LN = 0.35


@dataclass(frozen=True)
class Component:
    """A part on the shaft: mass_kg [kg] with its centre at centre_from_throat_m [m]."""

    name: str
    mass_kg: float
    centre_from_throat_m: float


@dataclass(frozen=True)
class Balance:
    """mass_kg [kg]; balance_from_throat_m [m]; foc_percent [%] of the shaft length."""

    mass_kg: float
    balance_from_throat_m: float
    foc_percent: float


def balance(shaft_length_m: float, shaft_kg_per_m: float, components: Sequence[Component]) -> Balance:
    """Mass, balance point and front of centre of a build.

    m = l q + sum m_i; b = (l q l/2 + sum m_i x_i) / m; FOC = 100 (b - l/2) / l, all from the nock
    throat, with l the length from throat to the end of the shaft.

    Args:
        shaft_length_m: l [m], throat to end of shaft.
        shaft_kg_per_m: q [kg/m], taken as uniform.
        components: mass [kg] and centre from the throat [m] of each.

    Returns:
        mass [kg], balance point from the throat [m], front of centre [%].

    Raises:
        InvalidValue: for a length that is not positive, or a build that weighs nothing.

    Source:
        docs/method.md, section 6.
    """
    if not shaft_length_m > 0.0:
        raise InvalidValue("shaft_length_m", "must be more than nought")
    shaft = shaft_length_m * shaft_kg_per_m
    mass = shaft + sum(part.mass_kg for part in components)
    if not mass > 0.0:
        raise InvalidValue("components", "the build must weigh more than nothing")
    moment = shaft * shaft_length_m / 2.0
    moment += sum(part.mass_kg * part.centre_from_throat_m for part in components)
    point = moment / mass
    return Balance(mass, point, 100.0 * (point - shaft_length_m / 2.0) / shaft_length_m)


def prior_drag(shaft_diameter_m: float, mass_kg: float, density_kgm3: float = STANDARD_DENSITY_KGM3) -> float:
    """Drag constant k [1/m] before any impact was measured; its logarithm has sd 0.25.

    Args:
        shaft_diameter_m: [m], outside.
        mass_kg: of the whole arrow [kg].
        density_kgm3: of the air [kg/m3].

    Returns:
        k [1/m]; its logarithm has sd 0.25.

    Source:
        docs/method.md, section 2.
    """
    return drag_per_m(PRIOR_DRAG_COEFFICIENT, shaft_diameter_m, mass_kg, density_kgm3)
