"""Sessions at the chronograph stand for the arrow and the draw weight that were written down then: mended with them."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.correction import Meaning
from cross_staff.core.rig.speed import SAME_DRAW_WEIGHT_N, same_mass
from cross_staff.core.rig.staleness import Said

ARROW, DRAW = "arrow", "draw"  # the causes that a wrong mass, or draw weight, looks like


def would_be_brought_over(old: RigCard, new: RigCard, cause: str) -> int:
    """How many sessions would count as those of another arrow, or of another draw weight.

    Args:
        old: the card that is kept.
        new: the card that is to be saved.
        cause: which kind of change it is looked at as.

    Returns:
        count [-]; nought where neither mass nor draw weight differs.

    Source:
        docs/method.md, section 6.
    """
    return sum(before is not after for before, after in _pairs(old, new, cause))


def mended(old: RigCard, new: RigCard, said: Said) -> RigCard:
    """The card with its sessions for the mass and the draw weight that they were shot at all along, where the old
    figure was a slip, or is only measured again: nothing is predicted anew.

    Args:
        old: the card that is kept.
        new: the card that is to be saved.
        said: what a change means.

    Returns:
        the card.

    Source:
        docs/method.md, sections 6 and 8.
    """
    for cause in (ARROW, DRAW):
        if dict(said.meant).get(cause) in (Meaning.AGAIN, Meaning.MISTYPED):
            now = dict(_pairs(old, new, cause))
            builds = tuple(replace(b, sessions=tuple(now.get(s, s) for s in b.sessions)) for b in new.builds)
            new = replace(new, builds=builds)
    return new


def _pairs(old: RigCard, new: RigCard, cause: str) -> list[tuple[ChronographSession, ChronographSession]]:
    """The sessions that the old figure was written beside, and what they are with the new one."""
    if cause == ARROW:
        was, now = old.build.mass_kg(), new.build.mass_kg()
        if old.in_use != new.in_use or was is None or now is None or same_mass(was, now):
            return []
        own = [s for s in new.build.sessions if s.mass_kg is not None and same_mass(s.mass_kg, was)]
        return [(s, replace(s, mass_kg=now)) for s in own]
    force, then = new.bow.draw_weight_n, old.bow.draw_weight_n
    if cause != DRAW or force is None or then is None or abs(force - then) <= SAME_DRAW_WEIGHT_N:
        return []
    every = [s for build in new.builds for s in build.sessions if s.draw_weight_n is not None]
    return [
        (s, replace(s, draw_weight_n=force))
        for s in every
        if abs((s.draw_weight_n or 0.0) - then) <= SAME_DRAW_WEIGHT_N
    ]
