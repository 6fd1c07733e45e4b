"""What is typed or tapped at the range: an end with its shots, a session, a movement of one's own."""

from __future__ import annotations

import json
import re
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import MOST_OFF_M, Shot
from cross_staff.core.ranges import DISTANCE_M
from cross_staff.core.sight_in.checks import DIAL_MM, TEMPERATURE_C, WIND_MPS
from cross_staff.core.sight_in.log import COUNTS, MOST_SHOTS, End, RangeSession
from cross_staff.services.sight_in.ends import EndDraft
from cross_staff.web.forms.form import FormInput, whole
from cross_staff.web.forms.numbers import NotANumber, read
from cross_staff.web.forms.units import Units

MOST_PINS = 99
_KEY = re.compile(r"[A-Za-z0-9.-]{1,40}")
_BAD = ("x", "bad", "called")


def end_of(form: FormInput) -> EndDraft:
    """The end in a form; what is wrong is said at its field."""
    key = form.typed.get("key", "")
    if not _KEY.fullmatch(key):
        form.errors["shots"] = "this end has no key of its own: open the page again"
    distance = form.number("distance", "distance", DISTANCE_M, 1)
    pin = whole(form.typed.get("pin", "0"))
    if pin is None or pin > MOST_PINS:
        form.errors["pin"] = "choose one of the sight's pins"
        pin = 0
    dial = form.number("dial", "mark", DIAL_MM, 1)
    shots = [*_placed(form), *_typed(form, key)]
    return EndDraft(
        key,
        distance,
        pin,
        dial,
        tuple(shots),
        _taken_back(form),
        form.text("note", 200),
        whole(form.typed.get("session", "")),
    )


def _placed(form: FormInput) -> list[Shot]:
    """The shots that were tapped on the picture, as the page sends them."""
    text = form.typed.get("placed", "").strip()
    if not text:
        return []
    try:
        rows = json.loads(text)
        if len(rows) > MOST_SHOTS:
            raise InvalidValue("shots", f"at most {MOST_SHOTS} shots in an end")
        return [_tapped(row) for row in rows]
    except InvalidValue as error:
        form.errors["shots"] = error.message
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        form.errors["shots"] = "the shots came in garbled: type them in millimetres"
    return []


def _tapped(row: dict[str, object]) -> Shot:
    key = str(row["key"])
    if not _KEY.fullmatch(key):
        raise ValueError(key)
    return Shot(float(str(row["right"])) / 1000.0, float(str(row["up"])) / 1000.0, bool(row.get("bad")), key).checked()


def _taken_back(form: FormInput) -> tuple[str, ...]:
    keys = form.typed.get("taken_back", "").split()
    return tuple(key for key in keys if _KEY.fullmatch(key))[:MOST_SHOTS]


def _typed(form: FormInput, key: str) -> list[Shot]:
    """Shots typed one a line, right and up in millimetres, x behind one that was called bad."""
    lines = [line for line in re.split(r"[\n;]+", form.typed.get("shots", "")) if line.strip()]
    if len(lines) > MOST_SHOTS:
        form.errors["shots"] = f"at most {MOST_SHOTS} shots in an end"
        return []
    shots = []
    for number, line in enumerate(lines, start=1):
        try:
            shots.append(_line(form, line, f"{key}-{number}"))
        except (NotANumber, InvalidValue) as error:
            form.errors["shots"] = f"line {number}: {getattr(error, 'message', error)}"
            return []
    return shots


def _line(form: FormInput, line: str, key: str) -> Shot:
    words = line.replace("\t", " ").split()
    bad = bool(words) and words[-1].lower() in _BAD
    words = words[:-1] if bad else words
    if len(words) != 2:
        raise NotANumber("right and up, in millimetres, like “21 -34”; x behind a called-bad one")
    right, up = (read(word, "mark", form.units).value / 1000.0 for word in words)
    if max(abs(right), abs(up)) > MOST_OFF_M:
        raise NotANumber(f"off any butt: within {MOST_OFF_M:g} m of the aim")
    return Shot(right, up, bad, key)


def head_texts(end: End, units: Units) -> dict[str, str]:
    """What stands over the arrows of an end, as text, field by field."""
    return {
        "distance": units.plain("distance", end.ranged_m, 1),
        "pin": str(end.pin),
        "dial": units.plain("mark", end.dial_mm, 1),
        "note": end.note,
    }


def head_values(end: End) -> dict[str, float | None]:
    """Its numbers, in SI units and millimetres of the scale."""
    return {"distance": end.ranged_m, "dial": end.dial_mm}


def session_of(form: FormInput, number: int, now: datetime, build: str, key: str) -> RangeSession:
    """A session's record as typed."""
    return RangeSession(
        number,
        0,
        now,
        form.text("place", 80),
        form.text("light", 80),
        form.text("who", 80),
        form.text("session_note", 200),
        form.number("crosswind", "wind", WIND_MPS),
        form.number("temperature", "temperature", TEMPERATURE_C),
        build,
        form.choice("counts", tuple(COUNTS)),
        key,
    )
