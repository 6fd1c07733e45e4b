"""Tables of several pins: gaps, what each is worth when dialled, which to dial, where indicators go."""

from __future__ import annotations

import math
from collections.abc import Sequence

from cross_staff.core.mount.planner import travel_about_home
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.pins import Way, all_ways_to, covers_m, indicators, ways_to, worth
from cross_staff.core.tape.stack import gap_sds_mm
from cross_staff.services.mount.page import planned_here
from cross_staff.web.forms.units import fixed
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView


def gaps(t: TapeView) -> Table:
    """The stack: what each pin is for, where it belongs, the gap to the next, and what it hides."""
    at, fit = t.evaluation.pins.at_m, t.evaluation.fit
    top = t.heights[0]
    sds = gap_sds_mm(t.card, fit, at[:1], at)[0] if fit else []
    rows = []
    for pin, height in enumerate(t.heights):
        distance = t.card.distance_from_sight(at[pin])
        after = 1000.0 * (height - t.heights[pin + 1]) if pin + 1 < len(t.heights) else None
        kept = t.card.sight.pins[pin].thickness_mm if pin < len(t.card.sight.pins) else None
        hides = None if kept is None else covers_m(kept, t.figures.eye_to_sight_m, distance)
        rows.append(
            [
                words.pin_name(pin, len(t.heights)),
                t.number(at[pin]),
                fixed(1000.0 * (top - height), 1),
                "" if pin == 0 or not sds else f"± {COVERAGE * sds[pin]:.1f}",
                "–" if after is None else fixed(after, 1),
                "–" if hides is None else f"{on_target(t.units, hides)}, {100.0 * hides / t.target_m:.0f} %",
            ]
        )
    return Table(
        "gaps",
        "Pin gaps",
        ("pin", t.unit, "below the top, mm", "", "to the next, mm", "pin hides, part of the target"),
        rows,
        f"Housing millimetres. The target is {on_target(t.units, t.target_m)}.",
    )


def dialled(t: TapeView) -> Table:
    """What every pin is worth for every distance dialled."""
    own = t.evaluation.pins.dialled
    start = t.evaluation.tape_home_m or 0.0
    ranged = [start, *(d for d in t.distances(start, every=5.0) if d > start + 0.5)]
    table = worth(t.figures, t.heights, own, [t.card.distance_from_sight(d) for d in ranged])
    names = [
        words.pin_name(pin, len(t.heights)) + (" (dialled)" if pin == own else "") for pin in range(len(t.heights))
    ]
    rows = [[t.number(d), *(t.ranged(v) for v in values)] for d, values in zip(ranged, table)]
    return Table(
        "dialled",
        f"Dial the {words.pin_name(own, len(t.heights))} to",
        (t.unit, *names),
        rows,
        "A dash: that pin stands above the turnover, and is right for no distance.",
    )


def ways(t: TapeView) -> Table:
    """For every distance that is shot: which pin takes the least dialling, and where the dial then stands."""
    ranged = t.distances()
    made = all_ways_to(
        t.figures, t.heights, t.evaluation.pins.dialled, [t.card.distance_from_sight(d) for d in ranged], *_room(t)
    )
    rows = [[t.number(d), *_way_cells(t, ways or ())] for d, ways in zip(ranged, made)]
    return Table(
        "ways",
        "Which pin, and what to dial",
        (t.unit, "least travel", "dial to", "housing, mm", "or"),
        rows,
        "Travel of the housing from home, down unless it says up.",
    )


def way_words(t: TapeView, ranged_m: float) -> list[str]:
    """The least travel for a distance in four cells: pin, what to dial, millimetres, the next best."""
    at = t.card.distance_from_sight(ranged_m)
    return _way_cells(t, ways_to(t.figures, t.heights, t.evaluation.pins.dialled, at, *_room(t)))


def _room(t: TapeView) -> tuple[float, float]:
    """The travel there is above and below home [m]; without a plan none above, and any below."""
    here = planned_here(t.rig)
    up, down = travel_about_home(t.card, here) if here else (0.0, math.inf)
    return up / 1000.0, down / 1000.0


def _way_cells(t: TapeView, ways_there: Sequence[Way]) -> list[str]:
    if not ways_there:
        return ["none", "out of travel", "–", "–"]
    best, *rest = ways_there
    name = words.pin_name(best.pin, len(t.heights))
    other = f"{words.pin_name(rest[0].pin, len(t.heights))} at {_dial(t, rest[0].dial_to_m)}" if rest else "–"
    millimetres = 1000.0 * best.travel_m
    if abs(millimetres) < 0.05:
        return [name, "home: nothing to dial", "0", other]
    return [name, _dial(t, best.dial_to_m), fixed(abs(millimetres), 1) + (" up" if millimetres < 0 else ""), other]


def _dial(t: TapeView, dial_to_m: float | None) -> str:
    return "by the mm" if dial_to_m is None else f"{t.ranged(dial_to_m)} {t.unit}"


def pointers(t: TapeView) -> Table:
    """Where every pin's indicator goes, or which round distance to set the pin to."""
    lead = t.card.ranged_distance(0.0)
    pointers = indicators(
        t.figures, t.heights[0], t.heights, t.evaluation.fit.tape_ratio if t.evaluation.fit else 1.0,
        t.units.unit("distance").si, lead,
    )  # fmt: skip
    rows = []
    for each in pointers:
        up = each.pin_up_mm
        move = "–" if up is None else "as it is" if abs(up) < 0.05 else f"{abs(up):.1f} {'up' if up > 0 else 'down'}"
        place = "at the pointer" if each.pin == 0 else f"{fixed(each.on_tape_mm, 1)} farther"
        rows.append(
            [
                words.pin_name(each.pin, len(t.heights)), t.ranged(each.distance_m), place,
                t.number(each.round_m + lead), move,
            ]
        )  # fmt: skip
    return Table(
        "indicators",
        "Indicators",
        (
            "pin",
            f"its indicator points to, {t.unit}",
            "on the tape, mm",
            f"or set the pin for, {t.unit}",
            "pin moves, mm",
        ),
        rows,
        "With the sight at home. Keep the holders mid-range, a hair clear of the tape; hold, tighten, look again.",
    )
