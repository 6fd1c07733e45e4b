"""Solving the tape fit: damped Gauss-Newton steps over priors and observations (docs/method.md, section 5)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import Array, Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.priors import Priors
from cross_staff.core.tape.fit import (
    RATIO,
    ZERO,
    Fit,
    fitted_places,
    observation_sd_mm,
    predicted,
    prior_residuals,
    prior_width,
)
from cross_staff.core.tape.observation import Observation, OtherArrow

_MAX_ROUNDS = 60
_UNSOLVABLE = "these values and uncertainties lie too far apart to be solved together"
_SMALL_STEP = 1e-8  # squared length of a step in sds: a ten-thousandth of an sd


@lru_cache(maxsize=512)
def solved(
    priors: Priors,
    reference_distance_m: float,
    observations: tuple[Observation, ...],
    pins_at_m: tuple[float, ...],
    day_spread_mrad: float = 0.0,
    days: tuple[str, ...] = (),
    arrows: tuple[OtherArrow, ...] = (),
) -> Fit:
    """`solve`, and the same again for nothing: a rig is reckoned at every tap, mostly from what it was reckoned from.

    Args:
        priors: as `solve` has them.
        reference_distance_m: [m] from the sight plane.
        observations: marks [mm] and groups [m].
        pins_at_m: what each pin is set for [m].
        day_spread_mrad: one sd of a session's own offset [mrad].
        days: sessions that count although nothing is seen of them.
        arrows: the other arrows that some were shot with.

    Returns:
        the fit.

    Raises:
        InvalidValue: as `solve`.

    Source:
        docs/method.md, section 5.
    """
    return solve(priors, reference_distance_m, observations, pins_at_m, day_spread_mrad, days, arrows)


def shift_of(fit: Fit, places: Sequence[int]) -> tuple[float, float] | None:
    """How far some of the observations lie together from what all the others, and the priors, predict.

    One common shift by generalised least squares, over what the fit without them predicts and how surely.

    Args:
        fit: of all observations.
        places: of those that are held against the others, in its observations.

    Returns:
        the shift [mm on the tape, observed less predicted] and its sd; None where the others predict nothing.

    Source:
        docs/method.md, section 14.
    """
    held = [fit.observations[place] for place in places]
    others = tuple(each for place, each in enumerate(fit.observations) if place not in set(places))
    if not {each.pin for each in held} <= {each.pin for each in others}:
        return None
    known = (tuple(fit.pins_at_m), fit.day_spread_mrad, fit.days, fit.arrows)
    alone = solved(fit.priors, fit.reference_distance_m, others, *known)
    distances, ups = (np.array([getattr(each, name) for each in held]) for name in ("distance_m", "up_m"))
    of_day, arrows = [each.session for each in held], [each.arrow for each in held]
    marks, gradient = predicted(alone, distances, ups, np.array([each.pin for each in held]), of_day, arrows)
    sds = np.array([observation_sd_mm(alone, each) for each in held])
    covariance = gradient @ alone.covariance @ gradient.T + np.diag(sds**2)
    if not (np.isfinite(marks).all() and np.isfinite(covariance).all()):
        return None
    apart = np.array([each.mark_mm for each in held]) - marks
    weights = np.linalg.solve(covariance, np.ones(len(held)))
    return float(weights @ apart / weights.sum()), float(weights.sum() ** -0.5)


def solve(
    priors: Priors,
    reference_distance_m: float,
    observations: Sequence[Observation],
    pins_at_m: Sequence[float] = (),
    day_spread_mrad: float = 0.0,
    days: Sequence[str] = (),
    arrows: Sequence[OtherArrow] = (),
) -> Fit:
    """Most likely figures given priors and observations, by damped Gauss-Newton steps.

    Each observation is the mark m at which the arrow would cross d at the height seen:
    m = m0 + ratio (h_ref - h(d, up - g d)), whitened by sqrt(reading^2 + (ratio se L/(L+d))^2); priors
    are whitened by their sds; covariance = (J^T J)^-1 at the solution. Each pin has an m0 of its own, each session
    an offset g, normal about nought. Another arrow shares bow and sight: its speed and drag are the fitted ones times
    a factor, and it leaves higher or lower by an angle, each with a prior of its own.

    Args:
        priors: speed [m/s], drag [1/m], eye to sight [m], peep height [m] and tape ratio [-], each with its sd.
        reference_distance_m: home distance [m], level, from the sight plane.
        observations: marks [mm] and groups [m] at distances [m] from the sight plane.
        pins_at_m: what each pin is set for at home [m], the top one first, shape (k,).
        day_spread_mrad: one sd of a session's own offset [mrad]; nought: sessions are not told apart.
        days: sessions that count although nothing is seen of them.
        arrows: the other arrows that some observations were shot with.

    Returns:
        figures, mark zero [mm] and tape ratio [-] with their joint covariance.

    Raises:
        InvalidValue: for priors out of range, or for an observation or a reference distance that these figures
        cannot reach.

    Source:
        docs/method.md, section 5.
    """
    _check(priors, reference_distance_m, observations)
    try:
        with np.errstate(all="ignore"):
            told = sorted({*days, *(o.session for o in observations if o.session)}) if day_spread_mrad > 0.0 else ()
            fit = _at_the_priors(
                priors, reference_distance_m, tuple(observations), tuple(pins_at_m), day_spread_mrad, tuple(told),
                tuple(arrows),
            )  # fmt: skip
            if not np.isfinite(fit.whitened).all():
                raise InvalidValue("distance_m", _out_of_reach(fit))
            solved = _descend(fit)
            sound = np.isfinite(solved.covariance).all() and np.isfinite(solved.chi2)
    except (ArithmeticError, np.linalg.LinAlgError) as error:
        raise InvalidValue("sd", _UNSOLVABLE) from error
    if not sound:
        raise InvalidValue("sd", _UNSOLVABLE)
    return solved


def _at_the_priors(
    priors: Priors,
    reference_distance_m: float,
    observations: tuple[Observation, ...],
    pins_at_m: tuple[float, ...],
    day_spread_mrad: float,
    days: tuple[str, ...],
    arrows: tuple[OtherArrow, ...],
) -> Fit:
    """The unsolved fit, with its figures where the priors put them."""
    figures = priors.figures
    zeros = [0.0] * len({0, *(o.pin for o in observations)})
    more = [0.0] * (len(days) + 3 * len(arrows))
    start = [figures.speed_mps, 0.0, figures.eye_to_sight_m, figures.peep_height_m, 0.0, *zeros, *more]
    nothing = np.zeros((0, len(start)))
    empty = Fit(
        priors,
        reference_distance_m,
        observations,
        nothing,
        nothing,
        np.zeros(0),
        nothing,
        pins_at_m,
        day_spread_mrad,
        days,
        arrows,
    )
    return _linearised(empty, np.array(start))


def _check(priors: Priors, reference_distance_m: float, observations: Sequence[Observation]) -> None:
    priors.figures.checked()
    ranges.DISTANCE_M.check("reference_distance_m", reference_distance_m, "m")
    for observation in observations:
        ranges.DISTANCE_M.check("distance_m", observation.distance_m, "m")


def _out_of_reach(fit: Fit) -> str:
    distances = [fit.reference_distance_m, *(o.distance_m for o in fit.observations)]
    reached = pin_heights(Trajectories.of(fit.figures, distances)).reached
    far = [f"{d:g} m" for d, ok in zip(distances, reached) if not ok]
    return f"out of reach of this arrow: {', '.join(far) or 'the reference distance'}"


def _descend(fit: Fit) -> Fit:
    """Levenberg's damped steps until the step is small beside the uncertainty."""
    active = [
        *fitted_places(fit.priors),
        *sorted(fit.zeros[pin] for pin in fit.shot_pins),
        *sorted(fit.offsets.values()),
        *(place for place, _ in _of_arrows(fit)),
    ]
    damping, count = 0.0, len(fit.estimate)
    for _ in range(_MAX_ROUNDS):
        jacobian = fit.jacobian[:, active]
        normal = jacobian.T @ jacobian
        damped = normal + damping * np.diag(np.diag(normal))
        step = np.zeros(count)
        step[active] = -np.linalg.solve(damped, jacobian.T @ fit.whitened)
        trial = _linearised(fit, fit.estimate + step) if _possible(fit, step) else None
        if trial is None or not trial.chi2 <= fit.chi2 * (1.0 + 1e-9) + 1e-12:
            damping = max(10.0 * damping, 1e-3)
            continue
        fit, damping = trial, damping / 10.0 if damping > 1e-6 else 0.0
        if float(step[active] @ normal @ step[active]) < _SMALL_STEP:
            break
    covariance = np.zeros((count, count))
    jacobian = fit.jacobian[:, active]
    covariance[np.ix_(active, active)] = np.linalg.inv(jacobian.T @ jacobian)
    return replace(fit, covariance=covariance)


def _possible(fit: Fit, step: Array) -> bool:
    """Whether a step stays where the flight can be computed at all."""
    speed, drag, lever, peep, ratio = (fit.estimate + step)[:ZERO]
    return bool(
        5.0 < speed < 400.0 and abs(drag) < 6.0 and 0.05 < lever < 3.0 and -0.1 < peep < 0.8 and abs(ratio) < 8.0
    )


def _prior_jacobian(priors: Priors, estimate: Array) -> Array:
    ratio = priors.tape_ratio
    slope = [
        1.0 / prior_width(priors.speed_mps),
        1.0 / prior_width(priors.drag_per_m),
        1.0 / prior_width(priors.eye_to_sight_m),
        1.0 / prior_width(priors.peep_height_m),
        1.0 if not ratio.sd else ratio.value * math.exp(estimate[RATIO]) / ratio.sd,
    ]
    return np.array([[slope[i] * (i == j) for j in range(len(estimate))] for i in fitted_places(priors)])


def _of_arrows(fit: Fit) -> list[tuple[int, float]]:
    """Place and sd of everything that is fitted of the other arrows."""
    return [
        (first + part, sd) for first, arrow in zip(fit.arrow_places, fit.arrows) for part, sd in enumerate(arrow.sds)
    ]


def _beside(fit: Fit) -> list[tuple[int, float]]:
    """Place and sd of what is known of days and other arrows, about nought."""
    return [*((place, fit.day_spread_mrad) for place in fit.offsets.values()), *_of_arrows(fit)]


def _beside_jacobian(fit: Fit) -> Array:
    beside = _beside(fit)
    rows = np.zeros((len(beside), len(fit.estimate)))
    for row, (place, sd) in enumerate(beside):
        rows[row, place] = 1.0 / sd
    return rows


def _linearised(fit: Fit, estimate: Array) -> Fit:
    """The fit at `estimate`: whitened residuals (observations, then priors) and their Jacobian."""
    fresh = not len(fit.whitened)
    fit = replace(fit, estimate=estimate)
    distances = np.array([o.distance_m for o in fit.observations])
    seen = np.array([o.mark_mm for o in fit.observations])
    pins = np.array([o.pin for o in fit.observations], int)
    ups, sessions = np.array([o.up_m for o in fit.observations]), [o.session for o in fit.observations]
    mark, gradient = predicted(fit, distances, ups, pins, sessions, [o.arrow for o in fit.observations])
    sd = np.array([observation_sd_mm(fit, o) for o in fit.observations])
    if fresh and len(seen):  # the mark zero is linear: start it where the observations want it
        estimate = estimate.copy()
        for pin in fit.shot_pins:
            own = pins == pin
            estimate[fit.zeros[pin]] += float(np.average((seen - mark)[own], weights=sd[own] ** -2.0))
            mark = np.where(own, mark + estimate[fit.zeros[pin]], mark)
        fit = replace(fit, estimate=estimate)
    beside = np.array([fit.estimate[place] / width for place, width in _beside(fit)])
    whitened = np.concatenate([(seen - mark) / sd, prior_residuals(fit.priors, fit.estimate), beside])
    jacobian = np.vstack([-gradient / sd[:, None], _prior_jacobian(fit.priors, fit.estimate), _beside_jacobian(fit)])
    return replace(fit, whitened=whitened, jacobian=jacobian)
