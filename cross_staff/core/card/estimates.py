"""What an estimate on the card costs on the target, before a second mark tells what it was put in place of."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import DEFAULT_ACCURACY
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solved

ESTIMATES = ("arrow_mass", "shaft_diameter", "eye_to_sight", "peep")
SPEED = "speed"
USUAL_HOME_M, USUAL_FARTHEST_M = 18.0, 60.0
_HOME_SD_MM = 0.05


@dataclass(frozen=True)
class Cost:
    """How much farther off an arrow may come in, 19 times in 20 [m], at a distance [m as ranged]."""

    off_m: float
    at_m: float


def lacking(card: RigCard, key: str) -> bool:
    """Whether a figure that can be estimated is not known.

    Args:
        card: of the rig.
        key: one of ESTIMATES, or SPEED.

    Returns:
        whether it is neither measured nor estimated.

    Source:
        definition.
    """
    wanted = {
        "arrow_mass": card.build.mass_kg(),
        "shaft_diameter": card.build.shaft_diameter_m,
        "eye_to_sight": card.eye_to_sight_m,
        "peep": card.peep.height(),
        SPEED: card.speed(),
    }
    return wanted[key] is None and not (key == SPEED and card.build.speed_unmeasured)


def cost(card: RigCard, key: str) -> Cost | None:
    """What one estimate adds at the farthest distance, with the home mark shot and nothing else: everything else taken
    as measured, and where it is unknown as usual.

    Args:
        card: of the rig; what it lacks is put in place.
        key: one of ESTIMATES, or SPEED for one that is not measured.

    Returns:
        how far off [m], at the distance [m]; None where such a bow does not reach it.

    Source:
        variance that the estimate adds to the tape's; docs/method.md, section 6.
    """
    full = card
    for each in ESTIMATES:
        if lacking(card, each) or each == key:
            full = full.with_estimate(each)
    sure = _taken_as_measured(full)
    pair = _speeds(sure) if key == SPEED else (_with_speed(_only_estimated(sure, key)), _with_speed(sure))
    home, far = (
        card.distance_from_sight(d)
        for d in (card.goals.home_m or USUAL_HOME_M, card.goals.farthest_m or USUAL_FARTHEST_M)
    )
    widths = [None if priors is None else _sd_m(priors, home, far) for priors in pair]
    if widths[0] is None or widths[1] is None:
        return None
    return Cost(1.96 * math.sqrt(max(widths[0] ** 2 - widths[1] ** 2, 0.0)), card.ranged_distance(far))


def _taken_as_measured(card: RigCard) -> RigCard:
    build = replace(card.build, mass_estimated=False, diameter_estimated=False)
    sure = replace(card, eye_to_sight_estimated=False, peep=replace(card.peep, estimated=False))
    return sure.with_build(build)


def _only_estimated(card: RigCard, key: str) -> RigCard:
    if key == "eye_to_sight":
        return replace(card, eye_to_sight_estimated=True)
    if key == "peep":
        return replace(card, peep=replace(card.peep, estimated=True))
    mass = key == "arrow_mass"
    return card.with_build(replace(card.build, mass_estimated=mass, diameter_estimated=not mass))


def _with_speed(card: RigCard) -> Priors | None:
    """What is known before any mark; a speed that nobody spoke of yet is taken as measured."""
    if card.speed() is not None:
        return card.priors()
    return _speeds(card)[1]


def _speeds(card: RigCard) -> tuple[Priors | None, Priors | None]:
    """What is known before any mark, by a speed that is not measured and by one that is."""
    told = card.with_build(replace(card.build, sessions=(), speed_unmeasured=True)).priors()
    if told is None:
        return None, None
    speed = told.speed_mps.value
    return told, replace(told, speed_mps=Known(speed, DEFAULT_ACCURACY * speed))


@lru_cache(maxsize=512)
def _sd_m(priors: Priors, home_m: float, far_m: float) -> float | None:
    """One sd on the target at the far distance [m], with the home mark alone."""
    try:
        fit = solved(priors, home_m, (Observation(home_m, 0.0, _HOME_SD_MM),), (home_m,))
    except InvalidValue:
        return None
    return fit.tape([far_m], 0)[0].sd_on_target_m
