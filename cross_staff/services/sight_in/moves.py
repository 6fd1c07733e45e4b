"""Movements of the sight: as they were ordered, as the archer made them by himself, before an end, mended."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.checks import check_move
from cross_staff.core.sight_in.estimate import REVERSED_WAY
from cross_staff.core.sight_in.log import STATION, UNKNOWN, Move
from cross_staff.core.sight_in.orders import Ordered
from cross_staff.services import log as entries
from cross_staff.services.rig import view
from cross_staff.storage import range_log, rigs
from cross_staff.storage.database import Database


def made_moves(
    database: Database,
    rig_id: int,
    key: str,
    order: Sequence[Ordered],
    now: datetime,
    other_way: Sequence[str] = (),
) -> None:
    """Note the movements of an order as made, as it was shown; those in `other_way` were seen to go the other way:
    so that control goes on this bow.

    What was done is noted whatever has changed since the order was shown. `key` is the order's own: said twice,
    or from two windows, it is noted once. Raises NotFound.
    """
    with database.writing() as connection:
        if any(move.key.startswith(f"{key}-") for move in range_log.moves(connection, rig_id)):
            return
        revision, place = rigs.newest_number(connection, rig_id), range_log.next_place(connection, rig_id)
        for drive in other_way:
            entries.keep_entry(connection, rig_id, _seen_to_go(connection, rig_id, drive, now))
        for number, each in enumerate(order):
            move = Move(f"{key}-{number}", revision, now, each.drive, each.moves, each.amount, each.unit, each.pin,
                        each.placed, order=place + number)  # fmt: skip
            range_log.add_move(connection, rig_id, move)


def _seen_to_go(connection: Connection, rig_id: int, name: str, now: datetime) -> BenchEntry:
    """What somebody saw: this control goes the other way than it was reckoned with."""
    estimate = view(connection, rig_id).range.estimate
    drive = next((d for d in estimate.controls if d.name == name), None) if estimate else None
    as_card = drive is None or estimate is None or estimate.travel_per_unit(drive)[0] > 0.0
    return BenchEntry(STATION, f"way:{name}", 0, now, choice=REVERSED_WAY if as_card else "as_card")


def own_move(database: Database, rig_id: int, move: Move, now: datetime) -> None:
    """Note a movement that the archer made by himself, now or before an end (`move.before`), or mend one that is
    noted (its key): also that is taken out of the sum. Raises NotFound; InvalidValue for a control that the sight
    does not have, an end that there is not, or nothing moved."""
    with database.writing() as connection:
        held = next((known for known in range_log.moves(connection, rig_id) if known.key == move.key), None)
        wanted = _as_driven(connection, rig_id, move, held)
        check_move(wanted)
        ends = {end.key for end in range_log.ends(connection, rig_id)}
        if wanted.before and wanted.before not in ends:
            raise InvalidValue("before", "there is no such end any more")
        if held is None:
            place = range_log.next_place(connection, rig_id)
            revision = rigs.newest_number(connection, rig_id)
            range_log.add_move(connection, rig_id, replace(wanted, revision=revision, entered=now, order=place))
        elif wanted != held:
            range_log.add_move(connection, rig_id, replace(wanted, entered=now))


def _as_driven(connection: Connection, rig_id: int, move: Move, held: Move | None) -> Move:
    """The movement with what its control moves, and in which unit. Raises InvalidValue."""
    estimate = view(connection, rig_id).range.estimate
    drives = estimate.controls if estimate else ()
    drive = next((d for d in drives if d.name == move.drive), None)
    if drive is None and (held is None or held.drive != move.drive):
        raise InvalidValue("drive", "choose one of the sight's controls")
    moves, unit = (drive.moves, drive.unit.value) if drive else (held.moves, held.unit) if held else ("", "")
    base = held or move
    pin = move.pin if moves == "pin" else None
    return replace(base, drive=move.drive, moves=moves, unit=UNKNOWN if not move.counted else unit,
                   amount=move.amount, pin=pin, before=move.before)  # fmt: skip


def take_move_back(database: Database, rig_id: int, key: str, now: datetime) -> None:
    """A movement was not made after all. Raises NotFound."""
    with database.writing() as connection:
        take_back(connection, rig_id, key, now)


def take_back(connection: Connection, rig_id: int, key: str, now: datetime) -> None:
    """`take_move_back` within a transaction that does more."""
    held = next((m for m in range_log.moves(connection, rig_id) if m.key == key and not m.removed), None)
    if held is None:
        raise NotFound("there is no such movement")
    range_log.add_move(connection, rig_id, replace(held, removed=True, entered=now))
