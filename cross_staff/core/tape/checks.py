"""What cannot be a mark or a group of the tape."""

from __future__ import annotations

from cross_staff.core.ranges import Range
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.core.rig.log import check_pin, check_reason
from cross_staff.core.tape.rows import TapeMark

MARK_MM = Range(-500.0, 500.0)
UP_M = Range(-3.0, 3.0)
ARROWS = Range(1, 99)


def check_mark(mark: TapeMark, pins: int, before: TapeMark | None = None) -> None:
    """Refuse a row that cannot be; one that is only taken out can always be.

    Args: pins, how many the sight has; before, the row as it stood.
    Raises: InvalidValue with the column.
    """
    if mark.removed:
        return
    RANGED_M.check("distance", mark.ranged_m, "m")
    MARK_MM.check("mark", mark.mark_mm, "mm")
    if mark.up_m is not None:
        UP_M.check("up", mark.up_m, "m")
    if mark.arrows is not None:
        ARROWS.check("arrows", mark.arrows, "arrows")
    check_pin(mark.pin, pins, before.pin if before else None)
    if mark.left_out and not (before is not None and before.left_out and before.reason == mark.reason):
        check_reason(mark.reason)
