"""Hours of a week as they are typed: Mon-Fri 9-18, Sat 9:30-12."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.days import WEEKDAYS
from cross_staff.core.plan.planner import Hours

EXAMPLE = "Mon-Fri 18-20, Sat 9:30-17"
NONE = "none"
MOST = 60
_DAY = "|".join(WEEKDAYS)
_PART = re.compile(rf"(?i)({_DAY})[a-z]*(?:\s*[-–]\s*({_DAY})[a-z]*)?\s+(.+)")
_TIMES = re.compile(r"(\d{1,2})(?:[:.](\d\d))?\s*[-–]\s*(\d{1,2})(?:[:.](\d\d))?")


def read_hours(text: str, field: str) -> tuple[Hours, ...]:
    """The hours that a text says; none for an empty one, or “none”. Raises InvalidValue with an example."""
    if not text.strip() or text.strip().lower() == NONE:
        return ()
    hours = [each for part in re.split(r"[,;]", text) if part.strip() for each in _part(part.strip(), field)]
    if len(hours) > MOST:
        raise InvalidValue(field, f"at most {MOST} parts of a week")
    return tuple(sorted(hours, key=lambda each: (each.weekday, each.from_min)))


def _part(part: str, field: str) -> Iterator[Hours]:
    days = _PART.fullmatch(part)
    times = _TIMES.fullmatch(days[3].strip()) if days else None
    if days is None or times is None:
        raise InvalidValue(field, f"“{part[:40]}” is no part of a week: as {EXAMPLE}, or {NONE}")
    first = _weekday(days[1])
    last = _weekday(days[2]) if days[2] else first
    begin, end = (60 * int(times[i]) + int(times[i + 1] or 0) for i in (1, 3))
    if int(times[2] or 0) > 59 or int(times[4] or 0) > 59 or not begin < end <= 24 * 60:
        raise InvalidValue(field, f"“{part[:40]}”: from an hour to a later one of the same day")
    for step in range((last - first) % 7 + 1):
        yield Hours((first + step) % 7, begin, end)


def _weekday(word: str) -> int:
    return [each.lower() for each in WEEKDAYS].index(word.lower()[:3])


def hours_text(hours: Sequence[Hours] | None) -> str:
    """The hours as they would be typed; empty where nobody said."""
    if hours is None:
        return ""
    return ", ".join(f"{WEEKDAYS[e.weekday]} {_clock(e.from_min)}-{_clock(e.to_min)}" for e in hours) or NONE


def _clock(minute: int) -> str:
    return f"{minute // 60}" if minute % 60 == 0 else f"{minute // 60}:{minute % 60:02d}"
