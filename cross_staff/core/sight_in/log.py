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
class End:
    """Some arrows shot at one aim. ranged_m [m] as the archer ranges, None when it was not ranged; pin
    from nought, the top one; dial_mm as read on the scale [mm], None where nothing is dialled; key
    names the end for good, order is its place among the moves; asked says that the pin was asked
    about and answered."""

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
    order: int = 0

    @property
    def kept(self) -> tuple[Shot, ...]:
        """The shots that were not called bad."""
        return tuple(shot for shot in self.shots if not shot.called_bad)


@dataclass(frozen=True)
class Move:
    """A movement of the sight that was made. drive names the control and moves what it moves; amount in
    unit ("click", "turn", "mm", or "mark": the reading it was set to), right or up positive as the
    card has it; pin where one pin was moved; placed, when a pin was set to its predicted place."""

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
    order: int = 0


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
