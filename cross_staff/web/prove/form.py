"""A line of the proof log as typed."""

from __future__ import annotations

import math
import re
from datetime import date, datetime
from secrets import token_hex

from cross_staff.core.prove.log import MOST_NOTE, OFF_M, SLOPE_RAD, WIND_MPS, ProofLine
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.web.forms.form import FormInput, out_of_range
from cross_staff.web.forms.numbers import NotANumber, Typed, read_count, read_height
from cross_staff.web.forms.units import Units

UPS, SIDES = ("low", "high"), ("right", "left")
_NO_KEY = re.compile(r"[^A-Za-z0-9 ._-]")  # what an address could not carry
_SIDEWAYS = (("right", 1.0), ("left", -1.0))


def fresh_key() -> str:
    """A name for a line: never all figures, which an address would take for a number."""
    return f"l{token_hex(8)}"


def blank(units: Units, today: date, at_m: float | None, arrows: int) -> dict[str, str]:
    """The fields of a line that is not written yet: where the next group tells most."""
    return {
        "key": fresh_key(),
        "seen": "0",
        "distance": "" if at_m is None else units.as_typed("distance", at_m),
        "dialled": "",
        "arrows": str(arrows),
        "up": "",
        "up_way": "low",
        "right": "",
        "right_way": "right",
        "day": today.isoformat(),
        "cold": "",
        "wind": "",
        "slope": "",
        "note": "",
    }


def texts_of(line: ProofLine, units: Units) -> dict[str, str]:
    """The fields of a line as it stands."""
    same = line.dialled_m is not None and abs(line.dialled_m - line.ranged_m) < 1e-6
    return {
        "key": line.key,
        "seen": str(line.entry_id),
        "distance": units.as_typed("distance", line.ranged_m),
        "dialled": "" if same else "none" if line.dialled_m is None else units.as_typed("distance", line.dialled_m),
        "arrows": str(line.arrows),
        "up": "" if line.up_m is None else units.plain("offset", abs(line.up_m)),
        "up_way": "high" if (line.up_m or 0.0) > 0.0 else "low",
        "right": "" if line.right_m is None else units.plain("offset", abs(line.right_m)),
        "right_way": "left" if (line.right_m or 0.0) < 0.0 else "right",
        "day": line.day.isoformat(),
        "cold": "yes" if line.cold else "",
        "wind": units.plain("wind", line.crosswind_mps),
        "slope": "" if not line.slope_rad else units.plain("angle", line.slope_rad),
        "note": line.note,
    }


def read_line(form: FormInput, now: datetime, held: ProofLine | None, tape: str, label: str = "") -> ProofLine | None:
    """The line that was typed; None where something is wrong, which is then said at its field."""
    kept = {} if held is None else _kept(held)
    form.kept = kept
    ranged = form.number("distance", "distance", DISTANCE_M)
    if ranged is None and "distance" not in form.errors:
        form.errors["distance"] = "say at which distance"
    dialled = _dialled(form, ranged)
    arrows = _arrows(form)
    up = _off(form, "up", form.choice("up_way", UPS) == "high", _height)
    right = _off(form, "right", form.choice("right_way", SIDES) == "right", _sideways)
    if up is None and right is None and not form.errors:
        form.errors["up"] = "say how high or low the arrows hit; 0 is on the aim"
    wind = form.number("wind", "wind", WIND_MPS)
    slope = form.number("slope", "angle", SLOPE_RAD) or 0.0
    day = _day(form)
    note = form.text("note", MOST_NOTE)
    if form.errors or ranged is None or arrows is None or day is None:
        return None
    key = _NO_KEY.sub("", form.typed.get("key", ""))[:60] or fresh_key()
    cold = form.typed.get("cold") == "yes"
    return ProofLine(key, 0, now, day, ranged, dialled, arrows, up, right, slope, wind, cold, tape, 0, label, note)


def _kept(line: ProofLine) -> dict[str, float | None]:
    return {"distance": line.ranged_m, "dialled": line.dialled_m, "wind": line.crosswind_mps, "slope": line.slope_rad}


def _dialled(form: FormInput, ranged: float | None) -> float | None:
    """What was dialled: the distance itself where nothing else is said, nothing where "none" is."""
    text = form.typed.get("dialled", "").strip().lower()
    if not text:
        return ranged
    return None if text in ("none", "no", "-", "–") else form.number("dialled", "distance", DISTANCE_M)


def _arrows(form: FormInput) -> int | None:
    text = form.typed.get("arrows", "").strip()
    try:
        count = read_count(text)
    except NotANumber as error:
        form.errors["arrows"] = str(error) if text else "say how many arrows"
        return None
    if not 1 <= count <= 60:
        form.errors["arrows"] = "between 1 and 60 arrows"
        return None
    return count


def _off(form: FormInput, name: str, plus: bool, reader: object) -> float | None:
    """How far the middle was off: a bare number goes the way that is chosen; words and signs in it go before that."""
    text = form.typed.get(name, "").strip()
    if not text:
        return None
    try:
        typed, signed = reader(text, form.units)  # type: ignore[operator]
    except NotANumber as error:
        form.errors[name] = str(error)
        return None
    value: float = typed.value if signed else math.copysign(typed.value, 1.0 if plus else -1.0)
    if not OFF_M.holds(value):
        form.errors[name] = out_of_range("offset", Range(0.0, OFF_M.high), abs(value), form.units)
        return None
    if typed.note:
        form.notes[name] = typed.note
    return value


def _height(text: str, units: Units) -> tuple[Typed, bool]:
    signed = text[0] in "+-−" or any(word in text.lower() for word in ("high", "low", "up", "down"))
    return read_height(text, units), signed


def _sideways(text: str, units: Units) -> tuple[Typed, bool]:
    lower = text.lower()
    for word, sign in _SIDEWAYS:
        if lower.endswith(word):
            typed = read_height(lower.removesuffix(word), units)
            return Typed(sign * abs(typed.value), typed.note), True
    return read_height(text, units), text[0] in "+-−"


def _day(form: FormInput) -> date | None:
    try:
        return date.fromisoformat(form.typed.get("day", "").strip())
    except ValueError:
        form.errors["day"] = "is not a day: like 2026-11-27"
        return None
