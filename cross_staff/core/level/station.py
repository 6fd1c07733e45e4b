"""The level station: which axis is next, what its readings say, what to turn and how far, what is done.

Readings are kept in divisions as they were seen; with vials that are calibrated everything becomes
radians, without it the axes are nulled in divisions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level import screws
from cross_staff.core.level.axes import AxisReading, Solved, solve
from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.screws import Action, AnglePerTurn, AnglePerTurnPrior, Estimate, Turn
from cross_staff.core.rig.card import LevelSetup, RigCard
from cross_staff.core.rig.log import BenchEntry, check_reason, newest

STATION = "level"
AXES = ("first", "second", "third")
LOOK_DIV = 0.1  # how exactly a bubble is read
USUAL_TOLERANCE_RAD = math.radians(0.25)
TOLERANCE_DIV = 0.3
PLUMB_DIV = 1.0  # farther off, the bow is brought plumb before anything is read
CENTRED_DIV = 0.2  # how near its middle the reference must stand while vials are not calibrated
USUAL_GAIN_DIV = 5.0
LEVEL_PITCH_RAD = math.radians(12.0)
LEAST_TILT_RAD = math.radians(10.0)  # less tells nothing of the third axis
FAR_FROM_SIBLINGS_SDS = 4.0


@dataclass(frozen=True)
class LevelReading:
    """One look: which axis it is for and by which method; pitch of the arrow line [rad]; sight's (or
    rail's) and reference's bubble [divisions, right positive]; turns of the key made just before it,
    clockwise positive, None for none; whether the screws were locked."""

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


def kept(log: Sequence[LevelReading]) -> list[LevelReading]:
    """The readings that were not taken back, oldest first."""
    undone = {reading.undoes for reading in log if reading.undoes is not None}
    return [r for r in log if r.undoes is None and r.reading_id not in undone]


@dataclass(frozen=True)
class VialUnit:
    """What one unit of the looks is: radians when calibrated, else divisions; sd of one vial's look,
    and of the difference of two."""

    calibrated: bool
    vial: float
    reference: float

    @property
    def look_sd(self) -> float:
        return LOOK_DIV * math.hypot(self.vial, self.reference)


def unit_for(setup: LevelSetup, axis: str) -> VialUnit:
    """Radians a division of both vials where both are known, else one unit a division."""
    a, b = setup.vial_of(axis).per_division_rad, setup.reference.per_division_rad
    if a is None or b is None:
        return VialUnit(False, 1.0, 1.0)
    return VialUnit(True, a, b)


@dataclass(frozen=True)
class AxisState:
    """An axis: as found, as it is now (both in the unit of its looks), the looks since the last turn,
    the turns made, the gain learned, what to do, and how it stands: waits, open, good, recheck,
    accepted."""

    axis: str
    unit: VialUnit
    tolerance: float
    as_found: Estimate | None
    now: Estimate | None
    looks: tuple[float, ...]
    turns: tuple[Turn, ...]
    angle_per_turn: AnglePerTurn | None
    action: Action
    standing: str
    pitch_rad: float
    method: str
    other_way: bool
    overshot: bool
    tightening: float | None
    far_look: int | None
    accepted: str

    @property
    def settled(self) -> bool:
        return self.standing in ("good", "accepted")


@dataclass(frozen=True)
class LevelState:
    """The whole station: readings that hold, plumb entry, axes by name, axis to work on (None: done),
    the joint solution where the vials are calibrated, third axis by method, and whether third is
    asked for at all; how many readings are old, and the axes that have nothing but such."""

    readings: tuple[LevelReading, ...]
    plumb: BenchEntry | None
    axes: dict[str, AxisState]
    current: str | None
    step: str
    solved: Solved | None
    solved_from: tuple[LevelReading, ...]
    by_method: dict[str, Estimate]
    required: tuple[str, ...]
    old: int
    aside: frozenset[str] = frozenset()

    @property
    def done(self) -> bool:
        return self.step == "done"


def level_state(
    card: RigCard,
    log: Sequence[LevelReading],
    entries: Sequence[BenchEntry],
    holds: frozenset[int] | None = None,
    tolerances: dict[str, float] | None = None,
    angles_per_turn: dict[str, AnglePerTurnPrior] | None = None,
) -> LevelState:
    """Judge the station.

    Args:
        card: the rig's card.
        log: readings, oldest first.
        entries: of the station: plumb, acceptances.
        holds: revisions whose readings still hold; None: all.
        tolerances: by axis [rad]; None: the usual one.
        angles_per_turn: what is known of such screws [rad a turn], by axis.

    Returns:
        every axis with its sd [rad, or lines where the vials are not calibrated], the step in hand, what is done.

    Source:
        docs/method.md, sections 11 and 12.
    """
    every = kept(log)
    readings = [r for r in every if holds is None or r.revision in holds]
    held = {k: e for k, e in newest(entries).items() if holds is None or e.revision in holds}
    required = AXES[:2] if card.goals.level_only else AXES
    axes: dict[str, AxisState] = {}
    for axis in AXES:
        accepted = held.get(f"accept_{axis}")
        axes[axis] = _axis(card, axis, readings, axes, accepted, tolerances or {}, angles_per_turn or {})
    turned = next((r.axis for r in reversed(readings) if r.turns), None)
    step, current = _step(card, axes, held, required, turned)
    return LevelState(
        tuple(readings),
        held.get("plumb"),
        axes,
        current,
        step,
        *_solved(card, readings),
        _by_method(card, readings, axes),
        required,
        len(every) - len(readings),
        frozenset(r.axis for r in every) - frozenset(r.axis for r in readings),
    )


def _step(
    card: RigCard,
    axes: dict[str, AxisState],
    held: dict[str, BenchEntry],
    required: tuple[str, ...],
    turned: str | None,
) -> tuple[str, str | None]:
    """reference, plumb, an axis, or done; and the axis that it is about: the one turned last until it
    is good, then the earliest that is not."""
    if card.level.reference.roll_error_div is None:
        return "reference", None
    if "plumb" not in held:
        return "plumb", None
    for axis in (turned, *required) if turned in required else required:
        if not axes[axis].settled:
            return "axis", axis
    return "done", None


def _axis(
    card: RigCard,
    axis: str,
    readings: Sequence[LevelReading],
    before: dict[str, AxisState],
    accepted: BenchEntry | None,
    tolerances: dict[str, float],
    angles_per_turn: dict[str, AnglePerTurnPrior],
) -> AxisState:
    unit = unit_for(card.level, axis)
    tolerance = tolerances.get(axis, USUAL_TOLERANCE_RAD) if unit.calibrated else TOLERANCE_DIV
    own = [r for r in readings if r.axis == axis]
    corrections = {name: state.now.value for name, state in before.items() if state.now is not None}
    looks = {r.reading_id: _look(card, r, unit, corrections) for r in own}
    groups, past = _groups(readings, axis, looks)
    sd = _look_sd(own, unit, axis)
    turns = _turns(groups, sd)
    present = [] if past or not groups else groups[-1].looks
    latest = groups[-1].looks if groups else []
    prior = replace(angles_per_turn.get(axis) or _prior(unit), sign=_sign_by_card(card, axis, own))
    action = screws.decide(present, sd, turns, tolerance, prior)
    last = own[-1] if own else None
    return AxisState(
        axis,
        unit,
        tolerance,
        screws.estimate(groups[0].looks, sd) if groups else None,
        screws.estimate(latest, sd),
        tuple(present),
        turns,
        screws.angle_per_turn(turns, prior),
        action,
        _standing(action, past and bool(groups), accepted),
        last.pitch_rad if last else math.radians(-35.0) if axis == "third" else 0.0,
        last.method if last else METHODS[axis][0].key,
        screws.went_the_other_way(turns, prior),
        bool(turns) and turns[-1].before * turns[-1].after < 0.0 and abs(turns[-1].after) > tolerance,
        _tightening(own, [looks[r.reading_id] for r in own]),
        _far_look(present, sd),
        accepted.note if accepted else "",
    )


def _sign_by_card(card: RigCard, axis: str, own: Sequence[LevelReading]) -> int:
    """Which way a clockwise turn takes the axis, where the card says which way it takes the bubble."""
    ways = [c.clockwise for c in card.sight.controls if c.moves == f"{axis}_axis"]
    if not ways or ways[0] not in ("left", "right"):
        return 0
    bubble = 1 if ways[0] == "right" else -1
    if axis != "third":
        return -bubble
    return bubble if own and own[-1].pitch_rad > 0.0 else -bubble


def _prior(unit: VialUnit) -> AnglePerTurnPrior:
    if unit.calibrated:
        return AnglePerTurnPrior(screws.USUAL_GAIN_RAD, 0.5, 0, screws.USUAL_PLAY_RAD)
    return AnglePerTurnPrior(USUAL_GAIN_DIV, 0.7, 0, 0.12)


def _look(card: RigCard, reading: LevelReading, unit: VialUnit, others: dict[str, float]) -> float:
    """What one reading says of its axis, small angles."""
    seen, reference = _proved(card.level, reading)
    apart = unit.vial * seen - unit.reference * reference
    sine, cosine = math.sin(reading.pitch_rad), math.cos(reading.pitch_rad)
    if reading.axis == "third":
        yaw = card.level.yaw_rad if unit.calibrated else 0.0
        return (apart + others.get("second", 0.0) * cosine) / sine + yaw
    return -apart / cosine


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
    """Refuse what cannot be said at this station: that the bow is plumb, or that an axis is accepted as it is.

    Raises: NotFound for anything else; InvalidValue.
    """
    if entry.key == "plumb":
        if len(entry.points) != 1:
            raise InvalidValue("side", "where does the bubble stand?")
        check_plumb(*entry.points[0])
    elif entry.key in {f"accept_{axis}" for axis in AXES}:
        check_reason(entry.note)
    else:
        raise NotFound("there is no such entry")


def check_reading(setup: LevelSetup, reading: LevelReading) -> None:
    """Refuse what cannot be reckoned with. Raises InvalidValue for a tilt at which the axis cannot be
    told, or a reference off its middle while lines of the two vials cannot be set against each other."""
    steep = abs(reading.pitch_rad)
    if reading.axis == "third" and steep < LEAST_TILT_RAD:
        raise InvalidValue("pitch", "too level to tell the third axis: tilt it 30 to 45 degrees")
    if reading.axis != "third" and steep > LEVEL_PITCH_RAD:
        raise InvalidValue("pitch", "read this axis with the bow level: steep, the third axis leaks in")
    middle = setup.reference.roll_error_div or 0.0
    off = reading.reference_div - middle
    if not unit_for(setup, reading.axis).calibrated and abs(off) > CENTRED_DIV + 1e-9:
        raise InvalidValue(
            "reference",
            f"these vials are not calibrated: bring the reference to {middle:g} first, by the bow, or calibrate both",
        )


def _proved(setup: LevelSetup, reading: LevelReading) -> tuple[float, float]:
    """Both bubbles of a reading [divisions] with what a reversal showed of the vials taken out; the
    sight's own vial stays as it is, for it is what the second axis is set by."""
    laid = setup.rail.roll_error_div if reading.axis == "first" else None
    return reading.vial_div - (laid or 0.0), reading.reference_div - (setup.reference.roll_error_div or 0.0)


def _look_sd(own: Sequence[LevelReading], unit: VialUnit, axis: str) -> float:
    tilt = abs(math.sin(own[-1].pitch_rad)) if axis == "third" and own else 1.0
    return unit.look_sd / max(tilt, math.sin(LEAST_TILT_RAD))


@dataclass(frozen=True)
class _Group:
    """Locked looks at one setting of the axis, and the turns that led to it."""

    turns: float
    looks: list[float]


def _groups(readings: Sequence[LevelReading], axis: str, looks: dict[int, float]) -> tuple[list[_Group], bool]:
    """Locked looks between turns, as found first; and whether the last of them are past: a turn of
    this axis, or of another, came after them."""
    groups: list[_Group] = []
    turned, past = 0.0, False
    for reading in readings:
        if reading.turns:
            past = True
            turned += reading.turns if reading.axis == axis else 0.0
        if reading.axis != axis or not reading.locked:
            continue
        if past or not groups:
            groups.append(_Group(turned if groups else 0.0, []))
            turned, past = 0.0, False
        groups[-1].looks.append(looks[reading.reading_id])
    return groups, past


def _turns(groups: Sequence[_Group], sd: float) -> tuple[Turn, ...]:
    turns = []
    for before, after in zip(groups, groups[1:]):
        one, other = screws.estimate(before.looks, sd), screws.estimate(after.looks, sd)
        if after.turns and one is not None and other is not None:
            turns.append(Turn(after.turns, one.value, other.value, one.sd, other.sd))
    return tuple(turns)


def _standing(action: Action, past: bool, accepted: BenchEntry | None) -> str:
    if accepted is not None:
        return "accepted"
    if action.kind == screws.GOOD:
        return "good"
    return "recheck" if past else "open"


def _tightening(own: Sequence[LevelReading], looks: Sequence[float]) -> float | None:
    """What locking itself moves, on average: looks loose and then locked with no turn between."""
    shifts = [
        after - before
        for (a, before), (b, after) in zip(zip(own, looks), list(zip(own, looks))[1:])
        if not a.locked and b.locked and not b.turns
    ]
    return sum(shifts) / len(shifts) if shifts else None


def _far_look(looks: Sequence[float], sd: float) -> int | None:
    """Index of a look that its siblings do not expect, of three or more."""
    if len(looks) < 3:
        return None
    middle = sorted(looks)[len(looks) // 2]
    worst = max(range(len(looks)), key=lambda i: abs(looks[i] - middle))
    return worst if abs(looks[worst] - middle) > FAR_FROM_SIBLINGS_SDS * sd else None


def _since_turns(readings: Sequence[LevelReading]) -> list[LevelReading]:
    """Locked readings since the last turn of their own axis or an earlier one."""
    order = {axis: rank for rank, axis in enumerate(AXES)}
    turns: list[LevelReading] = []
    for reading in readings:
        if reading.turns:
            turns = [r for r in turns if order[r.axis] < order[reading.axis]]
        if reading.locked:
            turns.append(reading)
    return turns


def _solved(card: RigCard, readings: Sequence[LevelReading]) -> tuple[Solved | None, tuple[LevelReading, ...]]:
    """All axes together from the readings that still hold, and those readings; None while a vial is
    not calibrated, or nothing can be solved."""
    present = _since_turns(readings)
    units = {axis: unit_for(card.level, axis) for axis in AXES}
    usable = [r for r in present if units[r.axis].calibrated]
    if not usable:
        return None, ()
    rows = []
    for reading in usable:
        unit, (seen, reference) = units[reading.axis], _proved(card.level, reading)
        rows.append(
            AxisReading(
                reading.pitch_rad,
                unit.vial * seen,
                unit.reference * reference,
                unit.look_sd,
                reading.axis == "first",
            )
        )
    try:
        return solve(rows, card.level.yaw_rad, card.level.yaw_sd_rad()), tuple(usable)
    except InvalidValue:
        return None, ()


def _by_method(card: RigCard, readings: Sequence[LevelReading], axes: dict[str, AxisState]) -> dict[str, Estimate]:
    """The third axis as each method has it, from its readings since the last turn."""
    unit = unit_for(card.level, "third")
    second = axes["second"].now
    others = {"second": second.value} if second else {}
    methods: dict[str, list[tuple[float, float]]] = {}
    for reading in _since_turns(readings):
        if reading.axis == "third":
            sd = _look_sd([reading], unit, "third")
            methods.setdefault(reading.method, []).append((_look(card, reading, unit, others), sd))
    result = {}
    for method, looks in methods.items():
        estimate = screws.estimate([v for v, _ in looks], max(s for _, s in looks))
        if estimate is not None:
            result[method] = estimate
    return result


def draw_twist(by_method: dict[str, Estimate]) -> float | None:
    """Full draw less at rest, against the same reference on string or plumb; None without both.

    Args:
        by_method: what each method says [rad].

    Returns:
        full draw less at rest [rad]; None without both.

    Source:
        docs/method.md, section 11.
    """
    for rest, drawn in (("vise_string", "board_string"), ("vise_riser", "board_riser")):
        if rest in by_method and drawn in by_method:
            return by_method[drawn].value - by_method[rest].value
    return None
