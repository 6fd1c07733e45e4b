"""What an instrument can fill at the level: the tilt of the bench, a group on a slope, a digital level for a vial."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cross_staff.core.level.units import kind_beside
from cross_staff.core.ranges import PITCH_RAD, Range
from cross_staff.core.rig.card import LevelSetup
from cross_staff.web.shared.takes import DISTANCE, SLOPE, Takes

BESIDE, RAIL = "reference", "rail"


def takes(context: Mapping[str, Any]) -> dict[str, Takes]:
    """By the page's context. A digital level stands in for a vial where it is the shop's level of that name, chosen
    on this rig: its own error and what a line is are of itself, never of another's glass."""
    if "method" not in context:
        return {}
    setup, names = context["card"].level, context["shop_levels"]
    if context["asks"]["arrows"]:
        return {"pitch": SLOPE, "distance": DISTANCE}
    axis, method = context["axis"], context["method"].key
    vials = {"reference": kind_beside(axis, method), "beside": BESIDE, "vial": RAIL if axis == "first" else ""}
    if context["prove"]:
        proved = context["proving"]
        vials |= {"first_way": proved, "turned_way": proved}
    digital = {field: _vial(setup, kind, names) for field, kind in vials.items()}
    tilt = {"pitch": Takes("pitch", "angle", PITCH_RAD)}
    return tilt | {field: each for field, each in digital.items() if each is not None}


def _vial(setup: LevelSetup, kind: str, names: Mapping[str, str]) -> Takes | None:
    name, vial = names.get(kind, ""), getattr(setup, kind, None)
    if not name or vial is None or not vial.per_division_rad:
        return None
    end = (vial.lines + 1.0) * vial.per_division_rad
    return Takes("roll", "plain", Range(-end, end), line_rad=vial.per_division_rad, only=name)
