"""What a learner did to a practice bow and what it answered, as entries of its log."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.practice.exercise import Exercise, exercise_of, written
from cross_staff.core.rig.log import BenchEntry

STATION = "practice"
EXERCISE, ACT = "exercise", "act"
MOST_ACTS = 2000
_MOST_NOTE = 3900  # letters of what was done, or of what it answered

# what each act costs: minutes, and minutes more for each arrow
LOOK, TURN, REVERSE, MATCH, LET_DOWN = "look", "turn", "reverse", "match", "let_down"
SHOOT, MOVE, PLACE, STOP, DAY = "shoot", "move", "place", "stop", "day"
SPEED, MEASURE, PAPER, TUNE = "speed", "measure", "paper", "tune"
GAUGE, CANT, HINT, FINISH = "gauge", "cant", "hint", "finish"
MINUTES = {
    LOOK: 2, TURN: 2, REVERSE: 2, MATCH: 3, LET_DOWN: 0, SHOOT: 4, MOVE: 2, PLACE: 4, STOP: 1, DAY: 0, SPEED: 5,
    MEASURE: 5, PAPER: 5, TUNE: 8, GAUGE: 1, CANT: 3, HINT: 10, FINISH: 0,
}  # fmt: skip
MINUTES_AN_ARROW = 1
Value = str | float | int | bool | None | list[list[float]]


@dataclass(frozen=True)
class PracticeAct:
    """One thing done to the bow: what kind, how it was done, and what was seen of it."""

    kind: str
    do: Mapping[str, Value]
    saw: Mapping[str, Value]
    at: datetime
    number: int = 0

    @property
    def arrows(self) -> int:
        """Arrows that it took."""
        return int(str(self.do.get("arrows", 0))) if self.kind in (SHOOT, SPEED, PAPER) else 0

    @property
    def turned(self) -> int:
        """Movements of a screw, a knob, a pin or a rest."""
        return int(self.kind in (TURN, MOVE, PLACE, TUNE))

    @property
    def minutes(self) -> int:
        return MINUTES[self.kind] + MINUTES_AN_ARROW * self.arrows


@dataclass(frozen=True)
class Practice:
    """A practice rig's exercise, who works on it, when it was begun, and what was done, oldest first."""

    exercise: Exercise
    learner: str
    begun: datetime
    acts: tuple[PracticeAct, ...]

    @property
    def finished(self) -> bool:
        return any(act.kind == FINISH for act in self.acts)

    def spent(self) -> dict[str, int]:
        """What it took so far, by the names of the budget; and hints."""
        return {
            "arrows": sum(act.arrows for act in self.acts),
            "turns": sum(act.turned for act in self.acts),
            "minutes": sum(act.minutes for act in self.acts),
            "days": 1 + sum(act.kind == DAY for act in self.acts),
            "hints": sum(act.kind == HINT for act in self.acts),
        }


def begin_entry(exercise: Exercise, learner: str, now: datetime) -> BenchEntry:
    """The entry that makes a rig a practice rig."""
    return BenchEntry(STATION, EXERCISE, 1, now, choice=learner[:60], note=written(exercise))


def act_entry(act: PracticeAct) -> BenchEntry:
    """An act as it is kept."""
    do, saw = json.dumps(dict(act.do)), json.dumps(dict(act.saw))
    return BenchEntry(STATION, f"{ACT}:{act.number}", 1, act.at, choice=act.kind, after=do, note=saw)


def practice_of(log: Sequence[BenchEntry]) -> Practice | None:
    """What a rig's log of this bench holds; None for a rig that is no practice rig. Raises InvalidValue for one that
    cannot be read."""
    begun = next((entry for entry in log if entry.key == EXERCISE), None)
    if begun is None:
        return None
    acts = tuple(_act(entry) for entry in log if entry.key.startswith(f"{ACT}:"))
    return Practice(exercise_of(begun.note), begun.choice, begun.entered, acts)


def _act(entry: BenchEntry) -> PracticeAct:
    if entry.choice not in MINUTES:
        raise InvalidValue("choice", "is nothing that is done to a practice bow")
    number = entry.key.removeprefix(f"{ACT}:")
    if not number.isdecimal() or not 0 < int(number) <= MOST_ACTS:
        raise InvalidValue("key", f"an act has a number up to {MOST_ACTS}")
    return PracticeAct(entry.choice, _row(entry.after, "after"), _row(entry.note, "note"), entry.entered, int(number))


def _row(text: str, field: str) -> dict[str, Value]:
    try:
        row = json.loads(text) if len(text) <= _MOST_NOTE else None
    except (ValueError, RecursionError):
        row = None
    if not isinstance(row, dict):
        raise InvalidValue(field, "is not what an act is kept as")
    return row


def check_entry(entry: BenchEntry) -> None:
    """Refuse an entry that the practice bench does not make. Raises InvalidValue."""
    if entry.removed:
        raise InvalidValue("removed", "what was done to a practice bow is not taken back")
    if entry.key == EXERCISE:
        exercise_of(entry.note)
    elif entry.key.startswith(f"{ACT}:"):
        _act(entry)
    else:
        raise InvalidValue("key", "is nothing of the practice bench")
