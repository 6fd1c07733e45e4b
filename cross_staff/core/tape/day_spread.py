"""How far an archer's days differ, and how far his arrows scatter where nobody said: learned from the marks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.flight import Array
from cross_staff.core.rig.priors import Priors
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.tape.fit import ZERO, Fit, fitted_places, observation_sd_mm
from cross_staff.core.tape.observation import Observation, OtherArrow
from cross_staff.core.tape.solver import solved

_GRID = np.linspace(-2.5, 2.5, 11)  # in sds of the logarithm
_FREE_MM2 = 1e6  # a mark zero, of which nothing is known


def fit_with_days(
    priors: Priors,
    reference_distance_m: float,
    observations: Sequence[Observation],
    pins_at_m: tuple[float, ...],
    scatter: Scatter,
    by_spread: Sequence[bool],
    arrows: tuple[OtherArrow, ...] = (),
) -> tuple[Fit, Scatter]:
    """The fit with an offset for every session, and what it learns of the archer's scatter.

    Args:
        priors: what is known before any mark.
        reference_distance_m: home distance [m], level, from the sight plane.
        observations: marks [mm] and groups [m], with the standard errors of the scatter that is given.
        pins_at_m: what each pin is set for at home [m].
        scatter: what is known of it before [mrad].
        by_spread: whether an observation's standard error is in proportion to the spread, shape (n,).
        arrows: the other arrows that some were shot with.

    Returns:
        the fit, and the scatter that it was made with [mrad].

    Raises:
        InvalidValue: as `solve`.

    Source:
        docs/method.md, section 5.
    """
    first = solved(priors, reference_distance_m, tuple(observations), pins_at_m, scatter.day_mrad, (), arrows)
    told = learned(first, scatter, by_spread)
    if told == scatter:
        return first, scatter
    part = told.spread_mrad / scatter.spread_mrad
    wider = tuple(
        replace(each, up_se_m=part * each.up_se_m) if scales else each for each, scales in zip(observations, by_spread)
    )
    return solved(priors, reference_distance_m, wider, pins_at_m, told.day_mrad, (), arrows), told


def learned(fit: Fit, scatter: Scatter, by_spread: Sequence[bool]) -> Scatter:
    """The scatter by the marks: over a grid of values, each weighted by its prior and by how likely it makes them.

    Two sessions and more tell of the days; marks tell of a spread that nobody stated. What comes back is the root of
    the mean square, never the likeliest value, and never nought.

    Args:
        fit: of all marks, with a day spread that is more than nought.
        scatter: what is known before [mrad].
        by_spread: whether an observation's standard error is in proportion to the spread, shape (n,).

    Returns:
        the scatter; as it was where nothing tells.

    Source:
        docs/method.md, section 5.
    """
    many = len(fit.days) > 1
    if not fit.observations or not (many or scatter.assumed):
        return scatter
    spreads = scatter.spread_mrad * np.exp(scatter.spread_sd_ln * (_GRID if scatter.assumed else np.zeros(1)))
    parts = scatter.day_mrad / scatter.spread_mrad * np.exp(scatter.day_sd_ln * (_GRID if many else np.zeros(1)))
    spread, part = (each.ravel() for each in np.meshgrid(spreads, parts, indexing="ij"))
    prior = -0.5 * ((_GRID**2)[:, None] if scatter.assumed else np.zeros((1, 1))) - 0.5 * (
        _GRID**2 if many else np.zeros(1)
    )
    try:
        likely = _log_likelihoods(fit, spread / scatter.spread_mrad, spread * part, by_spread)
    except np.linalg.LinAlgError:
        return scatter
    weight = prior.ravel() + likely
    if not np.isfinite(weight).any():  # marks too far apart to be weighed
        return scatter
    weight = np.exp(weight - weight.max())
    weight /= weight.sum()
    wide, day = (math.sqrt(float(weight @ each**2)) for each in (spread, spread * part))
    told = _told(weight, np.log(part)) if many else None
    return replace(scatter, spread_mrad=wide, day_mrad=day, day_told=told)


def _told(weight: Array, values: Array) -> tuple[float, float]:
    mean = float(weight @ values)
    return mean, math.sqrt(max(float(weight @ (values - mean) ** 2), 1e-4))


def _log_likelihoods(fit: Fit, spread_parts: Array, days_mrad: Array, by_spread: Sequence[bool]) -> Array:
    """How likely the marks are with each scatter, all figures of the fit integrated over, linear about it."""
    count = len(fit.observations)
    sds = np.array([observation_sd_mm(fit, each) for each in fit.observations])
    reading = np.array([each.reading_sd_mm for each in fit.observations])
    slopes = -fit.jacobian[:count] * sds[:, None]
    places = fitted_places(fit.priors)
    widths = 1.0 / np.array([fit.jacobian[count + row, place] for row, place in enumerate(places)])
    moved = fit.whitened[count : count + len(places)] * widths
    of_days = slopes[:, list(fit.offsets.values())]
    own = fit.whitened[:count] * sds + slopes[:, places] @ moved
    own = own + of_days @ fit.estimate[list(fit.offsets.values())]
    of_arrows = slopes[:, ZERO + len(fit.zeros) + len(fit.days) :]
    own = own + of_arrows @ fit.estimate[ZERO + len(fit.zeros) + len(fit.days) :]
    sds_of_arrows = np.array([sd for arrow in fit.arrows for sd in arrow.sds])
    zeros = slopes[:, sorted(fit.zeros[pin] for pin in fit.shot_pins)]
    known = (slopes[:, places] * widths) @ (slopes[:, places] * widths).T + _FREE_MM2 * zeros @ zeros.T
    known = known + (of_arrows * sds_of_arrows) @ (of_arrows * sds_of_arrows).T
    scaling = np.where(np.asarray(by_spread, bool), sds**2 - reading**2, 0.0)
    fixed = sds**2 - scaling
    noise = fixed + np.square(spread_parts)[:, None] * scaling
    together = np.square(days_mrad)[:, None, None] * (of_days @ of_days.T)
    covariance = known + together + noise[:, :, None] * np.eye(count)
    sign, size = np.linalg.slogdet(covariance)
    squares = (np.linalg.solve(covariance, own[:, None])[:, :, 0] * own).sum(axis=1)
    return np.where((sign > 0) & np.isfinite(size + squares), -0.5 * (size + squares), -np.inf)
