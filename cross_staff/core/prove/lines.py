"""Proof lines: what an archer saw of a printed tape on his days, as one linear system over shift and stretch."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from cross_staff.core.ballistics.flight import Array, RigFigures
from cross_staff.core.ballistics.sightline import pin_height

BEYOND_M, BEYOND_OVER_M = 0.03, 17.0  # what the straight form leaves out beyond the farthest line
_DAY_NODES = (-1.8, -1.2, -0.6, 0.0, 0.6, 1.2, 1.8)


@dataclass(frozen=True)
class ProofShots:
    """One proof line: the target's distance and what the pointer stood at on the tape [both m as the tape counts], how
    high the mean of its arrows came in [m], how many, and on which day."""

    distance_m: float
    dialled_m: float
    up_m: float
    arrows: int
    session: str


@dataclass(frozen=True)
class TapeScale:
    """A tape on its sight: where a distance has its line [m as the tape counts -> mm from home], eye to sight [m], mm
    on the tape for a mm at the sight, how far the sight plane lies before where distances are ranged from [m], and
    home [m as the tape counts]."""

    place_mm: Callable[[float], float]
    eye_to_sight_m: float
    ratio: float
    home_m: float
    lead_m: float = 0.0

    def mm_per_m(self, distance_m: float) -> float:
        """Millimetres on the tape for a metre on the target: f = 1000 ratio L / (L + d)."""
        return 1000.0 * self.ratio * self.eye_to_sight_m / (self.eye_to_sight_m + self.from_sight_m(distance_m))

    def from_sight_m(self, distance_m: float) -> float:
        """The same distance from the sight plane [m]."""
        return distance_m - self.lead_m

    def up_dialled_right(self, shot: ProofShots) -> float:
        """How high a line would have come in with the pointer on its distance [m]."""
        off_mm = self.place_mm(shot.dialled_m) - self.place_mm(shot.distance_m)
        return shot.up_m - off_mm / self.mm_per_m(shot.distance_m)

    def beyond_home_mm(self, distance_m: float) -> float:
        """How far beyond home a distance has its line [mm]."""
        return self.place_mm(distance_m) - self.place_mm(self.home_m)


@dataclass(frozen=True)
class Proving:
    """What is asked of a tape: distances [m as the tape counts] and target [m]; one sd of an arrow, and of a day
    [mrad]; the day's ln sd where it is not known; of reading the pointer [mm]; what shift [mm] and stretch are likely
    before any line; of how many arrows the next group is, and where it can be shot [m], the wanted ones where empty."""

    wanted_m: tuple[float, ...]
    target_m: float
    spread_mrad: float
    day_mrad: float
    reading_mm: float = 0.1
    shift_mm: float = 2.0
    stretch: float = 0.03
    next_arrows: int = 4
    shootable_m: tuple[float, ...] = ()
    day_sd_ln: float = 0.0

    @property
    def places_m(self) -> tuple[float, ...]:
        """Where the next group can be shot [m]."""
        return self.shootable_m or self.wanted_m


@dataclass(frozen=True)
class Lines:
    """The lines as rows of one linear system over (a, b): what each says [mm], its share of (a, b), what a day does
    to it [mm for a mrad], its own variance [mm2], and which day it was."""

    said: Array
    shares: Array
    per_day: Array
    own: Array
    days: tuple[str, ...]
    farthest_m: float

    @classmethod
    def of(cls, scale: TapeScale, shots: Sequence[ProofShots], asked: Proving) -> Lines:
        said, shares, per_day, own = [], [], [], []
        for shot in shots:
            f, d = scale.mm_per_m(shot.distance_m), scale.from_sight_m(shot.distance_m)
            said.append(-f * scale.up_dialled_right(shot))
            shares.append((1.0, scale.beyond_home_mm(shot.distance_m)))
            per_day.append(-f * d * 1e-3)
            own.append((f * d * 1e-3 * asked.spread_mrad) ** 2 / shot.arrows + asked.reading_mm**2)
        farthest = max((scale.from_sight_m(shot.distance_m) for shot in shots), default=0.0)
        columns = np.array(said), np.array(shares).reshape(-1, 2), np.array(per_day), np.array(own)
        return cls(*columns, tuple(shot.session for shot in shots), farthest)

    @cached_property
    def same_day(self) -> Array:
        """Whether two lines are of one day, shape (n, n)."""
        return np.array([[a == b for b in self.days] for a in self.days], dtype=float).reshape(
            len(self.days), len(self.days)
        )

    def variance(self, day_mrad: float) -> Array:
        """Of all lines together [mm2], shape (n, n)."""
        shared = np.outer(self.per_day, self.per_day) * self.same_day * day_mrad**2
        return np.diag(self.own) + shared


@dataclass(frozen=True)
class Posterior:
    """Shift and stretch as a mixture over what a day may do: weights (k,), means (k, 2), covariances (k, 2, 2)."""

    weights: Array
    means: Array
    covariances: Array

    @property
    def mean(self) -> Array:
        return np.asarray(self.weights @ self.means)

    def moved(self, mm: float) -> Posterior:
        """The same once the pointer was moved so far."""
        return replace(self, means=self.means - np.array((mm, 0.0)))

    @property
    def covariance(self) -> Array:
        away = self.means - self.mean
        return np.einsum("k,kij->ij", self.weights, self.covariances + np.einsum("ki,kj->kij", away, away))


def scale_of(figures: RigFigures, home_m: float, ratio: float = 1.0) -> TapeScale:
    """The tape that a rig's figures give, distances from the sight plane.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        home_m: [m] from the sight plane.
        ratio: tape travel per housing travel [mm/mm].

    Returns:
        the scale [mm from home].

    Raises:
        OutOfReach: for home itself, and by its `place_mm` for what the arrow does not reach.

    Source:
        docs/method.md, section 3.
    """
    reference = pin_height(figures, home_m)

    @lru_cache(maxsize=512)
    def place_mm(distance_m: float) -> float:
        return 1000.0 * ratio * (reference - pin_height(figures, distance_m))

    return TapeScale(place_mm, figures.eye_to_sight_m, ratio, home_m)


def shift_and_stretch(lines: Lines, asked: Proving, priors: tuple[float, ...] | None = None) -> Posterior:
    """Shift and stretch by their priors and the lines, for each thing that a day may do.

    Args:
        lines: as one linear system [mm].
        asked: scatter [mrad] and priors.
        priors: other ones, of the shift [mm], or of it and the stretch [-], shape (1,) or (2,).

    Returns:
        a mixture of normal densities over shift [mm] and stretch [-].

    Source:
        docs/method.md, section 17.
    """
    sds = np.array(priors or (asked.shift_mm, asked.stretch))
    shares = lines.shares[:, : len(sds)]
    nodes = _DAY_NODES if asked.day_sd_ln > 0.0 else (0.0,)
    logs, means, covariances = [], [], []
    for node in nodes:
        variance = lines.variance(asked.day_mrad * math.exp(node * asked.day_sd_ln))
        weights = np.linalg.solve(variance, shares) if len(lines.said) else shares
        covariance = np.linalg.inv(np.diag(sds**-2) + shares.T @ weights)
        means.append(covariance @ (weights.T @ lines.said))
        covariances.append(covariance)
        whole = variance + (shares * sds**2) @ shares.T
        likely = -0.5 * (lines.said @ np.linalg.solve(whole, lines.said) + np.linalg.slogdet(whole)[1])
        logs.append(float(likely) - 0.5 * node**2 if len(lines.said) else -0.5 * node**2)
    weight = np.exp(np.array(logs) - max(logs))
    return Posterior(weight / weight.sum(), np.array(means), np.array(covariances))


def beyond_m(scale: TapeScale, distance_m: float, farthest_m: float) -> float:
    """What the straight form leaves out beyond the farthest line.

    Args:
        scale: the tape [mm; m].
        distance_m: [m as the tape counts].
        farthest_m: the farthest line [m] from the sight plane, nought without one.

    Returns:
        one sd on the target [m].

    Source:
        docs/method.md, section 17.
    """
    beyond = max(scale.from_sight_m(distance_m) - farthest_m, 0.0) if farthest_m > 0.0 else 0.0
    return BEYOND_M * (beyond / BEYOND_OVER_M) ** 2


def up_per_unit(scale: TapeScale, distance_m: float) -> Array:
    """How high arrows come in for a mm of shift and for a stretch of one whole.

    Args:
        scale: the tape [mm; m].
        distance_m: [m as the tape counts].

    Returns:
        [m] up for each, shape (2,).

    Source:
        docs/method.md, section 17.
    """
    return -np.array((1.0, scale.beyond_home_mm(distance_m))) / scale.mm_per_m(distance_m)
