"""What cannot be a mark or a group of the tape."""

from __future__ import annotations

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.core.rig.log import check_pin, check_reason
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.rulers import BOOKLET, LINES, SPAN_MM

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
    check_span(mark.ruler, mark.from_m, mark.ranged_m, mark.mark_mm)
    if mark.up_m is not None:
        UP_M.check("up", mark.up_m, "m")
    if mark.arrows is not None:
        ARROWS.check("arrows", mark.arrows, "arrows")
    check_pin(mark.pin, pins, before.pin if before else None)
    if mark.left_out and not (before is not None and before.left_out and before.reason == mark.reason):
        check_reason(mark.reason)


def check_span(ruler: str, from_m: float | None, ranged_m: float, mark_mm: float) -> None:
    """A length from one line to another: of pencil lines and trial strips, the farther one's from the nearer.

    Args:
        ruler: what it was read off.
        from_m: the line that is measured from [m as ranged]; None on the sight's own scale.
        ranged_m: the other line [m as ranged].
        mark_mm: from the one to the other [mm].

    Raises:
        InvalidValue: with the column.

    Source:
        a rule of the craft.
    """
    if from_m is None:
        return
    RANGED_M.check("from", from_m, "m")
    if ruler not in (LINES, BOOKLET):
        return
    SPAN_MM.check("mark", mark_mm, "mm")
    if ranged_m - from_m < 1.0:
        raise InvalidValue("distance", "must be farther than the line that is measured from")
