"""How far off a whole tape may be: the strips at the edges of its own uncertainty, and where one would know."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.ballistics.flight import Array
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import usual_scatter
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.forecast import COVERAGE, PlannedGroup
from cross_staff.core.tape.station import ARROWS_TO_SHOOT, Evaluation

LEAST_APART_MM = 0.1  # strips nearer to one another than this are one strip


@dataclass(frozen=True)
class TapeEdges:
    """The edges of a tape: the distance at which an end tells the fitted strip from one beside it [m as ranged], how
    far they lie apart there on the target [m], and how far at the tape's end [mm]; tells, whether six arrows are
    enough there."""

    tell_m: float
    apart_m: float
    end_mm: float
    tells: bool


def edge_shifts_mm(card: RigCard, evaluation: Evaluation, ranged_m: Sequence[float], far_m: float) -> Array:
    """How far the marks of a tape laid on at home lie from the fitted ones where its end lies at the edge of what it
    may be.

    The end is set 1.96 sds off, and every other mark where the fit then expects it: cov(m(d), m(far)) / sd(m(far))
    times 1.96, both counted from home.

    Args:
        card: the rig's card.
        evaluation: what the marks come to.
        ranged_m: [m as ranged], shape (n,).
        far_m: the tape's end [m as ranged].

    Returns:
        [mm on the tape], farther positive, shape (n,); nought without a fit.

    Source:
        docs/method.md, section 7.
    """
    fit = evaluation.fit
    if fit is None:
        return np.zeros(len(ranged_m))
    distances = [card.distance_from_sight(d) for d in (_home_m(card, evaluation), far_m, *ranged_m)]
    gradient = fit.sensitivities(distances, evaluation.pins.dialled)[1]
    from_home = gradient[1:] - gradient[0]
    end = from_home[0]
    sd = math.sqrt(max(float(end @ fit.covariance @ end), 0.0))
    if not math.isfinite(sd) or sd == 0.0:
        return np.zeros(len(ranged_m))
    return COVERAGE * (from_home[1:] @ fit.covariance @ end) / sd


def _home_m(card: RigCard, evaluation: Evaluation) -> float:
    return evaluation.tape_home_m or card.goals.home_m or 0.0


def tape_edges(card: RigCard, evaluation: Evaluation, far_m: float) -> TapeEdges | None:
    """Where one knows which strip is the right one: the nearest distance at which six arrows tell them apart.

    Args:
        card: the rig's card.
        evaluation: what the marks come to.
        far_m: the tape's end [m as ranged].

    Returns:
        the edges; None where they lie too near to the fitted tape to be strips of their own.

    Source:
        docs/method.md, section 7.
    """
    fit = evaluation.fit
    if fit is None:
        return None
    end = float(edge_shifts_mm(card, evaluation, [far_m], far_m)[0])
    if not math.isfinite(end) or abs(end) < LEAST_APART_MM:
        return None
    at = _candidates(card, evaluation, far_m)
    apart = np.abs(edge_shifts_mm(card, evaluation, at, far_m)) * _per_mm(card, fit, at)
    scatter = evaluation.scatter or usual_scatter(card)
    end_of_six = PlannedGroup(ARROWS_TO_SHOOT, scatter.spread_mrad, day_spread_mrad=scatter.day_mrad)
    told = COVERAGE * np.array([end_of_six.standard_error_m(card.distance_from_sight(d)) for d in at])
    tells = np.flatnonzero(np.isfinite(apart) & (apart >= told))
    place = int(tells[0]) if len(tells) else len(at) - 1
    return TapeEdges(at[place], float(apart[place]), abs(end), bool(len(tells)))


def _candidates(card: RigCard, evaluation: Evaluation, far_m: float) -> list[float]:
    """Distances that the archer shoots beyond home, up to the tape's end, else whole tens [m as ranged]."""
    home, unit = _home_m(card, evaluation), card.tape.unit_m
    shot = [d for d in card.goals.distances_m if home + unit < d < far_m - 0.05]
    tens = [count * unit for count in range(10, int(far_m / unit) + 1, 10) if home + unit < count * unit < far_m - 0.05]
    return [*(shot or tens), far_m]


def _per_mm(card: RigCard, fit: Fit, ranged_m: Sequence[float]) -> Array:
    return fit.target_m_per_tape_mm([card.distance_from_sight(d) for d in ranged_m])
