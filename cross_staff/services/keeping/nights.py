"""Which nightly backup is due, and which are kept: one a day for a week, then one a week."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, datetime, time, timedelta

DAYS, WEEKS = 7, 5
HOUR = time(3, 0)  # in the night, by the clock of the shop; later, where the machine was off
_NAME = re.compile(r"cross-staff-(\d{4}-\d{2}-\d{2})\.sqlite3")


def name_of(night: date) -> str:
    """The file of a night's backup."""
    return f"cross-staff-{night.isoformat()}.sqlite3"


def night_of(name: str) -> date | None:
    """The night whose backup a file is, by its name; None for any other file."""
    match = _NAME.fullmatch(name)
    try:
        return date.fromisoformat(match.group(1)) if match else None
    except ValueError:
        return None


def last_night(now: datetime) -> date:
    """The day whose night was last, by the shop's own clock."""
    return now.date() if now.time() >= HOUR else now.date() - timedelta(days=1)


def kept(nights: Iterable[date]) -> frozenset[date]:
    """The nights whose backups stay: the newest DAYS of them, and the newest of each of the last WEEKS weeks that have
    any. A clock that was wrong takes none away that it did not make more of."""
    newest_first = sorted(set(nights), reverse=True)
    of_weeks: dict[tuple[int, int], date] = {}
    for night in newest_first:
        of_weeks.setdefault(night.isocalendar()[:2], night)
    return frozenset((*newest_first[:DAYS], *list(of_weeks.values())[:WEEKS]))
