"""The protocol of the instruments, version 1: one JSON object a line, over TCP (docs/instruments.md).

An instrument listens; the shop connects. Each figure has one unit, so that no line can be read in two ways: speeds in
m/s, angles in degrees, distances in m, masses in g, lengths in mm. What is not of this kind is refused, never guessed.
"""

from __future__ import annotations

import json
import math
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError, model_validator

from cross_staff.core.rig.taken import Figure, Kind

PROTOCOL = "cross-staff-instrument/1"
MOST_LINE = 4096  # bytes of a line, its end included
# of each figure: its unit on the wire, and how much of the SI unit that is
UNITS: dict[Figure, tuple[str, float]] = {
    "speed": ("m/s", 1.0),
    "pitch": ("deg", math.radians(1.0)),
    "roll": ("deg", math.radians(1.0)),
    "slope": ("deg", math.radians(1.0)),
    "distance": ("m", 1.0),
    "mass": ("g", 1e-3),
    "length": ("mm", 1e-3),
}
_Words = Annotated[str, Field(max_length=200)]


class _Message(BaseModel):
    """A line of the protocol; what a later version adds to it is passed over."""

    model_config = ConfigDict(strict=True, allow_inf_nan=False, extra="ignore", frozen=True)


class Hello(_Message):
    """The first line of either side: who it is, and what it speaks."""

    type: Literal["hello"] = "hello"
    protocol: str = Field(max_length=80)
    name: str = Field("", max_length=80)
    kind: Kind | None = None


_IN_ITS_UNIT: list[Any] = [
    {"if": {"properties": {"kind": {"const": kind}}}, "then": {"properties": {"unit": {"const": unit}}}}
    for kind, (unit, _) in UNITS.items()
]


class Reading(_Message):
    """One figure, in its own unit. `time` is in seconds since the instrument was switched on; `sequence` grows with
    every look, and figures of one look (distance and slope, pitch and roll) share it."""

    model_config = _Message.model_config | ConfigDict(json_schema_extra={"allOf": _IN_ITS_UNIT})

    type: Literal["reading"] = "reading"
    kind: Figure
    value: float = Field(ge=-1e6, le=1e6)
    unit: str = Field(max_length=20)
    resolution: float = Field(gt=0.0, le=1e3)
    time: float = Field(ge=0.0, le=1e9)
    sequence: int = Field(ge=0, le=2**53)

    @model_validator(mode="after")
    def _in_its_unit(self) -> Reading:
        unit = UNITS[self.kind][0]
        if self.unit != unit:
            raise ValueError(f"a {self.kind} is sent in {unit}")
        return self

    @property
    def si(self) -> float:
        """The figure in the SI unit [m/s, rad, m, kg]."""
        return self.value * UNITS[self.kind][1]


class Status(_Message):
    """How the instrument is: while it is not ready, its figures are shown and not taken."""

    type: Literal["status"] = "status"
    state: Literal["ready", "warming", "resting"]
    says: _Words = ""


class Trouble(_Message):
    """The instrument cannot measure, and says why."""

    type: Literal["error"] = "error"
    says: _Words


Line = Annotated[Hello | Reading | Status | Trouble, Field(discriminator="type")]
LINE: TypeAdapter[Hello | Reading | Status | Trouble] = TypeAdapter(Line)


class BadLine(ValueError):
    """A line that is not of the protocol; the message says why, shortly."""


def parse(line: bytes) -> Hello | Reading | Status | Trouble:
    """What a line says.

    Args:
        line: the bytes of one line, without its end.

    Returns:
        The message; figures are finite, each in its unit.

    Raises:
        BadLine: not JSON, not an object of the protocol, not a number, another unit, too long.

    Source:
        docs/instruments.md.
    """
    if len(line) > MOST_LINE:
        raise BadLine(f"longer than {MOST_LINE} bytes")
    try:
        told = json.loads(line, parse_constant=_no_number)
    except (ValueError, RecursionError) as error:
        raise BadLine(str(error) if isinstance(error, BadLine) else "not JSON") from error
    try:
        return LINE.validate_python(told)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        place = ".".join(str(part) for part in first["loc"][1:])
        raise BadLine(": ".join(filter(None, (place, first["msg"].removeprefix("Value error, ")))).lower()) from error


def line_of(message: _Message) -> bytes:
    """A message as a line, its end included."""
    return json.dumps(message.model_dump(exclude_none=True), allow_nan=False).encode() + b"\n"


def schema() -> dict[str, Any]:
    """The JSON schema of every line."""
    told = LINE.json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": PROTOCOL} | told


def _no_number(name: str) -> None:
    raise BadLine(f"{name} is no number")
