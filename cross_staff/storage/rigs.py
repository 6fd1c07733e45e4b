"""Rigs and their revisions."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any
from uuid import uuid4

from pydantic import TypeAdapter
from sqlalchemy import (
    ColumnElement,
    Connection,
    Row,
    Select,
    String,
    func,
    insert,
    literal_column,
    select,
    type_coerce,
    update,
)

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.staleness import Said, State, TakenUp
from cross_staff.storage.layouts import modern
from cross_staff.storage.practice import is_practised, practised
from cross_staff.storage.tables import rig_revisions, rigs

_CARD = TypeAdapter(RigCard)


@dataclass(frozen=True)
class Revision:
    """One saved state of a rig's card."""

    rig_id: int
    number: int
    saved: datetime
    why: str
    card: RigCard
    said: Said = Said()

    @property
    def happened(self) -> tuple[str, ...]:
        """What was said to have happened to the bow, keys of events.CAUSES."""
        return self.said.happened

    @property
    def state(self) -> State:
        """The revision as the table of events sees it."""
        return State(self.card, self.said)


def add_rig(connection: Connection, card: RigCard, units: dict[str, str], now: datetime, why: str) -> int:
    """A new rig with its first revision; returns its id."""
    result = connection.execute(insert(rigs).values(created_utc=_naive(now), units=units, uid=uuid4().hex))
    rig_id = int(result.inserted_primary_key[0])  # type: ignore[index]
    _add_revision(connection, rig_id, 1, card, now, why)
    return rig_id


def add_revision(
    connection: Connection,
    rig_id: int,
    based_on: int,
    card: RigCard,
    now: datetime,
    why: str,
    said: Said = Said(),
) -> int:
    """The next revision; returns its number. Raises StaleRevision when `based_on` is not current."""
    current = newest_number(connection, rig_id)
    if based_on != current:
        raise StaleRevision(based_on, current)
    _add_revision(connection, rig_id, current + 1, card, now, why, said)
    return current + 1


def _add_revision(
    connection: Connection,
    rig_id: int,
    number: int,
    card: RigCard,
    now: datetime,
    why: str,
    said: Said = Said(),
) -> None:
    connection.execute(
        insert(rig_revisions).values(
            rig_id=rig_id,
            number=number,
            saved_utc=_naive(now),
            why=why,
            card=_CARD.dump_python(card, mode="json"),
            happened=list(said.happened),
            meant=[list(pair) for pair in said.meant],
            undoes=list(said.undoes),
            taken_up=[[each.result, each.revision] for each in said.taken_up],
        )
    )


_ROW = rig_revisions.c
# as the index has it, to the letter
_archer: ColumnElement[str] = literal_column("json_extract(card, '$.archer')", String)
_sight_name: ColumnElement[str] = literal_column("json_extract(card, '$.sight.name')", String)
# the card as the text it is kept as: the same text is read once
_COLUMNS = (
    _ROW.rig_id, _ROW.number, _ROW.saved_utc, _ROW.why, type_coerce(_ROW.card, String).label("text"), _ROW.happened,
    _ROW.meant, _ROW.undoes, _ROW.taken_up,
)  # fmt: skip


def revisions(connection: Connection, rig_id: int) -> list[Revision]:
    """All revisions, first to last. Raises NotFound for an unknown rig."""
    query = select(*_COLUMNS).where(_ROW.rig_id == rig_id).order_by(_ROW.number)
    kept = [_revision(row) for row in connection.execute(query)]
    if not kept:
        raise NotFound(f"there is no rig {rig_id}")
    return kept


def latest(connection: Connection, rig_id: int) -> Revision:
    """The current revision. Raises NotFound for an unknown rig."""
    query = select(*_COLUMNS).where(_ROW.rig_id == rig_id).order_by(_ROW.number.desc()).limit(1)
    row = connection.execute(query).first()
    if row is None:
        raise NotFound(f"there is no rig {rig_id}")
    return _revision(row)


def saved_last(connection: Connection, besides: int | None = None) -> Revision | None:
    """The revision that was saved last, of every rig but one that was saved since it was put on the bench; None where
    there is none."""
    query = select(*_COLUMNS).where(_ROW.number > 1, _ROW.rig_id != (besides or 0), ~practised(_ROW.rig_id))
    row = connection.execute(query.order_by(_ROW.saved_utc.desc(), _ROW.rig_id.desc()).limit(1)).first()
    return None if row is None else _revision(row)


def newest_number(connection: Connection, rig_id: int) -> int:
    """The number of the current revision. Raises NotFound for an unknown rig."""
    number = connection.execute(select(func.max(_ROW.number)).where(_ROW.rig_id == rig_id)).scalar()
    if number is None:
        raise NotFound(f"there is no rig {rig_id}")
    return int(number)


def at_revision(connection: Connection, rig_id: int, number: int) -> Revision:
    """One revision. Raises NotFound."""
    row = connection.execute(select(*_COLUMNS).where(_ROW.rig_id == rig_id, _ROW.number == number)).first()
    if row is None:
        raise NotFound(f"rig {rig_id} has no revision {number}")
    return _revision(row)


# rigs that were one share what was measured until then: of them one alone may tell of others
_FAMILY = func.coalesce(func.nullif(rigs.c.origin, ""), rigs.c.uid)


def _others(connection: Connection, rig_id: int, query: Select[Any]) -> list[tuple[int, int]]:
    """Of the rigs of a query those that never were one with this rig, the newest of each family, with its version."""
    own = connection.execute(select(_FAMILY).where(rigs.c.id == rig_id)).scalar()
    if is_practised(connection, rig_id):
        return []  # what is practised on learns nothing of the shop, and tells it nothing
    query = query.where(~practised(rigs.c.id))
    newest = {row.family: (row.id, row.version) for row in connection.execute(query)}
    return sorted(pair for family, pair in newest.items() if family != own)


def versions_with_sight(connection: Connection, rig_id: int, name: str, most: int) -> list[tuple[int, int]]:
    """The newest other rigs that ever had a sight of this name, `most` at the most, each with its version."""
    named = select(_ROW.rig_id).distinct().where(_sight_name == name).order_by(_ROW.rig_id.desc()).limit(most)
    query = select(rigs.c.id, rigs.c.version, _FAMILY.label("family")).where(rigs.c.id.in_(named))
    return _others(connection, rig_id, query.order_by(rigs.c.id))


def versions_with_archer(connection: Connection, rig_id: int, name: str, most: int) -> list[tuple[int, int]]:
    """The newest other rigs that are an archer's, `most` at the most, each with its version."""
    ever = select(_ROW.rig_id).distinct().where(_archer == name).order_by(_ROW.rig_id.desc()).limit(most)
    newest = select(_archer).where(_ROW.rig_id == rigs.c.id).order_by(_ROW.number.desc()).limit(1).scalar_subquery()
    query = select(rigs.c.id, rigs.c.version, _FAMILY.label("family")).where(rigs.c.id.in_(ever), newest == name)
    return _others(connection, rig_id, query.order_by(rigs.c.id))


def rig_ids(connection: Connection) -> list[int]:
    """All rigs, oldest first."""
    return [int(v) for v in connection.execute(select(rigs.c.id).order_by(rigs.c.id)).scalars()]


@dataclass(frozen=True)
class RigRow:
    """A rig itself: the units it is shown in, whether it was taken off the bench, and its version, which grows
    with every record of it."""

    units: dict[str, str]
    archived: bool
    version: int


def row(connection: Connection, rig_id: int) -> RigRow:
    """A rig itself. Raises NotFound."""
    kept = connection.execute(select(rigs).where(rigs.c.id == rig_id)).first()
    if kept is None:
        raise NotFound(f"there is no rig {rig_id}")
    return RigRow(dict(kept.units), bool(kept.archived), kept.version)


def units_of(connection: Connection, rig_ids: Iterable[int]) -> dict[int, dict[str, str]]:
    """The units that these rigs are shown in, by their numbers."""
    query = select(rigs.c.id, rigs.c.units).where(rigs.c.id.in_(rig_ids))
    return {row.id: dict(row.units) for row in connection.execute(query)}


def versions_of(connection: Connection, rig_ids: Iterable[int]) -> dict[int, int]:
    """The versions of these rigs, by their numbers."""
    query = select(rigs.c.id, rigs.c.version).where(rigs.c.id.in_(rig_ids))
    return {row.id: row.version for row in connection.execute(query)}


def set_archived(connection: Connection, rig_id: int, off_the_bench: bool) -> None:
    """Take a rig off the bench, or put it back; nothing of it is lost. Raises NotFound."""
    row(connection, rig_id)
    connection.execute(update(rigs).where(rigs.c.id == rig_id).values(archived=off_the_bench))


def set_units(connection: Connection, rig_id: int, chosen: dict[str, str]) -> None:
    """Show the rig in other units; nothing measured changes, so it makes no revision."""
    if row(connection, rig_id).units != chosen:
        connection.execute(update(rigs).where(rigs.c.id == rig_id).values(units=chosen))


def card_of(kept: dict[str, Any]) -> RigCard:
    """A card as it is kept, of any layout."""
    return _CARD.validate_python(modern(kept))


@lru_cache(maxsize=2048)
def _card(text: str) -> RigCard:
    return card_of(json.loads(text))


def _revision(row: Row) -> Revision:
    card = _card(row.text)
    saved = row.saved_utc.replace(tzinfo=UTC)
    return Revision(row.rig_id, row.number, saved, row.why, card, _said(row))


def _said(row: Row) -> Said:
    taken_up = tuple(TakenUp(result, number) for result, number in row.taken_up)
    return Said(tuple(row.happened), tuple((key, meaning) for key, meaning in row.meant), tuple(row.undoes), taken_up)


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)
