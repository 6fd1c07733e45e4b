"""The level page: what to read or turn now, both vials to put the bubble on, the axes, the log."""

from __future__ import annotations

import math
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.log import AXES, LevelReading
from cross_staff.core.rig.card import SEATS
from cross_staff.services.level import instruments
from cross_staff.services.level import record as service
from cross_staff.services.level.page import bubbles
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, wants_fragment
from cross_staff.web.forms.sliders import slider_number
from cross_staff.web.forms.units import Units
from cross_staff.web.level.drawing import picture
from cross_staff.web.level.form import bubble_at, by_eye, reading_of, reversal_of, turn_made
from cross_staff.web.level.page import GATE, station_page
from cross_staff.web.level.ways import in_hand
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
BROUGHT = (
    "axis", "vial", "vial_end", "reference", "photo", "method", "pitch", "seat", "reseated", "turned", "turned_way",
    "by_eye", "right", "distance", "arrows", "side", "fore", "beside", "place", "wander", "travel", "moved_vial",
    "moved_beside", "moved_string", "off", "over",
)  # fmt: skip


@router.get("/rigs/{rig_id}/level")
def shown(request: Request, rig_id: int, axis: str = "") -> Response:
    """The station; another axis than the one that is next can be asked for, and a bubble that was
    read off a photo, or on a practice bow, can come with it. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    brought = {name: value for name, value in request.query_params.items() if name in BROUGHT and value}
    return station_page(request, rig, FormInput(brought, Units.of(rig.units)), axis if axis in AXES else "")


@router.post("/rigs/{rig_id}/level/read")
def read(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Take a reading. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    axis = form.choice("axis", AXES)
    reading = reading_of(form, axis, rig)
    if not in_hand(rig, axis, reading.method):
        form.errors["vial"] = GATE
    if not form.errors:
        with form.refusals():
            service.read(database, rig_id, reading, by_eye(form))
    if form.errors:
        return station_page(request, rig, form, axis, 422)
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/flip/{reading_id}/{slip}")
def flip(request: Request, rig_id: int, reading_id: int, slip: str) -> Response:
    """Turn the sign of a reading that was likely flipped. Raises NotFound."""
    service.flip(request.app.state.database, rig_id, reading_id, slip, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/undo/{reading_id}")
def undo(request: Request, rig_id: int, reading_id: int) -> Response:
    """Take a reading back. Raises NotFound."""
    service.take_back(request.app.state.database, rig_id, reading_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/way")
def another_way(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The form of another way of reading, with what was typed so far. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    return station_page(request, rig, form, form.choice("axis", AXES))


@router.post("/rigs/{rig_id}/level/turned")
def turned(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """A turn that was made, the bubble not read yet. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    axis = form.choice("axis", AXES)
    turns, who, method = turn_made(form), form.text("who", 60), rig.level.axes[axis].method
    if turns is None and not by_eye(form):
        form.errors.setdefault("turned", "how much? or tick that nobody counted")
    if form.errors:
        return station_page(request, rig, form, axis, 422)
    entry = LevelReading(
        axis, method, 0.0, 0.0, 0.0, 0, datetime.now(UTC), turns, who=who, turn=True, key=form.text("sent", 40)
    )
    service.turn(request.app.state.database, rig_id, entry)
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/plumb")
def plumb(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Say that the bow is plumb both ways, what is left of it, and what the reference shows beside it."""
    return _beside(request, rig_id, typed, "plumb")


@router.post("/rigs/{rig_id}/level/match")
def match(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The reference read beside the string level, where it now sits."""
    return _beside(request, rig_id, typed, "match")


def _beside(request: Request, rig_id: int, typed: dict[str, str], key: str) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, setup = FormInput(typed, Units.of(rig.units)), rig.card.level
    side = bubble_at(form, "side", setup.string).at
    fore = bubble_at(form, "fore", setup.string).at if key == "plumb" else 0.0
    read = key == "match" or form.typed.get("beside", "").strip() != ""
    reference = bubble_at(form, "beside", setup.reference).at if read else None
    seat = form.choice("seat", tuple(SEATS)) if "seat" in typed else rig.level.seat
    seen = service.PlumbSeen(side, fore, reference, seat, form.typed.get("reseated", "") != "", form.text("sent", 40))
    if not form.errors:
        with form.refusals():
            (service.plumb if key == "plumb" else service.match)(database, rig_id, seen, datetime.now(UTC))
    if form.errors:
        return station_page(request, rig, form, "", 422)
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/reverse/{kind}")
def reverse(request: Request, rig_id: int, kind: str, typed: TypedForm) -> Response:
    """A level read both ways round. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    vial = instruments.level_of(rig.card.level, kind)
    seen = reversal_of(form, vial)
    if form.errors:
        return station_page(request, rig, form, "", 422)
    instruments.reverse(database, rig_id, kind, seen, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/leave")
def leave(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Leave the third axis as square as the tool could tell, by name. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    who = form.text("left_by", 60)
    if not form.errors:
        with form.refusals():
            service.leave(request.app.state.database, rig_id, who, datetime.now(UTC))
    if form.errors:
        return station_page(request, rig, form, "", 422)
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/instruments")
def take_newer(request: Request, rig_id: int) -> Response:
    """Take the shop's present figures of the levels that this rig is read with. Raises NotFound."""
    instruments.take_newer(request.app.state.database, rig_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/accept/{axis}")
def accept(request: Request, rig_id: int, axis: str, typed: TypedForm) -> Response:
    """Accept an axis as it is, in writing. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    reason = form.text("reason", 200)
    if not form.errors:
        with form.refusals():
            service.accept(request.app.state.database, rig_id, axis, reason, datetime.now(UTC))
    if form.errors:
        return station_page(request, rig, form, axis, 422)
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.post("/rigs/{rig_id}/level/open/{key}")
def reopen(request: Request, rig_id: int, key: str) -> Response:
    """Take an acceptance, or the plumb entry, back. Raises NotFound."""
    service.reopen(request.app.state.database, rig_id, key, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level", 303)


@router.get("/rigs/{rig_id}/level/picture")
def pictured(request: Request, rig_id: int, pitch: str = "", cant: str = "", third: str = "") -> Response:
    """The bow pitched and canted by hand, with what both vials then show. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    now = rig.level.axes
    usual = _degrees(now["third"]) if now["third"].now else 2.0
    second = _degrees(now["second"]) if now["second"].now else 0.0
    put = slider_number(pitch, -32.0, 60.0), slider_number(cant, 0.0, 6.0), second, slider_number(third, usual, 6.0)
    drawn = picture(*put, bubbles(*map(math.radians, put)))
    if wants_fragment(request):
        return render(request, "level/_picture.html", rig_id=rig_id, picture=drawn)
    context = rig_context(rig, "level", date.today())
    return render(request, "level/picture.html", picture=drawn, **context)


def _degrees(state: AxisState) -> float:
    return round(math.degrees(state.now.value), 1) + 0.0 if state.now and state.unit.calibrated else 0.0
