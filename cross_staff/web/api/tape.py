"""POST /api/v1/tape/fit."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.tape.fit import Fit, TapeRow
from cross_staff.core.tape.forecast import PlannedGroup, next_shot
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solve
from cross_staff.web.api.flight import OUT_OF_REACH
from cross_staff.web.api.models import (
    MAX_ROWS,
    Distance,
    Distances,
    Drag,
    EyeToSight,
    Given,
    GivenLog,
    PeepHeight,
    Ratio,
    Sd,
    Speed,
    Strict,
)

router = APIRouter()
_CANDIDATE_STEP_M = 5.0


class SpeedIn(Given):
    value: Speed
    sd: Sd


class DragIn(GivenLog):
    value: Drag
    sd_ln: Sd


class EyeToSightIn(Given):
    value: EyeToSight
    sd: Sd


class PeepHeightIn(Given):
    value: PeepHeight
    sd: Sd


class RatioIn(Given):
    value: Ratio = 1.0
    sd: Annotated[float, Field(ge=0.0)] | None = 0.0


class MarkIn(Strict):
    distance_m: Distance
    mark_mm: float
    sd_mm: Sd


class GroupIn(Strict):
    distance_m: Distance
    mark_mm: float
    up_m: Annotated[float, Field(ge=-20.0, le=20.0)]
    up_se_m: Annotated[float, Field(ge=0.0)]
    reading_sd_mm: Sd
    session: Annotated[str, Field(min_length=1, max_length=200)] | None = None


class ShotIn(Strict):
    arrows: Annotated[int, Field(ge=1, le=1000)] = 6
    spread_mrad: Annotated[float, Field(gt=0.0, le=1000.0)] = 1.0
    reading_sd_mm: Sd = 0.15


class FitRequest(Strict):
    speed_mps: SpeedIn
    drag_per_m: DragIn
    eye_to_sight_m: EyeToSightIn
    peep_height_m: PeepHeightIn
    tape_ratio: RatioIn = RatioIn()
    reference_distance_m: Distance
    marks: Annotated[list[MarkIn], Field(max_length=MAX_ROWS)] = []
    groups: Annotated[list[GroupIn], Field(max_length=MAX_ROWS)] = []
    day_spread_mrad: Annotated[float, Field(ge=0.0, le=100.0)] = 0.0
    distances_m: Distances
    candidate_distances_m: Distances | None = None
    farthest_distance_m: Distance | None = None
    next_shot: ShotIn = ShotIn()

    def priors(self) -> Priors:
        return Priors(
            Known(self.speed_mps.value, self.speed_mps.sd),
            Known(self.drag_per_m.value, self.drag_per_m.sd_ln),
            Known(self.eye_to_sight_m.value, self.eye_to_sight_m.sd),
            Known(self.peep_height_m.value, self.peep_height_m.sd),
            Known(self.tape_ratio.value, self.tape_ratio.sd),
        )

    def observations(self) -> list[Observation]:
        marks = [Observation(m.distance_m, m.mark_mm, m.sd_mm) for m in self.marks]
        groups = [
            Observation(g.distance_m, g.mark_mm, g.reading_sd_mm, g.up_m, g.up_se_m, "group", session=g.session)
            for g in self.groups
        ]
        return marks + groups


class TapeRowOut(Strict):
    distance_m: float
    mark_mm: float | None
    sd_mm: float | None
    sd_on_target_m: float | None
    problem: str | None = None


class ObservationOut(Strict):
    kind: str
    distance_m: float
    residual_mm: float
    standardised: float
    against_others: float | None
    suspect: bool


class NextShotOut(Strict):
    distance_m: float
    sd_at_farthest_m_now: float
    sd_at_farthest_m_then: float


class Chi2Out(Strict):
    value: float
    dof: int
    p: float | None


class SessionOut(Strict):
    session: str
    offset_mrad: Given


class FitResponse(Strict):
    speed_mps: Given
    drag_per_m: GivenLog
    eye_to_sight_m: Given
    peep_height_m: Given
    tape_ratio: Given
    mark_zero_mm: Given
    tape: list[TapeRowOut]
    observations: list[ObservationOut]
    next_shot: NextShotOut | None
    chi2: Chi2Out
    sessions: list[SessionOut]
    pulls: dict[str, float]


@router.post("/tape/fit")
def tape_fit(request: FitRequest) -> FitResponse:
    """Fit the tape to marks and groups; the tape, residuals, contradictions, the next shot."""
    if len(request.marks) + len(request.groups) > MAX_ROWS:
        raise InvalidValue("groups", f"marks and groups together may be at most {MAX_ROWS} rows")
    fit = solve(
        request.priors(),
        request.reference_distance_m,
        request.observations(),
        day_spread_mrad=request.day_spread_mrad,
    )
    drag = fit.known("drag_per_m")
    return FitResponse(
        speed_mps=_given(fit.known("speed_mps")),
        drag_per_m=GivenLog(value=drag.value, sd_ln=drag.sd or 0.0),
        eye_to_sight_m=_given(fit.known("eye_to_sight_m")),
        peep_height_m=_given(fit.known("peep_height_m")),
        tape_ratio=_given(fit.known("tape_ratio")),
        mark_zero_mm=_given(fit.mark_zero_mm),
        tape=[_tape_row(row) for row in fit.tape(request.distances_m)],
        observations=_observations(fit),
        next_shot=_next_shot(request, fit),
        chi2=Chi2Out(value=fit.chi2, dof=fit.degrees_of_freedom, p=fit.p_value),
        sessions=_sessions(fit),
        pulls=fit.pulls,
    )


def _sessions(fit: Fit) -> list[SessionOut]:
    """What each session's arrows came in high; nought, and surely, where days are not told apart."""
    named = sorted({o.session for o in fit.observations if o.session})
    return [
        SessionOut(session=name, offset_mrad=_given(fit.session_offset(name) if fit.days else Known(0.0, 0.0)))
        for name in named
    ]


def _given(known: Known) -> Given:
    return Given(value=known.value, sd=known.sd)


def _tape_row(row: TapeRow) -> TapeRowOut:
    return TapeRowOut(
        distance_m=row.distance_m,
        mark_mm=row.mark_mm,
        sd_mm=row.sd_mm,
        sd_on_target_m=row.sd_on_target_m,
        problem=OUT_OF_REACH if row.mark_mm is None else None,
    )


def _observations(fit: Fit) -> list[ObservationOut]:
    return [
        ObservationOut(
            kind=observation.kind,
            distance_m=observation.distance_m,
            residual_mm=residual.residual_mm,
            standardised=residual.standardised,
            against_others=residual.against_others,
            suspect=residual.suspect,
        )
        for observation, residual in zip(fit.observations, fit.residuals)
    ]


def _next_shot(request: FitRequest, fit: Fit) -> NextShotOut | None:
    """Weighed over the candidates asked for, or every 5 m up to the farthest distance."""
    known = [*request.distances_m, *(o.distance_m for o in fit.observations)]
    farthest = request.farthest_distance_m or max(known, default=None)
    if farthest is None:
        return None
    candidates = request.candidate_distances_m
    if candidates is None:
        count = int(farthest / _CANDIDATE_STEP_M)
        candidates = [_CANDIDATE_STEP_M * (i + 1) for i in range(count)]
    shot = PlannedGroup(**request.next_shot.model_dump(), day_spread_mrad=request.day_spread_mrad)
    best = next_shot(fit, candidates, farthest, shot)
    if best is None:
        return None
    return NextShotOut(
        distance_m=best.distance_m,
        sd_at_farthest_m_now=best.sd_at_farthest_m_now,
        sd_at_farthest_m_then=best.sd_at_farthest_m_then,
    )
