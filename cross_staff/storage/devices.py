"""The measuring instruments of the shop: a log in which the newest number of one holds; when each was last heard."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Connection, func, insert, select
from sqlalchemy.dialects.sqlite import insert as insert_or

from cross_staff.core.errors import NotFound
from cross_staff.storage.shop_tables import device_sightings, devices


@dataclass(frozen=True)
class KeptDevice:
    """An instrument as it stands: which it is, its number, name, kind, host and port, when it was last heard."""

    device: int
    number: int
    name: str
    kind: str
    host: str
    port: int
    removed: bool = False
    seen: datetime | None = None


def add(connection: Connection, name: str, kind: str, host: str, port: int, now: datetime) -> int:
    """A new one; returns which it is."""
    newest = connection.execute(select(func.coalesce(func.max(devices.c.device), 0))).scalar_one()
    _write(connection, KeptDevice(int(newest) + 1, 1, name, kind, host, port), now)
    return int(newest) + 1


def change(connection: Connection, device: int, name: str, host: str, port: int, removed: bool, now: datetime) -> None:
    """The next number of one. Raises NotFound."""
    kept = find(connection, device)
    _write(connection, KeptDevice(device, kept.number + 1, name, kept.kind, host, port, removed), now)


def find(connection: Connection, device: int) -> KeptDevice:
    """One as it stands, removed or not. Raises NotFound."""
    kept = next((each for each in every(connection) if each.device == device), None)
    if kept is None:
        raise NotFound(f"there is no instrument {device}")
    return kept


def every(connection: Connection) -> list[KeptDevice]:
    """Every one as it stands, the removed too, by name."""
    seen = {row.device: row.seen_utc.replace(tzinfo=UTC) for row in connection.execute(select(device_sightings))}
    newest = {
        row.device: KeptDevice(
            row.device, row.number, row.name, row.kind, row.host, row.port, row.removed, seen.get(row.device)
        )
        for row in connection.execute(select(devices).order_by(devices.c.device, devices.c.number))
    }
    return sorted(newest.values(), key=lambda kept: kept.name.lower())


def heard(connection: Connection, device: int, when: datetime) -> None:
    """It was heard of."""
    values = {"device": device, "seen_utc": when.astimezone(UTC).replace(tzinfo=None)}
    write = insert_or(device_sightings).values(values)
    connection.execute(write.on_conflict_do_update(index_elements=["device"], set_={"seen_utc": values["seen_utc"]}))


def _write(connection: Connection, kept: KeptDevice, now: datetime) -> None:
    connection.execute(
        insert(devices).values(
            device=kept.device,
            number=kept.number,
            saved_utc=now.astimezone(UTC).replace(tzinfo=None),
            name=kept.name,
            kind=kept.kind,
            host=kept.host,
            port=kept.port,
            removed=kept.removed,
        )
    )
