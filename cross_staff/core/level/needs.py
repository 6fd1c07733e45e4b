"""Which tool this archer's slopes need: what each method can prove of the third axis, beside what may be left of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import OutOfReach
from cross_staff.core.level.cost import tolerances
from cross_staff.core.level.methods import ARROWS, CLIP, METHODS, Method
from cross_staff.core.rig.card import LevelSetup, RigCard

NINETEEN_IN_TWENTY = 1.96
LOOKS_SD_RAD = math.radians(0.1)  # what a few looks at two tilts leave open


@dataclass(frozen=True)
class Tool:
    """A method and the smallest amount of third axis that it can prove, 19 times in 20 [rad]; whether that is enough
    (None while nobody knows what may be left)."""

    method: Method
    provable_rad: float
    enough: bool | None


def tools(setup: LevelSetup, tolerance_rad: float | None) -> tuple[Tool, ...]:
    """What each method of the third axis can prove on this bow, the sharpest first.

    Args:
        setup: where the reference sits, and whether it was proved there.
        tolerance_rad: what may be left of the third axis [rad]; None while that is not known.

    Returns:
        every method [rad].

    Source:
        docs/method.md, section 12.
    """
    known = []
    for method in METHODS["third"]:
        seat = setup.seat if setup.seat in method.seats else method.seats[0] if method.seats else setup.seat
        yaw_sd = setup.yaw_of(seat)[1] if method.reads == CLIP else 0.0
        provable = NINETEEN_IN_TWENTY * math.hypot(method.bias_sd_rad, LOOKS_SD_RAD, yaw_sd)
        known.append(Tool(method, provable, None if tolerance_rad is None else provable <= tolerance_rad))
    return tuple(sorted(known, key=lambda tool: tool.provable_rad))


def easiest(known: Sequence[Tool]) -> Tool | None:
    """The least sharp way of reading that still proves the axis by itself; None where none does.

    Args:
        known: every way, the sharpest first [rad].

    Returns:
        one of them.

    Source:
        docs/method.md, section 12.
    """
    return next((tool for tool in reversed(known) if tool.enough), None)


def drawn(known: Sequence[Tool]) -> Tool:
    """The way of reading at full draw that is to decide: the easiest that does, else the sharpest.

    Args:
        known: every way, the sharpest first [rad].

    Returns:
        one of them.

    Source:
        docs/method.md, section 12.
    """
    full = [tool for tool in known if tool.method.full_draw and tool.method.reads != ARROWS]
    return easiest(full) or full[0]


def good_to_m(card: RigCard, figures: RigFigures, provable_rad: float) -> float | None:
    """How far a method is enough, at this archer's slopes: the farthest of every five metres [m as ranged]; None
    where it is not enough anywhere, or nothing is known.

    Args:
        card: the rig's card.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        provable_rad: what the method can prove [rad].

    Returns:
        [m as ranged].

    Source:
        docs/method.md, section 12.
    """
    wanted, far = card.level.tolerance_m, card.goals.farthest_m
    if wanted is None or far is None:
        return None
    good = None
    for distance in range(10, int(far) + 1, 5):
        nearer = replace(card, goals=replace(card.goals, farthest_m=float(distance), distances_m=()))
        try:
            allowed = tolerances(nearer, figures, wanted).get("third", math.inf)
        except OutOfReach:
            break
        if allowed < provable_rad:
            break
        good = float(distance)
    return good
