"""Reading numbers as people type them: fractions, decimal commas, any unit behind, feet and inches, pasted lists."""

from __future__ import annotations

import re
from dataclasses import dataclass

from cross_staff.core.ranges import Range
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.web.forms.units import EXAMPLES, Unit, Units, named, trimmed

# no two parts of them can take the same letters, and they see a stripped text of few letters: never slow
_FIGURES = r"(?:([0-9]{1,4})[ -])?([0-9]{1,4})/([0-9]{1,4})|([0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)"
_UNIT = r"[^\d\s.,;+\-−/½¼¾⅛⅜⅝⅞⅓⅔][^\d,;]*"
_NUMBER = re.compile(rf"([+\-−]?) ?(?:{_FIGURES}) ?({_UNIT})?")
_FEET = re.compile(
    rf"([+\-−]?)([0-9]{{1,4}}) ?(?:ft\.?|feet|foot|['′’]) ?(?:{_FIGURES}) ?(?:in\.?|inch|inches|[\"″”]|'')?"
)
_SIGNS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
MOST_LETTERS = 60
MOST_LIST = 4000
_BOTH = re.compile(r"([0-9]{1,4}),([0-9]{1,4})")
_OF_A_STEP = 0.29  # one sd of what is read to a whole step
_NEAR = 0.1  # two readings of one thing are nearer than this part of it


class NotANumber(ValueError):
    """What was typed is not a number; the message says so in words."""


@dataclass(frozen=True)
class Typed:
    """A number in SI units, a note when it was read in a way worth saying, and the step of the fraction that it was
    read to, in SI units (None for a decimal)."""

    value: float
    note: str = ""
    step: float | None = None


def read(text: str, quantity: str, units: Units) -> Typed:
    """Read one number of a quantity: decimal or fraction, with any unit of that quantity behind it, or feet and inches.

    A fraction without a unit, in a field of millimetres or centimetres, is of an inch.
    Raises: NotANumber with a message for the person who typed it.
    """
    short = _squeezed(text, MOST_LETTERS)
    chosen = units.unit(quantity)
    foot, inch = named("ft", quantity), named("in", quantity)
    feet = _FEET.fullmatch(short.lower()) if short is not None and foot and inch else None
    if feet and foot and inch:
        sign, whole, *figures = feet.groups()
        rest, step = _figures(figures, text, quantity)
        value = (int(whole) * foot.si + rest * inch.si) * (-1.0 if sign in ("-", "−") else 1.0)
        return Typed(value, _read_as(value, chosen), None if step is None else step * inch.si)
    match = _NUMBER.fullmatch(short) if short is not None else None
    if not match:
        raise NotANumber(f"“{_short(text)}” is not a number: type figures, like {_example(quantity)}")
    sign, *figures, suffix = match.groups()
    number, step = _figures(figures, text, quantity)
    number *= -1.0 if sign in ("-", "−") else 1.0
    unit = chosen
    if suffix:
        unit = _unit_named(suffix.strip().lower(), quantity, chosen, text)
    elif step is not None and inch and chosen.key in ("mm", "cm"):
        unit = inch
    value = number * unit.si + unit.zero
    if (unit.si, unit.zero) != (chosen.si, chosen.zero):
        note = _read_as(value, chosen)
    else:
        note = f"read as {trimmed(number, 6)}" if "," in (figures[3] or "") or step is not None else ""
    return Typed(value, note, None if step is None else step * unit.si)


def _figures(figures: list[str | None], text: str, quantity: str) -> tuple[float, float | None]:
    """A number from its figures (whole, part, of, decimal), and the step of its fraction, None for a decimal."""
    whole, part, of, decimal = figures
    if decimal:
        return float(decimal.replace(",", ".")), None
    if not int(of or 0):
        raise NotANumber(f"“{_short(text)}” is not a number: type figures, like {_example(quantity)}")
    return int(whole or 0) + int(part or 0) / int(of or 0), 1.0 / int(of or 0)


def _read_as(value: float, chosen: Unit) -> str:
    return f"read as {trimmed((value - chosen.zero) / chosen.si, max(chosen.decimals, 2))} {chosen.label}".strip()


def _example(quantity: str) -> str:
    return EXAMPLES.get(quantity, "12.5")


def _unit_named(name: str, quantity: str, chosen: Unit, text: str) -> Unit:
    if name in (chosen.key.lower(), chosen.label.lower()):
        return chosen
    unit = named(name, quantity)
    if unit is None:
        raise NotANumber(
            f"“{_short(text)}” has a unit that does not belong here: this field takes "
            + (EXAMPLES.get(quantity) or "plain figures")
        )
    return unit


def read_list(text: str, quantity: str, units: Units, span: Range | None = None) -> list[Typed]:
    """Read numbers set apart by spaces, semicolons, new lines or commas; each may have its unit behind it.

    One comma between figures is a decimal sign, or sets two numbers apart: told by what either would be, in `span`.
    Raises: NotANumber naming the piece, also where it can be read both ways.
    """
    squeezed = _squeezed(text, MOST_LIST)
    if squeezed is None:
        raise NotANumber(f"is too long: at most {MOST_LIST} letters")
    pieces = _pieces(squeezed)
    pointed = any("." in piece for piece in pieces)
    decimal = len(pieces) > 1 and all("," in piece for piece in pieces)
    typed: list[Typed] = []
    for piece in pieces:
        if piece.count(",") > 1 or (pointed and "," in piece):
            parts = piece.split(",")
        elif not decimal and (both := _BOTH.fullmatch(piece)):
            parts = _one_or_two(both.group(1), both.group(2), quantity, units, span)
        else:
            parts = [piece]
        typed += [read(part, quantity, units) for part in parts if part]
    return typed


def _pieces(squeezed: str) -> list[str]:
    """What stands between blanks and semicolons: a fraction joins the whole before it, a unit its number."""
    pieces: list[str] = []
    for word in re.split(r"[ ;]+", squeezed):
        piece, before = word.strip(","), pieces[-1] if pieces else ""
        of_a_whole = "/" in piece and piece[0].isdigit() and before.lstrip("+-−").isdecimal()
        if before and (of_a_whole or not any(map(str.isdigit, piece))):
            pieces[-1] = f"{before} {piece}" if piece else before
        elif piece:
            pieces.append(piece)
    return pieces


def _one_or_two(first: str, second: str, quantity: str, units: Units, span: Range | None) -> list[str]:
    """Two figures with one comma between them: as one decimal, or as two numbers. Raises: NotANumber where either can
    be meant."""

    def fits(figures: str) -> bool:
        return span is None or span.holds(read(figures, quantity, units).value)

    one, two = [f"{first},{second}"], [first, second]
    whole = min(int(first), int(second)), max(int(first), int(second))
    if quantity == "speed":  # readings of one arrow lie close together
        apart = not whole[0] or (whole[1] - whole[0]) / whole[0] > _NEAR
    else:  # distances and the like go outward
        apart = int(second) <= int(first)
    if not (fits(first) and fits(second)) or apart:
        return one
    if not fits(f"{first}.{second}") or second.endswith("0") or len(second) > 2:
        return two
    if int(first) % 5 == 0 == int(second) % 5 and len(second) == 2:
        return two
    raise NotANumber(
        f"“{first},{second}” can be read two ways: type {first} {second} for two, {first}.{second} for one"
    )


def read_height(text: str, units: Units) -> Typed:
    """How high or low arrows came in: a sign, or the words high and low; up is positive."""
    words = text[: 2 * MOST_LETTERS].strip().lower()
    for word, sign in (("high", 1.0), ("up", 1.0), ("low", -1.0), ("down", -1.0)):
        if words.endswith(word):
            typed = read(words[: -len(word)], "offset", units)
            return Typed(sign * abs(typed.value), typed.note)
    return read(words, "offset", units)


def read_length_mm(text: str, units: Units) -> tuple[Typed, float | None]:
    """A length in millimetres, typed in any unit: "34.6", "1 3/8 in", "1.36 in".

    A doubt may stand behind it, "14.3 ± 0.6": 19 times in 20 within.

    Returns: the length, and the sd [mm] of what was read as a fraction, or of the doubt; None for a decimal alone.
    Raises: NotANumber.
    """
    length, sign, doubt = text.replace("+-", "±").partition("±")
    typed = read(length, "mark", units)
    if sign:
        wide = read(doubt, "mark", units).value
        if wide <= 0.0:
            raise NotANumber("what stands behind ± must be more than nothing")
        return typed, wide / COVERAGE
    return typed, None if typed.step is None else typed.step * _OF_A_STEP


def read_count(text: str) -> int:
    """A whole number of arrows. Raises: NotANumber."""
    if not re.fullmatch(r"[0-9]{1,3}", text.strip()):
        raise NotANumber(f"“{_short(text)}” is not a count of arrows: type a whole number")
    return int(text)


def _squeezed(text: str, most: int) -> str | None:
    """A text with each run of blanks as one, none at its ends, and fractions of one sign written out; None where more
    than `most` letters are left."""
    for sign, fraction in _SIGNS.items():
        text = text.replace(sign, f" {fraction}") if sign in text else text
    squeezed = " ".join(text.replace("⁄", "/").split())
    return squeezed if len(squeezed) <= most else None


def _short(text: str) -> str:
    text = text.strip()
    return text if len(text) <= 24 else f"{text[:24]}…"
