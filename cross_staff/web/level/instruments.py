"""The shop's levels and jigs: the list, one instrument's form."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.card import INSTRUMENT_KINDS, Vial
from cross_staff.core.rig.instrument import DAYS, USUAL_DAYS, Instrument, overdue
from cross_staff.core.rig.limits import LIMITS, VIAL_LINE_RAD
from cross_staff.services.level import instruments as service
from cross_staff.web.card.fields import NumberField
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept
from cross_staff.web.forms.merge import merged, seen_text, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words
from cross_staff.web.level.form import reversal_of
from cross_staff.web.shared.render import render

router = APIRouter()
NOT_YET = "not turned end for end yet"
FIELDS = {
    field.name: field
    for field in (
        NumberField("line", "A line is", "angle", VIAL_LINE_RAD, "empty: not calibrated"),
        NumberField("lines", "Lines a side", "count", LIMITS["level.reference.lines"]),
        NumberField("settle", "Settles in", "seconds", LIMITS["level.reference.settle_s"]),
        NumberField("reverse_days", "Reverse again after", "count", DAYS, "days"),
    )
}


@router.get("/instruments")
def listed(request: Request, removed: int = 0) -> Response:
    """The shop's levels and jigs."""
    today = date.today()
    rows = [
        {
            "number": kept.instrument,
            "name": kept.record.name,
            "kind": INSTRUMENT_KINDS[kept.record.kind],
            "proved": words.own_error(kept.record.vial) or NOT_YET,
            "late": overdue(kept.record.vial, today, kept.record.reverse_days),
        }
        for kept in service.kept(request.app.state.database)
    ]
    return render(request, "level/instruments.html", rows=rows, removed=removed)


@router.get("/instruments/new")
def new(request: Request, kind: str = "reference") -> Response:
    """The form of one that is not kept yet."""
    instrument = Instrument(kind=kind if kind in INSTRUMENT_KINDS else "reference")
    return _page(request, FormInput(_filled(instrument), Units()), instrument, "/instruments", 0)


@router.post("/instruments")
def add(request: Request, typed: TypedForm) -> Response:
    """Keep a new one."""
    form = FormInput(typed, Units())
    instrument = _read(form, Instrument())
    if not form.errors:
        with form.refusals():
            number = service.add(request.app.state.database, instrument, datetime.now(UTC))
            return RedirectResponse(f"/instruments/{number}?saved=1", 303)
    return _page(request, form, instrument, "/instruments", 0, status=422)


@router.get("/instruments/{number}")
def shown(request: Request, number: int, saved: int = 0) -> Response:
    """One of them. Raises NotFound."""
    kept = service.find(request.app.state.database, number)
    texts = _filled(kept.record)
    form = FormInput(texts, Units(), seen=seen_text(texts))
    return _page(
        request,
        form,
        kept.record,
        f"/instruments/{number}",
        kept.number,
        "Kept." if saved else "",
        removed=kept.removed,
    )


@router.post("/instruments/{number}")
def change(request: Request, number: int, typed: TypedForm) -> Response:
    """Keep one as it was changed, joined with what was changed meanwhile. Raises NotFound."""
    return until_kept(lambda: _save(request, number, typed))


def _save(request: Request, number: int, typed: dict[str, str]) -> Response:
    database, address = request.app.state.database, f"/instruments/{number}"
    kept = service.find(database, number)
    form = FormInput(typed, Units())
    outdated = based_on(form) not in (0, kept.number)
    form.take(merged(typed, _filled(kept.record), ticks=lambda name: name == "clip_proved", outdated=outdated))
    instrument = _read(form, kept.record)
    if form.conflicts:
        return _page(request, form, instrument, address, kept.number, waits(form.conflicts), 409, kept.removed)
    if not form.errors:
        with form.refusals():
            service.change(database, number, kept.number, instrument, datetime.now(UTC))
            return RedirectResponse(f"/instruments/{number}?saved=1", 303)
    return _page(request, form, instrument, address, kept.number, status=422, removed=kept.removed)


@router.post("/instruments/{number}/remove")
def remove(request: Request, number: int) -> Response:
    """Take one out of the list; it can be put back, and rigs keep what they have of it."""
    service.remove(request.app.state.database, number, datetime.now(UTC))
    return RedirectResponse(f"/instruments?removed={number}", 303)


@router.post("/instruments/{number}/restore")
def restore(request: Request, number: int) -> Response:
    """Put one back into the list."""
    service.remove(request.app.state.database, number, datetime.now(UTC), back=True)
    return RedirectResponse("/instruments", 303)


def _filled(instrument: Instrument) -> dict[str, str]:
    vial, units = instrument.vial, Units()
    return {
        "name": instrument.name,
        "kind": instrument.kind,
        "line": units.plain("angle", vial.per_division_rad, 3),
        "lines": units.plain("count", float(vial.lines)),
        "settle": units.plain("seconds", vial.settle_s),
        "reverse_days": str(instrument.reverse_days),
        "clip_proved": "yes" if instrument.clip_proved_on else "",
        "note": instrument.note,
    }


def _read(form: FormInput, kept: Instrument) -> Instrument:
    numbers = {n: form.number(n, f.quantity, f.span, 3 if n == "line" else None) for n, f in FIELDS.items()}
    today = date.today()
    proved = (kept.clip_proved_on or today) if form.typed.get("clip_proved") else None
    vial = replace(
        kept.vial,
        per_division_rad=numbers["line"],
        settle_s=numbers["settle"],
        lines=int(numbers["lines"] or Vial.lines),
    )
    return Instrument(
        form.text("name", 60),
        form.choice("kind", tuple(INSTRUMENT_KINDS)),
        _reversed(form, vial, today),
        proved if form.typed.get("kind") == "reference" else None,
        int(numbers["reverse_days"] or USUAL_DAYS),
        form.text("note", 200),
    )


def _reversed(form: FormInput, vial: Vial, today: date) -> Vial:
    """The vial with a reversal that was typed; both readings or neither."""
    typed = [name for name in ("first_way", "turned_way") if form.typed.get(name, "").strip()]
    if not typed:
        return vial
    if len(typed) == 1:
        form.errors["turned_way" if typed[0] == "first_way" else "first_way"] = "both readings, or neither"
        return vial
    seen = reversal_of(form, vial)
    return replace(vial, roll_error_div=seen.error, reversed_on=today)


def _page(
    request: Request,
    form: FormInput,
    instrument: Instrument,
    action: str,
    number: int,
    said: str = "",
    status: int = 200,
    removed: bool = False,
) -> Response:
    context = {
        "form": form,
        "fields": FIELDS,
        "kinds": tuple(INSTRUMENT_KINDS.items()),
        "proved": words.own_error(instrument.vial) or NOT_YET,
        "clip": str(instrument.clip_proved_on or ""),
        "action": action,
        "based_on": number,
        "said": said,
        "refused": status >= 400,
        "removed": removed,
    }
    return render(request, "level/instrument.html", status, **context)
