"""After a knock: which joint moved, by a few arrows and the witness marks."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.prove.station import MARK
from cross_staff.core.prove.triage import JOINTS, JointChance
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.prove import sides
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import side_words, words
from cross_staff.web.prove.routes import QUICK_ARROWS, fields_of, line_to, stakes_of, ways_between
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.set_aside import reproof_words

router = APIRouter()


@router.get("/rigs/{rig_id}/prove/knocked")
def knocked_page(request: Request, rig_id: int) -> Response:
    """What moved, as far as lines and marks tell. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return _page(request, rig, FormInput(fields_of(rig, None), Units.of(rig.units)))


@router.post("/rigs/{rig_id}/prove/knocked")
def save_marks(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep what the witness marks showed. Raises NotFound; a word that is not in the list."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    seen = sides.triage_of(rig).seen
    for joint in JOINTS:
        said = typed.get(f"mark_{joint.key}", "")
        if said not in {key for key, _ in side_words.SEEN}:
            raise NotFound("there is no such answer")
        if said != seen[joint.key]:
            entry = BenchEntry("prove", f"{MARK}{joint.key}", 0, datetime.now(UTC), choice=said)
            entries.enter(database, rig_id, entry)
    return RedirectResponse(f"/rigs/{rig_id}/prove/knocked", 303)


def _page(request: Request, rig: Rig, form: FormInput) -> Response:
    units, page = Units.of(rig.units), sides.triage_of(rig)
    witnessed = {mark.joint for mark in rig.witness}
    context = rig_context(rig, "prove", date.today()) | ways_between("/knocked")
    context |= {
        "form": form,
        "opened": False,
        "stakes": stakes_of(rig, units),
        "quick_arrows": QUICK_ARROWS,
        **line_to(rig.rig_id),
        "dialled": rig.card.sight_kind.dialled,
        "back": "/knocked",
        "since": local_time(page.since) if page.since else "",
        "lines": [f"{line.day.isoformat()}: {words.line_words(line, units)}" for line in page.lines],
        "joints": [(j.key, j.mark, j.mark in witnessed, page.seen[j.key].value) for j in JOINTS],
        "seen_words": side_words.SEEN,
        "chances": [_chance(each) for each in page.chances if each.chance >= 0.02],
        "likely": bool(page.chances) and page.chances[0].told,
        "problem": page.problem,
        "smallest": reproof_words(page.reproof, units) if page.reproof is not None else "",
        "one_distance": len({round(line.ranged_m) for line in page.lines}) == 1,
        "caution": words.CAUTION_KNOCK,
    }
    return render(request, "prove/knocked.html", **context)


def _chance(each: JointChance) -> dict[str, Any]:
    """A joint with its chance, how far it went, what to check, what mends it."""
    joint = each.joint
    return {
        "name": side_words.joint_name(each),
        "chance": side_words.chance_words(each.chance),
        "moved": side_words.moved_words(each),
        "check": joint.check if joint else "",
        "mend": joint.mend if joint else "",
        "cause": joint.cause if joint else "",
    }
