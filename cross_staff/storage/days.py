"""The days of the shop: its hours, when archers are free, what was put where, what people have no time for."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Table, func, insert, select

from cross_staff.core.plan.days import RigDays, ShopHours
from cross_staff.core.plan.planner import Span
from cross_staff.storage.shop_tables import busy_times, shop_hours
from cross_staff.storage.tables import rig_days

_HOURS, _DAYS, _SPANS = TypeAdapter(ShopHours), TypeAdapter(RigDays), TypeAdapter(tuple[Span, ...])


def hours(connection: Connection) -> ShopHours:
    """The hours of the shop; the usual ones before anybody said."""
    row = connection.execute(select(shop_hours.c.record).order_by(shop_hours.c.id.desc()).limit(1)).scalar()
    return ShopHours() if row is None else _HOURS.validate_python(row)


def put_hours(connection: Connection, kept: ShopHours, now: datetime) -> None:
    """Other hours."""
    _add(connection, shop_hours, now, record=_HOURS.dump_python(kept, mode="json"))


def of_rig(connection: Connection, rig_id: int) -> RigDays:
    """The days of a rig."""
    query = select(rig_days.c.record).where(rig_days.c.rig_id == rig_id).order_by(rig_days.c.id.desc()).limit(1)
    row = connection.execute(query).scalar()
    return RigDays() if row is None else _DAYS.validate_python(row)


def put_rig(connection: Connection, rig_id: int, kept: RigDays, now: datetime) -> None:
    """Other days of a rig."""
    _add(connection, rig_days, now, rig_id=rig_id, record=_DAYS.dump_python(kept, mode="json"))


def busy(connection: Connection) -> dict[tuple[str, str], tuple[Span, ...]]:
    """What people have no time for, by person and the name of the calendar [UTC, without a zone]."""
    return {
        (row.person, row.calendar): _SPANS.validate_python(row.spans)
        for row in connection.execute(select(busy_times).order_by(busy_times.c.id))
    }


def put_busy(connection: Connection, person: str, calendar: str, spans: Sequence[Span], now: datetime) -> None:
    """A calendar of a person, in place of the one of that name."""
    _add(connection, busy_times, now, person=person, calendar=calendar,
         spans=_SPANS.dump_python(tuple(spans), mode="json"))  # fmt: skip


def version(connection: Connection) -> tuple[int, ...]:
    """What grows with every change of these."""
    return tuple(
        int(connection.execute(select(func.coalesce(func.max(table.c.id), 0))).scalar_one())
        for table in (shop_hours, rig_days, busy_times)
    )


def _add(connection: Connection, table: Table, now: datetime, **values: Any) -> None:
    connection.execute(insert(table).values(saved_utc=now.astimezone(UTC).replace(tzinfo=None), **values))
