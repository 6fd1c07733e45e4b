"""What the level page shows: the instruction, both vials, the axes, what is left of them, the log."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date
from typing import Any

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.level import screws as adjust
from cross_staff.core.level.methods import BY_KEY, METHODS
from cross_staff.core.level.station import AXES, AxisState, LevelState
from cross_staff.services.level.page import LevelPage, level_page
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.drawing import bar, method_drawing, vial
from cross_staff.web.level.form import bubble_at
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

GATE = "The gate is shut: the bow comes first. Open it at Prepare, or with a written reason there."


def station_page(request: Request, rig: Rig, form: FormInput, asked: str = "", status: int = 200) -> Response:
    """The station with its log; `asked` is the axis that is looked at in place of the next one."""
    page = level_page(rig)
    units, state = Units.of(rig.units), rig.level
    axis = asked or state.current or "third"
    shown = state if not asked else replace(state, current=asked, step="axis")
    say, how, why = words.now(shown, rig.card) if rig.checklist.gate_open else words.SHUT
    current = state.axes[axis]
    context = rig_context(rig, "level", date.today()) | {
        "form": form,
        "state": shown,
        "gate": "" if rig.checklist.gate_open else GATE,
        "say": say,
        "how": how,
        "why": why,
        "caution": words.caution(shown) or sentences.CAUTION_STRING,
        "axis": axis,
        "axis_name": words.NAMES[axis],
        "entering": shown.step == "axis" and rig.checklist.gate_open,
        "reading": shown.step in ("axis", "done") and rig.checklist.gate_open,
        "method_picture": method_drawing(BY_KEY[current.method]),
        "turning": shown.step == "axis" and current.action.kind == adjust.TURN,
        "methods": METHODS[axis],
        "method": BY_KEY[form.typed.get("method", "") if form.typed.get("method") in BY_KEY else current.method],
        "typed": _typed(form, rig, current),
        "vials": _vials(form, rig, axis),
        "settle": rig.card.level.vial_of(axis).settle_s,
        "rows": [_row(state.axes[a], page, state) for a in AXES],
        "costs": cost_table(page, units),
        "twist": _twist(page.twist_rad),
        "by_method": _by_method(state),
        "slips": _slips(state),
        "photo": form.typed.get("photo", ""),
        "next_tilt": _next_tilt(state),
        "log": _log(rig, units),
        "free": words.moves_freely(words.screw_of(rig.card, axis)),
    }
    return render(request, "level/page.html", status, **context)


def _typed(form: FormInput, rig: Rig, state: AxisState) -> dict[str, str]:
    """The fields of the reading: as typed, else as the last one was, with the turn that is asked for."""
    own = [r for r in rig.level.readings if r.axis == state.axis]
    turning = state.action.kind == adjust.TURN
    free = words.moves_freely(words.screw_of(rig.card, state.axis))
    usual = {
        "pitch": f"{math.degrees(own[-1].pitch_rad):.0f}" if own else "-35" if state.axis == "third" else "0",
        "vial": "0",
        "reference": f"{own[-1].reference_div:g}" if own else "0",
        "turned": "" if not turning else "1" if free else _fraction(state.action.turns),
        "turned_way": words.way(state.action.turns) if turning else "clockwise",
        "who": own[-1].who if own else "",
        "note": "",
    }
    return usual | {name: form.typed[name] for name in usual if name in form.typed}


def _fraction(turns: float) -> str:
    steps = round(abs(turns) * 24)
    shared = math.gcd(steps, 24)
    return str(steps // 24) if shared == 24 else f"{steps // shared}/{24 // shared}"


def _vials(form: FormInput, rig: Rig, axis: str) -> list[Any]:
    """Reference above, the vial of the axis below it, each with its bubble where it was typed."""
    names = {"first": "Level on the rail", "second": "Sight's vial", "third": "Sight's vial"}
    quiet = FormInput(form.typed, form.units)
    setup = rig.card.level
    own_vial = setup.vial_of(axis)
    own = [r for r in rig.level.readings if r.axis == axis]
    reference = (
        bubble_at(quiet, "reference", setup.reference)
        if "reference" in form.typed
        else own[-1].reference_div
        if own
        else 0.0
    )
    seen = bubble_at(quiet, "vial", own_vial) if "vial" in form.typed else 0.0
    return [
        vial("Reference", "reference", reference, setup.reference.lines),
        vial(names[axis], "vial", seen, own_vial.lines),
    ]


def _row(state: AxisState, page: LevelPage, whole: LevelState) -> dict[str, Any]:
    """An axis as measured, for the column beside the vials."""
    solved, looks = whole.solved, page.looks[state.axis]
    asked = state.axis in whole.required
    unread = "set aside: read it again" if state.axis in whole.aside else "not read yet"
    return {
        "axis": state.axis,
        "name": words.NAMES[state.axis].split(" ")[0].capitalize(),
        "value": words.amount(state, state.now.value) if state.now else "",
        "sd": words.spread(state, state.now.sd) if state.now else unread,
        "standing": words.STANDINGS[state.standing] if state.now or state.accepted else "open",
        "good": state.settled,
        "found": words.amount(state, state.as_found.value) if state.as_found else "",
        "bar": bar(state),
        "tolerance": words.spread(state, state.tolerance),
        "asked": asked,
        "accepted": state.accepted,
        "far": state.far_look is not None,
        "undetermined": solved is not None and f"{state.axis}_axis" in solved.undetermined and state.now is not None,
        "yaw": state.axis == "third" and not page.rig.card.level.yaw_proved and state.now is not None,
        "now_known": state.now is not None,
        "more_looks": looks.more,
        "cannot_prove": looks.provable > state.tolerance,
        "provable": words.spread(state, looks.provable),
    }


def cost_table(page: LevelPage, units: Units) -> dict[str, Any] | None:
    """What is left of the axes costs, sideways; None while they cannot be said in degrees."""
    costs, limit = page.costs, page.rig.card.level.tolerance_m
    if costs is None:
        return None
    return {
        "distances": [sentences.whole_distance(units, d) for d in costs.distances_m],
        "rows": [(words.tilt(row.slope_rad), [cost_cell(units, r, limit) for r in row.right_m]) for row in costs.rows],
    }


def cost_cell(units: Units, right: float | None, limit: float | None) -> tuple[str, bool]:
    """A sideways shift in words, and whether it is more than it may be."""
    if right is None:
        return "out of reach", True
    shown = sentences.on_target(units, right)
    side = "" if abs(right) < 0.0005 else " R" if right > 0 else " L"
    return f"{shown}{side}", limit is not None and abs(right) > limit


_SLIP_WORDS = {
    "sight_sign": "its vial's bubble was written to the wrong side",
    "reference_sign": "its reference was written to the wrong side",
    "both_signs": "both bubbles were written to the wrong side",
    "pitch_sign": "its tilt has the wrong sign",
    "wrong": "the others do not expect it",
}


def _slips(state: LevelState) -> list[dict[str, Any]]:
    """Readings that look wrong, with what likely happened."""
    slips = []
    for slip in state.solved.slips if state.solved else ():
        reading = state.solved_from[slip.index]
        what = f"{words.NAMES[reading.axis]}, {words.tilt(reading.pitch_rad)}"
        seen = words.bubble(reading.vial_div)
        slips.append(
            {
                "id": reading.reading_id,
                "slip": slip.slip,
                "words": f"The reading “{seen}” ({what}): {_SLIP_WORDS[slip.slip]}.",
            }
        )
    return slips


def _next_tilt(state: LevelState) -> str:
    """The tilt at which one more reading would tell most, while an axis that was read is not settled."""
    solved = state.solved
    if solved is None or not any(a in solved.undetermined for a in ("second_axis", "third_axis")):
        return ""
    return words.tilt(solved.best_next_pitch_rad)


def _twist(twist_rad: float | None) -> str:
    if twist_rad is None:
        return ""
    return f"This riser twists {abs(math.degrees(twist_rad)):.1f}° when drawn; full draw decides."


def _by_method(state: LevelState) -> list[tuple[str, str, str]]:
    """The third axis by each method that read it, at rest and at full draw side by side."""
    third = state.axes["third"]
    if len(state.by_method) < 2:
        return []
    return [
        (BY_KEY[key].name, words.amount(third, seen.value), words.spread(third, seen.sd))
        for key, seen in state.by_method.items()
    ]


def _log(rig: Rig, units: Units) -> list[dict[str, Any]]:
    undone = {r.undoes for r in rig.level_log if r.undoes is not None}
    return [
        {
            "id": r.reading_id,
            "when": local_time(r.entered),
            "what": f"{words.NAMES[r.axis]} · {BY_KEY[r.method].name}",
            "tilt": words.tilt(r.pitch_rad),
            "reference": words.bubble(r.reference_div),
            "vial": words.bubble(r.vial_div),
            "after": f"{words.turn(r.turns)} {words.way(r.turns)}" if r.turns else "",
            "state": "taken back" if r.undoes is not None else "" if r.locked else "loose",
            "note": " · ".join(filter(None, [r.who, r.note])),
            "photo": r.photo_id,
            "undo": r.undoes is None and r.reading_id not in undone,
        }
        for r in reversed(rig.level_log)
    ]
