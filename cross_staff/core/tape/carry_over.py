"""Another arrow or draw weight: what the old tape becomes, how surely, and which shots confirm it.

The old fit is carried over: speed by the energy that the bow stores, drag by mass and diameter, geometry as
it was; what the carrying does not know widens the bands (docs/method.md, section 15).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cross_staff.core.ballistics.flight import Array, Trajectories, arrive
from cross_staff.core.ballistics.reach import FLIGHT_STEPS
from cross_staff.core.ballistics.sightline import pin_height, pin_heights
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import SpeedAtSight
from cross_staff.core.rig.speed import RESCALED_SD, SAME_DRAW_WEIGHT_N, measured, virtual_mass
from cross_staff.core.tape.fit import Fit, TapeRow
from cross_staff.core.tape.forecast import NextShot, PlannedGroup, after, next_shot, with_speed
from cross_staff.core.tape.observation import OtherArrow

SAME_SHAFT_DRAG_SD, OTHER_SHAFT_DRAG_SD = 0.03, 0.12  # of ln k, beyond mass and diameter
REMEASURED_SD_M = 0.002  # of a length that was measured again
LEAST_SPEED_SD_LN = 0.003  # of the speeds of two arrows, however alike
LAUNCH_SD_MRAD = 1.0  # how much higher or lower another arrow leaves a bow, beside what speed and drag do


@dataclass(frozen=True)
class Changed:
    """The tape after a change: the fit carried over; speeds then and now [m/s]; the part by which drag
    changes; the home mark's shift [mm on the tape]; whether the new build's own chronograph speaks too."""

    fit: Fit
    speed_then_mps: float
    speed_now_mps: float
    drag_factor: float
    home_shift_mm: float
    chronographed: bool


def carried_over(old: RigCard, new: RigCard, fit: Fit) -> Changed:
    """The fit of the old card's arrow as that of the new card's.

    v' = v sqrt((m + mv)/(m' + mv)) sqrt(F'/F); k' = k (D'^2/m')/(D^2/m); L and Hp move as the cards do; the
    scale stays where it is on the sight, so m0' = m0 + r (h_ref - h'_ref).

    Raises: InvalidValue where a mass or diameter is missing; OutOfReach for home.
    """
    factor, sd_ln = _speed_factor(old, new)
    drag = _drag_factor(old, new)
    estimate, count = fit.estimate.copy(), len(fit.estimate)
    spread = np.zeros(count)
    estimate[0] *= factor
    spread[0] = sd_ln * estimate[0]
    estimate[1] += math.log(drag)
    same = old.build.shaft_diameter_m == new.build.shaft_diameter_m
    spread[1] = 0.0 if abs(drag - 1.0) < 1e-9 else SAME_SHAFT_DRAG_SD if same else OTHER_SHAFT_DRAG_SD
    for place, (was, now) in {2: _lengths(old, new)[0], 3: _lengths(old, new)[1]}.items():
        estimate[place] += now - was
        spread[place] = REMEASURED_SD_M if now != was else 0.0
    jacobian = np.eye(count)
    jacobian[0, 0] = factor
    moved = replace(fit, estimate=estimate)
    scale = 1000.0 * fit.tape_ratio
    then, now = (pin_height(f, fit.reference_distance_m) for f in (fit.figures, moved.figures))
    shift = scale * (then - now)
    slope_then, slope_now = _reference_slopes(fit), _reference_slopes(moved)
    noise = np.diag(spread**2)
    carry = np.eye(count)  # what is not known of the change moves the zeros too
    for zero in fit.zeros.values():
        jacobian[zero, :4] = scale * (slope_then - slope_now * np.diag(jacobian)[:4])
        jacobian[zero, 4] = shift
        carry[zero, :4] = -scale * slope_now
        estimate[zero] += shift
    covariance = jacobian @ fit.covariance @ jacobian.T + carry @ noise @ carry.T
    moved = replace(fit, estimate=estimate, covariance=covariance)
    own = _own_speed(old, new)
    if own is not None:
        moved = with_speed(moved, own.speed_mps, own.sd_mps)
    return Changed(moved, fit.figures.speed_mps, moved.figures.speed_mps, drag, shift, own is not None)


def _own_speed(old: RigCard, new: RigCard) -> SpeedAtSight | None:
    """What the chronograph said of the arrow and the draw weight of now; None where it only knows the old."""
    same_weight = new.bow.draw_weight_n == old.bow.draw_weight_n
    if same_weight and new.build.flies_as() == old.build.flies_as():
        return None
    weight = new.bow.draw_weight_n or 0.0
    sessions = tuple(
        session
        for session in new.build.sessions
        if same_weight or abs((session.draw_weight_n or 0.0) - weight) <= SAME_DRAW_WEIGHT_N
    )
    own = replace(new.build, sessions=sessions)
    return measured((own,), 0, new.bow.draw_weight_n)


def _speed_factor(old: RigCard, new: RigCard) -> tuple[float, float]:
    """Speed now over speed then, and the sd of its logarithm."""
    was, now = old.build.mass_kg(), new.build.mass_kg()
    if was is None or now is None:
        raise InvalidValue("mass", "is not known of one of the two arrows")
    virtual, sd_ln = virtual_mass(new.builds, new.bow.draw_weight_n)
    factor = math.sqrt((was + virtual) / (now + virtual))
    sensitivity = 0.5 * virtual * abs(1.0 / (was + virtual) - 1.0 / (now + virtual))
    sd = sensitivity * sd_ln
    before, after_change = old.bow.draw_weight_n, new.bow.draw_weight_n
    if before and after_change and before != after_change:
        factor *= math.sqrt(after_change / before)
        sd = math.hypot(sd, RESCALED_SD)
    return factor, sd


def other_arrow(shot: RigCard, now: RigCard) -> OtherArrow:
    """An arrow that marks were shot with, beside the one on the card: the bow gives both the same energy.

    Args:
        shot: a card with the arrow that was shot.
        now: the card as it is.

    Returns:
        ln of speed and drag of that arrow over this one's with their sds, and how surely both leave alike [mrad].

    Raises:
        InvalidValue: where a mass or a diameter is not known.

    Source:
        docs/method.md, section 15.
    """
    factor, sd_ln = _speed_factor(shot, now)
    same = shot.build.shaft_diameter_m == now.build.shaft_diameter_m
    return OtherArrow(
        -math.log(factor),
        math.hypot(sd_ln, LEAST_SPEED_SD_LN),
        -math.log(_drag_factor(shot, now)),
        SAME_SHAFT_DRAG_SD if same else OTHER_SHAFT_DRAG_SD,
        LAUNCH_SD_MRAD,
    )


def _drag_factor(old: RigCard, new: RigCard) -> float:
    was, now = old.build.drag_per_m(), new.build.drag_per_m()
    if was is None or now is None:
        raise InvalidValue("drag", "mass or shaft diameter is not known of one of the two arrows")
    return now / was


def _lengths(old: RigCard, new: RigCard) -> tuple[tuple[float, float], tuple[float, float]]:
    """Eye-to-sight and peep height, then and now [m]; equal where one is not known."""
    lever = (old.eye_to_sight_m or 0.0, new.eye_to_sight_m or old.eye_to_sight_m or 0.0)
    heights = old.peep.height(), new.peep.height()
    peep = (0.0, 0.0) if None in heights else tuple(h.height_m for h in heights if h is not None)
    return lever, (peep[0], peep[1])


def _reference_slopes(fit: Fit) -> Array:
    """Derivatives of the reference's pin height by v0, ln k, L, Hp."""
    figures, at = fit.figures, fit.reference_distance_m

    def height(**changes: float) -> float:
        return pin_height(replace(figures, **changes), at)

    here = height()
    nudges = {"speed_mps": 1e-3 * figures.speed_mps, "eye_to_sight_m": 1e-4, "peep_height_m": 1e-4}
    slopes = {name: (height(**{name: getattr(figures, name) + step}) - here) / step for name, step in nudges.items()}
    by_drag = (height(drag_per_m=figures.drag_per_m * math.exp(1e-3)) - here) / 1e-3
    return np.array([slopes["speed_mps"], by_drag, slopes["eye_to_sight_m"], slopes["peep_height_m"]])


def confirming(
    fit: Fit, home_m: float, candidates_m: Sequence[float], farthest_m: float, shot: PlannedGroup, pin: int = 0
) -> tuple[NextShot, ...]:
    """The two distances that confirm a tape: home, where a shift shows by itself, then the one that most
    narrows the farthest.

    Args:
        fit: the fit so far.
        home_m: home distance [m] from the sight plane.
        candidates_m: distances that can be shot [m] from the sight plane, shape (n,).
        farthest_m: the farthest distance wanted [m] from the sight plane.
        shot: the group that is planned: arrows, spread [mrad], reading sd [mm].
        pin: which pin, 0 the top one.

    Returns:
        the two distances [m], each with what it makes of the farthest.

    Source:
        docs/method.md, section 15.
    """
    home = next_shot(fit, [home_m], farthest_m, shot, pin)
    if home is None:
        return ()
    far = next_shot(after(fit, home_m, shot, pin), candidates_m, farthest_m, shot, pin)
    return (home,) if far is None else (home, far)


@dataclass(frozen=True)
class ChangedRow:
    """A distance on both tapes, counted from the old home mark [mm on the tape]; the sd of the new mark on
    the target, and how high the new arrows come in with the old mark [m]. None out of reach."""

    distance_m: float
    old_mm: float | None
    new_mm: float | None
    sd_m: float | None
    up_m: float | None


def _shot_by_the_old(new: Fit, before: Sequence[TapeRow], now: Sequence[TapeRow]) -> list[float | None]:
    """How high the new arrows come in with the old marks, by flight [m]; None out of reach."""
    shots = Trajectories.of(new.figures, [row.distance_m for row in now])
    solved = pin_heights(shots)
    lower = [0.0 if a.mark_mm is None or b.mark_mm is None else a.mark_mm - b.mark_mm for a, b in zip(before, now)]
    flown = arrive(shots, solved.height_m - np.array(lower) / new.tape_ratio / 1000.0, FLIGHT_STEPS)
    known = zip(before, now, flown.height_m, solved.reached & flown.sound)
    return [float(up) if ok and a.mark_mm is not None and b.mark_mm is not None else None for a, b, up, ok in known]


def overlay(old: Fit, new: Fit, distances_m: Sequence[float], pin: int = 0) -> tuple[ChangedRow, ...]:
    """Old and new tape over one another.

    Args:
        old: fit of the tape that is on the sight.
        new: fit of what flies now.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.
        pin: which pin, 0 the top one.

    Returns:
        n rows: both marks [mm from home], the sd on the target [m] and what the old one would cost [m].

    Source:
        docs/method.md, section 15.
    """
    home = old.mark_zero_mm.value
    rows = []
    before, now = old.tape(distances_m, pin), new.tape(distances_m, pin)
    for d, a, b, up in zip(distances_m, before, now, _shot_by_the_old(new, before, now)):
        marks = [None if row.mark_mm is None else row.mark_mm - home for row in (a, b)]
        rows.append(ChangedRow(d, marks[0], marks[1], b.sd_on_target_m, up))
    return tuple(rows)
