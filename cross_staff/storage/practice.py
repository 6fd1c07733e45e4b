"""Which rigs are of the practice bench: those with an entry of it in their log, wherever they came from."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ColumnElement, Connection, literal, literal_column, select

from cross_staff.storage.tables import bench_entries

_OF_PRACTICE = bench_entries.c.station == literal_column("'practice'")  # as its index has it


def practised(rig_id: ColumnElement[Any]) -> ColumnElement[bool]:
    """Whether a rig is of the practice bench, as part of a query."""
    return rig_id.in_(select(bench_entries.c.rig_id).where(_OF_PRACTICE))


def rig_ids(connection: Connection) -> list[int]:
    """All practice rigs, the newest first."""
    query = select(bench_entries.c.rig_id).where(_OF_PRACTICE).distinct().order_by(bench_entries.c.rig_id.desc())
    return [int(each) for each in connection.execute(query).scalars()]


def is_practised(connection: Connection, rig_id: int) -> bool:
    """Whether a rig is of the practice bench."""
    return bool(connection.execute(select(practised(literal(rig_id)))).scalar())
