"""The practice bench: choose an exercise, work on its bow at every station, finish, and see the truth."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Depends, Request
from starlette.datastructures import UploadFile
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.level.rests import rests_at
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import Exercise
from cross_staff.core.practice.log import PracticeAct, Value
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.services.practice import catalogue
from cross_staff.services.practice import record as service
from cross_staff.services.practice.record import practice as practice_on
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.known import refuse_unknown
from cross_staff.web.forms.units import UNIT_SETS, Units
from cross_staff.web.level.form import turn_made
from cross_staff.web.practice.page import bench_page, rig_page
from cross_staff.web.shared.practice_band import OFFERS

router = APIRouter()
FIELDS = (
    "exercise", "learner", "units", "at", "kind", "p_way", "p_pitch", "p_seat", "p_held", "p_reseated", "p_axis",
    "p_turns", "p_turn_way", "p_watching", "p_until", "p_lines", "p_level", "p_match_seat", "p_gauge_axis",
    "p_distance", "p_pin", "p_dial", "p_arrows", "p_control", "p_amount", "p_move_way", "p_move_pin",
    "p_below", "p_below_pin", "p_cant_way", "p_speeds", "p_step",
)  # fmt: skip
MOST_SENT = 100_000
# the field of the band that each argument of an act is said at
_SAID_AT = {
    "turns": "p_turns", "pitch": "p_pitch", "method": "p_way", "axis": "p_axis", "distance": "p_distance",
    "pin": "p_pin", "dial": "p_dial", "arrows": "p_arrows", "control": "p_control", "amount": "p_amount",
    "lines": "p_lines", "until": "p_until", "below": "p_below", "step": "p_step", "seat": "p_seat", "which": "p_level",
}  # fmt: skip
_SAID_OF = {
    acts.LOOK: {"axis": "p_way"}, acts.GAUGE: {"axis": "p_gauge_axis"},
    acts.CANT: {"axis": "p_cant_way"}, acts.SPEED: {"arrows": "p_speeds"},
    acts.PLACE: {"pin": "p_below_pin"}, acts.MOVE: {"pin": "p_move_pin"}, acts.MATCH: {"seat": "p_match_seat"},
    acts.HINT: {"which": "kind"},
}  # fmt: skip
_MOVED = ("moved_vial", "moved_beside", "moved_string")
_LINES = Range(-20.0, 20.0)
_COUNT, _DIAL, _PITCH, _MM = Range(1, 12), Range(-20.0, 120.0), Range(-1.2, 1.2), Range(0.0, 0.06)


@router.get("/practice")
def bench(request: Request) -> Response:
    """The exercises, the practice rigs, and how the finished ones went."""
    return bench_page(request, FormInput({}, Units()))


@router.post("/practice/begin")
def begin(request: Request, typed: TypedForm) -> Response:
    """Begin an exercise of the catalogue. Raises NotFound."""
    return _begun(request, FormInput(typed, Units()), catalogue.exercise(typed.get("exercise", "")))


def _begun(request: Request, form: FormInput, exercise: Exercise) -> Response:
    learner = form.text("learner", 60)
    if form.errors:
        return bench_page(request, form, 422)
    units = UNIT_SETS.get(form.typed.get("units", ""), Units())
    rig_id = service.begin(request.app.state.database, exercise, learner, units.keys(), datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/practice", 303)


async def _sent(request: Request) -> tuple[dict[str, str], bytes | None]:
    """The fields of the form and the file that came with them, one byte more than is taken at most."""
    async with request.form(max_files=1, max_fields=8, max_part_size=MOST_SENT + 1024) as posted:
        refuse_unknown(request, [name for name in posted if name != "file"])
        sent = posted.get("file")
        typed = {key: value for key, value in posted.multi_items() if isinstance(value, str)}
        return typed, await sent.read(MOST_SENT + 1) if isinstance(sent, UploadFile) and sent.filename else None


@router.post("/practice/file")
def begin_file(request: Request, sent: Annotated[tuple[dict[str, str], bytes | None], Depends(_sent)]) -> Response:
    """Begin the exercise of a file that somebody shared."""
    typed, content = sent
    form = FormInput(typed, Units())
    if not content:
        form.errors["file"] = "choose the file of an exercise first"
        return bench_page(request, form, 422)
    try:
        return _begun(request, form, catalogue.brought(content))
    except InvalidValue as error:
        form.errors["file"] = str(error)
        return bench_page(request, form, 422)


@router.get("/practice/exercises/{key}.json")
def exercise_file(request: Request, key: str) -> Response:
    """An exercise as a file, to be shared or changed. Raises NotFound."""
    return _download(catalogue.exercise(key))


@router.get("/rigs/{rig_id}/practice.json")
def rig_exercise(request: Request, rig_id: int) -> Response:
    """The exercise of a practice rig as a file. Raises NotFound."""
    return _download(practice_on(open_rig(request.app.state.database, rig_id)).exercise)


def _download(exercise: Exercise) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{exercise.key}.json"'}
    return Response(catalogue.as_file(exercise), media_type="application/json", headers=headers)


@router.get("/rigs/{rig_id}/practice")
def practice_page(request: Request, rig_id: int) -> Response:
    """The exercise, what was done so far; at the end the truth. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return rig_page(request, rig, FormInput({}, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/practice/again")
def again(request: Request, rig_id: int) -> Response:
    """The same exercise from the beginning, on a bow like the first. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    told = practice_on(rig)
    fresh = service.begin(request.app.state.database, told.exercise, told.learner, rig.units, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{fresh}/practice", 303)


@router.post("/rigs/{rig_id}/practice")
def do(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Do something to the practice bow, and go on at the station with what it answered. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    practice = practice_on(rig)
    form = FormInput(typed, Units.of(rig.units))
    kind = form.choice("kind", tuple(acts.MINUTES))
    at = typed.get("at", "") if typed.get("at", "") in OFFERS else "practice"
    how = _HOW.get(kind, _nothing)(form, rig)
    if kind == acts.HINT:
        how = {"which": practice.spent()["hints"] + 1}
    if not form.errors:
        with form.refusals(_SAID_AT | _SAID_OF.get(kind, {})):
            act = service.do(database, rig_id, kind, how, datetime.now(UTC))
            return RedirectResponse(_onward(rig, act, at, [*practice.acts, act]), 303)
    return rig_page(request, rig, form, at, 422)


# what is read of the band, for each act
def _nothing(form: FormInput, rig: Rig) -> dict[str, Value]:
    return {}


def _look(form: FormInput, rig: Rig) -> dict[str, Value]:
    axis, _, method = form.typed.get("p_way", "").partition(":")
    pitch = form.number("p_pitch", "angle", _PITCH)
    how: dict[str, Value] = {
        "axis": axis, "method": method, "pitch": round(math.degrees(pitch or 0.0), 3),
        "seat": form.typed.get("p_seat", ""), "reseated": bool(form.typed.get("p_reseated")),
    }  # fmt: skip
    if form.typed.get("p_held"):
        how["middle"] = rests_at(rig.card.level, rig.level.log, axis, method) if method in BY_KEY else 0.0
    return how


def _turn(form: FormInput, rig: Rig) -> dict[str, Value]:
    axis = form.typed.get("p_axis", "")
    if form.typed.get("p_watching"):
        state = rig.level.axes.get(axis)
        lines = form.number("p_lines", "plain", _LINES)
        return {
            "axis": axis, "watching": True, "method": state.method if state else "", "lines": lines,
            "until": form.choice("p_until", ("stands", "come")),
            "pitch": round(math.degrees(state.pitch_rad), 3) if state else 0.0,
        }  # fmt: skip
    typed = {"turned": form.typed.get("p_turns", ""), "turned_way": form.typed.get("p_turn_way", "clockwise")}
    own = FormInput(typed, form.units)
    turns = turn_made(own)
    if own.errors:
        form.errors["p_turns"] = next(iter(own.errors.values()))
    return {"axis": axis, "turns": turns}


def _shoot(form: FormInput, rig: Rig) -> dict[str, Value]:
    distance = form.number("p_distance", "distance", DISTANCE_M)
    dial = form.number("p_dial", "mark", _DIAL, 1)
    return {
        "distance": distance,
        "arrows": _count(form, "p_arrows"),
        "pin": whole(form.typed.get("p_pin", "0")),
        "dial": dial,
    }


def _count(form: FormInput, name: str) -> int | None:
    count = whole(form.typed.get(name, ""))
    if count is None or not _COUNT.holds(count):
        form.errors[name] = "a whole number of arrows, at most 12 at once"
    return count


def _move(form: FormInput, rig: Rig) -> dict[str, Value]:
    amount = form.number("p_amount", "plain", Range(0.0, 200.0))
    way = form.choice("p_move_way", ("right", "left", "up", "down"))
    control = form.typed.get("p_control", "")
    signed = None if amount is None else amount * (1.0 if way in ("right", "up") else -1.0)
    unit = service.controls_of(practice_on(rig)).units.get(control, "")
    return {
        "control": control,
        "amount": signed,
        "way": way,
        "unit": unit,
        "pin": whole(form.typed.get("p_move_pin", "0")),
    }


def _place(form: FormInput, rig: Rig) -> dict[str, Value]:
    below = form.number("p_below", "length", _MM)
    return {
        "pin": whole(form.typed.get("p_below_pin", "")),
        "below": None if below is None else round(1000.0 * below, 2),
    }


_HOW = {
    acts.LOOK: _look,
    acts.TURN: _turn,
    acts.SHOOT: _shoot,
    acts.MOVE: _move,
    acts.PLACE: _place,
    acts.REVERSE: lambda form, rig: {"which": form.typed.get("p_level", "")},
    acts.MATCH: lambda form, rig: {"seat": form.typed.get("p_match_seat", "")},
    acts.CANT: lambda form, rig: dict(zip(("axis", "_", "method"), form.typed.get("p_cant_way", "").partition(":"))),
    acts.GAUGE: lambda form, rig: {"axis": form.typed.get("p_gauge_axis", "")},
    acts.SPEED: lambda form, rig: {"arrows": _count(form, "p_speeds")},
    acts.PAPER: lambda form, rig: {"arrows": 1},
    acts.TUNE: lambda form, rig: {"step": form.typed.get("p_step", "")},
}


# on to the station, with what was seen in its fields
def _onward(rig: Rig, act: PracticeAct, at: str, done: list[PracticeAct]) -> str:
    path = f"/rigs/{rig.rig_id}/{at}"
    fields = {
        key: value for key, value in _BROUGHT.get((at, act.kind), _brings_nothing)(rig, act, done).items() if value
    }
    return f"{path}{'?' + urlencode(fields) if fields else ''}#practice"


def _brings_nothing(rig: Rig, act: PracticeAct, done: list[PracticeAct]) -> Mapping[str, str]:
    return {}


def _look_brings(rig: Rig, act: PracticeAct, done: list[PracticeAct]) -> Mapping[str, str]:
    axis, saw, do = str(act.do["axis"]), act.saw, act.do
    own = [each for each in done[:-1] if each.do.get("axis") == axis and each.kind in (acts.LOOK, acts.TURN)]
    last = max((n for n, each in enumerate(own) if each.kind == acts.LOOK), default=-1)
    turns = own[last + 1 :]
    watched = any(each.do.get("watching") for each in turns)
    turned = 0.0 if watched else sum(float(str(each.do.get("turns", 0.0))) for each in turns)
    units = Units.of(rig.units)
    fields = {"axis": axis, "method": str(do["method"]), "pitch": f"{float(str(do['pitch'])):g}"}
    if "wander" in saw:
        fields |= {name: units.plain("length", float(str(saw[name]))) for name in ("wander", "travel")}
    elif "right" in saw:
        fields |= {
            "right": units.plain("offset", float(str(saw["right"]))),
            "distance": units.plain("distance", float(str(saw["distance"]))),
            "arrows": "6", "pitch": f"{saw['slope']}",
        }  # fmt: skip
    else:
        end = float(str(saw.get("end") or 0))
        fields |= {
            "vial": f"{saw['vial']}",
            "reference": f"{saw.get('reference', '')}",
            "seat": str(saw.get("seat", "")),
        }
        fields["vial_end"] = "right" if end > 0 else "left" if end < 0 else ""
        fields["reseated"] = "yes" if do.get("reseated") else ""
    if watched:
        fields["by_eye"] = "yes"
    elif turned:
        fields |= {"turned": f"{abs(turned):g}", "turned_way": "clockwise" if turned > 0 else "anticlockwise"}
    return fields


def _shoot_brings(rig: Rig, act: PracticeAct, done: list[PracticeAct]) -> Mapping[str, str]:
    shots, units = act.saw["shots"], Units.of(rig.units)
    assert isinstance(shots, list)
    dial = act.saw.get("dial")
    return {
        "shots": "\n".join(f"{right:.0f} {up:.0f}" for right, up in shots),
        "distance": units.plain("distance", float(str(act.do["distance"]))),
        "pin": str(act.do.get("pin") or 0),
        "dial": "" if dial is None else f"{float(str(dial)):g}",
    }


def _match_brings(rig: Rig, act: PracticeAct, done: list[PracticeAct]) -> Mapping[str, str]:
    return {name: f"{act.saw[name]}" for name in ("side", "fore", "beside", "seat")}


def _cant_brings(rig: Rig, act: PracticeAct, done: list[PracticeAct]) -> Mapping[str, str]:
    units = Units.of(rig.units)
    lengths = {name: units.plain("length", float(str(act.saw[name]))) for name in ("off", "over")}
    moved = {name: f"{act.saw[name]}" for name in _MOVED if name in act.saw}
    return {"axis": str(act.do["axis"]), "method": str(act.do["method"])} | lengths | moved


_BROUGHT = {
    ("level", acts.CANT): _cant_brings,
    ("level", acts.LOOK): _look_brings,
    ("level", acts.MATCH): _match_brings,
    ("sight_in", acts.SHOOT): _shoot_brings,
}
