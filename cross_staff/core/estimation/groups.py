"""Groups of arrows: where their middle is, whether that is more than chance, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import numpy as np

from cross_staff.core.ballistics.sightline import sight_shift_at_target
from cross_staff.core.errors import InvalidValue


class VerdictKind(StrEnum):
    """What arrows say to do."""

    ADJUST = "adjust"
    SHOOT_MORE = "shoot_more"
    LEAVE = "leave"
    NOT_YET_KNOWN = "not_yet_known"


ADJUST, SHOOT_MORE, LEAVE, NOT_YET_KNOWN = VerdictKind
CHANCE = 0.95  # beyond it, an offset is called real
LEAST_SHOTS = 3  # fewer say nothing of their own spread
ENOUGH_SHOTS = 6
SMALL_PART = 1.0 / 3.0  # an offset below this part of the spread is not worth a turn
SUSPECT_CHANCE, SUSPECT_LEAST = 0.01, 4
KNOWN_FREEDOM = 25.0  # of a spread that is known from some thirty arrows, a direction
LEAST_VARIANCE_M2 = 1e-12  # arrows in one hole
MOST_SHOTS = 120  # more are never asked for
MOST_OFF_M = 2.0


@dataclass(frozen=True)
class Shot:
    """Where an arrow hit against the aim, right and up [m]; whether the archer called it bad, the key by
    which it is known to be one arrow, however often it is sent, and the number on its shaft, if it has one."""

    right_m: float
    up_m: float
    called_bad: bool = False
    key: str = ""
    shaft: str = ""

    def checked(self) -> Shot:
        """Itself. Raises InvalidValue for what is off any butt."""
        if not (math.isfinite(self.right_m) and math.isfinite(self.up_m)):
            raise InvalidValue("shots", "must be numbers")
        if abs(self.right_m) > MOST_OFF_M or abs(self.up_m) > MOST_OFF_M:
            raise InvalidValue("shots", f"a shot more than {MOST_OFF_M:g} m from the aim is off any butt")
        return self


@dataclass(frozen=True)
class GroupStatistics:
    """A group judged by itself. Lengths on the target [m], pairs are (right, up), None is not known.

    count of the shots that were not called bad; beyond_chance by a t-test a direction at 95 %, p_value
    of Hotelling's T2 for the pair; move_sight_m centres the mean; suspects are indexes of the shots.
    """

    count: int
    mean_m: tuple[float, float] | None
    se_m: tuple[float, float] | None
    mean_radius_m: float | None
    beyond_chance: tuple[bool, bool]
    p_value: float | None
    move_sight_m: tuple[float, float] | None
    suspects: tuple[int, ...]
    ready: bool
    verdict: VerdictKind
    shots_to_settle: int | None


def analyse(
    shots: Sequence[Shot],
    distance_m: float,
    eye_to_sight_m: float,
    ready_radius_m: float | None = None,
    known_spread_m: float | None = None,
    known_freedom: float = KNOWN_FREEDOM,
) -> GroupStatistics:
    """Judge one group.

    t = mean / (s / sqrt n) on n - 1 degrees of freedom a direction; T2 = n m^T S^-1 m, of which
    (n - 2) / (2 (n - 1)) T2 follows F(2, n - 2). With fewer than three shots the known spread
    stands in for s.

    Args:
        shots: where each arrow hit [m].
        distance_m: [m] from the sight plane.
        eye_to_sight_m: L [m] along the arrow line, 0.3 to 1.5.
        ready_radius_m: mean radius [m] at which the archer steps back; None where he has none.
        known_spread_m: one sd in one direction at this distance [m]; None where it is not known.
        known_freedom: degrees of freedom a direction that it rests on [-].

    Returns:
        count, middle [m] and its standard errors [m], mean radius [m], what is beyond chance.

    Raises:
        InvalidValue: for a shot off any butt.

    Source:
        docs/method.md, section 13.
    """
    kept = [shot.checked() for shot in shots if not shot.called_bad]
    count = len(kept)
    if not count:
        return GroupStatistics(0, None, None, None, (False, False), None, None, (), False, NOT_YET_KNOWN, LEAST_SHOTS)
    places = np.array([(shot.right_m, shot.up_m) for shot in kept])
    mean = places.mean(axis=0)
    radius = float(np.hypot(*(places - mean).T).mean())
    own = count >= LEAST_SHOTS
    sd = places.std(axis=0, ddof=1) if own else np.full(2, math.nan if known_spread_m is None else known_spread_m)
    known = bool(np.isfinite(sd).all())
    se = sd / math.sqrt(count)
    freedom = count - 1 if own else None
    beyond = tuple(beyond_chance(float(m), float(s), freedom) if known else False for m, s in zip(mean, se))
    ready = count >= ENOUGH_SHOTS and ready_radius_m is not None and radius <= ready_radius_m
    verdict, more = _verdict(mean, sd, count, own, known)
    move = mean / float(sight_shift_at_target(eye_to_sight_m, distance_m))
    return GroupStatistics(
        count,
        (float(mean[0]), float(mean[1])),
        (float(se[0]), float(se[1])) if known else None,
        radius,
        (beyond[0], beyond[1]),
        hotelling_p(places) if own else None,
        (float(move[0]), float(move[1])),
        suspects(shots, known_spread_m, known_freedom),
        ready,
        verdict,
        more,
    )


def chance_limit(freedom: float | None, sides: float = CHANCE) -> float:
    """Standard errors that a mean may be off by chance; `freedom` None is for a spread that is known.

    Args:
        freedom: degrees of freedom [-]; None for a spread that is known.
        sides: part of the chance on both sides [-], 0.05 for 95 %.

    Returns:
        standard errors [-].

    Source:
        Student's t; W. S. Gosset, 1908.
    """
    from scipy.special import ndtri, stdtrit

    tail = 0.5 + 0.5 * sides
    return float(ndtri(tail)) if freedom is None else float(stdtrit(freedom, tail))


def beyond_chance(mean: float, se: float, freedom: float | None) -> bool:
    """Whether a mean differs from nought by more than chance at 95 %.

    Args:
        mean: in any unit.
        se: its standard error, in the same unit.
        freedom: degrees of freedom [-]; None for a spread that is known.

    Returns:
        whether it is beyond.

    Source:
        Student's t; W. S. Gosset, 1908.
    """
    return abs(mean) > chance_limit(freedom) * se


def hotelling_p(places: np.ndarray) -> float | None:
    """Chance of a mean this far from (0, 0) by luck, both directions together.

    F(2, n - 2) has the closed tail (1 + T2 / (n - 1))^-((n - 2) / 2).

    Args:
        places: right and up in any unit, shape (n, 2).

    Returns:
        p [-], or None for n < 3 or shots on one line.

    Source:
        H. Hotelling, 1931; the closed tail is derived in docs/method.md, section 13.
    """
    count = len(places)
    if count < LEAST_SHOTS:
        return None
    mean, covariance = places.mean(axis=0), np.cov(places.T)
    scale = float(np.trace(covariance))
    if not scale > 0.0 or np.linalg.det(covariance) <= 1e-12 * scale**2:
        return None
    square = count * float(mean @ np.linalg.solve(covariance, mean))
    return float((1.0 + square / (count - 1)) ** (-0.5 * (count - 2)))


def suspects(
    shots: Sequence[Shot], known_spread_m: float | None = None, known_freedom: float = KNOWN_FREEDOM
) -> tuple[int, ...]:
    """Indexes of kept shots that lie far outside the others: pointed at, never taken out.

    Each shot is left out and predicted from the rest: T = r / (s sqrt(1 + 1 / m)), r its distance from the mean of
    the other m, s the spread a direction of those, pooled with the archer's own earlier ends. T^2 / 2 follows F(2, 2
    dof), dof = m - 1 and what the known spread rests on. The largest T alone is pointed at, where it is beyond the
    1 - 0.01 / n quantile; then it is looked again without it.

    Args:
        shots: where each arrow hit [m].
        known_spread_m: one sd in one direction at this distance [m]; None where it is not known.
        known_freedom: degrees of freedom a direction that it rests on [-].

    Returns:
        indexes of the shots as they came.

    Source:
        docs/method.md, section 13.
    """
    kept = [index for index, shot in enumerate(shots) if not shot.called_bad]
    found: list[int] = []
    while len(kept) >= (SUSPECT_LEAST if known_spread_m is None else LEAST_SHOTS):
        places = np.array([(shots[index].right_m, shots[index].up_m) for index in kept])
        farthest, size, limit = _farthest(places, known_spread_m, known_freedom)
        if size <= limit:
            break
        found.append(kept.pop(farthest))
    return tuple(sorted(found))


def _farthest(places: np.ndarray, known_spread_m: float | None, known_freedom: float) -> tuple[int, float, float]:
    """The place farthest from the others (n, 2) [m], how far in T, and the T beyond which that is no chance."""
    from scipy.special import fdtri

    count, others = len(places), len(places) - 1
    apart = places - (places.sum(axis=0) - places) / others
    away = (apart**2).sum(axis=1)
    # sums of squares of the others about their own mean: all about the common mean, less what the one adds
    squares = ((places - places.mean(axis=0)) ** 2).sum() - away * others / count
    own, known = others - 1.0, 0.0 if known_spread_m is None else known_freedom
    pooled = (np.maximum(squares, 0.0) + 2.0 * known * (known_spread_m or 0.0) ** 2) / (2.0 * (own + known))
    size = np.sqrt(away / np.maximum(pooled, LEAST_VARIANCE_M2) / (1.0 + 1.0 / others))
    limit = math.sqrt(2.0 * float(fdtri(2.0, 2.0 * (own + known), 1.0 - SUSPECT_CHANCE / count)))
    farthest = int(np.argmax(size))
    return farthest, float(size[farthest]), limit


def _verdict(mean: np.ndarray, sd: np.ndarray, count: int, own: bool, known: bool) -> tuple[VerdictKind, int | None]:
    if not known:
        return NOT_YET_KNOWN, LEAST_SHOTS - count
    directions = list(zip(map(float, mean), map(float, sd)))
    if any(_told(m, s, count, own) for m, s in directions):
        return ADJUST, 0
    if count >= ENOUGH_SHOTS and all(abs(m) <= SMALL_PART * s for m, s in directions):
        return LEAVE, 0
    return SHOOT_MORE, _more(directions, count)


def _told(mean: float, sd: float, count: int, own: bool = True) -> bool:
    return beyond_chance(mean, sd / math.sqrt(count), count - 1 if own else None)


def _more(directions: Sequence[tuple[float, float]], count: int) -> int:
    """Further shots until these offsets, if they stay as they are, are told from chance, or are small."""
    large = [(m, s) for m, s in directions if abs(m) > SMALL_PART * s]
    for total in range(max(count + 1, LEAST_SHOTS), MOST_SHOTS + 1):
        if total >= ENOUGH_SHOTS and not large:
            return total - count
        if any(_told(m, s, total) for m, s in large):
            return total - count
    return MOST_SHOTS - count if count < MOST_SHOTS else 0


@cache
def _quadrature() -> tuple[np.ndarray, np.ndarray]:
    nodes, weights = np.polynomial.legendre.leggauss(48)
    return nodes, weights


def inside(mean: tuple[float, float], sd: tuple[float, float], radius: float) -> float:
    """Chance that what is estimated as mean +- sd, two directions by themselves, lies within a circle.

    P = integral over |x| < r of the density of x times the chance of |y| < sqrt(r^2 - x^2), by
    Gauss-Legendre quadrature over the part of the circle where the density is.

    Args:
        mean: right and up, in any unit.
        sd: of both, in the same unit, more than nought.
        radius: of the circle, in the same unit.

    Returns:
        chance [-], 0 to 1.

    Source:
        derived in docs/method.md, section 13.
    """
    from scipy.special import ndtr

    low = max(-radius, mean[0] - 8.0 * sd[0])
    high = min(radius, mean[0] + 8.0 * sd[0])
    if low >= high:
        return 0.0
    nodes, weights = _quadrature()
    x = 0.5 * (high + low) + 0.5 * (high - low) * nodes
    half = np.sqrt(np.maximum(radius**2 - x**2, 0.0))
    density = np.exp(-0.5 * ((x - mean[0]) / sd[0]) ** 2) / (sd[0] * math.sqrt(2.0 * math.pi))
    upright = ndtr((half - mean[1]) / sd[1]) - ndtr((-half - mean[1]) / sd[1])
    return float(0.5 * (high - low) * (weights * density * upright).sum())
