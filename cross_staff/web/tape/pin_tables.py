"""Tables of several pins: where each belongs and stands, what each is worth when dialled, which to use, pointers."""

from __future__ import annotations

import math

from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.ways import HALF_A_LINE_MM, Answer, NoWay, Way
from cross_staff.services.tape.page import PinGap
from cross_staff.web.forms.units import fixed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.reading_words import reading
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table, TapeView

ON_THE_SPOT_M = 0.005  # nearer than this needs no word


def gaps(t: TapeView) -> Table:
    """The stack: what each pin is for, where it belongs and where it stands, and what it hides."""
    rows = []
    for gap in t.gaps():
        stands = gap.stands
        rows.append(
            [
                t.pin_name(gap.pin),
                t.number(gap.ranged_m),
                _mm(gap.belongs_mm),
                "" if gap.sd_mm is None else f"± {COVERAGE * gap.sd_mm:.1f}",
                _mm(gap.next_mm),
                "not shot" if stands.below_mm is None else fixed(stands.below_mm, 1),
                "" if stands.sd_mm is None or not gap.pin else f"± {COVERAGE * stands.sd_mm:.1f}",
                "–" if stands.worth_m is None else t.number(stands.worth_m),
                _to_go(gap),
                "–"
                if gap.hides_m is None
                else f"{on_target(t.units, gap.hides_m)}, {100.0 * gap.hides_m / t.target_m:.0f} %",
            ]
        )
    return Table(
        "gaps",
        "Dots" if t.card.sight_kind.computes_dots else "Pin gaps",
        (
            "pin",
            t.unit,
            "belongs below the top, mm",
            "",
            "to the next, mm",
            "stands, mm",
            "",
            f"right for, {t.unit}",
            "to go, mm",
            "pin hides, part of the target",
        ),
        rows,
        "Housing millimetres below the place of a top pin that is right for home. Where a pin stands is known once "
        f"it was shot or set. The target is {on_target(t.units, t.target_m)}.",
    )


def _to_go(gap: PinGap) -> str:
    """How far a pin is to go to where it belongs, and whether that is more than what is not sure of it."""
    up = gap.to_go_up_mm
    if up is None:
        return "–"
    if abs(up) < 0.1:
        return "stays"
    sure = abs(up) > COVERAGE * math.hypot(gap.sd_mm or 0.0, gap.stands.sd_mm or 0.0)
    return f"{fixed(abs(up), 1)} {'up' if up > 0 else 'down'}{'' if sure else ', not sure'}"


def _mm(value: float | None) -> str:
    return "–" if value is None else fixed(value, 1)


def dialled(t: TapeView, wanted_m: float | None = None) -> Table:
    """What every pin is worth for every distance dialled."""
    own = t.evaluation.pins.dialled
    start = t.evaluation.tape_home_m or 0.0
    asked = wanted_m if wanted_m is not None and wanted_m > start + 0.05 else None
    ranged = t.with_asked([start, *(d for d in t.distances(start, every=5.0) if d > start + 0.5)], asked)
    pins = range(len(t.heights))
    names = [t.pin_name(pin) + (" (dialled)" if pin == own else "") for pin in pins]
    rows = [[t.number(d), *(t.ranged(v) for v in values)] for d, values in zip(ranged, t.worth(ranged))]
    return Table(
        "dialled",
        f"What every pin is worth, {t.pointer_name(own)} set to",
        (t.unit, *names),
        rows,
        "A dash: that pin stands above the turnover, and is right for no distance.",
        t.place_of(ranged, asked),
    )


def ways(t: TapeView, wanted_m: float | None = None) -> Table:
    """For every distance that is shot: a pin at home, or a pointer and the number under it."""
    ranged = t.with_asked(t.distances(), wanted_m)
    rows = [[t.number(d), *way_cells(t, answer)] for d, answer in zip(ranged, t.answers(ranged))]
    return Table(
        "ways",
        "How each distance is shot",
        (
            t.unit,
            "with",
            "line, drum" if t.drummed else "number under it",
            f"hits, {t.units.label('offset')}",
            "housing, mm",
            "or",
        ),
        rows,
        _ways_note(t),
        t.place_of(ranged, wanted_m),
    )


def _ways_note(t: TapeView) -> str:
    travel = "Travel of the housing from home, down unless it says up."
    if not t.card.sight_kind.dialled:
        return f"At home means nothing is dialled: it hits within half of {on_target(t.units, t.target_m)}."
    if t.card.sight_kind.has_drum:
        return travel
    return f"At home: nothing to dial, it hits within half of {on_target(t.units, t.target_m)}. {travel}"


def way_cells(t: TapeView, answer: Answer) -> list[str]:
    """How a distance is shot, in five cells: with what, the number, where it hits, the travel, the next best."""
    best = answer.best
    if best is None:
        return [no_way(t, answer), "–", "–", "–", "–"]
    other = next((way for way in answer.ways[1:] if not way.at_home and abs(way.travel_mm) >= HALF_A_LINE_MM), None)
    comes_in = words.high_low(t.units, best.up_m, "on") if best.at_home else "on"
    return [_with(t, best), _number(t, best), comes_in, _travel(best), "–" if other is None else _or(t, other)]


def no_way(t: TapeView, answer: Answer) -> str:
    """Why a distance cannot be had."""
    if answer.problem == NoWay.ARROW:
        return "out of the arrow's reach"
    if answer.problem == NoWay.ABOVE:
        return f"needs the sight {fixed(answer.misses_mm, 1)} mm higher than it goes"
    if not t.card.sight_kind.dialled:
        return "no pin holds it"
    short = f", {fixed(answer.misses_mm, 1)} mm short" if answer.misses_mm >= 0.05 else ""
    return f"beyond its reach{short}"


def _with(t: TapeView, way: Way) -> str:
    return f"{t.pin_name(way.pin)}, at home" if way.at_home else t.pointer_name(way.pin)


def _number(t: TapeView, way: Way) -> str:
    return "nothing to dial" if way.at_home else t.drum_words(way.travel_mm) if t.drummed else t.line(way.line_m)


def _travel(way: Way) -> str:
    if way.at_home or abs(way.travel_mm) < 0.05:
        return "0"
    return fixed(abs(way.travel_mm), 1) + (" up" if way.travel_mm < 0 else "")


def _or(t: TapeView, way: Way) -> str:
    if t.drummed:
        return reading(t.rig, t.reading_mm(way.travel_mm)) if t.on_scale else t.drum_words(way.travel_mm)
    return f"{t.pointer_name(way.pin)} to {t.line(way.line_m)}"


def answer_words(t: TapeView, asked: str, answer: Answer) -> tuple[str, str]:
    """For one distance: what to do, in a sentence, and why."""
    best = answer.best
    if best is None:
        return f"{asked}: {no_way(t, answer)}.", _remedy(t, answer)
    others = [_or(t, way) for way in answer.ways[1:] if not way.at_home and abs(way.travel_mm) >= HALF_A_LINE_MM]
    also = f" Or {', or '.join(others)}." if others else ""
    if best.at_home:
        off = abs(best.up_m) >= ON_THE_SPOT_M
        comes = f"; it hits {words.high_low_unit(t.units, best.up_m)}" if off else ""
        inside = f"Within half of {on_target(t.units, t.target_m)} with the sight at home."
        return f"{asked}: {t.pin_name(best.pin)}, nothing to dial{comes}.", f"{inside}{also}"
    up = best.travel_mm < 0
    moves = f"The housing goes {fixed(abs(best.travel_mm), 1)} mm {'up' if up else 'down'} from home."
    say, _, clicks = _or(t, best).partition(": ")
    return f"{asked}: {say}.", f"{clicks[:1].upper()}{clicks[1:]}. {moves}{also}" if clicks else f"{moves}{also}"


def _remedy(t: TapeView, answer: Answer) -> str:
    hold = t.best_hold(t.card.ranged_distance(answer.distance_m))
    if answer.problem == NoWay.ARROW or hold is None:
        return "This arrow does not come that far."
    pin, up = hold
    side = "low" if up > 0 else "high"
    return (
        f"With nothing dialled: {pin_words.the(t.pin_name(pin))}, held {on_target(t.units, up)} {side}. "
        "Slopes and reach has what would take it there."
    )


def pointers(t: TapeView) -> Table:
    """Where every pointer goes, or which round distance to set its pin to."""
    lead = t.card.ranged_distance(0.0)
    rows = []
    for each in t.rig.pointers:
        up, own = each.pin_up_mm, each.pin == t.evaluation.pins.dialled
        move = "–" if up is None else "as it is" if abs(up) < 0.05 else f"{abs(up):.1f} {'up' if up > 0 else 'down'}"
        beyond = (
            "its home line"
            if own
            else f"{fixed(abs(each.beyond_mm), 1)} {'farther' if each.beyond_mm > 0 else 'nearer'}"
        )
        wide = pin_words.pointer_width(t.card, each) or "not shot"
        rows.append(
            [
                t.pointer_name(each.pin),
                "–" if each.line_m is None else t.line(each.line_m),
                wide,
                beyond,
                "–" if each.round_m is None else pin_words.strip_number(t.card, each.round_m + lead),
                move,
            ]
        )
    return Table(
        "indicators",
        "Pointers",
        (
            "pointer",
            f"to the line, {pin_words.strip_unit(t.card)}",
            "",
            "on the tape, mm",
            "or set its pin for",
            "pin moves, mm",
        ),
        rows,
        "With the sight at home and the tape on. Keep the holders mid-range, a hair clear of the tape; hold, tighten, "
        "look again.",
    )
