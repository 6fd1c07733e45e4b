"""What was taken from an instrument into a field: the value as it stood there, and where it came from."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, get_args

from cross_staff.core.errors import InvalidValue

MOST_TEXT, MOST_NAME, MOST_KEY = 400, 80, 80
Kind = Literal["chronograph", "inclinometer", "rangefinder", "scale", "caliper"]
Figure = Literal["speed", "pitch", "roll", "distance", "slope", "mass", "length"]
# of each kind of instrument, the figures that it gives
GIVES: dict[Kind, tuple[Figure, ...]] = {
    "chronograph": ("speed",),
    "inclinometer": ("pitch", "roll"),
    "rangefinder": ("distance", "slope"),
    "scale": ("mass",),
    "caliper": ("length",),
}
FIGURES = get_args(Figure)
# how old a reading may be that is taken [s]: a shot is kept until one is back from the range, a tilt is of this moment
FRESH_S: dict[Figure, float] = {
    "speed": 900.0,
    "pitch": 3.0,
    "roll": 3.0,
    "distance": 60.0,
    "slope": 60.0,
    "mass": 20.0,
    "length": 20.0,
}


@dataclass(frozen=True)
class Taken:
    """A reading in a field of a station: in which entry of its log (empty where the field stands on the card), the text
    as it stood in the field, the instrument's name, which figure it gave, its value and last digit in the SI unit
    [m/s, rad, m, kg], its number, and when."""

    station: str
    entry: str
    field: str
    text: str
    instrument: str
    figure: str
    value_si: float
    resolution_si: float
    sequence: int
    taken: datetime


def check_taken(taken: Taken) -> None:
    """Refuse what no instrument can have given.

    Args:
        taken: as it was sent or read.

    Returns:
        Nothing.

    Raises:
        InvalidValue: a figure that is none, a number that is not finite, a text that is too long.

    Source:
        docs/instruments.md.
    """
    if taken.figure not in FIGURES:
        raise InvalidValue("figure", f"one of {', '.join(FIGURES)}")
    if not math.isfinite(taken.value_si) or abs(taken.value_si) > 1e6:
        raise InvalidValue("value_si", "a finite number")
    if not 0.0 < taken.resolution_si <= 1e3:
        raise InvalidValue("resolution_si", "more than 0")
    if not 0 <= taken.sequence <= 2**53:
        raise InvalidValue("sequence", "a whole number, not below 0")
    for name, most in {
        "text": MOST_TEXT,
        "instrument": MOST_NAME,
        "entry": MOST_KEY,
        "field": MOST_KEY,
        "station": MOST_KEY,
    }.items():
        if len(getattr(taken, name)) > most:
            raise InvalidValue(name, f"at most {most} letters")
    for name in ("text", "instrument", "field", "station"):
        if not getattr(taken, name).strip():
            raise InvalidValue(name, "must not be empty")
