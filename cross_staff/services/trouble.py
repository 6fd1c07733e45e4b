"""A rig that cannot be worked out: its latest records, read without reckoning, each to be taken back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import NotFound
from cross_staff.core.level.log import LevelReading, kept
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.services import log as entries
from cross_staff.services.level import record as level_service
from cross_staff.services.sight_in import moves
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.tape import record as tape
from cross_staff.storage import bench_entries, level_readings, observations, range_log, rigs
from cross_staff.storage.database import Database

MOST = 40
MARK, LINE, READING, END, MOVE, CARD = "mark", "line", "reading", "end", "move", "card"


@dataclass(frozen=True)
class Written:
    """Something that was written down and stands: its kind and key, by which it is taken back; what it says."""

    kind: str
    key: str
    entered: datetime
    says: str


@dataclass(frozen=True)
class Latest:
    """A rig's name, and the latest of what was written down of it, the newest first."""

    name: str
    written: tuple[Written, ...]


def latest(database: Database, rig_id: int) -> Latest:
    """What was last written down of a rig. Raises NotFound."""
    with database.reading() as connection:
        rigs.row(connection, rig_id)
        name, cards = _cards(connection, rig_id)
        every = [*cards, *_marks(connection, rig_id), *_entries(connection, rig_id), *_readings(connection, rig_id)]
        every += [*_ends(connection, rig_id), *_moves(connection, rig_id)]
    return Latest(name, tuple(sorted(every, key=lambda each: each.entered, reverse=True)[:MOST]))


def _cards(connection: Connection, rig_id: int) -> tuple[str, list[Written]]:
    """The rig's name, and its newest revision, where there is an earlier one to go back to."""
    number = rigs.newest_number(connection, rig_id)
    for earlier in range(number, 0, -1):
        try:
            sound = rigs.at_revision(connection, rig_id, earlier)
        except ValueError:
            continue  # a card that cannot be read
        back = earlier if earlier < number else earlier - 1
        said = Written(CARD, str(back), sound.saved, f"the card of revision {number}, back to revision {back}")
        return sound.card.name, [said] if back else []
    return f"Rig {rig_id}", []


def _marks(connection: Connection, rig_id: int) -> list[Written]:
    newest = {entry.line: entry for entry in observations.log(connection, rig_id)}
    return [
        Written(MARK, str(e.entry_id), e.entered, f"a mark: {e.mark_mm:.6g} mm at {e.ranged_m:.6g} m")
        for e in newest.values()
        if not e.removed
    ]


def _entries(connection: Connection, rig_id: int) -> list[Written]:
    logs = {station: standing(log) for station, log in bench_entries.logs(connection, rig_id).items()}
    return [
        Written(LINE, f"{station}:{key}", each[-1].entered, f"{station.replace('_', ' ')}, {key.replace('_', ' ')}")
        for station, held in logs.items()
        for key, each in held.items()
    ]


def _readings(connection: Connection, rig_id: int) -> list[Written]:
    log = kept(level_readings.log(connection, rig_id))
    return [Written(READING, str(r.reading_id), r.entered, _entry_words(r)) for r in log]


def _entry_words(entry: LevelReading) -> str:
    """An entry of the level's log in words: a turn, a group on a slope, or a reading."""
    if entry.turn:
        return f"a turn of the {entry.axis} axis" + ("" if entry.turns is None else f": {entry.turns:.6g}")
    if entry.axis == "first" and entry.right_m is not None:
        return f"a quick look at the rail: {entry.right_m:.6g} m to the right"
    if entry.right_m is not None:
        return f"a group on a slope: {entry.right_m:.6g} m to the right"
    return f"a reading of the {entry.axis} axis: {entry.vial_div:.6g} lines{_turned(entry.turns)}"


def _turned(turns: float | None) -> str:
    return "" if turns is None else f", after {turns:.6g} turns"


def _ends(connection: Connection, rig_id: int) -> list[Written]:
    ends = [end for end in range_log.ends(connection, rig_id) if not end.removed]
    return [
        Written(END, e.key, e.entered, f"an end of {len(e.shots)} arrows at {e.ranged_m or 0.0:.6g} m") for e in ends
    ]


def _moves(connection: Connection, rig_id: int) -> list[Written]:
    moves = [move for move in range_log.moves(connection, rig_id) if not move.removed]
    return [Written(MOVE, m.key, m.entered, f"{m.drive} moved by {m.amount:.6g} {m.unit}") for m in moves]


def _card_back(database: Database, rig_id: int, number: int, now: datetime) -> None:
    """The card as it stood at an earlier revision, as the next one: those since may be past reading."""
    with database.writing() as connection:
        current = rigs.newest_number(connection, rig_id)
        card = rigs.at_revision(connection, rig_id, number).card
        rigs.add_revision(connection, rig_id, current, card, now, f"as it stood at revision {number}")


def take_back(database: Database, rig_id: int, kind: str, key: str, now: datetime) -> None:
    """Take something back that was written down; the log keeps both. Raises NotFound."""
    if kind == MARK and key.isdecimal():
        tape.undo(database, rig_id, int(key), now)
    elif kind == READING and key.isdecimal():
        level_service.take_back(database, rig_id, int(key), now)
    elif kind == CARD and key.isdecimal():
        _card_back(database, rig_id, int(key), now)
    elif kind == LINE and ":" in key:
        station, _, name = key.partition(":")
        entries.take_back(database, rig_id, BenchEntry(station, name, 0, now))
    elif kind == END:
        sight_in.change_end(database, rig_id, key, now, removed=True)
    elif kind == MOVE:
        moves.take_move_back(database, rig_id, key, now)
    else:
        raise NotFound("there is nothing of the kind to take back")
