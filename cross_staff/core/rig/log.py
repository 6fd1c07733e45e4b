"""What was measured, seen or done at a station of the bench: entries of a log."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.errors import InvalidValue


def check_reason(note: str) -> None:
    """A reason that stays on the record is written out. Raises InvalidValue for less than two words."""
    if len(note.split()) < 2:
        raise InvalidValue("reason", "write why, in a few words: it stays on the record")


def check_pin(pin: int, pins: int, before: int | None) -> None:
    """Refuse a pin that cannot be aimed with; what was shot with one that the card lost keeps it.

    Args: pin, counted from nought at the top; pins, how many can be aimed with; before, the pin as it stood.
    Raises: InvalidValue.
    """
    if pin != before and not 0 <= pin < max(pins, 1):
        many = f"this sight has {pins} pins: choose one of the sight's own"
        raise InvalidValue("pin", many if pins > 1 else "the card lists one pin of the sight")


@dataclass(frozen=True)
class BenchEntry:
    """One entry: its station and key; a number [SI or the unit of its check], a choice, or points
    (right, up) [m]; what had been done just before it; a note. The newest of a key holds."""

    station: str
    key: str
    revision: int
    entered: datetime
    number: float | None = None
    choice: str = ""
    points: tuple[tuple[float, float], ...] = ()
    after: str = ""
    note: str = ""
    removed: bool = False
    entry_id: int = 0


def newest(log: Sequence[BenchEntry]) -> dict[str, BenchEntry]:
    """The entry that holds for each key; a key whose entries were all taken back has none."""
    return {key: kept[-1] for key, kept in standing(log).items()}


def standing(log: Sequence[BenchEntry]) -> dict[str, list[BenchEntry]]:
    """Every entry of each key that was not taken back, oldest first.

    An entry with `removed` takes back the last one before it.
    """
    standings: dict[str, list[BenchEntry]] = {}
    for entry in log:
        kept = standings.setdefault(entry.key, [])
        if not entry.removed:
            kept.append(entry)
        elif kept:
            kept.pop()
    return {key: kept for key, kept in standings.items() if kept}
