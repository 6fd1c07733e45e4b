"""The band on every page of a practice rig: the exercise, what it cost, and what can be done to its bow here."""

from __future__ import annotations

import math
from typing import Any

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.screws import TURN
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import AXES, GOALS
from cross_staff.core.practice.log import Practice
from cross_staff.core.prepare.tuning import STEPS
from cross_staff.core.rig.card import SEATS
from cross_staff.core.rig.procedure import CONFIRM, PLACE
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.acts import MOVE
from cross_staff.services.practice.record import controls_of, drawn
from cross_staff.services.practice.record import practice as practice_on
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.practice_words import AXIS_NAMES, LEVELS, UNTILS, answer_words, spent_words

# which acts a page offers, by the station it is of
OFFERS = {
    "card": (acts.SPEED, acts.MEASURE),
    "prepare": (acts.PAPER, acts.TUNE, acts.MEASURE),
    "mount": (acts.MEASURE,),
    "level": (acts.LOOK, acts.TURN, acts.MATCH, acts.REVERSE, acts.CANT, acts.GAUGE),
    "sight_in": (acts.SHOOT, acts.MOVE, acts.PLACE, acts.STOP, acts.DAY),
    "tape": (acts.SHOOT, acts.MOVE, acts.DAY),
    "prove": (acts.SHOOT, acts.DAY),
}
_TICKS = {"p_held": "", "p_watching": ""}  # a box that is not ticked is not sent
WAYS = (("right", "to the right"), ("left", "to the left"), ("up", "up"), ("down", "down"))


def band(rig: Rig, here: str, form: FormInput | None = None) -> dict[str, Any] | None:
    """What the band shows; None for a rig of the shop. `form` is what was typed into it, where that was refused."""
    if not rig.log_of(acts.STATION):
        return None
    try:
        practice = practice_on(rig)
    except CrossStaffError as error:
        return {"broken": str(error)}
    units = Units.of(rig.units)
    return {
        "broken": "",
        "name": practice.exercise.name,
        "say": practice.exercise.say,
        "goals": [GOALS[goal] for goal in practice.exercise.goals],
        "spent": spent_words(practice),
        "finished": practice.finished,
        "answer": answer_words(practice.acts[-1], units) if practice.acts else "",
        "number": len(practice.acts),
        "first": form.typed.get("kind", "") if form and form.errors else _first(rig, here),
        "offers": () if practice.finished else OFFERS.get(here, ()),
        "drawn": drawn(practice),
        "form": form or FormInput({}, units),
        "at": here,
        "lists": _lists(rig, practice),
        "usual": _usual(rig, practice, units) | (_TICKS | dict(form.typed) if form and form.errors else {}),
    }


def _first(rig: Rig, here: str) -> str:
    """What the station asks for now: it stands open."""
    if here == "level":
        state = rig.level
        if state.step in LEVELS:
            return acts.REVERSE
        if state.current and state.axes[state.current].action.because == "calibrate":
            return acts.CANT
        turning = state.step == "axis" and state.current and state.axes[state.current].action.kind == TURN
        return acts.MATCH if state.step in ("plumb", "match") else acts.TURN if turning else acts.LOOK
    if here == "sight_in":
        wanted, step = rig.range.act.kind, rig.range.act.step
        if wanted == CONFIRM and step is not None and step.key == "stop_up":
            return acts.STOP
        return acts.MOVE if wanted == MOVE else acts.PLACE if wanted == PLACE else acts.SHOOT
    return OFFERS.get(here, ("",))[0]


def _axis(rig: Rig, practice: Practice) -> str:
    """The axis that is worked on: the station's, else the first that the exercise is about."""
    return rig.level.current or next((goal for goal in practice.exercise.goals if goal in AXES), AXES[0])


def _lists(rig: Rig, practice: Practice) -> dict[str, list[tuple[str, str]]]:
    """What can be chosen."""
    current = _axis(rig, practice)
    axes = [current, *(axis for axis in AXES if axis != current)]
    pins = [(str(n), f"pin {n + 1}") for n in range(controls_of(practice).pins)]
    return {
        "ways": [(f"{axis}:{m.key}", f"{AXIS_NAMES[axis]}: {m.name}") for axis in axes for m in METHODS[axis]],
        "axes": [(axis, AXIS_NAMES[axis]) for axis in axes],
        "turn_ways": [("clockwise", "clockwise (of a pair: the first driven)"),
                      ("anticlockwise", "anticlockwise (of a pair: the second driven)")],
        "seats": [(key, words) for key, words in SEATS.items() if key],
        "untils": list(UNTILS.items()),
        "levels": list(LEVELS.items()),
        "gauged": [(axis, AXIS_NAMES[axis]) for axis in AXES[:2]],
        "pins": pins,
        "lower_pins": pins[1:],
        "controls": [(name, f"{name} ({unit})") for name, unit in controls_of(practice).units.items()],
        "move_ways": list(WAYS),
        "steps": [(step.key, step.words) for step in STEPS.values() if step.possible(rig.card.bow.cams_by)],
    }  # fmt: skip


def _watching(state: AxisState) -> dict[str, str]:
    """Until where the station has a screw turned while its bubble is watched; nothing where it does not."""
    asked = state.action.kind == TURN and not state.action.turns
    how, lines = state.until or ("stands", 0.0)
    wanted = {"p_lines": f"{lines:.1f}", "p_watching": "yes"} if asked else {"p_watching": ""}
    return {"p_until": how} | wanted


def _usual(rig: Rig, practice: Practice, units: Units) -> dict[str, str]:
    """What stands in the fields: as the station's order has it, where it has one."""
    axis = _axis(rig, practice)
    state = rig.level.axes[axis]
    act = rig.range.act
    aim = act.aim
    dialled = KINDS[practice.exercise.kind].dialled
    return {
        "p_way": f"{axis}:{state.method}",
        "p_cant_way": f"{axis}:{state.method}",
        "p_pitch": f"{math.degrees(state.pitch_rad):.0f}".replace("-0", "0") if state.pitch_rad else "0",
        "p_seat": rig.level.seat or "flat",
        "p_held": "yes",
        "p_axis": axis,
        **_watching(state),
        "p_distance": units.plain("distance", aim.ranged_m) if aim else "",
        "p_pin": str(aim.pin) if aim else "0",
        "p_dial": f"{act.dial_mm:.1f}" if dialled and act.dial_mm is not None else "",
        "p_arrows": str(act.arrows or 3),
        "p_below": "" if act.place_mm is None else units.plain("length", 1e-3 * act.place_mm),
        "p_below_pin": str(aim.pin) if aim and aim.pin else "1",
        "dialled": "yes" if dialled else "",
    }
