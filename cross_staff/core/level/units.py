"""What a line of each vial is counted as, and how sure a look is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.level.methods import BY_KEY, CLIP, JIG, LINE, LINE_SD_RAD, RAIL, WANDER
from cross_staff.core.rig.card import LevelSetup, Vial

LOOK_DIV = 0.1  # how exactly a bubble is read
# a line of a vial that is not calibrated is counted coarser than nearly every vial's, so that "good" is never too soon
COARSE_LINE_RAD = math.radians(1.1)
WANDER_SD_RAD = math.radians(0.6)  # of a housing's wander, half a millimetre on a usual travel


@dataclass(frozen=True)
class VialUnit:
    """What a line of the sight's (or rail's) vial and of what is read beside it is counted as [rad]; nought for
    nothing read beside it. Calibrated: both are known; else lines are what is shown."""

    calibrated: bool
    vial: float
    reference: float
    line_sd: float = 0.0

    def look_sd(self, pitch_rad: float = 0.0) -> float:
        """The sd of one look [rad of tilt]: both vials as they are read, and the line that the bow is held to."""
        read = LOOK_DIV * math.hypot(self.vial, self.reference)
        return math.hypot(read, self.line_sd * math.cos(pitch_rad))


def kind_beside(axis: str, method: str) -> str:
    """Which level is read beside the sight's (or the rail's), as the setup calls it; empty where a line is the
    reference."""
    return {CLIP: "reference", RAIL: "rail", JIG: "jig"}.get(BY_KEY[method].reads, "")


def beside(setup: LevelSetup, axis: str, method: str) -> Vial | None:
    """The vial that is read beside the sight's (or the rail's); None where a line is the reference."""
    kind = kind_beside(axis, method)
    return getattr(setup, kind) if kind else None


def unit_for(setup: LevelSetup, axis: str, method: str) -> VialUnit:
    """What lines are counted as for an axis read this way.

    Args:
        setup: what the axes are read with.
        axis: first, second or third.
        method: how it is read.

    Returns:
        [rad a line] of both vials.

    Source:
        docs/method.md, section 12.
    """
    if BY_KEY[method].reads == WANDER:  # degrees by themselves, whatever the vial
        return VialUnit(True, setup.vial_of(axis).per_division_rad or COARSE_LINE_RAD, 0.0, WANDER_SD_RAD)
    other = beside(setup, axis, method)
    line, known = LINE_SD_RAD if BY_KEY[method].reads == LINE else 0.0, setup.vial_of(axis).per_division_rad
    if other is None:
        return VialUnit(known is not None, COARSE_LINE_RAD if known is None else known, 0.0, line)
    both = known is not None and other.per_division_rad is not None
    return VialUnit(both, known or COARSE_LINE_RAD, other.per_division_rad or COARSE_LINE_RAD)
