"""The third axis proven by shooting up and down a slope: where to stand, how many arrows, what to expect."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.level.methods import PART_SD_RAD
from cross_staff.core.prove.drift import LIKELY, THIRD, SideGroup, shares

WINDAGE_RAD, OFFSET_M = 0.4e-3, 4e-3  # what is left of windage and planes after sighting in, one sd
COUNTS = (4, 6, 8, 12, 16, 24)


@dataclass(frozen=True)
class SlopeStand:
    """Where to stand: distance from the sight plane [m], slopes [rad]; arrows at each; how far right a degree of the
    third axis puts them, uphill and downhill [m]; one sd of the axis after it [rad]."""

    distance_m: float
    up_rad: float
    down_rad: float
    arrows: int
    right_up_m: float
    right_down_m: float
    sd_rad: float


def slope_stands(
    figures: RigFigures,
    reference_m: float,
    distances_m: Sequence[float],
    slopes_rad: tuple[float, float],
    spread_mrad: float,
    wanted_rad: float,
) -> tuple[SlopeStand, ...]:
    """The stands that prove the third axis to a tolerance, the fewest arrows first.

    As many arrows uphill as downhill at one target; windage, planes and lean are fitted beside the axis, windage known
    to 0.4 mrad and planes to 4 mm as sighting in leaves them.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home [m] from the sight plane.
        distances_m: where there is a slope to shoot on [m] from the sight plane, shape (n,).
        slopes_rad: uphill and downhill [rad], up positive, shape (2,).
        spread_mrad: one sd of an arrow [mrad].
        wanted_rad: what the axis shall be known to, 19 times in 20 [rad].

    Returns:
        for each distance the fewest arrows that do, else as many as are counted here; those that do first.

    Raises:
        InvalidValue: without a slope up and one down.

    Source:
        docs/method.md, section 18.
    """
    up, down = slopes_rad
    if not (up > 0.0 > down):
        raise InvalidValue("slope", "needs a slope up and one down")
    told = []
    for distance in distances_m:
        try:
            told.append(_stand(figures, reference_m, distance, (up, down), spread_mrad, wanted_rad))
        except CrossStaffError:
            continue
    return tuple(sorted(told, key=lambda each: (1.96 * each.sd_rad > wanted_rad, each.arrows, each.sd_rad)))


def _stand(
    figures: RigFigures,
    reference_m: float,
    distance: float,
    slopes: tuple[float, float],
    spread_mrad: float,
    wanted: float,
) -> SlopeStand:
    columns = shares(figures, reference_m, [SideGroup(distance, slope, 0.0, 1.0) for slope in slopes])
    prior = np.diag([WINDAGE_RAD**-2, OFFSET_M**-2, LIKELY[2] ** -2, LIKELY[THIRD] ** -2 * 1e-2])
    sd, arrows = math.inf, COUNTS[-1]
    for arrows in COUNTS:
        weight = math.sqrt(arrows) / (1e-3 * spread_mrad * distance)
        known = columns * weight
        # grip and wind differ up and down, however many arrows are shot
        sd = math.hypot(math.sqrt(float(np.linalg.inv(known.T @ known + prior)[THIRD, THIRD])), PART_SD_RAD["slope"])
        if 1.96 * sd <= wanted:
            break
    degree = math.radians(1.0)
    return SlopeStand(distance, *slopes, arrows, columns[0, THIRD] * degree, columns[1, THIRD] * degree, sd)
