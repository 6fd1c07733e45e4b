"""The level station: which axis is next, what its readings say, what to turn and how far, what is done.

Readings are kept in divisions as they were seen. Everything is reckoned in radians; where a vial is not calibrated a
line is counted coarser than nearly every vial's, and lines are what is shown.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level import cant_trial, screws
from cross_staff.core.level.axis import LEAST_TILT_RAD, USUAL_TOLERANCE_RAD, AxisState, axis_state, shimmed
from cross_staff.core.level.chain import Amount, Chain, solve, state_of
from cross_staff.core.level.lines import with_lines
from cross_staff.core.level.log import AXES, History, LevelReading, history, kept, matches
from cross_staff.core.level.looks import AxisKnown
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, METHODS, ON_RAIL, RAIL, WANDER, Method
from cross_staff.core.level.rests import middle_of
from cross_staff.core.level.screws import AnglePerTurnPrior, Estimate
from cross_staff.core.level.slips import Slip, slips
from cross_staff.core.level.slopes import worth
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import SEATS, LevelSetup, RigCard
from cross_staff.core.rig.log import BenchEntry, check_reason, newest, standing

STATION = "level"
IN_JIG, ON_BOW = "jig", "bow"  # where the sight is
PLUMB_DIV = 1.0  # farther off, the bow is brought plumb before anything is read
TRAVEL_M = Range(0.005, 0.2)
STRAIGHTEDGE_DIV = Range(-10.0, 10.0)
LEVEL_PITCH_RAD = math.radians(12.0)
AT_REST, DRAWN = ("vise_string", "vise_riser"), ("board_string", "board_rod", "hand_plumb")


@dataclass(frozen=True)
class LevelState:
    """The whole station: entries that hold, plumb entry, axes by name, axis to work on (None: none), the step
    (reference, string, plumb, rail, match, axis, squared, done), the label that stays until full draw or arrows
    decide (bench_only, squared_at_rest, not_proved; empty: none); third axis by each method read since the last
    turn, as that method has it; full draw less at rest; where the reference stands when the bow is plumb [divisions];
    looks that look wrong; which axes are asked for; how many readings are old, and the axes that have nothing but
    such; whether the sight is off the bow, in a bench jig; how much more the rail leans to the right near its top than
    near its bottom (None where it was not read at both); axes judged by the usual tolerance, for nobody can say yet
    what they cost; what a straightedge over the limb pockets showed, which only confirms."""

    readings: tuple[LevelReading, ...]
    log: History
    plumb: BenchEntry | None
    axes: dict[str, AxisState]
    current: str | None
    step: str
    label: str
    by_method: dict[str, Estimate]
    twist: Amount | None
    middle_div: float
    slips: tuple[Slip, ...]
    required: tuple[str, ...]
    old: int
    aside: frozenset[str] = frozenset()
    in_jig: bool = False
    bend: Amount | None = None
    usual: frozenset[str] = frozenset()
    straightedge: BenchEntry | None = None

    @property
    def done(self) -> bool:
        return self.step == "done"

    @property
    def seat(self) -> str:
        """Where the reference sits now."""
        return self.axes["second"].seat

    @property
    def matched(self) -> bool:
        """Whether it was read beside the string level since it was put there."""
        return bool(self.log.seatings and self.log.seatings[-1].matches)


@dataclass(frozen=True)
class Given:
    """What the level is judged by beside its own log: what may be left of each axis [rad] (the usual where it is not
    said); what is known of such screws by axis [rad a turn]; figures of the rig, by which groups on slopes are reckoned
    (None while they are not known); what the axes were read with at each revision (as now where it is not said)."""

    tolerances: Mapping[str, float] = field(default_factory=dict)
    angles_per_turn: Mapping[str, AnglePerTurnPrior] = field(default_factory=dict)
    figures: RigFigures | None = None
    setups: Mapping[int, LevelSetup] = field(default_factory=dict)


def asked_for(card: RigCard) -> tuple[str, ...]:
    """Which axes an archer needs.

    Args:
        card: of the rig.

    Returns:
        their names; without the third for who shoots on level ground alone, without the first on a sight whose housing
        travels along no rail.

    Source:
        docs/method.md, section 12.
    """
    level, railed = card.goals.level_only, has_rail(card)
    return tuple(axis for axis in AXES if not (axis == "third" and level) and not (axis == "first" and not railed))


def has_rail(card: RigCard) -> bool:
    """Whether there is a rail that a level could be laid on.

    Args:
        card: of the rig.

    Returns:
        yes or no.

    Source:
        a rule of the craft.
    """
    return card.sight_kind.dialled


def ways_of(card: RigCard, axis: str) -> tuple[Method, ...]:
    """How an axis of this sight can be read.

    Args:
        card: of the rig.
        axis: first, second or third.

    Returns:
        methods, the usual one first.

    Source:
        a rule of the craft.
    """
    every = METHODS[axis]
    return every if axis == "first" or has_rail(card) else tuple(m for m in every if m.reads != RAIL)


def level_state(
    card: RigCard,
    readings: Sequence[LevelReading],
    entries: Sequence[BenchEntry],
    holds: frozenset[int] | None = None,
    given: Given | None = None,
) -> LevelState:
    """Judge the station.

    Args:
        card: the rig's card.
        readings: every entry of the log, oldest first.
        entries: of the station: plumb, matches of the reference, acceptances.
        holds: revisions whose readings still hold; None: all.
        given: what the rest of the rig knows [rad]; None: nothing.

    Returns:
        every axis with its sd [rad], the step in hand, what is done.

    Source:
        docs/method.md, section 12.
    """
    given = given or Given()
    every = kept(readings)
    present = [r for r in every if holds is None or r.revision in holds]
    held = {k: e for k, e in newest(entries).items() if holds is None or e.revision in holds}
    pairs = [e for each in standing(entries).values() for e in each if holds is None or e.revision in holds]
    log = history(present, matches(pairs), card.level, given.setups)
    setup = with_lines(card.level, log, given.angles_per_turn)
    if setup != card.level:
        card = replace(card, level=setup)
        log = history(present, matches(pairs), card.level, given.setups)
    shots = worth(card, log, given.figures)
    chain = solve(card.level, log, shots, shimmed(card))
    axes: dict[str, AxisState] = {}
    jig = in_jig(present, pairs)
    for axis in AXES:
        sharp = solve(card.level, log, shots, shimmed(card), (axis, log.last)) if log.of(axis, log.last) else chain
        tolerance, prior = given.tolerances.get(axis, USUAL_TOLERANCE_RAD), given.angles_per_turn.get(axis)
        leaks = axis == "third" and not axes["second"].resolved
        known = AxisKnown(card, log, chain, sharp, tolerance, prior, _accepted(held, present, axis, jig), leaks, jig)
        axes[axis] = axis_state(axis, known)
    required = asked_for(card)
    step, current = _step(card, axes, held, required, log) if not jig else _at_axes(card.level, axes, required, log)
    return LevelState(
        tuple(present),
        log,
        held.get("plumb"),
        axes,
        current,
        step,
        _label(axes, required, log),
        _by_method(log, chain),
        _twist(log, chain),
        middle_of(card.level, log),
        slips(log, chain, lambda other: solve(card.level, other, shots, shimmed(card))),
        required,
        sum(not r.turn for r in every) - sum(not r.turn for r in present),
        frozenset(r.axis for r in every) - frozenset(r.axis for r in present),
        jig,
        _bend(chain, log),
        frozenset(axis for axis in required if axis not in given.tolerances),
        held.get("straightedge"),
    )


def _accepted(held: Mapping[str, BenchEntry], present: Sequence[LevelReading], axis: str, jig: bool) -> str:
    """The reason why an axis is left as it is; none once it was turned after that, or put on the bow while it had been
    read in the jig alone."""
    entry = held.get(f"accept_{axis}")
    own = [r for r in present if r.axis == axis]
    if entry is None or any(r.turned and r.entered > entry.entered for r in own):
        return ""
    read = [BY_KEY[r.method].on_bench for r in own if not r.turn and r.entered <= entry.entered]
    if axis != "third" and not jig and read and all(read):
        return ""
    return entry.note


def _step(
    card: RigCard,
    axes: dict[str, AxisState],
    held: Mapping[str, BenchEntry],
    required: tuple[str, ...],
    log: History,
) -> tuple[str, str | None]:
    """The step in hand and the axis that it is about: the one turned last until nothing more can be done at it, then
    the earliest that is open."""
    for kind in ("reference", "string"):
        if getattr(card.level, kind).roll_error_div is None:
            return kind, None
    if "plumb" not in held:
        return "plumb", None
    return _at_axes(card.level, axes, required, log)


def _at_axes(
    setup: LevelSetup, axes: dict[str, AxisState], required: tuple[str, ...], log: History
) -> tuple[str, str | None]:
    """The axis in hand, with nothing left to prove of the bow: in a jig there is none."""
    turned = next(iter(log.turned[-1]), None)
    for axis in (turned, *required) if turned in required else required:
        if not axes[axis].resolved:
            axis = "second" if axes[axis].action.because == "second_first" else axis
            return _before(setup, axes[axis], log), axis
    return ("done" if all(axes[axis].settled for axis in required) else "squared"), None


def _before(setup: LevelSetup, state: AxisState, log: History) -> str:
    """What has to be known before an axis is worth reading again: the rail's level, the reference on its seat."""
    reads, looked = BY_KEY[state.method].reads, state.seen is not None or state.beyond is not None
    on_rail = state.axis == "first" or (state.axis == "second" and reads == RAIL)
    if setup.rail.roll_error_div is None and on_rail and looked and state.action.because != "quick_only":
        return "rail"  # after the first look: turned end for end where it lies
    matched = log.seatings and log.seatings[-1].matches
    tilted = state.axis == "third" and state.unit.calibrated  # else a roll passes for the third axis
    return "match" if not tilted and reads == CLIP and not matched else "axis"


def in_jig(present: Sequence[LevelReading], pairs: Sequence[BenchEntry]) -> bool:
    """Whether the sight is off the bow, in a bench jig: said so, or read so last.

    Args:
        present: entries of the log that hold.
        pairs: entries of the station that hold.

    Returns:
        yes or no.

    Source:
        a rule of the craft.
    """
    told = [(r.entered, BY_KEY[r.method].on_bench) for r in present if not r.turn]
    told += [(e.entered, e.choice == IN_JIG) for e in pairs if e.key in ("where", "plumb", "match")]
    return max(told, key=lambda each: each[0], default=(None, False))[1]


def _bend(chain: Chain, log: History) -> Amount | None:
    """How much the rail's ends lean apart [rad]; None where it was not read at both since something was turned."""
    places = {k.entry.place for k in log.of("first") if not k.entry.vial_end}
    return chain.amount({"bend": 1.0}) if set(ON_RAIL) <= places else None


def _label(axes: Mapping[str, AxisState], required: tuple[str, ...], log: History) -> str:
    """What the level is to be called until the bow, full draw or arrows decide."""
    third = _label_of(axes["third"], log) if "third" in required else ""
    return third or next((label for axis in required if (label := _label_of(axes[axis], log))), "")


def _label_of(state: AxisState, log: History) -> str:
    """The same of one axis."""
    squared = state.action.kind == screws.SQUARED
    left_so = bool(state.accepted) and state.now is not None and state.action.kind != screws.GOOD
    if not (squared or left_so):
        return ""
    read = {BY_KEY[k.entry.method] for k in log.of(state.axis) if not k.entry.vial_end}
    if all(method.on_bench for method in read):
        return "bench_only"
    if state.axis != "third":
        return ""
    return "not_proved" if any(method.full_draw for method in read) else "squared_at_rest"


def _by_method(log: History, chain: Chain) -> dict[str, Estimate]:
    """The third axis as each method has it that was read since the last turn [rad]."""
    read: dict[str, int] = {}
    for look in log.of("third", log.last):
        if not look.entry.vial_end:
            read[look.entry.method] = read.get(look.entry.method, 0) + 1
    own = {}
    for key, count in read.items():
        weights = {state_of("third", log.last): 1.0} | {f"part:{part}": 1.0 for part in BY_KEY[key].parts}
        amount = chain.seen(weights)
        own[key] = Estimate(amount.value, amount.sd, count)
    return own


def _twist(log: History, chain: Chain) -> Amount | None:
    """Full draw less at rest [rad]; None where the third axis was not read both ways."""
    read = {k.entry.method for k in log.of("third") if not k.entry.vial_end}
    drawn = next((key for key in (*DRAWN, "board_riser") if key in read), None)
    rest = next((key for key in AT_REST if key in read), None)
    if drawn is None or rest is None:
        return None
    weights: dict[str, float] = {}
    for sign, key in ((1.0, drawn), (-1.0, rest)):
        for part in BY_KEY[key].parts:
            weights[f"part:{part}"] = weights.get(f"part:{part}", 0.0) + sign
    return chain.amount(weights)


def check_plumb(side_div: float, fore_div: float) -> None:
    """Refuse a bow that is not plumb.

    Args:
        side_div: bubble across the bow [lines].
        fore_div: bubble along the arrow [lines].

    Raises:
        InvalidValue: for more than a line either way.

    Source:
        a rule of the craft.
    """
    for name, off in (("side", side_div), ("fore", fore_div)):
        if abs(off) > PLUMB_DIV:
            said = "more than a line off: bring the bow plumb first, it is quicker than reckoning with it"
            raise InvalidValue(name, said)


def check_entry(_card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said at this station: that the bow is plumb, that the reference was matched, or that an
    axis is accepted as it is.

    Raises: NotFound for anything else; InvalidValue.
    """
    if entry.key in ("plumb", "match"):
        if len(entry.points) != 1 or (entry.key == "match" and entry.number is None):
            raise InvalidValue("side", "where does the bubble stand?")
        check_plumb(*entry.points[0])
        if entry.choice not in SEATS:
            raise InvalidValue("seat", "where does the reference sit?")
    elif entry.key == cant_trial.KEY:
        cant_trial.trial_of(entry).check()
    elif entry.key == "straightedge":
        if entry.number is None or not STRAIGHTEDGE_DIV.holds(entry.number):
            raise InvalidValue("straightedge", "where does its bubble stand, within ten lines?")
    elif entry.key == "where":
        if entry.choice not in (IN_JIG, ON_BOW):
            raise InvalidValue("where", "on the bow, or in a bench jig?")
    elif entry.key in {f"accept_{axis}" for axis in AXES}:
        check_reason(entry.note)
    else:
        raise NotFound("there is no such entry")


def check_reading(setup: LevelSetup, reading: LevelReading) -> None:
    """Refuse what nothing can be worked out of. Raises InvalidValue for a tilt at which the axis cannot be told, a seat
    that the method does not read, or an end that no glass has."""
    method = BY_KEY[reading.method]
    if reading.seat not in SEATS:
        raise InvalidValue("seat", "where does the reference sit? Choose one of the list")
    if reading.vial_end not in (-1, 0, 1):
        raise InvalidValue("vial_end", "the bubble lies at the left end, the right one, or in between")
    if reading.place and reading.place not in method.places:
        raise InvalidValue("place", "that is no place that this way reads")
    if method.reads == WANDER:
        _check_wander(reading)
    steep = abs(reading.pitch_rad)
    if reading.axis == "third" and method.reads != ARROWS and steep < LEAST_TILT_RAD:
        raise InvalidValue("pitch", "too level to tell the third axis: 30 to 45 degrees are best")
    if reading.axis != "third" and steep > LEVEL_PITCH_RAD:
        raise InvalidValue("pitch", "read this axis with the bow level: steep, the third axis leaks in")
    if method.seats and reading.seat and reading.seat not in method.seats:
        said = " or ".join(SEATS[seat] for seat in method.seats)
        raise InvalidValue("seat", f"this way reads it {said}: choose that, or another way")


def _check_wander(reading: LevelReading) -> None:
    if reading.right_m is None:
        raise InvalidValue("wander", "how far did it wander? 0 for not at all, left is minus")
    if not TRAVEL_M.holds(reading.distance_m or 0.0):
        raise InvalidValue("travel", "over how much travel, between 5 and 200 mm?")
    if abs(reading.right_m) > 0.5 * (reading.distance_m or 0.0):
        raise InvalidValue("wander", "more than half of the travel: measure both again")
