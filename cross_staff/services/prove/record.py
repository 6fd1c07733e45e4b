"""Writing at the prove station: lines, the tape that is on the sight, what is mended by them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prove.chain import Aside, Chain
from cross_staff.core.prove.locking import LOCK, SPARE, check_thread, joints
from cross_staff.core.prove.log import STATION, ProofLine, check_line
from cross_staff.core.prove.station import LAID, check_entry, laid
from cross_staff.core.rig.events import CAUSES
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.core.rig.staleness import Said
from cross_staff.core.tape.rulers import STRIP as PRINTED
from cross_staff.services.log import keep_entry
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import record as at_range
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from cross_staff.services.tape.rulers import rulers_of
from cross_staff.storage import bench_entries, proof_lines, rigs
from cross_staff.storage.database import Database

OF_PROOF = "proof "  # before the key of a line, in that of its mark
INSTEAD = "the proof lines say otherwise"
_ROW = ("ranged_m", "mark_mm", "up_m", "arrows", "line", "key", "pin", "ruler", "from_m", "reads", "reading_sd_mm",
        "laid_mm")  # fmt: skip
INDICATOR, STRIP = "indicator", "strip"  # what a shift is mended at, as the table of causes has it


@dataclass(frozen=True)
class Kept:
    """A line as it stands now; refused, where somebody else changed it meanwhile, and nothing was written."""

    line: ProofLine
    refused: bool = False


def enter(database: Database, rig_id: int, line: ProofLine, seen: int = 0) -> Kept:
    """Write a line down, or change one; the same line twice is kept once.

    A new line is of the tape that is on the sight, and of the revision that holds; one that is changed stays with
    those it was shot with. Args: seen, the entry that was changed, nought for a new line.
    Raises: NotFound; InvalidValue with the field.
    """
    check_line(line, line.entered.date())
    with database.writing() as connection:
        held = _held(connection, rig_id, line.key)
        if held is None:
            line = replace(
                line, revision=rigs.newest_number(connection, rig_id), laying=_laying(connection, rig_id, line)
            )
        else:
            line = replace(line, revision=held.revision, laying=held.laying, tape=held.tape, label=held.label)
            if _same(line, held):
                return Kept(held)
            if seen != held.entry_id:
                return Kept(held, refused=True)
        return Kept(proof_lines.add(connection, rig_id, line))


def take_back(database: Database, rig_id: int, key: str, now: datetime, again: bool = False) -> None:
    """Take a line back, or put it back again; the log keeps every entry. Raises NotFound."""
    with database.writing() as connection:
        held = _held(connection, rig_id, key)
        if held is None:
            raise NotFound(f"rig {rig_id} has no line {key}")
        if held.removed == again:
            proof_lines.add(connection, rig_id, replace(held, removed=not again, entered=now))


def _held(connection: Connection, rig_id: int, key: str) -> ProofLine | None:
    return next((entry for entry in reversed(proof_lines.log(connection, rig_id)) if entry.key == key), None)


def _same(one: ProofLine, other: ProofLine) -> bool:
    return replace(one, entered=other.entered, entry_id=other.entry_id) == other


def _laying(connection: Connection, rig_id: int, line: ProofLine) -> int:
    """Which laying of its tape a new line is of."""
    said = laid(bench_entries.log(connection, rig_id, STATION))
    return said.entry_id if said is not None and line.tape == said.choice else 0


def lay(database: Database, rig_id: int, code: str, now: datetime, note: str = "") -> None:
    """Say which tape is on the sight; what is said already is not said again. Raises: NotFound; InvalidValue."""
    rig = open_rig(database, rig_id)
    if code not in {each.code for each in rig.prove.tapes}:
        raise InvalidValue("tape", "is not one of this rig's tapes")
    with database.writing() as connection:
        said = laid(bench_entries.log(connection, rig_id, STATION))
        if said is None or said.choice != code:
            _lay(connection, rig_id, code, now, note)


def _lay(connection: Connection, rig_id: int, code: str, now: datetime, note: str) -> None:
    latest = rigs.latest(connection, rig_id)
    entry = BenchEntry(STATION, LAID, latest.number, now, choice=code, note=note)
    check_entry(latest.card, entry)
    bench_entries.add(connection, rig_id, entry)


def mend(database: Database, rig_id: int, way: str, laying: int, why: str, now: datetime) -> int:
    """Write down that the indicator was moved, or the strip laid on anew, as the lines asked: one revision, and a new
    chain of the same tape; returns the revision's number.

    Args: way, INDICATOR or STRIP; laying, the one that was looked at.
    Raises: NotFound where another one is on the sight by now, or none; InvalidValue.
    """
    if way not in (INDICATOR, STRIP) or way not in CAUSES:
        raise InvalidValue("way", "say what was moved: the indicator, or the strip")
    current = open_rig(database, rig_id).prove.current
    if current is None or current.laying != laying:
        raise NotFound("the tape was moved, or another laid on, meanwhile: look again")
    with database.writing() as connection:
        said = laid(bench_entries.log(connection, rig_id, STATION))
        if said is not None and said.choice == current.tape.code and said.entry_id != laying:
            raise NotFound("the tape was moved meanwhile: look again")
        latest = rigs.latest(connection, rig_id)
        number = rigs.add_revision(connection, rig_id, latest.number, latest.card, now, why, Said(happened=(way,)))
        _lay(connection, rig_id, current.tape.code, now, why)
        return number


def split(database: Database, rig_id: int, after: date, laying: int, now: datetime) -> int:
    """Count the lines of the tape that is on the sight that were shot after a day by themselves, for something moved
    then; returns how many. Each is written anew, with another laying of its tape; the log keeps every entry.

    Args: laying, the one that was looked at.
    Raises: NotFound where another one is on the sight by now, or no line is on both sides of the day.
    """
    current = open_rig(database, rig_id).prove.current
    if current is None or current.laying != laying:
        raise NotFound("the tape was moved, or another laid on, meanwhile: look again")
    later = [line for line in current.lines if line.day > after]
    if not later or len(later) == len(current.lines):
        raise NotFound("there are no lines on both sides of that day")
    cold = [line for line, why in current.aside if why == Aside.COLD and line.day > after]
    with database.writing() as connection:
        _lay(connection, rig_id, current.tape.code, now, f"something moved after {after.isoformat()}")
        said = laid(bench_entries.log(connection, rig_id, STATION))
        for line in (*later, *cold):
            proof_lines.add(connection, rig_id, replace(line, laying=said.entry_id if said else 0))
    return len(later)


def take_over(database: Database, rig: Rig, now: datetime, instead: bool = False) -> int:
    """Take the lines of the tape that is on the sight over as marks, each of the day it was shot on; returns how many
    are marks then. Lines that were taken over before are not doubled. Args: instead, the marks that there are were shot
    with another bow than this is by now: they are left out, and stay on the record. Raises: NotFound; InvalidValue."""
    current = rig.prove.current
    if current is None or not can_be_marks(current):
        raise NotFound("there is no line to take over")
    printed = tape.printed_of(database, rig.rig_id)
    rulers = rulers_of(rig, printed)
    count = 0
    for day in sorted({line.day for line in current.lines}):
        edits = [rulers.read(_mark(line, current.tape.code, rulers.strip(current.tape.code).unit_m))
                 for line in current.lines if line.day == day]  # fmt: skip
        tape.save_rows(database, rig.rig_id, edits, datetime.combine(day, time(12), tzinfo=UTC))
        count += len(edits)
    if instead:
        _leave_others_out(database, rig, now)
    return count


def _leave_others_out(database: Database, rig: Rig, now: datetime) -> None:
    """Every mark and end that the lines stand for now, left out with the reason."""
    edits = []
    for row in rig.evaluation.listed:
        entry = row.entry
        if entry.left_out or not row.used or entry.key.startswith(OF_PROOF):
            continue
        if entry.from_range:
            end = rig.range_log.ends[-entry.line - 1]
            at_range.leave_out(database, rig.rig_id, end.key, INSTEAD, now)
            continue
        kept = {name: getattr(entry, name) for name in _ROW}
        edits.append(RowEdit(**kept, left_out=True, reason=INSTEAD, base=entry.entry_id))
    tape.save_rows(database, rig.rig_id, edits, now)


def can_be_marks(chain: Chain) -> bool:
    """Whether lines of this tape are readings of a strip that was printed here."""
    return bool(chain.lines) and chain.tape.code.startswith(PRINTED)


def _mark(line: ProofLine, code: str, unit_m: float) -> RowEdit:
    """A line as a row of the marks table: what the strip read, and how high the arrows came in."""
    reads = f"{(line.dialled_m or 0.0) / unit_m:.4f}".rstrip("0").rstrip(".")
    return RowEdit(
        line.ranged_m, 0.0, line.up_m, line.arrows, key=f"{OF_PROOF}{line.key}", ruler=code, reads=reads, pin=0
    )


def taken_over(rig: Rig, lines: Sequence[ProofLine]) -> int:
    """How many of these lines are marks by now."""
    keys = {entry.key for entry in rig.log if not entry.removed}
    return sum(f"{OF_PROOF}{line.key}" in keys for line in lines)


def lock(database: Database, rig_id: int, name: str, way: str, by: str, now: datetime) -> None:
    """Write down what was done to a joint; SPARE as its name is the spare strip in the kit. Raises: NotFound;
    InvalidValue: no such way, nobody said who, thread-locker over anti-seize or the other way round."""
    with database.writing() as connection:
        latest = rigs.latest(connection, rig_id)
        key = SPARE if name == SPARE else f"{LOCK}{name}"
        if key != SPARE and key not in {joint.key for joint in joints(latest.card)}:
            raise NotFound("this sight has no such joint")
        entry = BenchEntry(STATION, key, latest.number, now, choice=way, note=by)
        check_entry(latest.card, entry)
        check_thread(standing(bench_entries.log(connection, rig_id, STATION)).get(key, []), entry)
        keep_entry(connection, rig_id, entry)
