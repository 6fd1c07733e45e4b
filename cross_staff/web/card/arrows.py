"""The arrow builds of a bow: side by side, one to work on, another one in use."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.card.compare_builds import ComparedBuilds, compare
from cross_staff.core.card.faults import faults
from cross_staff.core.errors import NotFound, StaleRevision
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import RigCard
from cross_staff.services.card import save as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.card import fields
from cross_staff.web.card.arrow_form import build_fields, build_lists, build_texts, build_values, part_rows, read_build
from cross_staff.web.card.compare import LABELS
from cross_staff.web.card.fields import TEXTS
from cross_staff.web.card.results import arrow_evaluated
from cross_staff.web.forms.drafts import Draft, draft_context, draft_of, says_more, settled
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept, wants_fragment
from cross_staff.web.forms.meant import said_in
from cross_staff.web.forms.merge import SEEN, merged, seen_text, units_seen, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import reach_words
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.staleness import stale_ahead

router = APIRouter()
MOST_BUILDS = 12


@router.get("/rigs/{rig_id}/card/arrows")
def arrows_page(request: Request, rig_id: int, said: str = "") -> Response:
    """Every build side by side, and those that were taken out. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    context = rig_context(rig, "card", date.today()) | {
        "rows": rig.results.get(("builds", units), lambda: [_row(rig.card, b, units) for b in _compared(rig)]),
        "gone": _gone(rig),
        "farthest": rig.card.goals.farthest_m is not None,
        "said": _SAID.get(said, ""),
        "full": len(rig.card.builds) >= MOST_BUILDS,
    }
    return render(request, "card/arrows.html", **context)


def _compared(rig: Rig) -> tuple[ComparedBuilds, ...]:
    """Every build, the one in use as its marks have it."""
    return compare(rig.card, rig.setting, rig.evaluation.fit.figures if rig.evaluation.fit else None)


_SAID = {
    "use": "Another build is in use: the tape is the one of its own marks.",
    "stale": "The card was saved meanwhile, in another window. Nothing is lost: look again, then do it.",
    "out": "Taken out. It can be put back below.",
}


@router.get("/rigs/{rig_id}/card/arrows/{index}")
def arrow_page(request: Request, rig_id: int, index: int) -> Response:
    """One build with its sessions. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    build, units = _build(rig.card, index), Units.of(rig.units)
    draft = draft_of(request, rig_id, f"arrow-{index}")
    if draft is not None:
        typed_units = units_seen(draft.fields, rig.units)
        if says_more(draft, _filled(build, typed_units)):
            typed = replace(_typing(draft.fields, typed_units, build), seen=draft.fields.get(SEEN, ""))
            card = _with(rig.card, index, read_build(typed, build, rig.card.bow.draw_weight_n, date.today()))
            return _page(request, rig, index, typed, card, draft=draft)
    texts = _filled(build, units)
    form = replace(_typing(texts, units, build), seen=seen_text(texts, rig.units))
    return _page(request, rig, index, form, rig.card)


@router.post("/rigs/{rig_id}/card/arrows/{index}")
def save_arrow(request: Request, rig_id: int, index: int, typed: TypedForm) -> Response:
    """Save one build as a revision of the card, joined with what was saved meanwhile. Raises NotFound."""
    answer = until_kept(lambda: _save(request, rig_id, index, typed))
    return settled(request, rig_id, f"arrow-{index}", answer)


def _save(request: Request, rig_id: int, index: int, typed: dict[str, str]) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    kept, units = _build(rig.card, index), units_seen(typed, rig.units)
    form = _typing(typed, units, kept)
    outdated = based_on(form) not in (0, rig.revision.number)
    form.take(merged(typed, _filled(kept, units), units.keys(), outdated=outdated))
    card = _with(rig.card, index, read_build(form, kept, rig.card.bow.draw_weight_n, date.today()))
    form.say(faults(card), build_fields(index))
    why = form.text("why", TEXTS["why"])
    if form.errors:
        return _page(request, rig, index, form, card, 409 if form.conflicts else 422)
    number, now = rig.revision.number, datetime.now(UTC)
    service.save(database, rig_id, number, card, rig.units, now, why, said_in(typed), ask=True)
    return RedirectResponse(f"/rigs/{rig_id}/card/arrows", 303)


def _filled(build: ArrowBuild, units: Units) -> dict[str, str]:
    """A build as text, field by field."""
    numbers = {name: units.plain(_quantity(name), value) for name, value in build_values(build).items()}
    return build_texts(build, units) | numbers


@router.post("/rigs/{rig_id}/card/arrows/{index}/reckoning")
def evaluation(request: Request, rig_id: int, index: int, typed: TypedForm) -> Response:
    """What a build comes to as it is typed; nothing is saved. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    kept = _build(rig.card, index)
    form = _typing(typed, units_seen(typed, rig.units), kept)
    form.seen = typed.get(SEEN, "")
    card = _with(rig.card, index, read_build(form, kept, rig.card.bow.draw_weight_n, date.today()))
    form.say(faults(card), build_fields(index))
    if not wants_fragment(request):
        return _page(request, rig, index, form, card)
    context = arrow_evaluated(replace(card, in_use=index), form.units) | stale_ahead(rig.card, card)
    return render(request, "card/_one_arrow.html", units=form.units, **context)


@router.post("/rigs/{rig_id}/card/arrows/{index}/{act}")
def change(request: Request, rig_id: int, index: int, act: str, typed: TypedForm) -> Response:
    """Use a build, copy it, or take it out: a revision of the card each. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    build = _build(rig.card, index)
    form = FormInput(typed, Units.of(rig.units))
    made = _changed(rig.card, index, build, act)
    if made is None:
        raise NotFound("nothing of the kind can be done with this build")
    card, why = made
    try:
        service.save(database, rig_id, based_on(form), card, rig.units, datetime.now(UTC), why)
    except StaleRevision:
        return RedirectResponse(f"/rigs/{rig_id}/card/arrows?said=stale", 303)
    if act == "copy":
        return RedirectResponse(f"/rigs/{rig_id}/card/arrows/{len(card.builds) - 1}", 303)
    return RedirectResponse(f"/rigs/{rig_id}/card/arrows?said={act}", 303)


def _changed(card: RigCard, index: int, build: ArrowBuild, act: str) -> tuple[RigCard, str] | None:
    name = build.name or f"build {index + 1}"
    if act == "use" and index != card.in_use:
        return replace(card, in_use=index), f"{name} is in use"
    if act == "copy" and len(card.builds) < MOST_BUILDS:
        new = replace(build, name=f"{name}, copy", sessions=(), measured_mass_kg=None)
        return replace(card, builds=(*card.builds, new)), f"copied from {name}"
    if act == "out" and index != card.in_use:
        left = tuple(b for i, b in enumerate(card.builds) if i != index)
        return replace(card, builds=left, in_use=card.in_use - (index < card.in_use)), f"{name} taken out"
    return None


@router.post("/rigs/{rig_id}/card/arrows-back/{revision}/{index}")
def put_back(request: Request, rig_id: int, revision: int, index: int, typed: TypedForm) -> Response:
    """Put a build back as it stood at an earlier revision. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    old = service.revision(rig.history, revision)
    build = _build(old.card, index) if old else None
    if build is None or len(rig.card.builds) >= MOST_BUILDS:
        raise NotFound("there is no such build to put back")
    form = FormInput(typed, Units.of(rig.units))
    card = replace(rig.card, builds=(*rig.card.builds, build))
    try:
        service.save(database, rig_id, based_on(form), card, rig.units, datetime.now(UTC), f"{build.name} put back")
    except StaleRevision:
        return RedirectResponse(f"/rigs/{rig_id}/card/arrows?said=stale", 303)
    return RedirectResponse(f"/rigs/{rig_id}/card/arrows", 303)


def _gone(rig: Rig) -> list[dict[str, Any]]:
    """Builds of earlier revisions whose name no build has now, newest first."""
    names = {build.name for build in rig.card.builds}
    gone: dict[str, dict[str, Any]] = {}
    for kept in reversed(rig.history):
        for index, build in enumerate(kept.card.builds):
            if build.name and build.name not in names and build.shaft_length_m is not None:
                gone.setdefault(build.name, {"name": build.name, "revision": kept.number, "index": index})
    return list(gone.values())


def _build(card: RigCard, index: int) -> ArrowBuild:
    if not 0 <= index < len(card.builds):
        raise NotFound("this rig has no such arrow build")
    return card.builds[index]


def _with(card: RigCard, index: int, build: ArrowBuild) -> RigCard:
    return replace(replace(card, in_use=index).with_build(build), in_use=card.in_use)


def _typing(typed: dict[str, str], units: Units, kept: ArrowBuild) -> FormInput:
    return FormInput(typed, units, build_values(kept), build_lists(kept))


def _quantity(name: str) -> str:
    if name in fields.NUMBERS:
        return fields.NUMBERS[name].quantity
    return "mass" if name.startswith("part_mass_") else "length"


def _row(card: RigCard, builds: ComparedBuilds, units: Units) -> dict[str, Any]:
    speed, ratio, foc = builds.speed, builds.mass_per_force, builds.foc_percent
    return {
        "index": builds.index,
        "name": builds.name or f"build {builds.index + 1}",
        "in_use": builds.index == card.in_use,
        "mass": units.show("mass", builds.mass_kg, 0 if units.mass == "gr" else 1),
        "foc": "not known" if foc is None else f"{foc:.1f} %",
        "ratio": "not known" if ratio is None else units.show("mass_per_force", ratio, 1),
        "light": ratio is not None and (card.bow.least_mass_per_force or 0.0) > ratio,
        "speed": _speed(builds, units) if speed else "not known",
        "reach": reach_words.reach(builds.reach, units),
        "misjudged": [
            (
                sentences.whole_distance(units, d),
                "out of reach" if up is None else f"{sentences.on_target(units, up)} high",
            )
            for d, up in builds.misjudged
        ],
        "stale": stale_ahead(card, replace(card, in_use=builds.index))["stale_results"],
        "spine": card.builds[builds.index].spine or "not noted",
    }


def _speed(builds: ComparedBuilds, units: Units) -> str:
    assert builds.speed is not None
    shown = units.show("speed", builds.speed.speed_mps, 1)
    wide = sentences.plus_minus(units, "speed", builds.speed.sd_mps)
    how = "" if builds.measured else ", expected of the bow" if builds.expected else ", predicted"
    return f"{shown} {wide}{how}"


def _page(
    request: Request,
    rig: Rig,
    index: int,
    form: FormInput,
    card: RigCard,
    status: int = 200,
    draft: Draft | None = None,
) -> Response:
    context = rig_context(rig, "card", date.today()) | draft_context(f"arrow-{index}", draft)
    context |= arrow_evaluated(replace(card, in_use=index), form.units)
    context |= stale_ahead(rig.card, card)
    said = {
        409: waits(form.conflicts),
        422: "Not saved yet. What you typed is still here.",
    }
    context |= {
        "form": form,
        "index": index,
        "fields": fields.NUMBERS,
        "choices": fields.CHOICES,
        "parts": part_rows(form.typed),
        "part_names": fields.COMPONENT_NAMES,
        "based_on": rig.revision.number,
        "changed_at": local_time(rig.revision.saved),
        "labels": LABELS,
        "build_name": card.builds[index].name or f"build {index + 1}",
        "in_use": index == rig.card.in_use,
        "said": said.get(status, ""),
        "refused": status >= 400,
    }
    return render(request, "card/arrow.html", status, **context)
