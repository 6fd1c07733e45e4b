"""How a file lies to what is here: whether it brings something, is behind, or both went on since they parted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from cross_staff.core.carry.records import CarriedRig

_CARD, _SAID = "revisions", "bench_entries"
_SAID_OF = frozenset(("range", "level_readings", "proof_lines"))  # where something stands, what was matched, laid on
_AT_THE_RANGE = dict.fromkeys(("range_sessions", "range_ends", "range_shots", "range_moves"), "range")


class Lies(StrEnum):
    """What a file is to what is here."""

    NEW = "new"
    SAME = "same"
    AHEAD = "ahead"
    BEHIND = "behind"
    JOINS = "joins"
    PARTED = "parted"


@dataclass(frozen=True)
class Relation:
    """How the file lies; how many records of each log it brings, and how many it lacks, by the log's name."""

    lies: Lies
    brings: Mapping[str, int] = field(default_factory=dict)
    lacks: Mapping[str, int] = field(default_factory=dict)


def relation(here: Mapping[str, Sequence[Any]] | None, there: Mapping[str, Sequence[Any]]) -> Relation:
    """How logs of a file lie to the same logs here. Logs only grow: where one is the beginning of the other, the longer
    has everything; where they differ before the end of the shorter, both went on. Where each has more in other logs,
    they join as long as these do not hang together: a new revision says what every later record was made with; ends,
    shots and movements of the range have one order; what was said at a station belongs to what was read there.

    Args:
        here: the logs as they stand, by name; None where there are none.
        there: those of the file.

    Returns:
        the relation, with counts of what each has beyond the other.

    Source:
        docs/files.md.
    """
    brings: dict[str, int] = {}
    lacks: dict[str, int] = {}
    differ = False
    for name, log in there.items():
        own = () if here is None else here[name]
        common = _common(own, log)
        brings |= {name: len(log) - common} if len(log) > common else {}
        lacks |= {name: len(own) - common} if len(own) > common else {}
        differ = differ or common < min(len(own), len(log))
    if here is None:
        return Relation(Lies.NEW, brings)
    if differ or (brings and lacks and _hang_together(brings, lacks)):
        return Relation(Lies.PARTED, brings, lacks)
    if brings and lacks:
        return Relation(Lies.JOINS, brings, lacks)
    return Relation(Lies.AHEAD if brings else Lies.BEHIND if lacks else Lies.SAME, brings, lacks)


def _hang_together(brings: Mapping[str, int], lacks: Mapping[str, int]) -> bool:
    """Whether what one has beyond the other could change what the other's means."""
    sides = [{_AT_THE_RANGE.get(name, name) for name in side} for side in (brings, lacks)]
    return any(
        _CARD in one or bool(one & other) or (_SAID in one and bool(other & _SAID_OF))
        for one, other in (sides, sides[::-1])
    )


def _common(one: Sequence[Any], other: Sequence[Any]) -> int:
    """How many records both begin with."""
    count = 0
    for mine, theirs in zip(one, other):
        if mine != theirs:
            break
        count += 1
    return count


def of_rig(here: CarriedRig | None, there: CarriedRig) -> Relation:
    """How a rig's file lies to the rig of the same identity that is here, None where there is none.

    Args:
        here: the rig as it stands in this shop.
        there: as the file has it.

    Returns:
        the relation of their logs.

    Source:
        docs/files.md.
    """
    return relation(None if here is None else here.logs, there.logs)


WORDS = {
    Lies.NEW: "is not known here: it is put in",
    Lies.SAME: "is here already, with all of it",
    Lies.AHEAD: "is known here: what is new in the file is added",
    Lies.JOINS: "went on here and in the file, at different things: what is new in the file is added",
    Lies.BEHIND: "is further here than in the file: it stays as it is",
    Lies.PARTED: "is not the same here and in the file: nothing of the two is joined",
}
