"""What the level page shows: the instruction, both vials, the axes, what is left of them, the log."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date
from secrets import token_hex
from typing import Any

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.level import screws as adjust
from cross_staff.core.level.axis import AxisState, moves_freely, screw_of
from cross_staff.core.level.cost import USUAL_SLOPE_RAD
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, JIG, METHODS, RAIL, WANDER, Method
from cross_staff.core.level.rests import rests_at
from cross_staff.core.level.station import STATION, LevelState
from cross_staff.core.level.units import beside
from cross_staff.core.rig.card import SEATS
from cross_staff.core.rig.log import standing
from cross_staff.services.level.page import LevelPage, level_page
from cross_staff.services.level.record import as_before
from cross_staff.services.rig import Rig
from cross_staff.services.shop.door import acts
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import INCH_M, Units
from cross_staff.web.level import orders, tables, words
from cross_staff.web.level.drawing import RulerDrawing, VialDrawing, method_drawing, ruler, vial
from cross_staff.web.level.form import WANDER_M, bubble_at
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.render import render, rig_context

CANTED_M = {
    "mm": (0.010, 0.500),
    "in": (0.375 * INCH_M, 20.0 * INCH_M),
}  # of a string off its plumb line, over a length
AGAIN = ("second_look", "not_sure", "first_look", "other_place")
ANYWAY = "levelled before the bow was tuned"
GATE = "The gate is shut: the bow comes first. Open it at Prepare, or with a written reason there."
PROOFS = ("reference", "string", "rail")
_BESIDE = {CLIP: "Reference", JIG: "Jig's level", RAIL: "Level on the rail"}


def station_page(request: Request, rig: Rig, form: FormInput, asked: str = "", status: int = 200) -> Response:
    """The station with its log; `asked` is the axis that is looked at in place of the next one."""
    page = level_page(request.app.state.database, rig, date.today())
    units, state = Units.of(rig.units), rig.level
    axis = asked or state.current or "third"
    current = state.axes[axis]
    method = _method(form, axis, current)
    open_gate = rig.checklist.gate_open or state.in_jig or method.on_bench  # a sight off the bow waits for no bow
    read_now = current.method if current.action.kind == adjust.TURN else method.key  # turned as it was read
    shown = replace(state, axes={**state.axes, axis: replace(current, method=read_now)})
    shown = shown if not asked else replace(shown, current=asked, step="axis")
    say, how, why = orders.now(shown, rig.card) if open_gate else orders.SHUT
    turning = shown.step == "axis" and current.action.kind == adjust.TURN
    reading = open_gate and shown.step not in ("reference", "string", "plumb")
    context = rig_context(rig, "level", date.today()) | {
        "form": form,
        "state": shown,
        "gate": "" if open_gate else GATE,
        "anyway": form.typed.get("reason", ANYWAY),
        "in_jig": state.in_jig,
        "say": say,
        "how": how,
        "why": why,
        "caution": orders.caution(shown) or sentences.CAUTION_STRING,
        "axis": axis,
        "axis_name": words.NAMES[axis],
        "entering": open_gate and shown.step == "axis",
        "reading": reading,
        "proving": shown.step if shown.step in PROOFS else current.action.because,
        "shop_levels": page.shop_levels,
        "prove": shown.step in PROOFS or (turning is False and current.action.because in PROOFS and reading),
        "matching": open_gate and (shown.step == "match" or current.action.because == "match"),
        "label": words.LABELS.get(state.label, ""),
        "squared": tables.squared(page, units) if state.step == "squared" else [],
        "turning": turning,
        "method": method,
        "method_picture": method_drawing(method),
        "methods": _offered(page.ways[axis], method),
        "sense": _sense(shown, current),
        "calibrating": open_gate and current.action.because == "calibrate" and shown.step == "axis",
        "known_beside": _known_beside(rig, axis, method),
        "string_too": method.reads == CLIP and rig.card.level.string.per_division_rad is None,
        "again": _again(state, axis, current, method),
        "asks": _asks(form, method, rig, axis),
        "typed": _planned(page, method, units) | _typed(form, rig, current, method),
        "vials": _vials(form, rig, axis, method),
        "settle": tables.settles(page, axis),
        "ruler": _ruler(form) if method.reads == WANDER else None,
        "slopes": tables.slope_words(page, units) if method.reads == ARROWS else "",
        "ends": tables.ends_of_range(page, units) if method.reads == ARROWS else [],
        "bent": tables.bend_words(state),
        "straightedge": tables.straightedge_words(state),
        "screw": _screw(rig, axis),
        "sent": token_hex(8),
        "rows": [tables.row(state.axes[a], page) for a in AXES],
        "costs": tables.cost_table(page, units),
        "tools": tables.needed_tools(page, units),
        "decide_by": page.decide_by.method.key,
        "matched": tables.matched_words(state),
        "unmatch": "match" in standing(rig.log_of(STATION)),
        "twist": tables.twist_words(state.twist),
        "by_method": tables.by_method(state),
        "slips": tables.slip_rows(state),
        "overdue": tables.overdue_words(page),
        "newer": ", ".join(page.newer),
        "photo": form.typed.get("photo", ""),
        "seats": tuple((key, name) for key, name in SEATS.items() if key or not state.seat),
        "seat_words": rig.card.level.seat_words,
        "log": tables.log_rows(rig, units),
    }
    return render(request, "level/page.html", status, **context)


def _method(form: FormInput, axis: str, current: AxisState) -> Method:
    """The way of reading that was chosen, else the last one used for this axis."""
    chosen = form.typed.get("method", "")
    return BY_KEY[chosen] if chosen in {m.key for m in METHODS[axis]} else BY_KEY[current.method]


def _offered(ways: tuple[Method, ...], method: Method) -> tuple[Method, ...]:
    """The ways that this sight can be read, and the one in hand."""
    return ways if method in ways else (*ways, method)


def _sense(level: LevelState, state: AxisState) -> dict[str, Any] | None:
    """Which way an axis is to be moved, for the little figure; None where nothing is."""
    action = state.action
    if level.step != "axis" or action.kind != adjust.TURN or state.accepted:
        return None
    move = action.move if action.move is not None else -state.beyond.side if state.beyond else None
    if move is None and state.now is not None:
        move = -state.now.value
    if not move:
        return None
    return {"axis": state.axis, "positive": move > 0.0, "words": orders.sense_of(state.axis, move)}


def _planned(page: LevelPage, method: Method, units: Units) -> dict[str, str]:
    """A group on a slope as it is planned: at which distance, of how many arrows."""
    at = page.slopes if method.reads == ARROWS else None
    return {
        "distance": units.plain("distance", at.distance_m) if at else "",
        "arrows": str(at.arrows) if at else "6",
    }


def _known_beside(rig: Rig, axis: str, method: Method) -> bool:
    """Whether what is read beside the vial is calibrated, which tells a cant by itself."""
    other = beside(rig.card.level, axis, method.key)
    return other is not None and other.per_division_rad is not None


def _again(level: LevelState, axis: str, state: AxisState, method: Method) -> dict[str, Any] | None:
    """The look that a new one may be just like: id, and what it was; None where another one is wanted."""
    last = as_before(level, axis)
    if last is None or last.method != method.key or state.action.because not in AGAIN:
        return None
    where = f", {method.places[state.place]}" if last.place and state.place in method.places else ""
    return {"id": last.reading_id, "words": f"{words.bubble(last.vial_div)}{where}"}


def _asks(form: FormInput, method: Method, rig: Rig, axis: str) -> dict[str, Any]:
    """What a way of reading asks for, and no more: the label of what is read beside the vial (empty: nothing is),
    the seats that the reference can be on (none where there is no choice), a group on a slope."""
    clip = method.reads == CLIP
    seats = method.seats or tuple(key for key in SEATS if key or not rig.level.seat)
    said = form.typed.get("seat", "")
    if said and said in SEATS and said not in seats:  # what was typed stays, with what is wrong of it
        seats = (*seats, said)
    return {
        "beside": _BESIDE.get(method.reads, ""),
        "seats": [(key, SEATS[key]) for key in seats] if clip and len(seats) > 1 else [],
        "reseats": clip,
        "arrows": method.reads == ARROWS,
        "wander": method.reads == WANDER,
        "places": list(method.places.items()),
    }


def _screw(rig: Rig, axis: str) -> dict[str, Any]:
    """How the axis is moved: whether there is nothing to count, and what each way of turning is called."""
    screw = screw_of(rig.card, axis)
    ways = [("clockwise", "clockwise"), ("anticlockwise", "anticlockwise")]
    if screw is not None and screw.drive == "pair":
        ways = [(key, f"{end} screw driven") for (key, _), end in zip(ways, screw.ends)]
    return {"free": moves_freely(rig.card, axis), "ways": ways}


def _typed(form: FormInput, rig: Rig, state: AxisState, method: Method) -> dict[str, str]:
    """The fields of the reading: as typed, else as the last one was, with the turn that is asked for."""
    own = [k.entry for k in rig.level.log.of(state.axis)]
    alike = [r for r in own if r.method == method.key]
    action = state.action
    asked = action.kind == adjust.TURN
    counted = asked and action.turns != 0.0
    steepest = rig.card.goals.slope_up_rad or USUAL_SLOPE_RAD
    pitch = alike[-1].pitch_rad if alike else steepest if method.reads == ARROWS else state.pitch_rad
    if action.because in ("other_tilt", "fewer_there"):
        pitch = -pitch
    rests = rests_at(rig.card.level, rig.level.log, state.axis, method.key)
    off, over = CANTED_M.get(form.units.length, CANTED_M["mm"])
    usual = {
        "pitch": str(round(math.degrees(pitch))),
        "vial": "",  # nobody has looked yet
        "vial_end": "",
        "reference": f"{alike[-1].reference_div if alike else rests:.1f}".removesuffix(".0"),
        "turned": _fraction(action.turns) if counted else "",
        "turned_way": words.way(action.turns or action.about or 1.0),
        "by_eye": "yes" if asked and not counted else "",
        "seat": rig.level.seat if rig.level.seat in (method.seats or SEATS) else (method.seats or ("",))[0],
        "who": acts() or (own[-1].who if own else ""),
        "note": "",
        "right": "",
        "wander": "",
        "travel": form.units.plain("length", alike[-1].distance_m) if alike and method.reads == WANDER else "",
        "place": state.place if state.place in method.places else next(iter(method.places), ""),
        "off": form.units.plain("length", off),
        "over": form.units.plain("length", over),
        "moved_vial": "",
        "moved_beside": "",
        "moved_string": "",
        "straightedge": "",
        "first_way": "0",
        "side": "0",
        "fore": "0",
        "beside": "",
        "left_by": acts(),
    }
    if form.typed.get("axis") == state.axis:  # a box that is not ticked is not sent
        usual["by_eye"] = ""
    return usual | {name: form.typed[name] for name in (*usual, "distance", "arrows") if name in form.typed}


def _fraction(turns: float) -> str:
    steps = round(abs(turns) * 24)
    shared = math.gcd(steps, 24)
    return str(steps // 24) if shared == 24 else f"{steps // shared}/{24 // shared}"


def _ruler(form: FormInput) -> RulerDrawing:
    """Where the housing's edge stands beside a plumb line, as typed."""
    inches = form.units.length == "in"
    quiet = FormInput(form.typed, form.units)
    seen = quiet.number("wander", "length", WANDER_M) or 0.0
    return ruler(form.units.from_si("length", seen), inches)


def _vials(form: FormInput, rig: Rig, axis: str, method: Method) -> list[VialDrawing]:
    """The vials to put bubbles on: what is read beside, where anything is, and the sight's or the rail's."""
    if method.reads in (ARROWS, WANDER):
        return []
    quiet = FormInput(form.typed, form.units)
    setup = rig.card.level
    name = "Level on the rail" if axis == "first" else "Sight's vial"
    seen = bubble_at(quiet, "vial", setup.vial_of(axis), ends=True).at if "vial" in form.typed else 0.0
    drawn = [vial(name, "vial", seen, setup.vial_of(axis).lines)]
    other = beside(setup, axis, method.key)
    if other is not None:
        typed = _typed(form, rig, rig.level.axes[axis], method)
        at = bubble_at(FormInput(typed, form.units), "reference", other).at
        label = _BESIDE[method.reads]
        drawn.insert(0, vial(label, "reference", at, other.lines))
    return drawn
