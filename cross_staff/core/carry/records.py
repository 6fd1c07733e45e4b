"""What a rig's file holds: everything that was written down of it, a record a line of its logs, oldest first.

Each record has the columns of its log. A record points at another by its place in that one's log, counted from 1, so
that a file says the same in every shop; 0 and None point at nothing.
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from datetime import date, datetime

from cross_staff.core.printing.sheet import PrintedTape
from cross_staff.core.prove.handover import CardContent
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.instrument import Instrument
from cross_staff.core.rig.sight import SightModel


@dataclass(frozen=True)
class RevisionRecord:
    """A saved state of the card, numbered from 1: why, what was said to have happened to the bow (keys of the causes),
    what new values meant, which revisions' events it takes back, and results taken up again, each since a revision."""

    number: int
    saved_utc: datetime
    why: str
    card: RigCard
    happened: tuple[str, ...] = ()
    meant: tuple[tuple[str, str], ...] = ()
    undoes: tuple[int, ...] = ()
    taken_up: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class PhotoRecord:
    """A photo: its size in points and the SHA-256 of its JPEG, which lies in the archive under that name."""

    added_utc: datetime
    width: int
    height: int
    sha256: str


@dataclass(frozen=True)
class BenchRecord:
    """What was measured, seen or done at a station: `number` in the unit of its key, points right and up [m]."""

    station: str
    key: str
    revision: int
    entered_utc: datetime
    number: float | None = None
    choice: str = ""
    points: tuple[tuple[float, float], ...] = ()
    after: str = ""
    note: str = ""
    removed: bool = False


@dataclass(frozen=True)
class WitnessRecord:
    """A witness mark across a joint; `photo` is the place of its photo."""

    line: int
    revision: int
    entered_utc: datetime
    joint: str
    place: str
    photo: int | None = None
    removed: bool = False


@dataclass(frozen=True)
class LevelRecord:
    """A look or a turn at the level; `undoes` is the place of the reading it takes back, `photo` that of its photo."""

    revision: int
    entered_utc: datetime
    axis: str
    method: str
    pitch_rad: float
    vial_div: float
    reference_div: float
    turns: float | None = None
    locked: bool = True
    who: str = ""
    note: str = ""
    photo: int | None = None
    undoes: int | None = None
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


@dataclass(frozen=True)
class SessionRecord:
    """A visit to the range; the newest record of a number holds."""

    number: int
    revision: int
    entered_utc: datetime
    place: str = ""
    light: str = ""
    who: str = ""
    note: str = ""
    crosswind_mps: float | None = None
    temperature_c: float | None = None
    build: str = ""
    counts: str = "full"
    key: str = ""


@dataclass(frozen=True)
class EndRecord:
    """An end of arrows; the newest record of a key holds. `place` orders ends and moves; line_arrows and what follows,
    where the group was written as one line."""

    key: str
    place: int
    session: int
    revision: int
    entered_utc: datetime
    ranged_m: float | None
    pin: int = 0
    dial_mm: float | None = None
    note: str = ""
    left_out: bool = False
    removed: bool = False
    asked: bool = False
    dial_from: str = ""
    line_arrows: int | None = None
    line_right_m: float | None = None
    line_up_m: float | None = None


@dataclass(frozen=True)
class ShotRecord:
    """Where an arrow of an end hit; the newest record of a key holds."""

    end_key: str
    key: str
    entered_utc: datetime
    right_m: float
    up_m: float
    called_bad: bool = False
    removed: bool = False
    shaft: str = ""


@dataclass(frozen=True)
class MoveRecord:
    """A movement of the sight; `amount` in `unit`."""

    key: str
    place: int
    revision: int
    entered_utc: datetime
    drive: str
    moves: str
    amount: float
    unit: str
    pin: int | None = None
    placed: bool = False
    removed: bool = False
    before: str = ""


@dataclass(frozen=True)
class MarkRecord:
    """A mark or group of the tape's table; the newest record of a line holds."""

    line: int
    revision: int
    entered_utc: datetime
    ranged_m: float
    mark_mm: float
    up_m: float | None = None
    arrows: int | None = None
    left_out: bool = False
    removed: bool = False
    key: str = ""
    pin: int = 0
    reason: str = ""
    ruler: str = ""
    from_m: float | None = None
    reads: str = ""
    reading_sd_mm: float | None = None
    laid_mm: float | None = None


@dataclass(frozen=True)
class PrintedRecord:
    """A tape as it was printed, under the number that stands on the paper."""

    number: int
    revision: int
    printed_utc: datetime
    sheet: PrintedTape


@dataclass(frozen=True)
class ProofRecord:
    """A line of the proof log; `laying` is the place of the bench entry that said the tape was laid on, 0 for none."""

    key: str
    revision: int
    entered_utc: datetime
    day: date
    ranged_m: float
    dialled_m: float | None
    arrows: int
    up_m: float | None
    right_m: float | None = None
    slope_rad: float = 0.0
    crosswind_mps: float | None = None
    cold: bool = False
    tape: str = ""
    laying: int = 0
    label: str = ""
    note: str = ""
    removed: bool = False


@dataclass(frozen=True)
class InstrumentRecord:
    """One number of an instrument of the shop."""

    number: int
    saved_utc: datetime
    instrument: Instrument
    removed: bool = False


@dataclass(frozen=True)
class CarriedInstrument:
    """An instrument with its identity and every number of it, oldest first."""

    uid: str
    log: tuple[InstrumentRecord, ...]


@dataclass(frozen=True)
class SightRecord:
    """One number of a sight model of the library."""

    number: int
    saved_utc: datetime
    sight: SightModel
    removed: bool = False


@dataclass(frozen=True)
class TakenRecord:
    """A reading that was taken from an instrument: in which field of which entry of a station, the text as it stood
    there, the instrument's name, the figure with its last digit [m/s, rad, m, kg], its number."""

    station: str
    entry: str
    field: str
    text: str
    instrument: str
    figure: str
    value_si: float
    resolution_si: float
    sequence: int
    taken_utc: datetime


@dataclass(frozen=True)
class HandoverRecord:
    """A card that was handed over, as it was signed."""

    number: int
    revision: int
    entered_utc: datetime
    signed_by: str
    note: str
    content: CardContent


@dataclass(frozen=True)
class CarriedSight:
    """A sight model with its identity and every number of it, oldest first."""

    uid: str
    log: tuple[SightRecord, ...]


@dataclass(frozen=True)
class CarriedRig:
    """A whole rig: its identity, since when it is known, the units it is shown in, whether it is off the bench, the
    identity of the rig that it was one with (empty for most), its logs, and those of the shop's instruments that its
    cards name: `from_shop` has their places among them."""

    uid: str
    created_utc: datetime
    units: dict[str, str]
    archived: bool = False
    origin: str = ""
    revisions: tuple[RevisionRecord, ...] = ()
    photos: tuple[PhotoRecord, ...] = ()
    bench_entries: tuple[BenchRecord, ...] = ()
    witness_marks: tuple[WitnessRecord, ...] = ()
    level_readings: tuple[LevelRecord, ...] = ()
    range_sessions: tuple[SessionRecord, ...] = ()
    range_ends: tuple[EndRecord, ...] = ()
    range_shots: tuple[ShotRecord, ...] = ()
    range_moves: tuple[MoveRecord, ...] = ()
    observations: tuple[MarkRecord, ...] = ()
    printed_tapes: tuple[PrintedRecord, ...] = ()
    proof_lines: tuple[ProofRecord, ...] = ()
    taken_readings: tuple[TakenRecord, ...] = ()
    handover_cards: tuple[HandoverRecord, ...] = ()
    instruments: tuple[CarriedInstrument, ...] = field(default=())

    @property
    def card(self) -> RigCard:
        """The card as it stands."""
        return self.revisions[-1].card

    @property
    def newest_utc(self) -> datetime:
        """When the last of its records was written down."""
        return max(moment for log in self.logs.values() for record in log for moment in _moments(record))

    @property
    def logs(self) -> dict[str, tuple]:
        """Every log of the rig by its name, the instruments aside."""
        return {each.name: getattr(self, each.name) for each in fields(self) if each.name in LOGS}


def _moments(record: object) -> list[datetime]:
    return [
        getattr(record, name)
        for name in ("saved_utc", "added_utc", "entered_utc", "printed_utc", "taken_utc")
        if hasattr(record, name)
    ]


LOGS = {
    "revisions": "revisions of the card",
    "photos": "photos",
    "bench_entries": "entries of the stations",
    "witness_marks": "witness marks",
    "level_readings": "readings of the level",
    "range_sessions": "entries of visits to the range",
    "range_ends": "entries of ends",
    "range_shots": "entries of arrows",
    "range_moves": "movements of the sight",
    "observations": "marks of the tape",
    "printed_tapes": "printed tapes",
    "proof_lines": "lines of the proof log",
    "taken_readings": "readings taken from instruments",
    "handover_cards": "cards that were handed over",
}
