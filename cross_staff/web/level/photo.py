"""A vial read off a photo: four taps at its corners, the bubble and its lines found and shown to be corrected."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import METHODS
from cross_staff.core.photos.plane import Point
from cross_staff.core.photos.vial import FoundBubble
from cross_staff.core.ranges import Range
from cross_staff.services import photo_readings as readings
from cross_staff.services.mount import record as photos
from cross_staff.services.photos import Photo
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.photo import PostedPhoto
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.photos.taps import Place, points_of, text_of
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
CORNERS = "corners"
MARKS = (
    ("left_line", "the line left of the middle", "L"),
    ("right_line", "the line right of the middle", "R"),
    ("left_end", "the bubble's left end", "a"),
    ("right_end", "the bubble's right end", "b"),
)
PLACES = (Place(CORNERS, "the glass's corners, clockwise from its upper left", 4, "S"), *(
    Place(name, words, 1, letter) for name, words, letter in MARKS
))  # fmt: skip


@router.post("/rigs/{rig_id}/level/photo")
def bring(request: Request, rig_id: int, posted: PostedPhoto) -> Response:
    """Keep a photo of a vial, and go on to read it. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, photo = posted.read()
    axis = form.choice("axis", AXES)
    if photo is None:
        form.errors.setdefault("photo", "choose a photo of the vial first")
        context = rig_context(rig, "level", date.today()) | {"form": form, "axis": axis}
        return render(request, "level/photo_none.html", 422, **context)
    kept = photos.keep_photo(database, rig_id, photo, datetime.now(UTC))
    query = urlencode({"axis": axis, "method": _method(form, axis)})
    return RedirectResponse(f"/rigs/{rig_id}/level/photo/{kept}?{query}", 303)


@router.get("/rigs/{rig_id}/level/photo/{photo_id}")
def photo_page(request: Request, rig_id: int, photo_id: int, axis: str = "third", method: str = "") -> Response:
    """The photo with its four marks. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    photos.photo(request.app.state.database, rig_id, photo_id)
    return _page(request, rig, photo_id, FormInput({"axis": axis, "method": method}, Units()))


@router.post("/rigs/{rig_id}/level/photo/{photo_id}")
def read_photo(request: Request, rig_id: int, photo_id: int, typed: TypedForm) -> Response:
    """Find the bubble between four corners, or work out where it stands and take it to the reading. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    photo = photos.photo(database, rig_id, photo_id)
    form = FormInput(typed, Units())
    axis, which = form.choice("axis", AXES), form.choice("which", ("vial", "reference"))
    if form.typed.get("act") == "find":
        return _found(request, rig, photo_id, form)
    corners = points_of(form, CORNERS)
    if form.typed.get("doubt") and form.typed.get("doubted") == _ends(form) and form.typed.get("sure") != "yes":
        form.errors["sure"] = "these were not sure, and nobody moved them: move them, or say that they stand right"
    marks = [_placed(form, name, photo) for name, _, _ in MARKS]
    lines = form.number("lines", "plain", Range(1.0, 6.0))
    if lines is None:
        form.errors.setdefault("lines", "how many lines from the middle are those two?")
    stands = 0.0
    if not form.errors:
        try:
            stands = readings.bubble_stands(photo, corners, marks, lines or 1.0)
        except InvalidValue as error:
            form.errors[CORNERS if error.field == "scale" else error.field] = error.message
    if form.errors:
        return _page(request, rig, photo_id, form, 422)
    said = {"axis": axis, "method": _method(form, axis), which: trimmed(stands, 2), "photo": photo_id}
    query = urlencode({name: value for name, value in said.items() if value != ""})
    return RedirectResponse(f"/rigs/{rig_id}/level?{query}", 303)


def _ends(form: FormInput) -> str:
    """Lines and ends as they stand, to know again whether somebody moved them."""
    return " | ".join(form.typed.get(name, "") for name, _, _ in MARKS)


def _method(form: FormInput, axis: str) -> str:
    """The way of reading that the photo is for; empty where it was not said."""
    chosen = form.typed.get("method", "")
    return chosen if chosen in {method.key for method in METHODS[axis]} else ""


def _placed(form: FormInput, name: str, photo: Photo) -> Point:
    points = points_of(form, name)
    if not points:
        form.errors.setdefault(name, "put this mark on the photo")
    elif not (0 <= points[0][0] <= photo.width and 0 <= points[0][1] <= photo.height):
        form.errors[name] = "lies off the picture"
    return points[0] if points else (0.0, 0.0)


def _found(request: Request, rig: Rig, photo_id: int, form: FormInput) -> Response:
    """The page with what was found in the glass, to be corrected; how sure that is."""
    form.errors.clear()
    corners = points_of(form, CORNERS)
    photo = photos.photo(request.app.state.database, rig.rig_id, photo_id)
    try:
        found, at = readings.bubble(photo, corners)
    except InvalidValue as error:
        form.errors[CORNERS] = error.message
        return _page(request, rig, photo_id, form, 422)
    names = [name for name, _, _ in MARKS[:2]] if found.lines else []
    names += [name for name, _, _ in MARKS[2:]] if found.ends else []
    for name, point in zip(names, at, strict=True):
        form.typed = dict(form.typed) | {name: text_of([point])}
    form.typed = dict(form.typed) | {"doubt": found.why, "doubted": "" if found.sure else _ends(form)}
    return _page(request, rig, photo_id, form, found=found)


def _page(
    request: Request, rig: Rig, photo_id: int, form: FormInput, status: int = 200, found: FoundBubble | None = None
) -> Response:
    photo = photos.photo(request.app.state.database, rig.rig_id, photo_id)
    context: dict[str, Any] = rig_context(rig, "level", date.today()) | {
        "form": form,
        "photo_id": photo_id,
        "size": (photo.width, photo.height),
        "places": PLACES,
        "found": found,
        "axis": form.typed.get("axis", "third"),
        "method": form.typed.get("method", ""),
    }
    return render(request, "level/photo.html", status, **context)
