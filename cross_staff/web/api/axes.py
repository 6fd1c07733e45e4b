"""POST /api/v1/axes/solve and /api/v1/axes/cost."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.ballistics.cant import Case, cost
from cross_staff.core.level import axes
from cross_staff.core.level.axes import AXES, AxisReading, Solved
from cross_staff.web.api.models import MAX_ROWS, Distance, PitchDeg, RigNumbers, Sd, Strict

router = APIRouter()
Tilt = Annotated[float, Field(ge=-30.0, le=30.0)]
Axis = Annotated[float, Field(ge=-30.0, le=30.0)]
OUT_OF_REACH = "out of reach of this arrow at this slope"


class PitchReading(Strict):
    pitch_deg: PitchDeg
    sight_deg: Tilt
    reference_deg: Tilt
    sd_deg: Sd


class RailReading(Strict):
    pitch_deg: PitchDeg
    rail_deg: Tilt
    reference_deg: Tilt
    sd_deg: Sd


class Yaw(Strict):
    value: Annotated[float, Field(ge=-30.0, le=30.0)] = 0.0
    sd: Annotated[float, Field(ge=0.0, le=30.0)] = 0.0


class SolveRequest(Strict):
    pitch_readings: Annotated[list[PitchReading], Field(max_length=MAX_ROWS)] = []
    rail_readings: Annotated[list[RailReading], Field(max_length=MAX_ROWS)] = []
    reference_yaw_deg: Yaw = Yaw()


class SolvedAxis(Strict):
    value: float
    sd: float


class Chi2(Strict):
    value: float
    dof: int
    p: float | None


class SlipAnswer(Strict):
    index: int
    slip: str


class SolveResponse(Strict):
    first_axis_deg: SolvedAxis | None
    second_axis_deg: SolvedAxis | None
    third_axis_deg: SolvedAxis | None
    undetermined: list[str]
    chi2: Chi2
    suspect_readings: list[int]
    slips: list[SlipAnswer]
    best_next_pitch_deg: float


@router.post("/axes/solve")
def solve_axes(request: SolveRequest) -> SolveResponse:
    """The three axes from readings at any mix of pitches. Suspects count the pitch readings first,
    then the rail's."""
    readings = [_reading(r.pitch_deg, r.sight_deg, r.reference_deg, r.sd_deg) for r in request.pitch_readings]
    readings += [_reading(r.pitch_deg, r.rail_deg, r.reference_deg, r.sd_deg, True) for r in request.rail_readings]
    yaw = request.reference_yaw_deg
    solution = axes.solve(readings, math.radians(yaw.value), math.radians(yaw.sd))
    first, second, third = (_axis(solution, name) for name in AXES)
    return SolveResponse(
        first_axis_deg=first,
        second_axis_deg=second,
        third_axis_deg=third,
        undetermined=list(solution.undetermined),
        chi2=Chi2(value=solution.chi2, dof=solution.degrees_of_freedom, p=solution.p_value),
        suspect_readings=[slip.index for slip in solution.slips],
        slips=[SlipAnswer(index=slip.index, slip=slip.slip) for slip in solution.slips],
        best_next_pitch_deg=math.degrees(solution.best_next_pitch_rad),
    )


def _reading(pitch: float, vial: float, reference: float, sd: float, rail: bool = False) -> AxisReading:
    return AxisReading(math.radians(pitch), math.radians(vial), math.radians(reference), math.radians(sd), rail)


def _axis(solved: Solved, name: str) -> SolvedAxis | None:
    axis = solved.axes[name]
    if not axis.determined:
        return None
    return SolvedAxis(value=math.degrees(axis.value_rad), sd=math.degrees(axis.sd_rad))


class CostCase(Strict):
    distance_m: Distance
    pitch_deg: PitchDeg


class CostRequest(Strict):
    rig: RigNumbers
    second_axis_deg: Axis
    third_axis_deg: Axis
    cases: Annotated[list[CostCase], Field(max_length=MAX_ROWS)]


class CostRowAnswer(Strict):
    distance_m: float
    pitch_deg: float
    false_cant_deg: float | None = None
    right_m: float | None = None
    up_m: float | None = None
    problem: str | None = None


class CostResponse(Strict):
    cases: list[CostRowAnswer]


@router.post("/axes/cost")
def axes_cost(request: CostRequest) -> CostResponse:
    """What second and third axis cost at each target, against the same bow held truly plumb."""
    cases = [Case(c.distance_m, math.radians(c.pitch_deg)) for c in request.cases]
    second, third = math.radians(request.second_axis_deg), math.radians(request.third_axis_deg)
    rows = []
    for asked, shift in zip(request.cases, cost(request.rig.figures(), second, third, cases)):
        row = CostRowAnswer(distance_m=asked.distance_m, pitch_deg=asked.pitch_deg, problem=OUT_OF_REACH)
        if shift is not None:
            row = CostRowAnswer(
                distance_m=asked.distance_m,
                pitch_deg=asked.pitch_deg,
                false_cant_deg=math.degrees(shift.cant_rad),
                right_m=shift.right_m,
                up_m=shift.up_m,
            )
        rows.append(row)
    return CostResponse(cases=rows)
