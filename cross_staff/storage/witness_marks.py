"""Witness marks across the joints, and their photos: added to, never rewritten."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256

from sqlalchemy import Connection, func, insert, select

from cross_staff.core.errors import NotFound
from cross_staff.core.mount.station import WitnessMark
from cross_staff.storage.tables import photos, witness_marks


@dataclass(frozen=True)
class Photo:
    """A photo as it is kept: re-encoded, without anything the camera wrote into it."""

    jpeg: bytes
    width: int
    height: int


def add(connection: Connection, rig_id: int, mark: WitnessMark, now: datetime) -> None:
    """Add the newest state of a mark to the log."""
    connection.execute(
        insert(witness_marks).values(
            rig_id=rig_id,
            line=mark.line,
            revision=mark.revision,
            entered_utc=now.astimezone(UTC).replace(tzinfo=None),
            joint=mark.joint,
            place=mark.place,
            photo_id=mark.photo_id,
            removed=mark.removed,
        )
    )


def log(connection: Connection, rig_id: int) -> list[WitnessMark]:
    """Every state that a mark ever had, oldest first."""
    query = select(witness_marks).where(witness_marks.c.rig_id == rig_id).order_by(witness_marks.c.id)
    return [
        WitnessMark(row.line, row.revision, row.joint, row.place, row.photo_id, row.removed)
        for row in connection.execute(query)
    ]


def add_photo(connection: Connection, rig_id: int, photo: Photo, now: datetime) -> int:
    """Keep a photo; returns its id."""
    result = connection.execute(
        insert(photos).values(
            rig_id=rig_id,
            added_utc=now.astimezone(UTC).replace(tzinfo=None),
            width=photo.width,
            height=photo.height,
            jpeg=photo.jpeg,
            sha256=sha256(photo.jpeg).hexdigest(),
        )
    )
    return int(result.inserted_primary_key[0])  # type: ignore[index]


def photo(connection: Connection, rig_id: int, photo_id: int) -> Photo:
    """A photo of this rig. Raises NotFound."""
    query = select(photos).where(photos.c.rig_id == rig_id, photos.c.id == photo_id)
    row = connection.execute(query).first()
    if row is None or not row.jpeg:
        raise NotFound(f"rig {rig_id} has no photo {photo_id}")
    return Photo(row.jpeg, row.width, row.height)


def photo_ids(connection: Connection, rig_id: int) -> frozenset[int]:
    """Every photo of this rig that is here."""
    query = select(photos.c.id).where(photos.c.rig_id == rig_id, func.length(photos.c.jpeg) > 0)
    return frozenset(connection.execute(query).scalars())


def photo_sums(connection: Connection, rig_id: int) -> dict[int, str]:
    """The SHA-256 of every photo of this rig that is here, by its id."""
    query = select(photos.c.id, photos.c.sha256).where(photos.c.rig_id == rig_id, func.length(photos.c.jpeg) > 0)
    return {row.id: row.sha256 for row in connection.execute(query)}
