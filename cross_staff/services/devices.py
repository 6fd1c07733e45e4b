"""The measuring instruments of the shop over a wire, and what was taken from them."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.taken import GIVES, MOST_NAME, Taken, check_taken
from cross_staff.storage import devices, rigs, taken_readings
from cross_staff.storage.database import Database
from cross_staff.storage.devices import KeptDevice

MOST = 24  # instruments of a shop that are listened to at once


def kept(database: Database, removed: bool = False) -> list[KeptDevice]:
    """The shop's instruments, by name; or those that were removed."""
    with database.reading() as connection:
        return [each for each in devices.every(connection) if each.removed == removed]


def find(database: Database, device: int) -> KeptDevice:
    """One of them, removed or not. Raises NotFound."""
    with database.reading() as connection:
        return devices.find(connection, device)


def add(database: Database, name: str, kind: str, host: str, port: int, now: datetime) -> int:
    """Enter a new one; returns which it is. Raises InvalidValue: no name, one of another instrument, an address of
    another, a kind that is none, too many."""
    if kind not in GIVES:
        raise InvalidValue("kind", f"one of {', '.join(GIVES)}")
    with database.writing() as connection:
        others = [each for each in devices.every(connection) if not each.removed]
        if len(others) >= MOST:
            raise InvalidValue("name", f"{MOST} are listened to already: remove one first")
        _check(others, name, host, port)
        return devices.add(connection, name.strip(), kind, host, port, now)


def change(database: Database, device: int, name: str, host: str, port: int, now: datetime) -> None:
    """Another name or address. Raises NotFound, InvalidValue as `add`."""
    with database.writing() as connection:
        others = [each for each in devices.every(connection) if not each.removed and each.device != device]
        _check(others, name, host, port)
        devices.change(connection, device, name.strip(), host, port, False, now)


def remove(database: Database, device: int, now: datetime, back: bool = False) -> None:
    """Listen to it no more, or again; what was taken from it keeps its name. Raises NotFound, InvalidValue."""
    with database.writing() as connection:
        held = devices.find(connection, device)
        if back:
            _check([e for e in devices.every(connection) if not e.removed], held.name, held.host, held.port)
        devices.change(connection, device, held.name, held.host, held.port, not back, now)


def _check(others: list[KeptDevice], name: str, host: str, port: int) -> None:
    if not name.strip():
        raise InvalidValue("name", "what is it called in the shop?")
    if len(name.strip()) > MOST_NAME:
        raise InvalidValue("name", f"at most {MOST_NAME} letters")
    if any(each.name.lower() == name.strip().lower() for each in others):
        raise InvalidValue("name", "another instrument has this name")
    beside = next((each for each in others if (each.host, each.port) == (host, port)), None)
    if beside is not None:
        raise InvalidValue("address", f"{beside.name} listens there")


def heard(database: Database, device: int, when: datetime) -> None:
    """It was heard of."""
    with database.writing() as connection:
        devices.heard(connection, device, when)


def keep_taken(database: Database, rig_id: int, takens: Iterable[Taken]) -> None:
    """Keep what was taken from instruments into the fields of a rig; the same is kept once, and what no instrument can
    have given is passed over. Raises NotFound."""
    with database.writing() as connection:
        rigs.latest(connection, rig_id)
        for each in takens:
            with suppress(InvalidValue):
                check_taken(each)
                taken_readings.add(connection, rig_id, each)


def taken(database: Database, rig_id: int) -> list[Taken]:
    """All that was taken for a rig, newest first."""
    with database.reading() as connection:
        return taken_readings.every(connection, rig_id)[::-1]
