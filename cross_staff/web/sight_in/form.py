"""What is typed or tapped at the range: an end with its shots, a session, a movement of one's own."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import MOST_OFF_M, Shot
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.core.sight_in.checks import DIAL_MM, TEMPERATURE_C, WIND_MPS
from cross_staff.core.sight_in.log import COUNTS, HOME, MOST_SHOTS, ORDERED, End, GroupLine, RangeSession
from cross_staff.core.sight_in.questions import AnswerKind
from cross_staff.core.sight_in.readings import READ_CLICK, READ_MM
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.answers import Answered
from cross_staff.services.sight_in.ends import EndDraft
from cross_staff.services.sight_in.record import read_dial
from cross_staff.web.forms.form import FormInput, whole
from cross_staff.web.forms.numbers import NotANumber, read
from cross_staff.web.forms.units import Units

MOST_PINS = 99
OFF_M = Range(-MOST_OFF_M, MOST_OFF_M)
_KEY = re.compile(r"[A-Za-z0-9.-]{1,40}")
_BAD = ("x", "bad", "called")


def end_of(form: FormInput, opened: Callable[[], Rig]) -> EndDraft:
    """The end in a form; what is wrong is said at its field. The rig is opened where a reading is counted in clicks."""
    key = form.typed.get("key", "")
    if not _KEY.fullmatch(key):
        form.errors["shots"] = "this end has no key of its own: open the page again"
    distance = form.number("distance", "distance", DISTANCE_M, 1)
    pin = whole(form.typed.get("pin", "0"))
    if pin is None or pin > MOST_PINS:
        form.errors["pin"] = "choose one of the sight's pins"
        pin = 0
    dial, dial_from = dial_of(form, opened)
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
        dial_from=dial_from,
        line=_line_of(form),
    )


def dial_of(form: FormInput, opened: Callable[[], Rig], name: str = "dial") -> tuple[float | None, str]:
    """What the dial read [mm on the scale] and where that comes from: as read where that was not in millimetres, as
    ordered where nobody changed it, at home; nothing where nobody knows."""
    text, way = form.typed.get(name, "").strip(), form.typed.get(f"{name}_as", "") or READ_MM
    if not text:
        return None, HOME if form.typed.get("stands") == HOME else ""
    value: float | None
    if way == READ_MM:
        value = form.number(name, "mark", DIAL_MM, 1)
        ordered = form.typed.get("dial_ordered", "").strip()
        return value, ORDERED if ordered and ordered == text else ""
    try:
        turns, _, clicks = text.partition("+")
        if way == READ_CLICK and not clicks:
            turns, clicks = "0", text
        first, more = (read(part or "0", "plain", form.units).value for part in (turns, clicks))
        value = read_dial(opened(), way, first, more)
    except InvalidValue as error:
        form.errors[name] = error.message
        return None, ""
    except (NotANumber, ValueError):
        form.errors[name] = "a number as the scale shows it; turns and clicks as “3+4”"
        return None, ""
    return value, f"{way}:{text[:20]}"


def as_read(end: End, units: Units) -> tuple[str, str]:
    """A reading as it was read, and what it was counted in."""
    way, _, text = end.dial_from.partition(":")
    return (text, way) if text else (units.plain("mark", end.dial_mm, 1), READ_MM)


def answered_of(form: FormInput, rig: Rig) -> Answered | None:
    """The answer that was tapped, or the reading that was typed instead; what is wrong is said."""
    try:
        row = json.loads(form.typed.get("answer", ""))
        said = Answered(**row)
        good = said.kind in list(AnswerKind) and isinstance(said.drive, str) and len(said.drive) <= 120
        good = good and all(v is None or isinstance(v, int | float) for v in (said.pin, said.dial_mm, said.ranged_m))
        good = good and isinstance(said.ends, list | tuple) and all(isinstance(key, str) for key in said.ends)
    except (ValueError, TypeError, RecursionError):
        good = False
    if not good:
        form.errors["answer"] = "choose one of the answers"
        return None
    if said.kind == AnswerKind.DIAL and form.typed.get("reads", "").strip():
        return replace(said, dial_mm=dial_of(form, lambda: rig, "reads")[0])
    return said


def _line_of(form: FormInput) -> GroupLine | None:
    """A group that is written as one line: how many arrows, how far off, which way."""
    count = form.typed.get("line_arrows", "").strip()
    up, right = (form.number(name, "offset", OFF_M) for name in ("line_up", "line_right"))
    if not count:
        if up is not None or right is not None:
            form.errors["line_arrows"] = "how many arrows was that?"
        return None
    arrows = whole(count)
    if arrows is None:
        form.errors["line_arrows"] = "a whole number of arrows"
        return None
    if up is not None and form.typed.get("line_up_way") == "low":
        up = -up
    if right is not None and form.typed.get("line_right_way") == "left":
        right = -right
    return GroupLine(arrows, right, up)


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
    right, up = (float(str(row[name])) / 1000.0 for name in ("right", "up"))
    shaft = re.sub(r"[^A-Za-z0-9]", "", str(row.get("shaft") or ""))[:6]
    return Shot(right, up, bool(row.get("bad")), key, shaft).checked()


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
    shaft = next((word[1:7] for word in words if re.fullmatch(r"#[A-Za-z0-9]{1,6}", word)), "")
    words = [word for word in words if word != f"#{shaft}"]
    bad = bool(words) and words[-1].lower() in _BAD
    words = words[:-1] if bad else words
    if len(words) != 2:
        raise NotANumber("right and up, in millimetres, like “21 -34”; x behind a called-bad one, #4 for arrow 4")
    right, up = (read(word, "mark", form.units).value / 1000.0 for word in words)
    if max(abs(right), abs(up)) > MOST_OFF_M:
        raise NotANumber(f"off any butt: within {MOST_OFF_M:g} m of the aim")
    return Shot(right, up, bad, key, shaft)


def head_texts(end: End, units: Units) -> dict[str, str]:
    """What stands over the arrows of an end, as text, field by field."""
    dial, way = as_read(end, units)
    line = end.line or GroupLine(0)
    up, right = line.up_m, line.right_m
    return {
        "distance": "" if end.ranged_m is None else units.as_typed("distance", end.ranged_m),
        "pin": str(end.pin),
        "dial": dial,
        "dial_as": way,
        "stands": end.dial_from if end.dial_from == HOME else "",
        "note": end.note,
        "line_arrows": str(line.arrows or ""),
        "line_up": units.plain("offset", None if up is None else abs(up)),
        "line_up_way": "low" if up is not None and up < 0.0 else "high",
        "line_right": units.plain("offset", None if right is None else abs(right)),
        "line_right_way": "left" if right is not None and right < 0.0 else "right",
    }


def head_values(end: End) -> dict[str, float | None]:
    """Its numbers, in SI units and millimetres of the scale."""
    line = end.line or GroupLine(0)
    off = {"line_up": line.up_m, "line_right": line.right_m}
    kept = {name: None if value is None else abs(value) for name, value in off.items()}
    return {"distance": end.ranged_m, "dial": end.dial_mm, **kept}


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
