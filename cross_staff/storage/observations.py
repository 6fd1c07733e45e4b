"""Marks and groups of the tape: a log in which the newest entry of a line is what holds."""

from __future__ import annotations

from datetime import UTC

from sqlalchemy import Connection, Row, insert, select

from cross_staff.core.tape.rows import TapeMark
from cross_staff.storage.tables import observations


def add(connection: Connection, rig_id: int, entry: TapeMark) -> int:
    """Add an entry to the log; returns its id. `entry.entry_id` is ignored."""
    result = connection.execute(
        insert(observations).values(
            rig_id=rig_id,
            line=entry.line,
            revision=entry.revision,
            entered_utc=entry.entered.astimezone(UTC).replace(tzinfo=None),
            ranged_m=entry.ranged_m,
            mark_mm=entry.mark_mm,
            up_m=entry.up_m,
            arrows=entry.arrows,
            left_out=entry.left_out,
            removed=entry.removed,
            key=entry.key,
            pin=entry.pin,
            reason=entry.reason,
            ruler=entry.ruler,
            from_m=entry.from_m,
            reads=entry.reads,
            reading_sd_mm=entry.reading_sd_mm,
            laid_mm=entry.laid_mm,
        )
    )
    return int(result.inserted_primary_key[0])  # type: ignore[index]


def log(connection: Connection, rig_id: int) -> list[TapeMark]:
    """Every entry ever made, oldest first."""
    query = select(observations).where(observations.c.rig_id == rig_id)
    return [_entry(row) for row in connection.execute(query.order_by(observations.c.id))]


def _entry(row: Row) -> TapeMark:
    return TapeMark(
        row.line,
        row.id,
        row.revision,
        row.entered_utc.replace(tzinfo=UTC),
        row.ranged_m,
        row.mark_mm,
        row.up_m,
        row.arrows,
        row.left_out,
        row.removed,
        row.key,
        pin=row.pin,
        reason=row.reason,
        ruler=row.ruler,
        from_m=row.from_m,
        reads=row.reads,
        reading_sd_mm=row.reading_sd_mm,
        laid_mm=row.laid_mm,
    )
