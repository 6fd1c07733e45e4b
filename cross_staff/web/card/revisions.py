"""The revisions of a card: what each changed and why, and two of them side by side."""

from __future__ import annotations

from datetime import date
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import NotFound
from cross_staff.core.rig.correction import changes
from cross_staff.core.rig.events import CAUSES
from cross_staff.core.rig.staleness import causes, made_stale
from cross_staff.services.card.save import revision
from cross_staff.services.rig import Revision, Rig, open_rig
from cross_staff.services.shop.changes import saved_by
from cross_staff.web.card import words
from cross_staff.web.card.compare import compared
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()


@router.get("/rigs/{rig_id}/card/revisions")
def revisions(request: Request, rig_id: int) -> Response:
    """Every revision of the card, with what it changed, why, and what that made stale."""
    rig = open_rig(request.app.state.database, rig_id)
    by = saved_by(request.app.state.database, rig_id)
    rows = [
        _row(old, new) | {"back": new is not rig.revision, "by": by.get(new.number, "")}
        for old, new in zip([None, *rig.history], rig.history)
    ]
    context = rig_context(rig, "card", date.today())
    return render(request, "card/revisions.html", rows=rows[::-1], **context)


def _row(old: Revision | None, new: Revision) -> dict[str, Any]:
    changed = changes(old.card, new.card) if old else ()
    stale = made_stale(causes(old.card, new.card, new.said)) if old else ()
    said = [CAUSES[key].words for key in new.happened if key in CAUSES]
    return {
        "number": new.number,
        "before": old.number if old else None,
        "saved": local_time(new.saved),
        "why": new.why,
        "changed": "; ".join(filter(None, [words.changed_fields(changed), *said])),
        "stale": words.results(stale),
    }


@router.get("/rigs/{rig_id}/card/compare")
def compare(request: Request, rig_id: int, a: int = 0, b: int = 0) -> Response:
    """Two revisions side by side, the last two unless others are asked for: what differs first, then
    the rest. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    newest = rig.revision.number
    one, other = _revision(rig, a or max(newest - 1, 1)), _revision(rig, b or newest)
    rows = compared(one.card, other.card, Units.of(rig.units))
    context = rig_context(rig, "card", date.today()) | {
        "one": _headed(one),
        "other": _headed(other),
        "numbers": [each.number for each in rig.history],
        "differing": [row for row in rows if row.differs],
        "same": [row for row in rows if not row.differs],
    }
    return render(request, "card/compare.html", **context)


def _revision(rig: Rig, number: int) -> Revision:
    kept = revision(rig.history, number)
    if kept is None:
        raise NotFound(f"this rig has no revision {number}")
    return kept


def _headed(kept_revision: Revision) -> dict[str, Any]:
    return {"number": kept_revision.number, "saved": local_time(kept_revision.saved), "why": kept_revision.why}
