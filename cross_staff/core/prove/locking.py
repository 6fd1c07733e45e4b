"""Locking: every joint that can move, one at a time, one thing on its thread, and what is looked at after it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.mount.station import WitnessMark
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.core.rig.sight import AXIS_KEYS

LOCK, SPARE = "lock:", "lock: spare strip"
MOST_NAME = 60


class Thread(StrEnum):
    """What was done to a joint: tightened with nothing on its thread, with thread-locker, with anti-seize; its thread
    was cleaned; it has to stay movable; a spare strip was put in the kit."""

    DRY = "dry"
    LOCKER = "locker"
    SEIZE = "seize"
    CLEANED = "cleaned"
    MOVABLE = "movable"
    SPARE = "spare"


COMPOUNDS = (Thread.LOCKER, Thread.SEIZE)
LOCKS = (Thread.DRY, Thread.LOCKER, Thread.SEIZE, Thread.MOVABLE)


class Locked(StrEnum):
    """How a joint stands: open; locked; locked, and the axis is to be read again; locked before something that may
    have moved it; left movable."""

    OPEN = ""
    DONE = "done"
    READ_AGAIN = "read_again"
    OLD = "old"
    MOVABLE = "movable"


@dataclass(frozen=True)
class Joint:
    """Something that is locked: its name, what it moves (a key of MOVEMENTS, or pointer, rest, nock set), which result
    of the table of causes tells that it may have moved, the words on its witness mark (empty: none is asked), the key
    to fetch, whether its lock is a knob that has to be opened again to dial."""

    name: str
    moves: str
    hangs_on: str
    mark: str = ""
    tool: str = ""
    dials: bool = False

    @property
    def key(self) -> str:
        """The key of its entries."""
        return f"{LOCK}{self.name}"

    @property
    def axis(self) -> str:
        """The axis that it sets; empty for none."""
        return self.moves.removesuffix("_axis") if self.moves in AXIS_KEYS else ""


@dataclass(frozen=True)
class LockLine:
    """A joint as it stands, with the entry that holds, and who did it."""

    joint: Joint
    entry: BenchEntry | None
    state: Locked
    marked: bool

    @property
    def open(self) -> bool:
        """Whether something is still to be done at it."""
        return self.state in (Locked.OPEN, Locked.OLD, Locked.READ_AGAIN)


@dataclass(frozen=True)
class LockState:
    """Every joint in the order in which they are locked; the entry that says that a spare strip is in the kit, where
    one belongs there."""

    lines: tuple[LockLine, ...]
    spare: BenchEntry | None
    wants_spare: bool

    @property
    def current(self) -> LockLine | None:
        """The one joint to lock now: the first that is open; an axis that is to be read again comes before the next."""
        return next((line for line in self.lines if line.open), None)

    @property
    def left(self) -> int:
        """How many joints are open."""
        return sum(line.open for line in self.lines)

    @property
    def unmarked(self) -> tuple[Joint, ...]:
        """Joints without the witness mark that would show that they moved."""
        return tuple(line.joint for line in self.lines if line.joint.mark and not line.marked)

    @property
    def done(self) -> bool:
        """Whether nothing is left to lock, nor to put into the kit."""
        return not self.left and (self.spare is not None or not self.wants_spare)


@dataclass(frozen=True)
class After:
    """What happened since a joint may have been locked: revisions at which each result holds; when each axis was last
    read and last turned; when pins, pointer or housing were last moved, by what they move; which axes are asked for."""

    holds: Mapping[str, frozenset[int]]
    read: Mapping[str, datetime]
    turned: Mapping[str, datetime]
    moved: Mapping[str, datetime]
    asked: tuple[str, ...] = ("first", "second", "third")


_HANGS_ON = {
    "mount": ("clearance", "mount on the riser"),
    "extension": ("clearance", "dovetail place"),
    "first_axis": ("level", "rail block"),
    "second_axis": ("level", "second axis"),
    "third_axis": ("level", "third axis"),
    "vial": ("level", ""),
    "gang_elevation": ("home", "housing on its post"),
    "gang_windage": ("windage", "housing on its post"),
    "pin": ("pins", ""),
    "spread": ("pins", ""),
    "slide_lock": ("home", ""),
    "stop": ("home", ""),
}
ORDER = tuple(_HANGS_ON)


def joints(card: RigCard) -> tuple[Joint, ...]:
    """What is locked on this rig.

    Args:
        card: of the rig; the screws of its sight that may be touched, then pointer, rest and nock set.

    Returns:
        joints from the riser outwards, then the bow.

    Source:
        docs/method.md, section 21.
    """
    screws = [screw for screw in card.sight.screws if not screw.never and screw.movement in _HANGS_ON]
    screws.sort(key=lambda screw: ORDER.index(screw.movement))
    of_sight = [
        Joint(s.name[:MOST_NAME], s.movement, *_HANGS_ON[s.movement], tool=s.tool, dials=s.movement == "slide_lock")
        for s in screws
    ]
    if not any(joint.moves == "mount" for joint in of_sight):
        of_sight.insert(0, Joint("Mount bolts", "mount", *_HANGS_ON["mount"]))
    of_bow = [Joint("Rest", "rest", "tune", "rest"), Joint("Nock set", "nock_set", "tune", "nock set")]
    pointer = [Joint("Pointer", "pointer", "home", "pointer")] if card.sight_kind.dialled else []
    return tuple({joint.key: joint for joint in (*of_sight, *pointer, *of_bow)}.values())


def lock_state(card: RigCard, entries: Sequence[BenchEntry], witness: Sequence[WitnessMark], after: After) -> LockState:
    """How locking stands.

    Args:
        card: of the rig.
        entries: of the prove station, oldest first.
        witness: marks that are on the bow, shape (m,).
        after: what happened since.

    Returns:
        every joint with its state.

    Source:
        docs/method.md, section 21.
    """
    kept, marked = standing(entries), {mark.joint for mark in witness}
    lines = tuple(_line(joint, kept.get(joint.key, []), joint.mark in marked, after) for joint in joints(card))
    spare = kept.get(SPARE, [])
    return LockState(lines, spare[-1] if spare else None, card.sight_kind.dialled)


def _line(joint: Joint, entries: Sequence[BenchEntry], marked: bool, after: After) -> LockLine:
    locks = [entry for entry in entries if entry.choice in set(LOCKS)]
    entry = locks[-1] if locks and entries[-1].choice != Thread.CLEANED else None
    return LockLine(joint, entry, Locked.OPEN if entry is None else _stands(joint, entry, after), marked)


def _stands(joint: Joint, entry: BenchEntry, after: After) -> Locked:
    if entry.choice == Thread.MOVABLE:
        return Locked.MOVABLE
    holds = after.holds.get(joint.hangs_on)
    moved = after.turned.get(joint.axis) if joint.axis else after.moved.get(joint.moves)
    if (holds is not None and entry.revision not in holds) or (moved is not None and moved > entry.entered):
        return Locked.OLD
    read = after.read.get(joint.axis)
    if joint.axis in after.asked and (read is None or read <= entry.entered):
        return Locked.READ_AGAIN  # tightening moves what was just set
    return Locked.DONE


def compound_on(entries: Sequence[BenchEntry]) -> Thread | None:
    """What is on the thread of a joint.

    Args:
        entries: of this joint that stand, oldest first.

    Returns:
        thread-locker or anti-seize; None for a clean one.

    Source:
        the newest entry that says so, since it was last cleaned.
    """
    on: Thread | None = None
    for entry in entries:
        told = Thread(entry.choice)
        on = told if told in COMPOUNDS else None if told == Thread.CLEANED else on
    return on


def check_lock(card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said of locking.

    Args:
        card: of the rig.
        entry: that is to be written.

    Raises:
        NotFound: no such joint on this rig.
        InvalidValue: no such way, or nobody said who did it.

    Source:
        docs/method.md, section 21.
    """
    ways = {Thread.SPARE} if entry.key == SPARE else {*LOCKS, Thread.CLEANED}
    if entry.key != SPARE and not entry.key.removeprefix(LOCK).strip():
        raise NotFound("this sight has no such joint")
    if entry.choice not in ways:
        raise InvalidValue("way", "say what is on the thread: nothing, thread-locker or anti-seize")
    if not entry.note.strip():
        raise InvalidValue("by", "who did it? It stays on the record")


def check_thread(entries: Sequence[BenchEntry], entry: BenchEntry) -> None:
    """Refuse thread-locker over anti-seize, and the other way round.

    Args:
        entries: of the same joint that stand, oldest first.
        entry: that is to be written.

    Raises:
        InvalidValue: the other is on the thread.

    Source:
        never both: locker does not set over anti-seize.
    """
    on = compound_on(entries)
    if entry.choice in set(COMPOUNDS) and on is not None and on != entry.choice:
        other = "anti-seize" if on == Thread.SEIZE else "thread-locker"
        raise InvalidValue("way", f"{other} is on this thread: never both. Clean it first, and say so")
