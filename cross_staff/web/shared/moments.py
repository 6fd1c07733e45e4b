"""Times and days, as people say them."""

from __future__ import annotations

from datetime import date, datetime


def local_time(moment: datetime) -> str:
    """A time kept in UTC, as the clock on the wall shows it."""
    return moment.astimezone().strftime("%Y-%m-%d %H:%M")


def due_words(due: date | None, today: date) -> str:
    """How long until the due date, in words; empty without one."""
    if due is None:
        return ""
    days = (due - today).days
    if days < 0:
        return f"{-days} day{'s' if days < -1 else ''} overdue"
    return {0: "due today", 1: "due tomorrow"}.get(days, f"in {days} days")
