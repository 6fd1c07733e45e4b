"""Who wrote what, and when: rows of every log with their authors, together as they were written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import groupby
from typing import Any

from cross_staff.storage import authors, standings
from cross_staff.storage.authors import Authored
from cross_staff.storage.database import Database

PAGE = 200  # rows of logs on a page
# which station, or the shop, a log belongs to; that of a bench entry stands in it
ROOM_OF = {
    "rig_revisions": "card", "photos": "mount", "witness_marks": "mount", "level_readings": "level",
    "range_sessions": "sight_in", "range_ends": "sight_in", "range_shots": "sight_in", "range_moves": "sight_in",
    "observations": "tape", "printed_tapes": "tape", "proof_lines": "prove", "handover_cards": "prove",
    "taken_readings": "instruments", "sight_models": "shop", "instruments": "shop", "devices": "shop", "people": "shop",
    "shop_hours": "days", "rig_days": "days", "busy_times": "days",
}  # fmt: skip


@dataclass(frozen=True)
class Wanted:
    """Which changes are wanted: whose (None: anybody's; empty: nobody's by name), of which rig, of which room (a
    station, instruments or shop; empty: of all), older than the author row of this number."""

    who: str | None = None
    rig_id: int | None = None
    room: str = ""
    before: int | None = None

    @property
    def logs(self) -> tuple[str, ...]:
        """Logs that can have such a change; empty for every one."""
        if not self.room:
            return ()
        return (*(log for log, room in ROOM_OF.items() if room == self.room), "bench_entries")


@dataclass(frozen=True)
class Change:
    """What one act wrote: when, who, by which way, of which rig (None: of the shop), its rows as (log, columns)."""

    written: datetime
    who: str
    came_by: str
    rig_id: int | None
    rig: str
    rows: tuple[tuple[str, dict[str, Any]], ...]


@dataclass(frozen=True)
class Changes:
    """Changes, the newest first; before what the next ones are (None: there are none); everybody who changed
    something; rigs by number, as (number, name)."""

    changes: tuple[Change, ...]
    older: int | None
    names: tuple[str, ...]
    rigs: tuple[tuple[int, str], ...]


def changes(database: Database, wanted: Wanted) -> Changes:
    """What was changed of late.

    Args: wanted, what of it.
    """
    with database.reading() as connection:
        told = authors.newest(connection, wanted.before, PAGE + 1, wanted.who, wanted.rig_id, wanted.logs)
        page = told[:PAGE]
        rows: dict[tuple[str, int], dict[str, Any]] = {}
        for log in {each.log for each in page}:
            ids = [each.row_id for each in page if each.log == log]
            rows |= {(log, number): row for number, row in authors.rows(connection, log, ids).items()}
        named = standings.names(connection)
        kept = [each for each in page if not wanted.room or room(each.log, rows[each.log, each.row_id]) == wanted.room]
        older = page[-1].author_id if len(told) > PAGE else None
        people = tuple(authors.names(connection))
    return Changes(tuple(_changes(kept, rows, dict(named))), older, people, tuple(named))


def written_by(database: Database, rig_id: int) -> dict[int, str]:
    """Who wrote each entry of the logs of the bench, by its number; those that nobody signed are not in it."""
    with database.reading() as connection:
        return authors.by_row(connection, rig_id, "bench_entries")


def saved_by(database: Database, rig_id: int) -> dict[int, str]:
    """Who saved each revision of a card, by its number; those that nobody signed are not in it."""
    with database.reading() as connection:
        rows = authors.by_row(connection, rig_id, "rig_revisions")
        numbers = authors.rows(connection, "rig_revisions", rows)
    return {numbers[row]["number"]: who for row, who in rows.items()}


def room(log: str, row: dict[str, Any]) -> str:
    """The station that a row belongs to, or instruments, or shop."""
    return str(row["station"]) if log == "bench_entries" else ROOM_OF[log]


def _changes(
    page: Sequence[Authored], rows: dict[tuple[str, int], dict[str, Any]], named: dict[int, str]
) -> list[Change]:
    told = []
    for (written, who, came_by, rig_id), group in groupby(page, lambda e: (e.written, e.who, e.came_by, e.rig_id)):
        own = tuple((each.log, rows[each.log, each.row_id]) for each in group)
        rig = "" if rig_id is None else named[rig_id]
        told.append(Change(written, who, came_by, rig_id, rig, own))
    return told
