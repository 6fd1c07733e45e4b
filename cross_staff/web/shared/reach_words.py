"""Where a sight sits, how far it reaches, and what would help, in words."""

from __future__ import annotations

from cross_staff.core.ballistics.reach import BEYOND_M
from cross_staff.core.mount.planner import FASTER, HIGHER_PEEP_M, LOWER_ON_POST_MM, Remedy
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.reach import SightReach
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import whole_distance

LIMITS = {
    "slider_travel": "the slider runs out",
    "clearance": "the housing meets arrow and vanes",
    "tape_length": "the tape's seat runs out",
    "lowest_pin": "the lowest pin's place runs out",
    "arrow": "the arrow flies no farther",
}


def mm(value: float | None, decimals: int = 1) -> str:
    return "not known" if value is None else f"{trimmed(value, decimals)}\u00a0mm"


def extension(card: RigCard, index: int | None) -> str:
    if index is None:
        return "where it is"
    places = card.sight.extension_mm
    end = ", nearest" if index == 0 else ", farthest out" if index == len(places) - 1 else ""
    return f"{trimmed(places[index], 1)}\u00a0mm{end}"


def hole(card: RigCard, index: int | None) -> str:
    if index is None:
        return "where it is"
    places = card.sight.holes_mm
    end = "lowest" if index == 0 else "highest" if index == len(places) - 1 else f"{trimmed(places[index], 1)} mm up"
    return f"{end} hole"


def distance(value: float | None, units: Units) -> str:
    """How far, in whole units; nowhere for nought."""
    if value is None:
        return f"beyond {whole_distance(units, BEYOND_M)}"
    if value <= 0.0:
        return "nowhere"
    return f"{int(units.from_si('distance', value) + 1e-9)}\u00a0{units.label('distance')}"


def reach(reach: SightReach | None, units: Units) -> str:
    """How far a sight goes, in whole units; as much as is known of it."""
    if reach is None or (reach.unknown and reach.sight_m is None):
        return "not known"
    return f"{distance(reach.farthest_m, units)}{' at most' if reach.unknown and reach.farthest_m else ''}"


def not_known(reach: SightReach | None) -> str:
    """What is not known of a sight's reach, with the one measurement that would tell; empty where all is."""
    if reach is None or not reach.unknown:
        return ""
    first, *others = (MEASURE[code] for code in reach.unknown)
    more = f" Nor {' nor '.join(what for what, _ in others)}." if others else ""
    return f"Not known: {first[0]}. {first[1]}{more}"


def assumed(card: RigCard) -> str:
    """That the sight's figures are those of any such sight; empty once somebody looked at them on this one."""
    if not card.sight.as_usual:
        return ""
    return "Assumed: travel, housing and places are those of any such sight, not of this one. Look at them, and say so."


def other_hand(card: RigCard) -> str:
    """That the sight is made for the other hand; empty where it is not."""
    if not card.sight_of_other_hand:
        return ""
    made, bow = ("right", "left") if card.sight.hand == "right" else ("left", "right")
    return (
        f"This sight is made for {made}-handed bows, and this one is {bow}-handed: knobs and scale lie on the other "
        "side. Which way windage goes is checked once, with one turn and one arrow."
    )


def falls_short(reach: SightReach | None, farthest_m: float | None, units: Units) -> str:
    """That a sight does not go as far as is wanted, and what ends it; empty where it does, or nothing is known to."""
    if reach is None or reach.far_enough(farthest_m) or reach.binding is None:
        return ""
    goes, far = distance(reach.farthest_m, units), whole_distance(units, farthest_m or 0.0)
    return f"As it is mounted the sight goes to {goes}, and {far} is wanted: {LIMITS[reach.binding]}."


def arrow_flies(reach: SightReach | None, units: Units) -> str:
    """How far the arrow flies at all, where that is less than anything asked of it; empty where it is not."""
    if reach is None or reach.arrow_m is None:
        return ""
    return f"The arrow itself flies {distance(reach.arrow_m, units)} on the level."


# what is not known, and the measurement that tells it
MEASURE = {
    "slider_travel": ("how far the slide travels", "Measure it from its top stop to its bottom one."),
    "home_place": ("where on its travel home is", "Measure the top pin over the arrow with the slide at its top stop."),
    "below_pin": ("where the housing ends", "Measure its lower edge below the top pin."),
    "vanes": ("how high the vanes stand", "Measure them over the arrow line."),
    "tape_ratio": ("the tape's travel per housing travel", "A second mark, farther out, tells it."),
    "as_usual": ("whether this sight is as such sights usually are", "Look at it, and say so in the sight in full."),
    "pin_room": ("the room for pins", "Measure from the top pin to the lowest place of a pin."),
}  # fmt: skip


_REMEDIES = {
    "lower_on_post": f"Set the housing {LOWER_ON_POST_MM:g} mm lower on its post at home",
    "faster_arrow": f"An arrow {100 * (FASTER - 1):.0f} % faster",
    "higher_peep": f"The peep {1000 * HIGHER_PEEP_M:.0f} mm higher",
    "nearer_riser": "The sight at the place nearest the riser",
    "far_pin": "The far pin on the wheel in place of the near one",
}


def remedy_cells(remedy: Remedy, units: Units) -> tuple[str, str]:
    """A remedy, and how far it then goes."""
    return _REMEDIES[remedy.code], distance(remedy.reach_m, units)
