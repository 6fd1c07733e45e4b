"""One axis as it stands: as found, as it is now, what its screw did, what to do, and how sure that is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.level import screws
from cross_staff.core.level.chain import Amount, Chain, state_of, tilted_apart
from cross_staff.core.level.log import AXES, History, LevelReading, Look
from cross_staff.core.level.methods import ARROWS, BY_KEY, JIG, METHODS, RAIL
from cross_staff.core.level.screws import Action, AnglePerTurn, AnglePerTurnPrior, Beyond, Estimate, Evidence, Turn
from cross_staff.core.level.units import VialUnit, unit_for
from cross_staff.core.rig.card import LevelSetup, RigCard
from cross_staff.core.rig.sight import Screw

USUAL_TOLERANCE_RAD = math.radians(0.25)
USUAL_TILT_RAD = math.radians(-35.0)
LEAST_TILT_RAD = math.radians(10.0)  # less tells nothing of the third axis
FAR_FROM_SIBLINGS_SDS = 4.0
LEAK_RAD = math.radians(1.0)  # a second axis that could be farther off holds a tilted bubble at its end
MOST_MATCHES = 4  # of a reference with the string level, where one does not tell it well enough
COUNTLESS = ("ring", "slots")  # moved when just loose, by hand: no turns to count
_LINES_A_TURN, _LINES_SD_LN, _LINES_PLAY = 5.0, 0.7, 0.12  # while a line is only guessed


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


@dataclass(frozen=True)
class AxisKnown:
    """What an axis is judged from: the card, the log, the chain, what may be left of it [rad], what is known of its
    screw, the reason in writing for leaving it as it is; the chain with this axis's looks taken as exact;
    for the third axis, whether the second is still to be done."""

    card: RigCard
    log: History
    chain: Chain
    sharp: Chain
    tolerance: float
    prior: AnglePerTurnPrior | None
    accepted: str
    second_open: bool = False

    @property
    def setup(self) -> LevelSetup:
        return self.card.level


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
    method = last.method if last else METHODS[axis][0].key
    unit = unit_for(setup, axis, method)
    present = [k for k in log.of(axis, log.last) if not k.entry.vial_end]
    weights = judged(axis, log, log.last)
    count = len(present)
    read = any(not k.entry.vial_end for k in own)
    now, seen = _estimate(chain.amount(weights), count), _estimate(chain.seen(weights), count)
    turns = _turns(axis, log, chain)
    prior = _prior(axis, known, unit)
    alike = _alike(present)
    looks = tuple(_says(chain, look, log.last) for look in alike)
    look_sd = _look_sd(unit, axis, last)
    beyond = _beyond(axis, known)
    evidence = Evidence(
        looks,
        look_sd,
        now if read else None,
        seen if read else None,
        known.sharp.seen(weights).sd,
        beyond,
        axis == "third",
        _one_way(axis, present),
        _unmatched(setup, log, present),
    )
    action = screws.decide(evidence, turns, known.tolerance, prior, moves_freely(known.card, axis))
    return AxisState(
        axis,
        unit,
        known.tolerance,
        *_as_found(axis, log, chain),
        now if read else None,
        seen if read else None,
        tuple(_says(chain, look, log.last) for look in present),
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
    )


def judged(axis: str, log: History, span: int) -> dict[str, float]:
    """What is judged of an axis: itself, or (second axis squared to the rail) what it is off the rail.

    Args:
        axis: first, second or third.
        log: looks in order.
        span: between which turns.

    Returns:
        the weights of the chain's unknowns, in any unit.

    Source:
        docs/method.md, section 12.
    """
    weights = {state_of(axis, span): 1.0}
    own = log.of(axis)
    if axis == "second" and own and BY_KEY[own[-1].entry.method].reads == RAIL:
        weights[state_of("first", span)] = -1.0
    return weights


def _estimate(amount: Amount, count: int) -> Estimate:
    return Estimate(amount.value, amount.sd, count)


def _alike(present: Sequence[Look]) -> list[Look]:
    """Looks read as the last one was: by its method, at its side of the tilt, on its seat."""

    def how(look: Look) -> tuple[str, bool, int | None]:
        return look.entry.method, look.entry.pitch_rad > 0.0, look.seating

    return [k for k in present if how(k) == how(present[-1])]


def _says(chain: Chain, look: Look, span: int) -> float:
    """What one look says of its axis, the others as the chain has them [rad]."""
    entry = look.entry
    if BY_KEY[entry.method].reads == ARROWS:
        return chain.amount({state_of("third", span): 1.0}).value
    apart, _ = tilted_apart(look)
    sine, cosine = math.sin(entry.pitch_rad), math.cos(entry.pitch_rad)
    if entry.axis != "third":
        return -apart / cosine
    return (apart + chain.amount({state_of("second", span): 1.0}).value * cosine) / sine


def _look_sd(unit: VialUnit, axis: str, last: LevelReading | None) -> float:
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


def amounts_between(axis: str, log: History, before: int, after: int) -> float | None:
    """Turns of an axis between two spans, summed; None where some were not counted, nought where there are none.

    Args:
        axis: first, second or third.
        log: turns in order.
        before: the earlier span.
        after: the later one.

    Returns:
        [turns of the key], clockwise positive.

    Source:
        docs/method.md, section 12.
    """
    amounts = [turned[axis] for turned in log.turned[before + 1 : after + 1] if axis in turned]
    return None if any(a is None for a in amounts) else float(sum(a for a in amounts if a is not None))


def _beyond(axis: str, known: AxisKnown) -> Beyond | None:
    """The present state of a bubble at the end of its glass; None for one in the glass, or that was not looked at
    since the last turn."""
    log = known.log
    own = log.of(axis)
    if not own or own[-1].span != log.last or not own[-1].entry.vial_end:
        return None
    side, least = _end(own[-1])
    ends = [k for k in own if k.span == log.last or k.entry.vial_end]
    tried, span = 0, log.last
    for look in reversed(ends):
        if not look.entry.vial_end or _end(look)[0] != side:
            break
        tried, span = tried + (look.span != span), look.span
    second = known.chain.amount({state_of("second", log.last): 1.0})
    jig = BY_KEY[own[-1].entry.method].reads == JIG
    leaks = known.second_open and not jig and abs(second.value) + 1.96 * second.sd > LEAK_RAD
    earlier = [k for k in own if k.span < log.last]
    if not earlier:
        return Beyond(side, least, leaks=leaks)
    prior = earlier[-1]
    amount = amounts_between(axis, log, prior.span, log.last)
    if prior.entry.vial_end:
        before_side, before_least = _end(prior)
        before = before_side * before_least if before_side != side else None
    else:
        before = known.chain.amount({state_of(axis, prior.span): 1.0}).value
    return Beyond(side, least, tried, amount or None, before, leaks)


def _end(look: Look) -> tuple[int, float]:
    """Which way the axis is off when its bubble stands at an end, and by how much at least [rad]."""
    apart, _ = tilted_apart(look)
    entry = look.entry
    if entry.axis != "third":
        return -entry.vial_end, abs(apart) / math.cos(entry.pitch_rad)
    sine = math.sin(entry.pitch_rad)
    return (1 if entry.vial_end * sine > 0.0 else -1), abs(apart / sine)


def _as_found(axis: str, log: History, chain: Chain) -> tuple[Estimate | None, int]:
    own = log.of(axis)
    if not own or log.turned_before_read(axis):
        return None, 0
    if own[0].entry.vial_end:
        return None, _end(own[0])[0]
    span = own[0].span
    looks = [k for k in own if k.span == span and not k.entry.vial_end]
    return _estimate(chain.amount(judged(axis, log, span)), len(looks)), 0


def _prior(axis: str, known: AxisKnown, unit: VialUnit) -> AnglePerTurnPrior:
    """What is known of a screw before a move of it was measured: from other bows or from such screws, its way by the
    card; and what turns showed that took the bubble to an end of its glass or out of it, which nothing measures."""
    prior = replace(known.prior or _usual(unit), sign=_sign_by_card(known.card, axis, known.log.of(axis)))
    own = known.log.of(axis)
    for before, after in zip(own, own[1:]):
        if before.span == after.span or bool(before.entry.vial_end) == bool(after.entry.vial_end):
            continue
        turns = amounts_between(axis, known.log, before.span, after.span)
        if not turns:
            continue
        side, least = _end(after if after.entry.vial_end else before)
        inside = before if after.entry.vial_end else after
        value = known.chain.amount({state_of(axis, inside.span): 1.0}).value
        move = side * least - value if after.entry.vial_end else value - side * least
        if abs(move) > 0.0:
            sign = 1 if move * turns > 0.0 else -1
            prior = replace(prior, sign=sign, size=max(prior.size, abs(move / turns)))
    return prior


def _usual(unit: VialUnit) -> AnglePerTurnPrior:
    if unit.calibrated:
        return AnglePerTurnPrior(screws.USUAL_GAIN_RAD, 0.5, 0, screws.USUAL_PLAY_RAD)
    return AnglePerTurnPrior(_LINES_A_TURN * unit.vial, _LINES_SD_LN, 0, _LINES_PLAY * unit.vial)


def _sign_by_card(card: RigCard, axis: str, own: Sequence[Look]) -> int:
    """Which way a clockwise turn takes the axis, where the card says which way it takes the bubble."""
    ways = [c.clockwise for c in card.sight.controls if c.moves == f"{axis}_axis"]
    if not ways or ways[0] not in ("left", "right"):
        return 0
    bubble = 1 if ways[0] == "right" else -1
    if axis != "third":
        return -bubble
    return bubble if own and own[-1].entry.pitch_rad > 0.0 else -bubble


def _one_way(axis: str, present: Sequence[Look]) -> bool:
    return axis == "third" and len({k.entry.pitch_rad > 0.0 for k in present}) == 1


def _unmatched(setup: LevelSetup, log: History, present: Sequence[Look]) -> str:
    """What would have to be known first of what the looks were read against."""
    seats = {k.seating for k in present if k.seating is not None}
    if seats:
        here = len(log.seatings) - 1
        if here not in seats:
            return "again"
        if len(log.seatings[here].matches) < MOST_MATCHES:
            return "match"
    on_rail = any(k.entry.axis == "first" or BY_KEY[k.entry.method].reads == RAIL for k in present)
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
            before, after = (_says(known.chain, look, look.span) for look in (one, other))
            shifts.append(after - before)
    return sum(shifts) / len(shifts) if shifts else None


def _far_look(looks: Sequence[float], sd: float) -> int | None:
    """Index of a look that its siblings do not expect, of three or more."""
    if len(looks) < 3:
        return None
    middle = sorted(looks)[len(looks) // 2]
    worst = max(range(len(looks)), key=lambda i: abs(looks[i] - middle))
    return worst if abs(looks[worst] - middle) > FAR_FROM_SIBLINGS_SDS * sd else None
