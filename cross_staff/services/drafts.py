"""Drafts: a form as it is typed, kept for the device that it is typed on until it is saved or discarded."""

from __future__ import annotations

from datetime import datetime

from cross_staff.storage import drafts, rigs
from cross_staff.storage.database import Database
from cross_staff.storage.drafts import Draft


def keep(database: Database, rig_id: int, device: str, form: str, fields: dict[str, str], now: datetime) -> None:
    """Keep what was typed. Raises NotFound."""
    with database.writing() as connection:
        rigs.row(connection, rig_id)
        drafts.put(connection, rig_id, device, form, fields, now)


def of(database: Database, rig_id: int, device: str, form: str) -> Draft | None:
    """What was typed; None where all is saved."""
    with database.reading() as connection:
        return drafts.of(connection, rig_id, device, form)


def drop(database: Database, rig_id: int, device: str, form: str) -> None:
    """It was saved, or is not wanted."""
    if of(database, rig_id, device, form) is not None:
        with database.writing() as connection:
            drafts.drop(connection, rig_id, device, form)
