"""What the tape's pages share: the way between them, and a page of a sentence and its tables."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any
from urllib.parse import urlencode

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.errors import NotFound
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.shared.downloads import csv_file
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import Table


def ways_between(here: str) -> dict[str, Any]:
    """The pages of the tape, and the one that is shown."""
    return {"pages_of_tape": words.PAGES, "page_here": here}


def tape_page(
    request: Request,
    rig: Rig,
    here: str,
    template: str = "tape/told.html",
    tables: Sequence[Table] = (),
    form: FormInput | None = None,
    **context: Any,
) -> Response:
    """A page of the tape; refused with what was typed where the form has errors."""
    defaults = {"say": words.NO_TAPE, "why": "", "caution": "", "problem": "", "tables": tables, "form": form}
    defaults["csv_query"] = _query(request)
    name = dict(words.PAGES)[here]
    beside = context.get("beside")
    file = table_file(request, rig, [*tables, *([beside] if beside else [])])
    if file is not None:
        return file
    full = rig_context(rig, "tape", date.today()) | ways_between(here) | {"page_name": name} | defaults | context
    status = 200 if form is None else 409 if form.conflicts else 422 if form.errors else 200
    return render(request, template, status, **full)


def table_file(request: Request, rig: Rig, tables: Sequence[Table]) -> Response | None:
    """The table that is asked for as a file, as the page shows it; None where none is asked for."""
    key = request.query_params.get("csv")
    if key is None:
        return None
    table = next((table for table in tables if table.key == key), None)
    if table is None:
        raise NotFound("this page has no such table")
    return csv_file([table.heads, *table.rows], rig, table.key.replace("_", "-"))


def _query(request: Request) -> str:
    """The query of the page, to be gone on with."""
    kept = [(key, value) for key, value in request.query_params.multi_items() if key != "csv"]
    return f"{urlencode(kept)}&" if kept else ""


def no_tape(request: Request, rig: Rig, here: str) -> Response:
    """The page while there is nothing to tell: what the card lacks."""
    why = "The card wants the arrow, a speed, eye to sight, the peep, home and the farthest distance first."
    return tape_page(request, rig, here, "tape/told.html", why=why)
