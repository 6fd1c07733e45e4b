"""The shop's instruments: a log in which the newest number of an instrument holds."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from uuid import uuid4

from pydantic import TypeAdapter
from sqlalchemy import Connection, func, insert, select

from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig.instrument import Instrument
from cross_staff.storage.shop_tables import instruments

_RECORD = TypeAdapter(Instrument)


@dataclass(frozen=True)
class KeptInstrument:
    """An instrument of the shop at its present number."""

    instrument: int
    number: int
    saved: datetime
    record: Instrument
    removed: bool = False
    uid: str = ""


def add(connection: Connection, record: Instrument, now: datetime) -> int:
    """A new one; returns which it is."""
    newest = connection.execute(select(func.coalesce(func.max(instruments.c.instrument), 0))).scalar_one()
    _write(connection, KeptInstrument(int(newest) + 1, 1, now, record, uid=uuid4().hex))
    return int(newest) + 1


def change(connection: Connection, based_on: int, changed: KeptInstrument) -> None:
    """The next number of an instrument. Raises NotFound, StaleRevision when `based_on` is not current."""
    current = find(connection, changed.instrument)
    if current.number != based_on:
        raise StaleRevision(based_on, current.number)
    _write(connection, replace(changed, number=current.number + 1, uid=current.uid))


def find(connection: Connection, instrument: int) -> KeptInstrument:
    """An instrument as it stands, removed or not. Raises NotFound."""
    found = next((kept for kept in every(connection) if kept.instrument == instrument), None)
    if found is None:
        raise NotFound(f"there is no instrument {instrument}")
    return found


def every(connection: Connection) -> list[KeptInstrument]:
    """Every instrument as it stands, those that were removed too, by name."""
    rows = connection.execute(select(instruments).order_by(instruments.c.instrument, instruments.c.number))
    newest = {
        row.instrument: KeptInstrument(
            row.instrument,
            row.number,
            row.saved_utc.replace(tzinfo=UTC),
            _RECORD.validate_python(row.record),
            row.removed,
            row.uid,
        )
        for row in rows
    }
    return sorted(newest.values(), key=lambda kept: kept.record.name.lower())


def _write(connection: Connection, kept: KeptInstrument) -> None:
    connection.execute(
        insert(instruments).values(
            instrument=kept.instrument,
            number=kept.number,
            saved_utc=kept.saved.astimezone(UTC).replace(tzinfo=None),
            record=_RECORD.dump_python(kept.record, mode="json"),
            removed=kept.removed,
            uid=kept.uid,
        )
    )
