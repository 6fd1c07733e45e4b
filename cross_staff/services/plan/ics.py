"""Busy times out of a calendar file (RFC 5545), whatever zone it is of."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from typing import Any

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.planner import HORIZON_DAYS, Span

MOST_SPANS = 4000
MOST_TIMES, MOST_AGAIN = 40_000, 200  # times of one event since it began; events that come again
_BACK_DAYS = 14


def busy_times(body: bytes, zone: tzinfo, now: datetime) -> list[Span]:
    """What a calendar's events take of the next months; what is marked free or cancelled takes nothing.

    Args: zone, of the shop: whole days, and times without a zone, are of its clock; now, with a zone.
    Returns: spans [UTC, without a zone]. Raises InvalidValue for a file that is no calendar, or has too many events.
    """
    from icalendar import Calendar

    try:
        if b"BEGIN:VCALENDAR" not in body or b"END:VCALENDAR" not in body:
            raise ValueError("no calendar")
        events = Calendar.from_ical(body).walk("VEVENT")
        if sum("RRULE" in event for event in events) > MOST_AGAIN:
            raise InvalidValue("calendar", f"has more than {MOST_AGAIN} events that come again")
        spans = [span for event in events for span in _spans(event, zone, now)]
    except InvalidValue:
        raise
    except (ValueError, KeyError, IndexError, TypeError, AttributeError, OverflowError) as error:
        raise InvalidValue("calendar", "is no calendar file: export it as iCalendar (.ics)") from error
    if len(spans) > MOST_SPANS:
        raise InvalidValue("calendar", f"has more than {MOST_SPANS} events in the next months")
    return sorted(spans, key=lambda each: each.start)


def _spans(event: Any, zone: tzinfo, now: datetime) -> Iterator[Span]:
    if str(event.get("TRANSP", "")).upper() == "TRANSPARENT" or str(event.get("STATUS", "")).upper() == "CANCELLED":
        return
    begins = event.decoded("DTSTART")
    start = _moment(begins, zone)
    lasts = _lasts(event, begins, start, zone)
    if lasts <= timedelta():
        return
    first, last = now - timedelta(days=_BACK_DAYS), now + timedelta(days=HORIZON_DAYS)
    for each in _times(event, start, first - lasts, last):
        yield Span(each.astimezone(UTC).replace(tzinfo=None), (each + lasts).astimezone(UTC).replace(tzinfo=None))


def _lasts(event: Any, begins: date, start: datetime, zone: tzinfo) -> timedelta:
    if "DTEND" in event:
        return _moment(event.decoded("DTEND"), zone) - start
    if "DURATION" in event:
        return timedelta(seconds=event.decoded("DURATION").total_seconds())
    return timedelta() if isinstance(begins, datetime) else timedelta(days=1)


def _moment(told: date, zone: tzinfo) -> datetime:
    """A moment with its zone: a whole day begins at midnight by the shop's clock."""
    if not isinstance(told, datetime):
        return datetime.combine(told, time(), zone)
    return told if told.tzinfo is not None else told.replace(tzinfo=zone)


def _times(event: Any, start: datetime, first: datetime, last: datetime) -> Iterator[datetime]:
    """When it begins, each time that it comes again, on the clock that it was written by."""
    if "RRULE" not in event:
        if first <= start <= last:
            yield start
        return
    from dateutil.rrule import rrulestr  # type: ignore[import-untyped]

    left_out = {_moment(each.dt, start.tzinfo or UTC) for each in _exceptions(event)}
    rule = event["RRULE"].to_ical().decode()
    wall = start.replace(tzinfo=None)
    for count, each in enumerate(rrulestr(_local_until(rule, start), dtstart=wall)):
        moment = each.replace(tzinfo=start.tzinfo)
        if moment > last:
            return
        if count > MOST_TIMES:
            raise InvalidValue("calendar", "has an event that comes again too often to be counted")
        if moment >= first and moment not in left_out:
            yield moment


def _exceptions(event: Any) -> list[Any]:
    told = event.get("EXDATE", [])
    return [each for part in (told if isinstance(told, list) else [told]) for each in part.dts]


def _local_until(rule: str, start: datetime) -> str:
    """The rule with its end on the clock of its beginning, as the expansion counts."""
    parts = []
    for part in rule.split(";"):
        name, _, value = part.partition("=")
        if name.upper() == "UNTIL" and value.endswith("Z"):
            end = datetime.strptime(value, "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC).astimezone(start.tzinfo)
            part = f"UNTIL={end:%Y%m%dT%H%M%S}"
        parts.append(part)
    return ";".join(parts)
