"""What stands on a printed tape: its heading, its waste edge, the names of its strips and when to use which."""

from __future__ import annotations

from datetime import date

from cross_staff.core.printing.sheet import SheetStyle
from cross_staff.core.tape.edges import TapeEdges
from cross_staff.core.tape.layout import Wanted
from cross_staff.core.tape.scale import SeatUse
from cross_staff.core.tape.station import ARROWS_TO_SHOOT
from cross_staff.services.rig import Rig
from cross_staff.services.tape.record import StripWords, edges_of, home_between
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.reach_words import LIMITS


def strip_words(rig: Rig, units: Units, wanted: Wanted, style: SheetStyle) -> StripWords:
    """The words of a sheet."""
    edges = edges_of(rig, wanted.to_m)
    home = home_between(rig, wanted)
    heading, waste = _heading(rig, units, wanted, style, edges)
    nearer, farther = (
        ("", "") if edges is None else (f"if arrows hit {side} at {_at(edges, units)}" for side in ("high", "low"))
    )
    number = "" if home is None else trimmed(home / (wanted.unit_m or rig.card.tape.unit_m), 2)
    return StripWords(heading, waste, nearer, "fitted", farther, number)


def rule_words(name: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The heading and the waste edge of a millimetre rule."""
    heading = (
        name,
        "Millimetre rule, true scale.",
        "Stick it on the rail so that its numbers grow as the sight goes down; from then on it is the sight's scale.",
        "Stuck on anew, or shifted: note “pointer or scale moved” under what happened to the bow.",
    )
    return heading, (name, "millimetres")


def telling_words(rig: Rig, units: Units, wanted: Wanted) -> str:
    """At which distance one knows which of the strips is the right one."""
    if rig.evaluation.fit is None or wanted.to_m <= wanted.from_m:
        return ""
    edges = edges_of(rig, wanted.to_m)
    if edges is None:
        return "This tape is surer than a line is wide: there is no other strip to try."
    apart = sentences.on_target(units, edges.apart_m)
    at, arrows = _at(edges, units), f"{ARROWS_TO_SHOOT} arrows"
    if edges.tells:
        return f"You will know at {at}: by the fitted strip {arrows} hit {apart} off where one beside it is right."
    return f"{arrows} cannot tell these strips apart, not even at {at} ({apart}): keep the fitted one."


def _at(edges: TapeEdges, units: Units) -> str:
    return sentences.whole_distance(units, edges.tell_m)


def _heading(
    rig: Rig, units: Units, wanted: Wanted, style: SheetStyle, edges: TapeEdges | None
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The lines at the head of the sheet, and those on the waste edge."""
    card, today = rig.card, date.today().isoformat()
    names = [n for n in (card.archer, card.bow.words, card.build.name) if n]
    quality, number = fit_quality(rig, units), rig.revision.number
    bias, pin = _bias(units, wanted), _laid_for(rig, units)
    fit = rig.evaluation.fit
    extras = [
        pin,
        f"ratio {fit.tape_ratio:.3f}" if fit and card.tape.ratio != 1.0 else "",
        f"other edge: {style.other_edge}" if style.other_edge else "",
        bias,
        _beyond(rig, units, wanted),
    ]
    said = " · ".join(filter(None, extras))
    heading = [
        card.name,
        " · ".join(names) or "archer and bow not noted",
        f"Yardage tape in {pin_words.strip_unit(card)} · revision {number} · {today} · {quality}",
        *([said] if said else []),
        *([telling_words(rig, units, wanted)] if edges is not None else []),
    ]
    waste = [
        " · ".join(filter(None, [card.name, card.build.name])),
        " · ".join(filter(None, [f"rev {number}", today, bias])),
        " · ".join(filter(None, [quality, pin])),
    ]
    return tuple(heading), tuple(waste)


def _bias(units: Units, wanted: Wanted) -> str:
    if not wanted.low_m:
        return ""
    side, far = "low" if wanted.low_m > 0 else "high", sentences.whole_distance(units, wanted.to_m)
    return f"set {sentences.on_target(units, wanted.low_m)} {side} at {far}, as asked"


def _laid_for(rig: Rig, units: Units) -> str:
    """For which pin the tape is laid on, where there are several."""
    pins = rig.evaluation.pins
    return (
        "" if len(pins.at_m) < 2 else f"laid on for the {pin_words.pin_name(rig.card, pins.at_m, pins.dialled, units)}"
    )


def _beyond(rig: Rig, units: Units, wanted: Wanted) -> str:
    """That the last lines are beyond the sight's reach, and why; empty where none is."""
    reach = rig.reach
    if reach is None or reach.farthest_m is None or reach.binding is None or wanted.to_m <= reach.farthest_m + 0.05:
        return ""
    return f"in brackets: beyond reach, {LIMITS[reach.binding]} at {sentences.whole_distance(units, reach.farthest_m)}"


def fit_quality(rig: Rig, units: Units) -> str:
    """How good the fit is, in a few words for the waste edge."""
    evaluation = rig.evaluation
    trusted = rig.card.trusted_m(evaluation.good_to_m)
    worth = "card and marks contradict" if evaluation.doubtful else sentences.good_to(trusted, units)
    used = len(evaluation.used)
    return f"{'from speed alone' if not used else '1 mark' if used == 1 else f'{used} marks'}, {worth}"


def other_edges(rig: Rig, units: Units) -> list[tuple[str, str]]:
    """What a second edge can carry."""
    card, pins = rig.card, rig.evaluation.pins
    unit = "m" if pin_words.strip_unit(card) == "yd" else "yd"
    names = [pin_words.pin_name(card, pins.at_m, pin, units) for pin in range(len(pins.at_m))]
    of_pins = [(f"pin{pin}", f"the {name}'s tape") for pin, name in enumerate(names) if pin != pins.dialled]
    return [("", "one edge only"), ("same", "the same again"), (unit, f"the same in {unit}"), *of_pins]


def as_far(rig: Rig, units: Units) -> str:
    """How far the sight goes, as a number for the form; empty where nothing is known to end it."""
    far = rig.reach.farthest_m if rig.reach else None
    return "" if not far else trimmed(int(units.from_si("distance", far) + 1e-9), 0)


def seat_words(uses: tuple[SeatUse, ...]) -> list[str]:
    """Which of several seats takes a tape."""
    said = []
    for number, each in enumerate(uses):
        left = "takes the whole tape" if each.missing_mm < 0.05 else f"{each.missing_mm:.1f} mm find no room"
        best = "Use this one: " if number == 0 else ""
        said.append(f"{best}the seat that begins {trimmed(each.begins_mm, 1)} mm below the pointer {left}.")
    return said


def too_long(long_mm: float, room_mm: float) -> list[str]:
    """That a tape finds no room in its only seat."""
    room = f"The tape is {long_mm:.1f} mm long, its seat {trimmed(room_mm, 1)} mm: print a shorter span."
    return [room] if long_mm - room_mm > 0.05 else []
