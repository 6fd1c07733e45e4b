"""One axis as it stands: as found, as it is now, what its screw did, what to do, and how sure that is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.level import screws
from cross_staff.core.level.chain import Amount, Chain, leans, state_of
from cross_staff.core.level.ends import beyond as beyond_end
from cross_staff.core.level.ends import end_of, screw_prior
from cross_staff.core.level.lines import glass_too_coarse
from cross_staff.core.level.log import AXES, History, LevelReading, Look
from cross_staff.core.level.looks import AxisKnown, amounts_between, judged, says
from cross_staff.core.level.methods import BY_KEY, METHODS, ON_RAIL, RAIL, WANDER, Method
from cross_staff.core.level.rests import FAR_DIV, rests_at
from cross_staff.core.level.screws import Action, AnglePerTurn, Beyond, Estimate, Evidence, Turn
from cross_staff.core.level.units import VialUnit, unit_for
from cross_staff.core.rig.card import LevelSetup, RigCard
from cross_staff.core.rig.sight import Screw

USUAL_TOLERANCE_RAD = math.radians(0.25)
USUAL_TILT_RAD = math.radians(-35.0)
LEAST_TILT_RAD = math.radians(10.0)  # less tells nothing of the third axis
FAR_FROM_SIBLINGS_SDS = 4.0
MOST_MATCHES = 4  # of a reference with the string level, where one does not tell it well enough
NEAR_TOLERANCES = 3.0  # farther off, an axis is turned before anything is calibrated
ENDS_FIRST = ("coarse", "back", "by_bubble", "second_first", "stuck", "match", "first_look", "seat_moved", "on_bow")
COUNTLESS = ("ring", "slots")  # moved when just loose, by hand: no turns to count


@dataclass(frozen=True)
class AxisState:
    """An axis: as found (None where it was turned before anybody looked, or stood at the end of its glass:
    `found_beyond` says which way), as it is with everything counted (`now`) and as the tool has it (`seen`), the looks
    since the last turn, the counted turns, the gain learned, what to do, and how it stands: open, good, squared,
    recheck, accepted. chance: that it lies within its tolerance. All in radians."""

    axis: str
    unit: VialUnit
    tolerance: float
    as_found: Estimate | None
    found_beyond: int
    now: Estimate | None
    seen: Estimate | None
    looks: tuple[float, ...]
    turns: tuple[Turn, ...]
    angle_per_turn: AnglePerTurn | None
    action: Action
    standing: str
    pitch_rad: float
    method: str
    seat: str
    other_way: bool
    overshot: bool
    tightening: float | None
    far_look: int | None
    accepted: str
    chance: float | None
    beyond: Beyond | None
    by_eye: int
    shown: float = 0.0  # where its bubble was seen last [lines]
    place: str = ""  # where on the rail to lay the level next, or which line the bow is held to

    def lines_for(self, move: float) -> float:
        """How far the bubble that is watched should come for a move of the axis [rad], in lines, right positive."""
        tilts = math.sin(self.pitch_rad) if self.axis == "third" else -math.cos(self.pitch_rad)
        return move * tilts / self.unit.vial

    @property
    def until(self) -> tuple[str, float] | None:
        """Where to stop a movement that is watched, in lines, right positive: the bubble `stands` there, or has `come`
        so far where it is turned as it is not read. None where nothing tells how far."""
        if self.action.move is None:
            return None
        lines = self.lines_for(self.action.move)
        return ("stands", self.shown + lines) if BY_KEY[self.method].watched == "here" else ("come", lines)

    @property
    def settled(self) -> bool:
        """Nothing more to do, said or accepted."""
        return self.standing in ("good", "accepted")

    @property
    def resolved(self) -> bool:
        """Nothing more to do with the tool that it was read by."""
        return self.settled or self.standing == "squared"


def screw_of(card: RigCard, axis: str) -> Screw | None:
    """The screw or pair that the map names for an axis."""
    return next((s for s in card.sight.screws if s.movement == f"{axis}_axis" and not s.never), None)


def adjusts(card: RigCard, axis: str) -> bool:
    """Whether the sight has an adjustment of this axis, as far as is known."""
    return card.sight.axes[AXES.index(axis)] != "none"


def moves_freely(card: RigCard, axis: str) -> bool:
    """Whether there is no turn to count: a ring, slotted holes, a shim at the mount."""
    screw = screw_of(card, axis)
    return not adjusts(card, axis) or (screw is not None and screw.drive in COUNTLESS)


def shimmed(card: RigCard) -> frozenset[str]:
    """Axes that only a shim at the mount moves, and the whole sight with them."""
    return frozenset(axis for axis in AXES if not adjusts(card, axis))


def axis_state(axis: str, known: AxisKnown) -> AxisState:
    """Judge an axis.

    Args:
        axis: first, second or third.
        known: what it is judged from; tolerance [rad].

    Returns:
        how it stands; amounts [rad].

    Source:
        docs/method.md, section 12.
    """
    log, chain, setup = known.log, known.chain, known.setup
    own = log.of(axis)
    last = own[-1].entry if own else None
    way = read_by(axis, log, known.on_bench)
    method = way.key
    unit = unit_for(setup, axis, method)
    present = [k for k in log.of(axis, log.last) if not k.entry.vial_end]
    weights = judged(axis, log, log.last)
    in_jig = axis != "third" and bool(present) and all(BY_KEY[k.entry.method].on_bench for k in present)
    count = len(present)
    read = any(not k.entry.vial_end for k in own)
    now, seen = _estimate(chain.amount(weights), count), _estimate(chain.seen(weights, in_jig), count)
    turns = _turns(axis, log, chain)
    prior = screw_prior(axis, known, unit)
    alike = _alike(present)
    looks = tuple(says(chain, look, log.last) for look in alike)
    look_sd = _look_sd(unit, axis, last)
    beyond = beyond_end(axis, known)
    evidence = Evidence(
        looks,
        look_sd,
        now if read else None,
        seen if read else None,
        known.sharp.seen(weights, in_jig).sd,
        beyond,
        axis == "third" or in_jig,
        _one_way(axis, log.of(axis, log.last)),
        _unmatched(setup, log, present),
        any(k.span < log.last and not k.entry.vial_end for k in own),
        _carried(axis, known),
        _one_place(present),
        axis == "third" and _fewer_there(present),
        last is not None and BY_KEY[last.method].reads == WANDER,
    )
    watched = way.watched != "" and not evidence.quick
    action = screws.decide(evidence, turns, known.tolerance, prior, moves_freely(known.card, axis), watched)
    if in_jig and not known.on_bench and action.kind == screws.SQUARED:
        action = Action(screws.READ, "on_bow")  # back on the bow: what the jig squared is read there
    action = _calibrated_first(action, known, axis, way, last)
    return AxisState(
        axis,
        unit,
        known.tolerance,
        *_as_found(axis, log, chain),
        now if read else None,
        seen if read else None,
        tuple(says(chain, look, log.last) for look in present),
        turns,
        screws.angle_per_turn(turns, prior),
        action,
        _standing(action, bool(own) and not log.of(axis, log.last), axis in log.turned[log.last], known.accepted),
        last.pitch_rad if last else USUAL_TILT_RAD if axis == "third" else 0.0,
        method,
        _seat(log, setup),
        screws.went_the_other_way(turns, prior),
        _overshot(turns, known.tolerance),
        _tightening(axis, known),
        _far_look(looks, look_sd),
        known.accepted,
        screws.chance_within(now.value, now.sd, known.tolerance) if read else None,
        beyond,
        sum(axis in turned and turned[axis] is None for turned in log.turned),
        next((k.entry.vial_div for k in reversed(own) if not k.entry.vial_end), 0.0),
        next_place(axis, log, way),
    )


def read_by(axis: str, log: History, on_bench: bool) -> Method:
    """The way of reading an axis: the last one used for it where the sight now is, else the usual one there. A quick
    look is followed by the level.

    Args:
        axis: first, second or third.
        log: looks in order.
        on_bench: whether the sight is off the bow, in a jig.

    Returns:
        a method.

    Source:
        a rule of the craft.
    """
    there = [method for method in METHODS[axis] if method.on_bench == on_bench and method.reads != WANDER]
    used = [BY_KEY[k.entry.method] for k in log.of(axis)]
    return next((method for method in reversed(used) if method in there), there[0])


def _calibrated_first(action: Action, known: AxisKnown, axis: str, way: Method, last: LevelReading | None) -> Action:
    """What lines that are only guessed can never tell is not looked at again and again: its vial is calibrated."""
    unit = unit_for(known.setup, axis, way.key)
    if unit.calibrated or last is None or action.kind in (screws.GOOD, screws.SQUARED) or known.accepted:
        return action
    little = glass_too_coarse(known.setup, axis, way.key, last.pitch_rad, known.tolerance)
    fine = action.move is None or abs(action.move) < NEAR_TOLERANCES * known.tolerance
    astray = abs(rests_at(known.setup, known.log, axis, way.key)) > FAR_DIV
    seatings = known.log.seatings
    if action.because == "match" and seatings and seatings[-1].matches:  # one more tells less than its lines would
        return Action(screws.ASK, "calibrate")
    if astray and action.because not in ENDS_FIRST:
        return Action(screws.ASK, "calibrate")
    if action.because in ("not_sure", "fewer_there", "cannot_prove") or (
        little and fine and action.because not in ENDS_FIRST
    ):
        return Action(screws.ASK, "calibrate")
    return action


def next_place(axis: str, log: History, method: Method) -> str:
    """Where to lay the level on the rail for the next look: near the other end than last; by hand the line that it was
    held to.

    Args:
        axis: first, second or third.
        log: looks in order.
        method: how it is to be read.

    Returns:
        a key of PLACES; empty where there is no choice.

    Source:
        a rule of the craft.
    """
    last = next((k.entry.place for k in reversed(log.of(axis)) if k.entry.place in method.places), "")
    if method.places == ON_RAIL:
        return "bottom" if last == "top" else "top"
    return last or next(iter(method.places), "")


def _estimate(amount: Amount, count: int) -> Estimate:
    return Estimate(amount.value, amount.sd, count)


def _alike(present: Sequence[Look]) -> list[Look]:
    """Looks read as the last one was: by its method, at its place of the rail, its side of the tilt, on its seat."""

    def how(look: Look) -> tuple[str, str, bool, int | None]:
        return look.entry.method, look.entry.place, look.entry.pitch_rad > 0.0, look.seating

    return [k for k in present if how(k) == how(present[-1])]


def _look_sd(unit: VialUnit, axis: str, last: LevelReading | None) -> float:
    if last is not None and BY_KEY[last.method].reads == WANDER:
        return leans(last)[1]
    if axis != "third" or last is None:
        return unit.look_sd()
    return unit.look_sd(last.pitch_rad) / max(abs(math.sin(last.pitch_rad)), math.sin(LEAST_TILT_RAD))


def _turns(axis: str, log: History, chain: Chain) -> tuple[Turn, ...]:
    """Counted turns with looks before and after; an amount that nobody counted teaches nothing."""
    spans = sorted({k.span for k in log.of(axis) if not k.entry.vial_end})
    turns = []
    for before, after in zip(spans, spans[1:]):
        amounts = amounts_between(axis, log, before, after)
        if amounts is None or not amounts:
            continue
        old, new = state_of(axis, before), state_of(axis, after)
        move = chain.amount({new: 1.0, old: -1.0})
        one, other = chain.amount({old: 1.0}).value, chain.amount({new: 1.0}).value
        turns.append(Turn(amounts, one, other, move.sd))
    return tuple(turns)


def _as_found(axis: str, log: History, chain: Chain) -> tuple[Estimate | None, int]:
    own = log.of(axis)
    if not own or log.turned_before_read(axis):
        return None, 0
    if own[0].entry.vial_end:
        return None, end_of(chain, own[0])[0]
    span = own[0].span
    looks = [k for k in own if k.span == span and not k.entry.vial_end]
    return _estimate(chain.amount(judged(axis, log, span)), len(looks)), 0


def _carried(axis: str, known: AxisKnown) -> bool:
    """Whether an axis still is as it was looked at, as far as anybody saw: oftener than once, only others were turned
    since, and none of them moved it before."""
    log, own = known.log, [k for k in known.log.of(axis) if not k.entry.vial_end]
    if len(own) < screws.LEAST_LOOKS:
        return False
    since = {turned for span in log.turned[own[-1].span + 1 :] for turned in span}
    return axis not in since and not any(_moves(other, axis, known) for other in since)


def _moves(other: str, axis: str, known: AxisKnown) -> bool:
    """Whether a screw of another axis was seen to move this one: looks on both sides of its turn that differ by more
    than they can."""
    log = known.log
    spans = sorted({k.span for k in log.of(axis) if not k.entry.vial_end})
    for before, after in zip(spans, spans[1:]):
        turned = {name for span in log.turned[before + 1 : after + 1] for name in span}
        if other not in turned or axis in turned:
            continue
        pairs = [[k for k in log.of(axis, span) if not k.entry.vial_end] for span in (before, after)]
        alike = {(k.entry.method, k.entry.place, k.seating, k.entry.pitch_rad > 0.0) for pair in pairs for k in pair}
        if len(alike) > 1:
            continue  # not read alike
        means = [sum(says(known.chain, k, k.span) for k in pair) / len(pair) for pair in pairs]
        unit = unit_for(known.setup, axis, pairs[1][-1].entry.method)
        sd = _look_sd(unit, axis, pairs[1][-1].entry) * math.hypot(*(len(pair) ** -0.5 for pair in pairs))
        if abs(means[1] - means[0]) > screws.AGREE_SDS * sd:
            return True
    return False


def _one_way(axis: str, present: Sequence[Look]) -> bool:
    return axis == "third" and len({k.entry.pitch_rad > 0.0 for k in present}) == 1


def _one_place(present: Sequence[Look]) -> bool:
    """Whether one end of a rail was read, and not the other."""
    return len({k.entry.place for k in present} & set(ON_RAIL)) == 1


def _fewer_there(present: Sequence[Look]) -> bool:
    """Whether the tilt that was not read last was read less often: what both leave open, one of them cannot settle."""
    here = [k for k in present if (k.entry.pitch_rad > 0.0) == (present[-1].entry.pitch_rad > 0.0)]
    return 0 < len(present) - len(here) < len(here)


def _unmatched(setup: LevelSetup, log: History, present: Sequence[Look]) -> str:
    """What would have to be known first of what the looks were read against."""
    seats = {k.seating for k in present if k.seating is not None}
    if seats:
        here = len(log.seatings) - 1
        if here not in seats:
            return "again"
        if len(log.seatings[here].matches) < MOST_MATCHES:
            return "match"
    ways = [BY_KEY[k.entry.method] for k in present if k.entry.axis == "first" or BY_KEY[k.entry.method].reads == RAIL]
    on_rail = any(way.reads != WANDER for way in ways)
    if seats and setup.string.roll_error_div is None:
        return "string"
    return "rail" if on_rail and setup.rail.roll_error_div is None else ""


def _seat(log: History, setup: LevelSetup) -> str:
    return log.seatings[-1].seat if log.seatings else setup.seat


def _standing(action: Action, past: bool, turned: bool, accepted: str) -> str:
    if accepted:
        return "accepted"
    if action.kind in (screws.GOOD, screws.SQUARED):
        return str(action.kind.value)
    return "recheck" if past and not turned else "open"


def _overshot(turns: Sequence[Turn], tolerance: float) -> bool:
    return bool(turns) and turns[-1].before * turns[-1].after < 0.0 and abs(turns[-1].after) > tolerance


def _tightening(axis: str, known: AxisKnown) -> float | None:
    """What locking itself moves, on average [rad]: a look before locking and the next one locked, no turn between."""
    looks = sorted(
        (k for k in (*known.log.loose, *known.log.looks) if k.entry.axis == axis),
        key=lambda k: (k.entry.entered, k.entry.reading_id),
    )
    shifts = []
    for one, other in zip(looks, looks[1:]):
        alike = (one.entry.method, one.span) == (other.entry.method, other.span)
        ends = one.entry.vial_end or other.entry.vial_end
        if not one.entry.locked and other.entry.locked and alike and not ends:
            before, after = (says(known.chain, look, look.span) for look in (one, other))
            shifts.append(after - before)
    return sum(shifts) / len(shifts) if shifts else None


def _far_look(looks: Sequence[float], sd: float) -> int | None:
    """Index of a look that its siblings do not expect, of three or more."""
    if len(looks) < 3:
        return None
    middle = sorted(looks)[len(looks) // 2]
    worst = max(range(len(looks)), key=lambda i: abs(looks[i] - middle))
    return worst if abs(looks[worst] - middle) > FAR_FROM_SIBLINGS_SDS * sd else None
