"""Holds: where to aim with each pin when nothing is dialled, and what a misjudged distance costs."""

from __future__ import annotations

from dataclasses import replace

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.services.rig import open_rig
from cross_staff.web.card.fields import NUMBERS
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.hold_drawing import hold_drawing
from cross_staff.web.tape.hold_tables import bands, holds, misjudged
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.tables import TapeView, kept, tape_view

router = APIRouter()


@router.get("/rigs/{rig_id}/tape/holds")
def holds_page(request: Request, rig_id: int) -> Response:
    """Holds for the card's target, or another. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/holds")
    query = request.query_params
    typed = {"target": query.get("target", "") or units.plain("offset", t.target_m), "at": query.get("at", "")}
    form = FormInput(typed, units, {"target": t.target_m})
    target, at = (
        form.number("target", "offset", NUMBERS["target_size"].span),
        form.number("at", "distance", DISTANCE_SPAN),
    )
    if target is not None:
        t = replace(t, target_m=target)
    say, why = kept(t, "longest band", lambda: _longest_band(t))
    if at is not None:
        say, why = _answer(t, at)
    return tape_page(
        request,
        rig,
        "/holds",
        "tape/holds.html",
        kept(t, "holds", lambda: [bands(t), holds(t), misjudged(t)]),
        form,
        say=say,
        why=why,
        caution="A hold is for where there is no time to dial. Ranged and dialled is surer.",
        drawing=kept(t, "holds drawn", lambda: hold_drawing(t)),
    )


def _longest_band(t: TapeView) -> tuple[str, str]:
    """The widest span that a single pin covers, held on the middle."""
    bands = [(band, pin) for pin, band in enumerate(t.bands()) if band]
    if not bands:
        return "No pin is right for any distance.", ""
    band, pin = max(bands, key=lambda each: each[0].far_m - each[0].near_m)
    near = "the bow" if band.starts_near else f"{t.ranged(band.near_m)} {t.unit}"
    name = pin_words.the(t.pin_name(pin))
    return (
        f"Hold {name} on, from {near} to {t.ranged(band.far_m)} {t.unit}.",
        f"There it stays within a target of {on_target(t.units, t.target_m)}, by its middle; beyond, hold as below.",
    )


def _answer(t: TapeView, at_m: float) -> tuple[str, str]:
    """The best hold for one distance."""
    best = t.best_hold(at_m)
    asked = f"{t.number(at_m)} {t.unit}"
    if best is None:
        return f"{asked} is out of reach.", "This arrow does not come that far."
    pin, off = best
    name = pin_words.the(t.pin_name(pin))
    if abs(off) < 0.005:
        return f"For {asked}: hold {name} dead on.", "Nothing to hold over or under."
    side = "low" if off > 0 else "high"
    return f"For {asked}: hold {name} {on_target(t.units, off)} {side}.", "The pin with the smallest hold."
