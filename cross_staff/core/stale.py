"""What changed between two cards, and which of it makes measured marks old."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, is_dataclass
from typing import Any

from cross_staff.core.rig import RigCard

# Parts of the card on which every measured mark hangs. A new chronograph reading is not among
# them: it tells more about the same arrow.
MARKS_HANG_ON = (
    "build.shaft_length_m",
    "build.shaft_kg_per_m",
    "build.shaft_diameter_m",
    "build.components",
    "peep",
    "eye_to_sight_m",
    "sight_kind",
)


@dataclass(frozen=True)
class Change:
    """One field of the card that differs: its dotted path, the old and the new value."""

    path: str
    old: Any
    new: Any


def changes(old: RigCard, new: RigCard) -> tuple[Change, ...]:
    """Every field that differs, in the card's order."""
    return tuple(_differences("", old, new))


def _differences(prefix: str, old: Any, new: Any) -> list[Change]:
    if old == new:
        return []
    if not is_dataclass(old) or type(old) is not type(new):
        return [Change(prefix, old, new)]
    found = []
    for part in fields(old):
        path = f"{prefix}.{part.name}" if prefix else part.name
        found += _differences(path, getattr(old, part.name), getattr(new, part.name))
    return found


def makes_marks_old(changed: Sequence[Change]) -> bool:
    """Whether marks measured before these changes no longer belong to the rig.

    Filling in what was unknown changes nothing about the rig, and so makes nothing old.
    """
    return any(
        change.path == part or change.path.startswith(f"{part}.")
        for change in changed
        if change.old is not None and change.old != ()
        for part in MARKS_HANG_ON
    )


def marks_valid_since(cards: Sequence[RigCard]) -> int:
    """Number of the oldest revision whose marks still hold; `cards` are revisions 1, 2, ..."""
    since = 1
    for number, (old, new) in enumerate(zip(cards, cards[1:]), start=2):
        if makes_marks_old(changes(old, new)):
            since = number
    return since
