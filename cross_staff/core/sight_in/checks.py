"""What cannot have been at the range: ends, sessions, movements and what is said of a step."""

from __future__ import annotations

import re

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.estimation.groups import MOST_OFF_M
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, check_pin
from cross_staff.core.rig.pins import may_be_dialled
from cross_staff.core.rig.schools import DIALLED, QUESTIONS
from cross_staff.core.rig.sight_steps import REHOME
from cross_staff.core.sight_in.log import COUNTS, MOST_SHOTS, End, GroupLine, Move, RangeSession
from cross_staff.core.sight_in.procedures import pin_distances
from cross_staff.core.sight_in.shafts import ShaftSaid

DIAL_MM = Range(-200.0, 400.0)
WIND_MPS = Range(-20.0, 20.0)
TEMPERATURE_C = Range(-40.0, 60.0)
CIRCLE_M, FACE_M = Range(0.01, 1.0), Range(0.01, 1.5)
HUNDRED_MM = Range(0.2, 100.0)  # the travel of a hundred clicks
MOVED = Range(-400.0, 400.0)  # clicks, turns or millimetres
FACES = ("dot", "ring", "cross")
STATES = ("done", "skipped", "enough")
WAYS = ("as_card", "reversed")
CIRCLES = ("angle", "size")
MOST_IN_LINE = 60
IMPORT = "import"


def check_end(end: End, pins: int, before: End | None = None) -> None:
    """Raises InvalidValue for what cannot be right about an end. `pins`, how many can be aimed with; `before`, the end
    as it stood: the pin it was shot with stays, whatever the card names by now."""
    if end.ranged_m is not None and not DISTANCE_M.holds(end.ranged_m):
        raise InvalidValue("distance", "between 0.5 and 400 m, or empty when it was not ranged")
    if end.dial_mm is not None:
        DIAL_MM.check("dial", end.dial_mm, "mm")
    if end.line is not None:
        _check_line(end.line)
    if end.line is not None and end.shots:
        raise InvalidValue("line_arrows", "this end has arrows of its own: a group as one line is an end by itself")
    check_pin(end.pin, pins, before.pin if before else None)
    if len(end.shots) > MOST_SHOTS:
        raise InvalidValue("shots", f"at most {MOST_SHOTS} shots in an end")
    for shot in end.shots:
        shot.checked()


def _check_line(line: GroupLine) -> None:
    if not 1 <= line.arrows <= MOST_IN_LINE:
        raise InvalidValue("line_arrows", f"between 1 and {MOST_IN_LINE} arrows")
    if line.up_m is None and line.right_m is None:
        raise InvalidValue("line_up", "say how high or low they came, 0 for dead on")
    for name, value in (("line_up", line.up_m), ("line_right", line.right_m)):
        if value is not None and abs(value) > MOST_OFF_M:
            raise InvalidValue(name, f"off any butt: within {MOST_OFF_M:g} m of the aim")


def check_session(session: RangeSession) -> None:
    """Raises InvalidValue for what cannot be right about a session."""
    if session.counts not in COUNTS:
        raise InvalidValue("counts", "choose one from the list")
    if session.crosswind_mps is not None:
        WIND_MPS.check("crosswind", session.crosswind_mps, "m/s")
    if session.temperature_c is not None:
        TEMPERATURE_C.check("temperature", session.temperature_c, "degrees")


def check_move(move: Move) -> None:
    """Raises InvalidValue for a movement of nothing, or farther than any control goes; how far may be unknown, and a
    pin that was set to its place has none."""
    if not move.counted:
        return
    if move.amount == 0.0 and not move.placed:
        raise InvalidValue("amount", "say how far it was moved")
    MOVED.check("amount", move.amount, move.unit)


def check_entry(card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said at this station: of a step, of a choice, of circle and face.

    Raises: NotFound for a step, a choice or a school that this sight does not have; InvalidValue.
    """
    what, _, key = entry.key.partition(":")
    if what == "step":
        _check_step(card, key, entry)
    elif what == "choose":
        question = QUESTIONS.get(key)
        if question is None or question.school(entry.choice).key != entry.choice:
            raise NotFound("there is no such school")
        if question is DIALLED and entry.choice.startswith("pin"):
            wanted = int(entry.choice[3:]) - 1
            if wanted not in may_be_dialled(card.sight, max(len(pin_distances(card)), len(card.sight.pins))):
                raise NotFound("this sight has no such pin, or no pointer for it")
    elif what in ("stand", "way", "shaft", "counts"):
        _check_said_of(what, key, entry)
    elif entry.key == "circle":
        _check_size("circle", entry.number, CIRCLE_M)
        if entry.choice not in ("", *CIRCLES):
            raise InvalidValue("circle_is", "choose one from the list")
    elif entry.key == "face":
        if entry.choice not in FACES:
            raise InvalidValue("face", "choose one from the list")
        if entry.number is not None:
            _check_size("face_size", entry.number, FACE_M)
    elif entry.key == "rehome":
        DISTANCE_M.check("new_home", entry.number or 0.0, "m")
    elif entry.key not in (IMPORT, "spread_told"):
        raise NotFound("there is no such entry")


def _check_said_of(what: str, key: str, entry: BenchEntry) -> None:
    """Where something stands, which way a control goes, what was done about a shaft."""
    if not 0 < len(key) <= 80:
        raise NotFound("there is no such entry")
    if what == "stand" and entry.number is not None:
        DIAL_MM.check("stand", entry.number, "mm")
    if what == "way" and entry.choice not in WAYS:
        raise InvalidValue("way", "choose one from the list")
    if what == "shaft" and entry.choice not in list(ShaftSaid):
        raise InvalidValue("shaft", "choose one from the list")


def _check_step(card: RigCard, key: str, entry: BenchEntry) -> None:
    own = re.sub(r"_[0-9]+$", "", key)
    if own not in {step.key for step in (*card.sight_kind.procedure, *REHOME)}:
        raise NotFound("there is no such step for this sight")
    if entry.choice not in STATES:
        raise InvalidValue("state", "choose one from the list")
    if entry.number is not None:
        DIAL_MM.check("mark", entry.number, "mm")
    if entry.choice == "skipped" and not entry.note.strip():
        raise InvalidValue("confirmed_by", "write who confirms it: it stays on the record")


def _check_size(field: str, value: float | None, span: Range) -> None:
    if value is None:
        raise InvalidValue(field, "how large?")
    span.check(field, value, "m")
