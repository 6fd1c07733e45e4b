"""Tapes as they were printed; only ever added."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, func, insert, select

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


def _modern(sheet: dict[str, Any]) -> dict[str, Any]:
    """A tape of any layout in the present one: the first layout had three strips by their scale about home."""
    if "tapes" not in sheet:
        return sheet
    modern = dict(sheet)
    tapes = modern.pop("tapes")
    names = ((scale, "fitted" if scale == 1.0 else f"× {scale:.2f}", edges) for scale, edges in tapes)
    return modern | {"strips": [{"name": name, "edges": edges} for _, name, edges in names]}


def tape_of(sheet: dict[str, Any]) -> PrintedTape:
    """A tape as it is kept, of any layout."""
    return _TAPE.validate_python(_modern(sheet))


def add(connection: Connection, rig_id: int, revision: int, tape: PrintedTape, now: datetime) -> int:
    """Keep a tape; returns its number, which no other tape of the shop has."""
    number = int(connection.execute(select(func.max(printed_tapes.c.number))).scalar() or 0) + 1
    connection.execute(
        insert(printed_tapes).values(
            rig_id=rig_id,
            revision=revision,
            printed_utc=now.astimezone(UTC).replace(tzinfo=None),
            sheet=_TAPE.dump_python(tape, mode="json"),
            number=number,
        )
    )
    return number


def of_rig(connection: Connection, rig_id: int) -> list[KeptTape]:
    """Every tape that was printed for a rig, oldest first."""
    query = select(printed_tapes).where(printed_tapes.c.rig_id == rig_id).order_by(printed_tapes.c.id)
    return [
        KeptTape(row.number, row.revision, row.printed_utc.replace(tzinfo=UTC), tape_of(row.sheet))
        for row in connection.execute(query)
    ]
