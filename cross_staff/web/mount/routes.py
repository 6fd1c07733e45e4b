"""The mount page: the planner with its side view, the steps, what they rest on."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.card.faults import faults
from cross_staff.core.mount import station as mounting
from cross_staff.core.mount.station import DONE, GROUPS, ORDER, SKIPPED, WRONG, goes_on_first
from cross_staff.core.rig.card import Outline, RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.card import save as card_service
from cross_staff.services.card.save import revision
from cross_staff.services.mount import record as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop.changes import written_by
from cross_staff.services.shop.door import acts
from cross_staff.web.forms.drafts import Draft, draft_context, draft_of, says_more, settled
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept, wants_fragment
from cross_staff.web.forms.meant import said_in
from cross_staff.web.forms.merge import SEEN, merged, seen_text, units_seen, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.mount import words
from cross_staff.web.mount.fields import FIELDS, OUT, OUTLINES, mount_texts, mount_values, outline_lists
from cross_staff.web.mount.planner import choices, place_of, planned
from cross_staff.web.shared.log import log_rows
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.staleness import stale_ahead

router = APIRouter()


@router.get("/rigs/{rig_id}/mount")
def mount_page(request: Request, rig_id: int, saved: int = 0) -> Response:
    """Planner and steps. The address carries the place that is looked at. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    draft = draft_of(request, rig_id, "mount")
    if draft is not None and not wants_fragment(request):
        units = units_seen(draft.fields, rig.units)
        if says_more(draft, mount_texts(rig.card, units)):
            typed = FormInput(
                draft.fields, units, mount_values(rig.card), outline_lists(rig.card), seen=draft.fields.get(SEEN, "")
            )
            return _page(request, rig, typed, "", draft=draft)
    form = _fresh(rig)
    said = f"Saved. Revision {rig.revision.number} holds now." if saved else ""
    return _page(request, rig, form, said, fragment=wants_fragment(request))


@router.post("/rigs/{rig_id}/mount")
def save_measures(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep what was measured on the mount, as a revision of the card, joined with what was saved meanwhile."""
    return settled(request, rig_id, "mount", until_kept(lambda: _save(request, rig_id, typed)))


def _save(request: Request, rig_id: int, typed: dict[str, str]) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    units = units_seen(typed, rig.units)
    form = FormInput(typed, units, mount_values(rig.card), outline_lists(rig.card))
    outdated = based_on(form) not in (0, rig.revision.number)
    form.take(merged(typed, mount_texts(rig.card, units), units.keys(), outdated=outdated))
    card = _read(form, rig.card)
    if form.errors:
        return _page(
            request, rig, form, waits(form.conflicts) if form.conflicts else "", 409 if form.conflicts else 422
        )
    number, why, said = rig.revision.number, "measured on the mount", said_in(typed)
    card_service.save(database, rig.rig_id, number, card, rig.units, datetime.now(UTC), why, said, ask=True)
    return RedirectResponse(f"/rigs/{rig.rig_id}/mount?saved=1", 303)


@router.post("/rigs/{rig_id}/mount/stale")
def ahead(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What saving the measures would make stale; nothing is saved."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, units_seen(typed, rig.units), mount_values(rig.card), outline_lists(rig.card))
    return render(request, "shared/_stale_ahead.html", **stale_ahead(rig.card, _read(form, rig.card)))


@router.post("/rigs/{rig_id}/mount/place")
def take_place(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Put the sight at the place that was looked at, as a revision of the card."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    place = place_of(rig.card, form.typed)
    if _moved_since(rig, based_on(form)):
        return _page(request, rig, _fresh(rig), _moved_words(rig), 409)
    why = f"mounted: {words.place(rig.card, place)}"
    service.take_place(database, rig, rig.revision.number, place, why, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/mount?saved=1", 303)


@router.post("/rigs/{rig_id}/mount/step/{key}")
def step(request: Request, rig_id: int, key: str, typed: TypedForm) -> Response:
    """Enter how a step went. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    state = form.choice("state", (DONE, SKIPPED, WRONG))
    note = form.text("note", 200) or (acts() if state == SKIPPED else "")  # who holds the device confirms it
    entry = BenchEntry(mounting.STATION, key, 0, datetime.now(UTC), choice=state, note=note)
    if not form.errors:
        with form.refusals():
            entries.enter(database, rig_id, entry)
    if form.errors:
        return _page(request, rig, replace(_fresh(rig), errors=form.errors, typed=_fresh(rig).typed), "", 422)
    return RedirectResponse(f"/rigs/{rig_id}/mount", 303)


@router.post("/rigs/{rig_id}/mount/{key}/undo")
def undo(request: Request, rig_id: int, key: str) -> Response:
    """Take back the newest entry of a step. Raises NotFound."""
    entry = BenchEntry(mounting.STATION, key, 0, datetime.now(UTC))
    entries.take_back(request.app.state.database, rig_id, entry)
    return RedirectResponse(f"/rigs/{rig_id}/mount", 303)


def _fresh(rig: Rig) -> FormInput:
    units = Units.of(rig.units)
    texts = mount_texts(rig.card, units)
    return FormInput(texts, units, mount_values(rig.card), outline_lists(rig.card), seen=seen_text(texts, rig.units))


def _moved_since(rig: Rig, number: int) -> bool:
    """Whether the sight, or the place it sits at, was changed since the revision that a page showed."""
    seen = revision(rig.history, number)
    now = rig.card
    return seen is None or (seen.card.sight, seen.card.mount) != (now.sight, now.mount)


def _moved_words(rig: Rig) -> str:
    return (
        f"The sight, or its place, was changed meanwhile, in another window, at {local_time(rig.revision.saved)}. "
        "Look at the place again, then take it."
    )


def _sits_in(form: FormInput, name: str, held: int | None, here: int | None, places: tuple[float, ...]) -> int | None:
    """The place that was chosen; as it stands, where there is nothing to choose among, or what is on record is not
    among it (`here`, the place that the sight still names)."""
    if len(places) < 2:
        return held
    chosen = form.choice(name, ("", *(str(index) for index in range(len(places)))))
    return int(chosen) if chosen else held if here is None else None


_OUTLINED = {f"mount.{name}.{part}_mm": f"{name}_{part}" for name in ("quiver", "wheel") for part in ("ahead", "above")}


def _outline(form: FormInput, name: str) -> Outline:
    ahead, above = (
        form.numbers(f"{name}_{part}", "mark", OUTLINES[f"{name}_{part}"].span) for part in ("ahead", "above")
    )
    return Outline(ahead, above, form.number(f"{name}_out", "mark", OUT[f"{name}_out"].span))


def _read(form: FormInput, card: RigCard) -> RigCard:
    top, reserve, ahead, vanes, clearance = (
        form.number(name, spec.quantity, spec.span) for name, spec in FIELDS.items()
    )
    mount = replace(
        card.mount,
        hole=_sits_in(form, "now_hole", card.mount.hole, card.hole, card.sight.holes_mm),
        detent=_sits_in(form, "now_detent", card.mount.detent, card.detent, card.sight.extension_mm),
        pin_at_top_mm=top,
        reserve_mm=reserve,
        ahead_of_grip_m=ahead,
        vanes_mm=vanes,
        clearance_mm=clearance,
        torque=form.text("torque", 200),
        quiver=_outline(form, "quiver"),
        wheel=_outline(form, "wheel"),
    )
    changed = replace(card, mount=mount)
    form.say(faults(changed), {"mount.reserve_mm": "reserve"} | _OUTLINED)
    return changed


def _page(
    request: Request,
    rig: Rig,
    form: FormInput,
    said: str,
    status: int = 200,
    fragment: bool = False,
    draft: Draft | None = None,
) -> Response:
    units, card = Units.of(rig.units), rig.card
    asked = {k: v for k, v in request.query_params.items() if k in ("hole", "detent", "home") and v}
    planner = rig.results.get(("planned", tuple(sorted(asked.items())), units), lambda: planned(rig, asked, units))
    if fragment:
        return render(
            request,
            "mount/_plan.html",
            **rig_context(rig, "mount", date.today()),
            **planner,
            **choices(card),
        )
    opened = [s for s in rig.steps if s.state not in (DONE, SKIPPED)]
    first_on = words.first_on(goes_on_first(card))
    context = (
        rig_context(rig, "mount", date.today())
        | planner
        | choices(card)
        | draft_context("mount", draft)
        | {
            "form": form,
            "changed_at": local_time(rig.revision.saved),
            "labels": {name: spec.label for name, spec in FIELDS.items()},
            "fields": FIELDS,
            "said": said,
            "stale_causes": [],
            "stale_results": "",
            "refused": status >= 400,
            "groups": [(name, [s for s in rig.steps if s.step.group == key]) for key, name in GROUPS.items()],
            "next": opened[0] if opened else None,
            "left": len(opened),
            "caution": (opened[0].step.caution if opened else "") or words.CAUTION_MOUNT,
            "first_on": first_on,
            "order_words": first_on if opened and opened[0].step.key == ORDER else "",
            "outlines_open": any(name in form.errors for name in (*OUTLINES, *OUT)),
            "outlines": OUTLINES,
            "out": OUT,
            "witness": rig.witness,
            "log": log_rows(
                rig.log_of(mounting.STATION), words.logged, written_by(request.app.state.database, rig.rig_id)
            ),
        }
    )
    return render(request, "mount/page.html", status, **context)
