"""Devices that were let in, and who holds each; written over."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, Row, insert, select, update

from cross_staff.storage.shop_tables import visits

_KEPT = 200  # of those that ended


@dataclass(frozen=True)
class Visit:
    """A device that was let in: its number, the sum of its cookie, which passphrase let it in (empty on this machine
    itself), what it is, from where it came last, since when, when it was last seen, who holds it."""

    visit: int
    token_sha256: str
    passphrase: str
    device: str
    address: str
    begun: datetime
    seen: datetime
    person: int | None = None
    ended: datetime | None = None


def every(connection: Connection) -> list[Visit]:
    """Those that did not end, and the newest of those that did, oldest first."""
    gone = select(visits).where(visits.c.ended_utc.is_not(None)).order_by(visits.c.ended_utc.desc()).limit(_KEPT)
    here = select(visits).where(visits.c.ended_utc.is_(None))
    rows = [*connection.execute(here), *connection.execute(gone)]
    return sorted(map(_visit, rows), key=lambda each: each.visit)


def add(connection: Connection, visit: Visit) -> int:
    """A new one; returns its number. `visit.visit` is ignored."""
    values = {
        "token_sha256": visit.token_sha256,
        "passphrase": visit.passphrase,
        "device": visit.device,
        "begun_utc": _naive(visit.begun),
    }
    done = connection.execute(insert(visits).values(**values, **_changing(visit)))
    return int(done.inserted_primary_key[0])  # type: ignore[index]


def put(connection: Connection, visit: Visit) -> None:
    """One as it stands now."""
    values = {"token_sha256": visit.token_sha256, "passphrase": visit.passphrase, **_changing(visit)}
    connection.execute(update(visits).where(visits.c.id == visit.visit).values(**values))


def _changing(visit: Visit) -> dict[str, Any]:
    return {
        "address": visit.address,
        "seen_utc": _naive(visit.seen),
        "person": visit.person,
        "ended_utc": None if visit.ended is None else _naive(visit.ended),
    }


def _visit(row: Row) -> Visit:
    return Visit(
        row.id,
        row.token_sha256,
        row.passphrase,
        row.device,
        row.address,
        row.begun_utc.replace(tzinfo=UTC),
        row.seen_utc.replace(tzinfo=UTC),
        row.person,
        None if row.ended_utc is None else row.ended_utc.replace(tzinfo=UTC),
    )


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)
