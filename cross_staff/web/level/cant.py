"""A cant on purpose: one group plumb, one canted; found beside computed, for the archer to see, and the vial's line."""

from __future__ import annotations

import math
from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.level.cant_trial import ARROWS, OFF_M, CantFound, CantTrial
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.services.level import cant as service
from cross_staff.services.level.cant import CantPage, cant_page
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.drawing import cant_drawing
from cross_staff.web.level.form import bubble_at
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
SIDES = ("right_plumb", "up_plumb", "right_canted", "up_canted")
COUNTS = ("arrows_plumb", "arrows_canted")


@router.get("/rigs/{rig_id}/level/cant")
def shown(request: Request, rig_id: int) -> Response:
    """The trial and its form. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return _page(request, rig, FormInput({}, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/level/cant")
def keep(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep both groups. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    trial = _read(form, rig)
    if not form.errors:
        with form.refusals():
            service.keep(request.app.state.database, rig_id, trial, datetime.now(UTC))
    return _page(request, rig, form, 422) if form.errors else _back(rig_id)


@router.post("/rigs/{rig_id}/level/cant/undo")
def undo(request: Request, rig_id: int) -> Response:
    """Take the newest trial back. Raises NotFound."""
    service.take_back(request.app.state.database, rig_id, datetime.now(UTC))
    return _back(rig_id)


@router.post("/rigs/{rig_id}/level/cant/line")
def line(request: Request, rig_id: int) -> Response:
    """Take what the arrows tell as what a line of the sight's vial is. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput({}, Units.of(rig.units))
    with form.refusals():
        service.take_line(request.app.state.database, rig_id, datetime.now(UTC))
    return _page(request, rig, form, 422) if form.errors else _back(rig_id)


def _back(rig_id: int) -> Response:
    return RedirectResponse(f"/rigs/{rig_id}/level/cant", 303)


def _read(form: FormInput, rig: Rig) -> CantTrial:
    distance = form.number("distance", "distance", RANGED_M)
    bubble = bubble_at(form, "bubble", rig.card.level.sight).at
    sides = {name: form.number(name, "offset", OFF_M) for name in SIDES}
    counts = {name: form.number(name, "count", ARROWS) for name in COUNTS}
    asked: dict[str, float | None] = {"distance": distance} | sides | counts
    for name, value in asked.items():
        if value is None:
            form.errors.setdefault(name, _ASKS[name])
    plumb = sides["right_plumb"] or 0.0, sides["up_plumb"] or 0.0
    canted = sides["right_canted"] or 0.0, sides["up_canted"] or 0.0
    one, other = (int(counts[name] or 2) for name in COUNTS)
    return CantTrial(distance or 10.0, bubble, plumb, canted, (one, other))


_ASKS = {
    "distance": "at which distance?",
    "right_plumb": "how far right of the aim? left is minus",
    "up_plumb": "how far above it? below is minus",
    "right_canted": "how far right of the aim? left is minus",
    "up_canted": "how far above it? below is minus",
    "arrows_plumb": "of how many arrows?",
    "arrows_canted": "of how many arrows?",
}


def _page(request: Request, rig: Rig, form: FormInput, status: int = 200) -> Response:
    units, page = Units.of(rig.units), cant_page(rig)
    usual = {
        "distance": units.plain("distance", page.distance_m), "bubble": "", "right_plumb": "", "up_plumb": "",
        "right_canted": "", "up_canted": "", **dict.fromkeys(COUNTS, str(page.arrows or 6)),
    }  # fmt: skip
    context: dict[str, Any] = {
        "form": form,
        "typed": usual | {name: form.typed[name] for name in usual if name in form.typed},
        "plan": _plan(page, units),
        "trial": page.trial,
        "found": _told(page, page.found, units) if page.trial and page.found else [],
        "unknown": page.trial is not None and page.found is None,
        "takes_line": page.found is not None and page.found.calibrates,
        "line": f"{math.degrees(page.found.line_rad):.2f}°" if page.found else "",
        "drawn": cant_drawing(page.trial, page.found) if page.trial and page.found else None,
        "names": {"computed": "computed", "canted": "canted", "plumb": "plumb"},
    }
    return render(request, "level/cant.html", status, **(rig_context(rig, "level", date.today()) | context))


def _plan(page: CantPage, units: Units) -> str:
    """How many arrows tell a cant."""
    at = sentences.whole_distance(units, page.distance_m)
    if page.arrows is None:
        say = f"A cant of {page.lines:g} lines cannot be told at {at} yet"
        return f"{say}: shoot farther out, cant more, or complete the card."
    return f"At {at} a cant of {page.lines:g} lines is told by {page.arrows} arrows in each group."


def _told(page: CantPage, found: CantFound, units: Units) -> list[str]:
    """What the groups show, in sentences."""
    assert page.trial is not None
    trial = page.trial
    side = "right" if found.right_m > 0.0 else "left"
    sure = sentences.on_target(units, 1.96 * found.sd_m)
    said = [
        f"Canted, the bubble {words.bubble(trial.bubble_div)}, the group came in "
        f"{sentences.on_target(units, found.right_m)} farther {side}, ± {sure}."
    ]
    if not found.told:
        said.append("That is within chance: more arrows, more cant, or farther out.")
        return said
    said.append(f"So the bow was canted {abs(math.degrees(found.cant_rad)):.1f}°.")
    if found.computed_m is not None:
        where = "right" if found.computed_m > 0.0 else "left"
        agrees = "they agree." if found.agrees else "they do not agree: was the bubble read on the side it stood?"
        said.append(f"Computed for this vial: {sentences.on_target(units, found.computed_m)} {where}; {agrees}")
    if found.line_rad > 0.0:
        part = 1.96 * math.degrees(found.line_sd_rad)
        said.append(f"A line of this vial is then {math.degrees(found.line_rad):.2f}° ± {part:.2f}.")
    return said
