"""The range sheet: one page of what the archer chose to carry, as PDF and on the phone."""

from __future__ import annotations

from datetime import date
from functools import partial

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import InvalidValue
from cross_staff.services.rig import open_rig
from cross_staff.web.failures import NothingYet
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import file_headers
from cross_staff.web.shared.one_page_pdf import PAPERS, TooMuch, sheet_pdf
from cross_staff.web.shared.words import CAUTION_RANGE
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.range_sheet_tables import SHEET, offered, usual
from cross_staff.web.tape.sheet_words import fit_quality
from cross_staff.web.tape.slope_tables import trip_table
from cross_staff.web.tape.slopes import slope_form, weathers
from cross_staff.web.tape.tables import Shown, Table, TapeView, kept, marks, shown_in, tape_view

router = APIRouter()


@router.get("/rigs/{rig_id}/tape/range-sheet")
def range_sheet_page(request: Request, rig_id: int) -> Response:
    """What is on the sheet, chosen; readable on a phone as it is. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    t = tape_view(rig, Units.of(rig.units))
    if t is None:
        return no_tape(request, rig, "/range-sheet")
    query = request.query_params
    form = FormInput({"paper": query.get("paper", "A4"), "shown": query.get("shown", Shown.HAND.value)}, t.units)
    form.choice("shown", tuple(key for key, _ in shown_in(t.card.sight)))
    paper = form.choice("paper", tuple(PAPERS))
    tables = _tables(request, t)
    problem = kept(t, ("fits", request.url.query, paper, date.today()), lambda: _too_much(t, tables, paper))
    return tape_page(
        request,
        rig,
        "/range-sheet",
        "tape/range_sheet.html",
        tables,
        form,
        say="Choose, print, take it along.",
        why="One page; the same tables stand below for the phone. Printed it needs no battery.",
        caution=CAUTION_RANGE,
        problem=problem,
        offers=[(key, SHEET[key][0], key in _chosen(request, t)) for key in offered(t)],
        papers=list(PAPERS),
        shown_in=shown_in(t.card.sight),
        query=request.url.query,
        trip={name: request.query_params.get(name, "") for name in ("there_m", "there_c")},
    )


@router.get("/rigs/{rig_id}/tape/range-sheet.pdf")
def range_sheet_file(request: Request, rig_id: int) -> Response:
    """The sheet as PDF. Raises NotFound, InvalidValue where it does not fit on one page."""
    rig = open_rig(request.app.state.database, rig_id)
    t = tape_view(rig, Units.of(rig.units))
    paper = request.query_params.get("paper", "A4")
    if paper not in PAPERS:
        raise InvalidValue("paper", f"must be one of {', '.join(PAPERS)}")
    if t is None:
        raise NothingYet(f"/rigs/{rig_id}/tape/range-sheet")
    try:
        body = sheet_pdf(_heading(t), _tables(request, t), paper)
    except TooMuch as error:
        raise InvalidValue("paper", str(error)) from error
    return Response(body, media_type="application/pdf", headers=file_headers(rig, f"range-{paper.lower()}", "pdf"))


def _chosen(request: Request, t: TapeView) -> list[str]:
    """What is on the sheet: what was ticked, else the usual."""
    asked = request.query_params.getlist("show")
    return [key for key in offered(t) if key in (asked or usual(t))]


def _tables(request: Request, t: TapeView) -> list[Table]:
    shown = request.query_params.get("shown", "")
    if shown not in {key for key, _ in shown_in(t.card.sight)}:
        shown = Shown.HAND.value
    making = {"marks": partial(marks, t, Shown(shown))}
    tables = [kept(t, ("sheet", key, shown), making.get(key, partial(SHEET[key][1], t))) for key in _chosen(request, t)]
    here, there = weathers(slope_form(request, t))
    return tables if there is None else [*tables, trip_table(t, here, there)]


def _too_much(t: TapeView, tables: list[Table], paper: str) -> str:
    """Why the tables do not go on one page; empty when they do."""
    try:
        sheet_pdf(_heading(t), tables, paper)
    except TooMuch as error:
        return str(error)
    return ""


def _heading(t: TapeView) -> list[str]:
    card = t.card
    about = " · ".join(filter(None, [card.archer, card.build.name, card.sight.name]))
    stands = f"revision {t.rig.revision.number} · {date.today().isoformat()} · {fit_quality(t.rig, t.units)}"
    return [card.name, about, stands, CAUTION_RANGE]
