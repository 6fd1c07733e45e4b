"""Two photos of one joint, before and after, laid over one another: what moved is seen, and how far."""

from __future__ import annotations

from datetime import date
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.overlay import Laid, laid_over, shift
from cross_staff.core.photos.plane import Figure
from cross_staff.core.photos.plane import Photo as Plane
from cross_staff.core.photos.uses import LENGTH_M
from cross_staff.services import photo_readings as service
from cross_staff.services.mount import record as photos
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.photos.taps import Place, points_of
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.words import plus_minus

router = APIRouter()
FIELDS = ("tap_fixed", "tap_again", "tap_mark", "tap_now", "length_#", "before", "after")
BEFORE = (
    Place("tap_fixed", "two to four points that did not move, two far apart first", 4, "F"),
    Place("tap_mark", "the mark", 1, "M", optional=True),
)
AFTER = (
    Place("tap_again", "the same points, in the same order", 4, "F"),
    Place("tap_now", "the mark, where it is now", 1, "M", optional=True),
)


@router.get("/rigs/{rig_id}/photo-bench/overlay")
def overlay_page(request: Request, rig_id: int, before: int = 0, after: int = 0) -> Response:
    """Two photos side by side, to be tapped; the two newest where none were chosen. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    ids = service.photo_ids(request.app.state.database, rig_id)
    chosen = {"before": str(before or (ids[1] if len(ids) > 1 else "")), "after": str(after or (ids[0] if ids else ""))}
    return _page(request, rig, FormInput(chosen, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/photo-bench/overlay")
def lay_over(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The later photo over the earlier one; how far the mark moved, where it was tapped on both. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    sizes = _sizes(request, rig, form)
    fixed, again, mark, now = (points_of(form, name) for name in ("tap_fixed", "tap_again", "tap_mark", "tap_now"))
    length = form.number("length_1", "length", LENGTH_M)
    if bool(mark) != bool(now):
        form.errors["tap_now" if mark else "tap_mark"] = "tap the mark on both photos, or on none"
    if mark and now and length is None:
        form.errors.setdefault("length_1", "how far are the first two fixed points apart?")
    laid, moved = None, None
    if not form.errors:
        try:
            laid = laid_over(*sizes, fixed, again)
            if mark and now and length is not None:
                moved = shift(*sizes, fixed, again, mark[0], now[0], length)
        except InvalidValue as error:
            form.errors[error.field if error.field.startswith("length") else f"tap_{error.field}"] = error.message
    return _page(request, rig, form, 422 if form.errors else 200, laid, moved)


def _sizes(request: Request, rig: Rig, form: FormInput) -> tuple[Plane, Plane]:
    """The sizes of both photos. Raises NotFound."""
    both = [
        photos.photo(request.app.state.database, rig.rig_id, whole(form.typed.get(n, "")) or 0)
        for n in ("before", "after")
    ]
    return Plane(both[0].width, both[0].height), Plane(both[1].width, both[1].height)


def _page(
    request: Request,
    rig: Rig,
    form: FormInput,
    status: int = 200,
    laid: Laid | None = None,
    moved: Figure | None = None,
) -> Response:
    ids = service.photo_ids(request.app.state.database, rig.rig_id)
    units = Units.of(rig.units)
    context: dict[str, Any] = rig_context(rig, "card", date.today()) | {
        "form": form,
        "ids": [(str(i), f"photo {i}") for i in ids],
    }
    if len(ids) > 1:
        before, after = _sizes(request, rig, form)
        context |= {
            "sizes": ((before.width, before.height), (after.width, after.height)),
            "before_places": BEFORE,
            "after_places": AFTER,
            "matrix": None if laid is None else _matrix(laid),
            "moved": "" if moved is None else units.show("mark", 1000.0 * moved.value, 2),
            "moved_sd": "" if moved is None else plus_minus(units, "mark", 1000.0 * moved.sd, 2),
            "surely": moved is not None and moved.value > 2.0 * moved.sd,
        }
    return render(request, "photos/overlay.html", status, **context)


def _matrix(laid: Laid) -> str:
    """As a drawing takes it."""
    return f"matrix({laid.a:.6f} {laid.b:.6f} {-laid.b:.6f} {laid.a:.6f} {laid.right:.3f} {laid.down:.3f})"
