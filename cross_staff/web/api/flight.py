"""POST /api/v1/flight/marks."""

from __future__ import annotations

import math

from fastapi import APIRouter

from cross_staff.core.ballistics import sightline
from cross_staff.core.ballistics.slope import level_distances
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.web.api.models import Distance, Distances, PitchDeg, Ratio, RigNumbers, Strict

router = APIRouter()
OUT_OF_REACH = "out of reach of this arrow at this slope"
ABOVE_TURNOVER = "no level distance has this pin height: dial the turnover mark and expect a miss"


class MarksRequest(Strict):
    rig: RigNumbers
    reference_distance_m: Distance
    distances_m: Distances
    pitch_deg: PitchDeg = 0.0
    tape_ratio: Ratio = 1.0


class MarkRow(Strict):
    distance_m: float
    mark_mm: float | None = None
    pin_height_mm: float | None = None
    time_s: float | None = None
    speed_mps: float | None = None
    equivalent_distance_m: float | None = None
    problem: str | None = None


class MarksResponse(Strict):
    turnover_distance_m: float
    marks: list[MarkRow]


@router.post("/flight/marks")
def flight_marks(request: MarksRequest) -> MarksResponse:
    """Marks, pin heights, times and equivalent level distances, in the order asked."""
    figures, slope = request.rig.figures(), math.radians(request.pitch_deg)
    turnover = sightline.turnover_distance(figures)
    try:
        marks = sightline.marks(figures, request.reference_distance_m, request.distances_m, slope, request.tape_ratio)
    except OutOfReach as error:
        raise InvalidValue("reference_distance_m", str(error)) from error
    equivalents = level_distances(figures, request.distances_m, [slope] * len(request.distances_m))
    rows = [
        _row(distance, mark, equivalent) for distance, mark, equivalent in zip(request.distances_m, marks, equivalents)
    ]
    return MarksResponse(turnover_distance_m=turnover, marks=rows)


def _row(distance: float, mark: sightline.Mark | None, equivalent: float | None) -> MarkRow:
    if mark is None:
        return MarkRow(distance_m=distance, problem=OUT_OF_REACH)
    return MarkRow(
        distance_m=distance,
        mark_mm=mark.mark_mm,
        pin_height_mm=1000.0 * mark.pin_height_m,
        time_s=mark.time_s,
        speed_mps=mark.speed_mps,
        equivalent_distance_m=equivalent,
        problem=None if equivalent is not None else ABOVE_TURNOVER,
    )
