"""How the level is worked at: on the bow or in a jig, a look just like the last, lines calibrated by a cant, what a
straightedge showed, the gate opened from here."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.level.lines import Canted
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import BY_KEY, METHODS
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import Vial
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services.level import instruments
from cross_staff.services.level import record as service
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.level.form import bubble_at
from cross_staff.web.level.page import station_page

router = APIRouter()
OFF, OVER, MOVED = Range(0.0005, 0.3), Range(0.05, 2.0), Range(-30.0, 30.0)


def _to_level(rig_id: int) -> Response:
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/where/{where}")
def put(request: Request, rig_id: int, where: str) -> Response:
    """The sight is on the bow now, or off it in a bench jig. Raises NotFound; InvalidValue."""
    service.put(request.app.state.database, rig_id, where, datetime.now(UTC))
    return _to_level(rig_id)


@router.post("/rigs/{rig_id}/level/anyway")
def anyway(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Level before the bow is ready, with a reason that stays on the record. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    reason = form.text("reason", 200)
    if not form.errors:
        with form.refusals():
            entry = BenchEntry("prepare", "gate_override", 0, datetime.now(UTC), note=reason)
            prepare.override_gate(database, rig_id, entry)
    return station_page(request, rig, form, "", 422) if form.errors else _to_level(rig_id)


@router.post("/rigs/{rig_id}/level/again/{reading_id}")
def again(request: Request, rig_id: int, reading_id: int, typed: TypedForm) -> Response:
    """A look that was as the one before it. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    with form.refusals():
        service.again(database, rig_id, reading_id, form.text("sent", 40), datetime.now(UTC))
    return station_page(request, rig, form, "", 422) if form.errors else _to_level(rig_id)


@router.post("/rigs/{rig_id}/level/calibrate/{axis}/{method}")
def calibrate(request: Request, rig_id: int, axis: str, method: str, typed: TypedForm) -> Response:
    """What a line is of the vials that an axis is read with, by a cant that is known. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    axis = axis if axis in AXES else "second"
    way = method if method in {m.key for m in METHODS[axis]} else METHODS[axis][0].key
    seen = _canted(form)
    if not form.errors:
        with form.refusals():
            instruments.calibrate(database, rig_id, axis, way, seen, datetime.now(UTC))
    if form.errors:
        form.typed = {**form.typed, "axis": axis, "method": way}
        return station_page(request, rig, form, axis, 422)
    return _to_level(rig_id)


def _canted(form: FormInput) -> Canted:
    numbers = {
        name: form.number(name, quantity, span)
        for name, quantity, span in (
            ("off", "length", OFF), ("over", "length", OVER),
            ("moved_vial", "plain", MOVED), ("moved_beside", "plain", MOVED), ("moved_string", "plain", MOVED),
        )
    }  # fmt: skip
    for name, said in (("moved_vial", "how many lines did its bubble move?"), ("moved_beside", "how many lines?")):
        if name in form.typed and numbers[name] is None:
            form.errors.setdefault(name, said)
    for name in ("off", "over"):
        if name in form.typed and numbers[name] is None:
            form.errors.setdefault(name, "needed: how far off the plumb line, over which length?")
    return Canted(
        numbers["moved_vial"] or 0.0, numbers["moved_beside"], numbers["off"], numbers["over"], numbers["moved_string"]
    )  # fmt: skip


@router.post("/rigs/{rig_id}/level/straightedge")
def straightedge(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What a straightedge over the limb pockets showed. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    shown = bubble_at(form, "straightedge", Vial(lines=9)).at
    if not form.errors:
        with form.refusals():
            service.straightedge(database, rig_id, shown, datetime.now(UTC))
    return station_page(request, rig, form, "", 422) if form.errors else _to_level(rig_id)


def in_hand(rig: Rig, axis: str, method: str) -> bool:
    """Whether a way of reading can be used as things stand: in a jig no bow is asked for."""
    return rig.checklist.gate_open or rig.level.in_jig or BY_KEY[method].on_bench
