"""The card: save the next revision of it, look over the earlier ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from cross_staff.core.card.faults import check_card
from cross_staff.core.rig.arrow_build import recorded
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.staleness import Change, causes, changes, made_stale
from cross_staff.storage import rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class Saved:
    """What saving did: the revision that now holds, what changed, which results became stale."""

    number: int
    changed: tuple[Change, ...]
    stale: tuple[str, ...]


def save(
    database: Database,
    rig_id: int,
    based_on: int,
    card: RigCard,
    units: dict[str, str],
    now: datetime,
    why: str = "",
    happened: Sequence[str] = (),
) -> Saved:
    """Save the card as the next revision; a card on which nothing changed, and to which nothing
    happened, makes none.

    Args: happened, keys of stale.CAUSES that the technician says took place.
    Raises: NotFound; InvalidValue for what cannot be; StaleRevision when a newer revision than `based_on` is kept.
    """
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        card = _stamped(card, current.card)
        check_card(card, current.card)
        changed = changes(current.card, card)
        rigs.set_units(connection, rig_id, units)
        if not changed and not happened:
            return Saved(current.number, (), ())
        number = rigs.add_revision(connection, rig_id, based_on, card, now, why, tuple(happened))
        return Saved(number, changed, made_stale(causes(current.card, card, tuple(happened))))


def _stamped(card: RigCard, before: RigCard) -> RigCard:
    """The card with what belongs to its measurements written beside them."""
    old = dict(enumerate(before.builds))
    builds = tuple(recorded(b, old.get(i), card.bow.draw_weight_n) for i, b in enumerate(card.builds))
    return replace(card, builds=builds)


def restore(database: Database, rig_id: int, number: int, now: datetime) -> int:
    """The card as it stood at an earlier revision, as the next one; returns its number. Raises NotFound."""
    with database.writing() as connection:
        current = rigs.newest_number(connection, rig_id)
        card = rigs.at_revision(connection, rig_id, number).card
        return rigs.add_revision(connection, rig_id, current, card, now, f"as it stood at revision {number}")


def revision(history: Sequence[Revision], number: int) -> Revision | None:
    """One of a rig's revisions by its number; None where there is none."""
    return next((each for each in history if each.number == number), None)
