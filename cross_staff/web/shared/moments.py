"""Times and days, as people say them."""

from __future__ import annotations

from datetime import date, datetime

from cross_staff.core.card.waiting import Waiting


def local_time(moment: datetime) -> str:
    """A time kept in UTC, as the clock on the wall shows it."""
    return moment.astimezone().strftime("%Y-%m-%d %H:%M")


def zone_words() -> str:
    """Which clock the times of a page are of."""
    now = datetime.now().astimezone()
    offset = f"{now.strftime('%z')[:3]}:{now.strftime('%z')[3:]}"
    name = now.strftime("%Z")
    return f"Times are those of the clock here, {name} (UTC{offset})." if name != "UTC" else "Times are in UTC."


def ago_words(moment: datetime, now: datetime) -> str:
    """How long ago something was, by the clock on the wall."""
    days = (now.astimezone().date() - moment.astimezone().date()).days
    return {0: "today", 1: "yesterday"}.get(days, f"{days} days ago")


def due_words(due: date | None, today: date) -> str:
    """How long until the due date, in words; empty without one."""
    if due is None:
        return ""
    days = (due - today).days
    if days < 0:
        return f"{-days} day{'s' if days < -1 else ''} overdue"
    return {0: "due today", 1: "due tomorrow"}.get(days, f"in {days} days")


def waits_words(held: Waiting | None, today: date) -> dict[str, str] | None:
    """What a rig waits for, the day as a form takes it, and how long until then in words; None for nothing."""
    if held is None:
        return None
    day = held.until.isoformat() if held.until else ""
    return {"what": held.what, "day": day, "until": expected_words(held.until, today)}


def expected_words(until: date | None, today: date) -> str:
    """When a part is expected, in words; empty where nobody knows."""
    if until is None:
        return ""
    days = (until - today).days
    late = f"{-days} day{'s' if days < -1 else ''} late"
    return late if days < 0 else {0: "today", 1: "tomorrow"}.get(days, f"in {days} days")
