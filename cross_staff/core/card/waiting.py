"""What a rig waits for: parts that were ordered, or a string that came wrong; and until when."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, newest

STATION, KEY = "card", "waiting"
MOST_LETTERS = 120


@dataclass(frozen=True)
class Waiting:
    """What it waits for, the day that it is expected (None: nobody knows), and since when."""

    what: str
    until: date | None
    since: datetime


def waiting(log: Sequence[BenchEntry]) -> Waiting | None:
    """What the rig waits for; None while it waits for nothing.

    Args: log of the card, oldest first.
    """
    entry = newest(log).get(KEY)
    if entry is None:
        return None
    return Waiting(entry.note, date.fromisoformat(entry.choice) if entry.choice else None, entry.entered)


def check_entry(_card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be waited for. Raises: NotFound for anything else; InvalidValue with the field."""
    if entry.key != KEY:
        raise NotFound(f"nothing is written down of {entry.key}")
    if not entry.note.strip() or len(entry.note) > MOST_LETTERS:
        raise InvalidValue("waits_for", f"say what it waits for, in at most {MOST_LETTERS} letters")
    if entry.choice:
        try:
            date.fromisoformat(entry.choice)
        except ValueError as error:
            raise InvalidValue("until", "choose a day, or leave it empty") from error
