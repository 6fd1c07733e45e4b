"""What was typed into a form of a rig on a device and is not saved yet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Connection, delete, insert, select, update

from cross_staff.storage.tables import rig_drafts

MOST_DRAFTS = 40  # of a rig, over all devices: the oldest go


@dataclass(frozen=True)
class Draft:
    """The fields of a form as they were typed last, and when."""

    fields: dict[str, str]
    saved: datetime


_ROW = rig_drafts.c


def _where(rig_id: int, device: str, form: str) -> tuple:
    return _ROW.rig_id == rig_id, _ROW.device == device, _ROW.form == form


def put(connection: Connection, rig_id: int, device: str, form: str, fields: dict[str, str], now: datetime) -> None:
    """Keep what was typed, in place of what was typed before."""
    values = {"fields": fields, "saved_utc": now.astimezone(UTC).replace(tzinfo=None)}
    where = _where(rig_id, device, form)
    if connection.execute(update(rig_drafts).where(*where).values(**values)).rowcount:
        return
    connection.execute(insert(rig_drafts).values(rig_id=rig_id, device=device, form=form, **values))
    newest = select(_ROW.id).where(_ROW.rig_id == rig_id).order_by(_ROW.saved_utc.desc()).limit(MOST_DRAFTS)
    connection.execute(delete(rig_drafts).where(_ROW.rig_id == rig_id, _ROW.id.not_in(newest)))


def of(connection: Connection, rig_id: int, device: str, form: str) -> Draft | None:
    """What was typed; None where all is saved."""
    row = connection.execute(select(rig_drafts).where(*_where(rig_id, device, form))).first()
    return None if row is None else Draft(dict(row.fields), row.saved_utc.replace(tzinfo=UTC))


def drop(connection: Connection, rig_id: int, device: str, form: str) -> None:
    """It was saved, or is not wanted."""
    connection.execute(delete(rig_drafts).where(*_where(rig_id, device, form)))
