"""The card page: what was typed, what it comes to, the next revision."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.card import PEEP_WAYS, RigCard
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.stations import next_step
from cross_staff.services.card import save as service
from cross_staff.services.card import short
from cross_staff.services.photo_readings import figures_of
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.card import fields
from cross_staff.web.card.arrow_form import part_rows
from cross_staff.web.card.compare import LABELS
from cross_staff.web.card.form import card_typing, converted, filled, read_card, units_kept, units_of
from cross_staff.web.card.results import evaluated
from cross_staff.web.card.short import estimated_form, short_context, with_usual
from cross_staff.web.forms.drafts import Draft, draft_context, draft_of, says_more, settled
from cross_staff.web.forms.form import FormInput, TypedForm, until_kept, wants_fragment, whole
from cross_staff.web.forms.form import based_on as opened_on
from cross_staff.web.forms.meant import said_in
from cross_staff.web.forms.merge import SEEN, merged, seen_by, seen_text, waits
from cross_staff.web.forms.units import CHOICES, QUANTITIES, Units
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.room import now

router = APIRouter()


@router.get("/rigs/{rig_id}/card")
def card_page(request: Request, rig_id: int, saved: int = 0) -> Response:
    """The card as it is kept."""
    rig = open_rig(request.app.state.database, rig_id)
    typed = _off_photo(request, rig) or _drafted(request, rig)
    if typed is not None:
        return _page(request, rig, typed, _typed_card(typed, rig), draft=draft_of(request, rig_id, "card"))
    units = Units.of(rig.units)
    texts = filled(rig.card, units)
    form = replace(card_typing(texts, units, rig.card), seen=seen_text(texts, units.keys()))
    if rig.revision.number == 1:  # nothing was written on it yet
        usual = short.usual(request.app.state.database, rig_id)
        form = replace(form, typed=with_usual(texts, form.notes, usual, units, short.sight_unsaid(rig.revision)))
    said = f"Saved. Revision {rig.revision.number} holds now." if saved else ""
    return _page(request, rig, form, read_card(form, rig.card, date.today()), said)


PHOTO_FIELDS = {
    "peep_height": ("peep_square", "peep_square_sd"),
    "eye_to_sight": ("eye_to_sight", "eye_to_sight_sd"),
    "eye_to_peep": ("eye_to_peep", ""),
}  # fmt: skip


def _off_photo(request: Request, rig: Rig) -> FormInput | None:
    """The form with what was measured on a photo put in, to be saved or not; None where none was asked for."""
    figures = figures_of(rig, request.query_params.get("photo", ""), "peep")
    if not figures:
        return None
    before = _drafted(request, rig)
    units = before.units if before else Units.of(rig.units)
    texts = filled(rig.card, units)
    form = before or replace(card_typing(texts, units, rig.card), seen=seen_text(texts, units.keys()))
    put = {"peep_way": "photo"}
    for name, (field, doubt) in PHOTO_FIELDS.items():
        if name in figures:
            put[field] = units.measured("length", figures[name].value)
            put |= {doubt: units.measured("length", figures[name].sd)} if doubt else {}
    return replace(form, typed=dict(form.typed) | put)


def _drafted(request: Request, rig: Rig) -> FormInput | None:
    """The form as it was typed on this device and is not saved; None where all is saved."""
    draft = draft_of(request, rig.rig_id, "card")
    if draft is None:
        return None
    units, shown = units_of(draft.fields, "typed_unit_", rig.units), _shown(draft.fields, rig.card)
    texts = filled(shown, units)
    if not says_more(draft, texts):
        return None
    boxes = {name: text for name, text in texts.items() if not name.startswith("left_out_")}
    return replace(card_typing(boxes | draft.fields, units, shown), seen=draft.fields.get(SEEN, ""))


@router.post("/rigs/{rig_id}/card")
def save_card(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Save what was typed as the next revision, joined with what was saved meanwhile; a form that is refused,
    or asked about, comes back whole."""
    return settled(request, rig_id, "card", until_kept(lambda: _save(request, rig_id, typed)))


def _save(request: Request, rig_id: int, typed: TypedForm) -> Response:
    form, rig = _joined(request, rig_id, typed)
    card, why = _typed_card(form, rig), form.text("why", fields.TEXTS["why"])
    if not form.typed.get("sight_kind", card.sight.kind):
        form.errors["sight_kind"] = "say which kind it is: every later step goes by it"
    if form.conflicts:
        return _page(request, rig, form, card, waits(form.conflicts), 409)
    if form.errors:
        said = "Not saved yet: " + ("one field needs" if len(form.errors) == 1 else f"{len(form.errors)} fields need")
        return _page(request, rig, form, card, f"{said} another look. What you typed is still here.", 422)
    database, number, units = request.app.state.database, rig.revision.number, units_kept(typed, rig.units)
    service.save(database, rig_id, number, card, units, datetime.now(UTC), why, said_in(typed), ask=True)
    return RedirectResponse(f"/rigs/{rig_id}/card?saved=1", 303)


@router.post("/rigs/{rig_id}/card/reckoning")
def evaluation(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What the card comes to as it is typed; nothing is saved."""
    rig = open_rig(request.app.state.database, rig_id)
    shown, units = _shown(typed, rig.card), units_of(typed, "typed_unit_", rig.units)
    form = card_typing(filled(shown, units) | typed, units, shown)
    form.seen = typed.get(SEEN, "")
    card = _typed_card(form, rig)
    if not wants_fragment(request):
        return _page(request, rig, form, card, "Nothing is saved yet.")
    return render(request, "card/_results.html", **evaluated(form, card, rig.card))


@router.post("/rigs/{rig_id}/card/estimate")
def estimate(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The form as it was typed, with the usual value in a field that nobody measured; nothing is saved."""
    rig = open_rig(request.app.state.database, rig_id)
    shown, units = _shown(typed, rig.card), units_of(typed, "typed_unit_", rig.units)
    form = card_typing(filled(shown, units) | typed, units, shown)
    told = card_typing(estimated_form(form, _typed_card(form, rig), typed.get("estimate", "")), units, shown)
    told.seen = typed.get(SEEN, "")
    said = "Put in place of a measurement, and marked so. Nothing is saved yet."
    return _page(request, rig, told, _typed_card(told, rig), said, fragment=wants_fragment(request))


@router.post("/rigs/{rig_id}/card/units")
def change_units(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The same form in other units, with all that was typed; nothing is saved."""
    rig = open_rig(request.app.state.database, rig_id)
    shown, old = _shown(typed, rig.card), units_of(typed, "typed_unit_", rig.units)
    new = units_of(typed, "unit_", rig.units)
    fresh = card_typing(converted(filled(shown, old) | typed, old, new, shown), new, shown)
    seen = seen_by(typed)
    if seen is not None:
        fresh.seen = replace(seen, fields=converted(seen.fields, old, new, shown)).text()
    card, said = _typed_card(fresh, rig), "Shown in other units; save to keep them so."
    return _page(request, rig, fresh, card, said, fragment=wants_fragment(request))


def _joined(request: Request, rig_id: int, typed: TypedForm) -> tuple[FormInput, Rig]:
    """The form, joined with what holds by now, and the rig. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units, shown = units_of(typed, "typed_unit_", rig.units), _shown(typed, rig.card)
    form = card_typing(typed, units, shown)
    opened, seen = opened_on(form), seen_by(typed)
    outdated = opened not in (0, rig.revision.number)
    form.take(merged(typed, filled(shown, units), seen.units if seen else None, outdated=outdated))
    return form, rig


def _shown(typed: Mapping[str, str], card: RigCard) -> RigCard:
    """The card with the build that the form shows in use: another may be by now."""
    index = whole(typed.get("shown_build", ""))
    return replace(card, in_use=index) if index is not None and index < len(card.builds) else card


def _typed_card(form: FormInput, rig: Rig) -> RigCard:
    """The card that was typed, with the build in use that is kept."""
    card = read_card(form, _shown(form.typed, rig.card), date.today())
    return replace(card, in_use=rig.card.in_use)


def _page(
    request: Request,
    rig: Rig,
    form: FormInput,
    card: RigCard,
    said: str = "",
    status: int = 200,
    fragment: bool = False,
    draft: Draft | None = None,
) -> Response:
    units = form.units
    step = next_step(rig.state)
    context = rig_context(rig, "card", date.today()) | evaluated(form, card, rig.card)
    context |= short_context(form, card, short.sight_unsaid(rig.revision), filled(_shown(form.typed, rig.card), units))
    context |= {
        **draft_context("card", draft),
        "units": units,
        "form": form,
        "override": rig.checklist.override.note if rig.checklist.override else "",
        "shown_build": form.typed.get("shown_build", str(rig.card.in_use)),
        "fields": fields.NUMBERS,
        "choices": fields.CHOICES,
        "seat_fields": fields.NUMBERS,
        "seat_lists": fields.LISTS,
        "seat_choices": fields.CHOICES,
        "parts": part_rows(form.typed),
        "part_names": fields.COMPONENT_NAMES,
        "kinds": KINDS,
        "peep_ways": PEEP_WAYS,
        "unit_choices": CHOICES,
        "quantities": QUANTITIES,
        "lists": fields.LISTS,
        "based_on": rig.revision.number,
        "changed_at": local_time(rig.revision.saved),
        "labels": LABELS,
        "said": said,
        "refused": status >= 400,
        "now": now(step, units),
        "station_now": step.station,
        "caution": _caution(step.station, step.code),
    }
    name = "card/_form.html" if fragment else "card/page.html"
    return render(request, name, status, **context)


def _caution(station: str, code: str) -> str:
    """The caution for what is measured now; at the arrow its own, else that of the draw board."""
    return sentences.CAUTION_ARROW if (station, code) == ("card", "arrow") else sentences.CAUTION_DRAW
