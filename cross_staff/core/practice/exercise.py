"""An exercise on the practice bench: a bow with errors that nobody sees, what is to be set right, and what it may cost.

An exercise is a file: a seed and settings. A setting that is None is drawn from the seed, as bows come.
"""

from __future__ import annotations

import json
import types
import typing
from collections.abc import Collection, Mapping
from dataclasses import MISSING, dataclass, field, fields
from typing import Any

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.rig.sight_kinds import KINDS

FORMAT = "cross-staff exercise 1"
THEMES = {
    "level": "The three axes",
    "range": "Sighting in",
    "tape": "The tape",
    "bow": "Bow, peep and arrow",
    "whole": "From the box to the hillside",
}
GRADES = {1: "first steps", 2: "as bows come", 3: "with traps"}
AXES = ("first", "second", "third")
GOALS = {
    "first": "first axis within its tolerance",
    "second": "second axis within its tolerance",
    "third": "third axis within its tolerance",
    "home": "the home distance in the middle",
    "pins": "every pin in the middle at its distance",
    "tape": "the tape true to the farthest distance",
    "peep": "the peep's height on the card as it is",
    "paper": "a clean tear through paper",
}
CONTROLS = (*AXES, "windage", "elevation")
MOST_LETTERS = 3600  # of a whole file: it is kept as a note in the rig's log
_TEXT = 300
_LIMITS = {
    "seed": Range(0, 2**31),
    "grade": Range(1, 3),
    "farthest_m": Range(20.0, 120.0),
    "arrows": Range(0, 500),
    "turns": Range(0, 200),
    "minutes": Range(5, 5000),
    "days": Range(1, 30),
    "first_deg": Range(-4.0, 4.0),
    "second_deg": Range(-4.0, 4.0),
    "third_deg": Range(-4.0, 4.0),
    "flex_deg": Range(-2.0, 2.0),
    "lean_deg": Range(-2.0, 2.0),
    "yaw_deg": Range(-2.0, 2.0),
    "gain": Range(0.3, 3.0),
    "backlash_deg": Range(0.0, 0.5),
    "windage_mm": Range(-15.0, 15.0),
    "elevation_mm": Range(-15.0, 15.0),
    "speed_part": Range(-0.1, 0.1),
    "drag_part": Range(-0.6, 0.6),
    "peep_mm": Range(-25.0, 25.0),
    "tear_right_mm": Range(-60.0, 60.0),
    "tear_up_mm": Range(-60.0, 60.0),
    "spread_mrad": Range(0.2, 6.0),
    "day_mrad": Range(0.0, 2.0),
    "torque_mrad": Range(-4.0, 4.0),
    "wind_mps": Range(0.0, 12.0),
    "wild": Range(0.0, 0.3),
}


@dataclass(frozen=True)
class Budget:
    """What an exercise may cost: arrows, turns of screws and knobs, minutes, days."""

    arrows: int
    turns: int
    minutes: int
    days: int = 1


@dataclass(frozen=True)
class Hidden:
    """What nobody sees; None is drawn from the seed. The axes at the shot, draw twist, riser edges against the string
    and the reference's yaw on its seat [deg]; how many times the usual a screw does, and its play [deg]; controls that
    go against the card; aim off sideways and in height [mm at the sight]; true speed and drag as a part off the card's;
    how far the peep is above what the card says [mm]; the paper tear [mm]; the archer's spread, what his days and his
    hand's torque do [mrad]; wind from the left [m/s]; how often he lets one go wild [0 to 1]."""

    first_deg: float | None = None
    second_deg: float | None = None
    third_deg: float | None = None
    flex_deg: float | None = None
    lean_deg: float | None = None
    yaw_deg: float | None = None
    gain: float | None = None
    backlash_deg: float | None = None
    reversed: tuple[str, ...] = ()
    windage_mm: float | None = None
    elevation_mm: float | None = None
    speed_part: float | None = None
    drag_part: float | None = None
    peep_mm: float = 0.0
    tear_right_mm: float = 0.0
    tear_up_mm: float = 0.0
    spread_mrad: float | None = None
    day_mrad: float = 0.0
    torque_mrad: float = 0.0
    wind_mps: float = 0.0
    wild: float = 0.0


@dataclass(frozen=True)
class Exercise:
    """An exercise: its key and name, its theme and grade, in a sentence what is the matter, the kind of sight, what has
    to be right at the end, the farthest distance [m], whether the levels are calibrated and the card is measured, the
    budget, what is hidden, hints in the order in which they are given, and the sentence that it teaches."""

    key: str
    name: str
    theme: str
    grade: int
    seed: int
    say: str
    kind: str
    goals: tuple[str, ...]
    budget: Budget
    teaches: str
    farthest_m: float = 61.0
    calibrated: bool = True
    measured: bool = True
    hidden: Hidden = field(default_factory=Hidden)
    hints: tuple[str, ...] = ()


def written(exercise: Exercise) -> str:
    """An exercise as its file: settings that are drawn or as usual are left out."""

    def plain(record: Any) -> dict[str, Any]:
        row: dict[str, Any] = {}
        for each in fields(record):
            value = getattr(record, each.name)
            if value == _usual(each):
                continue
            row[each.name] = plain(value) if hasattr(value, "__dataclass_fields__") else value
        return row

    return json.dumps({"format": FORMAT, **plain(exercise)}, ensure_ascii=False, indent=1)


def exercise_of(text: str) -> Exercise:
    """The exercise of a file, edited by hand or not. Raises InvalidValue at the first place that is wrong."""
    if len(text) > MOST_LETTERS:
        raise InvalidValue("file", f"is longer than the {MOST_LETTERS} letters of an exercise")
    try:
        row = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise InvalidValue("file", f"is no exercise: {str(error)[:80]}") from error
    if not isinstance(row, dict) or row.pop("format", "") != FORMAT:
        raise InvalidValue("file", f"is no exercise: it does not begin with “format”: “{FORMAT}”")
    exercise = _read(Exercise, row, "")
    _check(exercise)
    return typing.cast(Exercise, exercise)


def _usual(each: Any) -> Any:
    if each.default is not MISSING:
        return each.default
    return each.default_factory() if each.default_factory is not MISSING else MISSING


def _read(record: type, row: Mapping[str, Any], where: str) -> Any:
    """A record of a file's rows, strictly: no name that it does not have, no word where a number is wanted."""
    own = {each.name: each for each in fields(record)}
    unknown = next((name for name in row if name not in own), None)
    if unknown is not None:
        raise InvalidValue(f"{where}{unknown}"[:60], "an exercise has no such setting")
    kinds, made = typing.get_type_hints(record), {}
    for name, each in own.items():
        if name in row:
            made[name] = _value(kinds[name], row[name], f"{where}{name}")
        elif _usual(each) is MISSING:
            raise InvalidValue(f"{where}{name}", "is missing")
    return record(**made)


def _value(kind: Any, value: Any, where: str) -> Any:
    if isinstance(kind, types.UnionType):
        return None if value is None else _value(typing.get_args(kind)[0], value, where)
    if hasattr(kind, "__dataclass_fields__"):
        if not isinstance(value, dict):
            raise InvalidValue(where, "must hold settings, in { }")
        return _read(kind, value, f"{where}.")
    if typing.get_origin(kind) is tuple:
        if not isinstance(value, list) or not all(isinstance(v, str) and len(v) <= _TEXT for v in value):
            raise InvalidValue(where, "must be a list of words, in [ ]")
        return tuple(value)
    if kind is bool:
        if not isinstance(value, bool):
            raise InvalidValue(where, "must be true or false")
        return value
    if kind is str:
        if not isinstance(value, str) or len(value) > _TEXT:
            raise InvalidValue(where, f"must be a text of at most {_TEXT} letters")
        return value
    whole = kind is int
    if isinstance(value, bool) or not isinstance(value, int if whole else (int, float)):
        raise InvalidValue(where, "must be a whole number" if whole else "must be a number")
    limit = _LIMITS[where.rpartition(".")[2]]
    if not limit.holds(value):
        raise InvalidValue(where, f"must lie between {limit.low:g} and {limit.high:g}")
    return kind(value)


def _check(exercise: Exercise) -> None:
    """What the settings must keep to among themselves. Raises InvalidValue."""
    chosen: list[tuple[str, str, Collection[str]]] = [
        ("theme", exercise.theme, THEMES),
        ("kind", exercise.kind, KINDS),
        *(("goals", goal, GOALS) for goal in exercise.goals),
        *(("hidden.reversed", each, CONTROLS) for each in exercise.hidden.reversed),
    ]
    for name, value, known in chosen:
        if value not in known:
            raise InvalidValue(name, f"“{value[:40]}” is none of {', '.join(known)}")
    if not exercise.goals:
        raise InvalidValue("goals", "name at least one")
    if not exercise.key.replace("-", "").isalnum() or len(exercise.key) > 40:
        raise InvalidValue("key", "letters, digits and - alone, at most 40")
    for name, text in (("name", exercise.name), ("say", exercise.say), ("teaches", exercise.teaches)):
        if not text.strip():
            raise InvalidValue(name, "is empty")
