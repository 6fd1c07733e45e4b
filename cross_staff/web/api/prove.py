"""POST /api/v1/proof/verdict and /api/v1/drift/diagnose."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.prove.drift import SideGroup, diagnose
from cross_staff.core.prove.lines import ProofShots, Proving, scale_of
from cross_staff.core.prove.verdict import TapeVerdict, judge
from cross_staff.core.rig.priors import Known
from cross_staff.web.api.models import Distance, Distances, Given, PitchDeg, Ratio, RigNumbers, Sd, Strict

router = APIRouter()
MAX_LINES = 300


class LineGiven(Strict):
    distance_m: Distance
    dialled_m: Distance
    up_m: Annotated[float, Field(ge=-20.0, le=20.0)]
    arrows: Annotated[int, Field(ge=1, le=1000)]
    session: Annotated[str, Field(max_length=80)]


class VerdictRequest(Strict):
    rig: RigNumbers
    reference_distance_m: Distance
    tape_ratio: Ratio = 1.0
    lines: Annotated[list[LineGiven], Field(max_length=MAX_LINES)]
    wanted_m: Annotated[Distances, Field(min_length=1, max_length=60)]
    target_m: Annotated[float, Field(gt=0.0, le=20.0)]
    spread_mrad: Annotated[Sd, Field(le=100.0)]
    day_spread_mrad: Annotated[float, Field(ge=0.0, le=100.0)]
    reading_sd_mm: Annotated[float, Field(ge=0.0, le=50.0)] = 0.1
    shift_prior_mm: Annotated[float, Field(ge=0.001, le=100.0)] = 2.0
    stretch_prior: Annotated[float, Field(ge=1e-5, le=1.0)] = 0.03
    next_arrows: Annotated[int, Field(ge=1, le=1000)] = 4
    shootable_m: Annotated[Distances | None, Field(max_length=60)] = None


class RowAnswer(Strict):
    distance_m: float
    up_m: float
    sd_m: float
    chance_within: float


class NextAnswer(Strict):
    distance_m: float
    sd_then_m: float
    may_be_true: float
    may_be_off: float


class MisfitAnswer(Strict):
    value: float
    dof: int
    p: float


class VerdictResponse(Strict):
    verdict: str
    off: bool
    doubt: str
    shift_mm: Given
    stretch: Given
    shift_alone_mm: Given
    rows: list[RowAnswer]
    worst_distance_m: float
    next: NextAnswer | None
    chi2: MisfitAnswer | None
    suspect_lines: list[int]
    moved_after: str | None


@router.post("/proof/verdict")
def proof_verdict(request: VerdictRequest) -> VerdictResponse:
    """Whether a tape that was printed for these figures is true, by the lines that were shot with it."""
    shots = [
        ProofShots(each.distance_m, each.dialled_m, each.up_m, each.arrows, each.session) for each in request.lines
    ]
    asked = Proving(
        tuple(request.wanted_m),
        request.target_m,
        request.spread_mrad,
        request.day_spread_mrad,
        request.reading_sd_mm,
        request.shift_prior_mm,
        request.stretch_prior,
        request.next_arrows,
        tuple(request.shootable_m or ()),
    )
    try:
        told = judge(scale_of(request.rig.figures(), request.reference_distance_m, request.tape_ratio), shots, asked)
    except OutOfReach as error:
        raise InvalidValue("rig", str(error)) from error
    return _answer(told)


def _answer(told: TapeVerdict) -> VerdictResponse:
    misfit, following = told.misfit, told.next
    return VerdictResponse(
        verdict=told.kind,
        off=told.off,
        doubt=told.doubt,
        shift_mm=_given(told.shift_mm),
        stretch=_given(told.stretch),
        shift_alone_mm=_given(told.shift_alone_mm),
        rows=[
            RowAnswer(distance_m=r.distance_m, up_m=r.up_m, sd_m=r.sd_m, chance_within=r.chance_within)
            for r in told.rows
        ],
        worst_distance_m=told.worst_m,
        next=None
        if following is None
        else NextAnswer(
            distance_m=following.distance_m,
            sd_then_m=following.sd_then_m,
            may_be_true=following.may_be_true,
            may_be_off=following.may_be_off,
        ),
        chi2=None if misfit is None else MisfitAnswer(value=misfit.value, dof=misfit.dof, p=misfit.p),
        suspect_lines=list(told.suspects),
        moved_after=told.moved_after or None,
    )


def _given(known: Known) -> Given:
    return Given(value=known.value, sd=known.sd)


class SideGiven(Strict):
    distance_m: Distance
    pitch_deg: PitchDeg
    right_m: Annotated[float, Field(ge=-20.0, le=20.0)]
    right_se_m: Annotated[Sd, Field(ge=1e-5, le=20.0)]


class DriftRequest(Strict):
    rig: RigNumbers
    reference_distance_m: Distance
    groups: Annotated[list[SideGiven], Field(min_length=1, max_length=MAX_LINES)]


class TermsAnswer(Strict):
    windage_mrad: Given | None
    offset_mm: Given | None
    lean_deg: Given | None
    third_axis_deg: Given | None


class CauseAnswer(Strict):
    cause: str
    chance: float
    why: str
    check: str


class DriftMisfit(Strict):
    value: float
    dof: int
    p: float | None


class DriftResponse(Strict):
    terms: TermsAnswer
    undetermined: list[str]
    verdicts: list[CauseAnswer]
    chi2: DriftMisfit


@router.post("/drift/diagnose")
def drift_diagnose(request: DriftRequest) -> DriftResponse:
    """What groups left and right of their aim say at different distances and slopes."""
    groups = [
        SideGroup(each.distance_m, math.radians(each.pitch_deg), each.right_m, each.right_se_m)
        for each in request.groups
    ]
    try:
        told = diagnose(request.rig.figures(), request.reference_distance_m, groups)
    except OutOfReach as error:
        raise InvalidValue("groups", str(error)) from error
    units = {"windage": 1e3, "offset": 1e3, "lean": math.degrees(1.0), "third_axis": math.degrees(1.0)}
    names = dict(zip(units, TermsAnswer.model_fields))
    values = {
        names[name]: None
        if known is None
        else Given(value=known.value * units[name], sd=(known.sd or 0.0) * units[name])
        for name, known in told.terms.items()
    }
    return DriftResponse(
        terms=TermsAnswer(**values),
        undetermined=[names[name] for name in told.undetermined],
        verdicts=[
            CauseAnswer(cause=each.cause, chance=each.chance, why=each.why, check=each.check) for each in told.causes
        ],
        chi2=DriftMisfit(value=told.chi2, dof=told.dof, p=told.p),
    )
