"""Records of a file as the stations know them."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from cross_staff.core.carry.records import (
    BenchRecord,
    EndRecord,
    HandoverRecord,
    LevelRecord,
    MarkRecord,
    MoveRecord,
    ProofRecord,
    SessionRecord,
    TakenRecord,
)
from cross_staff.core.level.log import LevelReading
from cross_staff.core.prove.handover import HandoverCard
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.taken import Taken
from cross_staff.core.sight_in.log import End, GroupLine, Move, RangeSession
from cross_staff.core.tape.rows import TapeMark


def _values(record: Any, *without: str, **renamed: str) -> dict[str, Any]:
    """A record's columns; `entered_utc` is `entered` everywhere in the stations."""
    names = {"entered_utc": "entered"} | renamed
    return {names.get(name, name): value for name, value in asdict(record).items() if name not in without}


def as_entry(record: BenchRecord) -> BenchEntry:
    """An entry of a station's log."""
    return BenchEntry(**_values(record))


def as_reading(record: LevelRecord, place: int) -> LevelReading:
    """A reading of the level; `place` is its own."""
    return LevelReading(reading_id=place, **_values(record, photo="photo_id"))


def as_session(record: SessionRecord) -> RangeSession:
    """A visit to the range."""
    return RangeSession(**_values(record))


def as_end(record: EndRecord) -> End:
    """An end, without its arrows."""
    line = None
    if record.line_arrows is not None:
        line = GroupLine(record.line_arrows, record.line_right_m, record.line_up_m)
    kept = _values(record, "line_arrows", "line_right_m", "line_up_m", place="order")
    return End(line=line, **kept)


def as_move(record: MoveRecord) -> Move:
    """A movement of the sight."""
    return Move(**_values(record, place="order"))


def as_mark(record: MarkRecord, place: int) -> TapeMark:
    """A row of the marks table."""
    return TapeMark(entry_id=place, **_values(record))


def as_proof(record: ProofRecord, place: int) -> ProofLine:
    """A line of the proof log."""
    return ProofLine(entry_id=place, **_values(record))


def as_handover(record: HandoverRecord) -> HandoverCard:
    """A card that was handed over."""
    kept = _values(record, "content")
    return HandoverCard(content=record.content, **kept)


def as_taken(record: TakenRecord) -> Taken:
    """What was taken from an instrument."""
    return Taken(**_values(record, taken_utc="taken"))
