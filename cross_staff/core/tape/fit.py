"""The tape fit: what marks, groups, chronograph and tape measure say together.

The most likely speed, drag, eye-to-sight, peep height, mark zero and tape ratio, with their joint
uncertainty (docs/method.md, section 5).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from cross_staff.core.ballistics.flight import Array, RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.sightline import pin_heights, sight_shift_at_target
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.tape.observation import Observation, OtherArrow

SUSPECT_SDS = 3.0
CONTRADICTION_P = 0.01
_PARAMETERS = ("speed_mps", "drag_per_m", "eye_to_sight_m", "peep_height_m", "tape_ratio")
_SPEED, _DRAG, _LEVER, _PEEP, RATIO, ZERO = range(6)
_STEPS = 8


@dataclass(frozen=True)
class Residual:
    """How one observation sits: residual_mm = observed - fitted [mm], sd_mm of the observation [mm];
    standardised, in its own sds;
    against_others, in sds of what all the others predict (None where they predict nothing)."""

    residual_mm: float
    sd_mm: float
    standardised: float
    against_others: float | None
    suspect: bool


@dataclass(frozen=True)
class TapeRow:
    """mark_mm [mm] with sd_mm; sd_on_target_m [m]; None where out of reach."""

    distance_m: float
    mark_mm: float | None
    sd_mm: float | None
    sd_on_target_m: float | None


@dataclass(frozen=True)
class Fit:
    """A solved fit. `estimate` and `covariance` go over (v0, ln k/k0, L, Hp, ln r/r0, m0), then the mark zeros
    of the other pins that were shot, then what each session's arrows came in high [mrad], then of each other arrow how
    far its ln speed and ln drag lie from what was expected and how high it leaves [mrad]; pins_at_m: what each pin is
    set for [m], by which one that was not shot is placed; day_spread_mrad: one sd of a session's own offset; days: the
    sessions that have one, none where the day spread is nought; arrows: the other arrows that were shot."""

    priors: Priors
    reference_distance_m: float
    observations: tuple[Observation, ...]
    estimate: Array
    covariance: Array
    whitened: Array
    jacobian: Array
    pins_at_m: tuple[float, ...] = ()
    day_spread_mrad: float = 0.0
    days: tuple[str, ...] = ()
    arrows: tuple[OtherArrow, ...] = ()

    @cached_property
    def zeros(self) -> dict[int, int]:
        """Place of each pin's mark zero in the estimate."""
        others = sorted({o.pin for o in self.observations} - {0})
        return {0: ZERO} | {pin: ZERO + 1 + i for i, pin in enumerate(others)}

    @cached_property
    def offsets(self) -> dict[str, int]:
        """Place of each session's offset in the estimate."""
        first = ZERO + len(self.zeros)
        return {session: first + i for i, session in enumerate(self.days)}

    @cached_property
    def arrow_places(self) -> tuple[int, ...]:
        """Place in the estimate of the first figure of each other arrow: ln speed, ln drag, launch."""
        first = ZERO + len(self.zeros) + len(self.days)
        return tuple(first + 3 * i for i in range(len(self.arrows)))

    def session_offset(self, session: str) -> Known:
        """How high all arrows of a session came in [mrad], with its sd."""
        place = self.offsets[session]
        return Known(float(self.estimate[place]), self._sd(place))

    @cached_property
    def shot_pins(self) -> frozenset[int]:
        """The pins that were observed."""
        return frozenset(o.pin for o in self.observations)

    @property
    def on_scale(self) -> bool:
        """Whether its marks are readings of the sight's own scale: else they are counted from a pencil line, or the
        home line of a strip."""
        return all(not o.ruler for o in self.observations if o.pin == min(self.shot_pins))

    @property
    def figures(self) -> RigFigures:
        """The fitted figures."""
        return _figures(self.priors, self.estimate)

    @property
    def tape_ratio(self) -> float:
        return float(self.priors.tape_ratio.value * math.exp(self.estimate[RATIO]))

    @property
    def mark_zero_mm(self) -> Known:
        """The top pin's mark at the reference distance; with no observation it is nought by definition."""
        value, gradient = _zero(self, 0)
        return Known(value, math.sqrt(max(float(gradient @ self.covariance @ gradient), 0.0)))

    def _sd(self, index: int) -> float:
        return math.sqrt(max(float(self.covariance[index, index]), 0.0))

    def known(self, name: str) -> Known:
        """A fitted figure by name with its sd (of the logarithm for drag_per_m)."""
        if name == "tape_ratio":
            return Known(self.tape_ratio, self.tape_ratio * self._sd(RATIO))
        value = float(getattr(self.figures, name))
        return Known(value, self._sd(_PARAMETERS.index(name)))

    @cached_property
    def pulls(self) -> dict[str, float]:
        """How far each prior was moved, in its sds; exact ones are left out."""
        moved = prior_residuals(self.priors, self.estimate)
        return {_PARAMETERS[i]: float(v) for i, v in zip(fitted_places(self.priors), moved)}

    @cached_property
    def chi2(self) -> float:
        """Sum of squares of all whitened residuals, priors included."""
        return float(self.whitened @ self.whitened)

    @property
    def degrees_of_freedom(self) -> int:
        """Observations less the mark zeros, the only figures without a prior."""
        return max(len(self.observations) - len(self.shot_pins), 0)

    @cached_property
    def p_value(self) -> float | None:
        """Chance of a larger chi-squared; None without degrees of freedom."""
        from scipy.special import gammaincc

        if not self.degrees_of_freedom:
            return None
        return float(gammaincc(self.degrees_of_freedom / 2.0, self.chi2 / 2.0))

    @cached_property
    def leverage(self) -> Array:
        """How much of each observation the fit takes from itself [-], shape (n,): 1 where nothing else tells."""
        rows = self.jacobian[: len(self.observations)]
        return np.einsum("ij,jk,ik->i", rows, self.covariance, rows)

    @cached_property
    def residuals(self) -> tuple[Residual, ...]:
        """One for each observation. Suspect: over 3 of its own sds, or the one farthest out and
        over 3 sds from what all the others predict."""
        values = self.whitened[: len(self.observations)]
        free = 1.0 - self.leverage
        others = [float(v / math.sqrt(f)) if f > 1e-6 else None for v, f in zip(values, free)]
        farthest = max((abs(z) for z in others if z is not None), default=0.0)
        result = []
        for observation, value, z in zip(self.observations, values, others):
            out = z is not None and abs(z) == farthest and farthest > SUSPECT_SDS
            sd = observation_sd_mm(self, observation)
            suspect = bool(abs(value) > SUSPECT_SDS or out)
            result.append(Residual(float(value * sd), sd, float(value), z, suspect))
        return tuple(result)

    def sensitivities(self, distances_m: ArrayLike, pin: int = 0, up_m: ArrayLike = 0.0) -> tuple[Array, Array]:
        """Marks [mm] of a pin and their gradient over the estimate; rows out of reach are nan.

        Args: distances_m (n,); up_m, how high the arrows shall come in [m]. Returns: marks (n,), gradient
        (n, k), k the length of the estimate.
        """
        distances = np.atleast_1d(np.asarray(distances_m, float))
        return predicted(self, distances, np.asarray(up_m, float), np.full(len(distances), pin))

    def tape(self, distances_m: ArrayLike, pin: int = 0, up_m: ArrayLike = 0.0) -> list[TapeRow]:
        """The fitted tape of a pin with the sd of each mark, on the tape [mm] and on the target [m]."""
        distances = np.atleast_1d(np.asarray(distances_m, float))
        mark, gradient = self.sensitivities(distances, pin, up_m)
        with np.errstate(invalid="ignore"):
            variance = np.einsum("ij,jk,ik->i", gradient, self.covariance, gradient)
            sd = np.sqrt(np.maximum(variance, 0.0))
        on_target = self.target_m_per_tape_mm(distances) * sd
        return [
            TapeRow(float(d), float(m), float(s), float(t)) if math.isfinite(m) else TapeRow(float(d), None, None, None)
            for d, m, s, t in zip(distances, mark, sd, on_target)
        ]

    def target_m_per_tape_mm(self, distance_m: ArrayLike) -> Array:
        """Metres on the target per millimetre on the tape, (L + d) / (L ratio) / 1000."""
        shift = sight_shift_at_target(self.figures.eye_to_sight_m, distance_m)
        return shift / self.tape_ratio / 1000.0


def _figures(priors: Priors, estimate: Array) -> RigFigures:
    return RigFigures(
        float(estimate[_SPEED]),
        float(priors.drag_per_m.value * math.exp(estimate[_DRAG])),
        float(estimate[_LEVER]),
        float(estimate[_PEEP]),
    )


def fitted_places(priors: Priors) -> list[int]:
    """Indexes of the estimate that have a prior with some width."""
    return [0, 1, 2, 3] if priors.tape_ratio.sd == 0.0 else [0, 1, 2, 3, 4]


def prior_residuals(priors: Priors, estimate: Array) -> Array:
    """How far an estimate lies from what was known before.

    Args:
        priors: what is known before any mark.
        estimate: the estimate, in the fit's own parameters, shape (k,).

    Returns:
        fitted less given, in sds [-], shape (k,).

    Source:
        docs/method.md, section 5.
    """
    result = [
        (estimate[_SPEED] - priors.speed_mps.value) / prior_width(priors.speed_mps),
        estimate[_DRAG] / prior_width(priors.drag_per_m),
        (estimate[_LEVER] - priors.eye_to_sight_m.value) / prior_width(priors.eye_to_sight_m),
        (estimate[_PEEP] - priors.peep_height_m.value) / prior_width(priors.peep_height_m),
    ]
    ratio = priors.tape_ratio
    if ratio.sd is None:
        result.append(estimate[RATIO])
    elif ratio.sd > 0.0:
        result.append(ratio.value * math.expm1(estimate[RATIO]) / ratio.sd)
    return np.array(result)


def prior_width(known: Known) -> float:
    """The width of what was known before, as the fit counts it.

    Args:
        known: a value with its sd.

    Returns:
        sd of the logarithm, or of the value, as the fit has it [-].

    Raises:
        InvalidValue: for an sd that is not more than nought.

    Source:
        docs/method.md, section 5.
    """
    if known.sd is None or not known.sd > 0.0:
        raise InvalidValue("sd", "must be more than nought")
    return known.sd


def observation_sd_mm(fit: Fit, observation: Observation) -> float:
    """How surely an observation places its mark.

    Args:
        fit: the fit so far.
        observation: a mark or a group.

    Returns:
        [mm] on the tape.

    Source:
        docs/method.md, section 5.
    """
    per_mm = float(fit.target_m_per_tape_mm(observation.distance_m))
    return math.hypot(observation.reading_sd_mm, observation.up_se_m / per_mm)


def predicted(
    fit: Fit,
    distances_m: Array,
    up_m: Array,
    pins: NDArray[np.int_],
    sessions: Sequence[str | None] = (),
    arrows: Sequence[int] = (),
) -> tuple[Array, Array]:
    """Marks [mm] (n,) and gradient (n, k) at the fit's estimate; nan where out of reach.

    What a session's arrows came in high, and how much higher another arrow leaves, is taken off what was seen: the
    mark is that of an arrow that comes in at up - g d.

    Args:
        fit: the fit so far.
        distances_m: [m] from the sight plane, shape (n,).
        up_m: height seen above the aim [m], shape (n,).
        pins: which pins, counted from 0 [-], shape (n,).
        sessions: of each row, None for none, shape (n,); empty: none at all.
        arrows: with which of the fit's other arrows, 0 for its own, shape (n,); empty: all with its own.

    Returns:
        marks [mm], shape (n,), and their gradient, shape (n, k); nan where out of reach.

    Source:
        docs/method.md, section 5.
    """
    days = [fit.offsets.get(session or "") for session in sessions] or [None] * len(distances_m)
    launches = [fit.arrow_places[arrow - 1] + 2 if arrow else None for arrow in arrows] or [None] * len(distances_m)
    high = np.zeros(len(distances_m))
    for row, places in enumerate(zip(days, launches)):
        high[row] = 1e-3 * sum(float(fit.estimate[place]) for place in places if place is not None)
    mark, gradient, per_up = _below_reference(
        fit, distances_m, np.broadcast_to(up_m, distances_m.shape) - high * distances_m, arrows
    )
    for row, places in enumerate(zip(days, launches)):
        for place in places:
            if place is not None:
                gradient[row, place] = -1e-3 * distances_m[row] * per_up[row]
    for pin in set(pins.tolist()):
        value, slope = _zero(fit, pin)
        own = pins == pin
        mark = np.where(own, mark + value, mark)
        gradient[own] += slope
    return mark, gradient


def _below_reference(
    fit: Fit, distances_m: Array, up_m: Array, arrows: Sequence[int] = ()
) -> tuple[Array, Array, Array]:
    """How far each distance's mark lies beyond that of the reference [mm] (n,), its gradient (n, k), and by how much
    more for each metre that the arrow comes in higher [mm/m] (n,)."""
    ratio = 1000.0 * fit.tape_ratio
    distances = np.concatenate([[fit.reference_distance_m], distances_m])
    speeds, drags = _of_arrows(fit, arrows or [0] * len(distances_m))
    height, slope, rises = _heights_and_slopes(fit, speeds, drags, distances, np.append(0.0, up_m))
    below = height[0] - height[1:]
    gradient = np.zeros((len(distances_m), len(fit.estimate)))
    own = slope[1:].copy()
    own[:, _SPEED] *= speeds[1:] / speeds[0]
    gradient[:, :4] = ratio * (slope[0] - own)
    gradient[:, RATIO] = ratio * below
    for row, arrow in enumerate(arrows):
        if arrow:
            place = fit.arrow_places[arrow - 1]
            gradient[row, place] = -ratio * slope[1 + row, _SPEED] * speeds[1 + row]
            gradient[row, place + 1] = -ratio * slope[1 + row, _DRAG]
    return ratio * below, gradient, -ratio * rises[1:]


def _of_arrows(fit: Fit, arrows: Sequence[int]) -> tuple[Array, Array]:
    """Speed [m/s] and drag [1/m] of the reference's arrow, then of each row's, shape (1 + n,)."""
    speeds, drags = (np.full(1 + len(arrows), v) for v in (fit.figures.speed_mps, fit.figures.drag_per_m))
    for row, arrow in enumerate(arrows, start=1):
        if arrow:
            other, place = fit.arrows[arrow - 1], fit.arrow_places[arrow - 1]
            speeds[row] *= math.exp(other.speed_ln + fit.estimate[place])
            drags[row] *= math.exp(other.drag_ln + fit.estimate[place + 1])
    return speeds, drags


def _zero(fit: Fit, pin: int) -> tuple[float, Array]:
    """A pin's mark zero [mm] and its gradient (k,).

    One that was not shot is placed by one that was, each being right for its own distance where the
    sight stands at home: m_q = m_s + (below(d_s) - below(d_q)).
    """
    gradient = np.zeros(len(fit.estimate))
    if pin in fit.shot_pins or not (pin or fit.shot_pins):
        gradient[fit.zeros[pin]] = 1.0
        return float(fit.estimate[fit.zeros[pin]]), gradient
    known = min(fit.shot_pins, default=0)
    gradient[fit.zeros[known]] = 1.0
    apart, slopes, _ = _below_reference(fit, np.array([_pin_at(fit, known), _pin_at(fit, pin)]), np.zeros(2))
    value = float(fit.estimate[fit.zeros[known]] + apart[0] - apart[1])
    return value, gradient + slopes[0] - slopes[1]


def _pin_at(fit: Fit, pin: int) -> float:
    if not pin:
        return fit.reference_distance_m
    if pin >= len(fit.pins_at_m):
        raise InvalidValue("pin", "is not one of the pins whose distances are known")
    return fit.pins_at_m[pin]


def _heights_and_slopes(
    fit: Fit, speeds: Array, drags: Array, distances_m: Array, up_m: Array
) -> tuple[Array, Array, Array]:
    """Pin heights (n,), their derivatives by (v0, ln k, L, Hp) (n, 4), and by the height on arrival (n,); speeds
    [m/s], drags [1/m], distances and heights on arrival [m] of each row, shape (n,).

    With w(h, q) the height on arrival, dh/dq = -(dw/dq) / (dw/dh) along w = const, dh/dw = 1 / (dw/dh); both by
    differences of one flight each, all in a single array call.
    """
    figures, count = fit.figures, len(distances_m)
    still = (figures.eye_to_sight_m, figures.peep_height_m)
    solved = pin_heights(Trajectories.spread(speeds, drags, *still, distances_m, 0.0, up_m))
    height = np.where(solved.reached, solved.height_m, np.nan)
    nudges = np.array([1e-4 * figures.speed_mps, 1e-4, 1e-5, 1e-5, 1e-5])
    columns = [
        np.tile(speeds, (6, 1)),
        np.tile(drags, (6, 1)),
        np.full((6, count), figures.eye_to_sight_m),
        np.full((6, count), figures.peep_height_m),
        np.tile(height, (6, 1)),
    ]
    columns[0][1] += nudges[0]
    columns[1][2] *= math.exp(nudges[1])
    for row, column in ((3, 2), (4, 3), (5, 4)):
        columns[column][row] += nudges[column]
    distance = np.tile(distances_m, 6)
    flat = [column.ravel() for column in columns]
    nudged = Trajectories.spread(*flat[:4], distance, 0.0, 0.0)
    arrival = arrive(nudged, flat[4], _STEPS)
    w = np.where(arrival.sound, arrival.height_m, np.nan).reshape(6, count)
    slopes = (w[1:] - w[0]) / nudges[:, None]
    return height, (-slopes[:4] / slopes[4]).T, 1.0 / slopes[4]
