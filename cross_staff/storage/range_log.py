"""Sessions, ends, shots and moves of the range: logs in which the newest entry of a key is what holds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, Row, func, insert, select

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.sight_in.log import End, GroupLine, Move, RangeSession
from cross_staff.storage.tables import range_ends, range_moves, range_sessions, range_shots

_SESSION = ("number", "revision", "place", "light", "who", "note", "crosswind_mps", "temperature_c", "build", "counts",
            "key")  # fmt: skip
_END = ("key", "session", "revision", "ranged_m", "pin", "dial_mm", "note", "left_out", "removed", "asked", "dial_from")
_LINE = ("arrows", "right_m", "up_m")
_MOVE = ("key", "revision", "drive", "moves", "amount", "unit", "pin", "placed", "removed", "before")
_SHOT = ("right_m", "up_m", "called_bad", "key", "shaft")


def _utc(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)


def next_place(connection: Connection, rig_id: int) -> int:
    """The next place among the ends and moves of a rig."""
    last = 0
    for table in (range_ends, range_moves):
        highest = connection.execute(select(func.max(table.c.place)).where(table.c.rig_id == rig_id)).scalar()
        last = max(last, highest or 0)
    return last + 1


def add_session(connection: Connection, rig_id: int, session: RangeSession) -> None:
    """Add an entry of a session; the newest of its number holds."""
    values = {name: getattr(session, name) for name in _SESSION}
    connection.execute(insert(range_sessions).values(rig_id=rig_id, entered_utc=_utc(session.entered), **values))


def add_end(connection: Connection, rig_id: int, end: End) -> None:
    """Add an entry of an end, without its shots; `order` is its place."""
    values = {name: getattr(end, name) for name in _END}
    if end.line is not None:
        values |= {f"line_{name}": getattr(end.line, name) for name in _LINE}
    row = {"rig_id": rig_id, "entered_utc": _utc(end.entered), "place": int(end.order)}
    connection.execute(insert(range_ends).values(**row, **values))


def add_shots(
    connection: Connection, rig_id: int, end_key: str, shots: Sequence[tuple[Shot, bool]], now: datetime
) -> None:
    """Add entries of several shots of an end, each with whether it is taken back."""
    row = {"rig_id": rig_id, "end_key": end_key, "entered_utc": _utc(now)}
    rows = [row | {name: getattr(shot, name) for name in _SHOT} | {"removed": removed} for shot, removed in shots]
    if rows:
        connection.execute(insert(range_shots), rows)


def newest_shot(connection: Connection) -> int:
    """The number of the newest entry of any shot; nought before the first."""
    return int(connection.execute(select(func.max(range_shots.c.id))).scalar() or 0)


def shots_between(connection: Connection, rig_id: int, after: int, last: int) -> list[tuple[str, Shot]]:
    """Shots of a rig by the numbers of their entries, each with the key of its end."""
    query = select(range_shots).where(
        range_shots.c.rig_id == rig_id,
        range_shots.c.id > after,
        range_shots.c.id <= last,
        range_shots.c.removed.is_(False),
    )
    rows = connection.execute(query.order_by(range_shots.c.id))
    return [(row.end_key, Shot(**_values(row, _SHOT))) for row in rows]


def shot_before(connection: Connection, rig_id: int, end_key: str, key: str, last: int) -> tuple[Shot, bool] | None:
    """A shot as it stood up to an entry's number, and whether it was taken back then; None before its first."""
    column = range_shots.c
    mine = (column.rig_id == rig_id, column.end_key == end_key, column.key == key, column.id <= last)
    row = connection.execute(select(range_shots).where(*mine).order_by(column.id.desc()).limit(1)).first()
    return None if row is None else (Shot(**_values(row, _SHOT)), bool(row.removed))


def add_move(connection: Connection, rig_id: int, move: Move) -> None:
    """Add an entry of a movement; `order` is its place."""
    values = {name: getattr(move, name) for name in _MOVE}
    row = {"rig_id": rig_id, "entered_utc": _utc(move.entered), "place": math.ceil(move.order)}
    connection.execute(insert(range_moves).values(**row, **values))


def sessions(connection: Connection, rig_id: int) -> tuple[RangeSession, ...]:
    """The sessions as they stand, by number."""
    query = select(range_sessions).where(range_sessions.c.rig_id == rig_id).order_by(range_sessions.c.id)
    newest: dict[int, RangeSession] = {}
    for row in connection.execute(query):
        began = newest[row.number].entered if row.number in newest else row.entered_utc.replace(tzinfo=UTC)
        newest[row.number] = RangeSession(entered=began, **_values(row, _SESSION))
    return tuple(newest[number] for number in sorted(newest))


def ends(connection: Connection, rig_id: int, key: str | None = None) -> tuple[End, ...]:
    """The ends as they stand, those that were taken out too, in the order in which they were shot; or the one of a
    key."""
    shots: dict[str, dict[str, tuple[Shot, bool]]] = {}
    query = select(range_shots).where(range_shots.c.rig_id == rig_id).order_by(range_shots.c.id)
    query = query if key is None else query.where(range_shots.c.end_key == key)
    for row in connection.execute(query):
        shots.setdefault(row.end_key, {})[row.key] = (Shot(**_values(row, _SHOT)), row.removed)
    newest: dict[str, End] = {}
    query = select(range_ends).where(range_ends.c.rig_id == rig_id).order_by(range_ends.c.id)
    query = query if key is None else query.where(range_ends.c.key == key)
    for row in connection.execute(query):
        began = newest[row.key].entered if row.key in newest else row.entered_utc.replace(tzinfo=UTC)
        line = None
        if row.line_arrows is not None:
            line = GroupLine(row.line_arrows, row.line_right_m, row.line_up_m)
        newest[row.key] = End(entered=began, order=row.place, line=line, **_values(row, _END))
    ends = (replace(end, shots=_standing(shots.get(end.key, {}))) for end in newest.values())
    return tuple(sorted(ends, key=lambda end: end.order))


def _standing(shots: dict[str, tuple[Shot, bool]]) -> tuple[Shot, ...]:
    return tuple(shot for shot, removed in shots.values() if not removed)


def shot_keys(connection: Connection, rig_id: int, end_key: str) -> set[str]:
    """Keys of every shot that an end ever had."""
    query = select(range_shots.c.key).where(range_shots.c.rig_id == rig_id, range_shots.c.end_key == end_key)
    return set(connection.execute(query).scalars())


def moves(connection: Connection, rig_id: int) -> tuple[Move, ...]:
    """The movements as they stand, those taken back too, in their order; one that was made before an end stands
    just before it, whenever it was written down."""
    query = select(range_moves).where(range_moves.c.rig_id == rig_id).order_by(range_moves.c.id)
    newest: dict[str, Move] = {}
    for row in connection.execute(query):
        began = newest[row.key].entered if row.key in newest else row.entered_utc.replace(tzinfo=UTC)
        newest[row.key] = Move(entered=began, order=row.place, **_values(row, _MOVE))
    if any(move.before for move in newest.values()):
        query = select(range_ends.c.key, range_ends.c.place).where(range_ends.c.rig_id == rig_id)
        places = {row.key: row.place for row in connection.execute(query)}
        for key, move in newest.items():
            if move.before in places:
                newest[key] = replace(move, order=places[move.before] - 0.5 + 1e-7 * move.order)
    return tuple(sorted(newest.values(), key=lambda move: move.order))


def _values(row: Row, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(row, name) for name in names}
