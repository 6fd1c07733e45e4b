"""What is asked before a save that would make measured results old: was the bow changed, or only what is written?"""

from __future__ import annotations

from datetime import date

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.errors import Unanswered
from cross_staff.core.rig.correction import WORDS
from cross_staff.services.measured import Question
from cross_staff.services.rig import open_rig
from cross_staff.web.card.compare import compared
from cross_staff.web.card.words import path_name
from cross_staff.web.events import words
from cross_staff.web.forms.drafts import asked_on
from cross_staff.web.forms.known import MEANT
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.set_aside import all_counted


def asked(request: Request, error: Unanswered) -> Response:
    """The page that asks, with everything that was typed; the answer sends it again."""
    rig = open_rig(request.app.state.database, error.rig_id)
    typed: dict[str, str] = getattr(request.state, "typed", {})
    units = Units.of(rig.units)
    context = rig_context(rig, "card", date.today()) | {
        "aside": [],
        "action": request.url.path,
        "typed": {name: text for name, text in typed.items() if not name.startswith(MEANT)},
        "changed": [row for row in compared(error.old, error.new, units) if row.differs],
        "questions": [_question(each) for each in error.questions],
        "answered": [(name, text) for name, text in typed.items() if name.startswith(MEANT)],
        "meanings": list(WORDS.items()),
        "back": _form_of(request.url.path),
    }
    return asked_on(request, error.rig_id, render(request, "events/ask.html", 422, **context))


def _question(each: Question) -> dict[str, object]:
    fields = dict.fromkeys(path_name(change.path) for change in each.fields)
    return {
        "name": f"{MEANT}{each.cause.key}",
        "fields": ", ".join(fields),
        "cause": each.cause.words,
        "likely": each.likely,
        "aside": all_counted(each.sets_aside),
        "reasons": words.reasons([each.cause]),
    }


def _form_of(path: str) -> str:
    """The page whose form was sent."""
    return path.removesuffix("/place")
