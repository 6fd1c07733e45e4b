"""What is put in place of a figure that nobody has measured yet: the usual value, and how far bows differ in it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.rig import peep
from cross_staff.core.rig.expected_speed import DRAW_SD_M, STATED_DRAW_SD_M, USUAL_DRAW_M, USUAL_WEIGHT_N

MASS_PER_FORCE = 1.02e-4  # kg/N: 7 grains a pound
MASS_SD_LN, UNSTATED_MASS_SD_LN = 0.15, 0.22
DIAMETER_M, DIAMETER_SD_LN = 0.0062, 0.15
SIGHT_BEYOND_DRAW_M, SIGHT_BEYOND_DRAW_SD_M = 0.11, 0.04  # eye to sight less true draw
PEEP_M, PEEP_SD_M = 0.1, 0.013
WIDER = 1.2  # a slow bow drops more than a fast one drops less: so much wider, and 19 in 20 lie within
USUAL_ANGLE_RAD = sum(peep.USUAL_ANGLE_RAD) / 2.0


@dataclass(frozen=True)
class Estimate:
    """A value in SI units with its sd (of the logarithm for masses and diameters), and what it was reckoned from."""

    value: float
    sd: float
    from_: str = ""


def mass(draw_weight_n: float | None) -> Estimate:
    """What an arrow of this bow usually weighs.

    Args:
        draw_weight_n: peak draw weight [N]; None where it is not known.

    Returns:
        [kg], with the sd of its logarithm.

    Source:
        a rule of the craft; docs/method.md, section 6.
    """
    if draw_weight_n is None:
        return Estimate(MASS_PER_FORCE * USUAL_WEIGHT_N, UNSTATED_MASS_SD_LN)
    return Estimate(MASS_PER_FORCE * draw_weight_n, MASS_SD_LN, "draw_weight")


def diameter() -> Estimate:
    """What a shaft usually measures across.

    Returns:
        [m], with the sd of its logarithm.

    Source:
        a rule of the craft; docs/method.md, section 6.
    """
    return Estimate(DIAMETER_M, DIAMETER_SD_LN)


def eye_to_sight(true_draw_m: float | None) -> Estimate:
    """How far from the peep the sight usually stands.

    Args:
        true_draw_m: nocking point to grip at full draw [m]; None where it is not known.

    Returns:
        [m] with its sd [m].

    Source:
        a rule of the craft; docs/method.md, section 6.
    """
    stated = true_draw_m is not None
    sd = math.hypot(SIGHT_BEYOND_DRAW_SD_M, STATED_DRAW_SD_M if stated else DRAW_SD_M)
    return Estimate((true_draw_m or USUAL_DRAW_M) + SIGHT_BEYOND_DRAW_M, sd, "draw_length" if stated else "")


def peep_height(along_m: float | None) -> Estimate:
    """How high the peep usually stands, square to the arrow.

    Args:
        along_m: nocking point to peep along the string [m]; None where it is not known.

    Returns:
        [m] with its sd [m].

    Source:
        a rule of the craft; docs/method.md, section 6.
    """
    if along_m is None:
        return Estimate(PEEP_M, PEEP_SD_M)
    height = peep.from_along_string(along_m, USUAL_ANGLE_RAD, peep.ESTIMATED_ANGLE_SD_RAD)
    return Estimate(height.height_m, height.sd_m, "along")
