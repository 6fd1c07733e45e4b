"""Lengths that an electronic display asks for, as the shop names them, worked out from what the card has."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.card import RigCard

# from where to where, in words; all at full draw
DISPLAY_LENGTHS = {
    "": "not said",
    "eye_to_display": "peep to display, along the arrow",
    "peep_above_arrow": "peep above the arrow, square to it",
    "peep_along_string": "peep above the nock, along the string",
    "dot_above_arrow": "reference dot above the arrow",
    "peep_above_dot": "peep above the reference dot, square to the arrow",
    "peep_to_dot": "peep to the reference dot, straight",
    "nock_to_display": "nock to display, along the arrow",
}


@dataclass(frozen=True)
class AskedLength:
    """A length that a display asks for: what it calls it, and what it is [m]; None where the card does not tell."""

    name: str
    length_m: float | None


def asked_lengths(card: RigCard, figures: RigFigures | None) -> tuple[AskedLength, ...]:
    """What this rig's display asks for.

    Args:
        card: the rig's card, with the lengths that its sight model lists.
        figures: of its flight; None while they are not known.

    Returns:
        each with its length [m] at full draw.

    Source:
        the frames of docs/method.md, section 1: the dot at the height from which the arrow hits at home.
    """
    return tuple(AskedLength(each.name, _length(card, figures, each.what)) for each in card.sight.display_lengths)


def _length(card: RigCard, figures: RigFigures | None, what: str) -> float | None:
    lever, peep = card.eye_to_sight_m, card.peep.height()
    height, ahead = (peep.height_m, peep.ahead_of_nock_m) if peep else (None, None)
    dot = _dot(card, figures)
    if what == "eye_to_display":
        return lever
    if what == "peep_above_arrow":
        return height
    if what == "peep_along_string":
        return None if height is None or ahead is None else math.hypot(height, ahead)
    if what == "dot_above_arrow":
        return dot
    if what == "nock_to_display":
        return None if lever is None or ahead is None else lever + ahead
    if height is None or dot is None or lever is None:
        return None
    apart = {"peep_above_dot": height - dot, "peep_to_dot": math.hypot(lever, height - dot)}
    return apart.get(what)


def _dot(card: RigCard, figures: RigFigures | None) -> float | None:
    """The reference dot above the arrow line [m], where the arrow hits at home."""
    if figures is None or card.goals.home_m is None:
        return None
    try:
        return pin_height(figures, card.distance_from_sight(card.goals.home_m))
    except OutOfReach:
        return None
