"""How far a sight goes as it is mounted: every limit in one place, and what is not known of them.

Every page and sheet asks here. Positions on the sight are in millimetres, as its scales are; distances in metres as
the archer ranges them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.reach import BEYOND_M, LIMITS
from cross_staff.core.ballistics.sightline import far_distances, pin_height, pin_heights, turnover_distance
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.pins import Pins

CLEARANCE_MM = 3.0  # kept between housing and vanes unless the card says otherwise
ARROW = "arrow"
# what would tell a limit that is not known, the one that binds soonest first
UNKNOWNS = ("slider_travel", "home_place", "below_pin", "vanes", "tape_ratio", "pin_room", "as_usual")
_FLOWN_STEP_M = 4.0


@dataclass(frozen=True)
class Place:
    """Where a sight sits: index of the hole and of the detent (None where the sight has no such places), home."""

    hole: int | None
    detent: int | None
    home: str


def place_now(card: RigCard) -> Place:
    """Where the sight sits; home at the top where nobody said."""
    return Place(card.hole, card.detent, card.mount.home or "top")


@dataclass(frozen=True)
class PinSetting:
    """The pins as they are used: which there are, how far below the place of a top pin that is right for home each
    stands [mm, housing] (empty, or None: where it belongs), and tape travel per housing travel [-], None where it is
    still to be found."""

    pins: Pins = Pins()
    below_mm: tuple[float | None, ...] = ()
    ratio: float | None = 1.0


@dataclass(frozen=True)
class SightReach:
    """Farthest distance that a pointer can be set to [m as ranged] and the limit that binds, None where none is known
    to; every limit's own distance, None beyond 200 m; with which pin; travel of the housing above and below home [mm],
    None where it is not known; what is not known of the sight, by codes of UNKNOWNS; how far each pin with a pointer
    goes; and how far the arrow flies at all on the level [m], None beyond 200 m."""

    farthest_m: float | None
    binding: str | None
    limits: dict[str, float | None]
    pin: int = 0
    above_mm: float | None = None
    below_mm: float | None = None
    unknown: tuple[str, ...] = ()
    by_pin: tuple[tuple[int, float | None], ...] = ()
    arrow_m: float | None = None
    fits: bool = True

    @property
    def sight_m(self) -> float | None:
        """How far the sight by itself lets it go; None where no limit of it is known."""
        known = [d for name, d in self.limits.items() if name != ARROW and d is not None]
        return min(known, default=None)

    def far_enough(self, ranged_m: float | None) -> bool:
        """Whether a distance lies within what is known to limit it."""
        return self.farthest_m is None or ranged_m is None or self.farthest_m >= ranged_m - 0.05

    def of_pin(self, pin: int) -> float | None:
        """How far a pin with a pointer can be dialled [m as ranged]; None where nothing is known to end it."""
        return dict(self.by_pin).get(pin)


def figures_at(card: RigCard, figures: RigFigures, place: Place) -> RigFigures:
    """The figures with the sight at another place of its extension.

    Args:
        card: the rig's card.
        figures: at the present extension.
        place: where the sight would sit.

    Returns:
        speed [m/s], drag [1/m], eye to sight [m] and peep height [m].

    Source:
        docs/method.md, section 9.
    """
    return replace(figures, eye_to_sight_m=figures.eye_to_sight_m + 1e-3 * moved_out_mm(card, place.detent))


def moved_out_mm(card: RigCard, detent: int | None) -> float:
    """How much farther out than now the sight would stand.

    Args:
        card: the rig's card.
        detent: index of a place of the extension; None for where it is.

    Returns:
        [mm] away from the riser.

    Source:
        the card.
    """
    places, now = card.sight.extension_mm, card.detent
    return 0.0 if detent is None or now is None else places[detent] - places[now]


def wanted_above_mm(card: RigCard, figures: RigFigures) -> float:
    """How far above home the sight must go for the nearest distance that is shot: nothing when none is nearer than
    home, and never more than the turnover asks for.

    Args:
        card: the rig's card.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.

    Returns:
        [mm] of the housing.

    Raises:
        OutOfReach: for home.

    Source:
        docs/method.md, section 9.
    """
    home = card.goals.home_m or 0.0
    nearer = [d for d in card.goals.distances_m if d < home]
    if not nearer:
        return 0.0
    nearest = max(card.distance_from_sight(min(nearer)), turnover_distance(figures))
    at_home = pin_height(figures, card.distance_from_sight(home))
    return max(0.0, 1000.0 * (pin_height(figures, nearest) - at_home))


@lru_cache(maxsize=1024)  # a planner asks for the same ones at every choice
def sight_reach(card: RigCard, figures: RigFigures, place: Place, setting: PinSetting) -> SightReach:
    """The farthest distance that the sight can be set for, what stops it there, and what is not known.

    Each limit is a lowest height of a pin, h_p at home standing as it does: h_p - travel below home; the height at
    which the housing's edge keeps its clearance over the vanes; for every pointer the last line that the tape has
    room for under the dialled pin's; and the arrow's own range.

    Args:
        card: the rig's card.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m], at the present extension.
        place: where the sight sits, or would.
        setting: pins and tape ratio as they are used.

    Returns:
        the reach [m as ranged].

    Raises:
        OutOfReach: for home itself.

    Source:
        docs/method.md, section 9.
    """
    figures = figures_at(card, figures, place)
    home = pin_height(figures, card.distance_from_sight(card.goals.home_m or 0.0))
    above, fits = above_home_mm(card, place, home, wanted_above_mm(card, figures))
    moved = place.detent is not None and place.detent != card.detent
    heights = _heights(card, figures, home, setting.pins, () if moved else setting.below_mm)
    if not card.sight_kind.dialled:
        return _of_fixed(card, figures, home)
    travel, clear = _travel_below(card, above), _until_the_vanes(card, home)
    tape_m = _tape_ends(card, figures, heights[setting.pins.dialled], setting.ratio)
    arrow = flight_range_m(figures)
    limits_of = {
        pin: _limits(card, figures, heights[pin], {"slider_travel": travel, "clearance": clear}, tape_m, arrow)
        for pin in setting.pins.pointed
    }
    by_pin = tuple((pin, _least(limits)) for pin, limits in limits_of.items())
    pin = max(by_pin, key=lambda each: (math.inf if each[1] is None else each[1], -each[0]))[0]
    limits, farthest = limits_of[pin], dict(by_pin)[pin]
    below = [mm for mm in (travel, clear) if mm is not None]
    return SightReach(
        farthest,
        min((name for name, d in limits.items() if d is not None), key=lambda name: limits[name] or 0.0, default=None),
        limits,
        pin,
        above,
        max(min(below), 0.0) if below else None,
        _unknown(card, setting.ratio),
        by_pin,
        None if arrow is None else card.ranged_distance(arrow),
        fits,
    )


def above_home_mm(card: RigCard, place: Place, home_height_m: float, wanted_mm: float) -> tuple[float | None, bool]:
    """Travel left above home, and whether home lies within the travel at all.

    Args:
        card: the rig's card.
        place: where the sight sits, or would.
        home_height_m: of the top pin at home [m] above the arrow line.
        wanted_mm: how far above home the nearest distance asks for [mm].

    Returns:
        [mm], None without a slider of known travel; and whether home fits.

    Source:
        docs/method.md, section 9.
    """
    travel = card.sight.travel_mm
    if travel is None:
        return None, True
    reserve = card.mount.reserve_mm if card.mount.reserve_mm is not None else math.ceil(2.0 * wanted_mm + 1e-9) / 2.0
    asked = {"top": 0.0, "centred": travel / 2.0, "reserve": max(reserve, 0.0)}[place.home]
    top = card.mount.pin_at_top_mm
    if top is None:
        return min(asked, travel), True
    if place.hole is not None and card.hole is not None:
        top += card.sight.holes_mm[place.hole] - card.sight.holes_mm[card.hole]
    gang = (card.sight.gang_travel_mm() or 0.0) / 2.0
    here = top - 1000.0 * home_height_m
    above = min(max(asked, here - gang), here + gang)
    return above, 0.0 <= above <= travel


@lru_cache(maxsize=256)
def flight_range_m(figures: RigFigures) -> float | None:
    """How far the arrow flies at all on the level, by the low path.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.

    Returns:
        [m] from the sight plane, to a metre; None beyond 200 m.

    Source:
        docs/method.md, section 3.
    """
    low, step = 0.0, _FLOWN_STEP_M
    far = np.arange(step, BEYOND_M + step, step)
    reached = pin_heights(Trajectories.of(figures, far)).reached
    if reached.all():
        return None
    first = int(np.argmin(reached))
    low = float(far[first]) - step
    finer = np.arange(low + 1.0, low + step)
    return low + float(pin_heights(Trajectories.of(figures, finer)).reached.sum())


def _heights(
    card: RigCard, figures: RigFigures, home_m: float, pins: Pins, below_mm: tuple[float | None, ...]
) -> list[float]:
    """Height of every pin with the sight at home [m]; one whose distance is out of reach stands with the top one."""
    count = max([len(pins.at_m), pins.dialled + 1, *(pin + 1 for pin in pins.pointed)])
    at = [card.distance_from_sight(d) for d in pins.at_m]
    solved = pin_heights(Trajectories.of(figures, at)) if at else None
    heights = []
    for pin in range(count):
        said = below_mm[pin] if pin < len(below_mm) else None
        if said is not None:
            heights.append(home_m - said / 1000.0)
        elif pin and solved is not None and pin < len(at) and solved.reached[pin]:
            heights.append(float(solved.height_m[pin]))
        else:
            heights.append(home_m)
    return heights


def _travel_below(card: RigCard, above_mm: float | None) -> float | None:
    travel = card.sight.travel_mm
    return None if travel is None or above_mm is None else max(travel - above_mm, 0.0)


def vanes_to_clear_mm(card: RigCard) -> float | None:
    """How high over the arrow line the housing's lower edge must stay.

    Args:
        card: the rig's card.

    Returns:
        [mm], vanes and clearance; None where nobody measured the vanes.

    Source:
        docs/method.md, section 9.
    """
    vanes, clear = card.mount.vanes_mm, card.mount.clearance_mm
    return None if vanes is None else vanes + (CLEARANCE_MM if clear is None else clear)


def _until_the_vanes(card: RigCard, home_m: float) -> float | None:
    """How far the housing goes down from home until its edge is as near the vanes as it may come [mm]."""
    below, vanes = card.sight.housing.below_pin_mm, vanes_to_clear_mm(card)
    return None if below is None or vanes is None else 1000.0 * home_m - below - vanes


def _tape_ends(card: RigCard, figures: RigFigures, dialled_m: float, ratio: float | None) -> float | None:
    """The lowest height whose line the tape has room for under the dialled pin's pointer [m]."""
    length, places = card.tape.length_mm, card.tape.places_mm
    if length is None or ratio is None:
        return None
    return dialled_m - (max(places, default=0.0) + length) / ratio / 1000.0


def _limits(
    card: RigCard,
    figures: RigFigures,
    height_m: float,
    down_mm: dict[str, float | None],
    tape_height_m: float | None,
    arrow_m: float | None,
) -> dict[str, float | None]:
    """A pin's limits [m as ranged]."""
    lowest = {name: height_m - mm / 1000.0 for name, mm in down_mm.items() if mm is not None}
    if tape_height_m is not None:
        lowest["tape_length"] = tape_height_m
    limits = _distances(card, figures, lowest)
    return {name: limits[name] for name in LIMITS if name in limits} | _of_arrow(card, arrow_m)


def _distances(card: RigCard, figures: RigFigures, lowest_m: dict[str, float]) -> dict[str, float | None]:
    """The distance of each lowest height [m as ranged]: nought where even the turnover wants a lower pin, None where
    it lies beyond what matters."""
    highest = pin_height(figures, turnover_distance(figures))
    distances = far_distances(figures, list(lowest_m.values())) if lowest_m else []
    limits: dict[str, float | None] = {}
    for (name, height), distance in zip(lowest_m.items(), distances):
        beyond = distance is None or distance > BEYOND_M
        limits[name] = 0.0 if height > highest else None if beyond else card.ranged_distance(distance or 0.0)
    return limits


def _of_arrow(card: RigCard, arrow_m: float | None) -> dict[str, float | None]:
    return {} if arrow_m is None else {ARROW: card.ranged_distance(arrow_m)}


def _of_fixed(card: RigCard, figures: RigFigures, home_m: float) -> SightReach:
    """A sight that is not dialled: the lowest place of a pin in its housing ends it."""
    room, arrow = card.sight.housing.pin_room_mm, flight_range_m(figures)
    lowest = {} if room is None or card.sight_kind.computes_dots else {"lowest_pin": home_m - room / 1000.0}
    limits = _distances(card, figures, lowest) | _of_arrow(card, arrow)
    least = _least(limits)
    known = [name for name, distance in limits.items() if distance is not None]
    lacks = {"pin_room": room is None and not card.sight_kind.computes_dots, "as_usual": card.sight.as_usual}
    return SightReach(
        least,
        min(known, key=lambda name: limits[name] or 0.0, default=None),
        limits,
        unknown=tuple(code for code in UNKNOWNS if lacks.get(code)),
        by_pin=(),
        arrow_m=None if arrow is None else card.ranged_distance(arrow),
    )


def _least(limits: dict[str, float | None]) -> float | None:
    return min((d for d in limits.values() if d is not None), default=None)


def _unknown(card: RigCard, ratio: float | None) -> tuple[str, ...]:
    """What nobody measured of a sight that is dialled."""
    sight, mount = card.sight, card.mount
    lacks = {
        "slider_travel": sight.travel_mm is None,
        "home_place": sight.travel_mm is not None and mount.pin_at_top_mm is None and not mount.home,
        "below_pin": sight.housing.below_pin_mm is None,
        "vanes": mount.vanes_mm is None,
        "tape_ratio": ratio is None and card.tape.length_mm is not None,
        "as_usual": sight.as_usual,
    }
    return tuple(code for code in UNKNOWNS if lacks.get(code))
