"""The ranges outside which an input is refused, once for the pages and the JSON interface."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue


@dataclass(frozen=True)
class Range:
    """A closed interval in SI units.

    >>> Range(0.5, 400.0).holds(12.0)
    True
    """

    low: float
    high: float

    def holds(self, value: float) -> bool:
        """Whether `value` is finite and inside."""
        return math.isfinite(value) and self.low <= value <= self.high

    def check(self, field: str, value: float, unit: str) -> float:
        """Return `value`, or raise InvalidValue naming `field` and the range in `unit`."""
        if not self.holds(value):
            raise InvalidValue(field, f"must lie between {self.low:g} and {self.high:g} {unit}")
        return value


SPEED_MPS = Range(20.0, 200.0)
DRAG_PER_M = Range(0.0, 0.02)
EYE_TO_SIGHT_M = Range(0.3, 1.5)
PEEP_HEIGHT_M = Range(0.02, 0.3)
DISTANCE_M = Range(0.5, 400.0)
PITCH_RAD = Range(-math.radians(80.0), math.radians(80.0))
