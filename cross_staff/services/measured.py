"""What was measured of a rig, at every station: on which results each hangs, what set it aside, what a save would."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.level.log import LevelReading, kept
from cross_staff.core.mount import station as mount
from cross_staff.core.prepare import station as prepare
from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.log import kept as proof_kept
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronographed import would_be_brought_over
from cross_staff.core.rig.correction import Change, Meaning, likely
from cross_staff.core.rig.events import ALL_MARKS, CAUSES, PROOF_HANGS_ON, RESULTS, Cause
from cross_staff.core.rig.log import BenchEntry, newest
from cross_staff.core.rig.staleness import Event, Said, Timeline, made_stale, noticed
from cross_staff.core.sight_in.log import End
from cross_staff.core.tape.rows import TapeMark
from cross_staff.storage import bench_entries, level_readings, observations, proof_lines, range_log, rigs
from cross_staff.storage.rigs import Revision

# what each kind of record hangs on
ENDS_HANG_ON = ("windage", *ALL_MARKS)
LEVEL_HANGS_ON = ("level", "later_axes", "draw_twist")


@dataclass(frozen=True)
class Measured:
    """One record: its station, its kind (checks, steps, looks, ends, marks, proofs, speed), what it hangs on, the
    revision it was made at and when."""

    station: str
    kind: str
    hangs_on: tuple[str, ...]
    revision: int
    entered: datetime


@dataclass(frozen=True)
class Records:
    """The records of a rig that something can set aside, as they stand, and the chain of what happened."""

    timeline: Timeline
    records: tuple[Measured, ...]

    def holding(self) -> tuple[Measured, ...]:
        """Those that hold now."""
        return tuple(r for r in self.records if self.timeline.set_aside(r.hangs_on, r.revision) is None)


def measured(connection: Connection, rig_id: int) -> Records:
    """Everything that was measured of a rig. Raises NotFound."""
    return measured_of(
        rigs.revisions(connection, rig_id),
        bench_entries.logs(connection, rig_id),
        level_readings.log(connection, rig_id),
        range_log.ends(connection, rig_id),
        observations.log(connection, rig_id),
        proof_lines.log(connection, rig_id),
    )


def measured_of(
    history: Sequence[Revision],
    logs: Mapping[str, Sequence[BenchEntry]],
    looks: Sequence[LevelReading],
    ends: Sequence[End],
    marks: Sequence[TapeMark],
    proofs: Sequence[ProofLine],
) -> Records:
    """The same of what was read already."""
    return Records(
        Timeline([each.state for each in history]),
        (*_entries(logs), *_looks(looks), *_ends(ends), *_marks(marks), *_proofs(proofs), *_speed(history)),
    )


def _entries(logs: Mapping[str, Sequence[BenchEntry]]) -> Iterable[Measured]:
    for key, entry in newest(logs.get(prepare.STATION, ())).items():
        hangs_on = CHECKS[key].hangs_on if key in CHECKS else "tune"
        yield Measured("prepare", "checks", (hangs_on,), entry.revision, entry.entered)
    stay = {step.key for step in mount.STEPS if step.stays}
    for entry in (e for key, e in newest(logs.get(mount.STATION, ())).items() if key not in stay):
        yield Measured("mount", "steps", ("clearance",), entry.revision, entry.entered)


def _looks(log: Sequence[LevelReading]) -> Iterable[Measured]:
    for reading in (each for each in kept(log) if not each.turn):
        yield Measured("level", "looks", LEVEL_HANGS_ON, reading.revision, reading.entered)


def _ends(ends: Sequence[End]) -> Iterable[Measured]:
    for end in ends:
        if end.arrows and not end.removed and not end.left_out:
            yield Measured("sight_in", "ends", ENDS_HANG_ON, end.revision, end.entered)


def _marks(log: Sequence[TapeMark]) -> Iterable[Measured]:
    for mark in {entry.line: entry for entry in log}.values():
        if not mark.removed and not mark.left_out:
            yield Measured("tape", "marks", ALL_MARKS, mark.revision, mark.entered)


def _proofs(log: Sequence[ProofLine]) -> Iterable[Measured]:
    for line in (each for each in proof_kept(log) if not each.label):
        yield Measured("prove", "proofs", PROOF_HANGS_ON, line.revision, line.entered)


def _speed(history: Sequence[Revision]) -> Iterable[Measured]:
    """The newest session at the chronograph of the build in use, at the revision that it was first written down."""
    build = history[-1].card.build
    if not build.newest_session.kept_mps:
        return
    readings = build.newest_session.readings_mps
    for each in history:
        if any(session.readings_mps == readings for build in each.card.builds for session in build.sessions):
            yield Measured("card", "speed", ("speed",), each.number, each.saved)
            return


@dataclass(frozen=True)
class Question:
    """What is asked before a save: the cause that it looks like, the fields that show it, the answer that is offered
    first, and how much of each kind that was measured would be set aside."""

    cause: Cause
    fields: tuple[Change, ...]
    likely: Meaning
    sets_aside: tuple[tuple[str, int], ...]

    @property
    def results(self) -> tuple[str, ...]:
        """What it would make old."""
        return self.cause.makes_stale


def questions(kept: Records, old: RigCard, new: RigCard, said: Said) -> tuple[Question, ...]:
    """What is to be asked before `new` is saved over `old`: of each cause that the card shows, that nothing was said
    of, and that would set aside something that holds now."""
    answered = {key for key, _ in said.meant}
    shown = {key: fields for key, fields in noticed(old, new).items() if key not in answered}
    if not shown:
        return ()
    holding = kept.holding()
    asked = []
    for key, fields in shown.items():
        lost = _kinds(record for record in holding if set(CAUSES[key].makes_stale).intersection(record.hangs_on))
        shot = would_be_brought_over(old, new, key)
        if shot and "speed" not in dict(lost):
            lost = (*lost, ("speed", shot))
        if lost:
            asked.append(Question(CAUSES[key], fields, likely(fields), lost))
    return tuple(asked)


def would_set_aside(kept: Records, results: Iterable[str]) -> tuple[tuple[str, int], ...]:
    """How much of each kind that holds now would be set aside, if these results were old."""
    old = set(results)
    return _kinds(record for record in kept.holding() if old.intersection(record.hangs_on))


def _kinds(records: Iterable[Measured]) -> tuple[tuple[str, int], ...]:
    counts: dict[str, int] = {}
    for record in records:
        counts[record.kind] = counts.get(record.kind, 0) + 1
    return tuple(counts.items())


@dataclass(frozen=True)
class SetAside:
    """What one event set aside at a station: how many records of a kind, the event, which of its results they hang
    on, and when the newest of them was made."""

    station: str
    kind: str
    count: int
    event: Event
    results: tuple[str, ...]
    newest: datetime


def set_aside(kept: Records) -> tuple[SetAside, ...]:
    """What is set aside, by station, kind and event, the newest event first."""
    found: dict[tuple[str, str, int], list[tuple[Measured, Event]]] = {}
    for record in kept.records:
        event = kept.timeline.set_aside(record.hangs_on, record.revision)
        if event is not None:
            found.setdefault((record.station, record.kind, event.number), []).append((record, event))
    told = [
        SetAside(
            station,
            kind,
            len(pairs),
            pairs[0][1],
            tuple(r for r in RESULTS if any(r in record.hangs_on for record, _ in pairs) and r in pairs[0][1].results),
            max(record.entered for record, _ in pairs),
        )
        for (station, kind, _), pairs in found.items()
    ]
    return tuple(sorted(told, key=lambda each: -each.event.number))


def told(kept: Records) -> tuple[Event, ...]:
    """The events that are worth telling, oldest first: those that somebody said, and of those that only the card
    showed the ones before which anything was measured that they touch."""
    return tuple(
        event
        for event in kept.timeline.events
        if len(event.noticed) < len(event.causes)
        or any(
            r.revision < event.number and set(made_stale(event.causes)).intersection(r.hangs_on) for r in kept.records
        )
    )
