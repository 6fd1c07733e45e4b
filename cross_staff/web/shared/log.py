"""The log of a station of the bench, newest first, in the station's own words."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.web.shared.moments import local_time


@dataclass(frozen=True)
class EntryWords:
    """What an entry is about, what was answered, and after which step of tuning."""

    name: str
    value: str
    after: str = ""


def log_rows(
    log: Sequence[BenchEntry], said: Callable[[BenchEntry], EntryWords], by: Mapping[int, str]
) -> list[dict[str, Any]]:
    """Every entry with what it says, and who wrote it, by the number of the entry; the newest of each key can be taken
    back."""
    newest = {entries[-1].entry_id for entries in standing(log).values()}
    rows = []
    for entry in reversed(log):
        words = said(entry)
        rows.append(
            {
                "key": entry.key,
                "when": local_time(entry.entered),
                "by": by.get(entry.entry_id, ""),
                "name": words.name,
                "value": "taken back" if entry.removed else words.value,
                "after": words.after,
                "note": entry.note,
                "revision": entry.revision,
                "undo": entry.entry_id in newest and not entry.removed,
            }
        )
    return rows
