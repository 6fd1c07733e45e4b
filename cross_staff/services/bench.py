"""The bench: the rigs being worked on, and new ones."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from cross_staff.core.rig import Mount, RigCard
from cross_staff.core.stations import BLOCKED, DONE, DUE, STALE
from cross_staff.services.rig import RigView, view
from cross_staff.services.sights import without_bow
from cross_staff.storage import rigs
from cross_staff.storage.database import Database


@dataclass(frozen=True)
class Asked:
    """Which rigs are shown, and in which order: archived ones or those on the bench, an archer's, by
    a station that is due, stale, blocked or done; sorted by a key of SORTS."""

    archived: bool = False
    archer: str = ""
    state: str = ""
    sort: str = "due"


SORTS: dict[str, Callable[[RigView], tuple[Any, ...]]] = {
    "due": lambda row: (row.card.due or date.max, row.card.name.lower()),
    "archer": lambda row: (row.card.archer.lower() or "\uffff", row.card.due or date.max, row.card.name.lower()),
    "state": lambda row: (_urgency(row), row.card.due or date.max, row.card.name.lower()),
    "name": lambda row: (row.card.name.lower(), row.rig_id),
}
STATES = (STALE, DUE, BLOCKED, DONE)


def rows(database: Database, asked: Asked = Asked()) -> list[RigView]:
    """The rigs that were asked for; by due date, the nearest first, those without a date last."""
    return sorted((row for row in every(database) if _wanted(row, asked)), key=SORTS[asked.sort])


def every(database: Database) -> list[RigView]:
    """All rigs, archived ones too."""
    with database.reading() as connection:
        return [view(connection, rig_id) for rig_id in rigs.rig_ids(connection)]


def state(row: RigView) -> str:
    """How a rig as a whole stands: stale if a station is, else due, else blocked, else done."""
    return STATES[_urgency(row)]


def _urgency(row: RigView) -> int:
    return min(STATES.index(each.state) for each in row.standings)


def _wanted(row: RigView, asked: Asked) -> bool:
    return (
        row.archived == asked.archived
        and (not asked.archer or row.card.archer == asked.archer)
        and (not asked.state or state(row) == asked.state)
    )


def add(database: Database, name: str, archer: str, units: dict[str, str], now: datetime) -> int:
    """A new rig with nothing known but its name; returns its id."""
    with database.writing() as connection:
        return rigs.add_rig(connection, RigCard(name, archer), units, now, "new on the bench")


def copy(database: Database, rig_id: int, now: datetime) -> int:
    """A new rig with this one's card, without what was measured on it; returns its id.

    What belongs to one bow (positions of controls, which way they go, the place of the sight, the
    chronograph's readings) is not copied. Raises NotFound.
    """
    with database.writing() as connection:
        found = view(connection, rig_id)
        card = found.card
        builds = tuple(replace(build, sessions=()) for build in card.builds)
        fresh = replace(
            card,
            name=f"{card.name}, copy",
            due=None,
            occasion="",
            sight=without_bow(card.sight),
            mount=Mount(),
            builds=builds,
        )
        return rigs.add_rig(connection, fresh, found.units, now, f"copied from {card.name}")


def archive(database: Database, rig_id: int, off_the_bench: bool = True) -> None:
    """Take a rig off the bench, or put it back; nothing of it is lost. Raises NotFound."""
    with database.writing() as connection:
        rigs.set_archived(connection, rig_id, off_the_bench)
