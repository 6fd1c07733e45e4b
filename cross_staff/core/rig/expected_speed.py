"""Speed of an arrow that nobody chronographed: what a bow of this draw weight and draw length gives it, and how
surely."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics.arrow import PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN
from cross_staff.core.rig.chronograph import SpeedAtSight

CAMS, NO_CAMS = 0.94, 0.62  # part of draw weight times power stroke that arrow and virtual mass take with them
LET_OFF_COSTS = 0.10  # of that part, for a let-off of all the draw weight
PART_SD_LN = 0.15  # how far bows differ in it
LEAST_LET_OFF = 0.3  # a bow with less has no cams to speak of
BRACE_M, BRACE_NO_CAMS_M, BRACE_SD_M = 0.165, 0.205, 0.02
USUAL_WEIGHT_N, WEIGHT_SD_LN, STATED_WEIGHT_SD_LN = 267.0, 0.18, 0.03
USUAL_DRAW_M, DRAW_SD_M, STATED_DRAW_SD_M = 0.69, 0.04, 0.012
USUAL_LET_OFF = 0.8


@dataclass(frozen=True)
class ExpectedSpeed:
    """The speed at the sight plane [m/s] with its sd, and what was taken for granted of draw weight, draw length and
    let-off, as nobody stated it."""

    at_sight: SpeedAtSight
    assumed: tuple[str, ...]


def expected_speed(
    mass_kg: float, draw_weight_n: float | None, true_draw_m: float | None, let_off: float | None
) -> ExpectedSpeed:
    """What a bow gives an arrow: v = sqrt(2 c F s / (m + mv)), s the power stroke from brace to full draw.

    c is the part of draw weight times stroke that arrow and virtual mass leave with: 0.94 less a tenth of the
    let-off with cams, 0.62 without, alike to 15 % from bow to bow; mv = 8 g, sd of its logarithm 0.35.

    Args:
        mass_kg: of the arrow [kg].
        draw_weight_n: peak draw weight [N]; None: 267 N, known to 18 %.
        true_draw_m: nocking point to grip at full draw [m]; None: 0.69 m, known to 4 cm.
        let_off: part of the draw weight that is let off at full draw [-]; None: 0.8.

    Returns:
        the speed with its sd [m/s], and what was taken for granted.

    Source:
        energy of a force-draw curve; docs/method.md, section 6.
    """
    given = {"draw_weight": draw_weight_n, "draw_length": true_draw_m, "let_off": let_off}
    off = USUAL_LET_OFF if let_off is None else let_off
    cams = off >= LEAST_LET_OFF
    force = USUAL_WEIGHT_N if draw_weight_n is None else draw_weight_n
    draw = USUAL_DRAW_M if true_draw_m is None else true_draw_m
    stroke = max(draw - (BRACE_M if cams else BRACE_NO_CAMS_M), 0.15)
    part = CAMS - LET_OFF_COSTS * off if cams else NO_CAMS
    speed = math.sqrt(2.0 * part * force * stroke / (mass_kg + PRIOR_VIRTUAL_MASS_KG))
    widths = (
        PART_SD_LN,
        WEIGHT_SD_LN if draw_weight_n is None else STATED_WEIGHT_SD_LN,
        math.hypot(BRACE_SD_M, DRAW_SD_M if true_draw_m is None else STATED_DRAW_SD_M) / stroke,
        PRIOR_VIRTUAL_MASS_SD_LN * PRIOR_VIRTUAL_MASS_KG / (mass_kg + PRIOR_VIRTUAL_MASS_KG),
    )
    sd = 0.5 * speed * math.hypot(*widths)
    return ExpectedSpeed(SpeedAtSight(speed, sd), tuple(key for key, value in given.items() if value is None))
