"""A reading of two vials as it is typed."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, METHODS, WANDER, Method
from cross_staff.core.level.settling import SETTLES_S
from cross_staff.core.level.station import TRAVEL_M
from cross_staff.core.level.units import beside
from cross_staff.core.level.vials import Reversal, reversal
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import SEATS, Vial
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput, out_of_range, whole

PITCH = Range(-math.radians(70.0), math.radians(70.0))
_TURNED = re.compile(r"(?:([0-9]{1,3}) )?([0-9]{1,3}) ?/ ?([0-9]{1,3})")
TURNS = Range(0.01, 10.0)
ENDS = {"left": -1, "right": 1}
WANDER_M = Range(-0.1, 0.1)
RIGHT_M, ARROW_COUNT = Range(-3.0, 3.0), Range(1.0, 60.0)
_SIDES = {"left": -1.0, "l": -1.0, "right": 1.0, "r": 1.0}


@dataclass(frozen=True)
class Bubble:
    """Where a bubble stands [divisions], and at which end of its glass (-1 left, 1 right, 0: in it)."""

    at: float
    end: int = 0


def bubble_at(form: FormInput, name: str, vial: Vial, ends: bool = False) -> Bubble:
    """Where a bubble stands; words left and right are understood, but not with a minus beside them. With `ends`, one
    that is farther than its glass, or said to lie against an end, is a reading too."""
    plain, sign = form.typed.get(name, "").strip().lower(), 1.0
    said = form.choice(f"{name}_end", ("", *ENDS)) if ends and f"{name}_end" in form.typed else ""
    if said:
        return Bubble(ENDS[said] * (vial.lines + 1.0), ENDS[said])
    for word, side in _SIDES.items():
        if plain.endswith(word):
            plain, sign = plain.removesuffix(word).strip(), side
            break
    if plain != form.typed.get(name, "").strip().lower() and plain.startswith(("-", "−")):
        form.errors[name] = "minus is left already: write it with minus, or with the word, not with both"
        return Bubble(0.0)
    glass = vial.lines + 1.0
    holder = FormInput({name: plain}, form.units)
    value = holder.number(name, "plain", Range(-99.0, 99.0) if ends else Range(-glass, glass))
    if name in holder.errors:
        form.errors[name] = holder.errors[name].replace(": between", ", beyond the vial: between")
    elif value is None:
        form.errors[name] = "where does the bubble stand?"
    elif abs(value) > glass:
        return Bubble(math.copysign(glass, sign * value), 1 if sign * value > 0.0 else -1)
    return Bubble(sign * (value or 0.0))


def reversal_of(form: FormInput, vial: Vial) -> Reversal:
    """A level read both ways round; a large error of its own is asked about once."""
    seen = reversal(*(bubble_at(form, name, vial).at for name in ("first_way", "turned_way")))
    if not form.errors and seen.doubtful and form.typed.get("sure", "") == "":
        form.errors["turned_way"] = "a large error of its own: were both read towards the same side of the room?"
    return seen


def reading_of(form: FormInput, axis: str, rig: Rig) -> LevelReading:
    """The reading that was typed; what is wrong stands in `form.errors`."""
    method = BY_KEY[form.choice("method", tuple(m.key for m in METHODS[axis]))]
    pitch = form.number("pitch", "angle", PITCH) if method.reads != WANDER else 0.0
    if pitch is None and "pitch" not in form.errors:
        slope = "how steep is the line of sight?" if method.reads == ARROWS else "at which tilt of the arrow?"
        form.errors["pitch"] = f"{slope} 0 for level, down is minus"
    empty = LevelReading(
        axis, method.key, pitch or 0.0, 0.0, 0.0, 0, datetime.now(UTC), turn_made(form),
        who=form.text("who", 60), note=form.text("note", 200), key=form.text("sent", 40),
        place=form.choice("place", ("", *method.places)) if method.places else "",
    )  # fmt: skip
    if method.reads == WANDER:
        return _wandered(form, empty)
    if method.reads == ARROWS:
        return _slope_group(form, empty)
    seen = bubble_at(form, "vial", rig.card.level.vial_of(axis), ends=True)
    beside_it = beside(rig.card.level, axis, method.key)
    return replace(
        empty,
        vial_div=seen.at,
        vial_end=seen.end,
        reference_div=bubble_at(form, "reference", beside_it).at if beside_it else 0.0,
        locked=form.typed.get("loose", "") == "",
        seat=_seat(form, method, rig.level.seat),
        reseated=method.reads == CLIP and form.typed.get("reseated", "") != "",
        photo_id=photo_of(form, rig),
        settled_s=_settled(form),
    )


def _settled(form: FormInput) -> float | None:
    """How long the page saw the bubble move [s]; None where it did not, or nobody could have watched so long."""
    try:
        seconds = float(form.typed.get("settled", ""))
    except ValueError:
        return None
    return round(seconds, 1) if SETTLES_S.holds(seconds) else None


def _wandered(form: FormInput, empty: LevelReading) -> LevelReading:
    """A quick look at the rail: how far the housing wandered, over how much travel."""
    wander = form.number("wander", "length", WANDER_M)
    travel = form.number("travel", "length", TRAVEL_M)
    for name, value, said in (
        ("wander", wander, "how far did it wander? 0 for not at all, left is minus"),
        ("travel", travel, "over how much travel?"),
    ):
        if value is None:
            form.errors.setdefault(name, said)
    return replace(empty, right_m=wander or 0.0, distance_m=travel or TRAVEL_M.low)


def _seat(form: FormInput, method: Method, before: str) -> str:
    """Where the reference sat; the only place that a method reads it on need not be said."""
    if method.reads != CLIP:
        return ""
    if len(method.seats) == 1:
        return method.seats[0]
    return form.choice("seat", tuple(SEATS)) if "seat" in form.typed else before


def _slope_group(form: FormInput, empty: LevelReading) -> LevelReading:
    """A group on a slope: where its middle came in."""
    distance = form.number("distance", "distance", RANGED_M)
    right = form.number("right", "offset", RIGHT_M)
    arrows = form.number("arrows", "count", ARROW_COUNT)
    for name, value, said in (
        ("distance", distance, "at which distance?"),
        ("right", right, "how far right of the aim? left is minus"),
        ("arrows", arrows, "of how many arrows?"),
    ):
        if value is None:
            form.errors.setdefault(name, said)
    return replace(empty, distance_m=distance, right_m=right or 0.0, arrows=int(arrows or 1))


def photo_of(form: FormInput, rig: Rig) -> int | None:
    """The photo that a bubble was read off, kept with the reading."""
    photo = whole(form.typed.get("photo", ""))
    return photo if photo in rig.photos else None


def by_eye(form: FormInput) -> bool:
    """Whether it was turned by an amount that nobody counted."""
    return form.typed.get("by_eye", "") != ""


def turn_made(form: FormInput) -> float | None:
    """The turn made just before, in turns of the key, clockwise positive (of a pair, its first screw driven): a
    fraction or a number; None for none, or for one that nobody counted."""
    if by_eye(form):
        return None
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
