"""How old a chronographed speed is: sessions from before strings, cables or draw weight were touched."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import replace

from cross_staff.core.rig.card import RigCard

OLD_SPEED_PART = 0.03  # one sd: what new strings, timing or a turn of the limb bolts commonly make of it


def as_known(history: Sequence[RigCard], holds: Collection[int]) -> RigCard:
    """The card that holds now, with its speed as well known as it is by now.

    Sessions that were first written down at a revision that does not hold are left out where there is one that
    does; else they are kept, three per cent wider.

    Args:
        history: the cards of revisions 1, 2, ... of a rig, shape (n,).
        holds: the revisions at which a measured speed still holds.

    Returns:
        the newest card, with the sessions of its builds as far as they still tell.

    Source:
        a rule of the craft.
    """
    card = history[-1]
    if len(holds) == len(history):
        return card
    first: dict[tuple[float, ...], int] = {}
    for number, each in enumerate(history, start=1):
        for build in each.builds:
            for session in build.sessions:
                first.setdefault(session.readings_mps, number)
    fresh = {readings for readings, number in first.items() if number in holds}
    sessions = [session for build in card.builds for session in build.sessions if session.kept_mps]
    if all(session.readings_mps in fresh for session in sessions):
        return card
    if any(session.readings_mps in fresh for session in sessions):
        builds = (replace(b, sessions=tuple(s for s in b.sessions if s.readings_mps in fresh)) for b in card.builds)
    else:
        builds = (
            replace(b, sessions=tuple(replace(s, accuracy=math.hypot(s.accuracy, OLD_SPEED_PART)) for s in b.sessions))
            for b in card.builds
        )
    return replace(card, builds=tuple(builds))
