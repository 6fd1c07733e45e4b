"""Tables of several pins: gaps, what each is worth when dialled, which to dial, where indicators go."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.pins import Way
from cross_staff.web.forms.units import fixed
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView


def gaps(t: TapeView) -> Table:
    """The stack: what each pin is for, where it belongs, the gap to the next, and what it hides."""
    rows = [
        [
            words.pin_name(pin, len(t.heights)),
            t.number(gap.ranged_m),
            fixed(gap.below_mm, 1),
            "" if gap.sd_mm is None else f"± {COVERAGE * gap.sd_mm:.1f}",
            "–" if gap.next_mm is None else fixed(gap.next_mm, 1),
            "–"
            if gap.hides_m is None
            else f"{on_target(t.units, gap.hides_m)}, {100.0 * gap.hides_m / t.target_m:.0f} %",
        ]
        for pin, gap in enumerate(t.gaps())
    ]
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
    names = [
        words.pin_name(pin, len(t.heights)) + (" (dialled)" if pin == own else "") for pin in range(len(t.heights))
    ]
    rows = [[t.number(d), *(t.ranged(v) for v in values)] for d, values in zip(ranged, t.worth(ranged))]
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
    rows = [[t.number(d), *_way_cells(t, ways or ())] for d, ways in zip(ranged, t.ways(ranged))]
    return Table(
        "ways",
        "Which pin, and what to dial",
        (t.unit, "least travel", "dial to", "housing, mm", "or"),
        rows,
        "Travel of the housing from home, down unless it says up.",
    )


def way_words(t: TapeView, ranged_m: float) -> list[str]:
    """The least travel for a distance in four cells: pin, what to dial, millimetres, the next best."""
    return _way_cells(t, t.ways_to(ranged_m))


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
    rows = []
    for each in t.indicators(t.units.unit("distance").si):
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
