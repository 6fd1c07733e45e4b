"""Where a sight sits, how far it reaches, and what would help, in words."""

from __future__ import annotations

from cross_staff.core.mount.planner import FASTER, HIGHER_PEEP_M, LOWER_ON_POST_MM, Remedy
from cross_staff.core.rig.card import RigCard
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import whole_distance

LIMITS = {
    "slider_travel": "the slider runs out",
    "clearance": "the housing meets arrow and vanes",
    "tape_length": "the tape's seat runs out",
    "lowest_pin": "the lowest pin's place runs out",
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


def reach(value: float | None, units: Units) -> str:
    """How far, in whole units; nowhere for nought."""
    if value is None:
        return f"beyond {whole_distance(units, 200.0)}"
    if value <= 0.0:
        return "nowhere"
    return f"{int(units.from_si('distance', value) + 1e-9)}\u00a0{units.label('distance')}"


_REMEDIES = {
    "lower_on_post": f"Set the housing {LOWER_ON_POST_MM:g} mm lower on its post at home",
    "faster_arrow": f"An arrow {100 * (FASTER - 1):.0f} % faster",
    "higher_peep": f"The peep {1000 * HIGHER_PEEP_M:.0f} mm higher",
    "nearer_riser": "The sight at the place nearest the riser",
    "far_pin": "The far pin on the wheel in place of the near one",
}


def remedy_cells(remedy: Remedy, units: Units) -> tuple[str, str]:
    """A remedy, and how far it then goes."""
    return _REMEDIES[remedy.code], reach(remedy.reach_m, units)
