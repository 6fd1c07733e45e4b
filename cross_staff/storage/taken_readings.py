"""What was taken from instruments; only ever added."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC

from sqlalchemy import Connection, insert, select

from cross_staff.core.rig.taken import Taken
from cross_staff.storage.tables import taken_readings

_COLUMNS = ("station", "entry", "field", "text", "instrument", "figure", "value_si", "resolution_si", "sequence")


def add(connection: Connection, rig_id: int, taken: Taken) -> None:
    """Add one; what is kept already is not kept twice."""
    values = {name: value for name, value in asdict(taken).items() if name in _COLUMNS}
    values |= {"rig_id": rig_id, "taken_utc": taken.taken.astimezone(UTC).replace(tzinfo=None)}
    same = (taken_readings.c[name] == value for name, value in values.items())
    if connection.execute(select(taken_readings.c.id).where(*same)).first() is None:
        connection.execute(insert(taken_readings).values(values))


def every(connection: Connection, rig_id: int) -> list[Taken]:
    """All of a rig, oldest first."""
    query = select(taken_readings).where(taken_readings.c.rig_id == rig_id).order_by(taken_readings.c.id)
    return [
        Taken(taken=row.taken_utc.replace(tzinfo=UTC), **{name: getattr(row, name) for name in _COLUMNS})
        for row in connection.execute(query)
    ]
