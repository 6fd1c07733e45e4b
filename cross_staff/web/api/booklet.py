"""POST /api/v1/booklet/match."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.booklet import Strip
from cross_staff.core.tape.booklet import match
from cross_staff.web.api.models import Distance, Ratio, RigNumbers, Strict

router = APIRouter()
NO_SPEED = "no arrow speed between 20 and 200 m/s gives this strip, or the arrow does not get there"


class StripGiven(Strict):
    label: Annotated[str, Field(min_length=1, max_length=40)]
    order: Annotated[float, Field(ge=-10000.0, le=10000.0)]
    span_mm: Annotated[float, Field(gt=0.0, le=1000.0)]


class MatchRequest(Strict):
    rig: RigNumbers
    from_m: Distance
    to_m: Distance
    strips: Annotated[list[StripGiven], Field(min_length=2, max_length=500)]
    farthest_m: Distance
    tape_ratio: Ratio = 1.0


class StripChoiceAnswer(Strict):
    label: str
    order: float
    span_mm: float
    error_at_farthest_m: float | None
    measured: bool
    problem: str | None = None


class MatchResponse(Strict):
    span_mm: float
    exact_order: float
    beyond_measured: bool
    choices: list[StripChoiceAnswer]


@router.post("/booklet/match")
def booklet_match(request: MatchRequest) -> MatchResponse:
    """Which strip of a booklet fits, the nearest first, with what each costs at the farthest distance."""
    strips = [Strip(strip.label, strip.order, strip.span_mm) for strip in request.strips]
    try:
        made = match(
            request.rig.figures(), request.from_m, request.to_m, strips, request.farthest_m, request.tape_ratio
        )
    except OutOfReach as error:
        raise InvalidValue("to_m", str(error)) from error
    return MatchResponse(
        span_mm=made.span_mm,
        exact_order=made.exact_order,
        beyond_measured=made.beyond,
        choices=[
            StripChoiceAnswer(
                label=choice.label,
                order=choice.order,
                span_mm=choice.span_mm,
                error_at_farthest_m=choice.up_m,
                measured=choice.measured,
                problem=NO_SPEED if choice.up_m is None else None,
            )
            for choice in made.choices
        ],
    )
