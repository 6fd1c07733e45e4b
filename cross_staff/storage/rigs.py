"""Rigs and their revisions."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from pydantic import TypeAdapter
from sqlalchemy import Connection, Row, insert, select, update

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig import RigCard
from cross_staff.storage.layouts import modern
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
    happened: tuple[str, ...] = ()


def add_rig(connection: Connection, card: RigCard, units: dict[str, str], now: datetime, why: str) -> int:
    """A new rig with its first revision; returns its id."""
    result = connection.execute(insert(rigs).values(created_utc=_naive(now), units=units))
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
    happened: tuple[str, ...] = (),
) -> int:
    """The next revision; returns its number. Raises StaleRevision when `based_on` is not current."""
    current = latest(connection, rig_id).number
    if based_on != current:
        raise StaleRevision(based_on, current)
    _add_revision(connection, rig_id, current + 1, card, now, why, happened)
    return current + 1


def _add_revision(
    connection: Connection,
    rig_id: int,
    number: int,
    card: RigCard,
    now: datetime,
    why: str,
    happened: tuple[str, ...] = (),
) -> None:
    connection.execute(
        insert(rig_revisions).values(
            rig_id=rig_id,
            number=number,
            saved_utc=_naive(now),
            why=why,
            card=_CARD.dump_python(card, mode="json"),
            happened=list(happened),
        )
    )


def revisions(connection: Connection, rig_id: int) -> list[Revision]:
    """All revisions, first to last. Raises NotFound for an unknown rig."""
    query = select(rig_revisions).where(rig_revisions.c.rig_id == rig_id).order_by(rig_revisions.c.number)
    found = [_revision(row) for row in connection.execute(query)]
    if not found:
        raise NotFound(f"there is no rig {rig_id}")
    return found


def latest(connection: Connection, rig_id: int) -> Revision:
    """The current revision. Raises NotFound for an unknown rig."""
    return revisions(connection, rig_id)[-1]


def rig_ids(connection: Connection) -> list[int]:
    """All rigs, oldest first."""
    return [int(v) for v in connection.execute(select(rigs.c.id).order_by(rigs.c.id)).scalars()]


def units(connection: Connection, rig_id: int) -> dict[str, str]:
    """The units this rig is shown in. Raises NotFound."""
    found = connection.execute(select(rigs.c.units).where(rigs.c.id == rig_id)).scalar()
    if found is None:
        raise NotFound(f"there is no rig {rig_id}")
    return dict(found)


def archived(connection: Connection, rig_id: int) -> bool:
    """Whether a rig was taken off the bench. Raises NotFound."""
    found = connection.execute(select(rigs.c.archived).where(rigs.c.id == rig_id)).scalar()
    if found is None:
        raise NotFound(f"there is no rig {rig_id}")
    return bool(found)


def set_archived(connection: Connection, rig_id: int, off_the_bench: bool) -> None:
    """Take a rig off the bench, or put it back; nothing of it is lost. Raises NotFound."""
    archived(connection, rig_id)
    connection.execute(update(rigs).where(rigs.c.id == rig_id).values(archived=off_the_bench))


def set_units(connection: Connection, rig_id: int, chosen: dict[str, str]) -> None:
    """Show the rig in other units; nothing measured changes, so it makes no revision."""
    connection.execute(update(rigs).where(rigs.c.id == rig_id).values(units=chosen))


def _revision(row: Row) -> Revision:
    card = _CARD.validate_python(modern(row.card))
    saved = row.saved_utc.replace(tzinfo=UTC)
    return Revision(row.rig_id, row.number, saved, row.why, card, tuple(row.happened))


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)
