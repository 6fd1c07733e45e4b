"""A target read off a photo: straightened by its corners or its face, the holes found and shown to be corrected."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Disc, Sheet
from cross_staff.core.photos.target import SHAFT_M, FoundHole
from cross_staff.core.photos.uses import DISC, MOST_TAPS, SHEET, scale_of
from cross_staff.services import photo_readings as readings
from cross_staff.services.mount import record as photos
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.photo import PostedPhoto
from cross_staff.web.forms.units import Units
from cross_staff.web.photos.taps import LENGTHS, SCALE_TAPS, SCALES, Place, lengths_of, points_of, scale_place, text_of
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
HOLES, AIM = "tap_holes", "tap_aim"
USUAL_SHAFT_M = 0.006
SPOT_PART = 70.0  # of the photo: how large a ring is drawn round a place that is not sure
WAYS = (DISC, SHEET)


@router.post("/rigs/{rig_id}/sight_in/photo")
def bring(request: Request, rig_id: int, posted: PostedPhoto) -> Response:
    """Keep a photo of a target, and go on to read it. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, photo = posted.read()
    if photo is None:
        form.errors.setdefault("photo", "choose a photo of the target first")
        context = rig_context(rig, "sight_in", date.today()) | {"form": form}
        return render(request, "sight_in/photo_none.html", 422, **context)
    kept = photos.keep_photo(database, rig_id, photo, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/sight_in/photo/{kept}", 303)


@router.get("/rigs/{rig_id}/sight_in/photo/{photo_id}")
def photo_page(request: Request, rig_id: int, photo_id: int) -> Response:
    """The photo, to be tapped. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    photos.photo(request.app.state.database, rig_id, photo_id)
    units = Units.of(rig.units)
    shaft = units.plain("diameter", rig.card.build.shaft_diameter_m or USUAL_SHAFT_M)
    return _page(request, rig, photo_id, FormInput({"shaft_across": shaft, "scale": DISC}, units))


@router.post("/rigs/{rig_id}/sight_in/photo/{photo_id}")
def read_photo(request: Request, rig_id: int, photo_id: int, typed: TypedForm) -> Response:
    """Find the holes, or take the taps to the end as shots. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    photo = photos.photo(request.app.state.database, rig_id, photo_id)
    kind, act = form.choice("scale", WAYS) or DISC, form.typed.get("act")
    if act == "scale":
        form.errors.clear()
        return _page(request, rig, photo_id, form)
    scale = _scale(form, kind)
    shaft = form.number("shaft_across", "diameter", SHAFT_M)
    if shaft is None:
        form.errors.setdefault("shaft_across", "how thick are the shafts?")
    holes, aim = points_of(form, HOLES), points_of(form, AIM)
    if act != "find" and not holes:
        form.errors.setdefault(HOLES, "tap every hole, or let them be found")
    if scale is None or shaft is None or form.errors:
        return _page(request, rig, photo_id, form, 422)
    try:
        if act == "find":
            return _found(request, rig, photo_id, form, readings.holes(photo, scale, shaft))
        shots = readings.shots(photo, scale, holes, aim)
    except InvalidValue as error:
        form.errors[SCALE_TAPS if error.field == "scale" else error.field] = error.message
        return _page(request, rig, photo_id, form, 422)
    lines = [f"{round(1000.0 * right)} {round(1000.0 * up)}" for right, up in shots]
    query = urlencode({"shots": "\n".join(lines), "photo": photo_id})
    return RedirectResponse(f"/rigs/{rig_id}/sight_in?{query}#target-title", 303)


def _scale(form: FormInput, kind: str) -> Sheet | Disc | None:
    """What was tapped as the target's own size; None where something is wrong, which stands at its field."""
    sides = lengths_of(form, kind, "offset")
    taps = points_of(form, SCALE_TAPS)
    if form.errors:
        return None
    try:
        made = scale_of(kind, taps, sides)
    except InvalidValue as error:
        form.errors[SCALE_TAPS if error.field == "scale" else error.field] = error.message
        return None
    return made if isinstance(made, (Sheet, Disc)) else None


def _found(request: Request, rig: Rig, photo_id: int, form: FormInput, found: list[FoundHole]) -> Response:
    """The page with the holes that are sure put in beside those that were tapped, and the others to be looked at."""
    sure = [(hole.x, hole.y) for hole in found if hole.sure][:MOST_TAPS]
    form.typed = dict(form.typed) | {HOLES: text_of(sure)}
    return _page(request, rig, photo_id, form, spots=[hole for hole in found if not hole.sure], looked=True)


def _page(
    request: Request,
    rig: Rig,
    photo_id: int,
    form: FormInput,
    status: int = 200,
    spots: list[FoundHole] | None = None,
    looked: bool = False,
) -> Response:
    photo = photos.photo(request.app.state.database, rig.rig_id, photo_id)
    kind = form.typed.get("scale", DISC)
    kind = kind if kind in WAYS else DISC
    of_scale = {
        DISC: "the face's rim at twelve, three, six and nine o'clock",
        SHEET: "the target's corners, clockwise from its upper left",
    }
    context: dict[str, Any] = rig_context(rig, "sight_in", date.today()) | {
        "form": form,
        "photo_id": photo_id,
        "size": (photo.width, photo.height),
        "places": [
            scale_place(kind, of_scale[kind]),
            Place(HOLES, "a hole: every arrow of this end", MOST_TAPS, ""),
            Place(AIM, "the aim, where it is not the middle", 1, "A", optional=True),
        ],
        "scales": [(key, SCALES[key]) for key in WAYS],
        "kind": kind,
        "lengths": LENGTHS[kind],
        "spots": [(each, photo.width / SPOT_PART) for each in spots or ()],
        "looked": looked,
        "count": len(points_of(form, HOLES)),
    }
    return render(request, "sight_in/photo.html", status, **context)
