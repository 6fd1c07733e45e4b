"""Readings of the level station: a log, never rewritten; an entry can take another one back."""

from __future__ import annotations

from datetime import UTC

from sqlalchemy import Connection, Row, insert, select

from cross_staff.core.level.log import LevelReading
from cross_staff.storage.tables import level_readings

_FIELDS = (
    "axis", "method", "pitch_rad", "vial_div", "reference_div", "revision", "turns", "locked", "who", "note",
    "photo_id", "undoes", "vial_end", "seat", "reseated", "turn", "distance_m", "right_m", "arrows", "key", "place",
    "settled_s",
)  # fmt: skip


def add(connection: Connection, rig_id: int, reading: LevelReading) -> int:
    """Add a reading; returns its id. `reading.reading_id` is ignored."""
    values = {name: getattr(reading, name) for name in _FIELDS}
    entered = reading.entered.astimezone(UTC).replace(tzinfo=None)
    result = connection.execute(insert(level_readings).values(rig_id=rig_id, entered_utc=entered, **values))
    return int(result.inserted_primary_key[0])  # type: ignore[index]


def log(connection: Connection, rig_id: int) -> list[LevelReading]:
    """Every reading ever entered, oldest first."""
    query = select(level_readings).where(level_readings.c.rig_id == rig_id).order_by(level_readings.c.id)
    return [_reading(row) for row in connection.execute(query)]


def _reading(row: Row) -> LevelReading:
    values = {name: getattr(row, name) for name in _FIELDS}
    return LevelReading(entered=row.entered_utc.replace(tzinfo=UTC), reading_id=row.id, **values)
