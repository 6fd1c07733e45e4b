"""Which fields of the pages an instrument can fill: with which figure, shown in which unit, within what."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from cross_staff.core.ranges import PITCH_RAD, Range
from cross_staff.core.rig.limits import LIMITS, RANGED_M
from cross_staff.core.rig.taken import GIVES, Figure, Kind
from cross_staff.core.tape.rulers import SPAN_MM
from cross_staff.web.forms.units import Units

# how old a reading may be that is taken [s]: a shot is kept until one is back from the range
FRESH_S: dict[Figure, float] = {"speed": 900.0, "mass": 20.0, "length": 20.0, "pitch": 3.0, "roll": 3.0,
                                "distance": 60.0, "slope": 60.0}  # fmt: skip
MARKS_MM = "marks_mm"  # shown in millimetres whatever the units
MM_M = 1e-3


@dataclass(frozen=True)
class Takes:
    """A field: the figure that it takes, the quantity that it shows, the SI range that it must lie in, whether it is a
    list, and what one of what it shows is in the SI unit where that is no unit (a line of a vial)."""

    figure: Figure
    quantity: str
    span: Range
    many: bool = False
    per: float = 0.0


_LENGTH_MM = Takes("length", MARKS_MM, Range(SPAN_MM.low * MM_M, SPAN_MM.high * MM_M))
_DISTANCE = Takes("distance", "distance", RANGED_M)
_OF: dict[str, dict[str, Takes]] = {
    "card": {
        "arrow_mass": Takes("mass", "mass", LIMITS["builds.measured_mass_kg"]),
        "part_mass_#": Takes("mass", "mass", LIMITS["builds.components.mass_kg"]),
        "shaft_diameter": Takes("length", "diameter", LIMITS["builds.shaft_diameter_m"]),
        "readings": Takes("speed", "speed", LIMITS["builds.sessions.readings_mps"], many=True),
    },
    "sight_in": {"distance": _DISTANCE},
    "tape": {"row-#-distance": _DISTANCE, "span_#": _LENGTH_MM},
    "prove": {"distance": _DISTANCE, "slope": Takes("slope", "angle", PITCH_RAD)},
}


def takes_of(context: Mapping[str, Any]) -> dict[str, Takes]:
    """The fields of a page that an instrument can fill, by their names (`#` for a number in them)."""
    here = context.get("here", "")
    fields = dict(_OF.get(here, {}))
    if here == "tape" and context.get("rulers"):
        fields["row-#-mark"] = _LENGTH_MM
    if here == "prepare" and getattr(context.get("check"), "quantity", "") == "length":
        fields["number"] = Takes("length", "length", Range(-0.1, 0.1))
    if here == "mount":  # what calipers reach
        measured = {name: context["fields"][name].span for name in ("pin_at_top", "vanes")}
        fields |= {n: Takes("length", MARKS_MM, Range(s.low * MM_M, s.high * MM_M)) for n, s in measured.items()}
    if here == "level":
        fields |= _of_level(context)
    return fields


def _of_level(context: Mapping[str, Any]) -> dict[str, Takes]:
    """Of the level: the tilt of the bench, and a digital level in place of a vial whose lines are known."""
    setup = context["card"].level
    lines = Range(-10.0, 10.0)
    fields: dict[str, Takes] = {}
    shot = getattr(context.get("asks"), "arrows", False)
    fields["pitch"] = Takes("slope" if shot else "pitch", "angle", PITCH_RAD)
    if shot:
        fields["distance"] = _DISTANCE
    for names, vial in ((("reference", "beside"), setup.reference), (("vial",), setup.rail)):
        if vial.per_division_rad and (names != ("vial",) or context.get("axis") == "first"):
            span = Range(lines.low * vial.per_division_rad, lines.high * vial.per_division_rad)
            fields |= {name: Takes("roll", "plain", span, per=vial.per_division_rad) for name in names}
    return fields


def takes_json(context: Mapping[str, Any], kinds: frozenset[Kind]) -> str:
    """The same for the page's script, of those figures alone that the shop's instruments give; empty for none."""
    figures = {figure for kind in kinds for figure in GIVES[kind]}
    fields = {name: each for name, each in takes_of(context).items() if each.figure in figures} if figures else {}
    if not fields:
        return ""
    units: Units = context["units"]
    told = {name: _told(each, units) for name, each in fields.items()}
    return json.dumps(told).replace("<", "\\u003c")


def _told(each: Takes, units: Units) -> dict[str, Any]:
    millimetres = each.quantity == MARKS_MM
    unit = units.unit("mark" if millimetres else each.quantity)
    per = each.per or (MM_M if millimetres else unit.si)
    return {
        "figure": each.figure,
        "unit": "lines" if each.per else unit.label,
        "per": per,
        "decimals": 1 if each.per else unit.decimals,
        "low": each.span.low,
        "high": each.span.high,
        "many": each.many,
        "fresh": FRESH_S[each.figure],
    }
