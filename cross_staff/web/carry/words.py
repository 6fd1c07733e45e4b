"""What is said of a file before it is taken in."""

from __future__ import annotations

from cross_staff.core.carry.records import LOGS
from cross_staff.core.carry.relation import Lies
from cross_staff.services.carry.documents import INSTRUMENTS, RIG, SIGHT
from cross_staff.services.carry.take_in import NUMBERS, Preview

LOG_WORDS = LOGS | {NUMBERS: "revisions"}
_KIND = {RIG: "rig", SIGHT: "sight model", INSTRUMENTS: "levels and jigs"}
_SAY = {
    Lies.NEW: "Take this {} in.",
    Lies.AHEAD: "Bring this {} up to the file.",
    Lies.JOINS: "Add to this {} what is new in the file.",
    Lies.SAME: "Nothing to do: this {} is here, with all of it.",
    Lies.BEHIND: "Nothing to do: this {} is further here than in the file.",
    Lies.PARTED: "The file and what is here differ: choose which to work with.",
}
_WHY = {
    Lies.NEW: "Every record was checked by the rules of its station. It comes with its revisions, logs and printed tapes.",
    Lies.AHEAD: "What is here is the beginning of what the file has: the new records are added behind it, nothing is changed.",
    Lies.JOINS: "Both went on, at different things, and no card was changed meanwhile: the records of the file are added "
    "beside those of here, each with its own time.",
    Lies.SAME: "Every record of the file is here already.",
    Lies.BEHIND: "The file is an older state of what is here. It takes nothing away.",
    Lies.PARTED: "Work was done here and on the file since they were one, or the file was edited. Joining them would guess "
    "at an order that nobody saw. The file's can be put beside it, as another one: nothing of either is lost.",
}


def _lies(seen: Preview) -> Lies:
    """How the file as a whole lies: levels by the part that brings most."""
    ranks = (Lies.NEW, Lies.AHEAD, Lies.JOINS, Lies.PARTED, Lies.BEHIND, Lies.SAME)
    lies = {part.relation.lies for part in seen.parts}
    return next((each for each in ranks if each in lies), Lies.SAME)


def say(seen: Preview) -> str:
    """What is to be done, in one sentence."""
    lies = _lies(seen)
    if seen.pictures and lies in (Lies.SAME, Lies.BEHIND):
        return "Take the photos in that were missing."
    words = _SAY[lies].format(_KIND[seen.document.format])
    return words.replace("this levels", "these levels") if seen.document.format == INSTRUMENTS else words


def why(seen: Preview) -> str:
    """Why."""
    return _WHY[_lies(seen)]
