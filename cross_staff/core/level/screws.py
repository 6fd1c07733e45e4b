"""Turning an axis screw: how much, which way, when to read again, and when to stop.

Everything here is in the unit of the looks (radians) and in turns of the key, clockwise positive; of an opposing
pair, positive drives the screw that is named first. The gain, unit per turn, is learned from counted turns with a
reading before and after, starting from what is known of such screws; its sign is found out, never assumed.

Source: derived in docs/method.md, section 12.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

SURE_SDS = 2.2  # a verdict is sure when this many sds of the mean of the looks do not reach the limit
GOOD_CHANCE = 0.95  # that it lies inside the tolerance, with everything that the method cannot see counted
LEAST_LOOKS, MOST_LOOKS = 2, 12
FEW_LOOKS = 3.0  # more than so many further ones cost more than a turn
TOLD_SDS = 2.0  # an axis is told from nought by so many sds
TEST_TURN = 0.25
LEAST_TURN, MOST_TURN = 1.0 / 24.0, 1.0  # small screws: never more than a turn before the next look
KEY_STEP = 1.0 / 24.0  # a turn is asked for to the nearest fifteen degrees of the key
TURN_PART, TURN_SD = 0.04, 0.02  # how exactly a hand turns: part of the turn, and turns
AGREE_SDS = 3.0  # two looks that differ by more want a third
UNSURE_GAIN = 0.5  # a gain known no better than this part of itself is tested again


@dataclass(frozen=True)
class AnglePerTurnPrior:
    """What is known before the first turn: size of the gain (median, sd of its logarithm), which way
    a clockwise turn goes by the card (+1, -1, 0 for not known), and the sd of what backlash and
    tightening do to the axis."""

    size: float
    sd_ln: float = 0.5
    sign: int = 0
    play: float = 0.0


# Screws of axis adjustments: lever arms of 8 to 20 mm and threads of 0.5 to 0.8 mm a turn.
USUAL_GAIN_RAD = math.radians(2.5)
USUAL_PLAY_RAD = math.radians(0.06)


@dataclass(frozen=True)
class Turn:
    """A turn made: turns of the key, the axis before and after (read when locked), and the sd of its move."""

    turns: float
    before: float
    after: float
    sd: float

    @property
    def move(self) -> float:
        return self.after - self.before


@dataclass(frozen=True)
class AnglePerTurn:
    """Unit per turn with its sd; signed: clockwise positive."""

    value: float
    sd: float

    @property
    def sure(self) -> bool:
        return self.sd < UNSURE_GAIN * abs(self.value)


def angle_per_turn(turns: Sequence[Turn], prior: AnglePerTurnPrior) -> AnglePerTurn | None:
    """The gain from the turns made so far; None before the first.

    Weighted least squares of move on turns; each move's variance joins the hand's (4 % and 0.02
    turn), play and both readings. The prior of its size keeps a noisy first turn from telling too
    much: a normal about +-size, on the side that the turns show.
    """
    if not turns:
        return None
    value = sum(t.move * t.turns for t in turns) / sum(t.turns**2 for t in turns)
    for _ in range(3):
        weights = [1.0 / _variance(t, value, prior) for t in turns]
        information = sum(w * t.turns**2 for w, t in zip(weights, turns))
        seen = sum(w * t.move * t.turns for w, t in zip(weights, turns)) / information
        side = math.copysign(1.0, seen)
        width = prior.size * math.sinh(prior.sd_ln) * 1.2
        value = (seen * information + side * prior.size / width**2) / (information + width**-2.0)
        information += width**-2.0
    return AnglePerTurn(value, information**-0.5)


def _variance(turn: Turn, value: float, prior: AnglePerTurnPrior) -> float:
    hand = (TURN_PART * turn.move) ** 2 + (TURN_SD * value) ** 2
    return hand + prior.play**2 + turn.sd**2 + 1e-18


def went_the_other_way(turns: Sequence[Turn], prior: AnglePerTurnPrior) -> bool:
    """Whether a knob turned out to move against its card."""
    learned = angle_per_turn(turns, prior)
    return bool(prior.sign and learned is not None and learned.sure and learned.value * prior.sign < 0.0)


@dataclass(frozen=True)
class Estimate:
    """The axis as the looks since the last turn have it: mean, its sd, how many."""

    value: float
    sd: float
    count: int


def estimate(looks: Sequence[float], look_sd: float) -> Estimate | None:
    """Mean of the looks; its sd from the known sd of a look, or from their scatter when that is more.

    Args:
        looks: what each look said, in the unit of the tolerance, shape (n,).
        look_sd: sd of one look, in the unit of the tolerance.

    Returns:
        mean and sd, in the unit of the looks; None without a look.

    Source:
        docs/method.md, section 12.
    """
    if not looks:
        return None
    count = len(looks)
    mean = sum(looks) / count
    scatter = 0.0
    if count >= 4:
        scatter = math.sqrt(sum((look - mean) ** 2 for look in looks) / (count - 1))
    return Estimate(mean, max(look_sd, scatter) / math.sqrt(count), count)


class ActionKind(StrEnum):
    """What is to be done at an axis."""

    READ = "read"
    TURN = "turn"
    GOOD = "good"
    SQUARED = "squared"
    ASK = "ask"


READ, TURN, GOOD, SQUARED, ASK = ActionKind


@dataclass(frozen=True)
class Action:
    """What to do: read (again), turn by `turns` of the key, stop because it is good enough or as square as this tool
    can tell, or do something else first (`ask`).

    because: first_look, second_look, looks_apart, not_sure, other_tilt, seat_moved, on_bow, quick_only,
    other_place, fewer_there; test_turn,
    test_again, by_gain, trim, back, coarse, by_bubble, watch; within, seen, carried; match, rail, string, calibrate,
    second_first, cannot_prove, stuck.
    turns: nought where nothing is counted: the bubble is the measure. move: what the turn should do to the axis; None
    where that is not known. about: what that likely takes where the way of the screw is known [turns], else nought.
    """

    kind: ActionKind
    because: str
    turns: float = 0.0
    move: float | None = None
    about: float = 0.0


@dataclass(frozen=True)
class Beyond:
    """A bubble at the end of its glass: which way the axis is off (+1, -1), by how much at least, how often it was
    turned since it is there, and the last counted turn with what was read before it (None: not in the glass)."""

    side: int
    least: float
    tried: int = 0
    turns: float | None = None
    before: float | None = None
    leaks: str = ""  # the second axis could hold it there: it is open, or known to be off


@dataclass(frozen=True)
class Evidence:
    """What is known of an axis as it stands: all counted; as the tool has it (`seen`: what the method cannot see,
    and the seat's yaw, left out); what would be left of that sd with looks without end; what the present looks say
    one by one, read alike; whether it is at the end of its glass."""

    looks: tuple[float, ...]
    look_sd: float
    whole: Estimate | None = None
    seen: Estimate | None = None
    floor_sd: float = 0.0
    beyond: Beyond | None = None
    bias_alone: bool = False  # what keeps it from being good is nothing but what the tool cannot see
    other_tilt: bool = False  # reading at the other tilt was not tried, and would tell more
    unmatched: str = ""  # match, rail, string, again: what would have to be known first
    looked_before: bool = False  # before a later turn of any axis: one look then confirms what is expected
    carried: bool = False  # only other axes were turned since, and none of them was seen to move it
    other_place: bool = False  # of the rail one end alone was read since it was turned
    fewer_there: bool = False  # the other tilt was looked at less
    quick: bool = False  # looked at last without a vial: that turns an axis, and never proves it


def chance_within(value: float, sd: float, limit: float) -> float:
    """The chance that an amount lies within +- limit.

    Args:
        value: what is known of it, in any unit.
        sd: its sd, in the same unit.
        limit: in the same unit.

    Returns:
        a probability [0 to 1].

    Source:
        normal distribution.
    """
    if sd <= 0.0:
        return float(abs(value) <= limit)
    scale = sd * math.sqrt(2.0)
    return 0.5 * (math.erf((limit - value) / scale) + math.erf((limit + value) / scale))


def sure_within(value: float, sd: float, limit: float) -> bool:
    """Whether a value surely lies within +- limit, allowing for looking until it does.

    Args:
        value: what is known of it, in any unit.
        sd: its sd, in the same unit.
        limit: in the same unit.

    Returns:
        whether it and 2.2 of its sds do [yes or no].

    Source:
        docs/method.md, section 12.
    """
    return abs(value) + SURE_SDS * sd <= limit


def decide(
    evidence: Evidence,
    turns: Sequence[Turn],
    tolerance: float,
    prior: AnglePerTurnPrior,
    free: bool = False,
    watched: bool = False,
) -> Action:
    """The next action for one axis.

    Args:
        evidence: what is known of it [rad].
        turns: counted turns made so far, oldest first, each with what was read before and after.
        tolerance: how far from nought counts as good [rad].
        prior: what is known of such screws before any turn.
        free: whether it moves when pushed, with no turns to count.
        watched: whether its bubble can be watched while the screw is turned.

    Returns:
        what to do next.

    Source:
        docs/method.md, section 12.
    """
    if evidence.beyond is not None:
        return _coarse(evidence.beyond, evidence.other_tilt, turns, prior, free)
    whole, seen = evidence.whole, evidence.seen
    if seen is None or whole is None:
        return Action(READ, "first_look")
    if not seen.count:
        return _carried(evidence, whole, seen, tolerance)
    looks = evidence.looks
    if len(looks) == 2 and abs(looks[0] - looks[1]) > AGREE_SDS * math.sqrt(2.0) * evidence.look_sd:
        return Action(READ, "looks_apart")
    if abs(seen.value) - SURE_SDS * seen.sd > tolerance:  # no second look could change that
        return _turn(seen.value, turns, prior, free, watched)
    if evidence.quick:
        return Action(READ, "quick_only")
    if seen.count < LEAST_LOOKS and not evidence.looked_before:
        return Action(READ, "second_look")
    if sure_within(seen.value, seen.sd, tolerance):
        if chance_within(whole.value, whole.sd, tolerance) >= GOOD_CHANCE:
            return Action(GOOD, "within")
        if evidence.bias_alone:
            return Action(SQUARED, "seen")
    told = abs(seen.value) > TOLD_SDS * seen.sd  # that it is off nought at all: else a turn is by chance
    if sure_within(seen.value, evidence.floor_sd, tolerance) and seen.count < MOST_LOOKS:
        if told and _further_looks(seen, evidence, tolerance) > FEW_LOOKS:
            return _turn(seen.value, turns, prior, free, watched)
        return Action(READ, "fewer_there" if evidence.fewer_there else "not_sure")
    if evidence.other_place:
        return Action(READ, "other_place")
    if evidence.unmatched == "again":
        return Action(READ, "seat_moved")
    if evidence.unmatched:
        return Action(ASK, evidence.unmatched)
    if evidence.other_tilt:
        return Action(READ, "other_tilt")
    if told and abs(seen.value) > 0.5 * tolerance:
        return _turn(seen.value, turns, prior, free, watched)
    return Action(ASK, "cannot_prove")


def _further_looks(seen: Estimate, evidence: Evidence, tolerance: float) -> float:
    """How many more looks would likely prove an axis that stands where it seems to."""
    room = ((tolerance - abs(seen.value)) / SURE_SDS) ** 2 - evidence.floor_sd**2
    return math.inf if room <= 0.0 else evidence.look_sd**2 / room - seen.count


def _carried(evidence: Evidence, whole: Estimate, seen: Estimate, tolerance: float) -> Action:
    """An axis that nobody looked at since the last turn: as it was, where that is sure enough with what turning another
    axis can do to it; else it is read."""
    if evidence.carried and sure_within(seen.value, seen.sd, tolerance):
        if chance_within(whole.value, whole.sd, tolerance) >= GOOD_CHANCE:
            return Action(GOOD, "carried")
        if evidence.bias_alone:
            return Action(SQUARED, "carried")
    return Action(READ, "first_look")


def _turn(off: float, turns: Sequence[Turn], prior: AnglePerTurnPrior, free: bool, watched: bool) -> Action:
    if free:
        return Action(TURN, "by_bubble", 0.0, -off)
    turn = angle_per_turn(turns, prior)
    if watched and (turn is None or not turn.sure):  # nobody knows what a turn does: the bubble shows it
        per_turn = turn.value if turn is not None and not prior.sign else prior.sign * prior.size
        likely = max(-MOST_TURN, min(MOST_TURN, -off / per_turn)) if per_turn else 0.0
        return Action(TURN, "watch", 0.0, -off, _stepped(likely) if likely else 0.0)
    if turn is None:
        sign = prior.sign or 1
        size = min(TEST_TURN, abs(off) / prior.size)
        return Action(TURN, "test_turn", _stepped(-math.copysign(size, off) * sign))
    if not turn.sure:
        last = turns[-1].turns
        again = math.copysign(min(2.0 * abs(last), MOST_TURN), last)
        return Action(TURN, "test_again", _stepped(again))
    wanted = _stepped(max(-MOST_TURN, min(MOST_TURN, -off / turn.value)))
    because = "trim" if abs(wanted) <= 2.0 * LEAST_TURN else "by_gain"
    return Action(TURN, because, wanted, wanted * turn.value)


MOST_COARSE = 5  # coarse turns with the bubble still at the same end


def _coarse(beyond: Beyond, other_tilt: bool, turns: Sequence[Turn], prior: AnglePerTurnPrior, free: bool) -> Action:
    """A first turn for a bubble at the end of its glass: by what its screw is known to do; back, where the last
    turn took it there; else by eye, the way that brings the high end down."""
    if beyond.leaks == "open":
        return Action(ASK, "second_first")
    if beyond.leaks and other_tilt:
        return Action(READ, "other_tilt")
    if beyond.leaks or beyond.tried >= MOST_COARSE:
        return Action(ASK, "stuck")
    learned = angle_per_turn(turns, prior)
    if free:
        return Action(TURN, "coarse")
    if beyond.turns and beyond.before is not None:
        gone = beyond.side * (beyond.side * beyond.least - beyond.before)
        part = min(beyond.least / gone, 1.0) if beyond.before * beyond.side < 0.0 else 1.0
        return Action(TURN, "back", _stepped(-math.copysign(min(part * abs(beyond.turns), MOST_TURN), beyond.turns)))
    if learned is not None and learned.sure:
        wanted = max(-MOST_TURN, min(MOST_TURN, -beyond.side * beyond.least / learned.value))
        return Action(TURN, "by_gain", _stepped(wanted), wanted * learned.value)
    return Action(TURN, "coarse")


def _stepped(turns: float) -> float:
    """To the nearest step of the key, at least one."""
    steps = max(round(abs(turns) / KEY_STEP), 1)
    return math.copysign(steps * KEY_STEP, turns)


def looks_needed(now: Estimate, look_sd: float, tolerance: float) -> int | None:
    """How many further looks would likely prove an axis that stands where it seems to; 0 when it is
    proved, None when only a turn helps, or more looks than are ever asked for.

    Args:
        now: what is known of the axis now.
        look_sd: sd of one look, in the unit of the tolerance.
        tolerance: how far from nought counts as good, in the unit of the looks.

    Returns:
        how many more; 0 when it is proved, None when only a turn helps, or more than are ever asked for.

    Source:
        docs/method.md, section 12.
    """
    room = tolerance - abs(now.value)
    if room <= 0.0:
        return None
    needed = max(math.ceil((SURE_SDS * look_sd / room) ** 2), LEAST_LOOKS)
    return None if needed > MOST_LOOKS else max(needed - now.count, 0)


def provable(look_sd: float, looks: int = MOST_LOOKS) -> float:
    """The smallest tolerance that this many looks could still prove of an axis at nought.

    Args:
        look_sd: sd of one look, in the unit of the tolerance.
        looks: how many looks.

    Returns:
        tolerance, in the unit of a look.

    Source:
        docs/method.md, section 12.
    """
    return SURE_SDS * look_sd / math.sqrt(looks)
