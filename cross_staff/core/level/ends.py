"""Bubbles at the end of their glass: which way an axis is off, how far at least, and what its screw showed by it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from cross_staff.core.level import screws
from cross_staff.core.level.chain import Chain, state_of
from cross_staff.core.level.log import Look
from cross_staff.core.level.looks import AxisKnown, amounts_between, mean, says
from cross_staff.core.level.methods import BY_KEY, JIG
from cross_staff.core.level.screws import AnglePerTurnPrior, Beyond
from cross_staff.core.level.units import VialUnit
from cross_staff.core.rig.card import RigCard

LEAST_END_RAD = math.radians(0.5)  # no vial ends nearer its middle
STAYS = 2  # newest looks at an end, where an earlier one was in the glass
LEAK_RAD = math.radians(1.0)  # a second axis that could be farther off holds a tilted bubble at its end
_LINES_A_TURN, _LINES_SD_LN, _LINES_PLAY = 5.0, 0.7, 0.12  # while a line is only guessed


def beyond(axis: str, known: AxisKnown) -> Beyond | None:
    """The present state of a bubble at the end of its glass; None where one of the newest two looks since the last turn
    found it in the glass, or nobody looked.

    Args:
        axis: first, second or third.
        known: what it is judged from.

    Returns:
        which way, and how far at least [rad].

    Source:
        docs/method.md, section 12.
    """
    log, chain = known.log, known.chain
    own = log.of(axis)
    present = log.of(axis, log.last)
    on_bench = bool(present) and BY_KEY[present[-1].entry.method].on_bench
    present = [k for k in present if BY_KEY[k.entry.method].on_bench == on_bench]  # in a jig it stands elsewhere
    if not present or not all(k.entry.vial_end for k in present[-STAYS:]):
        return None
    side, least = end_of(chain, present[-1])
    tried = _at_the_same_end(chain, own, side, log.last)
    leaks = _leaks(known, present[-1])
    earlier = [k for k in own if k.span < log.last]
    if not earlier:
        return Beyond(side, least, leaks=leaks)
    prior = earlier[-1]
    amount = amounts_between(axis, log, prior.span, log.last)
    before: float | None = mean(chain, state_of(axis, prior.span))
    if prior.entry.vial_end:
        before_side, before_least = end_of(chain, prior)
        before = before_side * before_least if before_side != side else None
    return Beyond(side, least, tried, amount or None, before, leaks)


def _at_the_same_end(chain: Chain, own: Sequence[Look], side: int, last: int) -> int:
    """How often it was turned with the bubble at this end before and after."""
    tried, span = 0, last
    for look in reversed(own):
        if not look.entry.vial_end or end_of(chain, look)[0] != side:
            break
        tried, span = tried + (look.span != span), look.span
    return tried


def _leaks(known: AxisKnown, look: Look) -> str:
    """Whether the second axis could hold a tilted bubble at its end: open, or left off as it is known to be."""
    if look.entry.axis != "third" or BY_KEY[look.entry.method].reads == JIG:
        return ""
    second = known.chain.amount({state_of("second", known.log.last): 1.0})
    if abs(second.value) + 1.96 * second.sd <= LEAK_RAD:
        return ""
    return "open" if known.second_open else "known"


def end_of(chain: Chain, look: Look) -> tuple[int, float]:
    """Which way the axis is off when its bubble stands at an end, and by how much at least.

    Args:
        chain: all looks together.
        look: at an end of its glass.

    Returns:
        +1 or -1, and [rad].

    Source:
        docs/method.md, section 12.
    """
    entry = look.entry
    tilts = math.sin(entry.pitch_rad) if entry.axis == "third" else -1.0
    side = 1 if entry.vial_end * tilts > 0.0 else -1
    return side, max(side * says(chain, look, look.span), LEAST_END_RAD)


def screw_prior(axis: str, known: AxisKnown, unit: VialUnit) -> AnglePerTurnPrior:
    """What is known of a screw before a move of it was measured: from other bows or from such screws, its way by the
    card; and what turns showed that took the bubble to an end of its glass or out of it, which nothing measures.

    Args:
        axis: first, second or third.
        known: what it is judged from.
        unit: what lines are counted as [rad a line].

    Returns:
        size of the gain [rad a turn] and its way.

    Source:
        docs/method.md, section 12.
    """
    prior = replace(known.prior or _usual(unit), sign=_sign_by_card(known.card, axis, known.log.of(axis)))
    own = known.log.of(axis)
    for before, after in zip(own, own[1:]):
        if before.span == after.span or bool(before.entry.vial_end) == bool(after.entry.vial_end):
            continue
        turns = amounts_between(axis, known.log, before.span, after.span)
        if not turns:
            continue
        side, least = end_of(known.chain, after if after.entry.vial_end else before)
        inside = before if after.entry.vial_end else after
        value = mean(known.chain, state_of(axis, inside.span))
        way = side if after.entry.vial_end else -side
        prior = replace(
            prior, sign=1 if way * turns > 0.0 else -1, size=max(prior.size, (least - side * value) / abs(turns))
        )
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
