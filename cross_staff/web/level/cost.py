"""What the axes cost at the target, with sliders: how much is left, and how much may be."""

from __future__ import annotations

import math
from datetime import date
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import OutOfReach
from cross_staff.core.level.log import AXES
from cross_staff.services.level.page import Costs, costs_of
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import wants_fragment
from cross_staff.web.forms.sliders import slider_number
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.tables import cost_cell
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
_SIDE, _REACH_M = 300.0, 0.30
HALF_STEP = 0.00501  # degrees: a slider that was not moved stands for what the station has


@router.get("/rigs/{rig_id}/level/cost")
def cost_page(request: Request, rig_id: int) -> Response:
    """The costs of what the sliders say is left of each axis. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units, query = Units.of(rig.units), request.query_params
    now = {axis: _now(rig, axis) for axis in AXES}
    slid = {axis: slider_number(query.get(axis, ""), now[axis], 3.0) for axis in AXES}
    left = {axis: now[axis] if abs(slid[axis] - now[axis]) < HALF_STEP else slid[axis] for axis in AXES}
    usual = 100.0 * (rig.card.level.tolerance_m or 0.05)
    tolerance_cm = max(slider_number(query.get("tolerance", ""), usual, 50.0), 0.5)
    drawn = {"first": 10.0 * left["first"], "second": -10.0 * left["second"]}  # ten times as large
    context: dict[str, Any] = {"rig_id": rig_id, "left": left, "tolerance_cm": tolerance_cm, "tenfold": drawn}
    context |= _costs(rig, left, tolerance_cm / 100.0, units)
    if wants_fragment(request):
        return render(request, "level/_cost.html", **context)
    return render(request, "level/cost.html", **(rig_context(rig, "level", date.today()) | context))


def _now(rig: Rig, axis: str) -> float:
    state = rig.level.axes[axis]
    return math.degrees(state.now.value) if state.now and state.unit.calibrated else 0.0


def _costs(rig: Rig, left: dict[str, float], tolerance_m: float, units: Units) -> dict[str, Any]:
    try:
        costs = costs_of(rig, {axis: math.radians(degrees) for axis, degrees in left.items()}, tolerance_m)
    except OutOfReach as error:
        return {"rows": [], "problem": f"{error}."}
    if costs is None:
        return {"rows": [], "problem": "The card is not complete yet: speed, geometry, home and farthest distance."}
    rows, heads = costs.rows, costs.distances_m
    half = round(_SIDE / 2.0 * min(tolerance_m / _REACH_M, 1.0), 1)
    return {
        "problem": "",
        "distances": [sentences.whole_distance(units, d) for d in heads],
        "rows": [(words.tilt(r.slope_rad), [cost_cell(units, v, tolerance_m) for v in r.right_m]) for r in rows],
        "axes": [_axis(rig, units, axis, costs) for axis in AXES if axis in costs.allowed_rad],
        "spots": [
            (round(_SIDE / 2.0 + _x(r.right_m[-1]), 1), 70.0 + 80.0 * n, words.tilt(r.slope_rad))
            for n, r in enumerate(rows)
            if r.right_m and r.right_m[-1] is not None
        ],
        "half": half,
        "span": 2.0 * half,
        "farthest": sentences.whole_distance(units, heads[-1]),
    }


def _axis(rig: Rig, units: Units, axis: str, costs: Costs) -> tuple[str, str, str, str]:
    """An axis by itself: what it may be off, in lines of its vial too, and what is left of it costs at worst."""
    allowed = costs.allowed_rad[axis]
    return (
        words.NAMES[axis],
        f"{math.degrees(allowed):.2f}°",
        words.lines_of(rig.card.level, axis, allowed),
        sentences.on_target(units, costs.alone_m[axis]),
    )


def _x(right_m: float | None) -> float:
    return (_SIDE / 2.0 - 12.0) * max(-1.0, min(1.0, (right_m or 0.0) / _REACH_M))
