"""What was shot and moved at the range: sessions, ends of arrows, movements of the sight. Never rewritten."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.log import BenchEntry, newest, standing

STATION = "sight_in"
COUNTS = {"full": "counts in full", "half": "counts half", "none": "looked at, not counted"}
HALF_WEIGHT = 0.5
ORDERED, HOME = "ordered", "home"  # where a reading comes from that nobody took; at home, without one
UNKNOWN = "unknown"
MOST_SHOTS = 1000  # of one end, or of one list that is pasted


@dataclass(frozen=True)
class RangeSession:
    """A visit to the range; the newest entry of a number holds.

    crosswind_mps [m/s], positive pushes arrows to the right; temperature_c [degC]; build is the
    name of the arrows; counts, a key of COUNTS: late, windy or ragged sessions count less.
    """

    number: int
    revision: int
    entered: datetime
    place: str = ""
    light: str = ""
    who: str = ""
    note: str = ""
    crosswind_mps: float | None = None
    temperature_c: float | None = None
    build: str = ""
    counts: str = "full"
    key: str = ""

    @property
    def weight(self) -> float:
        """How much an arrow of this session counts."""
        return {"full": 1.0, "half": HALF_WEIGHT}.get(self.counts, 0.0)


@dataclass(frozen=True)
class GroupLine:
    """A group written as one line, without its arrows: how many, and where their middle came, right and up [m];
    None in a direction that was not looked at, or left out for the wind."""

    arrows: int
    right_m: float | None = None
    up_m: float | None = None


@dataclass(frozen=True)
class End:
    """Some arrows shot at one aim. ranged_m [m] as the archer ranges, None when it was not ranged; pin
    from nought, the top one; dial_mm as read on the scale [mm], None where nothing is dialled or nobody read it;
    key names the end for good, order is its place among the moves; asked says that it was asked about and
    answered; dial_from, ORDERED where the reading is what was asked for and nobody changed it, HOME where the sight
    stood at home and nothing was read; line, where the
    group was written as one; weeded, numbers of shafts that are not counted."""

    key: str
    session: int
    revision: int
    entered: datetime
    ranged_m: float | None
    pin: int = 0
    dial_mm: float | None = None
    shots: tuple[Shot, ...] = ()
    note: str = ""
    left_out: bool = False
    removed: bool = False
    asked: bool = False
    order: float = 0.0
    dial_from: str = ""
    line: GroupLine | None = None
    weeded: frozenset[str] = frozenset()

    @property
    def kept(self) -> tuple[Shot, ...]:
        """The shots that count: not called bad, nor of a shaft that was weeded out."""
        return tuple(shot for shot in self.shots if not shot.called_bad and shot.shaft not in self.weeded)

    @property
    def arrows(self) -> int:
        """How many arrows its middle is of."""
        return len(self.kept) or (self.line.arrows if self.line and not self.shots else 0)

    @property
    def middle(self) -> tuple[float | None, float | None]:
        """Where the arrows that count came in the mean, right and up [m]; None in a direction that is not known."""
        kept = self.kept
        if kept:
            return sum(s.right_m for s in kept) / len(kept), sum(s.up_m for s in kept) / len(kept)
        return (self.line.right_m, self.line.up_m) if self.line and not self.shots else (None, None)


@dataclass(frozen=True)
class Move:
    """A movement of the sight that was made. drive names the control and moves what it moves; amount in
    unit ("click", "turn", "mm", "mark": the reading it was set to, or UNKNOWN: nobody counted), right or up
    positive as the card has it; pin where one pin was moved; placed, when a pin was set to its predicted place;
    before, the key of an end that it was made before, though it was written down later."""

    key: str
    revision: int
    entered: datetime
    drive: str
    moves: str
    amount: float
    unit: str
    pin: int | None = None
    placed: bool = False
    removed: bool = False
    order: float = 0.0
    before: str = ""

    @property
    def counted(self) -> bool:
        """Whether anybody knows how far it went."""
        return self.unit != UNKNOWN


@dataclass(frozen=True)
class RangeLog:
    """Everything of the station that stands: sessions, ends and moves in their order, and what was
    chosen, confirmed and set (entries of the bench log)."""

    sessions: tuple[RangeSession, ...] = ()
    ends: tuple[End, ...] = ()
    moves: tuple[Move, ...] = ()
    entries: tuple[BenchEntry, ...] = ()

    @cached_property
    def said(self) -> dict[str, BenchEntry]:
        """The entry that holds for each key."""
        return newest(self.entries)

    @property
    def chosen(self) -> dict[str, str]:
        """Schools by their question."""
        return {k.removeprefix("choose:"): e.choice for k, e in self.said.items() if k.startswith("choose:")}

    @property
    def stops(self) -> tuple[BenchEntry, ...]:
        """What was read at the home stop, the reading that counts most first: coming back to it, fitting it, meeting
        it."""
        said = (self.said.get(f"step:{key}") for key in ("stop_back", "stop_fit", "stop_up"))
        return tuple(entry for entry in said if entry is not None and entry.number is not None)

    def place_at(self, moment: datetime) -> float:
        """The place in the order of ends and moves of something that was said at a moment."""
        ends = [end.order for end in self.ends if end.entered <= moment]
        moves = [move.order for move in self.moves if move.entered <= moment]
        return max([*ends, *moves], default=0.0) + 0.25

    def session(self, number: int) -> RangeSession | None:
        """A session by its number."""
        return next((s for s in self.sessions if s.number == number), None)

    def weight(self, end: End) -> float:
        """How much an arrow of this end counts."""
        session = self.session(end.session)
        return 1.0 if session is None else session.weight


def standing_imports(entries: Sequence[BenchEntry]) -> list[BenchEntry]:
    """Imports of shots that were not taken back, oldest first."""
    return standing(entries).get("import", [])
