"""The sight's own vial against its rod or housing, off the bow: read both ways round, its end screws ordered."""

from __future__ import annotations

from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.card import Vial
from cross_staff.services.level import instruments
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.form import reversal_of
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
TRUE_DIV = 0.2  # nobody sets end screws closer


@router.get("/rigs/{rig_id}/level/scope")
def shown(request: Request, rig_id: int) -> Response:
    """How the vial sits, and its form. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return _page(request, rig, FormInput({}, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/level/scope")
def keep(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The vial read both ways round. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    seen = reversal_of(form, rig.card.level.sight)
    if form.errors:
        return _page(request, rig, form, 422)
    instruments.reverse(database, rig_id, "sight", seen, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/level/scope", 303)


def order(vial: Vial) -> tuple[str, str]:
    """What to do at its end screws, and why."""
    error = vial.roll_error_div
    if error is None:
        return (
            "Read the sight's own vial, off the bow.",
            "A vial that sits crooked is levelled crooked with all the rest.",
        )
    if abs(error) <= TRUE_DIV:
        return "It sits true: nothing to turn.", words.own_error(vial)[0].upper() + words.own_error(vial)[1:] + "."
    high, low = ("right", "left") if error > 0.0 else ("left", "right")
    return (
        f"Lower its {high} end by its end screws until the bubble comes {words.bubble(-error)}.",
        f"Its {high} end sits high by {abs(error):.1f} lines: ease the {high} end screw, or lift the {low} one, a bit "
        "at a time; then read it both ways round again.",
    )


def _page(request: Request, rig: Rig, form: FormInput, status: int = 200) -> Response:
    say, why = order(rig.card.level.sight)
    usual = {"first_way": "0", "turned_way": ""}
    context = rig_context(rig, "level", date.today()) | {
        "form": form,
        "say": say,
        "why": why,
        "typed": usual | {name: form.typed[name] for name in usual if name in form.typed},
    }
    return render(request, "level/scope.html", status, **context)
