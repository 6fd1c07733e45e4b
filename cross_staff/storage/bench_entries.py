"""What was measured, seen or done at a station of the bench: a log, never rewritten."""

from __future__ import annotations

from datetime import UTC

from sqlalchemy import Connection, Row, insert, select

from cross_staff.core.rig.log import BenchEntry
from cross_staff.storage.tables import bench_entries


def add(connection: Connection, rig_id: int, entry: BenchEntry) -> int:
    """Add an entry to the log; returns its id. `entry.entry_id` is ignored."""
    result = connection.execute(
        insert(bench_entries).values(
            rig_id=rig_id,
            station=entry.station,
            key=entry.key,
            revision=entry.revision,
            entered_utc=entry.entered.astimezone(UTC).replace(tzinfo=None),
            number=entry.number,
            choice=entry.choice,
            points=[list(point) for point in entry.points],
            after=entry.after,
            note=entry.note,
            removed=entry.removed,
        )
    )
    return int(result.inserted_primary_key[0])  # type: ignore[index]


def log(connection: Connection, rig_id: int, station: str) -> list[BenchEntry]:
    """Every entry of a station, oldest first."""
    query = select(bench_entries).where(bench_entries.c.rig_id == rig_id, bench_entries.c.station == station)
    return [_entry(row) for row in connection.execute(query.order_by(bench_entries.c.id))]


def logs(connection: Connection, rig_id: int) -> dict[str, tuple[BenchEntry, ...]]:
    """Every entry of a rig, oldest first, by the key of its station; a station without any is not in it."""
    kept: dict[str, list[BenchEntry]] = {}
    query = select(bench_entries).where(bench_entries.c.rig_id == rig_id).order_by(bench_entries.c.id)
    for row in connection.execute(query):
        kept.setdefault(row.station, []).append(_entry(row))
    return {station: tuple(entries) for station, entries in kept.items()}


def _entry(row: Row) -> BenchEntry:
    points = tuple((float(a), float(b)) for a, b in row.points)
    return BenchEntry(
        row.station,
        row.key,
        row.revision,
        row.entered_utc.replace(tzinfo=UTC),
        row.number,
        row.choice,
        points,
        row.after,
        row.note,
        row.removed,
        row.id,
    )
