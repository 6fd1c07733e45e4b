"""What the practice bench shows: rigs that are worked on, and how the finished ones went."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from weakref import WeakKeyDictionary

from cross_staff.core.errors import CrossStaffError, NotFound
from cross_staff.core.practice.log import FINISH, STATION, Practice, practice_of
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.simulate.debrief import Debrief, debrief
from cross_staff.services.memory import Memory
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage import bench_entries
from cross_staff.storage import practice as storage
from cross_staff.storage.database import Database

MOST = 60  # practice rigs that are shown, the newest


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
        logs = {rig_id: bench_entries.log(connection, rig_id, STATION) for rig_id in storage.rig_ids(connection)[:MOST]}
    told, broken = [], 0
    for rig_id, log in logs.items():
        try:
            told.append(_line(database, rig_id, log))
        except CrossStaffError:
            broken += 1
    return told, broken


def _line(database: Database, rig_id: int, log: Sequence[BenchEntry]) -> PracticeRig:
    practice = practice_of(log)
    if practice is None:
        raise NotFound("its exercise is missing")
    finished = next((act.at for act in practice.acts if act.kind == FINISH), None)
    how = (
        went(database, open_rig(database, rig_id), practice) if finished else None
    )  # the truth is told at the end alone
    return PracticeRig(rig_id, practice, finished, how)
