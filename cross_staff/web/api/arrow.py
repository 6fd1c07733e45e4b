"""POST /api/v1/arrow/build."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.ballistics import arrow
from cross_staff.web.api.models import MAX_ROWS, Strict

router = APIRouter()


class ComponentIn(Strict):
    name: Annotated[str, Field(max_length=80)]
    mass_g: Annotated[float, Field(ge=0.0, le=1000.0)]
    centre_from_throat_m: Annotated[float, Field(ge=-0.2, le=2.0)]


class BuildRequest(Strict):
    shaft_length_m: Annotated[float, Field(ge=0.1, le=2.0)]
    shaft_g_per_m: Annotated[float, Field(ge=0.0, le=1000.0)]
    components: Annotated[list[ComponentIn], Field(max_length=MAX_ROWS)]


class BuildResponse(Strict):
    mass_g: float
    balance_from_throat_m: float
    foc_percent: float


@router.post("/arrow/build")
def arrow_build(request: BuildRequest) -> BuildResponse:
    """Mass, balance point and front of centre of an arrow build."""
    parts = [arrow.Component(part.name, part.mass_g / 1000.0, part.centre_from_throat_m) for part in request.components]
    balance = arrow.balance(request.shaft_length_m, request.shaft_g_per_m / 1000.0, parts)
    return BuildResponse(
        mass_g=1000.0 * balance.mass_kg,
        balance_from_throat_m=balance.balance_from_throat_m,
        foc_percent=balance.foc_percent,
    )
