"""A rig as every station sees it: its card, its records, and how each station stands."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from sqlalchemy import Connection

from cross_staff.core.reckoning import Entry, Reckoning, reckon
from cross_staff.core.rig import RigCard
from cross_staff.core.stale import ALL_MARKS, State, holding
from cross_staff.core.stations import Standing, standings
from cross_staff.storage import observations, rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class RigView:
    """A rig with its revisions, the log of its marks, and the reckoning of now."""

    rig_id: int
    history: tuple[Revision, ...]
    units: dict[str, str]
    log: tuple[Entry, ...]
    reckoning: Reckoning
    standings: tuple[Standing, ...]

    @property
    def revision(self) -> Revision:
        return self.history[-1]

    @property
    def card(self) -> RigCard:
        return self.revision.card


def view(connection: Connection, rig_id: int) -> RigView:
    """Read and reckon one rig. Raises NotFound."""
    history = rigs.revisions(connection, rig_id)
    log = observations.log(connection, rig_id)
    newest = {entry.line: entry for entry in log}
    card = history[-1].card
    holds = holding([State(r.card, r.happened) for r in history], ALL_MARKS)
    reckoning = _reckoned(card, tuple(newest[line] for line in sorted(newest)), holds)
    units = rigs.units(connection, rig_id)
    return RigView(rig_id, tuple(history), units, tuple(log), reckoning, standings(card, reckoning))


# the same card and marks give the same reckoning, and the bench asks for every rig at once
_reckoned = lru_cache(maxsize=256)(reckon)


def open_rig(database: Database, rig_id: int) -> RigView:
    """One rig as it stands. Raises NotFound."""
    with database.reading() as connection:
        return view(connection, rig_id)
