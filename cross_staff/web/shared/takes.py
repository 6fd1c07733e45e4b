"""Fields that an instrument can fill, as a station's room names them, and as the page's script is told of them."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from cross_staff.core.ranges import PITCH_RAD, Range
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.core.rig.taken import FRESH_S, GIVES, Figure, Kind
from cross_staff.web.forms.units import Units

MM_M = 1e-3


@dataclass(frozen=True)
class Takes:
    """A field: the figure that it takes, the quantity that it shows, the SI range that it must lie in, and whether it
    is a list. Of a vial: what a line is [rad], and the name of the one instrument that stands in for it."""

    figure: Figure
    quantity: str
    span: Range
    many: bool = False
    line_rad: float = 0.0
    only: str = ""


DISTANCE = Takes("distance", "distance", RANGED_M)
SLOPE = Takes("slope", "angle", PITCH_RAD)


def millimetres(span_mm: Range) -> Takes:
    """A length that its field shows in millimetres whatever the units."""
    return Takes("length", "mark", Range(span_mm.low * MM_M, span_mm.high * MM_M))


def takes_json(fields: Mapping[str, Takes], kinds: frozenset[Kind], units: Units) -> str:
    """What the script of a page is told of its fields (`#` for a number in their names), of those alone that the shop's
    instruments can fill; empty for none."""
    figures = {figure for kind in kinds for figure in GIVES[kind]}
    told = {name: _told(each, units) for name, each in fields.items() if each.figure in figures}
    return json.dumps(told).replace("<", "\\u003c") if told else ""


def _told(each: Takes, units: Units) -> dict[str, Any]:
    unit = units.unit(each.quantity)
    shown_si = MM_M if each.quantity == "mark" else unit.si  # marks are kept in millimetres
    return {
        "figure": each.figure,
        "unit": "lines" if each.line_rad else unit.label,
        "per": each.line_rad or shown_si,
        "decimals": 2 if each.line_rad else unit.decimals,
        "low": each.span.low,
        "high": each.span.high,
        "many": each.many,
        "only": each.only,
        "fresh": FRESH_S[each.figure],
    }
