"""The whole chain in one linear solve: every look, every method with what it does not see, every seat.

Unknown are first, second and third axis in each span between turns; the parts of the third axis that methods do not
see; roll and yaw of the reference in each seating; the rail level's own error where no reversal showed it; the
sight's roll in a jig; windage on a slope. A look of the sight's vial beside a reference says

    vial - reference = (a3 + sum b - e) sin p - (a2 - r) cos p,

b the parts that the method does not see, e and r yaw and roll of the reference on its seat; a line of sight instead
of a reference has neither. A bubble at the end of its glass stays outside.

Source: derived in docs/method.md, section 12.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from cross_staff.core.level.log import AXES, History, LevelReading, Look
from cross_staff.core.level.methods import ARROWS, BY_KEY, JIG, ON_RAIL, PART_SD_RAD, RAIL, WANDER
from cross_staff.core.level.units import COARSE_LINE_RAD, LOOK_DIV, beside, kind_beside, unit_for
from cross_staff.core.rig.card import LevelSetup, Vial

AXIS_SD_RAD = math.radians(5.0)
CARRIED_SD_RAD = math.radians(0.10)  # what turning one axis does to another
ROLL_SD_RAD = math.radians(0.7)  # of a reference on a seat where it was not matched
UNPROVED_SD_RAD = math.radians(0.5)  # of a level that was not reversed
REVERSED_SD_DIV = LOOK_DIV / math.sqrt(2.0)  # how exactly a reversal shows a vial's own error
JIG_ROLL_SD_RAD = math.radians(2.0)  # of the sight in its jig against the sight on the bow
BEND_SD_RAD = math.radians(0.3)  # of a rail between its top and its bottom
WANDER_SD_M = 0.0007  # of a housing's wander from a plumb line, both ends of its travel
WINDAGE_SD_RAD = 0.02
SPREAD_RAD = 0.0015  # of an archer whose groups nobody stated
_PROVED_SD_RAD = 1e-9

Array = NDArray[np.float64]
Weights = Mapping[str, float]


@dataclass(frozen=True)
class SlopeShot:
    """What a group on a slope is worth, linear in the axes: metres to the right for a radian of first, second and
    third axis and of windage, and the sd of its mean [m]."""

    first_m: float
    second_m: float
    third_m: float
    windage_m: float
    sd_m: float


@dataclass(frozen=True)
class Amount:
    """A value and its sd [rad]."""

    value: float
    sd: float


@dataclass(frozen=True)
class Chain:
    """The solved chain: names of the unknowns, their means and information; chi-squared of the looks with its
    degrees of freedom, and the standardised residual of each look that is not at an end of its glass."""

    names: tuple[str, ...]
    mean: Array
    information: Array
    covariance: Array
    chi2: float
    degrees_of_freedom: int
    residuals: tuple[float, ...]
    last: int

    def amount(self, weights: Weights) -> Amount:
        """A sum of unknowns, everything counted."""
        row = self._row(weights)
        return Amount(float(row @ self.mean), math.sqrt(max(float(row @ self.covariance @ row), 0.0)))

    def seen(self, weights: Weights, in_jig: bool = False) -> Amount:
        """The same as the tool has it: as if the parts that methods do not see, and the seats' yaw, were known; of what
        is read level in a jig (`in_jig`), also how the sight sits in it."""
        row = self._row(weights)
        unseen = ("part:", "yaw:", "jig") if in_jig else ("part:", "yaw:")
        left = [i for i, name in enumerate(self.names) if not name.startswith(unseen)]
        inside = self.information[np.ix_(left, left)]
        solved = np.linalg.solve(inside, row[left])
        return Amount(float(row @ self.mean), math.sqrt(max(float(row[left] @ solved), 0.0)))

    def _row(self, weights: Weights) -> Array:
        return np.array([weights.get(name, 0.0) for name in self.names])

    @property
    def p_value(self) -> float | None:
        """The chance of a chi-squared as large; None without any to spare."""
        from scipy.special import gammaincc

        freedom = self.degrees_of_freedom
        return float(gammaincc(freedom / 2.0, self.chi2 / 2.0)) if freedom > 0 else None


def state_of(axis: str, span: int) -> str:
    """The name of an axis in a span."""
    return f"{axis}@{span}"


@dataclass(frozen=True)
class _Row:
    """What a look says: a sum of unknowns, its value [rad, or m], the sd of it."""

    weights: dict[str, float]
    value: float
    sd: float


def solve(
    setup: LevelSetup,
    log: History,
    shots: Mapping[int, SlopeShot],
    shimmed: frozenset[str] = frozenset(),
    sharp: tuple[str, int] | None = None,
) -> Chain:
    """All that was read, at once.

    Args:
        setup: vials [rad a line], their own errors [lines], where the reference sits.
        log: looks and turns in order.
        shots: what the groups on slopes are worth, by the id of their entry.
        shimmed: axes that have no adjustment: moving them moves the whole sight.
        sharp: axis and span whose looks are taken as if they were without noise: what more of them cannot take away.

    Returns:
        means and covariance of every unknown [rad].

    Source:
        derived in docs/method.md, section 12.
    """
    rows = [row for look in log.looks if (row := _row(log, look, shots)) is not None]
    looked = [look for look in log.looks if not look.entry.vial_end]
    if sharp is not None:
        rows = [
            replace(row, sd=row.sd / 100.0) if (look.entry.axis, look.span) == sharp else row
            for row, look in zip(rows, looked)
        ]
    priors = _priors(setup, log, rows, shimmed)
    names = tuple(dict.fromkeys(name for row in (*priors, *rows) for name in row.weights))
    place = {name: i for i, name in enumerate(names)}
    every = [*priors, *rows]
    matrix = np.zeros((len(every), len(names)))
    for i, row in enumerate(every):
        for name, weight in row.weights.items():
            matrix[i, place[name]] += weight / row.sd
    seen = np.array([row.value / row.sd for row in every])
    information = matrix.T @ matrix
    covariance = np.asarray(np.linalg.inv(information), dtype=np.float64)
    mean = covariance @ (matrix.T @ seen)
    off = seen - matrix @ mean
    free = len({(k.entry.axis, k.span, k.entry.method, k.seating) for k in looked})
    own = off[len(priors) :]
    residuals = tuple(float(v) for v in own)
    return Chain(names, mean, information, covariance, float(own @ own), len(rows) - free, residuals, log.last)


def _priors(setup: LevelSetup, log: History, rows: Sequence[_Row], shimmed: frozenset[str]) -> list[_Row]:
    """What is known before anything is read: axes as they come and as turning carries them, parts, seats."""
    priors = [_Row({state_of(axis, 0): 1.0}, 0.0, AXIS_SD_RAD) for axis in AXES]
    for span, turned in enumerate(log.turned[1:], start=1):
        anew = set(AXES) if shimmed & set(turned) else set(turned)
        for axis in AXES:
            before = {} if axis in anew else {state_of(axis, span - 1): -1.0}
            sd = AXIS_SD_RAD if axis in anew else CARRIED_SD_RAD
            priors.append(_Row({state_of(axis, span): 1.0} | before, 0.0, sd))
    used = {name for row in rows for name in row.weights}
    for part, sd in PART_SD_RAD.items():
        priors.append(_Row({f"part:{part}": 1.0}, 0.0, sd))
    for number, seating in enumerate(log.seatings):
        yaw, yaw_sd = setup.yaw_of(seating.seat)
        priors.append(_Row({f"yaw:{number}": 1.0}, yaw, max(yaw_sd, _PROVED_SD_RAD)))
        priors.append(_Row({f"roll:{number}": 1.0}, 0.0, ROLL_SD_RAD))
        priors += [_matched(own, number, m.string_div, m.reference_div) for m, own in seating.matches]
    own = {"rail": _own_sd(setup.rail), "string": _own_sd(setup.string), "jig": JIG_ROLL_SD_RAD, "bend": BEND_SD_RAD}
    matched = any(seating.matches for seating in log.seatings)
    priors += [_Row({n: 1.0}, 0.0, sd) for n, sd in own.items() if n in used or (n == "string" and matched)]
    priors += [_Row({name: 1.0}, 0.0, WINDAGE_SD_RAD) for name in sorted(used) if name.startswith("windage")]
    return priors


def _own_sd(vial: Vial) -> float:
    """The sd of a level's own error [rad]: what its reversal left open, or all of it."""
    if vial.roll_error_div is None:
        return UNPROVED_SD_RAD
    return REVERSED_SD_DIV * (COARSE_LINE_RAD if vial.per_division_rad is None else vial.per_division_rad)


def _matched(setup: LevelSetup, number: int, string_div: float, reference_div: float) -> _Row:
    """A reference rolled clockwise by r reads r less than the string level beside it."""
    unit = unit_for(setup, "second", "to_string")
    per_string = setup.string.per_division_rad or unit.reference
    string = per_string * (string_div - (setup.string.roll_error_div or 0.0))
    reference = unit.reference * (reference_div - (setup.reference.roll_error_div or 0.0))
    guessed = 0.5 * abs(string) if setup.string.per_division_rad is None else 0.0
    sd = math.hypot(LOOK_DIV * per_string, LOOK_DIV * unit.reference, guessed)
    return _Row({f"roll:{number}": 1.0, "string": 1.0}, string - reference, sd)


def tilted_apart(look: Look) -> tuple[float, float]:
    """What the vials of a look show apart, what a reversal showed taken out.

    Args:
        look: both vials [divisions], with what they were read with [rad a division].

    Returns:
        the difference of their tilts and the sd of it [rad].

    Source:
        docs/method.md, section 12.
    """
    entry, setup = look.entry, look.setup
    unit = unit_for(setup, entry.axis, entry.method)
    own = (setup.rail.roll_error_div or 0.0) if entry.axis == "first" else 0.0
    vial = beside(setup, entry.axis, entry.method)
    reference = 0.0 if vial is None else entry.reference_div - (vial.roll_error_div or 0.0)
    return unit.vial * (entry.vial_div - own) - unit.reference * reference, unit.look_sd(entry.pitch_rad)


def bent(place: str) -> float:
    """The part of the rail's bend that a level sees on it: half of it near its top, less near its bottom.

    Args:
        place: where on the rail the level lay.

    Returns:
        a part [-0.5 to 0.5]; nought where it was not said.

    Source:
        docs/method.md, section 12.
    """
    return {"top": 0.5, "bottom": -0.5}.get(place, 0.0)


def leans(entry: LevelReading) -> tuple[float, float]:
    """How far the rail leans by a quick look at its housing.

    Args:
        entry: with the wander to the right [m] over so much travel down [m].

    Returns:
        clockwise positive, and the sd of it [rad].

    Source:
        right triangle; docs/method.md, section 12.
    """
    travel = entry.distance_m or 1.0
    return -math.atan((entry.right_m or 0.0) / travel), WANDER_SD_M / travel


def _row(log: History, look: Look, shots: Mapping[int, SlopeShot]) -> _Row | None:
    """What a look says; None of a bubble at the end of its glass."""
    entry, span = look.entry, look.span
    method, names = BY_KEY[entry.method], [state_of(axis, span) for axis in AXES]
    if entry.vial_end:
        return None
    if method.reads == ARROWS:
        return _shot_row(look, names, shots.get(entry.reading_id))
    if method.reads == WANDER:
        return _Row({names[0]: 1.0, "string": 1.0}, *leans(entry))
    sine, cosine = math.sin(entry.pitch_rad), math.cos(entry.pitch_rad)
    apart, sd = tilted_apart(look)
    sd = math.hypot(sd, _guessed(log, look))
    weights = {names[0]: -cosine} if entry.axis == "first" else {names[2]: sine, names[1]: -cosine}
    if entry.axis == "first":
        weights["rail"] = 1.0
        if entry.place in ON_RAIL:
            weights["bend"] = -bent(entry.place) * cosine
    if look.seating is not None:
        weights |= {f"yaw:{look.seating}": -sine, f"roll:{look.seating}": cosine}
    if method.reads == RAIL and entry.axis == "second":
        weights |= {names[0]: cosine, "rail": -1.0}
    if method.reads == JIG:
        weights["jig"] = -cosine
    weights |= {f"part:{part}": sine for part in method.parts}
    return _Row(weights, apart, sd)


def _guessed(log: History, look: Look) -> float:
    """What a reference off where it stands when the bow is plumb leaves open while its lines are only guessed [rad]."""
    unit = unit_for(look.setup, look.entry.axis, look.entry.method)
    kind = kind_beside(look.entry.axis, look.entry.method)
    if unit.calibrated or not kind:
        return 0.0
    matched = log.seatings[look.seating].matches if look.seating is not None else ()
    rests = matched[-1][0].reference_div if matched else getattr(look.setup, kind).roll_error_div or 0.0
    return 0.5 * unit.reference * abs(look.entry.reference_div - rests)


def _shot_row(look: Look, names: Sequence[str], worth: SlopeShot | None) -> _Row:
    """A group's mean; one whose flight nobody can reckon yet says nothing."""
    if worth is None:
        return _Row({names[2]: 1.0}, 0.0, 1e3)
    weights = {names[0]: worth.first_m, names[1]: worth.second_m, names[2]: worth.third_m}
    weights |= {f"part:{part}": worth.third_m for part in BY_KEY[look.entry.method].parts}
    return _Row(weights | {f"windage:{look.span}": worth.windage_m}, look.entry.right_m or 0.0, worth.sd_m)
