"""The archer's spread: what arrows scatter about the middle of their own end."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.rig.card import SPREAD_SD_LN, USUAL_SPREAD_MRAD, RigCard
from cross_staff.core.rig.scatter import DAY_PART, Scatter
from cross_staff.core.sight_in.log import End

CARD_FREEDOM = 10  # a group that an archer calls usual is worth six arrows, both directions
LAST_ARROWS, LEAST_TOLD = 30, 18  # what an archer is told of his own spread is of so many
WIDER_P, WIDER_PART = 0.05, 1.25
ENOUGH_FREEDOM = 60  # from here a spread counts as known


@dataclass(frozen=True)
class Dispersion:
    """One sd of the archer's spread in one direction [mrad], its degrees of freedom (None: as good as
    known), and whether anything is known of this archer at all."""

    mrad: float
    freedom: float | None
    known: bool


def pooled_dispersion(card: RigCard, ends: Sequence[End]) -> Dispersion:
    """The spread within ends, all distances together as angles, the card's usual group counted in.

    s^2 = (f0 s0^2 + sum of squares about each end's mean) / (f0 + sum of 2 (n - 1)).
    """
    usual = card.goals.spread_mrad
    freedom = float(CARD_FREEDOM) if usual else 0.0
    squares = freedom * (usual or 0.0) ** 2
    own, more = squares_within(card, ends)
    squares, freedom = squares + own, freedom + more
    if freedom < 2.0 or squares <= 0.0:
        return Dispersion(USUAL_SPREAD_MRAD, None, False)
    return Dispersion(math.sqrt(squares / freedom), None if freedom >= ENOUGH_FREEDOM else freedom, True)


def scatter_at_range(card: RigCard, ends: Sequence[End]) -> Scatter:
    """The archer's scatter as his arrows and his card have it, before the marks say what his days do.

    Args:
        card: the rig's card.
        ends: ends of arrows.

    Returns:
        the scatter [mrad].

    Source:
        docs/method.md, section 14.
    """
    own = pooled_dispersion(card, ends)
    return Scatter(own.mrad, DAY_PART * own.mrad, 0.0 if own.known else SPREAD_SD_LN)


@dataclass(frozen=True)
class Wider:
    """An archer who shoots wider than his card says: what the card says and what his last arrows say, one sd in one
    direction [mrad], and how many arrows they were."""

    card_mrad: float
    own_mrad: float
    arrows: int


def wider_than_the_card(card: RigCard, ends: Sequence[End]) -> Wider | None:
    """Whether the last arrows are wider than the card's usual group, beyond chance and by enough to matter.

    Args:
        card: the rig's card.
        ends: ends of arrows, oldest first.

    Returns:
        both spreads [mrad]; None where the card says none, where there are few arrows, or where they agree.

    Source:
        F distribution; docs/method.md, section 14.
    """
    from scipy.special import fdtrc

    usual, last, arrows = card.goals.spread_mrad, [], 0
    for end in reversed(ends):
        if len(end.kept) > 1 and arrows < LAST_ARROWS:
            last.append(end)
            arrows += len(end.kept)
    squares, freedom = squares_within(card, last)
    if usual is None or arrows < LEAST_TOLD or freedom <= 0.0:
        return None
    own = math.sqrt(squares / freedom)
    chance = float(fdtrc(freedom, CARD_FREEDOM, (own / usual) ** 2))
    return Wider(usual, own, arrows) if chance < WIDER_P and own > WIDER_PART * usual else None


def squares_within(card: RigCard, ends: Iterable[End]) -> tuple[float, float]:
    """Sum of squares of the shots about their own end's middle [mrad^2], and its degrees of freedom.

    Args:
        card: the rig's card.
        ends: ends of arrows.

    Returns:
        sum of squares [mrad^2] and its degrees of freedom [-].

    Source:
        docs/method.md, section 13.
    """
    squares = freedom = 0.0
    for end in ends:
        kept = end.kept  # a group that was written as one line says nothing of its spread
        if len(kept) > 1 and end.ranged_m is not None:
            places = np.array([(s.right_m, s.up_m) for s in kept]) * 1e3 / card.distance_from_sight(end.ranged_m)
            squares += float(((places - places.mean(axis=0)) ** 2).sum())
            freedom += 2.0 * (len(kept) - 1)
    return squares, freedom
