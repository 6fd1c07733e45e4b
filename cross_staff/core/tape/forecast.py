"""What a fit is worth: how far it can be trusted, what contradicts what, where to shoot next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cross_staff.core.rig.chronograph import DEFAULT_ACCURACY
from cross_staff.core.tape.fit import CONTRADICTION_P, Fit, predicted

COVERAGE = 1.96


@dataclass(frozen=True)
class PlannedGroup:
    """The shot that is weighed: how many arrows, the archer's own spread (one sd, one direction)
    [mrad], the sd of reading a mark [mm], and of what the day sets all of them off by [mrad]."""

    arrows: int = 6
    spread_mrad: float = 1.0
    reading_sd_mm: float = 0.15
    day_spread_mrad: float = 0.0

    def standard_error_m(self, distance_m: float) -> float:
        """Standard error of the group's centre on the target [m], its day's own offset counted."""
        return 1e-3 * distance_m * math.hypot(self.spread_mrad / math.sqrt(self.arrows), self.day_spread_mrad)


@dataclass(frozen=True)
class NextShot:
    """distance_m [m] and the sd on the target at the farthest distance [m], now and then."""

    distance_m: float
    sd_at_farthest_m_now: float
    sd_at_farthest_m_then: float


def next_shot(
    fit: Fit,
    candidates_m: Sequence[float],
    farthest_m: float,
    shot: PlannedGroup = PlannedGroup(),
    pin: int = 0,
    session: str | None = None,
) -> NextShot | None:
    """The candidate whose shot would most shrink the sd on the target at the farthest distance.

    A shot with gradient g and sd s leaves C' = C - C g g^T C / (s^2 + g^T C g). Shot in a session that there was, it
    shares that one's offset; else its day is its own.

    Args:
        fit: the fit so far.
        candidates_m: distances that can be shot [m] from the sight plane, shape (n,).
        farthest_m: the farthest distance wanted [m] from the sight plane.
        shot: the group that is planned: arrows, spread [mrad], reading sd [mm].
        pin: which pin, 0 the top one.
        session: at which visit it would be shot; None: at another one.

    Returns:
        the candidate, with the sd at the farthest [m] now and then; None when nothing can be weighed.

    Source:
        docs/method.md, section 5.
    """
    if not len(candidates_m):
        return None
    distances = np.array([farthest_m, *candidates_m], float)
    of_day = [None, *(session for _ in candidates_m)]
    _, gradient = predicted(fit, distances, np.zeros(len(distances)), np.full(len(distances), pin), of_day)
    if not np.isfinite(gradient[0]).all():
        return None
    far, rows = gradient[0], gradient[1:]
    shot = replace(shot, day_spread_mrad=0.0) if session in fit.offsets else shot
    error = np.array([shot.standard_error_m(d) for d in distances[1:]]) / fit.target_m_per_tape_mm(distances[1:])
    variance = error**2 + shot.reading_sd_mm**2
    gained = (rows @ fit.covariance @ far) ** 2
    gained /= variance + np.einsum("ij,jk,ik->i", rows, fit.covariance, rows)
    gained = np.where(np.isfinite(gained), gained, -1.0)
    best = int(np.argmax(gained))
    if gained[best] < 0.0:
        return None
    before = float(far @ fit.covariance @ far)
    scale = float(fit.target_m_per_tape_mm(farthest_m))
    after = math.sqrt(max(before - float(gained[best]), 0.0))
    return NextShot(float(distances[1 + best]), scale * math.sqrt(before), scale * after)


def after(fit: Fit, distance_m: float, shot: PlannedGroup, pin: int = 0) -> Fit:
    """The fit as sure as it would be after a shot at a distance [m], its figures as they are.

    C' = C - C g g^T C / (s^2 + g^T C g).

    Args:
        fit: the fit so far.
        distance_m: where it is shot [m] from the sight plane.
        shot: the group that is planned: arrows, spread [mrad], reading sd [mm].
        pin: which pin, 0 the top one.

    Returns:
        the fit with the covariance it would have.

    Source:
        docs/method.md, section 5.
    """
    _, gradient = fit.sensitivities([distance_m], pin)
    row = gradient[0]
    error = shot.standard_error_m(distance_m) / float(fit.target_m_per_tape_mm(distance_m))
    seen = fit.covariance @ row
    gained = np.outer(seen, seen) / (error**2 + shot.reading_sd_mm**2 + float(row @ seen))
    return replace(fit, covariance=fit.covariance - gained)


def with_speed(fit: Fit, speed_mps: float, sd_mps: float) -> Fit:
    """The fit after a chronograph was heard: a measurement of its first figure.

    Args:
        fit: the fit so far.
        speed_mps: at the sight plane [m/s].
        sd_mps: [m/s].

    Returns:
        the fit with estimate and covariance as they then are.

    Source:
        one step of a Kalman filter.
    """
    gain = fit.covariance[:, 0] / (fit.covariance[0, 0] + sd_mps**2)
    estimate = fit.estimate + gain * (speed_mps - fit.estimate[0])
    return replace(fit, estimate=estimate, covariance=fit.covariance - np.outer(gain, fit.covariance[0]))


def chronograph_worth(fit: Fit, farthest_m: float, pin: int = 0) -> NextShot | None:
    """What a chronograph that says what the fit expects would make of the sd on the target at the farthest distance.

    Args:
        fit: the fit so far.
        farthest_m: the farthest distance wanted [m] from the sight plane.
        pin: which pin, 0 the top one.

    Returns:
        the farthest distance [m], with the sd there [m] now and then; None where it is out of reach.

    Source:
        docs/method.md, section 5.
    """
    speed = fit.figures.speed_mps
    now, then = (
        each.tape([farthest_m], pin)[0].sd_on_target_m
        for each in (fit, with_speed(fit, speed, DEFAULT_ACCURACY * speed))
    )
    return None if now is None or then is None else NextShot(farthest_m, now, then)


def good_to(
    fit: Fit, from_m: float, to_m: float, target_size_m: float, step_m: float = 0.5, pin: int = 0
) -> float | None:
    """Farthest distance up to which 1.96 sd on the target stays within half the target's size.

    Args:
        fit: the fit so far.
        from_m: nearer end of the span to look over [m].
        to_m: farther end [m].
        target_size_m: its whole width or height [m].
        step_m: [m].
        pin: which pin, 0 the top one.

    Returns:
        [m] in steps of step_m, or None when not even from_m is good.

    Source:
        docs/method.md, section 5.
    """
    count = max(int(round((to_m - from_m) / step_m)), 0)
    distances = from_m + step_m * np.arange(count + 1)
    good = None
    for row in fit.tape(distances, pin):
        if row.sd_on_target_m is None or COVERAGE * row.sd_on_target_m > target_size_m / 2.0:
            break
        good = row.distance_m
    return good


@dataclass(frozen=True)
class Contradiction:
    """The inputs disagree: chance of this by luck, and the input that was moved most, in sds."""

    p_value: float
    parameter: str
    pull_sds: float


def contradiction(fit: Fit) -> Contradiction | None:
    """Whether priors and observations contradict each other (p under 0.01), with the largest pull."""
    if fit.p_value is None or fit.p_value >= CONTRADICTION_P:
        return None
    name = max(fit.pulls, key=lambda key: abs(fit.pulls[key]))
    return Contradiction(fit.p_value, name, fit.pulls[name])
