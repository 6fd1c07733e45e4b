"""The bench: the rigs being worked on, and new ones."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from cross_staff.core.reckoning import Reckoning
from cross_staff.core.rig import RigCard
from cross_staff.core.stations import Standing
from cross_staff.services.rig import RigView, view
from cross_staff.storage import rigs
from cross_staff.storage.database import Database


@dataclass(frozen=True)
class BenchRow:
    """A rig on the bench with how its stations stand."""

    rig_id: int
    card: RigCard
    revision: int
    units: dict[str, str]
    reckoning: Reckoning
    standings: tuple[Standing, ...]


def rows(database: Database) -> list[BenchRow]:
    """All rigs, the nearest due date first, those without a date last."""
    with database.reading() as connection:
        views = [view(connection, rig_id) for rig_id in rigs.rig_ids(connection)]
    found = [_row(each) for each in views]
    return sorted(found, key=lambda row: (row.card.due or date.max, row.card.name.lower()))


def _row(tape: RigView) -> BenchRow:
    return BenchRow(tape.rig_id, tape.card, tape.revision.number, tape.units, tape.reckoning, tape.standings)


def add(database: Database, name: str, archer: str, units: dict[str, str], now: datetime) -> int:
    """A new rig with nothing known but its name; returns its id."""
    with database.writing() as connection:
        return rigs.add_rig(connection, RigCard(name, archer), units, now, "new on the bench")
