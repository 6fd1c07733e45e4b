"""The pins by the tape: gaps, the housing, a template to set them against, and which distances to choose."""

from __future__ import annotations

from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound
from cross_staff.core.printing.pin_template import pin_template
from cross_staff.core.printing.sheet import MEASURED_BAR_MM, PAPERS_MM, PrintedSheet, SheetStyle
from cross_staff.core.ranges import Range
from cross_staff.core.rig.schools import DIALLED
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as range_service
from cross_staff.services.tape.page import PinsChosen
from cross_staff.web.card.fields import NUMBERS
from cross_staff.web.failures import NothingYet
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.downloads import file_headers
from cross_staff.web.shared.housing_drawing import housing
from cross_staff.web.shared.render import drawn
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import words
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.pin_tables import dialled, gaps, pointers, way_words, ways
from cross_staff.web.tape.print_pdf import pdf
from cross_staff.web.tape.tables import Table, TapeView, kept, tape_view

router = APIRouter()
PINS_SPAN = Range(2, 20)
TARGET_SPAN = NUMBERS["target_size"].span


@router.get("/rigs/{rig_id}/tape/pins")
def pins_page(request: Request, rig_id: int) -> Response:
    """Gaps, housing, template, and choices of distances. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/pins")
    form = _form(request, t)
    choices, problem = ([], "") if form.errors else kept(t, ("choices", request.url.query), lambda: _choices(t, form))
    several = len(t.heights) > 1
    names = t.pin_names
    return tape_page(
        request,
        rig,
        "/pins",
        "tape/pins.html",
        choices,
        form,
        beside=gaps(t) if several else None,
        say="Set the pins by the template." if several else "One pin: nothing to space.",
        why="Print it at 100 %, cut it out, and bring every pin to its line; then shoot each at its own distance."
        if several
        else "Below: what more pins would be for, and what they would cost.",
        caution=words.CAUTION_PINS if several else "",
        problem=problem,
        housing=housing(rig, names) if several else None,
        several=several,
        papers=tuple(PAPERS_MM),
    )


def _form(request: Request, t: TapeView) -> FormInput:
    goals, units = t.card.goals, t.units
    at = t.evaluation.pins.at_m
    usual = {
        "count": str(max(len(t.heights), 3)),
        "first": units.plain("distance", at[0] if at else goals.home_m),
        "last": units.plain("distance", at[-1] if len(at) > 1 else goals.farthest_m),
        "target": units.plain("offset", t.target_m),
        "bar": "100",
        "paper": "A4",
    }
    typed = usual | {k: v for k, v in request.query_params.items() if k in usual and v.strip()}
    form = FormInput(typed, units)
    for name, quantity, span in (
        ("count", "plain", PINS_SPAN),
        ("first", "distance", DISTANCE_SPAN),
        ("last", "distance", DISTANCE_SPAN),
        ("target", "offset", TARGET_SPAN),
        ("bar", "mark", MEASURED_BAR_MM),
    ):
        form.number(name, quantity, span)
    count = form.number("count", "plain", PINS_SPAN)
    if count is not None and count != int(count):
        form.errors["count"] = "a whole number of pins"
    first, last = (form.number(n, "distance", DISTANCE_SPAN) for n in ("first", "last"))
    if first is not None and last is not None and last <= first:
        form.errors["last"] = "the pins go the nearest first: this must be farther than the first pin"
    form.choice("paper", tuple(PAPERS_MM))
    return form


def _choices(t: TapeView, form: FormInput) -> tuple[list[Table], str]:
    """Ways to choose distances for a count of pins, each with its price."""
    count = int(form.number("count", "plain", PINS_SPAN) or 2)
    first, last = (form.number(n, "distance", DISTANCE_SPAN) or 0.0 for n in ("first", "last"))
    target = form.number("target", "offset", TARGET_SPAN) or t.target_m
    ways = t.chosen(count, first, last, target)
    rows = [[way.by, *_priced(t, way)] for way in ways if not way.problem]
    problems = [f"{way.by[0].upper()}{way.by[1:]}: {way.problem}." for way in ways if way.problem]
    thick = max((p.thickness_mm or 0.0 for p in t.card.sight.pins), default=0.0)
    note = "Worst hold: the farthest off the aim anywhere between the pins, with the better pin."
    if thick:
        note += f" Pins are {trimmed(thick, 2)} mm thick: a smaller gap than that and they touch."
    heads = ("chosen by", t.unit, "smallest gap, mm", f"worst hold, {t.units.label('offset')}", "without a hold")
    title = f"{count} pins for a target of {on_target(t.units, target)}"
    return [Table("choices", title, heads, rows, note)], " ".join(problems)


def _priced(t: TapeView, way: PinsChosen) -> list[str]:
    priced = way.price
    named = " · ".join(t.ranged(d) for d in way.distances_m)
    if priced is None:
        return [named, "–", "–", "–"]
    covered = ", ".join(f"{'the bow' if a < 1.0 else t.ranged(a)} to {t.ranged(b)}" for a, b in priced.covered)
    worst = f"{trimmed(t.units.from_si('offset', priced.worst_hold_m), 0)} at {t.ranged(priced.worst_at_m, 0)}"
    return [named, f"{priced.least_gap_mm:.1f}", worst, covered]


@router.get("/rigs/{rig_id}/tape/pins.{ending}")
def template_file(request: Request, rig_id: int, ending: str) -> Response:
    """The pin template as PDF or SVG. Raises NotFound, InvalidValue."""
    rig = open_rig(request.app.state.database, rig_id)
    t = tape_view(rig, Units.of(rig.units))
    if ending not in ("pdf", "svg"):
        raise NotFound("a pin template is a pdf or an svg")
    if t is None or len(t.evaluation.pins.at_m) < 2:
        raise NothingYet(f"/rigs/{rig_id}/tape/pins")
    form = _form(request, t)
    if form.errors:
        name = form.first_error or "pins"
        raise InvalidValue(name, form.errors[name])
    sheet = _template(t, form)
    if ending == "pdf":
        return Response(
            pdf(sheet, rig.card.name), media_type="application/pdf", headers=file_headers(rig, "pins", "pdf")
        )
    text = drawn("tape/printed.svg", page=sheet.pages[0], paper=sheet.paper_mm, title=rig.card.name, true_size=True)
    return Response(text.encode(), media_type="image/svg+xml", headers=file_headers(rig, "pins", "svg"))


def _template(t: TapeView, form: FormInput) -> PrintedSheet:
    style = SheetStyle(
        paper=form.choice("paper", tuple(PAPERS_MM)),
        measured_bar_mm=form.number("bar", "mark", MEASURED_BAR_MM) or 100.0,
    )
    today = date.today().isoformat()
    heading = [t.card.name, t.card.sight.name, f"Pin template · revision {t.rig.revision.number} · {today}"]
    return pin_template(t.template(t.pin_names), style, heading)


@router.get("/rigs/{rig_id}/tape/dialled")
def dialled_page(request: Request, rig_id: int) -> Response:
    """What every pin is worth when dialled, which pin to dial, where indicators go. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/dialled")
    form = FormInput({"wanted": request.query_params.get("wanted", "")}, units)
    wanted = form.number("wanted", "distance", DISTANCE_SPAN)
    say, why = "Ask for a distance.", "The pin with the least travel, and what the dial then stands at."
    if wanted is not None:
        say, why = _answer(t, form, wanted)
    moves = t.card.sight_kind.dialled
    several = len(t.heights) > 1
    makers = [dialled, ways, pointers] if moves and several else [ways] if moves else []
    tables = kept(t, "dialled", lambda: [make(t) for make in makers])
    pins = t.evaluation.pins
    return tape_page(
        request,
        rig,
        "/dialled",
        "tape/dialled.html",
        tables,
        form,
        say=say if moves else "Nothing is dialled on this sight.",
        why=why if moves else "Its pins stand still: gaps and holds are what it shoots by.",
        moves=moves,
        schools=t.card.sight_kind.asks(DIALLED) and several,
        dials_far=pins.dialled > 0,
        begins=whole_distance(units, round(t.evaluation.tape_home_m or 0.0, 1)),
        home=whole_distance(units, t.card.goals.home_m or 0.0),
        dialled_name=words.pin_name(pins.dialled, len(t.heights)),
    )


def _answer(t: TapeView, form: FormInput, wanted_m: float) -> tuple[str, str]:
    """For one distance: which pin, what to dial; and the next best."""
    asked = whole_distance(t.units, wanted_m)
    try:
        pin, dial, mm, other = way_words(t, wanted_m)
    except CrossStaffError as error:
        form.errors["wanted"] = str(error)
        return "Out of reach.", f"This arrow does not get to {asked}."
    if pin == "none":
        return f"{asked} is out of travel.", "No pin can be brought there: Slopes and reach has the remedies."
    if mm == "0":
        return f"For {asked}: {words.the(pin)}, nothing to dial.", f"It is set for that distance at home.{_or(other)}"
    also = _or(other)
    return f"For {asked}: dial {dial}, use {words.the(pin)}.", f"The housing goes {mm} mm from home.{also}"


def _or(other: str) -> str:
    return "" if other == "–" else f" Or {words.the(other)}."


@router.post("/rigs/{rig_id}/tape/dialled/{school}")
def choose_dialled(request: Request, rig_id: int, school: str) -> Response:
    """Which pin goes with the wheel: the near or the far one. Raises NotFound, InvalidValue."""
    range_service.choose(request.app.state.database, rig_id, "dialled", school, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/tape/dialled", 303)
