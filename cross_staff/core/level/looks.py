"""What is known to judge an axis by, and what each look says of it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.level.chain import Chain, bent, leans, state_of, tilted_apart
from cross_staff.core.level.log import History, Look
from cross_staff.core.level.methods import ARROWS, BY_KEY, JIG, RAIL, WANDER
from cross_staff.core.level.screws import AnglePerTurnPrior
from cross_staff.core.rig.card import LevelSetup, RigCard


@dataclass(frozen=True)
class AxisKnown:
    """What an axis is judged from: the card, the log, the chain, what may be left of it [rad], what is known of its
    screw, the reason in writing for leaving it as it is; the chain with this axis's looks taken as exact;
    for the third axis, whether the second is still to be done; whether the sight is off the bow, in a bench jig."""

    card: RigCard
    log: History
    chain: Chain
    sharp: Chain
    tolerance: float
    prior: AnglePerTurnPrior | None
    accepted: str
    second_open: bool = False
    on_bench: bool = False

    @property
    def setup(self) -> LevelSetup:
        return self.card.level


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


def says(chain: Chain, look: Look, span: int) -> float:
    """What one look says of its axis, the others as the chain has them.

    Args:
        chain: all looks together.
        look: the one.
        span: between which turns.

    Returns:
        [rad].

    Source:
        docs/method.md, section 12.
    """
    entry = look.entry
    if BY_KEY[entry.method].reads == ARROWS:
        return chain.amount({state_of("third", span): 1.0}).value
    if BY_KEY[entry.method].reads == WANDER:
        return leans(entry)[0] - mean(chain, "string")
    apart, _ = tilted_apart(look)
    sine, cosine = math.sin(entry.pitch_rad), math.cos(entry.pitch_rad)
    roll, yaw = (mean(chain, f"{name}:{look.seating}") if look.seating is not None else 0.0 for name in ("roll", "yaw"))
    jig = mean(chain, "jig") if BY_KEY[entry.method].reads == JIG else 0.0
    if entry.axis != "third":
        return roll - jig - bent(entry.place) * mean(chain, "bend") - apart / cosine
    second = jig + mean(chain, state_of("second", span))
    return (apart + (second - roll) * cosine) / sine + yaw


def mean(chain: Chain, name: str) -> float:
    """What the chain has of one of its unknowns.

    Args:
        chain: all looks together.
        name: of the unknown.

    Returns:
        [rad].

    Source:
        docs/method.md, section 12.
    """
    return chain.amount({name: 1.0}).value


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
