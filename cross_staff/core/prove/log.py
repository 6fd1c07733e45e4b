"""The proof log: a line a visit, of a group that was shot by a tape, or to be held against another."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from cross_staff.core import ranges
from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range

STATION = "prove"
ARROWS = Range(1, 60)
OFF_M = Range(-5.0, 5.0)
SLOPE_RAD = Range(math.radians(-60.0), math.radians(60.0))
WIND_MPS = Range(-30.0, 30.0)
OLDEST = date(2000, 1, 1)
MOST_LABEL, MOST_NOTE = 40, 200


@dataclass(frozen=True)
class ProofLine:
    """A group: the target's distance, and what the pointer stood at on the tape [m as ranged], None where no tape was
    dialled; arrows, how high and how far right of the aim their middle came in [m], None where it was not noted; the
    day it was shot on. The tape by its code, and which laying of it, nought the first; slope [rad] and crosswind [m/s],
    from the left positive; cold, the first arrows of the day; label, of which of two kinds it is where two are held
    against each other. key names the line for good; the newest entry of a key holds."""

    key: str
    revision: int
    entered: datetime
    day: date
    ranged_m: float
    dialled_m: float | None
    arrows: int
    up_m: float | None
    right_m: float | None = None
    slope_rad: float = 0.0
    crosswind_mps: float | None = None
    cold: bool = False
    tape: str = ""
    laying: int = 0
    label: str = ""
    note: str = ""
    removed: bool = False
    entry_id: int = 0


def check_line(line: ProofLine, today: date) -> None:
    """Refuse a line that cannot have been shot. Raises: InvalidValue with the field."""
    ranges.DISTANCE_M.check("ranged", line.ranged_m, "m")
    if line.dialled_m is not None:
        ranges.DISTANCE_M.check("dialled", line.dialled_m, "m")
    ARROWS.check("arrows", line.arrows, "arrows")
    if line.up_m is None and line.right_m is None:
        raise InvalidValue("up", "say how high or low, or how far left or right, the arrows came in; 0 is on the aim")
    for field, off in (("up", line.up_m), ("right", line.right_m)):
        if off is not None:
            OFF_M.check(field, off, "m")
    SLOPE_RAD.check("slope", line.slope_rad, "rad")
    if line.crosswind_mps is not None:
        WIND_MPS.check("wind", line.crosswind_mps, "m/s")
    if not OLDEST <= line.day <= today + timedelta(days=1):  # a day more: the range's clock is not the shop's
        raise InvalidValue("day", "is not a day that was: give the day it was shot on")
    if len(line.label) > MOST_LABEL or len(line.note) > MOST_NOTE:
        raise InvalidValue("note", f"is too long: at most {MOST_NOTE} letters")


def kept(log: Sequence[ProofLine]) -> tuple[ProofLine, ...]:
    """The lines as they stand, by the day they were shot on, then as they were written down.

    Args:
        log: every entry, oldest first, shape (n,).

    Returns:
        the newest entry of each key that was not taken back.

    Source:
        the log of every station.
    """
    newest: dict[str, ProofLine] = {}
    for entry in log:
        newest[entry.key] = entry
    return tuple(sorted((line for line in newest.values() if not line.removed), key=lambda line: line.day))
