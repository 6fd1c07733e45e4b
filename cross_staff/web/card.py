"""The card page: what was typed, what it comes to, the next revision."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core import chronograph
from cross_staff.core.errors import InvalidValue, StaleRevision
from cross_staff.core.rig import PEEP_WAYS, RigCard
from cross_staff.core.sights import KINDS
from cross_staff.core.stale import changes
from cross_staff.core.stations import next_step
from cross_staff.services import card as service
from cross_staff.services.tape import TapeView
from cross_staff.web import card_fields, sentences
from cross_staff.web.card_drawing import arrow_drawing, peep_drawing, speed_strip
from cross_staff.web.card_form import CardForm, converted, filled, part_rows, read_card, units_of
from cross_staff.web.forms import typed_form, wants_fragment
from cross_staff.web.render import local_time, render, rig_context
from cross_staff.web.units import CHOICES, QUANTITIES, Units

router = APIRouter()


@router.get("/rigs/{rig_id}/card")
def card_page(request: Request, rig_id: int, saved: int = 0) -> Response:
    """The card as it is kept."""
    found = service.open_card(request.app.state.database, rig_id)
    units = Units.of(found.units)
    form = CardForm(filled(found.card, units), units, kept=found.card)
    said = f"Saved. Revision {found.revision.number} holds now." if saved else ""
    return _page(request, found, form, read_card(form), found.revision.number, said)


@router.post("/rigs/{rig_id}/card")
async def save_card(request: Request, rig_id: int) -> Response:
    """Save what was typed as the next revision; a form that is refused comes back whole."""
    database = request.app.state.database
    form, found = await _posted(request, rig_id)
    card, based_on = read_card(form), _based_on(form)
    why = form.text("why", card_fields.TEXTS["why"])
    if form.errors:
        said = "Not saved yet: " + ("one field needs" if len(form.errors) == 1 else f"{len(form.errors)} fields need")
        return _page(request, found, form, card, based_on, f"{said} another look. What you typed is still here.", 422)
    try:
        service.save(database, rig_id, based_on, card, form.units.keys(), datetime.now(UTC), why)
    except StaleRevision:
        said = _stale_words(database, rig_id, card, found)
        return _page(request, found, form, card, found.revision.number, said, 409)
    return RedirectResponse(f"/rigs/{rig_id}/card?saved=1", 303)


@router.post("/rigs/{rig_id}/card/reckoning")
async def reckoning(request: Request, rig_id: int) -> Response:
    """What the card comes to as it is typed; nothing is saved."""
    form, found = await _posted(request, rig_id)
    card = read_card(form)
    if not wants_fragment(request):
        return _page(request, found, form, card, _based_on(form), "Nothing is saved yet.")
    return render(request, "fragments/card_reckoning.html", **_reckoned(form, card))


@router.post("/rigs/{rig_id}/card/units")
async def change_units(request: Request, rig_id: int) -> Response:
    """The same form in other units, with all that was typed; nothing is saved."""
    form, found = await _posted(request, rig_id)
    new = units_of(form.typed, "unit_")
    typed = converted(form.typed, form.units, new, found.card)
    fresh = CardForm(typed, new, kept=found.card)
    card = read_card(fresh)
    said = "Shown in other units; save to keep them so."
    return _page(request, found, fresh, card, _based_on(form), said, fragment=wants_fragment(request))


@router.get("/rigs/{rig_id}/card/revisions")
def revisions(request: Request, rig_id: int) -> Response:
    """Every revision of the card, with what it changed and why."""
    database = request.app.state.database
    found = service.open_card(database, rig_id)
    history = service.history(database, rig_id)
    rows = []
    for old, new in zip([None, *history], history):
        changed = changes(old.card, new.card) if old else ()
        rows.append(
            {
                "number": new.number,
                "saved": local_time(new.saved),
                "why": new.why,
                "changed": sentences.changed_fields(changed),
            }
        )
    context = rig_context(found, "card", date.today())
    return render(request, "pages/revisions.html", rows=rows[::-1], **context)


async def _posted(request: Request, rig_id: int) -> tuple[CardForm, TapeView]:
    typed = await typed_form(request)
    found = service.open_card(request.app.state.database, rig_id)
    return CardForm(typed, units_of(typed, "typed_unit_"), kept=found.card), found


def _based_on(form: CardForm) -> int:
    text = form.typed.get("based_on", "")
    return int(text) if text.isdigit() and len(text) < 9 else 0


def _stale_words(database: Any, rig_id: int, card: RigCard, found: TapeView) -> str:
    differ = sentences.changed_fields(service.differences(database, rig_id, card))
    return (
        f"Revision {found.revision.number} was saved meanwhile, in another window, at "
        f"{local_time(found.revision.saved)}. Yours differs in: {differ}. Nothing you typed is lost: "
        f"save again to put it on top of revision {found.revision.number}."
    )


def _page(
    request: Request,
    found: TapeView,
    form: CardForm,
    card: RigCard,
    based_on: int,
    said: str = "",
    status: int = 200,
    fragment: bool = False,
) -> Response:
    units = form.units
    step = next_step(found.card, found.reckoning)
    context = rig_context(found, "card", date.today()) | _reckoned(form, card)
    context |= {
        "units": units,
        "form": form,
        "fields": card_fields.NUMBERS,
        "choices": card_fields.CHOICES,
        "parts": part_rows(form.typed),
        "kinds": KINDS,
        "peep_ways": PEEP_WAYS,
        "unit_choices": CHOICES,
        "quantities": QUANTITIES,
        "based_on": based_on,
        "said": said,
        "refused": status >= 400,
        "now": sentences.now(step, found.card, found.reckoning, units),
        "station_now": step.station,
        "caution": _caution(step.station, step.code),
    }
    name = "fragments/card_form.html" if fragment else "pages/card.html"
    return render(request, name, status, **context)


def _caution(station: str, code: str) -> str:
    """The caution for what is measured now; at the arrow its own, else that of the draw board."""
    return sentences.CAUTION_ARROW if (station, code) == ("card", "arrow") else sentences.CAUTION_DRAW


def _spread_example(card: RigCard, units: Units) -> str:
    """One sd of the archer's spread at the distance of his usual group."""
    spread, at = card.goals.spread_mrad, card.goals.group_at_m
    if spread is None or at is None:
        return ""
    return f"{units.show('offset', 1e-3 * spread * at, 1)} at {sentences.whole_distance(units, at)}"


def _reckoned(form: CardForm, card: RigCard) -> dict[str, Any]:
    """The reckoning column: arrow, speed, peep."""
    units = form.units
    balance, problem = None, ""
    try:
        balance = card.build.balance()
    except InvalidValue as error:
        problem = error.message
    session = card.chronograph
    summary = chronograph.summary(session) if session.kept_mps else None
    drag = card.build.drag_per_m() if balance else None
    at_sight = chronograph.speed_at_sight(session, drag) if summary and drag else None
    height = card.peep.height()
    return {
        "units": units,
        "notes": form.notes,
        "balance": balance,
        "build_problem": problem,
        "arrow": arrow_drawing(card.build, balance),
        "session": session,
        "summary": summary,
        "at_sight": at_sight,
        "drag": drag,
        "strip": speed_strip(session, summary, units),
        "peep": card.peep,
        "peep_height": height,
        "peep_picture": peep_drawing(card.peep, units),
        "spread_mrad": card.goals.spread_mrad,
        "spread_example": _spread_example(card, units),
    }
