"""Witness marks: the list with its photos, and how a knocked rig is put back."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.mount.station import JOINTS, WitnessMark
from cross_staff.services.mount import record as service
from cross_staff.services.photos import MOST_BYTES
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, whole
from cross_staff.web.forms.merge import merged, seen_text
from cross_staff.web.forms.photo import PostedPhoto
from cross_staff.web.forms.units import Units
from cross_staff.web.mount import words
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()


@router.get("/rigs/{rig_id}/mount/marks")
def marks_page(request: Request, rig_id: int, removed: int = 0, line: int = 0) -> Response:
    """The witness marks of a rig, and the form for one more, or for one that is changed. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    held = _held(rig, line)
    texts = _texts(held) if held else {}
    typed = texts | ({"line": str(line)} if held else {})
    return _page(request, rig, FormInput(typed, Units(), seen=seen_text(texts)), removed)


def _held(rig: Rig, line: int | None) -> WitnessMark | None:
    return next((mark for mark in rig.witness if mark.line == line), None)


def _texts(mark: WitnessMark) -> dict[str, str]:
    return {"joint": mark.joint, "place": mark.place}


@router.get("/rigs/{rig_id}/mount/knocked")
def knocked(request: Request, rig_id: int) -> Response:
    """The marks in the order in which a knocked rig is put back. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    context = rig_context(rig, "mount", date.today())
    return render(request, "mount/knocked.html", witness=rig.witness, caution=words.CAUTION_MOUNT, **context)


@router.post("/rigs/{rig_id}/mount/marks")
def add_mark(request: Request, rig_id: int, posted: PostedPhoto) -> Response:
    """Keep a mark, new or changed, with a photo if one was sent; what two windows change is joined. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, photo = posted.read()
    number = whole(form.typed.get("line", ""))
    held = _held(rig, number)
    if held is not None:
        form.take(merged(form.typed, _texts(held)))
    joint, place = form.text("joint", 60), form.text("place", 200)
    if not form.errors:
        with form.refusals():
            service.mark_joint(database, rig_id, joint, place, photo, datetime.now(UTC), number)
    if form.errors:
        return _page(request, rig, form, status=409 if form.conflicts else 422)
    return RedirectResponse(f"/rigs/{rig_id}/mount/marks", 303)


@router.get("/rigs/{rig_id}/mount/marks/sheet")
def sheet_page(request: Request, rig_id: int) -> Response:
    """All joints of a rig in one sheet, with one photo for several. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    texts = _sheet_texts(rig)
    return _sheet(request, rig, FormInput(texts, Units(), seen=seen_text(texts)))


def _sheet_texts(rig: Rig) -> dict[str, str]:
    held = {mark.joint: mark.place for mark in rig.witness}
    return {f"place_{row}": held.get(joint, "") for row, joint in enumerate(JOINTS)}


@router.post("/rigs/{rig_id}/mount/marks/sheet")
def keep_sheet(request: Request, rig_id: int, posted: PostedPhoto) -> Response:
    """Keep every mark of the sheet, with a photo of those that are ticked; what two windows change is joined. Raises
    NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, photo = posted.read()
    form.take(merged(form.typed, _sheet_texts(rig)))
    told = [
        (joint, form.text(f"place_{row}", 200), bool(form.typed.get(f"shows_{row}")))
        for row, joint in enumerate(JOINTS)
    ]
    if photo is None and "photo" not in form.errors and any(shown for _, _, shown in told):
        form.errors["photo"] = "choose the photo that shows the ticked joints"
    if not form.errors:
        with form.refusals():
            service.mark_joints(database, rig_id, told, photo, datetime.now(UTC))
    if form.errors:
        return _sheet(request, rig, form, 409 if form.conflicts else 422)
    return RedirectResponse(f"/rigs/{rig_id}/mount/marks", 303)


def _sheet(request: Request, rig: Rig, form: FormInput, status: int = 200) -> Response:
    rows = [
        {
            "joint": joint,
            "place": f"place_{row}",
            "shows": f"shows_{row}",
            "ticked": bool(form.typed.get(f"shows_{row}")),
        }
        for row, joint in enumerate(JOINTS)
    ]
    context = rig_context(rig, "mount", date.today()) | {"form": form, "rows": rows, "limit_bytes": MOST_BYTES}
    context |= {"limit_mb": MOST_BYTES // 1024 // 1024, "caution": words.CAUTION_MOUNT}
    context |= {"labels": {row["place"]: row["joint"] for row in rows}}
    return render(request, "mount/witness_sheet.html", status, **context)


@router.post("/rigs/{rig_id}/mount/marks/{line}/remove")
def remove_mark(request: Request, rig_id: int, line: int) -> Response:
    """Take a mark out of the list; it can be put back."""
    service.remove_mark(request.app.state.database, rig_id, line, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/mount/marks?removed={line}", 303)


@router.post("/rigs/{rig_id}/mount/marks/{line}/restore")
def restore_mark(request: Request, rig_id: int, line: int) -> Response:
    """Put a mark back into the list."""
    service.remove_mark(request.app.state.database, rig_id, line, datetime.now(UTC), back=True)
    return RedirectResponse(f"/rigs/{rig_id}/mount/marks", 303)


@router.get("/rigs/{rig_id}/photos/{photo_id}")
def photo_file(request: Request, rig_id: int, photo_id: int) -> Response:
    """A photo as it is kept. Raises NotFound."""
    photo = service.photo(request.app.state.database, rig_id, photo_id)
    return Response(photo.jpeg, media_type="image/jpeg")


def _page(request: Request, rig: Rig, form: FormInput, removed: int = 0, status: int = 200) -> Response:
    context: dict[str, Any] = rig_context(rig, "mount", date.today()) | {
        "form": form,
        "witness": rig.witness,
        "joints": JOINTS,
        "removed": removed,
        "limit_mb": MOST_BYTES // 1024 // 1024,
        "limit_bytes": MOST_BYTES,
    }
    return render(request, "mount/witness_marks.html", status, **context)
