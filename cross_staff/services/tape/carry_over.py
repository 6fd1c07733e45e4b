"""A change of arrow or draw weight: the last tape that was shot, carried over to what flies now or might."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import ALL_MARKS
from cross_staff.core.rig.reach import PinSetting, SightReach, place_now, sight_reach
from cross_staff.core.rig.scatter import usual_scatter
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.sight_in.dispersion import scatter_at_range
from cross_staff.core.tape.carry_over import Changed, ChangedRow, carried_over, confirming, overlay
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.forecast import NextShot, PlannedGroup
from cross_staff.core.tape.rows import READING_SD_MM
from cross_staff.core.tape.station import ARROWS_TO_SHOOT, NEAREST_GROUP_M, Evaluation, evaluate
from cross_staff.services.rig import Rig

MOST_BUILDS = 4


@dataclass(frozen=True)
class Before:
    """The last tape that marks were shot for: the revision, its card, its fit."""

    revision: int
    card: RigCard
    evaluation: Evaluation


def before(rig: Rig) -> Before | None:
    """The tape of now where it has marks, else that of the newest revision which had; None without any."""
    if rig.evaluation.fit is not None and rig.evaluation.own:
        return Before(rig.revision.number, rig.card, rig.evaluation)
    states = [each.state for each in rig.history]
    entries = [row.entry for row in rig.evaluation.listed]
    for number in range(len(states) - 1, 0, -1):
        card = states[number - 1].card
        scatter = scatter_at_range(card, [end for end in rig.range_log.ends if not end.left_out])
        held = Timeline(states[:number]).holding(ALL_MARKS)
        then = evaluate(card, entries, held, rig.evaluation.pins, scatter=scatter)
        if then.fit is not None and then.used:
            return Before(number, card, then)
    return None


def wanted_card(rig: Rig, was: Before, build: int | None, draw_weight_n: float | None) -> RigCard:
    """The card as it would be: another of its builds, another draw weight; else as it is now.

    Raises: InvalidValue where that is what was shot already.
    """
    card = rig.card if build is None else replace(rig.card, in_use=build)
    if draw_weight_n is not None:
        card = replace(card, bow=replace(card.bow, draw_weight_n=draw_weight_n))
    same_bow = card.bow.draw_weight_n == was.card.bow.draw_weight_n
    lengths = (card.eye_to_sight_m, card.peep) == (was.card.eye_to_sight_m, was.card.peep)
    if card.build.flies_as() == was.card.build.flies_as() and same_bow and lengths:
        raise InvalidValue("to", "is what the marks were shot with: choose another arrow, or type a draw weight")
    return card


@dataclass(frozen=True)
class Outlook:
    """The tape after the change, over the old one, the two distances that confirm it [m as ranged], and how far the
    sight then goes."""

    changed: Changed
    rows: tuple[ChangedRow, ...]
    confirm: tuple[NextShot, ...]
    reach: SightReach


def outlook(was: Before, card: RigCard, distances_m: list[float], setting: PinSetting) -> Outlook:
    """What the change makes of the tape. Args: distances_m as ranged [m]; setting, the pins as they are used. Raises:
    InvalidValue, OutOfReach."""
    fit, farthest, pin = was.evaluation.fit, card.goals.farthest_m, was.evaluation.pins.dialled
    assert fit is not None and farthest is not None
    changed = carried_over(was.card, card, fit)
    at = [card.distance_from_sight(d) for d in distances_m]
    unit = card.tape.unit_m
    home = was.evaluation.tape_home_m or card.goals.home_m or 0.0
    counts = range(int(max(NEAREST_GROUP_M, home) / unit) + 1, int(farthest / unit + 1e-9) + 1)
    candidates = [card.distance_from_sight(count * unit) for count in counts]
    scatter = was.evaluation.scatter or usual_scatter(card)
    shot = PlannedGroup(ARROWS_TO_SHOOT, scatter.spread_mrad, READING_SD_MM, scatter.day_mrad)
    outlook = confirming(
        changed.fit, card.distance_from_sight(home), candidates, card.distance_from_sight(farthest), shot, pin
    )
    ranged = tuple(replace(each, distance_m=card.ranged_distance(each.distance_m)) for each in outlook)
    reach = sight_reach(card, changed.fit.figures, place_now(card), setting)
    return Outlook(changed, overlay(fit, changed.fit, at, pin), ranged, reach)


@dataclass(frozen=True)
class ByTape:
    """An arrow of the bow shot by the tape of another, laid on at that one's home: both builds, by their places on the
    card, and how high it comes in at each distance [m], None out of reach."""

    shot: int
    tape: int
    up_m: tuple[float | None, ...]


def side_by_side(rig: Rig, was: Before, distances_m: list[float]) -> tuple[ByTape, ...]:
    """Every build of the card by every other's tape, carried over from what was shot; builds whose mass or diameter
    nobody knows are left out. Args: distances_m as ranged [m]."""
    fit, pin = was.evaluation.fit, was.evaluation.pins.dialled
    assert fit is not None
    fits: dict[int, Fit] = {}
    for place, build in enumerate(rig.card.builds[:MOST_BUILDS]):
        card = replace(rig.card, in_use=place)
        try:
            same = build.flies_as() == was.card.build.flies_as()
            fits[place] = fit if same else carried_over(was.card, card, fit).fit
        except CrossStaffError:
            continue
    at = [rig.card.distance_from_sight(d) for d in distances_m]
    return tuple(
        ByTape(shot, tape, tuple(row.up_m for row in overlay(fits[tape], fits[shot], at, pin)))
        for tape in fits
        for shot in fits
        if shot != tape
    )
