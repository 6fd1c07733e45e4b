"""POST /api/v1/pins/stack and POST /api/v1/cut-chart."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.ballistics.flight import Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.ballistics.slope import level_distances
from cross_staff.core.errors import InvalidValue
from cross_staff.core.tape.pin_choice import MOST_PINS
from cross_staff.core.tape.pins import ABOVE_TURNOVER, stack_rows
from cross_staff.web.api.flight import ABOVE_TURNOVER as NO_LEVEL
from cross_staff.web.api.flight import OUT_OF_REACH
from cross_staff.web.api.models import MAX_ROWS, Distance, Distances, PitchDeg, RigNumbers, Strict

router = APIRouter()
_WORDS = {ABOVE_TURNOVER: "stands above the turnover, and is right for no distance", "": None}


class PinGiven(Strict):
    name: Annotated[str, Field(min_length=1, max_length=80)]
    distance_m: Distance


class StackRequest(Strict):
    rig: RigNumbers
    reference_distance_m: Distance
    pins: Annotated[list[PinGiven], Field(min_length=1, max_length=MOST_PINS)]
    dialled_pin: str
    dial_to_m: Distance


class PinRowAnswer(Strict):
    name: str
    distance_m: float
    below_reference_mm: float | None
    gap_to_next_mm: float | None
    distance_now_m: float | None
    problem: str | None = None


class StackResponse(Strict):
    pins: list[PinRowAnswer]


@router.post("/pins/stack")
def pins_stack(request: StackRequest) -> StackResponse:
    """The pins of a sight in their housing, and what each is worth once one of them is dialled."""
    pins = [(pin.name, pin.distance_m) for pin in request.pins]
    stack = stack_rows(
        request.rig.figures(), request.reference_distance_m, pins, request.dialled_pin, request.dial_to_m
    )
    return StackResponse(
        pins=[
            PinRowAnswer(
                name=row.name,
                distance_m=row.distance_m,
                below_reference_mm=_mm(row.below_m),
                gap_to_next_mm=_mm(row.gap_to_next_m),
                distance_now_m=row.distance_now_m,
                problem=_WORDS.get(row.problem, OUT_OF_REACH),
            )
            for row in stack
        ]
    )


def _mm(metres: float | None) -> float | None:
    return None if metres is None else 1000.0 * metres


class CutRequest(Strict):
    rig: RigNumbers
    distances_m: Distances
    pitches_deg: Annotated[list[PitchDeg], Field(max_length=MAX_ROWS)]


class CutRow(Strict):
    distance_m: float
    pitch_deg: float
    equivalent_distance_m: float | None
    problem: str | None = None


class CutResponse(Strict):
    rows: list[CutRow]


@router.post("/cut-chart")
def cut_chart(request: CutRequest) -> CutResponse:
    """The level distance to dial for every distance at every pitch, pitch by pitch."""
    if len(request.distances_m) * len(request.pitches_deg) > MAX_ROWS:
        raise InvalidValue("pitches_deg", f"make more than {MAX_ROWS} rows with these distances")
    asked = [(d, p) for p in request.pitches_deg for d in request.distances_m]
    if not asked:
        return CutResponse(rows=[])
    figures = request.rig.figures()
    distances, slopes = [d for d, _ in asked], [math.radians(p) for _, p in asked]
    chart = level_distances(figures, distances, slopes)
    reached = pin_heights(Trajectories.of(figures, distances, slopes)).reached
    return CutResponse(
        rows=[
            CutRow(
                distance_m=d,
                pitch_deg=p,
                equivalent_distance_m=level,
                problem=None if level is not None else NO_LEVEL if ok else OUT_OF_REACH,
            )
            for (d, p), level, ok in zip(asked, chart, reached)
        ]
    )
