"""Tapes as they were printed; only ever added."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from pydantic import TypeAdapter
from sqlalchemy import Connection, insert, select

from cross_staff.core.printing.sheet import PrintedTape
from cross_staff.storage.tables import printed_tapes

_TAPE = TypeAdapter(PrintedTape)


@dataclass(frozen=True)
class KeptTape:
    """A printed tape: its number, the rig's revision and the time it was printed."""

    number: int
    revision: int
    printed: datetime
    tape: PrintedTape


def add(connection: Connection, rig_id: int, revision: int, tape: PrintedTape, now: datetime) -> int:
    """Keep a tape; returns its number."""
    result = connection.execute(
        insert(printed_tapes).values(
            rig_id=rig_id,
            revision=revision,
            printed_utc=now.astimezone(UTC).replace(tzinfo=None),
            sheet=_TAPE.dump_python(tape, mode="json"),
        )
    )
    return int(result.inserted_primary_key[0])  # type: ignore[index]


def of_rig(connection: Connection, rig_id: int) -> list[KeptTape]:
    """Every tape that was printed for a rig, oldest first."""
    query = select(printed_tapes).where(printed_tapes.c.rig_id == rig_id).order_by(printed_tapes.c.id)
    return [
        KeptTape(row.id, row.revision, row.printed_utc.replace(tzinfo=UTC), _TAPE.validate_python(row.sheet))
        for row in connection.execute(query)
    ]
