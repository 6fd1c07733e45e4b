"""The plan as a calendar file (RFC 5545)."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, tzinfo

from cross_staff.core.plan.planner import Placed

TYPE = "text/calendar; charset=utf-8"


def calendar_of(sessions: Iterable[tuple[Placed, str, str, str]], zone: tzinfo, now: datetime) -> bytes:
    """Sessions with their title, a line more, and the identity of their rig as a calendar; moments in UTC, so that
    every zone reads them alike. Args: zone, of the shop's clock."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Cross Staff//plan//EN")
    calendar.add("version", "2.0")
    for placed, title, more, rig in sessions:
        event = Event()
        event.add("uid", f"{placed.session.key.replace(' ', '-')}@{rig}")
        event.add("dtstamp", now.astimezone(UTC))
        for name, moment in (("dtstart", placed.span.start), ("dtend", placed.span.end)):
            event.add(name, moment.replace(tzinfo=zone).astimezone(UTC))
        event.add("summary", title)
        event.add("description", more)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
