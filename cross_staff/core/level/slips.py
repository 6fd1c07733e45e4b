"""Looks that the others do not expect, and what likely happened to them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from cross_staff.core.level.axes import CONTRADICTION_P, SUSPECT_SDS
from cross_staff.core.level.chain import Chain
from cross_staff.core.level.log import History, LevelReading, Look
from cross_staff.core.level.methods import BY_KEY, LINE

MENDED_P = 0.05
LEAST_FLIPPED_DIV = 0.3  # less is told by nobody from its other side
FLIPS: dict[str, Callable[[LevelReading], LevelReading]] = {
    "sight_sign": lambda r: replace(r, vial_div=-r.vial_div),
    "reference_sign": lambda r: replace(r, reference_div=-r.reference_div),
    "both_signs": lambda r: replace(r, vial_div=-r.vial_div, reference_div=-r.reference_div),
    "pitch_sign": lambda r: replace(r, pitch_rad=-r.pitch_rad),
}


@dataclass(frozen=True)
class Slip:
    """A look that the others do not expect, and what likely happened: a key of FLIPS, or "wrong"."""

    entry: LevelReading
    slip: str


def slips(log: History, solved: Chain, again: Callable[[History], Chain]) -> tuple[Slip, ...]:
    """The look that looks wrong: a flipped sign that mends everything comes first, then the one whose leaving out
    does; nothing while the looks agree, and nothing between methods or seats, which may differ.

    Args:
        log: looks and turns in order.
        solved: the chain of them.
        again: the chain of another log.

    Returns:
        none or one.

    Source:
        docs/method.md, section 12.
    """
    if solved.p_value is None or solved.p_value >= CONTRADICTION_P:
        return ()
    present = [k for k in log.looks if k.span == log.last and not k.entry.vial_end]
    tried: list[tuple[float, int, Slip]] = []
    for look in present:
        for rank, (name, flip) in enumerate(FLIPS.items()):
            if _could_be(look.entry, name):
                chain = again(_with(log, look, flip(look.entry)))
                mended = chain.p_value is not None and chain.p_value > MENDED_P
                if mended and solved.chi2 - chain.chi2 > SUSPECT_SDS**2:
                    tried.append((chain.chi2, rank, Slip(look.entry, name)))
    if tried:
        return (min(tried, key=lambda t: (round(t[0]), t[1]))[2],)  # of slips as likely, the commonest
    left = [(again(_with(log, look, None)), look) for look in present]
    best = min(left, key=lambda pair: pair[0].chi2, default=None)
    if best is None or solved.chi2 - best[0].chi2 <= SUSPECT_SDS**2:
        return ()
    return (Slip(best[1].entry, "wrong"),)


def _could_be(entry: LevelReading, slip: str) -> bool:
    """Whether a look could have been written with that sign turned."""
    if entry.right_m is not None:
        return False
    if slip in ("reference_sign", "both_signs") and BY_KEY[entry.method].reads == LINE:
        return False
    size = {"sight_sign": abs(entry.vial_div), "reference_sign": abs(entry.reference_div)}
    both = min(abs(entry.vial_div), abs(entry.reference_div))
    if slip == "pitch_sign":
        return entry.axis == "third"
    return size.get(slip, both) >= LEAST_FLIPPED_DIV


def _with(log: History, look: Look, entry: LevelReading | None) -> History:
    """The same log with another entry in place of a look's, or without it."""
    looks = [
        replace(k, entry=entry) if k is look and entry is not None else k
        for k in log.looks
        if k is not look or entry is not None
    ]
    return replace(log, looks=tuple(looks))
