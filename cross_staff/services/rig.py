"""A rig as every station sees it: its card, its records, and how each station stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from weakref import WeakKeyDictionary

from sqlalchemy import Connection
from sqlalchemy.exc import SQLAlchemyError

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.card.waiting import waiting
from cross_staff.core.errors import CrossStaffError, OutOfReach, Unreckonable
from cross_staff.core.level import station as level
from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.log import kept as kept_looks
from cross_staff.core.level.station import Given, LevelState, level_state
from cross_staff.core.mount import station as mounting
from cross_staff.core.mount.station import MountStepState, WitnessMark, in_order, step_states
from cross_staff.core.prepare import station as prepare
from cross_staff.core.prepare.station import Checklist, checklist_of
from cross_staff.core.prove.handover import HandoverCard
from cross_staff.core.prove.locking import After, lock_state
from cross_staff.core.prove.log import STATION as PROVE
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.station import ProveState
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import ALL_MARKS, RESULTS, Cause
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.log import newest as newest_of
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.reach import PinSetting, SightReach, place_now, sight_reach
from cross_staff.core.rig.scatter import Scatter, of_archer
from cross_staff.core.rig.speed_age import as_known
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.sight_in.acts import SightIn
from cross_staff.core.sight_in.dispersion import scatter_at_range
from cross_staff.core.sight_in.log import STATION as RANGE
from cross_staff.core.sight_in.log import End, Move, RangeLog, RangeSession
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.pin_places import PinStands, pin_setting, pins_stand, pointers_at_home, stood_heights_m
from cross_staff.core.sight_in.procedures import pins_of
from cross_staff.core.sight_in.questions import Question
from cross_staff.core.sight_in.shafts import without_weeded
from cross_staff.core.sight_in.station import sight_in
from cross_staff.core.stations import NextStep, RigState, StationStanding, prove_step, standings
from cross_staff.core.tape.observation import OtherArrow
from cross_staff.core.tape.pointers import PointerLine
from cross_staff.core.tape.reproof import Reproof
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.stack import Stack, stack
from cross_staff.core.tape.station import Evaluation, evaluate
from cross_staff.core.tape.unchecked import Unchecked, unchecked
from cross_staff.services.elsewhere import Told, tellers, told
from cross_staff.services.handed_on import figures_of, other_arrows, same_places, tolerances_of
from cross_staff.services.measured import LEVEL_HANGS_ON, SetAside, measured_of, set_aside, would_set_aside
from cross_staff.services.measured import Records as Measured
from cross_staff.services.memory import Memory
from cross_staff.services.prove.state import state_of as prove_state_of
from cross_staff.services.records import Records, records
from cross_staff.services.reproof import Shot, reproof_ahead, reproof_of
from cross_staff.storage import rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision

# that are kept reckoned: of a range of phones and a bench; results of each that its pages share
MOST_RIGS, MOST_RESULTS = 96, 400


@dataclass(frozen=True)
class Rig:
    """A rig with its revisions, the log of its marks, the bench sheet, the mount and its witness
    marks, the range with everything that was ever shot and moved, the reckoning of now, and how each
    station stands."""

    rig_id: int
    history: tuple[Revision, ...]
    units: dict[str, str]
    archived: bool
    log: tuple[TapeMark, ...]
    state: RigState
    entries: dict[str, tuple[BenchEntry, ...]]
    level_log: tuple[LevelReading, ...]
    witness: tuple[WitnessMark, ...]
    range_log: RangeLog
    every_end: tuple[End, ...] = ()
    every_move: tuple[Move, ...] = ()
    photos: frozenset[int] = frozenset()
    version: int = 0
    proof_log: tuple[ProofLine, ...] = ()
    handed_over: tuple[HandoverCard, ...] = ()
    told: Told = Told()
    results: Memory = field(default_factory=lambda: Memory(MOST_RESULTS), init=False, compare=False, repr=False)

    def __getstate__(self) -> dict[str, object]:
        """As it goes from one process to another: without what its pages worked out of it."""
        return {name: value for name, value in self.__dict__.items() if name != "results"}

    def __setstate__(self, state: dict[str, object]) -> None:
        self.__dict__.update(state, results=Memory(MOST_RESULTS))

    @property
    def revision(self) -> Revision:
        return self.history[-1]

    @property
    def card(self) -> RigCard:
        return self.revision.card

    @property
    def evaluation(self) -> Evaluation:
        return self.state.evaluation

    @property
    def checklist(self) -> Checklist:
        return self.state.checklist

    @property
    def steps(self) -> tuple[MountStepState, ...]:
        return self.state.steps

    @property
    def level(self) -> LevelState:
        return self.state.level

    @property
    def prove(self) -> ProveState:
        return self.state.prove

    @property
    def prove_step(self) -> NextStep:
        """What is next at the prove station itself, whatever else is to be done."""
        return prove_step(self.state)

    @property
    def range(self) -> SightIn:
        return self.state.range

    def log_of(self, station: str) -> tuple[BenchEntry, ...]:
        """What was measured, seen or done at a station, oldest first, taken back or not."""
        return self.entries.get(station, ())

    @property
    def session(self) -> RangeSession | None:
        """The session that arrows go to, the newest one."""
        return self.range_log.sessions[-1] if self.range_log.sessions else None

    @cached_property
    def stack(self) -> Stack | None:
        """The pins in the housing as predicted; None while the card lacks something."""
        estimate = self.range.estimate
        if estimate is None or len(estimate.distances) < 2:
            return None
        try:
            return stack(self.card, estimate.fit, estimate.distances)
        except OutOfReach:
            return None

    @cached_property
    def pins_stand(self) -> tuple[PinStands, ...]:
        """Where every pin stands, by what was shot and set."""
        return pins_stand(self.card, self.evaluation, self.range.estimate)

    @cached_property
    def heights_m(self) -> tuple[float, ...]:
        """Height of every pin above the arrow line with the sight at home [m]: where it stands, else belongs."""
        fit = self.evaluation.fit
        return () if fit is None else stood_heights_m(fit, self.card, self.stack, self.pins_stand)

    @cached_property
    def pointers(self) -> tuple[PointerLine, ...]:
        """Where every pointer goes on the tape, the sight at home; round distances are whole on the strip."""
        return pointers_at_home(self.card, self.evaluation, self.heights_m, self.card.tape.unit_m)

    @cached_property
    def unchecked(self) -> Unchecked | None:
        """The farthest mark, while the others hardly check it."""
        return unchecked(self.evaluation)

    @cached_property
    def setting(self) -> PinSetting:
        """The pins as they are used, for the reach."""
        return pin_setting(self.card, self.evaluation, self.pins_stand)

    @cached_property
    def reach(self) -> SightReach | None:
        """How far the sight goes as it is mounted; None while the card lacks something."""
        if self.figures is None or self.card.goals.home_m is None:
            return None
        try:
            return sight_reach(self.card, self.figures, place_now(self.card), self.setting)
        except CrossStaffError:
            return None

    @property
    def figures(self) -> RigFigures | None:
        """What the marks say of speed, drag and geometry, else what the card says; None without either."""
        return figures_of(self.card, self.evaluation)

    @cached_property
    def measured(self) -> Measured:
        """What was measured at every station, and what set it aside."""
        return measured_of(self.history, self.entries, self.level_log, self.every_end, self.log, self.proof_log)

    @cached_property
    def set_aside(self) -> tuple[SetAside, ...]:
        """What does not hold any more, by station and by what set it aside."""
        return set_aside(self.measured)

    @property
    def shot(self) -> Shot:
        """What was shot of it, as the re-proof takes it."""
        newest = {entry.line: entry for entry in self.log}
        marks = (*(newest[line] for line in sorted(newest)), *end_entries(self.card, self.range_log))
        return Shot(self.card, marks, self.range_log, self.evaluation.pins)

    @property
    def standings(self) -> tuple[StationStanding, ...]:
        return standings(self.state)


def proof_ahead(rig: Rig, causes: Sequence[Cause]) -> Reproof | None:
    """The smallest re-proof that these would ask for; None where nothing that was shot would be set aside."""
    return reproof_ahead(rig.measured.timeline, rig.shot, causes)


def set_aside_by(rig: Rig, causes: Sequence[Cause]) -> tuple[tuple[str, int], ...]:
    """How much of each kind that holds now these would set aside."""
    return would_set_aside(rig.measured, tuple(result for cause in causes for result in cause.makes_stale))


def view(connection: Connection, rig_id: int) -> Rig:
    """Read and reckon one rig. Raises NotFound, Unreckonable."""
    with _in_trouble_said(rig_id):
        return evaluated(records(connection, rig_id, _told(connection, rig_id)))


@contextmanager
def _in_trouble_said(rig_id: int) -> Iterator[None]:
    """What cannot be worked out, as an error of its rig. Raises Unreckonable."""
    try:
        yield
    except (CrossStaffError, SQLAlchemyError):
        raise
    except Exception as error:
        raise Unreckonable(rig_id, _reason(error)) from error


def _told(connection: Connection, rig_id: int) -> Told:
    return told(connection, rig_id, lambda other: evaluated(records(connection, other)).evaluation)


def _reason(error: Exception) -> str:
    """What went wrong, in few words: one of its entries is far from what can be."""
    if isinstance(error, ArithmeticError):
        return "one of its entries holds a number far too large or too small"
    if isinstance(error, ValueError):
        return "one of its records is not as it should be"
    return f"one of its records cannot be understood ({type(error).__name__})"


def evaluated(kept: Records) -> Rig:
    """What a rig's records come to, at every station."""
    history = kept.history
    newest = {entry.line: entry for entry in kept.marks}
    timeline = Timeline([revision.state for revision in history])
    card = as_known([revision.card for revision in history], timeline.holding(("speed",)))
    said = kept.entries.get(RANGE, ())
    shot = RangeLog(
        kept.sessions,
        without_weeded((end for end in kept.ends if not end.removed), newest_of(said)),
        tuple(move for move in kept.moves if not move.removed),
        said,
    )
    marks = (*(newest[line] for line in sorted(newest)), *end_entries(card, shot))
    pins = pins_of(card, shot.chosen)
    marks_hold, spans, others = timeline.holding(ALL_MARKS), timeline.spans(), other_arrows(timeline, card)
    scatter = of_archer(scatter_at_range(card, [end for end in shot.ends if not end.left_out]), kept.told.bows)
    evaluation = _evaluated(card, marks, marks_hold, pins, spans, scatter, others)
    holds = {result: timeline.holding((result,)) for result in RESULTS}
    holds_at_range = {
        "windage": holds["windage"],
        "home": timeline.holding(("home", "pins")),  # a heavier arrow drops more at every pin
        "controls": same_places(history),
    }
    held = tuple(sorted(holds_at_range.items()))
    at_range = _sighted(card, shot, marks, marks_hold, pins, spans, scatter, others, held)
    if at_range.question is not None:  # what is asked about is no mark until it is answered
        asked = {-place for place, end in enumerate(shot.ends, start=1) if end.key in at_range.question.keys}
        marks = tuple(mark for mark in marks if mark.line not in asked)
        evaluation = _evaluated(card, marks, marks_hold, pins, spans, scatter, others)
        at_range = _sighted(card, shot, marks, marks_hold, pins, spans, scatter, others, held, at_range.question)
    state = RigState(
        card,
        evaluation,
        checklist_of(card, kept.entries.get(prepare.STATION, ()), holds),
        step_states(card, kept.entries.get(mounting.STATION, ()), holds["clearance"]),
        level_state(
            card,
            kept.looks,
            kept.entries.get(level.STATION, ()),
            timeline.holding(LEVEL_HANGS_ON),
            Given(
                tolerances_of(card, evaluation),
                dict(kept.told.angles_per_turn),
                figures_of(card, evaluation),
                {revision.number: revision.card.level for revision in history},
            ),
        ),
        at_range,
        reproof_of(timeline, Shot(card, marks, shot, pins)),
        waiting(kept.entries.get("card", ())),
        prove_state_of(
            history,
            timeline,
            card,
            evaluation,
            figures_of(card, evaluation),
            kept.printed,
            kept.proofs,
            kept.entries.get(PROVE, ()),
            shot.moves,
        ),
        lock_state(
            card, kept.entries.get(PROVE, ()), _present(kept.witness), _after(card, holds, kept.looks, shot.moves)
        ),
        kept.handed[-1] if kept.handed else None,
    )
    return Rig(
        kept.rig_id,
        history,
        kept.row.units,
        kept.row.archived,
        kept.marks,
        state,
        kept.entries,
        kept.looks,
        _present(kept.witness),
        shot,
        kept.ends,
        kept.moves,
        kept.photos,
        kept.row.version,
        kept.proofs,
        kept.handed,
        kept.told,
    )


def _after(
    card: RigCard, holds: Mapping[str, frozenset[int]], looks: Sequence[LevelReading], moves: Sequence[Move]
) -> After:
    """What happened that a joint which was locked before it may have moved by."""
    standing_looks = kept_looks(looks)
    read = {each.axis: each.entered for each in standing_looks if not each.turn}
    turned = {each.axis: each.entered for each in standing_looks if each.turned}
    moved = {move.moves: move.entered for move in sorted(moves, key=lambda m: m.entered)}
    return After(holds, read, turned, moved, level.asked_for(card))


def _present(log: Sequence[WitnessMark]) -> tuple[WitnessMark, ...]:
    newest = {mark.line: mark for mark in log}
    return in_order([mark for mark in newest.values() if not mark.removed])


# the same card and marks give the same reckoning, and the bench asks for every rig at once
_evaluated = lru_cache(maxsize=256)(evaluate)


@lru_cache(maxsize=256)
def _sighted(
    card: RigCard,
    log: RangeLog,
    marks: tuple[TapeMark, ...],
    marks_hold: frozenset[int],
    pins: Pins,
    spans: tuple[tuple[int, int], ...],
    scatter: Scatter,
    others: tuple[tuple[int, OtherArrow], ...],
    holds: tuple[tuple[str, frozenset[int]], ...],
    asked: Question | None = None,
) -> SightIn:
    evaluation = _evaluated(card, marks, marks_hold, pins, spans, scatter, others)
    return sight_in(card, log, evaluation, dict(holds), spans=dict(spans), question=asked)


@dataclass(frozen=True)
class _Kept:
    """Rigs as they stand: by their versions and those of who tells of them, and by what these tell."""

    by_versions: Memory = field(default_factory=lambda: Memory(MOST_RIGS))
    by_told: Memory = field(default_factory=lambda: Memory(MOST_RIGS))


_KEPT: WeakKeyDictionary[Database, _Kept] = WeakKeyDictionary()
_HELPERS: WeakKeyDictionary[Database, Callable[[int], Rig | None]] = WeakKeyDictionary()


def helped_by(database: Database, helper: Callable[[int], Rig | None]) -> None:
    """Let another process reckon: a helper returns a rig as it stands, or None where it cannot, and then it is done
    here."""
    _HELPERS[database] = helper


def open_rig(database: Database, rig_id: int) -> Rig:
    """One rig as it stands, reckoned once for each version of its records. Raises NotFound, Unreckonable."""
    with database.reading() as connection:
        versions = (rig_id, rigs.row(connection, rig_id).version, tellers(connection, rig_id))
    make = lambda: _helped(database, rig_id) or _reckoned(database, rig_id)  # noqa: E731
    return _kept(database).by_versions.get(versions, make, rig_id)


def _kept(database: Database) -> _Kept:
    return _KEPT.setdefault(database, _Kept())


def _helped(database: Database, rig_id: int) -> Rig | None:
    """As another process reckoned it; the one from before, with what its pages worked out, where it tells the same."""
    helper = _HELPERS.get(database)
    rig = helper(rig_id) if helper else None
    return rig and _kept(database).by_told.get((rig_id, rig.version, rig.told), lambda: rig, rig_id)


def _reckoned(database: Database, rig_id: int) -> Rig:
    with _in_trouble_said(rig_id):
        with database.reading() as connection:
            version, others = rigs.row(connection, rig_id).version, _told(connection, rig_id)
        key = (rig_id, version, others)
        return _kept(database).by_told.get(key, lambda: evaluated(_read(database, rig_id, others)), rig_id)


def _read(database: Database, rig_id: int, others: Told) -> Records:
    """What was written down, in a view that ends before anything is reckoned: the write-ahead log grows as long as one
    lasts."""
    with database.reading() as connection:
        return records(connection, rig_id, others)
