"""The proof log of a rig; only ever added."""

from __future__ import annotations

from dataclasses import asdict, replace
from datetime import UTC, date

from sqlalchemy import Connection, insert, select

from cross_staff.core.prove.log import ProofLine
from cross_staff.storage.tables import proof_lines

_COLUMNS = ("key", "revision", "ranged_m", "dialled_m", "arrows", "up_m", "right_m", "slope_rad", "crosswind_mps",
            "cold", "tape", "laying", "label", "note", "removed")  # fmt: skip


def add(connection: Connection, rig_id: int, line: ProofLine) -> ProofLine:
    """Add an entry; the newest of its key holds. Returns it with its number."""
    values = {name: value for name, value in asdict(line).items() if name in _COLUMNS}
    entered = line.entered.astimezone(UTC).replace(tzinfo=None)
    row = insert(proof_lines).values(rig_id=rig_id, entered_utc=entered, day=line.day.isoformat(), **values)
    number = connection.execute(row).inserted_primary_key
    return replace(line, entry_id=int(number[0]))  # type: ignore[index]


def log(connection: Connection, rig_id: int) -> list[ProofLine]:
    """Every entry ever made, oldest first."""
    query = select(proof_lines).where(proof_lines.c.rig_id == rig_id).order_by(proof_lines.c.id)
    return [
        ProofLine(
            entered=row.entered_utc.replace(tzinfo=UTC),
            day=date.fromisoformat(row.day),
            entry_id=row.id,
            **{name: getattr(row, name) for name in _COLUMNS},
        )
        for row in connection.execute(query)
    ]
