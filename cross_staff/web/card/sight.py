"""The sight on this rig, in full: copied from the library and adapted to this bow."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import DRIVES, MOVEMENTS, tool_list
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services.card import save as service
from cross_staff.services.card import sight_library as library
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.card.fields import TEXTS
from cross_staff.web.card.sight_fields import is_tick, read_sight, say_on_this_rig, sight_filled, sight_typing
from cross_staff.web.card.sight_library import sight_context
from cross_staff.web.forms.drafts import Draft, draft_context, draft_of, says_more, settled
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept, wants_fragment
from cross_staff.web.forms.meant import said_in
from cross_staff.web.forms.merge import SEEN, merged, seen_text, units_seen, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.staleness import stale_ahead

router = APIRouter()


@router.get("/rigs/{rig_id}/card/sight")
def sight_page(request: Request, rig_id: int, copy: str = "", saved: int = 0) -> Response:
    """The sight as it is kept, or a copy from the library that is not saved yet. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    units, card, said = Units.of(rig.units), rig.card, "Saved." if saved else ""
    if copy:
        card = library.fitted(card, library.source(database, copy))
        said = f"“{card.sight.name}” is copied here. Adapt it to the sight in your hand, then save."
    draft = draft_of(request, rig_id, "sight")
    if draft is not None and not copy:
        typed_units = units_seen(draft.fields, rig.units)
        if says_more(draft, sight_filled(card.sight, typed_units)):
            typed = sight_typing(draft.fields, typed_units, card.sight)
            typed.seen = draft.fields.get(SEEN, "")
            return _page(request, rig, typed, replace(card, sight=read_sight(typed, card.sight)), draft=draft)
    form = sight_typing(sight_filled(card.sight, units), units, card.sight)
    form.seen = seen_text(sight_filled(rig.card.sight, units), rig.units)
    return _page(request, rig, form, card, said)


@router.get("/rigs/{rig_id}/card/tools")
def tool_page(request: Request, rig_id: int) -> Response:
    """The job's tool list and screw map, to print and lay on the bench. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    sight = rig.card.sight
    context = rig_context(rig, "card", date.today()) | {
        "tools": tool_list(sight),
        "never": [screw.name for screw in sight.screws if screw.never],
        "unchecked": [c.name for c in sight.controls if not c.checked],
        "screws": sight.screws,
        "movements": MOVEMENTS,
        "drives": DRIVES,
    }
    return render(request, "card/tools.html", **context)


@router.post("/rigs/{rig_id}/card/sight")
def save_sight(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Save the sight as the next revision of the card, joined with what was saved meanwhile, or put it into
    the library as well."""
    return settled(request, rig_id, "sight", until_kept(lambda: _save(request, rig_id, typed)))


def _save(request: Request, rig_id: int, typed: dict[str, str]) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    kept, units = rig.card.sight, units_seen(typed, rig.units)
    form = sight_typing(typed, units, kept)
    outdated = based_on(form) not in (0, rig.revision.number)
    form.take(merged(typed, sight_filled(kept, units), units.keys(), is_tick, outdated))
    card = replace(rig.card, sight=read_sight(form, kept))
    say_on_this_rig(form, card)
    why = form.text("why", TEXTS["why"])
    if form.conflicts:
        return _page(request, rig, form, card, waits(form.conflicts), 409)
    if form.errors:
        return _page(request, rig, form, card, status=422)
    service.save(
        database, rig_id, rig.revision.number, card, rig.units, datetime.now(UTC), why, said_in(typed), ask=True
    )
    if form.typed.get("into_library"):
        model = library.add(database, card.sight, datetime.now(UTC))
        return RedirectResponse(f"/sights/{model}?saved=1", 303)
    return RedirectResponse(f"/rigs/{rig_id}/card/sight?saved=1", 303)


@router.post("/rigs/{rig_id}/card/sight/stale")
def ahead(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What saving the sight would make stale; nothing is saved."""
    rig = open_rig(request.app.state.database, rig_id)
    form = sight_typing(typed, units_seen(typed, rig.units), rig.card.sight)
    form.seen = typed.get(SEEN, "")
    card = replace(rig.card, sight=read_sight(form, rig.card.sight))
    if not wants_fragment(request):
        return _page(request, rig, form, card)
    return render(request, "shared/_stale_ahead.html", **stale_ahead(rig.card, card))


def _page(
    request: Request,
    rig: Rig,
    form: FormInput,
    card: RigCard,
    said: str = "",
    status: int = 200,
    draft: Draft | None = None,
) -> Response:
    own = library.library(request.app.state.database)
    sources = [(kind.key, kind.template.name) for kind in KINDS.values()]
    context = rig_context(rig, "card", date.today()) | sight_context(form, card.sight) | stale_ahead(rig.card, card)
    context |= draft_context("sight", draft)
    context |= {
        "action": f"/rigs/{rig.rig_id}/card/sight",
        "based_on": rig.revision.number,
        "changed_at": local_time(rig.revision.saved),
        "said": said,
        "refused": status >= 400,
        "sources": [*((str(kept.model), kept.sight.name) for kept in own), *sources],
    }
    return render(request, "card/sight.html", status, **context)
