"""The mount planner: mounting hole, extension and home position, and what each comes to.

All positions on the sight are in millimetres, as its scales are; distances in metres as the archer
ranges them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import elevation_at, pin_height, pin_heights
from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.card import USUAL_EYE_TO_PEEP_M, RigCard
from cross_staff.core.rig.peep import aperture_that_rings, peep_shift
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.reach import (
    ARROW,
    PinSetting,
    Place,
    SightReach,
    figures_at,
    moved_out_mm,
    sight_reach,
    wanted_above_mm,
)

NOT_KNOWN = "not_known"
LOWER_ON_POST_MM, FASTER, HIGHER_PEEP_M = 5.0, 1.05, 0.005  # what the remedies are weighed with


@dataclass(frozen=True)
class Home:
    """A school of where the slider rests at home: its name and what it costs."""

    key: str
    name: str
    price: str


HOMES = {
    home.key: home
    for home in (
        Home("top", "hard against the top stop", "the longest tape; nothing nearer than home can be dialled up to"),
        Home("reserve", "a small reserve above home", "distances between the turnover and home can be dialled"),
        Home("centred", "centred on the rail", "leaves room both ways for another peep, anchor or arrow"),
    )
}


@dataclass(frozen=True)
class Plan:
    """What a place comes to.

    figures with this extension; above_home_mm travel left above home and wanted_above_mm what the
    nearest distance asks for; reach; tape_mm of the dialled pin from where its tape begins to the farthest distance,
    drop_mm of a pin from home to there; pins_mm from the first pin to the last, where they belong; torque_m at the
    farthest distance for one degree of hand torque; ringing_aperture_mm the peep that rings the housing,
    peep_shift_mm how much lower on the string the eye's line crosses at the far end, picture_part how high the housing
    then looks beside home; fits: whether home itself lies within the travel.
    """

    place: Place
    figures: RigFigures
    fits: bool
    above_home_mm: float | None
    wanted_above_mm: float
    reach: SightReach
    far_pin_reach_m: float | None
    tape_mm: float | None
    drop_mm: float | None
    pins_mm: float | None
    torque_m: float | None
    ringing_aperture_mm: float | None
    peep_shift_mm: float | None
    picture_part: float | None
    short_by_mm: float | None

    def home_pin_m(self, card: RigCard) -> float:
        """Height of the wheel's pin above the arrow line at home [m]. Raises OutOfReach."""
        return pin_height(self.figures, card.distance_from_sight(card.goals.home_m or 0.0))

    @property
    def near_enough(self) -> bool:
        """Whether the nearest distance wanted can be set; a slider hard against its top stop goes no higher."""
        above = 0.0 if self.above_home_mm is None and self.place.home == "top" else self.above_home_mm
        return above is None or above >= self.wanted_above_mm - 0.05

    def far_enough(self, farthest_m: float | None) -> bool:
        """Whether what is known of the sight lets it go so far [m as ranged]."""
        return self.reach.far_enough(farthest_m)


@dataclass(frozen=True)
class PlaceChoice:
    """The plans, the best of them for this archer's goals, and why: a code; `told` is whether enough is known of the
    sight to say which is best."""

    plans: tuple[Plan, ...]
    best: Plan
    why: str

    @property
    def told(self) -> bool:
        return self.why != NOT_KNOWN


def plan_all(card: RigCard, figures: RigFigures, setting: PinSetting) -> PlaceChoice:
    """Every place that the sight offers, and the best for this archer's goals.

    Args: figures at the present extension; setting, pins and tape ratio as they are used. Raises: OutOfReach where
        home itself is out of reach.
    """
    holes: Sequence[int | None] = range(len(card.sight.holes_mm)) if _holes_known(card) else [card.hole]
    detents: Sequence[int | None] = range(len(card.sight.extension_mm)) if _detents_known(card) else [card.detent]
    homes = list(HOMES) if card.sight_kind.dialled else ["top"]
    plans = []
    for detent in detents:
        for home in homes:
            tried = [plan(card, figures, Place(hole, detent, home), setting) for hole in holes]
            plans.append(max(tried, key=lambda p: (p.fits, p.near_enough, p.reach.farthest_m or math.inf)))
    best = max(plans, key=lambda p: _worth(card, p))
    return PlaceChoice(tuple(plans), best, _why(card, best, plans))


def _holes_known(card: RigCard) -> bool:
    mount = card.mount
    return mount.pin_at_top_mm is not None and card.hole is not None and len(card.sight.holes_mm) > 1


def _detents_known(card: RigCard) -> bool:
    return card.detent is not None and len(card.sight.extension_mm) > 1


def _worth(card: RigCard, plan: Plan) -> tuple[float, ...]:
    """Longest tape among those that reach both ends; else the one that goes farthest."""
    far = plan.far_enough(card.goals.farthest_m)
    reached = math.inf if plan.reach.farthest_m is None else plan.reach.farthest_m
    return (
        plan.fits,
        far and plan.near_enough,
        far,
        plan.near_enough,
        (plan.tape_mm or 0.0) if far else reached,
        -list(HOMES).index(plan.place.home),
    )


def _why(card: RigCard, best: Plan, plans: Sequence[Plan]) -> str:
    """A code for the reason: of the places that reach, the finest tape; or what nothing reaches."""
    far = [p for p in plans if p.fits and p.far_enough(card.goals.farthest_m)]
    if best.reach.unknown and far:
        return NOT_KNOWN
    if not any(p.fits for p in plans):
        return "home_beyond_travel"
    if len(plans) == 1 and far:
        return "only_place"
    if not far:
        return "farthest_of_all"
    if not best.near_enough:
        return "near_end_lost"
    if len(far) < len([p for p in plans if p.fits]):
        return "finest_that_reaches"
    return "finest_tape"


def plan(card: RigCard, figures: RigFigures, place: Place, setting: PinSetting) -> Plan:
    """What one place comes to. Raises: OutOfReach where home is out of reach."""
    reachable = sight_reach(card, figures, place, setting)
    figures = figures_at(card, figures, place)
    home = card.distance_from_sight(card.goals.home_m or 0.0)
    far_m = card.goals.farthest_m
    far = None if far_m is None else card.distance_from_sight(far_m)
    drop = _drop_mm(figures, home, far)
    ringing, shift, part = _picture(card, figures, home, drop)
    return Plan(
        place,
        figures,
        reachable.fits,
        reachable.above_mm,
        wanted_above_mm(card, figures),
        reachable,
        _far_pin_reach(card, figures, place, setting),
        _tape_mm(card, figures, setting, drop, far),
        drop,
        _pins_mm(card, figures, setting.pins),
        _torque_m(card, figures, place.detent),
        ringing,
        shift,
        part,
        _short_by_mm(card, figures, reachable, far),
    )


def _tape_mm(
    card: RigCard, figures: RigFigures, setting: PinSetting, drop_mm: float | None, far_m: float | None
) -> float | None:
    """The tape of the dialled pin, from where it begins to the farthest distance; None where the tape's ratio is not
    known, or the arrow does not get there."""
    if not card.sight_kind.dialled:
        return drop_mm
    pins, own = setting.pins, drop_mm
    if pins.dialled and pins.dialled < len(pins.at_m):
        below = setting.below_mm[pins.dialled] if pins.dialled < len(setting.below_mm) else None
        if below is None:
            own = _drop_mm(figures, card.distance_from_sight(pins.at_m[pins.dialled]), far_m)
        else:
            own = None if drop_mm is None else drop_mm - below
    return None if own is None or setting.ratio is None else setting.ratio * own


def _drop_mm(figures: RigFigures, home_m: float, far_m: float | None) -> float | None:
    """Travel of the housing from home to the farthest distance [mm]; None out of reach."""
    if far_m is None:
        return None
    try:
        return 1000.0 * (pin_height(figures, home_m) - pin_height(figures, far_m))
    except OutOfReach:
        return None


def _pins_mm(card: RigCard, figures: RigFigures, pins: Pins) -> float | None:
    """From the nearest pin to the farthest, where they belong [mm]; None for fewer than two, or out of reach."""
    distances = [card.distance_from_sight(d) for d in pins.at_m]
    if len(distances) < 2:
        return None
    solved = pin_heights(Trajectories.of(figures, distances))
    return 1000.0 * float(solved.height_m[0] - solved.height_m[-1]) if solved.reached.all() else None


def _far_pin_reach(card: RigCard, moved: RigFigures, place: Place, setting: PinSetting) -> float | None:
    """Reach when the far pin goes with the wheel, in place of another [m as ranged]; None where it does already, or
    has a pointer of its own."""
    pins, last = setting.pins, len(setting.pins.at_m) - 1
    if last < 1 or not card.sight_kind.dialled or len(pins.pointed) > 1 or pins.dialled == last:
        return None
    if card.sight.travel_mm is None:
        return None
    lower = replace(setting, pins=replace(pins, dialled=last, pointers=()))
    figures = replace(moved, eye_to_sight_m=moved.eye_to_sight_m - 1e-3 * moved_out_mm(card, place.detent))
    return sight_reach(card, figures, place, lower).farthest_m


def _torque_m(card: RigCard, figures: RigFigures, detent: int | None) -> float | None:
    """Sideways shift at the farthest distance for one degree of hand torque, b t (L + d)/L [m]: a
    comparison between places, never a prediction (docs/method.md, section 9)."""
    ahead, far = card.mount.ahead_of_grip_m, card.goals.farthest_m
    if ahead is None or far is None:
        return None
    lever, arm = figures.eye_to_sight_m, ahead + 1e-3 * moved_out_mm(card, detent)
    return arm * math.radians(1.0) * (lever + card.distance_from_sight(far)) / lever


def _picture(
    card: RigCard, figures: RigFigures, home_m: float, drop_mm: float | None
) -> tuple[float | None, float | None, float | None]:
    """The ringing aperture [mm], the peep's shift for the far end [mm], and how high the housing
    looks there beside home: cos^2 of the line's angle over that at home."""
    if card.peep.way == "eye":
        return None, None, None
    behind, lever = card.peep.eye_to_peep_m or USUAL_EYE_TO_PEEP_M, figures.eye_to_sight_m
    inner = card.sight.housing.inner_mm
    ringing = None if inner is None else 1000.0 * aperture_that_rings(inner / 1000.0, behind, lever)
    if drop_mm is None:
        return ringing, None, None
    height = pin_height(figures, home_m)
    near, far = elevation_at(figures, height), elevation_at(figures, height - drop_mm / 1000.0)
    shift = 1000.0 * peep_shift(drop_mm / 1000.0, behind, lever)
    return ringing, shift, (math.cos(far) / math.cos(near)) ** 2


def _short_by_mm(card: RigCard, figures: RigFigures, reach: SightReach, far_m: float | None) -> float | None:
    """By how much the binding limit misses the farthest distance [mm of the housing]; None where it does not."""
    if far_m is None or reach.binding in (None, ARROW) or not reach.farthest_m:
        return None
    short = _drop_mm(figures, card.distance_from_sight(reach.farthest_m), far_m)
    return short if short is not None and short > 0.05 else None


@dataclass(frozen=True)
class Remedy:
    """Something that would take the rig farther: a code, and how far it then goes [m], None for
    beyond what matters."""

    code: str
    reach_m: float | None


def remedies(card: RigCard, figures: RigFigures, now: Plan, setting: PinSetting) -> tuple[Remedy, ...]:
    """What would buy distance at this place, the most first; only what does.

    Args: figures at the present extension; setting, pins and tape ratio as they are used.
    """
    housing = card.sight.housing
    lower = None
    if housing.below_pin_mm is not None:
        less = replace(housing, below_pin_mm=max(housing.below_pin_mm - LOWER_ON_POST_MM, 0.0))
        lower = replace(card, sight=replace(card.sight, housing=less))
    tried = [
        ("lower_on_post", lower, figures),
        ("faster_arrow", card, replace(figures, speed_mps=FASTER * figures.speed_mps)),
        ("higher_peep", card, replace(figures, peep_height_m=figures.peep_height_m + HIGHER_PEEP_M)),
    ]
    remedies = [Remedy(c, plan(k, f, now.place, setting).reach.farthest_m) for c, k, f in tried if k is not None]
    if now.place.detent:
        nearer = plan(card, figures, replace(now.place, detent=0), setting)
        remedies.append(Remedy("nearer_riser", nearer.reach.farthest_m))
    if now.far_pin_reach_m is not None:
        remedies.append(Remedy("far_pin", now.far_pin_reach_m))
    least = (now.reach.farthest_m or math.inf) + 0.5
    worth = [r for r in remedies if r.reach_m is None or r.reach_m > least]
    return tuple(sorted(worth, key=lambda r: -(r.reach_m or math.inf)))


def take(card: RigCard, place: Place) -> RigCard:
    """The card with the sight at a place: the extension moves the eye-to-sight and the grip's arm."""
    moved = 1e-3 * moved_out_mm(card, place.detent)
    mount, lever = card.mount, card.eye_to_sight_m
    top = mount.pin_at_top_mm
    if top is not None and place.hole is not None and card.hole is not None:
        top += card.sight.holes_mm[place.hole] - card.sight.holes_mm[card.hole]
    ahead = None if mount.ahead_of_grip_m is None else mount.ahead_of_grip_m + moved
    hole = mount.hole if place.hole is None else place.hole
    detent = mount.detent if place.detent is None else place.detent
    new = replace(mount, hole=hole, detent=detent, home=place.home, pin_at_top_mm=top, ahead_of_grip_m=ahead)
    return replace(card, mount=new, eye_to_sight_m=None if lever is None else lever + moved)
