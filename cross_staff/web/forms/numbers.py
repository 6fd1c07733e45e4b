"""Reading numbers as people type them: decimal commas, units behind, pasted lists."""

from __future__ import annotations

import re
from dataclasses import dataclass

from cross_staff.web.forms.units import CHOICES, Unit, Units

# no two parts of it can take the same letters, and it sees a stripped text of few letters: never slow
_NUMBER = re.compile(r"([+\-−]?) ?([0-9]+(?:[.,][0-9]*)?|[.,][0-9]+) ?([^\d\s.,+\-−][^\d]*)?")
MOST_LETTERS = 60
_INCH_MM, _OF_A_STEP = 25.4, 0.29  # one sd of what is read to a whole step
MOST_LIST = 4000
_ALIASES = {
    "m/s": "mps",
    "ms": "mps",
    "ft/s": "fps",
    "yard": "yd",
    "yards": "yd",
    "yds": "yd",
    "y": "yd",
    "metre": "m",
    "metres": "m",
    "meter": "m",
    "meters": "m",
    "grain": "gr",
    "grains": "gr",
    "grs": "gr",
    "gram": "g",
    "grams": "g",
    '"': "in",
    "″": "in",
    "inch": "in",
    "inches": "in",
    "°": "deg",
    "degree": "deg",
    "degrees": "deg",
    "%": "percent",
}
_SPELT = {"in": "inches", "yd": "yards"}


class NotANumber(ValueError):
    """What was typed is not a number; the message says so in words."""


@dataclass(frozen=True)
class Typed:
    """A number in SI units, and a note when it was read in a way worth saying."""

    value: float
    note: str = ""


def read(text: str, quantity: str, units: Units) -> Typed:
    """Read one number of a quantity; a unit typed behind it is honoured.

    Raises: NotANumber with a message for the person who typed it.
    """
    short = _squeezed(text, MOST_LETTERS)
    match = _NUMBER.fullmatch(short) if short is not None else None
    if not match:
        raise NotANumber(f"“{_short(text)}” is not a number: type figures, like 12.5")
    sign, digits, suffix = match.groups()
    value = float(digits.replace(",", ".")) * (-1.0 if sign in ("-", "−") else 1.0)
    unit = units.unit(quantity)
    note = f"read as {digits.replace(',', '.')}" if "," in digits else ""
    if suffix:
        unit = _unit_named(suffix.strip().lower(), quantity, unit, text)
    return Typed(value * unit.si, note)


def _unit_named(name: str, quantity: str, chosen: Unit, text: str) -> Unit:
    key = _ALIASES.get(name, name)
    for unit in (chosen, *CHOICES.get(quantity, ())):
        if key in (unit.key, unit.label):
            return unit
    raise NotANumber(
        f"“{_short(text)}” has a unit that does not belong here: this field is in "
        f"{_SPELT.get(chosen.label, chosen.label) or 'plain figures'}"
    )


def read_list(text: str, quantity: str, units: Units) -> list[Typed]:
    """Read numbers set apart by spaces, semicolons, new lines, or commas with a space behind.

    A comma inside a number is its decimal sign, unless the piece holds several of them; each number
    may have its unit behind it.
    Raises: NotANumber naming the piece.
    """
    pieces: list[str] = []
    words = {unit.label for unit in CHOICES.get(quantity, ())}
    behind = re.compile(rf"(\d) ({'|'.join(map(re.escape, words))})(?![^\s,;])", re.IGNORECASE)
    squeezed = _squeezed(text, MOST_LIST)
    if squeezed is None:
        raise NotANumber(f"is too long: at most {MOST_LIST} letters")
    for piece in re.split(r"[ ;]+|, ", behind.sub(r"\1\2", squeezed)):
        piece = piece.strip(",")
        pieces += piece.split(",") if piece.count(",") > 1 else [piece]
    return [read(piece, quantity, units) for piece in pieces if piece]


def read_height(text: str, units: Units) -> Typed:
    """How high or low arrows came in: a sign, or the words high and low; up is positive."""
    words = text[: 2 * MOST_LETTERS].strip().lower()
    for word, sign in (("high", 1.0), ("up", 1.0), ("low", -1.0), ("down", -1.0)):
        if words.endswith(word):
            typed = read(words[: -len(word)], "offset", units)
            return Typed(sign * abs(typed.value), typed.note)
    return read(words, "offset", units)


_INCH = r' ?(?:in|inch|inches|"|″)'
_FRACTION = r"(?:([0-9]{1,3})[ -])?([0-9]{1,3})/([0-9]{1,3})"
_INCHES = re.compile(rf"{_FRACTION}(?:{_INCH})?|([0-9]{{0,3}}[.,]?[0-9]{{1,6}}){_INCH}")


def read_length_mm(text: str, units: Units) -> tuple[Typed, float | None]:
    """A length in millimetres, or in inches, whole, decimal or as a fraction: "34.6", "1 3/8 in", "1.36 in".

    Returns: the length, and the sd of what was read as a fraction [mm], None for a decimal.
    Raises: NotANumber.
    """
    short = _squeezed(text, MOST_LETTERS)
    match = _INCHES.fullmatch(short.lower()) if short is not None else None
    if match is None:
        return read(text, "mark", units), None
    whole, part, of, decimal = match.groups()
    if decimal:
        inches = float(decimal.replace(",", "."))
        return Typed(_INCH_MM * inches, f"read as {_INCH_MM * inches:.2f} mm"), None
    if not int(of):
        raise NotANumber(f"“{_short(text)}” is not a number: type figures, like 34.6 or 1 3/8 in")
    inches = int(whole or 0) + int(part) / int(of)
    return Typed(_INCH_MM * inches, f"read as {_INCH_MM * inches:.2f} mm"), _INCH_MM / int(of) * _OF_A_STEP


def read_count(text: str) -> int:
    """A whole number of arrows. Raises: NotANumber."""
    if not re.fullmatch(r"[0-9]{1,3}", text.strip()):
        raise NotANumber(f"“{_short(text)}” is not a count of arrows: type a whole number")
    return int(text)


def _squeezed(text: str, most: int) -> str | None:
    """A text with each run of blanks as one, none at its ends; None where more than `most` letters are left."""
    words = text.split()
    squeezed = " ".join(words)
    return squeezed if len(squeezed) <= most else None


def _short(text: str) -> str:
    text = text.strip()
    return text if len(text) <= 24 else f"{text[:24]}…"
