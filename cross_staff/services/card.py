"""The card: open it, save the next revision of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.rig import RigCard
from cross_staff.core.stale import Change, changes, makes_marks_old
from cross_staff.services.tape import TapeView, view
from cross_staff.storage import rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class Saved:
    """What saving did: the revision that now holds, what changed, whether marks became old."""

    number: int
    changed: tuple[Change, ...]
    marks_old: bool


def open_card(database: Database, rig_id: int) -> TapeView:
    """The card with everything that hangs on it. Raises NotFound."""
    with database.reading() as connection:
        return view(connection, rig_id)


def history(database: Database, rig_id: int) -> list[Revision]:
    """All revisions, first to last. Raises NotFound."""
    with database.reading() as connection:
        return rigs.revisions(connection, rig_id)


def differences(database: Database, rig_id: int, card: RigCard) -> tuple[Change, ...]:
    """What `card` changes against the current revision. Raises NotFound."""
    with database.reading() as connection:
        return changes(rigs.latest(connection, rig_id).card, card)


def save(
    database: Database,
    rig_id: int,
    based_on: int,
    card: RigCard,
    units: dict[str, str],
    now: datetime,
    why: str = "",
) -> Saved:
    """Save the card as the next revision; an unchanged card makes none.

    Raises: NotFound; StaleRevision when a newer revision than `based_on` is kept.
    """
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        changed = changes(current.card, card)
        rigs.set_units(connection, rig_id, units)
        if not changed:
            return Saved(current.number, (), False)
        number = rigs.add_revision(connection, rig_id, based_on, card, now, why)
        return Saved(number, changed, makes_marks_old(changed))
