"""Where the pins stand, by what was shot and set; beside core/tape/stack.py, which says where they belong."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.ballistics.sightline import far_distances, pin_height
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.reach import PinSetting
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.pointers import PointerLine, pointer_lines
from cross_staff.core.tape.stack import Stack
from cross_staff.core.tape.station import Evaluation, height_at, ratio_known

STANDS_WITHIN_MM = 3.0  # a place less sure than this is not known


@dataclass(frozen=True)
class PinStands:
    """A pin as it stands with the sight at home: how far below the place of a top pin that is right for home [mm,
    housing], and the sd; what it is right for there [m as ranged], None above the turnover. All None where nobody
    shot it or set it."""

    pin: int
    below_mm: float | None = None
    sd_mm: float | None = None
    worth_m: float | None = None


def pins_stand(card: RigCard, evaluation: Evaluation, estimate: AimEstimate | None) -> tuple[PinStands, ...]:
    """Where every pin stands.

    A pin that was shot at a reading of the dial stands where the fit has it; one of a sight without a dial, or one that
    was only set to its place, where the arrows and movements at the range have it.

    Args:
        card: the rig's card.
        evaluation: what the marks come to, with the pins.
        estimate: what the range comes to; None while nothing was reckoned there.

    Returns:
        a row for each pin, the top one first; empty without a fit.

    Source:
        docs/method.md, sections 5 and 14.
    """
    fit = evaluation.fit
    if fit is None or card.goals.home_m is None:
        return ()
    home = pin_height(fit.figures, card.distance_from_sight(card.goals.home_m))
    stands = [_stands(card, evaluation, fit, estimate, pin, home) for pin in range(max(len(evaluation.pins.at_m), 1))]
    known = [(each.pin, home - each.below_mm / 1000.0) for each in stands if each.below_mm is not None]
    worth = dict(zip((pin for pin, _ in known), far_distances(fit.figures, [h for _, h in known]) if known else []))
    return tuple(
        PinStands(each.pin, each.below_mm, each.sd_mm, None if d is None else card.ranged_distance(d))
        for each in stands
        for d in [worth.get(each.pin)]
    )


def _stands(
    card: RigCard, evaluation: Evaluation, fit: Fit, estimate: AimEstimate | None, pin: int, home_m: float
) -> PinStands:
    if card.sight_kind.has_dial and pin in fit.shot_pins:
        height = height_at(fit, pin, evaluation.home_mark_mm)
        if math.isfinite(height):
            return PinStands(pin, 1000.0 * (home_m - height), _apart_sd_mm(fit, pin))
    if card.sight_kind.has_dial and pin == 0 and fit.observations:
        return PinStands(0, 0.0, 0.0)
    if estimate is None or estimate.up is None or pin >= len(estimate.distances) or (pin == 0 and estimate.by_wheel):
        return PinStands(pin)
    to_go, sd = estimate.up.of(estimate.weights(pin))
    if sd >= STANDS_WITHIN_MM:
        return PinStands(pin)
    return PinStands(pin, estimate.below_mm(pin) + to_go, sd)


def _apart_sd_mm(fit: Fit, pin: int) -> float:
    """The sd of how far a pin stands below the top one [mm of the housing]."""
    at = [fit.reference_distance_m]
    apart = fit.sensitivities(at, pin)[1][0] - fit.sensitivities(at, 0)[1][0]
    return float(math.sqrt(max(float(apart @ fit.covariance @ apart), 0.0)) / fit.tape_ratio)


def pin_setting(card: RigCard, evaluation: Evaluation, stands: tuple[PinStands, ...]) -> PinSetting:
    """The pins as they are used, for the reach: where they stand, else where they belong; the ratio as it is known.

    Args:
        card: the rig's card.
        evaluation: what the marks come to, with the pins.
        stands: where each pin stands.

    Returns:
        the setting.

    Source:
        a record.
    """
    return PinSetting(evaluation.pins, tuple(each.below_mm for each in stands), ratio_known(card, evaluation))


def pointers_at_home(
    card: RigCard, evaluation: Evaluation, heights_m: tuple[float, ...], unit_m: float
) -> tuple[PointerLine, ...]:
    """The line for every pointer, the sight at home: what its pin is right for there, and how surely.

    Args:
        card: the rig's card.
        evaluation: what the marks come to, with the pins.
        heights_m: of every pin above the arrow line at home [m], shape (n,).
        unit_m: metres in a unit of distance, for the round distances [m].

    Returns:
        a line for each pointer; empty without a fit, or on a sight that is not dialled.

    Source:
        docs/method.md, section 15.
    """
    fit, pins = evaluation.fit, evaluation.pins
    if fit is None or not card.sight_kind.dialled or pins.dialled >= len(heights_m):
        return ()
    sds = [_mark_sd_mm(fit, pin) for pin in range(len(heights_m))]
    lead = card.ranged_distance(0.0)
    return pointer_lines(fit.figures, heights_m, pins.pointed, pins.dialled, fit.tape_ratio, unit_m, lead, sds)


def _mark_sd_mm(fit: Fit, pin: int) -> float | None:
    """How surely a pin is right at the reading where it stands [mm of the housing]; None where it was not shot."""
    if pin not in fit.shot_pins:
        return None
    sd = fit.tape([fit.reference_distance_m], pin)[0].sd_mm
    return None if sd is None else sd / fit.tape_ratio


def stood_heights_m(fit: Fit, card: RigCard, stack: Stack | None, stands: tuple[PinStands, ...]) -> tuple[float, ...]:
    """Height of every pin above the arrow line with the sight at home: where it stands, else where it belongs.

    Args:
        fit: the fit so far.
        card: the rig's card.
        stack: where the pins belong; None for a single one.
        stands: where each stands.

    Returns:
        [m], the top pin first; one that is out of reach, and those after it, are left off.

    Source:
        docs/method.md, section 15.
    """
    home = pin_height(fit.figures, card.distance_from_sight(card.goals.home_m or 0.0))
    belongs = {place.pin: place.below_mm for place in stack.pins} if stack else {0: 0.0}
    heights = []
    for each in stands:
        below = belongs.get(each.pin) if each.below_mm is None else each.below_mm
        if below is None:
            break
        heights.append(home - below / 1000.0)
    return tuple(heights)
