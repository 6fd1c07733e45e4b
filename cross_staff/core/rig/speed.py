"""Speed of an arrow build at the sight plane: from its own sessions at the chronograph, or, where
it has none, from the other builds shot from the same bow."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.ballistics.arrow import PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.chronograph import ChronographSession, SpeedAtSight, summary

SAME_DRAW_WEIGHT_N = 2.0  # a smaller difference of draw weight is only how it was read
SAME_MASS = 0.004  # part of the mass by which two weighings of one build may differ
RESCALED_SD = 0.01  # part of the speed: what is not known of a bow set to another draw weight
_LUCK = 0.0002
_ROUNDS = 12


@dataclass(frozen=True)
class _Datum:
    """One session: whose, at which mass [kg], the speed at the sight plane [m/s], its sd from scatter
    alone, and the instrument's part [-]."""

    index: int
    mass_kg: float | None
    speed_mps: float
    scatter_mps: float
    accuracy: float


def _data(builds: Sequence[ArrowBuild], draw_weight_n: float | None) -> list[_Datum]:
    return [
        _datum(index, build, session, draw_weight_n)
        for index, build in enumerate(builds)
        for session in build.sessions
        if session.kept_mps
    ]


def _datum(index: int, build: ArrowBuild, session: ChronographSession, draw_weight_n: float | None) -> _Datum:
    of_session = summary(session)
    back = math.exp((build.drag_per_m() or 0.0) * session.distance_m)
    scatter = of_session.standard_error_mps
    least = _LUCK * of_session.mean_mps  # a few readings that agree by luck know no more than this
    scatter = session.accuracy * of_session.mean_mps if scatter is None else max(scatter, least)
    then = session.draw_weight_n
    if then and draw_weight_n and abs(then - draw_weight_n) > SAME_DRAW_WEIGHT_N:
        back *= math.sqrt(draw_weight_n / then)
        scatter = math.hypot(scatter, RESCALED_SD * of_session.mean_mps)
    mass = session.mass_kg or build.mass_kg()
    return _Datum(index, mass, of_session.mean_mps * back, scatter * back, session.accuracy)


def measured(builds: Sequence[ArrowBuild], index: int, draw_weight_n: float | None = None) -> SpeedAtSight | None:
    """Speed from the build's own sessions, pooled; None where none was shot at its present mass.

    Sessions are weighted by their scatter, which grows where they differ by more than it (Birge's
    ratio); the instrument's accuracy does not shrink with more sessions. A session at another draw
    weight is brought over by v ~ sqrt(F), and widened by 1 %.

    Args:
        builds: every arrow build of the bow.
        index: which build.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        speed [m/s] with its sd [m/s]; None where none was shot at its present mass.

    Source:
        R. T. Birge, The calculation of errors by the method of least squares, 1932.
    """
    mass = builds[index].mass_kg()
    own = [d for d in _data(builds, draw_weight_n) if d.index == index and same_mass(d.mass_kg, mass)]
    if not own:
        return None
    speeds, scatters = np.array([d.speed_mps for d in own]), np.array([d.scatter_mps for d in own])
    weights = scatters**-2.0 / np.sum(scatters**-2.0)
    mean = float(weights @ speeds)
    scatter = float(np.sum(scatters**-2.0) ** -0.5)
    if len(own) > 1:
        scatter *= max(1.0, math.sqrt(float(np.sum(((speeds - mean) / scatters) ** 2)) / (len(own) - 1)))
    accuracy = float(weights @ np.array([d.accuracy for d in own]))
    return SpeedAtSight(mean, math.hypot(scatter, accuracy * mean))


def same_mass(then_kg: float | None, now_kg: float | None) -> bool:
    """Whether two weighings are of one arrow.

    Args:
        then_kg: [kg]; None where it is not known.
        now_kg: [kg]; None where it is not known.

    Returns:
        True within what weighings of one build differ, or where one is not known.

    Source:
        a rule of the craft.
    """
    return then_kg is None or now_kg is None or abs(then_kg - now_kg) <= SAME_MASS * now_kg


def predicted(builds: Sequence[ArrowBuild], index: int, draw_weight_n: float | None = None) -> SpeedAtSight | None:
    """Speed of a build that was not chronographed at its present mass, from every session of the
    bow; None where there is none, or its own mass is not known.

    v^2 = 2E/(m + mv): least squares over (ln 2E, ln mv) with the prior of ln mv; one mass leaves mv
    to the prior, two measure it. The instrument's accuracy is common to all.

    Args:
        builds: every arrow build of the bow.
        index: which build.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        speed [m/s] with its sd [m/s]; None where there is no session, or its own mass is not known.

    Source:
        docs/method.md, section 6.
    """
    mass = builds[index].mass_kg()
    data = [d for d in _data(builds, draw_weight_n) if d.mass_kg is not None]
    if mass is None or not data:
        return None
    estimate, covariance = _stored(data)
    virtual = math.exp(estimate[1])
    speed = math.exp(0.5 * (estimate[0] - math.log(mass + virtual)))
    gradient = 0.5 * np.array([1.0, -virtual / (mass + virtual)])
    sd = speed * math.sqrt(float(gradient @ covariance @ gradient))
    return SpeedAtSight(speed, math.hypot(sd, max(d.accuracy for d in data) * speed))


def virtual_mass(builds: Sequence[ArrowBuild], draw_weight_n: float | None = None) -> tuple[float, float]:
    """Virtual mass of the bow [kg] and the sd of its logarithm: from every session, else its prior.

    Args:
        builds: every arrow build of the bow.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        mv [kg] and the sd of its logarithm [-].

    Source:
        docs/method.md, section 6.
    """
    data = [d for d in _data(builds, draw_weight_n) if d.mass_kg is not None]
    if not data:
        return PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN
    estimate, covariance = _stored(data)
    return math.exp(estimate[1]), math.sqrt(float(covariance[1, 1]))


def _stored(data: Sequence[_Datum]) -> tuple[np.ndarray, np.ndarray]:
    """Most likely (ln 2E, ln mv) from sessions of known mass, and their covariance."""
    masses, logs = np.array([d.mass_kg for d in data]), np.array([2.0 * math.log(d.speed_mps) for d in data])
    return _energy(masses, logs, np.array([2.0 * d.scatter_mps / d.speed_mps for d in data]))


def _energy(masses: np.ndarray, logs: np.ndarray, sds: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Most likely (ln 2E, ln mv) and their covariance, by Gauss-Newton."""
    prior = math.log(PRIOR_VIRTUAL_MASS_KG)
    estimate = np.array([logs[0] + math.log(masses[0] + PRIOR_VIRTUAL_MASS_KG), prior])
    for _ in range(_ROUNDS):
        virtual = math.exp(estimate[1])
        residual = (logs - (estimate[0] - np.log(masses + virtual))) / sds
        jacobian = np.column_stack([np.ones_like(masses), -virtual / (masses + virtual)]) / sds[:, None]
        residual = np.append(residual, (prior - estimate[1]) / PRIOR_VIRTUAL_MASS_SD_LN)
        jacobian = np.vstack([jacobian, [0.0, 1.0 / PRIOR_VIRTUAL_MASS_SD_LN]])
        normal = jacobian.T @ jacobian
        estimate = estimate + np.linalg.solve(normal, jacobian.T @ residual)
    return estimate, np.linalg.inv(normal)


def at_sight(builds: Sequence[ArrowBuild], index: int, draw_weight_n: float | None = None) -> SpeedAtSight | None:
    """The build's own measured speed, else the one predicted from the others.

    Args:
        builds: every arrow build of the bow.
        index: which build.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        speed at the sight plane [m/s] with its sd [m/s]; None where nothing was shot.

    Source:
        docs/method.md, section 6.
    """
    return measured(builds, index, draw_weight_n) or predicted(builds, index, draw_weight_n)
