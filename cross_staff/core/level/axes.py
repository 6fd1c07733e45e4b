"""The axes of a sight by least squares, from readings at any mix of pitches.

Unknown are first, second and third axis and the reference's own yaw; each reading's cant comes from
the reference read with it, so that a vise out of plumb is taken out and not ignored.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.vials import cant_of, rail_tilt, sight_tilt
from cross_staff.core.ranges import Range

AXES = ("first_axis", "second_axis", "third_axis")
PRIOR_SD_RAD = math.radians(5.0)
UNDETERMINED_SD_RAD = math.radians(1.0)
SUSPECT_SDS = 3.0
CONTRADICTION_P = 0.01
PITCH_RAD = Range(-math.radians(80.0), math.radians(80.0))
TILT_RAD = Range(-math.radians(30.0), math.radians(30.0))
USUAL_PITCH_RAD = math.radians(45.0)  # what a vise allows, either way
_ROUNDS = 12
_UNSOLVABLE = "these uncertainties lie too far apart to be solved together"
_NUDGE = 1e-6

Array = NDArray[np.float64]


@dataclass(frozen=True)
class AxisReading:
    """A reading of two vials at one pitch of the arrow line [rad]: the sight's (or the rail's, when
    `rail` is set) and the reference's tilt [rad], and the sd of their difference [rad]."""

    pitch_rad: float
    vial_rad: float
    reference_rad: float
    sd_rad: float
    rail: bool = False


@dataclass(frozen=True)
class Axis:
    """An axis [rad] with its sd [rad]; determined when the readings leave it under one degree."""

    value_rad: float
    sd_rad: float

    @property
    def determined(self) -> bool:
        return self.sd_rad <= UNDETERMINED_SD_RAD


SLIPS = ("sight_sign", "reference_sign", "both_signs", "pitch_sign", "wrong")


@dataclass(frozen=True)
class Slip:
    """A reading that the others do not expect: its index, and what likely happened (one of SLIPS)."""

    index: int
    slip: str


@dataclass(frozen=True)
class Solved:
    """The axes by name; chi-squared, its degrees of freedom and chance (None without any); readings
    that look wrong, the likeliest first; the pitch at which one more reading would tell most [rad]."""

    axes: dict[str, Axis]
    covariance: Array = field(repr=False)
    chi2: float
    degrees_of_freedom: int
    p_value: float | None
    slips: tuple[Slip, ...] = ()
    best_next_pitch_rad: float = USUAL_PITCH_RAD

    @property
    def undetermined(self) -> tuple[str, ...]:
        return tuple(name for name in AXES if not self.axes[name].determined)


def solve(readings: Sequence[AxisReading], yaw_rad: float = 0.0, yaw_sd_rad: float = 0.0) -> Solved:
    """First, second and third axis with their uncertainty.

    Args:
        readings: both vials' tilts [rad] at a pitch [rad], of both kinds.
        yaw_rad: the reference's own yaw on its seat [rad].
        yaw_sd_rad: its sd [rad]; 0 is proved.

    Returns:
        each axis [rad] with its sd, what is undetermined, chi-squared, readings that do not fit.

    Raises:
        InvalidValue: for a pitch or tilt out of range, a reading that no cant explains, or sds too far apart.

    Source:
        docs/method.md, section 11.
    """
    for reading in readings:
        _check(reading)
    try:
        with np.errstate(all="ignore"):
            estimate, normal, chi2 = _descend(readings, yaw_rad, yaw_sd_rad)
            covariance: Array = np.asarray(np.linalg.inv(normal), dtype=np.float64)
    except np.linalg.LinAlgError as error:
        raise InvalidValue("sd_deg", _UNSOLVABLE) from error
    if not (np.isfinite(covariance).all() and (np.diag(covariance) >= 0.0).all() and math.isfinite(chi2)):
        raise InvalidValue("sd_deg", _UNSOLVABLE)
    axes = {n: Axis(float(estimate[i]), math.sqrt(float(covariance[i, i]))) for i, n in enumerate(AXES)}
    freedom = max(len(readings) - 2 * any(not r.rail for r in readings) - any(r.rail for r in readings), 0)
    solved = Solved(axes, covariance, chi2, freedom, _chance(chi2, freedom))
    slips = _slips(readings, yaw_rad, yaw_sd_rad, solved)
    return replace(solved, slips=slips, best_next_pitch_rad=_best_pitch(solved, readings))


def _check(reading: AxisReading) -> None:
    degrees = math.degrees(reading.pitch_rad)
    if not PITCH_RAD.holds(reading.pitch_rad):
        raise InvalidValue("pitch_deg", f"{degrees:.0f} degrees is too steep: at most 80 either way")
    for name, value in (("sight_deg", reading.vial_rad), ("reference_deg", reading.reference_rad)):
        if not TILT_RAD.holds(value):
            raise InvalidValue(name, "must lie between -30 and 30 degrees: no vial shows more")
    if not reading.sd_rad > 0.0:
        raise InvalidValue("sd_deg", "must be more than nought")


def _expected(reading: AxisReading, estimate: Array) -> float:
    """What the vial would show, given the axes and the cant that the reference tells."""
    first, second, third, yaw = (float(v) for v in estimate)
    cant = cant_of(reading.reference_rad, yaw, reading.pitch_rad)
    if reading.rail:
        return rail_tilt(first, yaw, cant, reading.pitch_rad)
    return sight_tilt(second, third, cant, reading.pitch_rad)


def _descend(readings: Sequence[AxisReading], yaw: float, yaw_sd: float) -> tuple[Array, Array, float]:
    """Gauss-Newton: the estimate, the normal matrix at it, and chi-squared of readings and priors."""
    centre = np.array([0.0, 0.0, 0.0, yaw])
    widths = np.array([PRIOR_SD_RAD] * 3 + [max(yaw_sd, 1e-9)])
    estimate = centre.copy()
    for _ in range(_ROUNDS):
        residual, jacobian = _linearised(readings, estimate, centre, widths)
        normal = jacobian.T @ jacobian
        step = np.linalg.solve(normal, jacobian.T @ residual)
        estimate = estimate + step
        if float(np.abs(step).max()) < 1e-10:
            break
    residual, jacobian = _linearised(readings, estimate, centre, widths)
    return estimate, jacobian.T @ jacobian, float(residual @ residual)


def _linearised(readings: Sequence[AxisReading], estimate: Array, centre: Array, widths: Array) -> tuple[Array, Array]:
    seen = np.array([r.vial_rad for r in readings])
    sds = np.array([r.sd_rad for r in readings])
    expected = np.array([_expected(r, estimate) for r in readings])
    slopes = [np.array([_expected(r, estimate + _NUDGE * row) for r in readings]) for row in np.eye(4)]
    rows = np.column_stack([(s - expected) / _NUDGE for s in slopes]) if readings else np.zeros((0, 4))
    residual = np.concatenate([(seen - expected) / sds, (centre - estimate) / widths])
    return residual, np.vstack([rows / sds[:, None], np.diag(1.0 / widths)])


def _chance(chi2: float, freedom: int) -> float | None:
    from scipy.special import gammaincc

    return float(gammaincc(freedom / 2.0, chi2 / 2.0)) if freedom else None


_FLIPS = {
    "sight_sign": lambda r: replace(r, vial_rad=-r.vial_rad),
    "reference_sign": lambda r: replace(r, reference_rad=-r.reference_rad),
    "both_signs": lambda r: replace(r, vial_rad=-r.vial_rad, reference_rad=-r.reference_rad),
    "pitch_sign": lambda r: replace(r, pitch_rad=-r.pitch_rad),
}


def _slips(readings: Sequence[AxisReading], yaw: float, yaw_sd: float, solved: Solved) -> tuple[Slip, ...]:
    """The readings that look wrong: a flipped sign that mends everything comes first, then the one
    whose leaving out does; nothing while the readings agree."""
    if solved.p_value is None or solved.p_value >= CONTRADICTION_P:
        return ()
    tried: list[tuple[float, int, Slip]] = []
    for index, reading in enumerate(readings):
        for rank, (name, flip) in enumerate(_FLIPS.items()):
            other = [*readings[:index], flip(reading), *readings[index + 1 :]]
            tried.append((_chi2_of(other, yaw, yaw_sd), rank, Slip(index, name)))
    chi2, _, flipped = min(tried, key=lambda t: (t[0], t[1]))
    if (_chance(chi2, solved.degrees_of_freedom) or 0.0) > 0.05:
        return (flipped,)
    left_out = [(_chi2_of([*readings[:i], *readings[i + 1 :]], yaw, yaw_sd), i) for i in range(len(readings))]
    best, index = min(left_out)
    return (Slip(index, "wrong"),) if solved.chi2 - best > SUSPECT_SDS**2 else ()


def _chi2_of(readings: Sequence[AxisReading], yaw: float, yaw_sd: float) -> float:
    try:
        return _descend(readings, yaw, yaw_sd)[2]
    except (InvalidValue, np.linalg.LinAlgError):
        return math.inf


def _best_pitch(solved: Solved, readings: Sequence[AxisReading]) -> float:
    """The pitch at which one more reading of the sight's vial shrinks most the widest of second and
    third axis; of equal ones the one farthest from the mean of what was read."""
    sd = min((r.sd_rad for r in readings if not r.rail), default=math.radians(0.1))
    mean = float(np.mean([r.pitch_rad for r in readings])) if readings else 0.0
    wanted = 2 if solved.axes["third_axis"].sd_rad >= solved.axes["second_axis"].sd_rad else 1
    estimate = np.array([solved.axes[n].value_rad for n in AXES] + [0.0])
    best, best_left = USUAL_PITCH_RAD, math.inf
    for degrees in range(-45, 46, 5):
        pitch = math.radians(degrees)
        row = _gradient(AxisReading(pitch, 0.0, 0.0, sd), estimate)
        angle_per_turn = solved.covariance @ row
        left = float(solved.covariance[wanted, wanted] - angle_per_turn[wanted] ** 2 / (sd**2 + row @ angle_per_turn))
        alike = best_left < math.inf and abs(left / best_left - 1.0) < 1e-6
        if left < best_left * (1.0 - 1e-6) or (alike and abs(pitch - mean) > abs(best - mean)):
            best, best_left = pitch, left
    return best


def _gradient(reading: AxisReading, estimate: Array) -> Array:
    base = _expected(reading, estimate)
    return np.array([(_expected(reading, estimate + _NUDGE * row) - base) / _NUDGE for row in np.eye(4)])
