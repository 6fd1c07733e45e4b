"""Is an offset real, is it worth a turn, and how many more arrows would tell."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from cross_staff.core.estimation.groups import (
    ADJUST,
    ENOUGH_SHOTS,
    LEAST_SHOTS,
    LEAVE,
    MOST_SHOTS,
    NOT_YET_KNOWN,
    SHOOT_MORE,
    SMALL_PART,
    VerdictKind,
    beyond_chance,
    inside,
)
from cross_staff.core.rig.procedure import READY, ROUGH, Certainty

SURELY = 0.95  # chance of being within what the target allows at which an aim is settled
SIX_MORE = 6
ROUGH_SDS = 2.5
BIG_SDS = 3.0  # an error of so many spreads is moved before six arrows were shot at it
END_SHOTS, FIRST_SHOTS = 6, 2  # arrows of an end, and of the very first
Pair = tuple[float, float]


@dataclass(frozen=True)
class AimStanding:
    """What is known of one aim: how far it is still to go and the sds [mm at the sight plane, right and
    up], degrees of freedom of the spread (None: known), the spread [mm], how many arrows were shot at
    it, whether the group is within the archer's circle (None: not known yet), what a movement of
    each direction would leave [mm], its smallest step [mm], and the rough tolerance [mm]; what the target allows
    [mm] (None: not known, a third of the spread), what the day adds that no arrow of it takes away, one sd [mm],
    whether arrows were shot since it was moved last, and how far a control went since the last arrow [mm]."""

    offset: Pair
    sd: Pair
    freedom: float | None
    spread: float
    arrows: int
    within_circle: bool | None = None
    noise: Pair = (0.02, 0.02)
    step: Pair = (0.05, 0.05)
    rough: float = 10.0
    spread_known: bool = True
    allowed: float | None = None
    day: Pair = (0.0, 0.0)
    verified: bool = True
    moved: float = math.inf

    @property
    def tolerance(self) -> float:
        """How far the aim may be off [mm]."""
        return SMALL_PART * self.spread if self.allowed is None else self.allowed

    def sure_sd(self, more: int = 0) -> Pair:
        """How surely it is known where the aim stands, the day counted, after so many more arrows [mm]."""
        sds = [(self.sd[i] ** -2.0 + more * self.spread**-2.0) ** -0.5 for i in (0, 1)]
        return math.hypot(sds[0], self.day[0]), math.hypot(sds[1], self.day[1])


@dataclass(frozen=True)
class Verdict:
    """What to do: a verdict with a code for why; how many more arrows; the directions that are worth
    moving (right, up), those beyond chance, and how surely the aim is within what the target allows."""

    kind: VerdictKind
    because: str
    more: int = 0
    move: tuple[bool, bool] = (False, False)
    beyond: tuple[bool, bool] = (False, False)
    surely: float = 0.0

    @property
    def there(self) -> bool:
        """Whether the aim needs nothing more at its level."""
        return self.kind == LEAVE


def verdict_on(level: Certainty, at: AimStanding) -> Verdict:
    """The verdict at a level: ROUGH before stepping back from close, READY to go on, SURE to settle.

    Source: docs/method.md, section 14.
    """
    beyond = _pair(beyond_chance(at.offset[i], at.sd[i], at.freedom) for i in (0, 1))
    surely = inside(at.offset, at.sure_sd(), at.tolerance)
    if level == ROUGH:
        return replace(_rough(at), beyond=beyond, surely=surely)
    worth = min(SMALL_PART * at.spread, 0.5 * at.tolerance)
    move = _pair(beyond[i] and abs(at.offset[i]) >= max(0.5 * at.step[i], worth) for i in (0, 1))
    if not at.spread_known and at.arrows < LEAST_SHOTS:
        return Verdict(NOT_YET_KNOWN, "spread_unknown", LEAST_SHOTS - at.arrows, (False, False), beyond, surely)
    least = LEAST_SHOTS if at.spread_known else ENOUGH_SHOTS  # that a movement is ordered by, unless the error is big
    few = at.arrows < least and all(abs(at.offset[i]) < BIG_SDS * at.spread for i in (0, 1))
    if any(move) and not few:
        return Verdict(ADJUST, "beyond_chance", 0, move, beyond, surely)
    if few and level == READY:
        return Verdict(SHOOT_MORE, "too_few", least - at.arrows, (False, False), beyond, surely)
    if not at.verified:
        return Verdict(SHOOT_MORE, "after_move", LEAST_SHOTS, (False, False), beyond, surely)
    if level == READY:
        return _ready(at, beyond, surely)
    return _sure(at, beyond, surely)


def _pair(values: Iterable[bool]) -> tuple[bool, bool]:
    right, up = values
    return bool(right), bool(up)


def _rough(at: AimStanding) -> Verdict:
    if not at.arrows:
        return Verdict(SHOOT_MORE, "first", FIRST_SHOTS)
    outside = _pair(abs(at.offset[i]) > at.rough - ROUGH_SDS * at.sd[i] for i in (0, 1))
    move = _pair(abs(at.offset[i]) > max(2.0 * at.sd[i], 0.25 * at.rough, 0.5 * at.step[i]) for i in (0, 1))
    if any(outside):
        if any(move):
            return Verdict(ADJUST, "rough_error", 0, move)
        return Verdict(SHOOT_MORE, "rough_unsure", FIRST_SHOTS)
    if not at.verified and 2.0 * at.moved > at.rough - ROUGH_SDS * max(at.sd):  # had it gone the other way
        return Verdict(SHOOT_MORE, "after_move", FIRST_SHOTS)
    return Verdict(LEAVE, "rough_enough")


def _ready(at: AimStanding, beyond: tuple[bool, bool], surely: float) -> Verdict:
    if at.arrows < ENOUGH_SHOTS:
        return Verdict(SHOOT_MORE, "too_few", ENOUGH_SHOTS - at.arrows, (False, False), beyond, surely)
    if at.within_circle is False:
        return Verdict(SHOOT_MORE, "not_within_circle", END_SHOTS, (False, False), beyond, surely)
    return Verdict(LEAVE, "ready", 0, (False, False), beyond, surely)


def _sure(at: AimStanding, beyond: tuple[bool, bool], surely: float) -> Verdict:
    if surely >= SURELY:
        return Verdict(LEAVE, "settled", 0, (False, False), beyond, surely)
    worth = _pair(abs(at.offset[i]) >= max(0.5 * at.step[i], 0.5 * at.noise[i]) for i in (0, 1))
    after = _after(at, worth)
    blunt = all(at.sd[i] <= at.noise[i] or not worth[i] for i in (0, 1))
    if any(worth) and (after >= SURELY or (blunt and after > surely)):
        return Verdict(ADJUST, "trim", 0, worth, beyond, surely)
    more = shots_to_settle(at)
    if more >= MOST_SHOTS:  # no arrow of these days makes it sure: another day may
        return Verdict(SHOOT_MORE, "another_day", SIX_MORE, (False, False), beyond, surely)
    return Verdict(SHOOT_MORE, "not_sure", max(more, LEAST_SHOTS), (False, False), beyond, surely)


def _after(at: AimStanding, move: tuple[bool, bool]) -> float:
    """How surely the aim would be within what the target allows once these directions are moved."""
    left = tuple(0.0 if move[i] else at.offset[i] for i in (0, 1))
    known = at.sure_sd()
    sd = tuple(math.hypot(known[i], at.noise[i]) if move[i] else known[i] for i in (0, 1))
    return inside((left[0], left[1]), (sd[0], sd[1]), at.tolerance)


def shots_to_settle(at: AimStanding) -> int:
    """Further arrows at this aim until it could surely be brought within what the target allows.

    With n more the variance of each direction is 1 / (1 / sd^2 + n / spread^2), and what the day adds.
    """
    few, many = 0, MOST_SHOTS
    while many - few > 1:  # more arrows never make it less sure
        more = (few + many) // 2
        if inside((0.0, 0.0), at.sure_sd(more), at.tolerance) >= SURELY:
            many = more
        else:
            few = more
    return many
