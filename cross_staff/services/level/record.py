"""Level: readings as they are taken, taking one back, the bow plumb, an axis accepted in writing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level.log import AXES, RESEATED, LevelReading, kept
from cross_staff.core.level.rests import check_centred, rests_at, wants_centred
from cross_staff.core.level.slips import FLIPS
from cross_staff.core.level.station import STATION, LevelState, check_entry, check_reading
from cross_staff.core.level.units import beside
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.services import log as entries
from cross_staff.services.events import noted
from cross_staff.services.rig import open_rig
from cross_staff.storage import level_readings, rigs
from cross_staff.storage.database import Database


def read(database: Database, rig_id: int, reading: LevelReading, by_eye: bool = False) -> int:
    """Keep a look at the revision that holds now, and before it, as an entry of its own, the turn that led to it:
    counted where the reading has one, of an amount that nobody counted `by_eye`. Returns the look's id.

    What is sent twice from one form counts once.

    Raises: NotFound; InvalidValue for what nothing can be worked out of.
    """
    with database.reading() as connection:
        setup = rigs.latest(connection, rig_id).card.level
    check_reading(setup, reading)
    if wants_centred(setup, reading):
        state = open_rig(database, rig_id).level
        rests = rests_at(setup, state.log, reading.axis, reading.method)
        other = beside(setup, reading.axis, reading.method)
        reached = other is not None and abs(rests) <= other.lines + 1.0  # beyond its glass nobody can bring it
        if reached and (not reading.reads_clip or _stays(state, reading)):
            check_centred(reading, rests)
    turned = by_eye or bool(reading.turns)
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        same = _sent_before(log, reading)
        if same is not None:
            return same
        if turned:
            _turned(connection, rig_id, replace(reading, turns=None if by_eye else reading.turns))
        return _add(connection, rig_id, replace(reading, turns=None))


def again(database: Database, rig_id: int, reading_id: int, key: str, now: datetime) -> int:
    """A look that was as the one before it: the same bubbles, on a rail near its other end. Returns the new look's id.
    Raises NotFound for one that does not stand any more, or that the axis was turned after; InvalidValue."""
    state = open_rig(database, rig_id).level
    look = next((k.entry for k in state.log.looks if k.entry.reading_id == reading_id), None)
    if look is None or look != as_before(state, look.axis):
        raise NotFound("that look does not stand any more, or something was turned since")
    place = state.axes[look.axis].place if look.place else ""
    return read(
        database, rig_id, replace(
            look, entered=now, key=key, place=place, reseated=False, photo_id=None, settled_s=None, note="",
        ),
    )  # fmt: skip


def as_before(state: LevelState, axis: str) -> LevelReading | None:
    """The last look of an axis, where a new one could be just as it was: nothing of the axis was turned since; none of
    arrows, of a glass's end, or of a quick look.
    """
    own = state.log.of(axis)
    if not own or any(axis in span for span in state.log.turned[own[-1].span + 1 :]):
        return None
    entry = own[-1].entry
    if own[-1].seating is not None and own[-1].seating != len(state.log.seatings) - 1:
        return None  # the reference sits elsewhere by now
    return None if entry.vial_end or entry.right_m is not None else entry


def turn(database: Database, rig_id: int, turned: LevelReading) -> int:
    """Keep a turn that nobody has read after yet; returns its id. Raises NotFound."""
    with database.writing() as connection:
        same = _sent_before(level_readings.log(connection, rig_id), _bare(turned))
        return _turned(connection, rig_id, turned) if same is None else same


def _turned(connection: Connection, rig_id: int, entry: LevelReading) -> int:
    noted(connection, rig_id, "axis_turned", entry.entered, f"{entry.axis} axis turned while levelling")
    return _add(connection, rig_id, _bare(entry))


def _bare(entry: LevelReading) -> LevelReading:
    """The turn of an entry, without a look."""
    return LevelReading(
        entry.axis, entry.method, entry.pitch_rad, 0.0, 0.0, 0, entry.entered, entry.turns,
        who=entry.who, note=entry.note, turn=True, key=entry.key,
    )  # fmt: skip


def _add(connection: Connection, rig_id: int, entry: LevelReading) -> int:
    latest = rigs.latest(connection, rig_id)
    return level_readings.add(connection, rig_id, replace(entry, revision=latest.number))


def _sent_before(log: Sequence[LevelReading], reading: LevelReading) -> int | None:
    """The entry that was made of the same form with the same words; None for a new one."""
    if not reading.key:
        return None

    def said(entry: LevelReading) -> LevelReading:
        return replace(entry, revision=0, entered=reading.entered, reading_id=0, turns=None, undoes=None)

    alike = [r for r in log if r.key == reading.key and r.turn == reading.turn and said(r) == said(reading)]
    return next((r.reading_id for r in alike), None)


def _stays(state: LevelState, reading: LevelReading) -> bool:
    """Whether the reference sits where it was matched: elsewhere nobody knows yet where it stands when the bow is
    plumb."""
    return state.matched and not reading.reseated and reading.seat in ("", state.seat)


@dataclass(frozen=True)
class PlumbSeen:
    """The string level's bubbles with the bow plumb, across and along it [divisions]; the reference's on its seat
    (None: it was not read), where that is, whether it was put on again just before; the form it was sent from, by
    which the same pair read again is another one, and what is sent twice is not."""

    side_div: float
    fore_div: float
    reference_div: float | None = None
    seat: str = ""
    reseated: bool = False
    key: str = ""

    def entry(self, key: str, now: datetime) -> BenchEntry:
        """As the log keeps it."""
        return BenchEntry(
            STATION, key, 0, now, self.reference_div, self.seat, ((self.side_div, self.fore_div),),
            "" if not self.reseated else RESEATED, self.key,
        )  # fmt: skip


def plumb(database: Database, rig_id: int, seen: PlumbSeen, now: datetime) -> None:
    """Say that the bow is plumb, and what both levels show. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, seen.entry("plumb", now))


def match(database: Database, rig_id: int, seen: PlumbSeen, now: datetime) -> None:
    """Read the reference beside the string level, where it now sits. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, seen.entry("match", now))


def put(database: Database, rig_id: int, where: str, now: datetime) -> None:
    """Say where the sight is: on the bow, or off it in a bench jig. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "where", 0, now, choice=where))


def straightedge(database: Database, rig_id: int, shown_div: float, now: datetime) -> None:
    """Keep what a straightedge over the limb pockets showed [lines]. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "straightedge", 0, now, shown_div))


def accept(database: Database, rig_id: int, axis: str, reason: str, now: datetime) -> None:
    """Accept an axis as it is, in writing. Raises NotFound; InvalidValue without a reason, or for an
    axis that was not read."""
    if axis not in AXES:
        raise NotFound("there is no such axis")
    rig = open_rig(database, rig_id)
    if not rig.level.log.of(axis):
        raise InvalidValue("reason", "read it first: what it is goes on the record too")
    entry = BenchEntry(STATION, f"accept_{axis}", 0, now, choice="accepted", note=reason)
    if entry.key in standing(rig.log_of(STATION)) and not rig.level.axes[axis].accepted:
        check_entry(rig.card, entry)
        entries.take_back(database, rig_id, replace(entry, note=""))  # turned since: the same words are said anew
    entries.enter(database, rig_id, entry)


def leave(database: Database, rig_id: int, who: str, now: datetime) -> None:
    """Leave what is as square as its tool could tell, by name. Raises NotFound; InvalidValue without a name,
    or where there is nothing to leave."""
    if not who.strip():
        raise InvalidValue("left_by", "who leaves it so? The name stays on the record")
    level = open_rig(database, rig_id).level
    left = [axis for axis in level.required if level.axes[axis].standing == "squared"]
    if not level.label or not left:
        raise InvalidValue("left_by", "there is nothing to leave by now: it stands otherwise")
    for axis in left:
        accept(database, rig_id, axis, f"left so by {who.strip()}", now)


def reopen(database: Database, rig_id: int, key: str, now: datetime) -> None:
    """Take the plumb entry, or an acceptance, back. Raises NotFound."""
    entries.take_back(database, rig_id, BenchEntry(STATION, key, 0, now))


def take_back(database: Database, rig_id: int, reading_id: int, now: datetime) -> None:
    """Take a reading back; the log keeps both. Raises NotFound for one that does not stand."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        reading = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if reading is None:
            raise NotFound("that reading does not stand any more")
        undoing = replace(reading, undoes=reading_id, entered=now, turns=None, key="")
        level_readings.add(connection, rig_id, undoing)


def flip(database: Database, rig_id: int, reading_id: int, slip: str, now: datetime) -> None:
    """Take a reading back and enter it again with the sign turned that was likely flipped; the log keeps all three,
    and the reading its place in time. Raises NotFound for a reading that does not stand, or a slip that is none."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        reading = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if reading is None or slip not in FLIPS:
            raise NotFound("that reading does not stand any more")
        undoing = replace(reading, undoes=reading_id, entered=now, turns=None, key="")
        level_readings.add(connection, rig_id, undoing)
        note = " ".join(filter(None, [reading.note, "sign turned"]))
        level_readings.add(connection, rig_id, replace(FLIPS[slip](reading), note=note, key=""))
