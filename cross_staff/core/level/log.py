"""The log of the level: looks as they were seen and turns as they were made, each an entry of its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from cross_staff.core.level.methods import BY_KEY, CLIP
from cross_staff.core.rig.card import INSTRUMENT_KINDS, LevelSetup
from cross_staff.core.rig.log import BenchEntry

AXES = ("first", "second", "third")


@dataclass(frozen=True)
class LevelReading:
    """An entry of the log. A look: which axis it is for and by which method; pitch of the arrow line [rad]; sight's
    (or rail's) and reference's bubble [divisions, right positive]; at which end of its glass the first stands
    (-1 left, 1 right, 0 in between: with an end, the place is only the least that it can be); where the reference
    sat, and whether it was taken off and put on again just before; whether the screws were locked. A slope's
    group: where its mean hit to the right of the aim [m], at which distance [m as ranged], of how many arrows; a quick
    look at the rail: how far the housing wandered to the right [m] over so much travel down [m]. `place`: where on the
    rail, or which line it was held to (PLACES). `settled_s`: how long its bubble was seen to move [s].

    A turn (`turn`): turns of the key, clockwise positive, of an opposing pair its first screw driven; None for an
    amount that nobody counted. In files of old a look carries the turn made just before it in `turns`.
    `key` is the form it was sent from: what is sent twice counts once.
    """

    axis: str
    method: str
    pitch_rad: float
    vial_div: float
    reference_div: float
    revision: int
    entered: datetime
    turns: float | None = None
    locked: bool = True
    who: str = ""
    note: str = ""
    photo_id: int | None = None
    undoes: int | None = None
    reading_id: int = 0
    vial_end: int = 0
    seat: str = ""
    reseated: bool = False
    turn: bool = False
    distance_m: float | None = None
    right_m: float | None = None
    arrows: int | None = None
    key: str = ""
    place: str = ""
    settled_s: float | None = None

    @property
    def turned(self) -> bool:
        """Whether the axis was moved: by this entry, or (in files of old) just before this look."""
        return self.turn or bool(self.turns)

    @property
    def reads_clip(self) -> bool:
        """Whether the clip-on reference was read in it."""
        return not self.turn and BY_KEY[self.method].reads == CLIP


def kept(log: Sequence[LevelReading]) -> list[LevelReading]:
    """The entries that were not taken back, oldest first."""
    undone = {entry.undoes for entry in log if entry.undoes is not None}
    return [r for r in log if r.undoes is None and r.reading_id not in undone]


@dataclass(frozen=True)
class Match:
    """Reference and string level read together with the bow plumb [divisions], and when; whether the reference was
    put on again just before."""

    seat: str
    string_div: float
    reference_div: float
    entered: datetime
    reseated: bool = False
    revision: int = 0


RESEATED = "reseated"


def matches(entries: Sequence[BenchEntry]) -> tuple[Match, ...]:
    """Every such pair among a station's entries that were not taken back, oldest first.

    Args:
        entries: `plumb` with the reference's bubble beside the string level's, and `match`.

    Returns:
        the pairs [divisions], oldest first.
    """
    return tuple(
        Match(entry.choice, entry.points[0][0], entry.number, entry.entered, entry.after == RESEATED, entry.revision)
        for entry in sorted(entries, key=lambda e: e.entered)
        if entry.key in ("plumb", "match") and entry.number is not None and entry.points
    )


@dataclass(frozen=True)
class Look:
    """A look that counts: its entry, the span between turns that it belongs to, which seating of the reference it was
    read against (None where no clip-on was read), and what it was read with."""

    entry: LevelReading
    span: int
    seating: int | None
    setup: LevelSetup


@dataclass(frozen=True)
class Seating:
    """The reference as it was put on once: where, which of the shop's levels it is (None: the rig's own), and what
    it read beside the string level there, each time with what it was read with."""

    seat: str
    reference: int | None = None
    matches: tuple[tuple[Match, LevelSetup], ...] = ()


@dataclass(frozen=True)
class History:
    """The log in spans between turns: its looks; what was turned at the beginning of each span, by axis (None: an
    amount that nobody counted; the first span has nothing); seatings; looks read before locking."""

    looks: tuple[Look, ...] = ()
    turned: tuple[dict[str, float | None], ...] = field(default=({},))
    seatings: tuple[Seating, ...] = ()
    loose: tuple[Look, ...] = ()

    @property
    def last(self) -> int:
        """The span that holds now."""
        return len(self.turned) - 1

    def of(self, axis: str, span: int | None = None) -> list[Look]:
        """Looks of an axis, of one span or of all."""
        return [k for k in self.looks if k.entry.axis == axis and span in (None, k.span)]

    def turned_before_read(self, axis: str) -> bool:
        """Whether an axis was turned before anybody looked."""
        first = next(iter(self.of(axis)), None)
        return any(axis in turns for turns in self.turned[: (first.span if first else self.last) + 1])


def read_with(now: LevelSetup, then: LevelSetup | None) -> LevelSetup:
    """What something was read with: what is known of its levels now, but for those that are others by now.

    Args:
        now: the card's setup.
        then: the setup of the revision at which it was read; None where that is not known.

    Returns:
        the setup to reckon with.
    """
    if then is None:
        return now
    others = {k: getattr(then, k) for k in INSTRUMENT_KINDS if then.instrument(k) != now.instrument(k)}
    return replace(now, **others, from_shop=then.from_shop) if others else now


def history(
    readings: Sequence[LevelReading],
    matched: Sequence[Match],
    setup: LevelSetup,
    earlier: Mapping[int, LevelSetup] | None = None,
) -> History:
    """The entries that hold, in order: turns without a look between them are one.

    Args:
        readings: that stand, oldest first.
        matched: reference and string level read together.
        setup: vials, and where the reference sits for entries that do not say.
        earlier: the setup of each revision, for what was read with other levels.

    Returns:
        looks by span and seating; amounts [turns of the key].
    """
    log = _Log(setup, earlier or {})
    steps: list[LevelReading | Match] = [*readings, *matched]
    for step in sorted(steps, key=lambda each: each.entered):
        if isinstance(step, Match):
            log.match(step)
        else:
            log.enter(step)
    return History(tuple(log.looks), tuple(log.turned), tuple(log.seatings), tuple(log.loose))


class _Log:
    """A history while it grows."""

    def __init__(self, setup: LevelSetup, earlier: Mapping[int, LevelSetup]) -> None:
        self.setup, self.earlier = setup, earlier
        self.looks: list[Look] = []
        self.loose: list[Look] = []
        self.turned: list[dict[str, float | None]] = [{}]
        self.seatings: list[Seating] = []

    def match(self, step: Match) -> None:
        setup = read_with(self.setup, self.earlier.get(step.revision))
        number = self._seated(step.seat, step.reseated, setup)
        last = self.seatings[number]
        self.seatings[number] = replace(last, matches=(*last.matches, (step, setup)))

    def enter(self, entry: LevelReading) -> None:
        if entry.turned:
            self._turn(entry)
        if entry.turn:
            return
        setup = read_with(self.setup, self.earlier.get(entry.revision))
        seating = self._seated(entry.seat, entry.reseated, setup) if entry.reads_clip else None
        kept_in = self.looks if entry.locked else self.loose
        kept_in.append(Look(entry, len(self.turned) - 1, seating, setup))

    def _turn(self, entry: LevelReading) -> None:
        if any(k.span == len(self.turned) - 1 for k in self.looks):
            self.turned.append({})
        before = self.turned[-1].get(entry.axis, 0.0)
        amount = None if before is None or entry.turns is None else before + entry.turns
        self.turned[-1][entry.axis] = amount

    def _seated(self, seat: str, again: bool, setup: LevelSetup) -> int:
        """Which seating something was read on: the last one, or a new one where the reference was moved."""
        where, which = seat or self.setup.seat, setup.instrument("reference")
        last = self.seatings[-1] if self.seatings else None
        if last is None or again or (last.seat, last.reference) != (where, which):
            self.seatings.append(Seating(where, which))
        return len(self.seatings) - 1
