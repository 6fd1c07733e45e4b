"""What a practice bow answered, in words; what an exercise cost so far."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.log import Practice, PracticeAct, Value
from cross_staff.core.prepare.tuning import STEPS
from cross_staff.core.rig.card import SEATS
from cross_staff.web.forms.units import Units

AXIS_NAMES = {"first": "First axis", "second": "Second axis", "third": "Third axis"}
LEVELS = {"reference": "Reference level", "string": "String level", "rail": "Level on the rail"}
UNTILS = {"stands": "stands at", "come": "has come by"}
SPENT_WORDS = {"arrows": "arrows", "turns": "turns", "minutes": "minutes", "days": "days"}


def spent_words(practice: Practice) -> list[dict[str, Any]]:
    """What was spent of what there is, a row each; what an exercise does not need is not told."""
    spent, budget = practice.spent(), practice.exercise.budget
    rows = ((words, spent[name], getattr(budget, name)) for name, words in SPENT_WORDS.items())
    return [
        {"name": words, "spent": used, "of": most, "over": used > most} for words, used, most in rows if used or most
    ]


def _stands(lines: Value) -> str:
    value = float(str(lines))
    if not value:
        return "in the middle"
    return f"{abs(value):g} {'line' if abs(value) == 1 else 'lines'} {'right' if value > 0 else 'left'}"


def _mm(units: Units, metres: float, more: str, less: str) -> str:
    return f"{units.show('offset', abs(metres))} {more if metres >= 0 else less}"


def _look(act: PracticeAct, units: Units) -> str:
    saw, axis = act.saw, AXIS_NAMES[str(act.do["axis"])]
    if "wander" in saw:
        wander, travel = float(str(saw["wander"])), units.show("length", float(str(saw["travel"])))
        where = _mm(units, wander, "right", "left")
        return f"{axis}: dialled down over {travel}, the housing wandered {where} of the line."
    if "right" in saw:
        where = _mm(units, float(str(saw["right"])), "right", "left")
        far = units.show("distance", float(str(saw["distance"])))
        return (
            f"{axis}: six arrows at {far}, {saw['slope']}° of slope, bubble centred: their middle {where} of the aim."
        )
    vial = "The level on the rail" if act.do["axis"] == "first" else "The sight's vial"
    if saw.get("end"):
        stands = f"lies against its {'right' if float(str(saw['end'])) > 0 else 'left'} end"
    else:
        stands = f"stands {_stands(saw['vial'])}"
    beside = f"; what is read beside it {_stands(saw['reference'])}" if "reference" in saw else ""
    seat = f", on its seat “{SEATS[str(saw['seat'])]}”" if saw.get("seat") else ""
    return f"{axis}, {BY_KEY[str(act.do['method'])].name}: {vial[0].lower()}{vial[1:]} {stands}{beside}{seat}."


def _turn(act: PracticeAct, units: Units) -> str:
    axis = AXIS_NAMES[str(act.do["axis"])]
    drawn = " The bow was at full draw." if act.saw.get("drawn") else ""
    if act.do.get("watching"):
        lines = act.do.get("lines") or 0.0
        where = f"had come {_stands(lines)}" if act.do.get("until") == "come" else f"stood {_stands(lines)}"
        return f"{axis}: turned while watching, until the bubble {where}; nobody counted. Locked.{drawn}"
    turns = float(str(act.do["turns"]))
    return f"{axis}: {abs(turns):g} of a turn {'clockwise' if turns > 0 else 'anticlockwise'}, and locked.{drawn}"


def _shoot(act: PracticeAct, units: Units) -> str:
    shots = act.saw["shots"]
    assert isinstance(shots, list)
    right, up = (sum(shot[k] for shot in shots) / len(shots) / 1000.0 for k in (0, 1))
    arrows = f"{len(shots)} {'arrow' if len(shots) == 1 else 'arrows'}"
    far = units.show("distance", float(str(act.do["distance"])))
    dial = act.saw.get("dial", act.do.get("dial"))
    set_to = "" if dial in (None, "") else f", the dial at {float(str(dial)):g}"
    bad = f" He says that number {act.saw['felt_bad']} was let go badly." if act.saw.get("felt_bad") else ""
    where = f"{_mm(units, up, 'high', 'low')}, {_mm(units, right, 'right', 'left')}"
    return f"{arrows} at {far}{set_to}: their middle {where}.{bad}"


def _move(act: PracticeAct, units: Units) -> str:
    pin = f", pin {int(float(str(act.saw['pin']))) + 1}" if "pin" in act.saw else ""
    amount, unit = abs(float(str(act.do["amount"]))), str(act.do.get("unit", ""))
    unit += "s" if unit in ("click", "turn") and amount != 1.0 else ""
    return f"{act.do['control']}{pin}: {' '.join(filter(None, (f'{amount:g}', unit)))} towards {act.do.get('way', '')}."


def _measure(act: PracticeAct, units: Units) -> str:
    saw = act.saw
    peep, lever, shaft = (
        units.show("length", float(str(saw[k])) / 1000.0) for k in ("peep_mm", "eye_to_sight_mm", "shaft_mm")
    )
    mass = units.show("mass", float(str(saw["mass_g"])) / 1000.0)
    lengths = f"peep {peep} above the arrow, square to it; eye to sight {lever}"
    return f"At full draw: {lengths}. The arrow: {mass}, shaft {shaft}."


def _speeds(act: PracticeAct, units: Units) -> str:
    speeds = act.saw["speeds"]
    assert isinstance(speeds, list)
    return f"The chronograph, 1.5 m in front: {', '.join(units.show('speed', v, 1) for v in speeds[0])}."


def answer_words(act: PracticeAct, units: Units) -> str:
    """What was done, and what was seen of it, in a sentence."""
    saw: Mapping[str, Value] = act.saw
    if act.kind in _LONGER:
        return _LONGER[act.kind](act, units)
    if act.kind == acts.REVERSE:
        first, turned = _stands(saw["first_way"]), _stands(saw["turned_way"])
        return f"{LEVELS[str(act.do['which'])]}: one way {first}, turned end for end {turned}."
    if act.kind == acts.MATCH:
        return (
            f"Bow plumb: the string level stands {_stands(saw['side'])}, the reference {_stands(saw['beside'])} "
            f"on “{SEATS[str(saw['seat'])]}”."
        )
    if act.kind == acts.PAPER:
        right, up = (float(str(saw[k])) / 1000.0 for k in ("right_mm", "up_mm"))
        return (
            f"Paper: the nock tore {_mm(units, up, 'high', 'low')}, {_mm(units, right, 'right', 'left')} of the point."
        )
    if act.kind == acts.CANT:
        off, over = (units.show("length", float(str(saw[name]))) for name in ("off", "over"))
        beside = f", that of what is read beside it {saw['moved_beside']}" if "moved_beside" in saw else ""
        beside += f", the string level's {saw['moved_string']}" if "moved_string" in saw else ""
        moved = f"the bubble moved {saw['moved_vial']} lines{beside}"
        return f"Canted, the string {off} off a plumb line over {over}: {moved}."
    if act.kind == acts.GAUGE:
        return f"{AXIS_NAMES[str(act.do['axis'])]}, electronic level against the string: {saw['degrees']}°."
    if act.kind == acts.PLACE:
        below = units.show("length", float(str(act.do["below"])) / 1000.0)
        return f"Pin {int(float(str(act.do['pin']))) + 1} set {below} below the top one, with a rule."
    if act.kind == acts.STOP:
        return f"Run up to its stop: the scale reads {saw['dial']} mm."
    if act.kind == acts.TUNE:
        return f"Done: {STEPS[str(act.do['step'])].words}."
    if act.kind == acts.HINT:
        return f"Hint: {saw['hint']}"
    return {acts.LET_DOWN: "Let down.", acts.DAY: "Another day.", acts.FINISH: "Finished."}[act.kind]


_LONGER = {
    acts.LOOK: _look,
    acts.TURN: _turn,
    acts.SHOOT: _shoot,
    acts.MOVE: _move,
    acts.MEASURE: _measure,
    acts.SPEED: _speeds,
}
