"""What the range asks: what the newest ends were shot with, where a control stands, what to do about a shaft."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from cross_staff.core.sight_in.controls import CLICK, SIDEWAYS, TURN, RangeControl
from cross_staff.core.sight_in.dispersion import Wider
from cross_staff.core.sight_in.questions import (
    BAD,
    DIAL,
    DISTANCE,
    MOVED,
    NOT_MADE,
    OTHER_WAY,
    PIN,
    Answer,
    Question,
)
from cross_staff.core.sight_in.shafts import Shaft
from cross_staff.core.sight_in.stand import ASSUMED, KNOWN, UNKNOWN, Place, SightStand
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.sight_in.words import pin_name, reading


@dataclass(frozen=True)
class AnswerWords:
    """An answer as a button: its words, and what it says when it is tapped."""

    words: str
    value: str


def question_words(rig: Rig, question: Question, units: Units) -> dict[str, Any]:
    """The question about the newest ends: what they did, and the answers, each one tap."""
    end, estimate = question.ends[0], rig.range.estimate
    distance = rig.card.distance_from_sight(end.ranged_m or 0.0)
    lever = estimate.lever if estimate else 0.8
    scale = 1e-3 * (lever + distance) / lever
    sides = []
    for value, sd, names in zip(question.off_mm, question.sd_mm, (("right", "left"), ("high", "low"))):
        if abs(value) > 1.5 * sd:
            sides.append(f"{on_target(units, value * scale)} {names[0] if value > 0 else names[1]}")
    arrows = sum(each.arrows for each in question.ends)
    many = "The last end" if len(question.ends) == 1 else f"The last {len(question.ends)} ends"
    said = (
        f"{many} ({arrows} arrows at {whole_distance(units, end.ranged_m or 0.0)}) hit "
        f"{' and '.join(sides) or 'elsewhere'} of where this sight should put them: more than chance."
    )
    answers = [AnswerWords(_answer(rig, question, each, units), _value(each)) for each in question.answers]
    return {"words": said, "answers": answers, "ends": " ".join(question.keys)}


def _value(answer: Answer) -> str:
    kept = {
        "kind": answer.kind.value, "drive": answer.drive, "moves": answer.moves, "move": answer.move,
        "pin": answer.pin, "dial_mm": answer.dial_mm, "ranged_m": answer.ranged_m, "ends": answer.ends,
    }  # fmt: skip
    told = {name: value for name, value in kept.items() if value not in ("", None, ())}
    return json.dumps(told, separators=(",", ":"))


def _earlier(rig: Rig, question: Question, answer: Answer, units: Units) -> str:
    """An answer about an end before those that were asked about: that one was the odd one."""
    end = next(each for each in rig.range_log.ends if each.key in answer.ends)
    between = [each for each in rig.range_log.ends if end.order < each.order < question.ends[0].order and each.arrows]
    what = f"{end.arrows} arrows at {whole_distance(units, end.ranged_m or 0.0)}"
    which = f"The end of {local_time(end.entered)} ({what})" if between else f"The end before ({what})"
    if answer.kind == PIN and answer.pin is not None:
        return f"{which} was shot with {pin_name(rig, answer.pin, units)}"
    return f"{which} is the odd one: leave that out"


def _answer(rig: Rig, question: Question, answer: Answer, units: Units) -> str:
    if answer.ends:
        return _earlier(rig, question, answer, units)
    if answer.kind == OTHER_WAY:
        return f"{answer.drive} goes the other way on this bow"
    if answer.kind == NOT_MADE:
        return f"{answer.drive} was not moved after all"
    if answer.kind == DIAL:
        if answer.dial_mm is None:
            return "The dial stood elsewhere: nobody read it"
        return f"The dial still stood at {reading(rig, answer.dial_mm)}"
    if answer.kind == PIN and answer.pin is not None:
        return f"It was {pin_name(rig, answer.pin, units)}"
    if answer.kind == DISTANCE and answer.ranged_m is not None:
        return f"It was shot at {whole_distance(units, answer.ranged_m)}"
    if answer.kind == MOVED:
        of = "" if answer.pin is None else f" of {pin_name(rig, answer.pin, units)}"
        return f"{answer.drive}{of} was moved before it{_about(answer)}"
    return "A bad end: leave it out" if answer.kind == BAD else "None of these: count it"


def _about(answer: Answer) -> str:
    if not answer.amount:
        return ""
    way = amount_way(answer.moves, answer.amount)
    if answer.unit in (CLICK, TURN):
        return f" (about {abs(answer.amount):.0f} {answer.unit}s {way})" if abs(answer.amount) >= 1.0 else ""
    return f" (about {fixed(abs(answer.amount), 1)} mm {way})"


HOW = {
    "read": "read",
    "ordered": "as ordered, nobody read it",
    "said": "said",
    "card": "by the card",
    "moved": "counted",
    "uncounted": "moved, nobody counted",
    "another_day": "last read then: not known now",
    "never": "nobody said yet",
}


def stand_words(rig: Rig, stand: SightStand | None, units: Units) -> list[dict[str, Any]]:
    """What the sight stands at, a row each: what, where, how well that is known, since when."""
    if stand is None:
        return []
    rows = []
    if stand.dial is not None:
        home = {True: "at home", False: "not at home", None: ""}[stand.at_home]
        where = _dial(rig, stand.dial)
        rows.append(_row("dial", "Dial", ", ".join(part for part in (where, home) if part), stand.dial))
    drives = {drive.name: drive for drive in rig.range.estimate.controls} if rig.range.estimate else {}
    for place in stand.controls:
        rows.append(_row(place.what, place.what, _control(drives[place.what], place), place))
    return rows


def unknown_words(rows: list[dict[str, Any]]) -> str:
    """What of the sight's places nobody knows, in one line; empty where all are known, or assumed as on the card."""
    names = [row["name"] if row["key"] == "dial" else row["name"].lower() for row in rows if row["state"] == UNKNOWN]
    return f"Not known: {', '.join(names)}." if names else ""


def _row(key: str, name: str, where: str, place: Place) -> dict[str, Any]:
    since = "" if place.since is None else f", {local_time(place.since)}"
    how = HOW[place.why]
    if place.how == ASSUMED and place.why in ("card", "moved"):
        how = "assumed"
    value = "" if place.value_mm is None else fixed(place.value_mm, 1)
    return {
        "key": key, "name": name, "where": where, "how": f"{how}{since}", "known": place.how == KNOWN, "value": value,
        "state": place.how.value, "places": [f"{p:g}" for p in place.places_mm],
    }  # fmt: skip


def _dial(rig: Rig, place: Place) -> str:
    if place.value_mm is None:
        return "not known"
    return (
        reading(rig, place.value_mm)
        if place.why != "another_day"
        else f"not known (was {reading(rig, place.value_mm)})"
    )


def _control(drive: RangeControl, place: Place) -> str:
    if place.value_mm is None:
        return "not known"
    if place.places_mm:
        return f"at the {place.value_mm:g} mm place"
    if place.value_mm == 0.0:
        return "as on the card" if place.why == "card" else "as it was set"
    way = amount_way(drive.moves, place.value_mm)
    return f"{fixed(abs(place.value_mm), 1)} mm {way} since"


def amount_way(moves: str, amount: float) -> str:
    """Which way an amount of a control goes, by what it moves."""
    if moves in SIDEWAYS:
        return "right" if amount > 0 else "left"
    return "up" if amount > 0 else "down"


def where_words(drive: RangeControl) -> dict[str, Any]:
    """Where a control that goes by steps stands is asked before it is moved."""
    return {"name": drive.name, "places": [f"{place:g}" for place in drive.places_mm]}


def shaft_words(shaft: Shaft, units: Units, ranged_m: float) -> dict[str, str]:
    """A shaft that lands apart: by how much at a distance, and what to do about it."""
    right, up = (1e-3 * value * ranged_m for value in (shaft.right_mrad, shaft.up_mrad))
    sideways = f"{on_target(units, right)} {'right' if right > 0 else 'left'}"
    sides = f"{sideways}, {on_target(units, up)} {'high' if up > 0 else 'low'}"
    words = (
        f"Arrow {shaft.number} lands apart from the others, {shaft.shots} shots: {sides} at "
        f"{whole_distance(units, ranged_m)}, more than chance. Turn its nock and try it again, or weed it out."
    )
    return {"number": shaft.number, "words": words}


def wider_words(wider: Wider) -> str:
    """An archer who shoots wider than his card says, told once."""
    return (
        f"Your last {wider.arrows} arrows: {trimmed(wider.own_mrad, 1)} mrad, the card says "
        f"{trimmed(wider.card_mrad, 1)}: take it over?"
    )
