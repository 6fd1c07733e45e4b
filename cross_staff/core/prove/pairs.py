"""Two kinds of group held against each other: whether they differ, by how much, and which way to look."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from scipy.optimize import brentq
from scipy.stats import chi2 as chi2_distribution
from scipy.stats import ncx2, norm

from cross_staff.core.ballistics.flight import Array
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.priors import Known

REAL_P = 0.01
TOLD_IN = 0.8  # how often a difference that stays is told by the arrows that are asked for
MOST_ARROWS = 60
SPREADS = 21  # that an unknown one is taken to be
COVERAGE = 1.96


class PairKind(StrEnum):
    """What is held against what."""

    POINTS = "points"
    BUILDS = "builds"
    BOWS = "bows"
    CANT = "cant"
    AFTER = "after"


@dataclass(frozen=True)
class PairWords:
    """What the two are called, the first one being what the other is held against; where to look when the second comes
    in to a side, or high or low, by its key."""

    first: str
    second: str
    looks: dict[str, str]


_SAY_IT = "say so under what happened to the bow, and prove"
_SPINE = "point mass and spine: a stiffer or a weaker arrow leaves to a side; weigh both, and compare the shafts"
_TUNE = "they leave the bow otherwise: a paper or bare-shaft check first"
PAIRS = {
    PairKind.POINTS: PairWords(
        "field points",
        "hunting points",
        {
            "left": f"{_TUNE}; then the rest a hair to the right, and both kinds again",
            "right": f"{_TUNE}; then the rest a hair to the left, and both kinds again",
            "high": f"{_TUNE}; then the rest a hair down or the nocking point up, and both kinds again",
            "low": f"{_TUNE}; a wider point also drags more: what grows with distance is a tape of its own",
        },
    ),
    PairKind.BUILDS: PairWords(
        "this build",
        "the other build",
        {
            "left": _SPINE,
            "right": _SPINE,
            "high": "speed: chronograph both; each build has a tape of its own",
            "low": "speed: chronograph both; each build has a tape of its own",
        },
    ),
    PairKind.BOWS: PairWords(
        "this set-up",
        "the other set-up",
        {
            "left": "windage of each by itself, then grip and side weights",
            "right": "windage of each by itself, then grip and side weights",
            "high": "home of each by itself, then peep and anchor",
            "low": "home of each by itself, then peep and anchor",
        },
    ),
    PairKind.CANT: PairWords(
        "held plumb",
        "held canted",
        {
            "left": "as a bow does that is canted with its top to the left",
            "right": "as a bow does that is canted with its top to the right",
            "high": "no cant lifts an arrow: anchor or bubble were not the same in both",
            "low": "a little low is the cant's own; more is the anchor",
        },
    ),
    PairKind.AFTER: PairWords(
        "before",
        "after",
        {
            "left": f"what was done moved the arrows left: {_SAY_IT} windage again",
            "right": f"what was done moved the arrows right: {_SAY_IT} windage again",
            "high": f"what was done moved the arrows up: {_SAY_IT} home again",
            "low": f"what was done moved the arrows down: {_SAY_IT} home again",
        },
    ),
}


@dataclass(frozen=True)
class PairGroup:
    """A group of one of the two kinds: distance from the sight plane [m], arrows, how far right and up of the aim its
    middle lies [m], None where it was not noted, and the day."""

    distance_m: float
    arrows: int
    right_m: float | None
    up_m: float | None
    day: str


@dataclass(frozen=True)
class PairDifference:
    """The second kind less the first, to the right and up [mrad], None where one of them was not noted; the chance that
    as much comes of nothing; how many arrows of each more would tell it if it stays, None where it is told, or where
    sixty would not; the arrows of each."""

    right_mrad: Known | None
    up_mrad: Known | None
    p: float
    more: int | None
    arrows: tuple[int, int]

    @property
    def real(self) -> bool:
        """Whether chance makes as much once in a hundred at most."""
        return self.p < REAL_P

    @property
    def sides(self) -> tuple[str, ...]:
        """To which sides it goes beyond its own uncertainty, the larger first; none while it is not real."""
        told = [
            (abs(known.value) / (known.sd or 1.0), words[known.value > 0.0])
            for known, words in ((self.right_mrad, ("left", "right")), (self.up_mrad, ("low", "high")))
            if known is not None and self.real and abs(known.value) > COVERAGE * (known.sd or 0.0)
        ]
        return tuple(side for _, side in sorted(told, reverse=True))

    @property
    def at_most_mrad(self) -> float:
        """What it is at most in either direction, 19 times in 20 [mrad]."""
        told = [known for known in (self.right_mrad, self.up_mrad) if known is not None]
        return max(abs(known.value) + COVERAGE * (known.sd or 0.0) for known in told)


def compare(
    first: Sequence[PairGroup],
    second: Sequence[PairGroup],
    spread_mrad: float,
    day_mrad: float,
    spread_sd_ln: float = 0.0,
) -> PairDifference:
    """Whether two kinds of group differ.

    In each direction one generalised least squares over the two means, in angles; arrows of one day share an offset, so
    that groups of both kinds on the same day are held against each other without it.

    Args:
        first: groups of the first kind, shape (n,).
        second: of the second, shape (m,).
        spread_mrad: one sd of an arrow in one direction [mrad].
        day_mrad: one sd of a day [mrad].
        spread_sd_ln: how unsure both are, where nobody stated the spread [-].

    Returns:
        the difference [mrad].

    Raises:
        InvalidValue: where a kind has no group, or no direction was noted of both.

    Source:
        derived in docs/method.md, section 19.
    """
    for field, groups in (("first", first), ("second", second)):
        if not groups:
            raise InvalidValue(field, "needs a group of arrows")
    known = {
        direction: _difference(_noted(first, direction), _noted(second, direction), spread_mrad, day_mrad)
        for direction in ("right_m", "up_m")
    }
    told = [each for each in known.values() if each is not None]
    if not told:
        raise InvalidValue("second", "note of both kinds how high or low, or how far left or right, they came in")
    arrows = (sum(g.arrows for g in first), sum(g.arrows for g in second))
    statistic = sum((each.value / (each.sd or 1.0)) ** 2 for each in told)
    # a spread that is not known may be a wider one: the chance is its mean over what it may be
    wider = np.exp(2.0 * spread_sd_ln * norm.ppf((np.arange(SPREADS) + 0.5) / SPREADS))
    p = float(np.mean(chi2_distribution.sf(statistic / wider, len(told))))
    more = None if p < REAL_P else _more(told, spread_mrad, arrows)
    return PairDifference(known["right_m"], known["up_m"], p, more, arrows)


def _noted(groups: Sequence[PairGroup], direction: str) -> list[tuple[PairGroup, float]]:
    """The groups of which a direction was noted, with its angle [mrad]."""
    told = ((group, getattr(group, direction)) for group in groups)
    return [(group, 1000.0 * away / group.distance_m) for group, away in told if away is not None]


def _difference(
    first: list[tuple[PairGroup, float]], second: list[tuple[PairGroup, float]], spread: float, day: float
) -> Known | None:
    if not first or not second:
        return None
    groups = [group for group, _ in (*first, *second)]
    angles = np.array([angle for _, angle in (*first, *second)])
    kinds = np.array([[1.0, 0.0]] * len(first) + [[0.0, 1.0]] * len(second))
    same: Array = np.array([[float(a.day == b.day) for b in groups] for a in groups])
    variance = np.diag([spread**2 / group.arrows for group in groups]) + day**2 * same
    weighed = np.linalg.solve(variance, kinds)
    covariance = np.linalg.inv(kinds.T @ weighed)
    means = covariance @ (weighed.T @ angles)
    contrast = np.array([-1.0, 1.0])
    return Known(float(contrast @ means), math.sqrt(float(contrast @ covariance @ contrast)))


def _more(told: Sequence[Known], spread: float, arrows: tuple[int, int]) -> int | None:
    """Arrows of each, shot on one day, that would tell the difference as it stands four times in five."""
    size2 = sum(each.value**2 for each in told)
    now = sum(1.0 / ((each.sd or 1.0) ** 2) for each in told) / len(told)
    for count in range(2, MOST_ARROWS + 1):
        if size2 * (now + count / (2.0 * spread**2)) >= _needed(len(told)):
            return count
    return None


@lru_cache
def _needed(dof: int) -> float:
    """The noncentrality that is told beyond 1 in 100 four times in five."""
    limit = float(chi2_distribution.isf(REAL_P, dof))
    return float(brentq(lambda size: ncx2.sf(limit, dof, size) - TOLD_IN, 0.1, 100.0))


def canted_m(fall_m: float, cant_rad: float) -> tuple[float, float]:
    """Where a canted bow puts its arrows beside the same bow held plumb, to the right and up [m].

    Args:
        fall_m: fall from the bore line at the target [m].
        cant_rad: cant [rad], top limb right positive.

    Returns:
        D sin c and -D (1 - cos c) [m].

    Source:
        docs/method.md, section 11.
    """
    return fall_m * math.sin(cant_rad), -fall_m * (1.0 - math.cos(cant_rad))
