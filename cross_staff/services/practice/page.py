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

COMPARED = 3  # exercises at the beginning and at the end that a learner's slips are compared between
MOST = 60  # practice rigs that are shown, the newest


@dataclass(frozen=True)
class PracticeRig:
    """A practice rig: its exercise with all that was done, when it was finished, and then how it went."""

    rig_id: int
    practice: Practice
    finished: datetime | None
    went: Debrief | None


@dataclass(frozen=True)
class Learner:
    """How somebody gets on: exercises finished, different ones that were solved, false beliefs and mistakes of order
    in each of the first and of the newest three (None where fewer than four are finished)."""

    name: str
    finished: int
    solved: int
    slips_first: float | None
    slips_newest: float | None


def learners(told: Sequence[PracticeRig]) -> list[Learner]:
    """Everybody who finished an exercise, by name; who gave none is one of them, without a name."""
    names = sorted({each.practice.learner for each in told if each.went is not None}, key=str.casefold)
    return [_learner(name, [each for each in told if each.practice.learner == name]) for name in names]


def _learner(name: str, newest_first: Sequence[PracticeRig]) -> Learner:
    ended = sorted((each for each in newest_first if each.finished), key=lambda each: str(each.finished))
    slips = [
        len(each.went.believed) + sum(mistake.times for mistake in each.went.mistakes)
        for each in ended
        if each.went is not None
    ]
    solved = {each.practice.exercise.key for each in ended if each.went is not None and each.went.solved}
    few = len(slips) <= COMPARED
    first, newest = (None, None) if few else (_mean(slips[:COMPARED]), _mean(slips[-COMPARED:]))
    return Learner(name, len(ended), len(solved), first, newest)


def _mean(counts: Sequence[int]) -> float:
    return sum(counts) / len(counts)


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
