"""The card page: what was typed, what it comes to, the next revision."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import StaleRevision
from cross_staff.core.rig import PEEP_WAYS, RigCard
from cross_staff.core.sights import KINDS
from cross_staff.core.stale import REPORTED
from cross_staff.core.stations import next_step
from cross_staff.services import card as service
from cross_staff.services.rig import RigView, open_rig
from cross_staff.web import card_fields, card_words, sentences
from cross_staff.web.arrow_form import part_rows
from cross_staff.web.card_form import card_typing, converted, filled, read_card, units_of
from cross_staff.web.card_reckoned import reckoned
from cross_staff.web.forms import TypedForm, Typing, wants_fragment, whole
from cross_staff.web.forms import based_on as opened_on
from cross_staff.web.render import local_time, render, rig_context
from cross_staff.web.units import CHOICES, QUANTITIES, Units

router = APIRouter()


@router.get("/rigs/{rig_id}/card")
def card_page(request: Request, rig_id: int, saved: int = 0) -> Response:
    """The card as it is kept."""
    found = open_rig(request.app.state.database, rig_id)
    units = Units.of(found.units)
    form = card_typing(filled(found.card, units), units, found.card)
    said = f"Saved. Revision {found.revision.number} holds now." if saved else ""
    return _page(request, found, form, read_card(form, found.card, date.today()), found.revision.number, said)


@router.post("/rigs/{rig_id}/card")
def save_card(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Save what was typed as the next revision; a form that is refused comes back whole."""
    database = request.app.state.database
    form, found = _posted(request, rig_id, typed)
    card, based_on = _typed_card(form, found), opened_on(form)
    why = form.text("why", card_fields.TEXTS["why"])
    if form.errors:
        said = "Not saved yet: " + ("one field needs" if len(form.errors) == 1 else f"{len(form.errors)} fields need")
        return _page(request, found, form, card, based_on, f"{said} another look. What you typed is still here.", 422)
    try:
        happened = happened_in(form)
        service.save(database, rig_id, based_on, card, form.units.keys(), datetime.now(UTC), why, happened)
    except StaleRevision:
        said = stale_words(database, rig_id, card, found)
        return _page(request, found, form, card, found.revision.number, said, 409)
    return RedirectResponse(f"/rigs/{rig_id}/card?saved=1", 303)


@router.post("/rigs/{rig_id}/card/reckoning")
def reckoning(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What the card comes to as it is typed; nothing is saved."""
    form, found = _posted(request, rig_id, typed)
    card = _typed_card(form, found)
    if not wants_fragment(request):
        return _page(request, found, form, card, opened_on(form), "Nothing is saved yet.")
    return render(request, "fragments/card_reckoning.html", **reckoned(form, card, found.card, happened_in(form)))


@router.post("/rigs/{rig_id}/card/units")
def change_units(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The same form in other units, with all that was typed; nothing is saved."""
    form, found = _posted(request, rig_id, typed)
    new = units_of(form.typed, "unit_")
    typed = converted(form.typed, form.units, new, _shown(form.typed, found.card))
    fresh = card_typing(typed, new, _shown(typed, found.card))
    card = _typed_card(fresh, found)
    said = "Shown in other units; save to keep them so."
    return _page(request, found, fresh, card, opened_on(form), said, fragment=wants_fragment(request))


def _posted(request: Request, rig_id: int, typed: TypedForm) -> tuple[Typing, RigView]:
    found = open_rig(request.app.state.database, rig_id)
    return card_typing(typed, units_of(typed, "typed_unit_"), _shown(typed, found.card)), found


def _shown(typed: Mapping[str, str], card: RigCard) -> RigCard:
    """The card with the build that the form shows in use: another may be by now."""
    index = whole(typed.get("shown_build", ""))
    return replace(card, in_use=index) if index is not None and index < len(card.builds) else card


def _typed_card(form: Typing, found: RigView) -> RigCard:
    """The card that was typed, with the build in use that is kept."""
    card = read_card(form, _shown(form.typed, found.card), date.today())
    return replace(card, in_use=found.card.in_use)


def happened_in(form: Typing) -> tuple[str, ...]:
    """What the technician says was done to the bow, keys of stale.CAUSES."""
    return tuple(cause.key for cause in REPORTED if form.typed.get(f"happened_{cause.key}"))


def stale_words(database: Any, rig_id: int, card: RigCard, found: RigView) -> str:
    differ = card_words.changed_fields(service.differences(database, rig_id, card))
    return (
        f"Revision {found.revision.number} was saved meanwhile, in another window, at "
        f"{local_time(found.revision.saved)}. Yours differs in: {differ}. Nothing you typed is lost: "
        f"save again to put it on top of revision {found.revision.number}."
    )


def _page(
    request: Request,
    found: RigView,
    form: Typing,
    card: RigCard,
    based_on: int,
    said: str = "",
    status: int = 200,
    fragment: bool = False,
) -> Response:
    units = form.units
    step = next_step(found.state)
    context = rig_context(found, "card", date.today()) | reckoned(form, card, found.card, happened_in(form))
    context |= {
        "units": units,
        "form": form,
        "override": found.sheet.override.note if found.sheet.override else "",
        "shown_build": form.typed.get("shown_build", str(found.card.in_use)),
        "fields": card_fields.NUMBERS,
        "choices": card_fields.CHOICES,
        "seat_fields": card_fields.NUMBERS,
        "seat_lists": card_fields.LISTS,
        "seat_choices": card_fields.CHOICES,
        "parts": part_rows(form.typed),
        "part_names": card_fields.COMPONENT_NAMES,
        "happened_any": bool(happened_in(form)),
        "kinds": KINDS,
        "peep_ways": PEEP_WAYS,
        "unit_choices": CHOICES,
        "quantities": QUANTITIES,
        "lists": card_fields.LISTS,
        "happenings": [(f"happened_{cause.key}", cause.words) for cause in REPORTED],
        "based_on": based_on,
        "said": said,
        "refused": status >= 400,
        "now": sentences.now(step, units),
        "station_now": step.station,
        "caution": _caution(step.station, step.code),
    }
    name = "fragments/card_form.html" if fragment else "pages/card.html"
    return render(request, name, status, **context)


def _caution(station: str, code: str) -> str:
    """The caution for what is measured now; at the arrow its own, else that of the draw board."""
    return sentences.CAUTION_ARROW if (station, code) == ("card", "arrow") else sentences.CAUTION_DRAW
