"""Taps on a photo as a form sends them, and the places that a page asks for."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.photos.plane import Point
from cross_staff.core.photos.uses import DISC, LENGTH_M, LINE, MOST_TAPS, SHEET, Use
from cross_staff.web.forms.form import FormInput

SCALE_TAPS = "scale_taps"
SCALES = {
    SHEET: "a flat rectangle, by its corners",
    DISC: "something round, by its rim",
    LINE: "a length between two points",
}
SCALE_WORDS = {
    SHEET: "the corners of the rectangle, clockwise from its upper left",
    DISC: "its rim at twelve, three, six and nine o'clock",
    LINE: "the two ends of the known length",
}
OWN_LENGTHS = {"peep": ("The arrow, nock to front end",)}
LENGTHS = {SHEET: ("Its width", "Its height"), DISC: ("Its diameter",), LINE: ("The length",)}


@dataclass(frozen=True)
class Place:
    """A row of the list beside a photo: the field that holds its taps, what is to be tapped, how many at most, a letter
    on the picture; whether it may be left out."""

    key: str
    words: str
    most: int = 1
    letter: str = ""
    optional: bool = False


def scale_place(kind: str, words: str = "") -> Place:
    """The row of a scale's own taps."""
    return Place(SCALE_TAPS, words or SCALE_WORDS[kind], 2 if kind == LINE else 4, "S")


def places_of(use: Use, kind: str) -> list[Place]:
    """The rows of a use, its scale first."""
    rows = [] if use.own_line and kind == LINE else [scale_place(kind)]
    for letter, tap in zip("ABCDEFG", use.taps):
        rows.append(Place(f"tap_{tap.key}", tap.words, MOST_TAPS if tap.many else 1, letter, tap.optional))
    return rows


def lengths_of(form: FormInput, kind: str, quantity: str) -> list[float]:
    """What is known of a scale [m], typed as a quantity; what is missing is an error at its field."""
    sides = []
    for number in range(1, len(LENGTHS[kind]) + 1):
        side = form.number(f"length_{number}", quantity, LENGTH_M)
        if side is None:
            form.errors.setdefault(f"length_{number}", "type what is known of it")
        sides.append(side or 0.0)
    return sides


def points_of(form: FormInput, field: str) -> tuple[Point, ...]:
    """The taps of a row, “x y; x y”; what cannot be read is an error at the field."""
    text, points = form.typed.get(field, "").strip(), []
    for part in filter(None, (each.strip() for each in text.split(";"))):
        numbers = part.replace(",", " ").split()
        try:
            x, y = (float(number) for number in numbers)
        except ValueError:
            form.errors[field] = f"“{part[:30]}” is no place on the photo: from the left and from the top, in points"
            return ()
        if not (math.isfinite(x) and math.isfinite(y)):
            form.errors[field] = f"“{part[:30]}” is no place on the photo"
            return ()
        points.append((x, y))
    if len(points) > MOST_TAPS:
        form.errors[field] = f"are {len(points)} places: {MOST_TAPS} at most, the rest as another end"
    return tuple(points)


def text_of(points: tuple[Point, ...] | list[Point]) -> str:
    """Taps as a row's field holds them."""
    return "; ".join(f"{x:.1f} {y:.1f}" for x, y in points)
