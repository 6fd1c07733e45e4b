"""Ends of arrows as pages and files send them: again and again, from two windows, many at once; each is kept once."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.checks import IMPORT, check_end
from cross_staff.core.sight_in.log import STATION, End, GroupLine, RangeLog, RangeSession, standing_imports
from cross_staff.core.sight_in.procedures import answers, pin_distances
from cross_staff.storage import bench_entries, range_log, rigs
from cross_staff.storage.database import Database

NEW_SESSION_HOURS = 6.0  # arrows later than this are another visit
HEAD = ("ranged_m", "pin", "dial_mm", "note", "dial_from", "line")


@dataclass(frozen=True)
class EndHead:
    """What stands over the arrows of an end: how far [m as ranged], which pin, what the dial read [mm] and where that
    came from, a note; the group, where it was written as one line."""

    ranged_m: float | None
    pin: int = 0
    dial_mm: float | None = None
    note: str = ""
    dial_from: str = ""
    line: GroupLine | None = None


def head_of(end: End | None) -> EndHead | None:
    """What stands over the arrows of an end that is kept."""
    return EndHead(**{name: getattr(end, name) for name in HEAD}) if end else None


@dataclass(frozen=True)
class EndDraft:
    """An end as a page sends it, again and again: every shot with its own key, those taken back by
    their keys; `seen`, the head as its writer last saw it kept, None for one that was not kept yet."""

    key: str
    ranged_m: float | None
    pin: int = 0
    dial_mm: float | None = None
    shots: tuple[Shot, ...] = ()
    taken_back: tuple[str, ...] = ()
    note: str = ""
    session: int | None = None
    seen: EndHead | None = None
    dial_from: str = ""
    line: GroupLine | None = None

    @property
    def head(self) -> EndHead:
        """What stands over its arrows."""
        return EndHead(**{name: getattr(self, name) for name in HEAD})


@dataclass(frozen=True)
class SavedEnd:
    """An end as it stands now, and those fields of its head that its writer and somebody else changed: they
    stand as the other wrote them, until somebody says which is right."""

    end: End
    asked: tuple[str, ...] = ()


def kept_end(database: Database, rig_id: int, key: str) -> tuple[End | None, dict[str, str]]:
    """An end as it stands, None for a new one, and the units of its rig's pages: what an end that is sent is joined
    with. Nothing is reckoned, so that a shot is kept at once, and of any rig. Raises NotFound."""
    with database.reading() as connection:
        units = rigs.row(connection, rig_id).units
        return next(iter(range_log.ends(connection, rig_id, key)), None), units


def save_end(database: Database, rig_id: int, draft: EndDraft, now: datetime) -> SavedEnd:
    """Keep an end as far as it is shot; returns it as it stands.

    Sent twice, or from two windows, it is one end and every shot one shot: shots are joined by their
    keys, and one that was taken back stays so; what the writer did not touch in the head stays as somebody
    else wrote it. Raises NotFound; InvalidValue.
    """
    with database.writing() as connection:
        return EndWriter(connection, rig_id, now, draft.key).save(draft)


@dataclass(frozen=True)
class Imported:
    """How many shots, or groups as one line, came in; how many were here already."""

    new: int
    known: int = 0


def import_ends(
    database: Database,
    rig_id: int,
    drafts: Sequence[EndDraft],
    now: datetime,
    tell: Callable[[int, int], None] = lambda _done, _of: None,
) -> Imported:
    """Keep several ends, all of them or none, so that they can be taken back together; `tell` is told again and
    again how many shots are in, of how many. Raises NotFound; InvalidValue."""
    count, done = sum(len(draft.shots) for draft in drafts), 0
    with database.writing() as connection:
        first = range_log.newest_shot(connection)
        writer = EndWriter(connection, rig_id, now)
        for draft in drafts:  # what stands over an end that is here already stays: only its shots come in
            tell(done, count)
            writer.save(replace(draft, seen=draft.head))
            done += len(draft.shots)
        tell(done, count)
        last = range_log.newest_shot(connection)
        groups = sum(draft.line is not None and draft.key not in writer.known for draft in drafts)
        imported = Imported(last - first + groups, count - (last - first))
        if imported.new:
            revision = rigs.newest_number(connection, rig_id)
            points = ((float(first), float(last)),)
            entry = BenchEntry(STATION, IMPORT, revision, now, float(imported.new), points=points)
            bench_entries.add(connection, rig_id, entry)
        return imported


def take_import_back(database: Database, rig_id: int, now: datetime) -> int:
    """Take the newest import back: shots that it changed are as they were, those that it brought are taken out, and
    ends that are left empty; the log keeps all. Returns how many shots. Raises NotFound where there is none."""
    with database.writing() as connection:
        log = bench_entries.log(connection, rig_id, STATION)
        imports = standing_imports(log)
        if not imports:
            raise NotFound("there is no import to take back")
        (first, last), *_ = imports[-1].points
        brought = range_log.shots_between(connection, rig_id, int(first), int(last))
        for end_key, shot in brought:
            before = range_log.shot_before(connection, rig_id, end_key, shot.key, int(first))
            known, removed = before or (shot, True)
            range_log.add_shots(connection, rig_id, end_key, [(known, removed)], now)
        ends = {end.key: end for end in range_log.ends(connection, rig_id)}
        groups = [end.key for end in ends.values() if end.line is not None and end.entered == imports[-1].entered]
        for end_key in dict.fromkeys((*(end_key for end_key, _ in brought), *groups)):
            end = ends[end_key]
            if not end.removed and not end.shots:
                range_log.add_end(connection, rig_id, replace(end, removed=True, entered=now))
        bench_entries.add(connection, rig_id, replace(imports[-1], entered=now, removed=True))
        return len(brought) + len(groups)


class EndWriter:
    """Writes ends of one rig, or the one of a key, within one transaction, reading what stands once."""

    def __init__(self, connection: Connection, rig_id: int, now: datetime, only: str | None = None) -> None:
        self.connection, self.rig_id, self.now = connection, rig_id, now
        latest = rigs.latest(connection, rig_id)
        self.revision, self.build = latest.number, latest.card.build.name
        self.ends = {end.key: end for end in range_log.ends(connection, rig_id, only)}
        self.known = frozenset(self.ends)
        self.pins = pins_at(connection, rig_id, latest.card)
        self.current: int | None = None

    @cached_property
    def sessions(self) -> list[RangeSession]:
        return list(range_log.sessions(self.connection, self.rig_id))

    @cached_property
    def place(self) -> int:
        """Of the next new end."""
        return range_log.next_place(self.connection, self.rig_id)

    def save(self, draft: EndDraft) -> SavedEnd:
        """Keep one end. Raises InvalidValue."""
        if not draft.key:
            raise InvalidValue("key", "an end needs a key of its own")
        held = self.ends.get(draft.key)
        head, asked = _merged(draft, held)
        shots = self._shots(draft, held)
        wanted = End(
            draft.key, self._session(draft, held), held.revision if held else self.revision,
            held.entered if held else self.now, head.ranged_m, head.pin, head.dial_mm, shots, head.note,
            held.left_out if held else False, held.removed if held else False, held.asked if held else False,
            held.order if held else self.place, head.dial_from, head.line,
        )  # fmt: skip
        check_end(wanted, self.pins, held)
        if held is None or replace(held, shots=()) != replace(wanted, shots=()):
            range_log.add_end(self.connection, self.rig_id, replace(wanted, entered=self.now))
        if held is None:
            self.place += 1
        self._keep_shots(draft.key, shots, held)
        self.ends[draft.key] = wanted
        return SavedEnd(wanted, asked)

    def _shots(self, draft: EndDraft, held: End | None) -> tuple[Shot, ...]:
        """The shots as they stand then: what was taken back once stays so."""
        standing = {shot.key: shot for shot in held.shots} if held else {}
        ever = range_log.shot_keys(self.connection, self.rig_id, draft.key) if held else set()
        gone = (ever - set(standing)) | set(draft.taken_back)
        joined = standing | {shot.key: shot for shot in draft.shots}
        return tuple(shot for key, shot in joined.items() if key not in gone)

    def _keep_shots(self, end_key: str, shots: Iterable[Shot], held: End | None) -> None:
        standing = {shot.key: shot for shot in held.shots} if held else {}
        wanted = {shot.key: shot for shot in shots}
        changed = [(shot, False) for key, shot in wanted.items() if standing.get(key) != shot]
        changed += [(shot, True) for key, shot in standing.items() if key not in wanted]
        range_log.add_shots(self.connection, self.rig_id, end_key, changed, self.now)

    def _session(self, draft: EndDraft, held: End | None) -> int:
        """The session that an end belongs to; a new one after some hours. Raises InvalidValue."""
        if draft.session is not None:
            if all(session.number != draft.session for session in self.sessions):
                raise InvalidValue("session", "there is no such session: open the page again")
            return draft.session
        if held is not None:
            return held.session
        if self.current is None:
            self.current = self._current()
        return self.current

    def _current(self) -> int:
        ends = range_log.ends(self.connection, self.rig_id)
        if self.sessions and _last_used(ends, self.sessions[-1], self.now):
            return self.sessions[-1].number
        session = RangeSession(0, self.revision, self.now, build=self.build)
        return keep_session(self.connection, self.rig_id, session, self.sessions)


def _merged(draft: EndDraft, held: End | None) -> tuple[EndHead, tuple[str, ...]]:
    """The head that holds: what the writer changed, else what stands; and the fields that both changed."""
    mine = draft.head
    if held is None:
        return mine, ()
    theirs = head_of(held)
    values: dict[str, object] = {}
    asked = []
    for name in HEAD:
        own, other = getattr(mine, name), getattr(theirs, name)
        seen = getattr(draft.seen, name) if draft.seen else other
        values[name] = other if own == seen else own
        if own not in (seen, other) and other != seen:
            values[name] = other
            asked.append(name)
    return EndHead(**values), tuple(asked)  # type: ignore[arg-type]


def keep_session(connection: Connection, rig_id: int, session: RangeSession, known: Sequence[RangeSession]) -> int:
    """A newer entry of a session, or a new one where its number is none; returns its number."""
    begun = next((s for s in known if session.key and s.key == session.key), None)
    held = next((s for s in known if s.number == session.number), begun)
    number = held.number if held else 1 + max((s.number for s in known), default=0)
    wanted = replace(session, number=number, key=held.key if held else session.key)
    if held is None or replace(wanted, entered=held.entered, revision=held.revision) != held:
        range_log.add_session(connection, rig_id, wanted)
    return number


def _last_used(ends: Iterable[End], session: RangeSession, now: datetime) -> bool:
    times = [session.entered, *(end.entered for end in ends if end.session == session.number)]
    return (now - max(times)).total_seconds() < 3600.0 * NEW_SESSION_HOURS


def pins_at(connection: Connection, rig_id: int, card: RigCard) -> int:
    """How many pins can be aimed with."""
    return pin_count(card, RangeLog(entries=tuple(bench_entries.log(connection, rig_id, STATION))).chosen)


def pin_count(card: RigCard, chosen: dict[str, str]) -> int:
    """How many pins can be aimed with, by the schools that were chosen."""
    return max(len(pin_distances(card, answers(card, chosen))), len(card.sight.pins), 1)
