"""Card and bench sheet on paper: everything that is known, and what is still open."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.services.rig import open_rig
from cross_staff.web.card.compare import in_words
from cross_staff.web.forms.units import Units
from cross_staff.web.prepare import words
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()


@router.get("/rigs/{rig_id}/card/sheet")
def sheet_page(request: Request, rig_id: int) -> Response:
    """The card and the bench sheet, to print and lay on the bench. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    said = in_words(rig.card, units)
    lines = [
        (
            line.check.name,
            words.value(line.check, line.entry, units),
            words.VERDICTS[line.verdict],
            line.entry.note if line.entry else "",
        )
        for line in rig.checklist.lines
    ]
    context = rig_context(rig, "card", date.today()) | {
        "known": [(label, text) for label, text in said.items() if text],
        "open": [label for label, text in said.items() if not text],
        "lines": lines,
        "saved": local_time(rig.revision.saved),
        "override": rig.checklist.override.note if rig.checklist.override else "",
    }
    return render(request, "card/sheet.html", **context)
