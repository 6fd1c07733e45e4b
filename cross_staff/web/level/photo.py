"""A vial read off a photo: the bubble's two ends and two of the vial's lines put on the picture."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.vials import bubble_between
from cross_staff.core.ranges import Range
from cross_staff.services.mount import record as photos
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.photo import PostedPhoto
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
MARKS = (
    ("left_line", "line left of the middle", 0.30),
    ("right_line", "line right of the middle", 0.70),
    ("left_end", "bubble's left end", 0.42),
    ("right_end", "bubble's right end", 0.58),
)


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
    """Work out where the bubble stands, and take it to the reading. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    photo = photos.photo(database, rig_id, photo_id)
    form = FormInput(typed, Units())
    axis, which = form.choice("axis", AXES), form.choice("which", ("vial", "reference"))
    span = Range(0.0, float(photo.width))
    left, right, one, other = (_placed(form, name, span) for name, _, _ in MARKS)
    lines = form.number("lines", "plain", Range(1.0, 6.0))
    if lines is None:
        form.errors.setdefault("lines", "how many lines from the middle are those two?")
    if not form.errors and right - left < 10.0:
        form.errors["right_line"] = "the two lines stand on one another"
    if form.errors:
        return _page(request, rig, photo_id, form, 422)
    stands = bubble_between(left, right, lines or 1.0, one, other)
    said = {"axis": axis, "method": _method(form, axis), which: trimmed(stands, 2), "photo": photo_id}
    query = urlencode({name: value for name, value in said.items() if value != ""})
    return RedirectResponse(f"/rigs/{rig_id}/level?{query}", 303)


def _method(form: FormInput, axis: str) -> str:
    """The way of reading that the photo is for; empty where it was not said."""
    chosen = form.typed.get("method", "")
    return chosen if chosen in {method.key for method in METHODS[axis]} else ""


def _placed(form: FormInput, name: str, span: Range) -> float:
    value = form.number(name, "plain", span)
    if value is None:
        form.errors.setdefault(name, "put this mark on the photo")
    return value or 0.0


def _page(request: Request, rig: Rig, photo_id: int, form: FormInput, status: int = 200) -> Response:
    photo = photos.photo(request.app.state.database, rig.rig_id, photo_id)
    marks: list[dict[str, Any]] = []
    for number, (name, words, part) in enumerate(MARKS):
        x = trimmed(part * photo.width, 1)
        marks.append(
            {
                "name": name,
                "words": words,
                "value": form.typed.get(name, x),
                "x": float(x),
                "y": photo.height * (0.35 + 0.1 * number),
            }
        )
    context = rig_context(rig, "level", date.today()) | {
        "form": form,
        "photo_id": photo_id,
        "size": (photo.width, photo.height),
        "mark_radius": photo.width / 60.0,
        "mark_scale": photo.width / 640.0,
        "marks": marks,
        "axis": form.typed.get("axis", "third"),
        "method": form.typed.get("method", ""),
    }
    return render(request, "level/photo.html", status, **context)
