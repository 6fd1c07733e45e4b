"""Printing the tape: the sheet as PDF and SVG, the table as CSV and JSON."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import JSONResponse, RedirectResponse, Response

from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound
from cross_staff.core.printing.sheet import (
    COPIES,
    MEASURED_BAR_MM,
    PAPERS_MM,
    WIDTH_MM,
    PrintedSheet,
    PrintedTape,
    SheetStyle,
)
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import Goals
from cross_staff.core.tape.fit import TapeRow
from cross_staff.core.tape.layout import Wanted, tape_rows
from cross_staff.core.tape.scale import seats, whole_units
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape import record as service
from cross_staff.services.tape.rulers import rule_sheet
from cross_staff.web.card.fields import CHOICES
from cross_staff.web.failures import NothingYet
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import YARD_M, Units
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.downloads import csv_file, file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import drawn, render, rig_context
from cross_staff.web.tape import words as tape_words
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.page import ways_between
from cross_staff.web.tape.print_pdf import pdf
from cross_staff.web.tape.sheet_words import (
    as_far,
    other_edges,
    rule_words,
    seat_words,
    strip_words,
    telling_words,
    too_long,
)

router = APIRouter()
LOW_SPAN = Range(-0.5, 0.5)


@dataclass
class PrintForm(FormInput):
    """What is asked of the printed sheet, as typed."""

    wanted: Wanted = Wanted(0.0, 0.0)
    other: service.OtherEdge | None = None
    style: SheetStyle = SheetStyle()


@router.get("/rigs/{rig_id}/tape/print")
def print_page(request: Request, rig_id: int) -> Response:
    """Options, a preview of the sheet, and the files."""
    rig = open_rig(request.app.state.database, rig_id)
    form = _read(request, rig)
    laid_out = ("sheet", request.url.query, form.units, date.today())
    sheet, problem = rig.results.get(laid_out, lambda: _sheet(rig, form))
    refused = bool(form.errors or problem) and bool(request.query_params)
    say = "Measure the check bar." if form.style.measured_bar_mm != 100.0 else "Print at 100 %."
    if rig.evaluation.fit is None:
        say = tape_words.NO_TAPE
    elif not rig.card.sight_kind.dialled:
        say, sheet, problem = tape_words.NOT_DIALLED, None, ""
    context = (
        rig_context(rig, "tape", date.today())
        | {
            "units": form.units,
            "form": form,
            "sheet": sheet,
            "problem": problem,
            "query": request.url.query,
            "dialled": rig.card.sight_kind.dialled,
            "has_drum": rig.card.sight_kind.has_drum,
            "dots": rig.card.sight_kind.computes_dots,
            "papers": tuple(PAPERS_MM),
            "choices": CHOICES,
            "say": say,
            "caution": sentences.CAUTION_BLADE,
            "pages": len(sheet.pages) if sheet else 0,
            "others": other_edges(rig, form.units),
            "reach": as_far(rig, form.units),
            "telling": telling_words(rig, form.units, form.wanted),
            "seats": _seats(rig, form),
            "printed": [
                {
                    "number": kept.number,
                    "when": local_time(kept.printed),
                    "revision": kept.revision,
                    "about": " · ".join(kept.tape.heading[2:4]),
                }
                for kept in reversed(service.printed_of(request.app.state.database, rig_id))
            ],
        }
        | ways_between("/print")
    )
    return render(request, "tape/print.html", 422 if refused else 200, **context)


@router.post("/rigs/{rig_id}/tape/print")
def keep_printed(request: Request, rig_id: int) -> Response:
    """Keep the tape as it is printed, then hand out its PDF."""
    rig = open_rig(request.app.state.database, rig_id)
    form = _read(request, rig)
    _complain(form)
    if not rig.card.sight_kind.dialled:
        raise NothingYet(f"/rigs/{rig_id}/tape/print")
    tape = _printed(rig, form)
    number = service.keep_printed(request.app.state.database, rig_id, tape, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/tape/printed/{number}.pdf", 303)


@router.get("/rigs/{rig_id}/tape/printed/{number}.{ending}")
def printed_again(request: Request, rig_id: int, number: int, ending: str) -> Response:
    """A tape that was printed before, exactly as it was; `bar` corrects for another printer."""
    rig = open_rig(request.app.state.database, rig_id)
    kept = service.printed_one(request.app.state.database, rig_id, number)
    form = FormInput(dict(request.query_params), Units.of(rig.units))
    bar = form.number("bar", "mark", MEASURED_BAR_MM)
    if form.errors:
        raise InvalidValue("bar", form.errors["bar"])
    sheet = kept.tape.sheet(bar)
    if ending == "pdf":
        return _file(pdf(sheet, kept.tape.heading[0]), "application/pdf", rig, "pdf", f"tape-{number}")
    if ending != "svg":
        raise NotFound("a printed tape is a pdf or an svg")
    text = drawn("tape/printed.svg", page=sheet.pages[0], paper=sheet.paper_mm, title=rig.card.name, true_size=True)
    return _file(text.encode(), "image/svg+xml", rig, "svg", f"tape-{number}")


@router.get("/rigs/{rig_id}/tape/rule.pdf")
def rule_pdf(request: Request, rig_id: int) -> Response:
    """A millimetre rule for a rail that has none, at true scale; `bar` as for the tape."""
    rig = open_rig(request.app.state.database, rig_id)
    form = _read(request, rig)
    _complain(form)
    heading, waste = rule_words(rig.card.name)
    return _file(pdf(rule_sheet(form.style, heading, waste), heading[0]), "application/pdf", rig, "pdf", "rule")


@router.get("/rigs/{rig_id}/tape.pdf")
def tape_pdf(request: Request, rig_id: int) -> Response:
    """The sheet as PDF."""
    rig, sheet = _asked(request, rig_id)
    return _file(pdf(sheet, rig.card.name), "application/pdf", rig, "pdf")


@router.get("/rigs/{rig_id}/tape.svg")
def tape_svg(request: Request, rig_id: int, page: int = 1) -> Response:
    """One page of the sheet as SVG."""
    rig, sheet = _asked(request, rig_id)
    if not 1 <= page <= len(sheet.pages):
        raise InvalidValue("page", f"must be 1 to {len(sheet.pages)}")
    chosen = sheet.pages[page - 1]
    text = drawn("tape/printed.svg", page=chosen, paper=sheet.paper_mm, title=rig.card.name, true_size=True)
    return _file(text.encode(), "image/svg+xml", rig, "svg")


@router.get("/rigs/{rig_id}/tape.csv")
def tape_csv(request: Request, rig_id: int) -> Response:
    """The table of marks as CSV, one row a whole unit of distance."""
    rig = open_rig(request.app.state.database, rig_id)
    form = _read(request, rig)
    units = form.units
    unit, offset = units.label("distance"), units.label("offset")
    table = [[f"distance_{unit}", "scale_mm", "from_home_mm", "sd_mm", f"sd_on_target_{offset}"]]
    for count, row in _rows(rig, form):
        if row.mark_mm is None or row.sd_mm is None or row.sd_on_target_m is None:
            table.append([str(count), "", "", "", "out of reach"])
            continue
        on_target = units.from_si("offset", row.sd_on_target_m)
        scale, from_home = _readings(rig, row.mark_mm)
        plain = ["" if value is None else f"{round(value, 3) + 0.0:.3f}" for value in (scale, from_home, row.sd_mm)]
        table.append([str(count), *plain, f"{on_target:.2f}"])
    return csv_file(table, rig, "tape")


@router.get("/rigs/{rig_id}/tape.json")
def tape_json(request: Request, rig_id: int) -> Response:
    """The table of marks as JSON, in SI units and tape millimetres."""
    rig = open_rig(request.app.state.database, rig_id)
    rows = []
    for count, row in _rows(rig, _read(request, rig)):
        scale, from_home = (None, None) if row.mark_mm is None else _readings(rig, row.mark_mm)
        rows.append(
            {
                "count": count,
                "ranged_m": round(count * rig.card.tape.unit_m, 6),
                "scale_mm": scale,
                "from_home_mm": from_home,
                "sd_mm": row.sd_mm,
                "sd_on_target_m": row.sd_on_target_m,
            }
        )
    body = {
        "rig": rig.card.name,
        "revision": rig.revision.number,
        "date": date.today().isoformat(),
        "unit_m": rig.card.tape.unit_m,
        "ranged_from": rig.card.ranged_from,
        "marks_used": len(rig.evaluation.used),
        "rows": rows,
    }
    return JSONResponse(body, headers=file_headers(rig, "tape", "json"))


def _readings(rig: Rig, mark_mm: float) -> tuple[float | None, float]:
    """A mark as read on the sight's own scale, None where nobody read it, and from the home mark [mm]."""
    fit = rig.evaluation.fit
    zero = fit.mark_zero_mm.value if fit else 0.0
    scale = rig.card.tape.direction * mark_mm + 0.0 if fit is None or fit.on_scale else None
    return scale, mark_mm - zero + 0.0


def _rows(rig: Rig, form: PrintForm) -> list[tuple[int, TapeRow]]:
    """Whole units of distance with their fitted marks. Raises InvalidValue."""
    fit, turnover, unit = rig.evaluation.fit, rig.evaluation.turnover_m, rig.card.tape.unit_m
    _complain(form)
    if fit is None or turnover is None or not rig.card.sight_kind.dialled:
        raise NothingYet(f"/rigs/{rig.rig_id}/tape/print")
    counts = whole_units(form.wanted.from_m, form.wanted.to_m, unit, turnover)
    rows = tape_rows(rig.card, rig.evaluation, form.wanted, [count * unit for count in counts])
    return list(zip(counts, rows))


def _asked(request: Request, rig_id: int) -> tuple[Rig, PrintedSheet]:
    rig = open_rig(request.app.state.database, rig_id)
    form = _read(request, rig)
    _complain(form)
    sheet, problem = _sheet(rig, form)
    if rig.evaluation.fit is None or not rig.card.sight_kind.dialled:
        raise NothingYet(f"/rigs/{rig_id}/tape/print")
    if sheet is None:
        raise InvalidValue("tape", problem)
    return rig, sheet


def _complain(form: PrintForm) -> None:
    if form.errors:
        name = form.first_error or "tape"
        raise InvalidValue(name, form.errors[name])


def _read(request: Request, rig: Rig) -> PrintForm:
    """The options of the query; what is not asked comes from the card."""
    card, units = rig.card, Units.of(rig.units)
    wish, goals = card.tape, card.goals
    usual = {
        "from": units.plain(
            "distance", rig.evaluation.tape_home_m or goals.home_m, 1 if rig.evaluation.pins.dialled else None
        ),
        "to": units.plain("distance", goals.farthest_m),
        "copies": "1",
        "low": "",
        "other": "",
        "paper": "A4",
        "bar": "100",
        "width": units.plain("mark", wish.width_mm),
        "tape_ticks_at": wish.ticks_at,
        "tape_runs": wish.farther_runs,
    }
    typed = usual | {k: v for k, v in request.query_params.items() if k in usual and v.strip()}
    form = PrintForm(typed, units)
    form.wanted = _wanted(form, goals)
    others = dict(other_edges(rig, units))
    chosen = form.choice("other", tuple(others))
    form.other = _other_edge(chosen)
    copies = form.number("copies", "plain", COPIES)
    if copies is not None and copies != int(copies):
        form.errors["copies"] = "a whole number of copies"
    width, bar = form.number("width", "mark", WIDTH_MM), form.number("bar", "mark", MEASURED_BAR_MM)
    form.style = SheetStyle(
        wish.width_mm if width is None else width,
        form.choice("tape_ticks_at", tuple(key for key, _ in CHOICES["tape_ticks_at"])),
        form.choice("tape_runs", tuple(key for key, _ in CHOICES["tape_runs"])),
        int(copies or 1),
        form.choice("paper", tuple(PAPERS_MM)),
        bar or 100.0,
        others[chosen] if chosen else "",
    )
    return form


def _wanted(form: PrintForm, goals: Goals) -> Wanted:
    """From where to where the tape goes, and how low it shoots on purpose."""
    start = form.number("from", "distance", DISTANCE_SPAN)
    end = form.number("to", "distance", DISTANCE_SPAN)
    if start is not None and end is not None and end <= start:
        form.errors["to"] = "must be farther than where it starts"
    home = goals.home_m or 0.0
    if start is not None and goals.farthest_m is not None and start >= goals.farthest_m and "to" not in form.errors:
        form.errors["from"] = "lies beyond the farthest distance wanted"
    low = form.number("low", "offset", LOW_SPAN)
    if low and end is not None and end <= home:
        form.errors["low"] = "needs a tape that goes beyond home"
    return Wanted(start or 0.0, end or 0.0, low_m=low or 0.0)


def _other_edge(chosen: str) -> service.OtherEdge | None:
    if not chosen:
        return None
    if chosen.startswith("pin"):
        return service.OtherEdge(pin=int(chosen[3:]))
    return service.OtherEdge(unit_m={"yd": YARD_M, "m": 1.0}.get(chosen))


def _sheet(rig: Rig, form: PrintForm) -> tuple[PrintedSheet | None, str]:
    """The sheet, or why there is none."""
    if form.errors:
        return None, "Correct the marked fields first."
    try:
        return _printed(rig, form).sheet(), ""
    except InvalidValue as error:
        words = {"to_m": "the span"}.get(error.field, error.field)
        return None, f"{words[0].upper()}{words[1:]} {error.message}."
    except CrossStaffError as error:
        return None, f"{str(error)[0].upper()}{str(error)[1:]}."


def _printed(rig: Rig, form: PrintForm) -> PrintedTape:
    words = strip_words(rig, form.units, form.wanted, form.style)
    return service.printed(rig, form.wanted, form.style, words, form.other)


def _seats(rig: Rig, form: PrintForm) -> list[str]:
    """Whether the tape finds room in its seat, or which of several takes it."""
    if rig.card.tape.length_mm is None or form.errors:
        return []
    try:
        edges = service.tapes_to_print(rig, form.wanted, form.other).fitted
    except CrossStaffError:
        return []
    first, last = min(e.first_mm for e in edges), max(e.last_mm for e in edges)
    seat = rig.card.tape
    if not seat.places_mm:
        return too_long(last - first, seat.length_mm or 0.0)
    return seat_words(seats(seat.places_mm, seat.length_mm or 0.0, first, last))


def _file(body: bytes, media_type: str, rig: Rig, ending: str, what: str = "tape") -> Response:
    return Response(body, media_type=media_type, headers=file_headers(rig, what, ending))
