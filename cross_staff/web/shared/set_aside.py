"""What is set aside at a station, by what, and since when, in words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from cross_staff.core.rig.staleness import Event
from cross_staff.services.rig import Rig
from cross_staff.web.card.words import RESULTS
from cross_staff.web.shared.moments import local_time

_KINDS = {
    "checks": ("check of the bench sheet", "checks of the bench sheet"),
    "steps": ("step of mounting", "steps of mounting"),
    "looks": ("look at an axis", "looks at the axes"),
    "ends": ("end of arrows", "ends of arrows"),
    "marks": ("mark", "marks"),
    "speed": ("chronographed speed", "chronographed speeds"),
}


def counted(kind: str, count: int) -> str:
    """How many of a kind that was measured."""
    one, many = _KINDS[kind]
    return f"{count} {one if count == 1 else many}"


def all_counted(kinds: Iterable[tuple[str, int]]) -> str:
    """What would be set aside, as a list in words; empty where nothing is."""
    return ", ".join(counted(kind, count) for kind, count in kinds)


def event_words(event: Event) -> str:
    """What happened, as a list in words."""
    return "; ".join(cause.words for cause in event.causes)


def aside_lines(rig: Rig, station: str = "") -> list[dict[str, Any]]:
    """What is set aside at a station (all of them, where none is named): how much, why, when, and the results that
    can be taken up again."""
    saved = {each.number: each.saved for each in rig.history}
    return [
        {
            "words": f"{counted(each.kind, each.count)} set aside{_but(each.kind, station)}",
            "why": event_words(each.event),
            "when": local_time(saved[each.event.number]),
            "results": [(result, RESULTS[result]) for result in each.results],
            "number": each.event.number,
            "station": each.station,
        }
        for each in rig.set_aside
        if station in ("", each.station) or (station == "tape" and each.kind == "speed")
    ]


def _but(kind: str, station: str) -> str:
    """A tape rests on its speed, and says so: it counts as three per cent wider until it is measured again."""
    if kind != "speed":
        return ""
    return ", which the tape rests on: it counts as 3 % unsure" if station == "tape" else ", and counts as 3 % unsure"
