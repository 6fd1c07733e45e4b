"""The library of sight models: the list, one model's form, copies."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.sight import SightModel, tool_list
from cross_staff.core.rig.sight_kinds import KINDS, kind_of
from cross_staff.services.card import sight_library as service
from cross_staff.web.card import fields, sight_fields
from cross_staff.web.card.sight_fields import is_tick, read_sight, sight_filled, sight_typing
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept
from cross_staff.web.forms.merge import merged, seen_text, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.render import render

router = APIRouter()


@router.get("/sights")
def library(request: Request, removed: int = 0) -> Response:
    """The shop's sight models, and the generic ones to start from."""
    own = service.library(request.app.state.database)
    templates = [(kind.key, kind.template) for kind in KINDS.values()]
    return render(request, "card/sight_library.html", own=own, templates=templates, kinds=KINDS, removed=removed)


@router.get("/sights/new")
def new_model(request: Request, copy: str = "single_pin_slider") -> Response:
    """A copy of a template or of another model, not kept yet. Raises NotFound."""
    sight = service.source(request.app.state.database, copy)
    form = sight_typing(sight_filled(sight, Units()), Units(), sight)
    return _page(request, form, sight, "/sights", 0)


@router.post("/sights")
def add_model(request: Request, typed: TypedForm) -> Response:
    """Keep a new model."""
    form = sight_typing(typed, Units(), SightModel())
    sight = read_sight(form, SightModel())
    if form.errors:
        return _page(request, form, sight, "/sights", 0, status=422)
    model = service.add(request.app.state.database, sight, datetime.now(UTC))
    return RedirectResponse(f"/sights/{model}?saved=1", 303)


@router.get("/sights/{model}")
def model_page(request: Request, model: int, saved: int = 0) -> Response:
    """One of the shop's models. Raises NotFound."""
    kept = service.find(request.app.state.database, model)
    texts = sight_filled(kept.sight, Units())
    form = replace(sight_typing(texts, Units(), kept.sight), seen=seen_text(texts))
    said = "Kept." if saved else ""
    return _page(request, form, kept.sight, f"/sights/{model}", kept.number, said, removed=kept.removed)


@router.post("/sights/{model}")
def change_model(request: Request, model: int, typed: TypedForm) -> Response:
    """Keep a model as it was changed, joined with what was changed meanwhile; cards that were copied from it
    keep theirs. Raises NotFound."""
    return until_kept(lambda: _save(request, model, typed))


def _save(request: Request, model: int, typed: dict[str, str]) -> Response:
    database, address = request.app.state.database, f"/sights/{model}"
    kept = service.find(database, model)
    form = sight_typing(typed, Units(), kept.sight)
    outdated = based_on(form) not in (0, kept.number)
    form.take(merged(typed, sight_filled(kept.sight, Units()), ticks=is_tick, outdated=outdated))
    sight = read_sight(form, kept.sight)
    if form.conflicts:
        return _page(request, form, sight, address, kept.number, waits(form.conflicts), 409, kept.removed)
    if form.errors:
        return _page(request, form, sight, address, kept.number, status=422, removed=kept.removed)
    service.change(database, model, kept.number, sight, datetime.now(UTC))
    return RedirectResponse(f"/sights/{model}?saved=1", 303)


@router.post("/sights/{model}/remove")
def remove_model(request: Request, model: int) -> Response:
    """Take a model out of the list; it can be put back."""
    service.remove(request.app.state.database, model, datetime.now(UTC))
    return RedirectResponse(f"/sights?removed={model}", 303)


@router.post("/sights/{model}/restore")
def restore_model(request: Request, model: int) -> Response:
    """Put a model back into the list."""
    service.remove(request.app.state.database, model, datetime.now(UTC), back=True)
    return RedirectResponse("/sights", 303)


def _page(
    request: Request,
    form: FormInput,
    sight: SightModel,
    action: str,
    number: int,
    said: str = "",
    status: int = 200,
    removed: bool = False,
) -> Response:
    context = sight_context(form, sight) | {
        "action": action,
        "based_on": number,
        "said": said,
        "refused": status >= 400,
        "removed": removed,
    }
    return render(request, "card/model.html", status, **context)


def sight_context(form: FormInput, sight: SightModel) -> dict[str, Any]:
    """What the form of a sight needs, wherever it stands."""
    return {
        "form": form,
        "sight": sight,
        "fields": sight_fields.NUMBERS,
        "lists": sight_fields.LISTS,
        "choices": sight_fields.choices(),
        "labels": sight_fields.LABELS,
        "texts": sight_fields.TEXTS,
        "seat_fields": fields.NUMBERS,
        "seat_lists": fields.LISTS,
        "seat_choices": fields.CHOICES,
        "tables": sight_fields.TABLES,
        "kind": kind_of(sight),
        "tools": tool_list(sight),
        "never": [screw.name for screw in sight.screws if screw.never],
        "unchecked": [c.name for c in sight.controls if not c.checked],
    }
