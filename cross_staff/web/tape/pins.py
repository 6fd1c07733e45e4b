"""The pins by the tape: gaps, the housing, a template to set them against, and which distances to choose."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.printing.pin_template import pin_template
from cross_staff.core.printing.sheet import MEASURED_BAR_MM, PAPERS_MM, PrintedSheet, SheetStyle
from cross_staff.core.ranges import Range
from cross_staff.services.rig import open_rig
from cross_staff.services.tape.page import PinsChosen, asked_lengths
from cross_staff.web.card.fields import NUMBERS
from cross_staff.web.failures import NothingYet
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.downloads import file_headers
from cross_staff.web.shared.housing_drawing import housing, stood_housing
from cross_staff.web.shared.render import drawn
from cross_staff.web.shared.words import on_target
from cross_staff.web.tape import words
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.pin_tables import gaps
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
    several, kind = len(t.heights) > 1, t.card.sight_kind
    names = t.pin_names
    say, why = _say(t)
    return tape_page(
        request,
        rig,
        "/pins",
        "tape/pins.html",
        choices,
        form,
        beside=gaps(t) if several else None,
        say=say,
        why=why,
        caution=words.CAUTION_PINS if several else "",
        problem=problem,
        housing=housing(rig, names) if several else None,
        stood=stood_housing(rig, names) if several else None,
        several=several and not kind.computes_dots,
        papers=tuple(PAPERS_MM),
    )


def _say(t: TapeView) -> tuple[str, str]:
    """What to do with the pins of this sight, and how."""
    kind = t.card.sight_kind
    if len(t.heights) < 2:
        return "One pin: nothing to space.", "Below: what more pins would be for, and what they would cost."
    if kind.computes_dots:
        said = ", ".join(
            f"{each.name} {'not on the card' if each.length_m is None else t.units.show('length', each.length_m, 1)}"
            for each in asked_lengths(t.rig)
        )
        asks = f" It asks for {said}." if said else ""
        return "Hold the display against these dots.", (
            f"It computes them itself: a far group with its offset, entered there, brings them here.{asks}"
        )
    if kind.scales_together:
        return "Spread the pins by the template.", (
            "One control spreads them all: bring the low pin to its line, and the others follow. Nothing is moved for "
            "one pin alone."
        )
    return "Set the pins by the template.", (
        "Print it at 100 %, cut it out, and bring every pin to its line; then shoot each at its own distance."
        f"{_by_the_strip(t)}"
    )


def _by_the_strip(t: TapeView) -> str:
    """The strip as a ruler: a straight slide's lines lie as far apart as the pins that are for them belong."""
    at, start = t.evaluation.pins.at_m, t.evaluation.tape_home_m
    if not t.card.sight_kind.dialled or abs(t.ratio - 1.0) > 0.002 or start is None or start > at[0] + 0.05:
        return ""
    top, *others = (f"{pin_words.on_strip(t.card, d, t.units)}" for d in at)
    return (
        f" Or the strip is the ruler: its {top} held at the top pin, the others belong at its {' and '.join(others)}."
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
