"""Printing the tape: the sheet as PDF and SVG, the table as CSV and JSON."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import JSONResponse, Response

from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.fit import TapeRow
from cross_staff.core.sheet import COPIES, MEASURED_BAR_MM, PAPERS_MM, WIDTH_MM, Sheet, SheetStyle
from cross_staff.core.tape import whole_units
from cross_staff.services import tape as service
from cross_staff.services.rig import RigView, open_rig
from cross_staff.web import sentences
from cross_staff.web.card_fields import CHOICES
from cross_staff.web.downloads import csv_file, file_headers
from cross_staff.web.forms import Typing
from cross_staff.web.render import drawn, render, rig_context
from cross_staff.web.tape_form import DISTANCE_SPAN
from cross_staff.web.tape_pdf import pdf
from cross_staff.web.units import Units

router = APIRouter()


@dataclass
class PrintForm(Typing):
    """What is asked of the printed sheet, as typed."""

    from_m: float = 0.0
    to_m: float = 0.0
    style: SheetStyle = SheetStyle()


@router.get("/rigs/{rig_id}/tape/print")
def print_page(request: Request, rig_id: int) -> Response:
    """Options, a preview of the sheet, and the files."""
    found = open_rig(request.app.state.database, rig_id)
    form = _read(request, found)
    sheet, problem = _sheet(found, form)
    refused = bool(form.errors or problem) and bool(request.query_params)
    step_now = "Measure the check bar." if form.style.measured_bar_mm != 100.0 else "Print at 100 %."
    context = rig_context(found, "tape", date.today()) | {
        "units": form.units,
        "form": form,
        "sheet": sheet,
        "problem": problem,
        "query": request.url.query,
        "papers": tuple(PAPERS_MM),
        "choices": CHOICES,
        "say": step_now,
        "caution": sentences.CAUTION_BLADE,
        "pages": len(sheet.pages) if sheet else 0,
    }
    return render(request, "pages/tape_print.html", 422 if refused else 200, **context)


@router.get("/rigs/{rig_id}/tape.pdf")
def tape_pdf(request: Request, rig_id: int) -> Response:
    """The sheet as PDF."""
    found, sheet = _asked(request, rig_id)
    return _file(pdf(sheet, found.card.name), "application/pdf", found, "pdf")


@router.get("/rigs/{rig_id}/tape.svg")
def tape_svg(request: Request, rig_id: int, page: int = 1) -> Response:
    """One page of the sheet as SVG."""
    found, sheet = _asked(request, rig_id)
    if not 1 <= page <= len(sheet.pages):
        raise InvalidValue("page", f"must be 1 to {len(sheet.pages)}")
    chosen = sheet.pages[page - 1]
    text = drawn("drawings/tape_sheet.svg", page=chosen, paper=sheet.paper_mm, title=found.card.name, true_size=True)
    return _file(text.encode(), "image/svg+xml", found, "svg")


@router.get("/rigs/{rig_id}/tape.csv")
def tape_csv(request: Request, rig_id: int) -> Response:
    """The table of marks as CSV, one row a whole unit of distance."""
    found = open_rig(request.app.state.database, rig_id)
    form = _read(request, found)
    units = form.units
    unit, offset = units.label("distance"), units.label("offset")
    table = [[f"distance_{unit}", "scale_mm", "from_home_mm", "sd_mm", f"sd_on_target_{offset}"]]
    for count, row in _rows(found, form):
        if row.mark_mm is None or row.sd_mm is None or row.sd_on_target_m is None:
            table.append([str(count), "", "", "", "out of reach"])
            continue
        on_target = units.from_si("offset", row.sd_on_target_m)
        scale, from_home = _readings(found, row.mark_mm)
        table.append([str(count), f"{scale:.3f}", f"{from_home:.3f}", f"{row.sd_mm:.3f}", f"{on_target:.2f}"])
    return csv_file(table, found, "tape")


@router.get("/rigs/{rig_id}/tape.json")
def tape_json(request: Request, rig_id: int) -> Response:
    """The table of marks as JSON, in SI units and tape millimetres."""
    found = open_rig(request.app.state.database, rig_id)
    rows = []
    for count, row in _rows(found, _read(request, found)):
        scale, from_home = (None, None) if row.mark_mm is None else _readings(found, row.mark_mm)
        rows.append(
            {
                "count": count,
                "ranged_m": round(count * found.card.tape.unit_m, 6),
                "scale_mm": scale,
                "from_home_mm": from_home,
                "sd_mm": row.sd_mm,
                "sd_on_target_m": row.sd_on_target_m,
            }
        )
    body = {
        "rig": found.card.name,
        "revision": found.revision.number,
        "date": date.today().isoformat(),
        "unit_m": found.card.tape.unit_m,
        "ranged_from": found.card.ranged_from,
        "marks_used": len(found.reckoning.used),
        "rows": rows,
    }
    return JSONResponse(body, headers=file_headers(found, "tape", "json"))


def _readings(found: RigView, mark_mm: float) -> tuple[float, float]:
    """A mark as read on the sight's own scale, and from the home mark [mm]."""
    fit = found.reckoning.fit
    zero = fit.mark_zero_mm.value if fit else 0.0
    return found.card.tape.direction * mark_mm, mark_mm - zero


def _rows(found: RigView, form: PrintForm) -> list[tuple[int, TapeRow]]:
    """Whole units of distance with their fitted marks. Raises InvalidValue."""
    fit, turnover, unit = found.reckoning.fit, found.reckoning.turnover_m, found.card.tape.unit_m
    _complain(form)
    if fit is None or turnover is None:
        raise InvalidValue("tape", "there is none yet: the card lacks something")
    counts = whole_units(form.from_m, form.to_m, unit, turnover)
    rows = fit.tape([found.card.distance_from_sight(count * unit) for count in counts])
    return list(zip(counts, rows))


def _asked(request: Request, rig_id: int) -> tuple[RigView, Sheet]:
    found = open_rig(request.app.state.database, rig_id)
    form = _read(request, found)
    _complain(form)
    sheet, problem = _sheet(found, form)
    if sheet is None:
        raise InvalidValue("tape", problem)
    return found, sheet


def _complain(form: PrintForm) -> None:
    if form.errors:
        name = form.first_error or "tape"
        raise InvalidValue(name, form.errors[name])


def _read(request: Request, found: RigView) -> PrintForm:
    """The options of the query; what is not asked comes from the card."""
    card, units = found.card, Units.of(found.units)
    wish, goals = card.tape, card.goals
    usual = {
        "from": units.plain("distance", goals.home_m),
        "to": units.plain("distance", goals.farthest_m),
        "copies": "1",
        "paper": "A4",
        "bar": "100",
        "width": units.plain("mark", wish.width_mm),
        "tape_ticks_at": wish.ticks_at,
        "tape_runs": wish.farther_runs,
    }
    typed = usual | {k: v for k, v in request.query_params.items() if k in usual and v.strip()}
    form = PrintForm(typed, units)
    start = form.number("from", "distance", DISTANCE_SPAN)
    end = form.number("to", "distance", DISTANCE_SPAN)
    if start is not None and end is not None and end <= start:
        form.errors["to"] = "must be farther than where it starts"
    form.from_m, form.to_m = start or 0.0, end or 0.0
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
    )
    return form


def _sheet(found: RigView, form: PrintForm) -> tuple[Sheet | None, str]:
    """The sheet, or why there is none."""
    if form.errors:
        return None, "Mend the marked fields first."
    try:
        heading, waste = _heading(found, form.units)
        return service.sheet(found, form.from_m, form.to_m, form.style, heading, waste), ""
    except InvalidValue as error:
        words = {"to_m": "the span"}.get(error.field, error.field)
        return None, f"{words[0].upper()}{words[1:]} {error.message}."
    except CrossStaffError as error:
        return None, f"{str(error)[0].upper()}{str(error)[1:]}."


def _heading(found: RigView, units: Units) -> tuple[list[str], list[str]]:
    """The lines at the head of the sheet, and those on the waste edge."""
    card, today = found.card, date.today().isoformat()
    names = [n for n in (card.archer, card.bow.words, card.build.name) if n]
    quality, number, unit = fit_quality(found, units), found.revision.number, units.label("distance")
    about = f"Yardage tape in {unit} · revision {number} · {today} · {quality}"
    waste = [card.name, f"rev {number} · {today}", quality]
    return [card.name, " · ".join(names) or "archer and bow not noted", about], waste


def fit_quality(found: RigView, units: Units) -> str:
    """How good the fit is, in a few words for the waste edge."""
    reckoning = found.reckoning
    worth = ", inputs disagree" if reckoning.doubtful else f", {sentences.good_to(found.card, reckoning, units)}"
    used = len(reckoning.used)
    if not used:
        return f"from speed alone{worth}"
    rms = reckoning.rms_residual_mm
    fit = "" if rms is None else f", rms {rms:.2f} mm"
    return f"{used} mark{'s' if used > 1 else ''}{fit}{worth}"


def _file(body: bytes, media_type: str, found: RigView, ending: str) -> Response:
    return Response(body, media_type=media_type, headers=file_headers(found, "tape", ending))
