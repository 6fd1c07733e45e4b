"""A reading of two vials as it is typed."""

from __future__ import annotations

import math
import re
from datetime import UTC, datetime

from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.station import LevelReading
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import Vial
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput, out_of_range, whole

PITCH = Range(-math.radians(70.0), math.radians(70.0))
_TURNED = re.compile(r"(?:([0-9]{1,3}) )?([0-9]{1,3}) ?/ ?([0-9]{1,3})")
TURNS = Range(0.01, 10.0)
_SIDES = {"left": -1.0, "l": -1.0, "right": 1.0, "r": 1.0}


def bubble_at(form: FormInput, name: str, vial: Vial) -> float:
    """Where a bubble stands [divisions]; words left and right are understood."""
    plain, sign = form.typed.get(name, "").strip().lower(), 1.0
    for word, side in _SIDES.items():
        if plain.endswith(word):
            plain, sign = plain.removesuffix(word), side
            break
    holder = FormInput({name: plain}, form.units)
    value = holder.number(name, "plain", Range(-vial.lines - 1.0, vial.lines + 1.0))
    if name in holder.errors:
        form.errors[name] = holder.errors[name].replace(": between", ", beyond the vial: between")
    elif value is None:
        form.errors[name] = "where does the bubble stand?"
    return sign * (value or 0.0)


def reading_of(form: FormInput, axis: str, rig: Rig) -> LevelReading:
    """The reading that was typed; what is wrong stands in `form.errors`."""
    method = form.choice("method", tuple(m.key for m in METHODS[axis]))
    pitch = form.number("pitch", "angle", PITCH)
    if pitch is None and "pitch" not in form.errors:
        form.errors["pitch"] = "at which tilt of the arrow? 0 for level, down is minus"
    seen, turned = bubble_at(form, "vial", rig.card.level.vial_of(axis)), turn_made(form)
    if turned and "beyond the vial" in form.errors.get("vial", ""):
        form.errors["vial"] = "beyond the vial: turn half of it back, and write the turn that is left"
    return LevelReading(
        axis,
        method,
        pitch or 0.0,
        seen,
        bubble_at(form, "reference", rig.card.level.reference),
        0,
        datetime.now(UTC),
        turned,
        form.typed.get("loose", "") == "",
        form.text("who", 60),
        form.text("note", 200),
        photo_of(form, rig),
    )


def photo_of(form: FormInput, rig: Rig) -> int | None:
    """The photo that a bubble was read off, kept with the reading."""
    photo = whole(form.typed.get("photo", ""))
    return photo if photo in rig.photos else None


def turn_made(form: FormInput) -> float | None:
    """The turn made just before, in turns of the key, clockwise positive: a fraction or a number."""
    text = " ".join(form.typed.get("turned", "").split())
    if not text or text == "0":
        return None
    sign = -1.0 if form.choice("turned_way", ("clockwise", "anticlockwise")) == "anticlockwise" else 1.0
    fraction = _TURNED.fullmatch(text)
    if fraction and int(fraction.group(3)):
        value: float | None = int(fraction.group(1) or 0) + int(fraction.group(2)) / int(fraction.group(3))
        if value is not None and not TURNS.holds(value):
            form.errors["turned"] = out_of_range("plain", TURNS, value, form.units)
            return None
    else:
        value = form.number("turned", "plain", TURNS)
    return None if value is None else sign * value
