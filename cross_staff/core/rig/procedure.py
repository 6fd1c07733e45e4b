"""A step of sighting in, as data."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class StepKind(StrEnum):
    """What a step asks for."""

    CONFIRM = "confirm"
    SHOOT = "shoot"
    PLACE = "place"
    MARKS = "marks"
    SETTLE = "settle"
    LOWER = "lower"


CONFIRM, SHOOT, PLACE, MARKS, SETTLE, LOWER = StepKind


class Certainty(StrEnum):
    """How surely an aim must be right."""

    ROUGH = "rough"
    READY = "ready"
    SURE = "sure"


ROUGH, READY, SURE = Certainty
CLOSE_M = 5.0  # well inside 10 m, where even a wild sight hits the butt


@dataclass(frozen=True)
class ProcedureStep:
    """A step: in few words what it is, what to do, what to look for, what to enter, when it is done.

    kind of CONFIRM (done when said), SHOOT (done when its aim is judged to be there, at `level`),
    PLACE (a pin set to its predicted place), MARKS (dialled marks until the tape is good), SETTLE
    (every aim, surely), LOWER (the housing moved for a new home). movement drives the
    elevation; pin is "reference", "each", "last", "second"
    or "dialled"; at is "close", "home" or "own"; only_if: choices that it belongs to; needs: steps
    that matter before it; reads, whether it reads a mark, which is then written down with it.
    """

    key: str
    kind: StepKind
    say: str
    do: str
    look_for: str
    done_when: str
    enter: str = "nothing"
    level: Certainty = READY
    movement: str = ""
    pin: str = "reference"
    at: str = "home"
    only_if: tuple[tuple[str, str], ...] = ()
    needs: tuple[str, ...] = ()
    index: int = 0
    reads: bool = False
