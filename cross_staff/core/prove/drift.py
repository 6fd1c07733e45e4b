"""What left and right across distances and slopes mean: windage, planes set apart, lean, the axes, or none of these."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import product

import numpy as np
from scipy.stats import chi2 as chi2_distribution

from cross_staff.core.ballistics.cant import Case, falls, false_cant
from cross_staff.core.ballistics.flight import Array, RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.priors import Known

TERMS = ("windage", "offset", "lean", "third_axis")
WINDAGE, OFFSET, LEAN, THIRD = range(4)
ANGLE_SD_RAD = math.radians(5.0)
MOST_SD = (2e-3, 0.05, math.radians(1.0), math.radians(1.0))  # beyond these a term is not determined
LIKELY = (1.5e-3, 6e-3, math.radians(0.8), math.radians(1.5))  # how large each is where it is at work, one sd
AT_WORK = (0.5, 0.15, 0.15, 0.25)  # how often, before any arrow; the lean of a rail, and again that of a vial
WIND_SD_MPS, WINDY = 1.0, 0.15
DIFFER_P = 0.01
UNTOLD = 0.08  # a chance that is so near to what it was before says nothing
NAMED, CLEAR = 0.5, 0.9  # from when a cause is named, and from when it is said that nothing shows
COVERAGE = 1.96
TELLING = 0.1  # a cause that is less likely is not listed


class Cause(StrEnum):
    """What a sideways miss comes from."""

    WINDAGE = "windage_setting"
    OFFSET = "plane_offset"
    LEAN = "lean_or_second_axis"
    THIRD = "third_axis"
    WIND = "wind"
    TORQUE = "torque_or_tune"
    NONE = "none"


OF_TERM = (Cause.WINDAGE, Cause.OFFSET, Cause.LEAN, Cause.THIRD)
STATION = {Cause.WINDAGE: "sight_in", Cause.OFFSET: "mount", Cause.LEAN: "level", Cause.THIRD: "level",
           Cause.TORQUE: "prepare"}  # fmt: skip
WHY = {
    Cause.WINDAGE: "left or right grows in step with distance, and is nought at the eye",
    Cause.OFFSET: "left or right is the same at every distance",
    Cause.LEAN: "left or right grows faster than distance, with the drop: a rail that leans and a false second axis do "
    "the same on level ground, and no arrow there tells one from the other",
    Cause.THIRD: "uphill and downhill go to opposite sides",
    Cause.WIND: "left or right grows with about the square of distance, as wind makes it",
    Cause.TORQUE: "groups at about the same distance differ by more than their arrows scatter",
    Cause.NONE: "every group lies within what chance makes of it",
}
CHECK = {
    Cause.WINDAGE: "two groups more, the nearest stake and the farthest, on a calm day",
    Cause.OFFSET: "sight along the string over the arrow and the pins: do both lie in one plane?",
    Cause.LEAN: "on the bench: the bow plumb by its string, read the rail against a plumb line, and then the vial",
    Cause.THIRD: "a group uphill and one downhill, as steep and as far as there is, at the same windage",
    Cause.WIND: "the farthest group again on a calm day, or with the wind from the other side",
    Cause.TORQUE: "a paper or bare-shaft check, then a group with the hand open and one with it closed",
    Cause.NONE: "nothing: leave the screws alone",
}


@dataclass(frozen=True)
class SideGroup:
    """A group: distance from the sight plane [m] and slope of the line of sight [rad], how far right of the aim its
    middle lies [m], with its standard error."""

    distance_m: float
    slope_rad: float
    right_m: float
    se_m: float


@dataclass(frozen=True)
class DriftCause:
    """A cause: the chance that it is at work, how often it is before any arrow, how much of it there is where it is at
    work [rad; m; wind m/s], None for one without a size; the station that mends it ("" for none)."""

    cause: Cause
    chance: float
    before: float = 0.0
    amount: Known | None = None

    @property
    def told(self) -> bool:
        """Whether the groups say anything of it."""
        return abs(self.chance - self.before) > UNTOLD

    @property
    def amount_told(self) -> bool:
        """Whether how much there is of it is more than nothing, 19 times in 20: else nothing is turned for it."""
        return self.amount is not None and abs(self.amount.value) > COVERAGE * (self.amount.sd or 0.0)

    @property
    def station(self) -> str:
        return STATION.get(self.cause, "")

    @property
    def why(self) -> str:
        return WHY[self.cause]

    @property
    def check(self) -> str:
        return CHECK[self.cause]


@dataclass(frozen=True)
class Drift:
    """The terms: windage [rad], offset [m], lean less second axis [rad], third axis [rad], None where the groups do not
    determine it; the causes, most likely first; chi-squared of what is left, its degrees of freedom and p; the shares
    of the terms at each group, shape (n, 4)."""

    terms: dict[str, Known | None]
    causes: tuple[DriftCause, ...]
    chi2: float
    dof: int
    p: float | None
    estimate: tuple[float, ...]
    covariance: Array
    eye_to_sight_m: float

    @property
    def undetermined(self) -> tuple[str, ...]:
        """Terms that the groups do not determine."""
        return tuple(name for name in TERMS if self.terms[name] is None)

    @property
    def told(self) -> DriftCause | None:
        """The likeliest cause, where it is likely enough to be named."""
        first = self.causes[0] if self.causes else None
        return first if first is not None and first.chance >= (CLEAR if first.cause == Cause.NONE else NAMED) else None

    def amount(self, cause: Cause) -> Known | None:
        """How much there is of a cause where it is at work [rad; m; m/s]; None for one that is not listed."""
        return next((each.amount for each in self.causes if each.cause == cause), None)

    @property
    def housing_mm(self) -> Known | None:
        """How far the housing goes to the right for the windage [mm], chasing the arrow."""
        windage, reach = self.amount(Cause.WINDAGE), 1000.0 * self.eye_to_sight_m
        return None if windage is None else Known(reach * windage.value, reach * (windage.sd or 0.0))


def shares(figures: RigFigures, reference_m: float, groups: Sequence[SideGroup], third_rad: float = 0.0) -> Array:
    """How far right a group goes for a radian of windage, a metre between the planes, a radian of lean, and one of the
    third axis about `third_rad`.

    Windage L + d, offset 1, lean s (L + d) / L with s = h_ref - h(d, slope), third axis d(D sin c)/d a3.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home [m] from the sight plane, level.
        groups: distances [m] and slopes [rad], shape (n,).
        third_rad: where the third axis is taken to be [rad].

    Returns:
        [m], shape (n, 4).

    Raises:
        OutOfReach: for a group that the arrow does not reach, or home.

    Source:
        docs/method.md, section 18.
    """
    home, lever = pin_height(figures, reference_m), figures.eye_to_sight_m
    cases = tuple(Case(group.distance_m, group.slope_rad) for group in groups)
    rows = []
    step = 1e-4
    for case, known in zip(cases, falls(figures, cases)):
        if known is None:
            raise OutOfReach(f"{case.distance_m:g} m is out of reach of this arrow")
        fall, delta, height = known
        turned = [math.sin(false_cant(0.0, third_rad + way * step, case.slope_rad, delta)) for way in (-1.0, 1.0)]
        third = fall * (turned[1] - turned[0]) / (2.0 * step)
        rows.append((lever + case.distance_m, 1.0, (home - height) * (lever + case.distance_m) / lever, third))
    return np.array(rows, dtype=float).reshape(-1, 4)


def diagnose(figures: RigFigures, reference_m: float, groups: Sequence[SideGroup]) -> Drift:
    """What groups at different distances and slopes say of left and right.

    One least squares over the four terms; windage and offset have flat priors, both angles 5 degrees. The chance of a
    cause is the part of all mixtures of causes, weighted by how likely each makes the groups, in which it is at work.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_m: home [m] from the sight plane, level.
        groups: shape (n,), n >= 1.

    Returns:
        terms [rad; m] and causes.

    Raises:
        InvalidValue: without a group, or with an error that is not above nought.
        OutOfReach: for a group that the arrow does not reach.

    Source:
        docs/method.md, section 18.
    """
    if not groups:
        raise InvalidValue("groups", "must hold at least one group")
    if any(not group.se_m > 0.0 for group in groups):
        raise InvalidValue("groups", "the error of a group is more than nought")
    estimate, covariance, columns = _solved(figures, reference_m, groups)
    right, weight = _columns(groups)
    left = right - columns @ estimate
    chi2 = float(np.sum((left * weight) ** 2))
    dof = len(groups) - int(np.linalg.matrix_rank(columns * weight[:, None], tol=1e-6 * float(weight.max())))
    p = float(chi2_distribution.sf(chi2, dof)) if dof > 0 else None
    variances = np.diag(covariance)
    sds = np.sqrt(np.where(variances > 0.0, variances, np.inf))  # nought by rounding: not determined
    terms = {
        name: Known(_angle(place, float(estimate[place])), float(sds[place])) if sds[place] <= MOST_SD[place] else None
        for place, name in enumerate(TERMS)
    }
    causes = _causes(figures, groups, columns, p)
    return Drift(terms, causes, chi2, dof, p, tuple(map(float, estimate)), covariance, figures.eye_to_sight_m)


def _angle(place: int, value: float) -> float:
    """The lean comes out as its sine."""
    return math.asin(max(-1.0, min(1.0, value))) if place == LEAN else value


def _columns(groups: Sequence[SideGroup]) -> tuple[Array, Array]:
    return np.array([g.right_m for g in groups]), np.array([1.0 / g.se_m for g in groups])


def _solved(figures: RigFigures, reference_m: float, groups: Sequence[SideGroup]) -> tuple[Array, Array, Array]:
    """The terms with their covariance, and the shares about them; twice, for the third axis is not quite straight."""
    right, weight = _columns(groups)
    prior = np.diag([1e-6, 1e-4, ANGLE_SD_RAD**-2, ANGLE_SD_RAD**-2])
    columns = shares(figures, reference_m, groups)
    for _ in range(2):
        known = columns * weight[:, None]
        covariance = np.linalg.inv(known.T @ known + prior)
        estimate = covariance @ (known.T @ (right * weight))
        third = float(np.clip(estimate[THIRD], -0.5, 0.5))
        flown = shares(figures, reference_m, groups, 0.5 * third)  # the slope midway is the chord's
        columns = np.column_stack([columns[:, :THIRD], flown[:, THIRD]])
    return np.asarray(estimate, dtype=float), np.asarray(covariance, dtype=float), columns


def _causes(
    figures: RigFigures, groups: Sequence[SideGroup], columns: Array, p: float | None
) -> tuple[DriftCause, ...]:
    """The causes by the part that each has in what the groups say; a rail that leans and a vial that lies are two
    ways of one cause."""
    right, weight = _columns(groups)
    distances = tuple(Case(g.distance_m, g.slope_rad) for g in groups)
    vial = [-(known[0] if known else 0.0) for known in falls(figures, distances)]
    per_mps = [value or 0.0 for value in drifts(figures, [g.distance_m for g in groups], 1.0)]
    known = np.column_stack([columns, per_mps, vial]) * weight[:, None]
    sizes = np.array((*LIKELY, WIND_SD_MPS, LIKELY[LEAN]))
    prior = np.array((*AT_WORK, WINDY, AT_WORK[LEAN]))
    masks = np.array(list(product((False, True), repeat=len(sizes))))
    fits = [_mixture(known, right * weight, sizes, mask) for mask in masks]
    logs = np.array([likely for likely, _, _ in fits])
    logs += np.where(masks, np.log(prior), np.log(1.0 - prior)).sum(axis=1)
    chances = np.exp(logs - logs.max())
    chances /= chances.sum()
    amounts = [_amount(chances * masks[:, i], [(m[i], v[i]) for _, m, v in fits]) for i in range(len(TERMS) + 1)]
    lean = masks[:, LEAN] | masks[:, -1]
    # what leans is told as one number, the rail's less the vial's
    both = [(m[LEAN] - m[-1], v[LEAN] + v[-1]) for _, m, v in fits]
    amounts[LEAN] = _amount(chances * lean, both)
    before = [*AT_WORK, WINDY, 0.0]
    before[LEAN] = 1.0 - (1.0 - AT_WORK[LEAN]) ** 2
    masks[:, LEAN] = lean
    told = [
        DriftCause(cause, float(chances @ masks[:, i]), before[i], amounts[i])
        for i, cause in enumerate((*OF_TERM, Cause.WIND))
    ]
    told.append(DriftCause(Cause.NONE, float(chances[0]), float(np.prod(1.0 - prior))))
    if p is not None and p < DIFFER_P:
        told.append(DriftCause(Cause.TORQUE, 1.0 - p))
        told = [each for each in told if each.cause != Cause.NONE]
    listed = sorted((each for each in told if each.chance >= TELLING), key=lambda each: -each.chance)
    return tuple(listed)


def _mixture(known: Array, right: Array, sizes: Array, mask: Array) -> tuple[float, Array, Array]:
    """Ln likelihood of the groups [in their own errors], these causes being at work; how much there is then of each
    cause, and its variance, nought of those that are not."""
    at_work = known[:, mask] * sizes[mask]
    precision, seen = np.eye(at_work.shape[1]) + at_work.T @ at_work, at_work.T @ right
    left = np.linalg.inv(precision)
    mean = left @ seen
    likely = -0.5 * float(right @ right - seen @ mean + np.linalg.slogdet(precision)[1])
    means, variances = np.zeros(len(sizes)), np.zeros(len(sizes))
    means[mask] = sizes[mask] * mean
    variances[mask] = sizes[mask] ** 2 * np.clip(np.diag(left), 0.0, None)
    return likely, means, variances


def _amount(weights: Array, told: Sequence[tuple[float, float]]) -> Known | None:
    """How much there is of a cause, over the mixtures that have it."""
    total = float(weights.sum())
    if total <= 0.0:
        return None
    part = weights / total
    means, variances = (np.array(column) for column in zip(*told))
    mean = float(part @ means)
    return Known(mean, math.sqrt(float(part @ (variances + (means - mean) ** 2))))
