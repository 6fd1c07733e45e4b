"""What the practice bench shows: rigs that are worked on, and how the finished ones went."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from weakref import WeakKeyDictionary

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.practice.log import FINISH, STATION, Practice, practice_of
from cross_staff.core.simulate.debrief import Debrief, debrief
from cross_staff.services.memory import Memory
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage import practice as storage
from cross_staff.storage.database import Database

MOST = 200  # practice rigs that are shown, the newest


@dataclass(frozen=True)
class PracticeRig:
    """A practice rig: its exercise with all that was done, when it was finished, and then how it went."""

    rig_id: int
    practice: Practice
    finished: datetime | None
    went: Debrief | None


_WENT: WeakKeyDictionary[Database, Memory] = WeakKeyDictionary()


def went(database: Database, rig: Rig, practice: Practice) -> Debrief:
    """How an exercise stands, by the truth: worked out once for each version of its records."""
    memory = _WENT.setdefault(database, Memory(MOST))
    return memory.get((rig.rig_id, rig.version), lambda: debrief(practice, rig.state))


def practice_rigs(database: Database) -> tuple[list[PracticeRig], int]:
    """Every practice rig, the newest first, MOST at the most; and how many there are that cannot be read."""
    with database.reading() as connection:
        ids = storage.rig_ids(connection)[:MOST]
    told, broken = [], 0
    for rig_id in ids:
        try:
            told.append(_line(database, open_rig(database, rig_id)))
        except CrossStaffError:
            broken += 1
    return told, broken


def _line(database: Database, rig: Rig) -> PracticeRig:
    practice = practice_of(rig.log_of(STATION))
    assert practice is not None
    finished = next((act.at for act in practice.acts if act.kind == FINISH), None)
    return PracticeRig(rig.rig_id, practice, finished, went(database, rig, practice) if finished else None)
