"""POST /api/v1/reach."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.web.api.models import Distance, Ratio, RigNumbers, Strict

router = APIRouter()
Millimetres = Annotated[float, Field(ge=0.0, le=1000.0)]
NOWHERE = "even the turnover wants the pin lower than this limit leaves it"


class ReachRequest(Strict):
    rig: RigNumbers
    reference_distance_m: Distance
    slider_travel_mm: Millimetres
    housing_below_pin_mm: Millimetres
    arrow_clearance_mm: Millimetres
    tape_length_mm: Millimetres | None = None
    tape_ratio: Ratio = 1.0


class ReachResponse(Strict):
    farthest_m: float | None
    binding: str | None
    limits: dict[str, float | None]
    problem: str | None = None


@router.post("/reach")
def how_far(request: ReachRequest) -> ReachResponse:
    """The farthest distance the sight can be set for, and which limit binds."""
    tape = request.tape_length_mm
    room = SightRoom(
        request.slider_travel_mm / 1000.0,
        request.housing_below_pin_mm / 1000.0,
        request.arrow_clearance_mm / 1000.0,
        None if tape is None else tape / 1000.0,
        request.tape_ratio,
    )
    try:
        reachable = reach(request.rig.figures(), request.reference_distance_m, room)
    except OutOfReach as error:
        raise InvalidValue("reference_distance_m", str(error)) from error
    problem = NOWHERE if reachable.farthest_m == 0.0 else None
    return ReachResponse(
        farthest_m=reachable.farthest_m, binding=reachable.binding, limits=reachable.limits, problem=problem
    )
