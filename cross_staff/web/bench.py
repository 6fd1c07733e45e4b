"""The bench page."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.sights import KINDS
from cross_staff.core.stations import next_step
from cross_staff.services import bench
from cross_staff.services.bench import BenchRow
from cross_staff.web import sentences
from cross_staff.web.card_fields import TEXTS
from cross_staff.web.forms import Typing, typed_form
from cross_staff.web.render import due_words, render
from cross_staff.web.units import Units

router = APIRouter()


@router.get("/")
def bench_page(request: Request) -> Response:
    """The rigs being worked on and what each needs next."""
    return _page(request, Typing({}, Units()))


@router.post("/rigs")
async def add_rig(request: Request) -> Response:
    """Put a new rig on the bench and open its card."""
    form = Typing(await typed_form(request), Units())
    name, archer = form.text("name", TEXTS["name"]), form.text("archer", TEXTS["archer"])
    if not name and "name" not in form.errors:
        form.errors["name"] = "give it a name, for example the bow's"
    if form.errors:
        return _page(request, form, 422)
    rig_id = bench.add(request.app.state.database, name, archer, Units().keys(), datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/card", 303)


def _page(request: Request, form: Typing, status: int = 200) -> Response:
    rows = [_row(row) for row in bench.rows(request.app.state.database)]
    return render(request, "pages/bench.html", status, rows=rows, form=form)


def _row(row: BenchRow) -> dict[str, Any]:
    units = Units.of(row.units)
    step = next_step(row.card, row.reckoning)
    return {
        "rig_id": row.rig_id,
        "card": row.card,
        "revision": row.revision,
        "kind": KINDS[row.card.sight.kind].name,
        "now": sentences.now(step, row.card, row.reckoning, units),
        "due": due_words(row.card.due, date.today()),
        "standings": [
            {
                "name": each.station.name,
                "state": each.state,
                "word": sentences.standing(each, row.card, row.reckoning, units),
            }
            for each in row.standings
        ],
    }
