"""A rig as every station sees it: its card, its records, and how each station stands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from sqlalchemy import Connection

from cross_staff.core import level, mounting, prepare
from cross_staff.core.bench_log import BenchEntry
from cross_staff.core.end_marks import end_entries, pins_of
from cross_staff.core.errors import OutOfReach
from cross_staff.core.flight import RigFigures
from cross_staff.core.level import LevelReading, LevelState, level_state
from cross_staff.core.level_cost import tolerances
from cross_staff.core.mounting import StepState, WitnessMark, in_order, step_states
from cross_staff.core.prepare import Sheet, sheet
from cross_staff.core.range_log import STATION as RANGE
from cross_staff.core.range_log import End, Move, RangeLog, Session
from cross_staff.core.reckoning import Entry, Pins, Reckoning, reckon
from cross_staff.core.rig import RigCard
from cross_staff.core.sight_in import SightIn, sight_in
from cross_staff.core.stack import Stack, stack
from cross_staff.core.stale import ALL_MARKS, RESULTS, State, holding
from cross_staff.core.stations import RigState, Standing, standings
from cross_staff.services.gains import gain_priors
from cross_staff.storage import bench_entries, level_readings, observations, range_log, rigs, witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class RigView:
    """A rig with its revisions, the log of its marks, the bench sheet, the mount and its witness
    marks, the range with everything that was ever shot and moved, the reckoning of now, and how each
    station stands."""

    rig_id: int
    history: tuple[Revision, ...]
    units: dict[str, str]
    archived: bool
    log: tuple[Entry, ...]
    state: RigState
    prepare_log: tuple[BenchEntry, ...]
    mount_log: tuple[BenchEntry, ...]
    level_log: tuple[LevelReading, ...]
    level_entries: tuple[BenchEntry, ...]
    witness: tuple[WitnessMark, ...]
    range_log: RangeLog
    every_end: tuple[End, ...] = ()
    every_move: tuple[Move, ...] = ()
    range_entries: tuple[BenchEntry, ...] = ()
    photos: frozenset[int] = frozenset()

    @property
    def revision(self) -> Revision:
        return self.history[-1]

    @property
    def card(self) -> RigCard:
        return self.revision.card

    @property
    def reckoning(self) -> Reckoning:
        return self.state.reckoning

    @property
    def sheet(self) -> Sheet:
        return self.state.sheet

    @property
    def steps(self) -> tuple[StepState, ...]:
        return self.state.steps

    @property
    def level(self) -> LevelState:
        return self.state.level

    @property
    def range(self) -> SightIn:
        return self.state.range

    @property
    def session(self) -> Session | None:
        """The session that arrows go to, the newest one."""
        return self.range_log.sessions[-1] if self.range_log.sessions else None

    @cached_property
    def stack(self) -> Stack | None:
        """The pins in the housing as predicted; None while the card lacks something."""
        belief = self.range.belief
        if belief is None or len(belief.distances) < 2:
            return None
        try:
            return stack(self.card, belief.fit, belief.distances)
        except OutOfReach:
            return None

    @property
    def figures(self) -> RigFigures | None:
        """What the marks say of speed, drag and geometry, else what the card says; None without either."""
        fit, priors = self.reckoning.fit, self.card.priors()
        return fit.figures if fit else priors.figures if priors else None

    @property
    def standings(self) -> tuple[Standing, ...]:
        return standings(self.state)


def view(connection: Connection, rig_id: int) -> RigView:
    """Read and reckon one rig. Raises NotFound."""
    history = rigs.revisions(connection, rig_id)
    log = observations.log(connection, rig_id)
    newest = {entry.line: entry for entry in log}
    card = history[-1].card
    states = [State(r.card, r.happened) for r in history]
    every_end, every_move = range_log.ends(connection, rig_id), range_log.moves(connection, rig_id)
    at_range = tuple(bench_entries.log(connection, rig_id, RANGE))
    shot = RangeLog(
        range_log.sessions(connection, rig_id),
        tuple(end for end in every_end if not end.removed),
        tuple(move for move in every_move if not move.removed),
        at_range,
    )
    marks = (*(newest[line] for line in sorted(newest)), *end_entries(card, shot))
    pins = pins_of(card, shot.chosen)
    reckoning = _reckoned(card, marks, holding(states, ALL_MARKS), pins)
    prepared = bench_entries.log(connection, rig_id, prepare.STATION)
    mounted = bench_entries.log(connection, rig_id, mounting.STATION)
    holds = {result: holding(states, (result,)) for result in RESULTS}
    looks = level_readings.log(connection, rig_id)
    levelled = bench_entries.log(connection, rig_id, level.STATION)
    holds_at_range = {
        "windage": holds["windage"],
        "home": holding(states, ("home", "pins")),  # a heavier arrow drops more at every pin
        "controls": _same_places(history),
    }
    state = RigState(
        card,
        reckoning,
        sheet(card, prepared, holds),
        step_states(card, mounted, holding(states, ("clearance",))),
        level_state(
            card,
            looks,
            levelled,
            holding(states, ("level", "later_axes", "draw_twist")),
            _tolerances(card, reckoning),
            gain_priors(connection, rig_id, card),
        ),
        _sighted(card, shot, marks, holding(states, ALL_MARKS), pins, tuple(sorted(holds_at_range.items()))),
    )
    return RigView(
        rig_id,
        tuple(history),
        rigs.units(connection, rig_id),
        rigs.archived(connection, rig_id),
        tuple(log),
        state,
        tuple(prepared),
        tuple(mounted),
        tuple(looks),
        tuple(levelled),
        _present(witness_marks.log(connection, rig_id)),
        shot,
        every_end,
        every_move,
        at_range,
        witness_marks.photo_ids(connection, rig_id),
    )


def _tolerances(card: RigCard, reckoning: Reckoning) -> dict[str, float]:
    """What each axis may be off [rad] for the tolerance at the target; empty while that is not known."""
    fit, priors = reckoning.fit, card.priors()
    figures = fit.figures if fit else priors.figures if priors else None
    wanted = card.level.tolerance_m
    if figures is None or wanted is None or card.goals.home_m is None:
        return {}
    try:
        return _tolerated(card, figures, wanted)
    except OutOfReach:
        return {}


_tolerated = lru_cache(maxsize=128)(tolerances)


def _present(log: list[WitnessMark]) -> tuple[WitnessMark, ...]:
    newest = {mark.line: mark for mark in log}
    return in_order([mark for mark in newest.values() if not mark.removed])


# the same card and marks give the same reckoning, and the bench asks for every rig at once
_reckoned = lru_cache(maxsize=256)(reckon)


@lru_cache(maxsize=256)
def _sighted(
    card: RigCard,
    log: RangeLog,
    marks: tuple[Entry, ...],
    marks_hold: frozenset[int],
    pins: Pins,
    holds: tuple[tuple[str, frozenset[int]], ...],
) -> SightIn:
    return sight_in(card, log, _reckoned(card, marks, marks_hold, pins), dict(holds))


def _same_places(history: Sequence[Revision]) -> frozenset[int]:
    """Revisions since the places of the sight's controls were last written down."""
    places = [tuple((c.name, c.position_mm) for c in revision.card.sight.controls) for revision in history]
    since = max((n for n, (a, b) in enumerate(zip(places, places[1:]), start=1) if a != b), default=0)
    return frozenset(revision.number for revision in history[since:])


def open_rig(database: Database, rig_id: int) -> RigView:
    """One rig as it stands. Raises NotFound."""
    with database.reading() as connection:
        return view(connection, rig_id)
