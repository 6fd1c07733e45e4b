"""The people of the shop: entered, given a PIN, removed; what they did keeps their name."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.shop.people import Person, Role, check_name, check_pin
from cross_staff.services.shop.passphrase import hashed, matches
from cross_staff.storage import people
from cross_staff.storage.database import Database

MOST = 40


def every(database: Database, removed: bool = False) -> list[Person]:
    """Everybody of the shop, by name; or those who are not of it any more."""
    with database.reading() as connection:
        return [each.person for each in people.every(connection) if each.person.removed == removed]


def find(database: Database, person: int) -> Person:
    """Somebody, removed or not. Raises NotFound."""
    with database.reading() as connection:
        return people.find(connection, person).person


def add(database: Database, name: str, role: Role, pin: str, now: datetime) -> int:
    """Somebody new, with his PIN; returns who. Raises InvalidValue: a name that is none or somebody's, a PIN that is
    none, too many."""
    pin_hash = hashed(check_pin(pin))
    with database.writing() as connection:
        others = [each.person for each in people.every(connection)]
        if len([each for each in others if not each.removed]) >= MOST:
            raise InvalidValue("name", f"{MOST} people are of the shop already: remove one first")
        if role == Role.VIEWER and not any(each.writes for each in others):
            raise InvalidValue("role", "the first is a technician: a viewer could not enter anybody else")
        person = Person(people.next_number(connection), check_name(name, others), role)
        people.write(connection, person, 1, pin_hash, now)
        return person.person


def change(database: Database, person: int, name: str, role: Role, pin: str, now: datetime) -> None:
    """Another name, role or PIN; an empty one stays as it is. Raises NotFound, InvalidValue as `add`, and for the last
    technician made a viewer."""
    pin_hash = hashed(check_pin(pin)) if pin.strip() else ""
    with database.writing() as connection:
        kept = people.find(connection, person)
        others = [each.person for each in people.every(connection) if each.person.person != person]
        became = replace(kept.person, name=check_name(name, others), role=role)
        if not became.writes and not any(each.writes for each in others):
            raise InvalidValue("role", "somebody has to be able to write: this is the last technician")
        people.write(connection, became, kept.number + 1, pin_hash or kept.pin_hash, now)


def remove(database: Database, person: int, now: datetime, back: bool = False) -> None:
    """Of the shop no more, or again. Raises NotFound; InvalidValue where the name is somebody else's by now, and for
    the last technician while there are viewers."""
    with database.writing() as connection:
        kept = people.find(connection, person)
        others = [each.person for each in people.every(connection) if each.person.person != person]
        if back:
            check_name(kept.person.name, others)
        elif kept.person.writes and not any(e.writes for e in others) and any(not e.removed for e in others):
            raise InvalidValue("role", "somebody has to be able to write: this is the last technician")
        people.write(connection, replace(kept.person, removed=not back), kept.number + 1, kept.pin_hash, now)


def has_pin(database: Database, person: int, pin: str) -> Person | None:
    """The person, where this is the PIN of somebody who is of the shop. Raises NotFound."""
    with database.reading() as connection:
        kept = people.find(connection, person)
    return kept.person if not kept.person.removed and matches(pin, kept.pin_hash) else None
