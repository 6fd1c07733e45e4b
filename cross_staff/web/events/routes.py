"""What was done to the bow: said here for every station, with what each thing makes old before it is saved."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.card import waiting
from cross_staff.core.rig.events import CAUSES, GROUPS, REPORTED, Cause, keeps_spans
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.staleness import Event
from cross_staff.core.stations import STATIONS
from cross_staff.services import events as service
from cross_staff.services import log as entries
from cross_staff.services.measured import told
from cross_staff.services.rig import Rig, open_rig, proof_ahead, set_aside_by
from cross_staff.web.card.words import RESULTS
from cross_staff.web.events import words
from cross_staff.web.forms.form import FormInput, TypedForm, wants_fragment, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.set_aside import (
    all_counted,
    aside_lines,
    event_words,
    proof_seen,
    reproof_context,
    reproof_words,
)

router = APIRouter()
FIELDS = (
    "why",
    "number",
    "station",
    "moved_back",
    "waits_for",
    "until",
    "came",
    *(f"did_{key}" for key in CAUSES),
    *(f"result_{key}" for key in RESULTS),
)
_SAID = {
    "recorded": "Recorded. What it makes old is set aside, and nothing is lost.",
    "undone": "Taken back: what it had set aside holds again.",
    "taken_up": "Taken up again.",
    "restored": "The card stands as it did.",
}


@router.get("/rigs/{rig_id}/events")
def events_page(request: Request, rig_id: int, said: str = "", did: str = "") -> Response:
    """Everything that happened to a rig, and the form for one thing more. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    typed = {f"did_{did}": "1"} if did in CAUSES else {}
    return _page(request, rig, FormInput(typed, Units.of(rig.units)), _SAID.get(said, ""))


@router.post("/rigs/{rig_id}/events")
def record(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Record what was done. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    why = form.text("why")
    if not form.errors:
        with form.refusals({"happened": "did"}):
            keys = [cause.key for cause in _ticked(typed)]
            service.happened(request.app.state.database, rig_id, keys, why, datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, "", 422)
    return RedirectResponse(f"/rigs/{rig_id}/events?said=recorded", 303)


@router.post("/rigs/{rig_id}/events/ahead")
def ahead(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What the things that are ticked would make old; nothing is saved. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    if not wants_fragment(request):
        return _page(request, rig, form)
    return render(request, "events/_ahead.html", **_ahead(rig, form))


@router.post("/rigs/{rig_id}/events/{number}/undo")
def undo(request: Request, rig_id: int, number: int, typed: TypedForm) -> Response:
    """Say that something did not happen after all. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    why = form.text("why") or "it did not happen"
    with form.refusals({"reason": "why"}):
        service.undo(request.app.state.database, rig_id, number, why, datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, "", 422)
    return RedirectResponse(f"/rigs/{rig_id}/events?said=undone", 303)


@router.post("/rigs/{rig_id}/events/take-up")
def take_up(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Say that results still hold, and why. Raises NotFound where nothing of the kind is set aside."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    results = [result for result in RESULTS if typed.get(f"result_{result}")]
    why = form.text("why")
    if not results:
        form.errors["results"] = "say what still holds"
    else:
        with form.refusals({"reason": "why"}):
            service.take_up(request.app.state.database, rig_id, results, why, datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, "Not taken up yet: write why, in a few words.", 422)
    station = typed.get("station", "")
    back = station if station in {each.key for each in STATIONS} else "events"
    return RedirectResponse(f"/rigs/{rig_id}/{back}{'?said=taken_up' if back == 'events' else ''}", 303)


@router.post("/rigs/{rig_id}/events/proved")
def proved(request: Request, rig_id: int) -> Response:
    """Take up everything that the smallest re-proof has proved. Raises NotFound where it has not."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    seen = proof_seen(rig.state.reproof, Units.of(rig.units)) if rig.state.reproof else []
    service.take_up_proved(database, rig, "proved by " + "; ".join(seen), datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/events?said=taken_up", 303)


@router.post("/rigs/{rig_id}/events/restore")
def restore(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The card as it stood at an earlier revision. Raises NotFound."""
    number = whole(typed.get("number", "")) or 0
    service.restore(request.app.state.database, rig_id, number, datetime.now(UTC), bool(typed.get("moved_back")))
    return RedirectResponse(f"/rigs/{rig_id}/card?saved=1", 303)


@router.post("/rigs/{rig_id}/events/waiting")
def wait(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Say what the rig waits for, or that it came. Raises NotFound."""
    database, now = request.app.state.database, datetime.now(UTC)
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    entry = BenchEntry(waiting.STATION, waiting.KEY, 0, now, choice=typed.get("until", ""), note=form.text("waits_for"))
    if typed.get("came"):
        entries.take_back(database, rig_id, entry)
    elif not form.errors:
        with form.refusals():
            entries.enter(database, rig_id, entry)
    if form.errors:
        return _page(request, rig, form, "Not kept yet.", 422)
    return RedirectResponse(f"/rigs/{rig_id}/events", 303)


def _ticked(typed: dict[str, str]) -> list[Cause]:
    return [cause for cause in REPORTED if typed.get(f"did_{cause.key}")]


def _ahead(rig: Rig, form: FormInput) -> dict[str, Any]:
    causes = _ticked(dict(form.typed))
    lost = set_aside_by(rig, causes)
    proof = proof_ahead(rig, causes) if lost else None
    return {
        "causes": [cause.words for cause in causes],
        "reasons": words.reasons(causes),
        "sets_aside": all_counted(lost),
        "proof": reproof_words(proof, form.units),
        "spans": any(cause.only_home for cause in causes) and keeps_spans(causes),
    }


def _page(request: Request, rig: Rig, form: FormInput, said: str = "", status: int = 200) -> Response:
    units = form.units
    context = rig_context(rig, "card", date.today()) | _ahead(rig, form)
    saved = {each.number: each.saved for each in rig.history}
    context |= {
        "form": form,
        "aside": [],
        "said": said,
        "refused": status >= 400,
        "groups": [
            (words_of, [cause for cause in REPORTED if cause.group == group]) for group, words_of in GROUPS.items()
        ],
        "aside_everywhere": aside_lines(rig),
        "reproof": reproof_context(rig, units),
        "events": [_row(each, saved) for each in reversed(told(rig.measured))],
    }
    return render(request, "events/page.html", status, **context)


def _row(event: Event, saved: dict[int, datetime]) -> dict[str, Any]:
    old = ", ".join(RESULTS[result] for result in event.results)
    return {
        "number": event.number,
        "when": local_time(saved[event.number]),
        "words": event_words(event),
        "old": old or ("did not happen" if event.undone else "nothing any more"),
        "undone": event.undone,
    }
