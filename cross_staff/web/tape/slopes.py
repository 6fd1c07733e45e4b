"""Slopes and reach: the cut chart, how far it goes and what would take it farther, wind, the air of a trip."""

from __future__ import annotations

import math

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.ranges import Range
from cross_staff.core.tape.comparison import Weather
from cross_staff.services.mount.page import planned_here
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import reach_words
from cross_staff.web.shared.words import whole_distance
from cross_staff.web.tape import words
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.slope_tables import cut, slopes_of, trip_table, wind
from cross_staff.web.tape.tables import Table, TapeView, kept, tape_view

router = APIRouter()
SLOPE_SPAN = Range(math.radians(1.0), math.radians(60.0))
MOST_SLOPES = 8
AIR = {
    "here_m": ("altitude", Range(-400.0, 5000.0), "0"),
    "here_c": ("temperature", Range(-40.0, 55.0), "15"),
    "there_m": ("altitude", Range(-400.0, 5000.0), ""),
    "there_c": ("temperature", Range(-40.0, 55.0), ""),
}


@router.get("/rigs/{rig_id}/tape/slopes")
def slopes_page(request: Request, rig_id: int) -> Response:
    """Cut charts, reach with remedies, crosswind, and a trip. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/slopes")
    form = slope_form(request, t)
    up, down = (form.numbers(name, "angle", SLOPE_SPAN) for name in ("up", "down"))
    for name, slopes in (("up", up), ("down", down)):
        if len(slopes) > MOST_SLOPES:
            form.errors[name] = f"at most {MOST_SLOPES} slopes"
    tables: list[Table] = []
    if not form.errors:
        slopes_down = [-slope for slope in sorted(down)]
        tables = kept(t, ("cut", up, down), lambda: [cut(t, True, sorted(up)), cut(t, False, slopes_down)])
    reach, why = kept(t, "reach", lambda: _reach(t))
    tables = [*tables, *reach, kept(t, "wind", lambda: wind(t))]
    here, there = weathers(form)
    if there is not None and not form.errors:
        tables.append(trip_table(t, here, there))
    steepest = max((*up, 0.0))
    say = "Dial the cut distance, not the ranged one." if steepest else "How far it goes."
    return tape_page(
        request,
        rig,
        "/slopes",
        "tape/slopes.html",
        tables,
        form,
        say=say,
        why=why,
        caution=words.CAUTION_SLOPE,
    )


def slope_form(request: Request, t: TapeView) -> FormInput:
    """The slopes and the air of the query; what is not asked comes from the card and the newest session."""
    session = t.rig.session
    usual = {
        "up": t.units.listed("angle", slopes_of(t.card, True)),
        "down": t.units.listed("angle", [-s for s in slopes_of(t.card, False)]),
    } | {name: text for name, (_, _, text) in AIR.items()}
    if session is not None and session.temperature_c is not None:
        usual["here_c"] = t.units.plain("temperature", session.temperature_c)
    typed = usual | {k: v for k, v in request.query_params.items() if k in usual and v.strip()}
    return FormInput(typed, t.units)


def weathers(form: FormInput) -> tuple[Weather, Weather | None]:
    """The air that the marks were shot in, and that of a trip; None where no trip is asked."""
    values = {name: form.number(name, quantity, span) for name, (quantity, span, _) in AIR.items()}
    here = Weather(values["here_m"] or 0.0, 15.0 if values["here_c"] is None else values["here_c"])
    if values["there_m"] is None and values["there_c"] is None:
        return here, None
    there_m = here.altitude_m if values["there_m"] is None else values["there_m"]
    return here, Weather(there_m, here.temperature_c if values["there_c"] is None else values["there_c"])


def _reach(t: TapeView) -> tuple[list[Table], str]:
    """How far the sight goes as it is mounted, which limit binds, and what each remedy buys."""
    here = planned_here(t.rig)
    if here is None:
        return [], "The mount planner lacks something on the card."
    limits: list[list[str]] = [
        [reach_words.LIMITS[name], reach_words.distance(d, t.units)] for name, d in here.reach.limits.items()
    ]
    tables = [Table("reach", "What ends the reach", ("limit", "reaches"), limits)] if limits else []
    wanted = t.card.goals.farthest_m
    words_of = f"As it is mounted it goes to {reach_words.reach(here.reach, t.units)}"
    if len(t.heights) > 1 and here.reach.by_pin:
        words_of += f" with the {t.pin_name(here.reach.pin)}"
    if here.reach.binding:
        words_of += f": {reach_words.LIMITS[here.reach.binding]}"
    bought = [list(reach_words.remedy_cells(r, t.units)) for r in t.remedies()]
    if bought:
        note = "Each by itself, as far as it would then go."
        tables.append(Table("remedies", "What would take it farther", ("remedy", "reaches"), bought, note))
    if not here.far_enough(wanted):
        words_of += f"; {whole_distance(t.units, wanted or 0.0)} is wanted"
    lacks = " ".join(filter(None, (reach_words.not_known(here.reach), reach_words.arrow_flies(here.reach, t.units))))
    return tables, f"{words_of}. {lacks}".rstrip()
