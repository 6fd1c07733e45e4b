"""What the program's own orders would have needed on the bow of an exercise, followed to the letter."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import lru_cache
from pathlib import Path
from tempfile import TemporaryDirectory

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.station import LevelState
from cross_staff.core.practice.exercise import AXES, Exercise
from cross_staff.core.rig.procedure import SHOOT
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.simulate.debrief import tape_called_good
from cross_staff.core.simulate.practice_bow import SEAT, PracticeBow
from cross_staff.core.simulate.solver import set_right
from cross_staff.core.simulate.technician import Habits, Technician
from cross_staff.services.practice.level_walk import walk
from cross_staff.services.practice.range_walk import RangeWalk
from cross_staff.services.practice.record import begin
from cross_staff.services.rig import Rig
from cross_staff.storage.database import Database

START = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)
METHOD = "board_string"  # decided at full draw against the string
CHRONOGRAPHED = 3  # arrows that a bare card takes before the range
RANGE_GOALS = ("home", "pins", "tape")


@dataclass(frozen=True)
class Needed:
    """What it took: arrows, turns of screws and knobs, looks; whether the program said that all goals are there; how
    far each axis then truly was off and what it may be [rad]."""

    arrows: int
    turns: int
    looks: int
    said_good: bool
    left_rad: tuple[tuple[str, float, float], ...] = ()


@lru_cache(maxsize=64)
def program_needs(exercise: Exercise, right: bool = False) -> Needed | None:
    """What the program's orders need for an exercise; None for one that is about neither axes nor arrows. Args: right,
    its sight is set as it belongs before the first arrow, and has only to be shown to be so."""
    axes = tuple(goal for goal in exercise.goals if goal in AXES)
    ranged = tuple(goal for goal in exercise.goals if goal in RANGE_GOALS)
    if not axes and not ranged:
        return None
    bow = PracticeBow(exercise)
    arrows = turns = looks = 0
    good, tolerances = True, dict.fromkeys(axes, 0.0)
    with TemporaryDirectory() as folder:
        database = Database(Path(folder) / "shop.sqlite3")
        database.migrate()
        try:
            if axes:
                technician, state = _levelled(database, exercise, bow, axes)
                tolerances = {axis: state.axes[axis].tolerance for axis in axes}
                turns, looks, good = technician.turns, technician.readings, _good(axes, state)
            if ranged:
                bow.archer.sight.card = PracticeBow(replace(exercise, measured=True)).card(exercise.name)
                arrows = 0 if exercise.measured else CHRONOGRAPHED
                if right:
                    set_right(bow)
                told = RangeWalk(database, bow.archer).walked(until=lambda rig: _reached(ranged, exercise, bow, rig))
                arrows, turns, good = arrows + told.arrows, turns + told.orders, good and told.done
        finally:
            database.close()
    return Needed(
        arrows, turns, looks, good, tuple((axis, bow.bow.axes[axis], most) for axis, most in tolerances.items())
    )


def _levelled(
    database: Database, exercise: Exercise, bow: PracticeBow, axes: tuple[str, ...]
) -> tuple[Technician, LevelState]:
    rig_id = begin(database, exercise, "", {}, START)
    bow.bow.put_on(SEAT, SEAT)
    habits = Habits((METHOD,), exercise.calibrated, True, SEAT, "to_string", 0.0, 0.0, 0.0, 0.0)
    technician = Technician(bow.bow, habits, START)
    try:
        state = walk(database, rig_id, technician, until=lambda state: _there(axes, state))
    except InvalidValue as error:
        raise RuntimeError(f"an order of the program could not be obeyed: {error}") from error
    return technician, state


def _good(axes: tuple[str, ...], state: LevelState) -> bool:
    """Whether every axis is good enough, none of them only accepted."""
    return all(state.axes[axis].standing == "good" for axis in axes)


def _there(axes: tuple[str, ...], state: LevelState) -> bool:
    return all(state.axes[axis].settled for axis in axes)


def _reached(goals: tuple[str, ...], exercise: Exercise, bow: PracticeBow, rig: Rig) -> bool:
    """Whether the program has every goal of the range, shown by arrows."""
    there = {each.aim for each in rig.range.steps if each.by_arrows and each.step.kind == SHOOT}
    pins = [Aim(pin, distance) for pin, distance in enumerate(bow.pins())]
    reached = {
        "home": pins[0] in there,
        "pins": all(aim in there for aim in pins),
        "tape": tape_called_good(rig.state, exercise.farthest_m),
    }
    return all(reached[goal] for goal in goals)
