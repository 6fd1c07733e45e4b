"""What the calculators take and give (see the contract in the OpenAPI page)."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ranges import Range

MAX_ROWS = 500


def _within(span: Range, scale: float = 1.0) -> object:
    return Field(ge=span.low / scale, le=span.high / scale)


Speed = Annotated[float, _within(ranges.SPEED_MPS)]
Drag = Annotated[float, _within(ranges.DRAG_PER_M)]
EyeToSight = Annotated[float, _within(ranges.EYE_TO_SIGHT_M)]
PeepHeight = Annotated[float, _within(ranges.PEEP_HEIGHT_M)]
Distance = Annotated[float, _within(ranges.DISTANCE_M)]
PitchDeg = Annotated[float, _within(ranges.PITCH_RAD, math.radians(1.0))]
Sd = Annotated[float, Field(gt=0.0)]
Ratio = Annotated[float, Field(ge=0.01, le=100.0)]
Distances = Annotated[list[Distance], Field(max_length=MAX_ROWS)]


class Strict(BaseModel):
    """No words for numbers, no infinities, no unknown fields passed over in silence."""

    model_config = ConfigDict(strict=True, allow_inf_nan=False, extra="forbid")


class RigNumbers(Strict):
    """The four figures of a rig with one arrow build."""

    speed_mps: Speed
    drag_per_m: Drag
    eye_to_sight_m: EyeToSight
    peep_height_m: PeepHeight

    def figures(self) -> RigFigures:
        return RigFigures(self.speed_mps, self.drag_per_m, self.eye_to_sight_m, self.peep_height_m)


class Given(Strict):
    """A figure with its uncertainty, one standard deviation."""

    value: float
    sd: float | None


class GivenLog(Strict):
    """A figure with the standard deviation of its logarithm."""

    value: float
    sd_ln: float
