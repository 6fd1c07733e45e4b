"""The tape: its marks and groups, the fit, the printed sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import NotFound
from cross_staff.core.reckoning import Entry, tape_layout
from cross_staff.core.sheet import Sheet, SheetStyle, compose
from cross_staff.core.tape import BESIDE_SCALES, TapeLayout
from cross_staff.services.rig import RigView, view
from cross_staff.storage import observations, range_log, rigs
from cross_staff.storage.database import Database

# a change smaller than these is only the rounding of what was shown
_SAME_DISTANCE_M, _SAME_MARK_MM, _SAME_UP_M = 0.006, 0.0006, 0.0006


@dataclass(frozen=True)
class RowEdit:
    """A row as it comes from the table: line and base are None for a new one.

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


@dataclass(frozen=True)
class Outcome:
    """What became of the edits, one each: the entry that now holds, and whether somebody else had
    changed the row meanwhile (then nothing was written for it, and the other's entry stands)."""

    entry: Entry
    conflict: bool


def save_rows(database: Database, rig_id: int, edits: Sequence[RowEdit], now: datetime) -> list[Outcome]:
    """Write what changed as new entries of the log; untouched rows write nothing. Raises NotFound."""
    with database.writing() as connection:
        revision = rigs.latest(connection, rig_id).number
        entries = {entry.entry_id: entry for entry in observations.log(connection, rig_id)}
        outcomes = []
        for edit in edits:
            rows = _Rows(entries)
            held, seen = rows.held(edit), rows.seen(edit)
            wanted = Entry(
                held.line if held else rows.next_line,
                0,
                revision,
                now,
                edit.ranged_m,
                edit.mark_mm,
                edit.up_m,
                edit.arrows,
                edit.left_out,
                edit.removed,
                held.key if held else edit.key,
            )
            outcome = _write(connection, rig_id, wanted, held, seen)
            entries[outcome.entry.entry_id] = outcome.entry
            outcomes.append(outcome)
    return outcomes


class _Rows:
    """The log as rows: which entry an edit is about, and which one its writer saw."""

    def __init__(self, entries: dict[int, Entry]) -> None:
        self._entries = entries
        self._newest = {entry.line: entry for entry in entries.values()}
        self._first: dict[str, Entry] = {}
        for entry in entries.values():
            if entry.key:
                self._first.setdefault(entry.key, entry)

    @property
    def next_line(self) -> int:
        return max(self._newest, default=0) + 1

    def held(self, edit: RowEdit) -> Entry | None:
        first = self._first.get(edit.key)
        line = first.line if edit.line is None and first else edit.line
        return None if line is None else self._newest.get(line)

    def seen(self, edit: RowEdit) -> Entry | None:
        if edit.base is None:
            return self._first.get(edit.key)
        return self._entries.get(edit.base)


def _write(
    connection: Connection,
    rig_id: int,
    wanted: Entry,
    held: Entry | None,
    seen: Entry | None,
) -> Outcome:
    if held is not None and _same(wanted, held):
        return Outcome(held, False)
    if held is not None and (seen is None or seen.entry_id != held.entry_id):
        untouched = seen is not None and _same(wanted, seen)
        return Outcome(held, not untouched)
    if held is not None and _same_measurement(wanted, held):
        wanted = replace(wanted, revision=held.revision)  # leaving out is not measuring again
    entry_id = observations.add(connection, rig_id, wanted)
    return Outcome(replace(wanted, entry_id=entry_id), False)


def _same(one: Entry, other: Entry) -> bool:
    flags = (one.left_out, one.removed) == (other.left_out, other.removed)
    return flags and _same_measurement(one, other)


def _same_measurement(one: Entry, other: Entry) -> bool:
    """Whether the measurement itself is the same."""
    ups = (one.up_m is None) == (other.up_m is None)
    return (
        ups
        and one.arrows == other.arrows
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


def confirm_marks(database: Database, rig_id: int, now: datetime) -> int:
    """Say that all marks which a change of the rig made old still hold; returns how many."""
    with database.writing() as connection:
        found = view(connection, rig_id)
        old = found.reckoning.old
        for row in old:
            if row.entry.from_range:
                end = found.range_log.ends[-row.entry.line - 1]
                range_log.add_end(connection, rig_id, replace(end, revision=found.revision.number, entered=now))
                continue
            fresh = replace(row.entry, revision=found.revision.number, entered=now)
            observations.add(connection, rig_id, fresh)
    return len(old)


def read_scale_other_way(database: Database, rig_id: int, now: datetime) -> None:
    """Read the sight's scale in the other direction, as a revision of the card."""
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        tape = current.card.tape
        card = current.card.with_tape(replace(tape, scale_grows=not tape.scale_grows))
        why = "the sight's scale is read the other way"
        rigs.add_revision(connection, rig_id, current.number, card, now, why)


def tapes_to_print(found: RigView, from_m: float, to_m: float) -> dict[float, TapeLayout]:
    """The fitted tape and its neighbours, by their scale about home.

    Raises: OutOfReach while there is no fit; InvalidValue when there is nothing to print.
    """
    return {s: tape_layout(found.card, found.reckoning, from_m, to_m, s) for s in BESIDE_SCALES}


def sheet(
    found: RigView,
    from_m: float,
    to_m: float,
    style: SheetStyle,
    heading: Sequence[str],
    waste: Sequence[str],
) -> Sheet:
    """The printed sheet. Raises: OutOfReach, InvalidValue as `tapes_to_print` and `compose`."""
    return compose(tapes_to_print(found, from_m, to_m), style, heading, waste)
