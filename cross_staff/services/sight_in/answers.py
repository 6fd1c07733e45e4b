"""What was answered when the newest ends did not belong to what was believed; one transaction each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.checks import check_end
from cross_staff.core.sight_in.estimate import REVERSED_WAY
from cross_staff.core.sight_in.log import HOME, STATION, UNKNOWN, End, Move
from cross_staff.core.sight_in.questions import AnswerKind
from cross_staff.services import log as entries
from cross_staff.services.sight_in.ends import pins_at
from cross_staff.services.sight_in.moves import take_back
from cross_staff.storage import range_log, rigs
from cross_staff.storage.database import Database


@dataclass(frozen=True)
class Answered:
    """An answer as it was tapped: its kind; the control and what it moves; the key of a movement that was not made;
    the pin; the reading [mm] and the distance [m as ranged], None for one that nobody knows; the keys of the ends that
    it is about, where these are not the ones asked about."""

    kind: str
    drive: str = ""
    moves: str = ""
    move: str = ""
    pin: int | None = None
    dial_mm: float | None = None
    ranged_m: float | None = None
    ends: Sequence[str] = ()


def answer(database: Database, rig_id: int, keys: Sequence[str], said: Answered, now: datetime) -> None:
    """Write down what was with the ends of these keys: it holds whatever the program would ask by now, and the same
    answer sent twice is one. Raises NotFound; InvalidValue."""
    with database.writing() as connection:
        known = {end.key: end for end in range_log.ends(connection, rig_id)}
        ends = [known[key] for key in said.ends or keys if key in known]
        if not ends:
            raise NotFound("there is no such end")
        _written(connection, rig_id, ends, said, now)


def _written(connection: Connection, rig_id: int, ends: list[End], said: Answered, now: datetime) -> None:
    first = min(ends, key=lambda end: end.order)
    if said.kind == AnswerKind.MOVED:
        _moved_before(connection, rig_id, first, said, now)
    elif said.kind == AnswerKind.NOT_MADE:
        take_back(connection, rig_id, said.move, now)
    elif said.kind == AnswerKind.OTHER_WAY:
        entry = BenchEntry(STATION, f"way:{said.drive}", 0, now, choice=REVERSED_WAY)
        entries.keep_entry(connection, rig_id, entry)
    else:
        changes = _changes(said)
        pins = pins_at(connection, rig_id, rigs.latest(connection, rig_id).card)
        for end in ends:
            wanted = replace(end, **changes)  # type: ignore[arg-type]
            check_end(wanted, pins, end)
            if wanted != end:
                range_log.add_end(connection, rig_id, replace(wanted, entered=now))


def _changes(said: Answered) -> dict[str, object]:
    """What an answer changes of the ends themselves. Raises InvalidValue."""
    if said.kind == AnswerKind.PIN and said.pin is not None:
        return {"pin": said.pin}
    if said.kind == AnswerKind.DISTANCE and said.ranged_m is not None:
        return {"ranged_m": said.ranged_m}
    if said.kind == AnswerKind.DIAL:
        return {"dial_mm": said.dial_mm, "dial_from": ""}
    if said.kind == AnswerKind.HOME:
        return {"dial_mm": None, "dial_from": HOME}
    if said.kind == AnswerKind.BAD:
        return {"left_out": True}
    if said.kind == AnswerKind.COUNT:
        return {"asked": True}
    raise InvalidValue("answer", "choose one of the answers")


def _moved_before(connection: Connection, rig_id: int, first: End, said: Answered, now: datetime) -> None:
    key = f"asked-{first.key}-{said.moves}{'' if said.pin is None else said.pin}"[:80]
    if not said.drive or any(move.key == key and not move.removed for move in range_log.moves(connection, rig_id)):
        return
    place = range_log.next_place(connection, rig_id)
    move = Move(key, first.revision, now, said.drive, said.moves, 0.0, UNKNOWN, said.pin, order=place, before=first.key)
    range_log.add_move(connection, rig_id, move)
