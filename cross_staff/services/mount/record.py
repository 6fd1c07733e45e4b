"""Mount: the place taken, the steps done, the witness marks and their photos."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.mount.planner import Place, take
from cross_staff.core.mount.station import WitnessMark, check_mark
from cross_staff.services.card.save import Saved, save
from cross_staff.services.rig import Rig
from cross_staff.storage import rigs, witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.witness_marks import Photo


def take_place(database: Database, rig: Rig, based_on: int, place: Place, why: str, now: datetime) -> Saved:
    """Put the sight at a place, as the next revision of the card. Raises NotFound, StaleRevision."""
    return save(database, rig.rig_id, based_on, take(rig.card, place), rig.units, now, why)


def mark_joint(
    database: Database, rig_id: int, joint: str, place: str, photo: Photo | None, now: datetime, line: int | None = None
) -> None:
    """A witness mark, new or changed; without a new photo it keeps its own. Raises NotFound; InvalidValue."""
    with database.writing() as connection:
        revision = rigs.latest(connection, rig_id).number
        log = witness_marks.log(connection, rig_id)
        held = next((mark for mark in reversed(log) if mark.line == line), None)
        if line is not None and held is None:
            raise NotFound(f"rig {rig_id} has no witness mark {line}")
        photo_id = held.photo_id if held else None
        check_mark(joint, place, photo is not None or photo_id is not None)
        if photo is not None:
            photo_id = witness_marks.add_photo(connection, rig_id, photo, now)
        number = line if line is not None else max((mark.line for mark in log), default=0) + 1
        _keep(connection, rig_id, WitnessMark(number, revision, joint, place, photo_id), held, now)


def mark_joints(
    database: Database, rig_id: int, sheet: Sequence[tuple[str, str, bool]], photo: Photo | None, now: datetime
) -> int:
    """The whole sheet at once: of each joint where its mark is, and whether the photo shows it; a joint with neither is
    passed over, one that has a mark already keeps its photo unless the new one shows it. Returns how many were kept.

    Raises: NotFound; InvalidValue where the photo shows no joint, or nothing was said of any.
    """
    told = [(joint, place, shown and photo is not None) for joint, place, shown in sheet if place or shown]
    if photo is not None and not any(shown for _, _, shown in told):
        raise InvalidValue("photo", "tick the joints that this photo shows")
    if not told:
        raise InvalidValue("place_0", "say of one joint at least where its mark is, or tick what a photo shows")
    kept = 0
    with database.writing() as connection:
        revision = rigs.latest(connection, rig_id).number
        log = witness_marks.log(connection, rig_id)
        standing = {mark.line: mark for mark in log}
        photo_id = witness_marks.add_photo(connection, rig_id, photo, now) if photo is not None else None
        line = max(standing, default=0)
        for joint, place, shown in told:
            held = next((m for m in reversed(list(standing.values())) if m.joint == joint and not m.removed), None)
            mark = WitnessMark(
                held.line if held else line + 1,
                revision,
                joint,
                place or (held.place if held else ""),
                photo_id if shown else held.photo_id if held else None,
            )
            check_mark(joint, mark.place, mark.photo_id is not None)
            kept += _keep(connection, rig_id, mark, held, now)
            line = max(line, mark.line)
    return kept


def _keep(connection: Connection, rig_id: int, mark: WitnessMark, held: WitnessMark | None, now: datetime) -> bool:
    """Write a mark down, unless it says what is held; returns whether it was written."""
    if held is not None and replace(mark, revision=held.revision) == held:
        return False
    witness_marks.add(connection, rig_id, mark, now)
    return True


def remove_mark(database: Database, rig_id: int, line: int, now: datetime, back: bool = False) -> None:
    """Take a witness mark out of the list, or put it back; the log keeps it. Raises NotFound."""
    with database.writing() as connection:
        log = [mark for mark in witness_marks.log(connection, rig_id) if mark.line == line]
        if not log:
            raise NotFound(f"rig {rig_id} has no witness mark {line}")
        witness_marks.add(connection, rig_id, replace(log[-1], removed=not back), now)


def keep_photo(database: Database, rig_id: int, photo: Photo, now: datetime) -> int:
    """Keep a photo by itself; returns its id. Raises NotFound."""
    with database.writing() as connection:
        rigs.latest(connection, rig_id)
        return witness_marks.add_photo(connection, rig_id, photo, now)


def photo(database: Database, rig_id: int, photo_id: int) -> Photo:
    """A photo of this rig. Raises NotFound."""
    with database.reading() as connection:
        return witness_marks.photo(connection, rig_id, photo_id)
