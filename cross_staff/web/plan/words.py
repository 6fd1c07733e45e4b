"""The words of the days: what a session is, why it cannot be there, what leaving one out costs."""

from __future__ import annotations

import math
from datetime import date, datetime

from cross_staff.core.plan.days import WEEKDAYS
from cross_staff.core.plan.planner import Clash, Placed, RigPlan
from cross_staff.core.plan.sessions import At, Session
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import whole_distance

KINDS = {
    "card": ("Measure for the card", "what makes the tape: an archer, a rule, a scale"),
    "tune": ("Bench sheet and tune", "string, rest, nocking point, timing"),
    "strings": ("Shoot the string in", "until the peep stops turning"),
    "mount": ("Mount the sight", "hole, extension, home, clearances"),
    "level": ("Level the axes", "first, second, third"),
    "close": ("Sight in close", "well inside ten metres"),
    "reproof": ("Prove it again", "the few arrows that show whether what was set aside still holds"),
    "aim": ("Sight in", "groups until it is settled"),
    "tape_day": ("A day for the tape", "on a day of its own: days differ"),
    "print": ("Print and lay the tape", "then it dries"),
    "proof": ("Proof visit", "cold, on a day of its own"),
    "slope": ("Slope day", "groups steeply up and down"),
    "lock": ("Lock and mark", "thread-locker cures overnight"),
    "hand_over": ("Hand over", "the card, signed"),
}
COSTS = {
    "slope": "the third axis is not decided on slopes: level ground and gentle slopes only",
    "proof": "the tape is proven on fewer days: a wrong one is found out later, by a miss",
    "tape_day": "the tape is of fewer days: wider, and what one day does to it is in it",
    "aim": "not sighted in there: the tape alone says, or nobody",
}
NOT_KNOWN = "nobody knows how far it is usable by then"
CLASHES = {
    Clash.PAST: "it is over by now",
    Clash.CLOSED: "the shop is closed",
    Clash.NIGHT: "there is no light",
    Clash.ARCHER: "the archer is not free",
    Clash.BUSY: "somebody is to be in two places",
    Clash.RIG: "the rig is to be in two places",
    Clash.ORDER: "something that comes before it is not done, or not dry",
    Clash.SAME_DAY: "another session is on that day that wants a day of its own",
    Clash.WAITS: "the part that it waits for is not there",
    Clash.NOBODY: "nobody of that name works here",
}


def session_name(session: Session, units: Units) -> str:
    """A session by its name."""
    name = KINDS[session.kind][0]
    if session.distance_m is not None:
        return f"{name} at {whole_distance(units, session.distance_m)}"
    number = session.key.rpartition(" ")[2]
    return f"{name} {number}" if number.isdecimal() else name


def day_words(day: date) -> str:
    """A day as a calendar heads it."""
    return f"{WEEKDAYS[day.weekday()]} {day.day} {day:%b}"


def moment_words(moment: datetime) -> str:
    """A day and an hour."""
    return f"{day_words(moment.date())}, {moment:%H:%M}"


def where_words(session: Session) -> str:
    return "at the range" if session.about.at == At.RANGE else "in the shop"


def clash_words(placed: Placed) -> list[str]:
    return [CLASHES[clash] for clash in placed.clashes]


def _whole_below(units: Units, metres: float) -> str:
    """A distance that something is good to, never beyond it."""
    return f"{math.floor(units.from_si('distance', metres) + 1e-6)}\u00a0{units.label('distance')}"


def _costs(made: RigPlan, units: Units) -> list[str]:
    """What is left out, each kind once, and what that costs."""
    by_kind: dict[str, list[str]] = {}
    for each in made.left_out:
        by_kind.setdefault(each.kind, []).append(session_name(each, units))
    return [f"{', '.join(reversed(names))}: {COSTS[kind]}" for kind, names in by_kind.items()]


def _left_out(made: RigPlan, units: Units) -> str:
    """What is left out, by name, as they would have come."""
    names = [session_name(each, units) for each in reversed(made.left_out)]
    return ", ".join(name if place == 0 else f"{name[0].lower()}{name[1:]}" for place, name in enumerate(names))


def late_words(made: RigPlan, units: Units) -> tuple[str, list[str]]:
    """What is said of a rig that has not the time for all of it: a sentence, and what each omission costs."""
    due = "" if made.wish.due is None else day_words(made.wish.due)
    until = f"usable to {_whole_below(units, made.usable_m)} by then" if made.usable_m else NOT_KNOWN
    costs = _costs(made, units)
    if made.no_place:
        lacks = "the archer has no free time" if made.wish.free == () else "there is no time for it"
        return f"{lacks.capitalize()}: {', '.join(session_name(each, units) for each in made.no_place)}.", costs
    if made.late:
        return f"It is not ready by {due}, whatever is left out: {until}.", costs
    if made.left_out:
        return f"Too late for all of it by {due}: {until}. Leave out: {_left_out(made, units)}.", costs
    return "", costs
