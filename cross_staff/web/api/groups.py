"""The group calculator: is the offset real, and what moves it away."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel, Field

from cross_staff.core.estimation.groups import MOST_OFF_M, GroupStatistics, Shot, analyse
from cross_staff.web.api.models import Distance, EyeToSight, Strict

router = APIRouter()
FREEDOM_PART = 5.0 / 6.0  # of the arrows that a spread rests on: shot six at a time, each end about its own middle


class ShotQuestion(Strict):
    right_m: float = Field(ge=-MOST_OFF_M, le=MOST_OFF_M, allow_inf_nan=False)
    up_m: float = Field(ge=-MOST_OFF_M, le=MOST_OFF_M, allow_inf_nan=False)
    called_bad: bool = False


class GroupRequest(Strict):
    distance_m: Distance
    eye_to_sight_m: EyeToSight
    shots: list[ShotQuestion] = Field(max_length=500)
    ready_radius_m: float = Field(gt=0.0, le=5.0, allow_inf_nan=False)
    known_spread_mrad: float | None = Field(None, gt=0.0, le=100.0, allow_inf_nan=False)
    known_spread_arrows: int = Field(30, ge=2, le=100_000)


class Pair(BaseModel):
    right_m: float
    up_m: float


class Beyond(BaseModel):
    right: bool
    up: bool


class Movement(BaseModel):
    right: float
    up: float


class GroupAnswer(BaseModel):
    count: int
    mean: Pair | None
    se: Pair | None
    mean_radius_m: float | None
    beyond_chance: Beyond
    p_value: float | None
    move_sight_mm: Movement | None
    suspects: list[int]
    ready: bool
    verdict: str
    shots_to_settle: int | None


@router.post("/groups/analyse")
def groups_analyse(request: GroupRequest) -> GroupAnswer:
    """Mean, its error, whether it is beyond chance, and what to do: called-bad shots are left out of all
    of it."""
    shots = [Shot(shot.right_m, shot.up_m, shot.called_bad) for shot in request.shots]
    spread = request.known_spread_mrad
    known = None if spread is None else 1e-3 * spread * request.distance_m
    freedom = FREEDOM_PART * request.known_spread_arrows
    lever = request.eye_to_sight_m
    return _answer(analyse(shots, request.distance_m, lever, request.ready_radius_m, known, freedom))


def _answer(statistics: GroupStatistics) -> GroupAnswer:
    move = statistics.move_sight_m
    return GroupAnswer(
        count=statistics.count,
        mean=None if statistics.mean_m is None else Pair(right_m=statistics.mean_m[0], up_m=statistics.mean_m[1]),
        se=None if statistics.se_m is None else Pair(right_m=statistics.se_m[0], up_m=statistics.se_m[1]),
        mean_radius_m=statistics.mean_radius_m,
        beyond_chance=Beyond(right=statistics.beyond_chance[0], up=statistics.beyond_chance[1]),
        p_value=statistics.p_value,
        move_sight_mm=None if move is None else Movement(right=1000.0 * move[0], up=1000.0 * move[1]),
        suspects=list(statistics.suspects),
        ready=statistics.ready,
        verdict=statistics.verdict,
        shots_to_settle=statistics.shots_to_settle,
    )
