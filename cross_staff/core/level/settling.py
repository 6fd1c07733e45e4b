"""How long a vial takes to rest, learned from looks: the time for which its bubble was seen to move."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.level.lines import VIAL_KIND
from cross_staff.core.level.log import LevelReading
from cross_staff.core.ranges import Range

LEAST_TIMES, NEWEST = 3, 12
SETTLES_S = Range(1.0, 120.0)  # outside, somebody was called away, or put the bubble there at once
PART = 0.8


@dataclass(frozen=True)
class Settling:
    """Seconds to wait, by four in five of so many looks."""

    seconds: float
    looks: int


def settling(log: Sequence[LevelReading], kind: str) -> Settling | None:
    """What the newest looks at a vial say of the time that it takes.

    Args:
        log: entries that hold, oldest first.
        kind: of the vial: rail or sight.

    Returns:
        [s]; None before three looks timed it.

    Source:
        a rule of the craft.
    """
    times = [r.settled_s for r in log if not r.turn and VIAL_KIND[r.axis] == kind and r.settled_s is not None]
    times = [seconds for seconds in times if SETTLES_S.holds(seconds)][-NEWEST:]
    if len(times) < LEAST_TIMES:
        return None
    return Settling(sorted(times)[math.ceil(PART * len(times)) - 1], len(times))
