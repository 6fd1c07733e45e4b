"""The tape: its marks and groups, the fit, the printed sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import NotFound, OutOfReach
from cross_staff.core.printing.sheet import PrintedStrip, PrintedTape, SheetStyle
from cross_staff.core.tape.checks import check_mark
from cross_staff.core.tape.edges import TapeEdges, tape_edges
from cross_staff.core.tape.layout import Wanted, tape_layout, tape_rows
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.scale import TapeLayout
from cross_staff.core.tape.station import pin_now, ratio_known
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.ends import pins_at
from cross_staff.services.tape.booklet import RATIO_UNKNOWN
from cross_staff.storage import observations, printed_tapes, rigs
from cross_staff.storage.database import Database
from cross_staff.storage.printed_tapes import KeptTape

# a change smaller than these is only the rounding of what was shown
_SAME_DISTANCE_M, _SAME_MARK_MM, _SAME_UP_M = 0.006, 0.0006, 0.0006


@dataclass(frozen=True)
class RowEdit:
    """A row as it comes from the table: line and base are None for a new one; reason, why it is left out; ruler, what
    it was read off, from_m, reads and laid_mm as `TapeMark` has them.

    base is the entry that the person saw; key names a new row, so that the same row sent twice (by a
    double click, or by a change and a click at once) is kept once.
    """

    ranged_m: float
    mark_mm: float
    up_m: float | None = None
    arrows: int | None = None
    left_out: bool = False
    removed: bool = False
    line: int | None = None
    base: int | None = None
    key: str = ""
    pin: int = 0
    reason: str = ""
    ruler: str = ""
    from_m: float | None = None
    reads: str = ""
    reading_sd_mm: float | None = None
    laid_mm: float | None = None


@dataclass(frozen=True)
class Outcome:
    """What became of the edits, one each: the entry that now holds; whether somebody else had changed
    the same cells of the row meanwhile (then nothing was written for it, and the other's entry stands);
    whether the row was joined with other cells that somebody else had changed."""

    entry: TapeMark
    conflict: bool
    joined: bool = False


def save_rows(database: Database, rig_id: int, edits: Sequence[RowEdit], now: datetime) -> list[Outcome]:
    """Write what changed as new entries of the log; untouched rows write nothing. Raises NotFound;
    InvalidValue for a row that cannot be: then none is written."""
    with database.writing() as connection:
        latest = rigs.latest(connection, rig_id)
        pins = pins_at(connection, rig_id, latest.card)
        entries = {entry.entry_id: entry for entry in observations.log(connection, rig_id)}
        outcomes = []
        for edit in edits:
            rows = _Rows(entries)
            held, seen = rows.held(edit), rows.seen(edit)
            wanted = TapeMark(
                held.line if held else rows.next_line,
                0,
                latest.number,
                now,
                edit.ranged_m,
                edit.mark_mm,
                edit.up_m,
                edit.arrows,
                edit.left_out,
                edit.removed,
                held.key if held else edit.key,
                pin=edit.pin,
                reason=edit.reason if edit.left_out else "",
                ruler=edit.ruler,
                from_m=edit.from_m,
                reads=edit.reads,
                reading_sd_mm=edit.reading_sd_mm,
                laid_mm=edit.laid_mm,
            )
            check_mark(wanted, pins, held)
            outcome = _write(connection, rig_id, wanted, held, seen)
            entries[outcome.entry.entry_id] = outcome.entry
            outcomes.append(outcome)
    return outcomes


class _Rows:
    """The log as rows: which entry an edit is about, and which one its writer saw."""

    def __init__(self, entries: dict[int, TapeMark]) -> None:
        self._entries = entries
        self._newest = {entry.line: entry for entry in entries.values()}
        self._first: dict[str, TapeMark] = {}
        for entry in entries.values():
            if entry.key:
                self._first.setdefault(entry.key, entry)

    @property
    def next_line(self) -> int:
        return max(self._newest, default=0) + 1

    def held(self, edit: RowEdit) -> TapeMark | None:
        first = self._first.get(edit.key)
        line = first.line if edit.line is None and first else edit.line
        return None if line is None else self._newest.get(line)

    def seen(self, edit: RowEdit) -> TapeMark | None:
        if edit.base is None:
            return self._first.get(edit.key)
        return self._entries.get(edit.base)


def _write(
    connection: Connection,
    rig_id: int,
    wanted: TapeMark,
    held: TapeMark | None,
    seen: TapeMark | None,
) -> Outcome:
    if held is not None and _same(wanted, held):
        return Outcome(held, False)
    joined = False
    if held is not None and (seen is None or seen.entry_id != held.entry_id):
        if seen is not None and _same(wanted, seen):
            return Outcome(held, False, True)
        both = _joined(wanted, held, seen) if seen is not None else None
        if both is None:
            return Outcome(held, True)
        wanted, joined = both, True
    if held is not None and _same_measurement(wanted, held):
        wanted = replace(wanted, revision=held.revision)  # leaving out is not measuring again
    entry_id = observations.add(connection, rig_id, wanted)
    return Outcome(replace(wanted, entry_id=entry_id), False, joined)


def _joined(wanted: TapeMark, held: TapeMark, seen: TapeMark) -> TapeMark | None:
    """A row that two changed in different cells; None where both changed the same one to different things, or
    one of them took it out."""
    if held.removed or wanted.removed:
        return None
    read = [(each.ruler, each.from_m, each.reads) for each in (wanted, held)]
    if read[0] != read[1]:
        return None  # what was read, and off what, go together
    values = {}
    for name in ("ranged_m", "mark_mm", "up_m", "arrows", "pin", "left_out", "reason"):
        mine, theirs, was = (_cell(each, name) for each in (wanted, held, seen))
        if mine not in (was, theirs) and theirs != was:
            return None
        values[name] = getattr(held if mine == was else wanted, name)
    return replace(wanted, **values)


_STEPS = {"ranged_m": _SAME_DISTANCE_M, "mark_mm": _SAME_MARK_MM, "up_m": _SAME_UP_M}


def _cell(entry: TapeMark, name: str) -> object:
    """A cell to be compared: numbers no finer than they are shown."""
    value = getattr(entry, name)
    return value if value is None or name not in _STEPS else round(value / (2.0 * _STEPS[name]))


def _same(one: TapeMark, other: TapeMark) -> bool:
    flags = (one.left_out, one.removed, one.reason) == (other.left_out, other.removed, other.reason)
    return flags and _same_measurement(one, other)


def _same_measurement(one: TapeMark, other: TapeMark) -> bool:
    """Whether the measurement itself is the same."""
    ups = (one.up_m is None) == (other.up_m is None)
    return (
        ups
        and (one.ruler, one.reads) == (other.ruler, other.reads)
        and abs((one.from_m or 0.0) - (other.from_m or 0.0)) < _SAME_DISTANCE_M
        and one.arrows == other.arrows
        and one.pin == other.pin
        and abs(one.ranged_m - other.ranged_m) < _SAME_DISTANCE_M
        and abs(one.mark_mm - other.mark_mm) < _SAME_MARK_MM
        and abs((one.up_m or 0.0) - (other.up_m or 0.0)) < _SAME_UP_M
    )


def undo(database: Database, rig_id: int, entry_id: int, now: datetime) -> None:
    """Take the newest change of a row back by adding what stood before it; the log keeps both.

    Raises: NotFound for an entry of another rig, or one that a newer entry has replaced.
    """
    with database.writing() as connection:
        log = observations.log(connection, rig_id)
        change = next((entry for entry in log if entry.entry_id == entry_id), None)
        if change is None:
            raise NotFound(f"rig {rig_id} has no entry {entry_id} in its log")
        line = [entry for entry in log if entry.line == change.line]
        if line[-1] != change:
            raise NotFound("that entry was changed again meanwhile; undo the newest one")
        before = line[-2] if len(line) > 1 else replace(change, removed=True)
        observations.add(connection, rig_id, replace(before, entered=now))


def read_scale_other_way(database: Database, rig_id: int, now: datetime) -> None:
    """Read the sight's scale in the other direction, as a revision of the card."""
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        tape = current.card.tape
        card = current.card.with_tape(replace(tape, scale_grows=not tape.scale_grows))
        why = "the sight's scale is read the other way"
        rigs.add_revision(connection, rig_id, current.number, card, now, why)


@dataclass(frozen=True)
class OtherEdge:
    """What a second edge of the tape carries: another unit of distance [m], another pin, or the same."""

    unit_m: float | None = None
    pin: int | None = None


@dataclass(frozen=True)
class StripsBeside:
    """The strips of a sheet, each with both edges if there are two: at the nearer edge of what the tape may be, as
    fitted, at the farther edge; and where one knows which it is. A tape that is sure enough has only the fitted one."""

    nearer: tuple[TapeLayout, ...] | None
    fitted: tuple[TapeLayout, ...]
    farther: tuple[TapeLayout, ...] | None
    edges: TapeEdges | None


def tapes_to_print(rig: Rig, wanted: Wanted, other: OtherEdge | None = None) -> StripsBeside:
    """The fitted tape and those at the edges of its uncertainty, with a second edge where one is asked.

    Raises: OutOfReach while there is no fit; InvalidValue when there is nothing to print.
    """
    reach = rig.reach
    wanted = replace(wanted, reach_m=reach.farthest_m if reach else None)
    sides = [wanted]
    if other is not None:
        sides.append(replace(wanted, unit_m=other.unit_m or wanted.unit_m))
        if other.pin is not None:
            sides[1] = replace(sides[1], pin=other.pin, from_m=_begins(rig, other.pin, wanted.from_m))

    def laid_out(edge: float) -> tuple[TapeLayout, ...]:
        return tuple(tape_layout(rig.card, rig.evaluation, replace(side, edge=edge)) for side in sides)

    edges = edges_of(rig, wanted.to_m)
    beside = (laid_out(-1.0), laid_out(1.0)) if edges is not None else (None, None)
    return StripsBeside(beside[0], laid_out(0.0), beside[1], edges)


def edges_of(rig: Rig, to_m: float) -> TapeEdges | None:
    """The edges of a tape that goes so far [m as ranged]; None where they are no strips of their own."""
    return tape_edges(rig.card, rig.evaluation, to_m)


def home_between(rig: Rig, wanted: Wanted) -> float | None:
    """Where home is, where it falls between two lines of the strip [m as ranged]; None where a line is home's, or the
    strip does not begin there."""
    home, unit = rig.evaluation.tape_home_m, wanted.unit_m or rig.card.tape.unit_m
    if home is None or wanted.from_m > home + 0.005 * unit:
        return None
    count = home / unit
    return None if abs(count - round(count)) < 0.005 else home


def _begins(rig: Rig, pin: int, from_m: float) -> float:
    """Where another pin's tape begins beside one that begins at `from_m`: with the sight where it then is."""
    card, evaluation = rig.card, rig.evaluation
    if evaluation.fit is None:
        return from_m
    first = tape_rows(card, evaluation, Wanted(from_m, from_m), [from_m])[0].mark_mm
    begins = None if first is None else pin_now(card, evaluation.fit, pin, first)
    return from_m if begins is None else begins


@dataclass(frozen=True)
class StripWords:
    """What a sheet says: its heading, the lines on the waste edge, the names of the strips at the nearer edge, as
    fitted and at the farther one, and the number of home where it falls between two lines."""

    heading: tuple[str, ...]
    waste: tuple[str, ...]
    nearer: str = "nearer"
    fitted: str = "fitted"
    farther: str = "farther"
    home: str = ""


def printed(
    rig: Rig, wanted: Wanted, style: SheetStyle, words: StripWords, other: OtherEdge | None = None
) -> PrintedTape:
    """What is printed. Raises: OutOfReach, InvalidValue as `tapes_to_print`."""
    if ratio_known(rig.card, rig.evaluation) is None:
        raise OutOfReach(RATIO_UNKNOWN)
    beside = tapes_to_print(rig, wanted, other)
    named = ((words.nearer, beside.nearer), (words.fitted, beside.fitted), (words.farther, beside.farther))
    strips = tuple(PrintedStrip(name, edges, words.home) for name, edges in named if edges is not None)
    evaluation, fit = rig.evaluation, rig.evaluation.fit
    read = fit is not None and bool(fit.observations) and fit.on_scale
    mark = rig.card.tape.direction * evaluation.home_mark_mm if read else None
    return PrintedTape(strips, style, words.heading, words.waste, evaluation.tape_home_m, mark)


def keep_printed(database: Database, rig_id: int, tape: PrintedTape, now: datetime) -> int:
    """Keep a tape as it is printed, so that it can be printed again; returns its number. The same tape twice
    in a row is one. Raises NotFound, InvalidValue as `compose`."""
    tape.sheet()
    with database.writing() as connection:
        revision = rigs.latest(connection, rig_id).number
        kept = printed_tapes.of_rig(connection, rig_id)
        if kept and kept[-1].tape == tape:
            return kept[-1].number
        return printed_tapes.add(connection, rig_id, revision, tape, now)


def printed_of(database: Database, rig_id: int) -> list[KeptTape]:
    """Every tape that was printed for a rig, oldest first."""
    with database.reading() as connection:
        return printed_tapes.of_rig(connection, rig_id)


def printed_one(database: Database, rig_id: int, number: int) -> KeptTape:
    """One of them. Raises NotFound."""
    kept = next((each for each in printed_of(database, rig_id) if each.number == number), None)
    if kept is None:
        raise NotFound(f"rig {rig_id} has no printed tape {number}")
    return kept
