"""A practice rig: begun, worked on, finished; what its bow answers is kept with what was done."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import Exercise
from cross_staff.core.practice.log import MOST_ACTS, Practice, PracticeAct, Value, act_entry, begin_entry, practice_of
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.simulate.practice_bow import PracticeBow, drawn_after
from cross_staff.services.log import keep_entry
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage import bench_entries, rigs
from cross_staff.storage.database import Database

TUNED = "A practice bow: it is tuned, but for what the exercise is about."


def begin(database: Database, exercise: Exercise, learner: str, units: dict[str, str], now: datetime) -> int:
    """A practice rig of an exercise, its card as the shop has it; returns its id."""
    card = PracticeBow(exercise).card(f"{exercise.name} (practice)")
    with database.writing() as connection:
        rig_id = rigs.add_rig(connection, replace(card, archer=""), units, now, f"exercise {exercise.key}")
        keep_entry(connection, rig_id, begin_entry(exercise, learner, now))
        if "paper" not in exercise.goals:
            keep_entry(connection, rig_id, BenchEntry("prepare", OVERRIDE, 1, now, note=TUNED))
    return rig_id


def practice(rig: Rig) -> Practice:
    """What a practice rig's exercise is, and what was done. Raises NotFound for any other rig; InvalidValue for an
    exercise that cannot be read."""
    told = practice_of(rig.log_of(acts.STATION))
    if told is None:
        raise NotFound("this is a rig of the shop, not of the practice bench")
    return told


def do(database: Database, rig_id: int, kind: str, how: Mapping[str, Value], now: datetime) -> PracticeAct:
    """Do something to the practice bow, and keep what it answers. Raises NotFound; InvalidValue for what cannot be done
    so, and after the exercise was finished."""
    with database.writing() as connection:
        told = practice_of(bench_entries.log(connection, rig_id, acts.STATION))
        if told is None:
            raise NotFound("this is a rig of the shop, not of the practice bench")
        if told.finished:
            raise InvalidValue("kind", "the exercise is finished: begin it anew to do more")
        number = len(told.acts) + 1
        if number > MOST_ACTS:
            raise InvalidValue("kind", "nobody does so much to one bow: finish the exercise, and begin it anew")
        saw = PracticeBow(told.exercise).done(told.acts).do(kind, how, number)
        act = PracticeAct(kind, how, saw, now, number)
        latest = rigs.latest(connection, rig_id)
        bench_entries.add(connection, rig_id, replace(act_entry(act), revision=latest.number))
    return act


@dataclass(frozen=True)
class Controls:
    """What of a practice bow's sight can be turned at the range, each with its unit; how many pins it has."""

    units: Mapping[str, str]
    pins: int


@lru_cache(maxsize=64)
def _controls(exercise: Exercise) -> Controls:
    bow = PracticeBow(exercise)
    return Controls({name: drive.unit.value for name, drive in bow.controls().items()}, len(bow.pins()))


def controls_of(practice: Practice) -> Controls:
    """What can be turned at the range."""
    return _controls(practice.exercise)


def on_instruments(database: Database, rig_id: int) -> dict[str, float]:
    """What a stand-in instrument reads of a practice bow as it is now, by figure, in the units of the wire. Raises
    NotFound."""
    told = practice(open_rig(database, rig_id))
    return PracticeBow(told.exercise).done(told.acts).on_instruments()


def drawn(practice: Practice) -> bool:
    """Whether the practice bow is at full draw, after all that was done to it."""
    now = False
    for act in practice.acts:
        now = drawn_after(act.kind, act.do, now)
    return now
