"""Sight models and instruments of the shop with their identities and every number, as they travel."""

from __future__ import annotations

from datetime import UTC
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Table, func, insert, select

from cross_staff.core.carry.records import CarriedInstrument, CarriedSight, InstrumentRecord, SightRecord
from cross_staff.core.errors import NotFound
from cross_staff.core.rig.instrument import Instrument
from cross_staff.core.rig.sight import SightModel
from cross_staff.storage.shop_tables import instruments
from cross_staff.storage.tables import sight_models

_INSTRUMENT, _SIGHT = TypeAdapter(Instrument), TypeAdapter(SightModel)


def instrument_uids(connection: Connection) -> dict[int, str]:
    """The identity of every instrument of the shop, by its number in it."""
    return _uids(connection, instruments, "instrument")


def sight_uids(connection: Connection) -> dict[int, str]:
    """The identity of every sight model of the library, by its number in it."""
    return _uids(connection, sight_models, "model")


def _uids(connection: Connection, table: Table, group: str) -> dict[int, str]:
    query = select(table.c[group].label("group"), table.c.uid).where(table.c.number == 1).order_by(table.c[group])
    return {row.group: row.uid for row in connection.execute(query)}


def instrument(connection: Connection, uid: str) -> CarriedInstrument:
    """An instrument with every number of it. Raises NotFound."""
    rows = connection.execute(select(instruments).where(instruments.c.uid == uid).order_by(instruments.c.number)).all()
    if not rows:
        raise NotFound("there is no such instrument")
    log = (
        InstrumentRecord(r.number, r.saved_utc.replace(tzinfo=UTC), _INSTRUMENT.validate_python(r.record), r.removed)
        for r in rows
    )
    return CarriedInstrument(uid, tuple(log))


def sight(connection: Connection, uid: str) -> CarriedSight:
    """A sight model with every number of it. Raises NotFound."""
    query = select(sight_models).where(sight_models.c.uid == uid).order_by(sight_models.c.number)
    rows = connection.execute(query).all()
    if not rows:
        raise NotFound("there is no such sight model")
    log = (
        SightRecord(r.number, r.saved_utc.replace(tzinfo=UTC), _SIGHT.validate_python(r.sight), r.removed) for r in rows
    )
    return CarriedSight(uid, tuple(log))


def add_instrument(connection: Connection, brought: CarriedInstrument, after: int = 0) -> int:
    """Write the numbers of an instrument that are beyond `after`, all of one that is new; returns which it is here."""
    number = _number(connection, instruments, "instrument", brought.uid)
    for each in brought.log[after:]:
        record = _INSTRUMENT.dump_python(each.instrument, mode="json")
        _add(connection, instruments, brought.uid, each, {"instrument": number, "record": record})
    return number


def add_sight(connection: Connection, brought: CarriedSight, after: int = 0) -> int:
    """Write the numbers of a sight model that are beyond `after`, all of one that is new; returns which it is here."""
    number = _number(connection, sight_models, "model", brought.uid)
    for each in brought.log[after:]:
        record = _SIGHT.dump_python(each.sight, mode="json")
        _add(connection, sight_models, brought.uid, each, {"model": number, "sight": record})
    return number


def _number(connection: Connection, table: Table, group: str, uid: str) -> int:
    known = {own: number for number, own in _uids(connection, table, group).items()}
    if uid in known:
        return known[uid]
    return int(connection.execute(select(func.coalesce(func.max(table.c[group]), 0))).scalar_one()) + 1


def _add(connection: Connection, table: Table, uid: str, each: Any, values: dict[str, Any]) -> None:
    saved = each.saved_utc.astimezone(UTC).replace(tzinfo=None)
    row = insert(table).values(uid=uid, number=each.number, saved_utc=saved, removed=each.removed, **values)
    connection.execute(row)
