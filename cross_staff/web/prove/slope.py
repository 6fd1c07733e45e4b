"""The third axis on a slope, as an exercise: where to stand, how many arrows, what to expect."""

from __future__ import annotations

import math
from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.services.prove import sides
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import words
from cross_staff.web.prove.routes import ways_between
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.words import on_target

router = APIRouter()
USUAL_SLOPE_RAD = math.radians(20.0)
SLOPE = Range(math.radians(3.0), math.radians(60.0))
WANTED = Range(math.radians(0.1), math.radians(5.0))
USUAL_WANTED_RAD = math.radians(1.0)
FIELDS = ("distances", "up", "down", "wanted")


@router.get("/rigs/{rig_id}/prove/slope")
def slope_page(request: Request, rig_id: int) -> Response:
    """Where to stand, by what the address asks for. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    asked = {key: value for key, value in request.query_params.items() if key in FIELDS}
    form = FormInput(_usual(rig, units) | asked, units)
    distances = form.numbers("distances", "distance", DISTANCE_M)
    up = form.number("up", "angle", SLOPE)
    down = form.number("down", "angle", SLOPE)
    wanted = form.number("wanted", "angle", WANTED)
    for name, value in (("up", up), ("down", down), ("wanted", wanted)):
        if value is None and name not in form.errors:
            form.errors[name] = "type degrees, like 20"
    stands: list[dict[str, str | bool]] = []
    if not form.errors and up is not None and down is not None and wanted is not None:
        try:
            stands = [_row(rig, units, each, wanted) for each in sides.stands_of(rig, distances, (up, -down), wanted)]
        except InvalidValue as error:
            form.errors["up"] = error.message
    context = rig_context(rig, "prove", date.today()) | ways_between("/slope")
    context |= {"form": form, "stands": stands, "caution": words.CAUTION_SLOPE}
    return render(request, "prove/slope.html", 422 if form.errors else 200, **context)


def _usual(rig: Rig, units: Units) -> dict[str, str]:
    goals = rig.card.goals
    named = [d for d in goals.distances_m if d >= 0.4 * (goals.farthest_m or 0.0)] or [goals.farthest_m or 60.0]
    return {
        "distances": units.listed("distance", named),
        "up": units.plain("angle", goals.slope_up_rad or USUAL_SLOPE_RAD),
        "down": units.plain("angle", goals.slope_down_rad or USUAL_SLOPE_RAD),
        "wanted": units.plain("angle", USUAL_WANTED_RAD),
    }


def _row(rig: Rig, units: Units, stand: sides.SlopeStand, wanted: float) -> dict[str, str | bool]:
    """A stand in words."""
    sure = 1.96 * stand.sd_rad
    return {
        "at": words.whole_distance(units, rig.card.ranged_distance(stand.distance_m)),
        "arrows": str(stand.arrows),
        "up": f"{on_target(units, stand.right_up_m)} {'right' if stand.right_up_m > 0.0 else 'left'}",
        "down": f"{on_target(units, stand.right_down_m)} {'right' if stand.right_down_m > 0.0 else 'left'}",
        "sure": f"± {math.degrees(sure):.1f}°",
        "enough": sure <= wanted,
    }
