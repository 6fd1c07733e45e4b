"""The people of the shop: a log in which the newest number of a person holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Connection, func, insert, select

from cross_staff.core.errors import NotFound
from cross_staff.core.shop.people import Person, Role
from cross_staff.storage.shop_tables import people


@dataclass(frozen=True)
class KeptPerson:
    """Somebody as he stands, with his number and the hash of his PIN."""

    person: Person
    number: int
    pin_hash: str


def every(connection: Connection) -> list[KeptPerson]:
    """Everybody there ever was, by name."""
    newest = {
        row.person: KeptPerson(Person(row.person, row.name, Role(row.role), row.removed), row.number, row.pin_hash)
        for row in connection.execute(select(people).order_by(people.c.person, people.c.number))
    }
    return sorted(newest.values(), key=lambda kept: kept.person.name.casefold())


def find(connection: Connection, person: int) -> KeptPerson:
    """Somebody as he stands, removed or not. Raises NotFound."""
    kept = next((each for each in every(connection) if each.person.person == person), None)
    if kept is None:
        raise NotFound(f"there is no person {person}")
    return kept


def next_number(connection: Connection) -> int:
    """The number of who comes next."""
    return 1 + int(connection.execute(select(func.coalesce(func.max(people.c.person), 0))).scalar_one())


def write(connection: Connection, person: Person, number: int, pin_hash: str, now: datetime) -> None:
    """The next number of somebody."""
    values = {"name": person.name, "role": person.role.value, "pin_hash": pin_hash, "removed": person.removed}
    saved = now.astimezone(UTC).replace(tzinfo=None)
    connection.execute(insert(people).values(person=person.person, number=number, saved_utc=saved, **values))
