"""Links by which an archer sees one rig."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Connection, Row, insert, select, update

from cross_staff.storage.tables import archer_links


@dataclass(frozen=True)
class ArcherLink:
    """A link: its number, the rig, the secret that it is signed with, who made it and when, until when it opens, since
    when it does not any more, and when it was last opened."""

    link: int
    rig_id: int
    secret: str
    made_by: str
    made: datetime
    until: datetime
    ended: datetime | None = None
    opened: datetime | None = None

    def opens(self, now: datetime) -> bool:
        """Whether it opens the rig at this moment."""
        return self.ended is None and now < self.until


def add(connection: Connection, rig_id: int, secret: str, made_by: str, made: datetime, until: datetime) -> int:
    """A new one; returns its number."""
    values = {"made_by": made_by, "made_utc": _naive(made), "until_utc": _naive(until)}
    done = connection.execute(insert(archer_links).values(rig_id=rig_id, secret=secret, **values))
    return int(done.inserted_primary_key[0])  # type: ignore[index]


def of_rig(connection: Connection, rig_id: int) -> list[ArcherLink]:
    """Every one of a rig, the newest first."""
    query = select(archer_links).where(archer_links.c.rig_id == rig_id).order_by(archer_links.c.id.desc())
    return [_link(row) for row in connection.execute(query)]


def find(connection: Connection, link: int) -> ArcherLink | None:
    """One by its number."""
    row = connection.execute(select(archer_links).where(archer_links.c.id == link)).first()
    return None if row is None else _link(row)


def end(connection: Connection, link: int, now: datetime) -> None:
    """It opens nothing any more."""
    here = archer_links.c
    connection.execute(
        update(archer_links).where(here.id == link, here.ended_utc.is_(None)).values(ended_utc=_naive(now))
    )


def opened(connection: Connection, link: int, now: datetime) -> None:
    """It was opened."""
    connection.execute(update(archer_links).where(archer_links.c.id == link).values(opened_utc=_naive(now)))


def _link(row: Row) -> ArcherLink:
    moments = [row.made_utc, row.until_utc, row.ended_utc, row.opened_utc]
    made, until, ended, opened_at = (None if each is None else each.replace(tzinfo=UTC) for each in moments)
    assert made is not None and until is not None
    return ArcherLink(row.id, row.rig_id, row.secret, row.made_by, made, until, ended, opened_at)


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)
