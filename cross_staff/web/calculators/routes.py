"""Quick calculators on one page: the bow once, and five questions that it answers."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import CrossStaffError
from cross_staff.core.ranges import Range
from cross_staff.core.rig.limits import LIMITS
from cross_staff.services import calculators
from cross_staff.services.card.short import usual
from cross_staff.web.card.fields import NumberField
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import UNIT_SETS, Units, trimmed
from cross_staff.web.shared.render import render
from cross_staff.web.shared.words import on_target, whole_distance

router = APIRouter()
_DISTANCE, _SLOPE = Range(2.0, 150.0), Range(math.radians(-60.0), math.radians(60.0))
# name, label, quantity, range, hint, and what stands there to begin with
_FIELDS = (
    ("speed", "Speed", "speed", LIMITS["builds.sessions.readings_mps"], "of the arrow, at the bow", 86.0),
    ("mass", "Arrow mass", "mass", LIMITS["builds.measured_mass_kg"], "", 0.027),
    ("across", "Shaft diameter", "diameter", LIMITS["builds.shaft_diameter_m"], "", 0.0062),
    ("eye", "Eye to sight", "length", LIMITS["eye_to_sight_m"], "peep to pin, at full draw", 0.8),
    ("peep", "Peep height", "length", LIMITS["peep.square_m"], "square to the arrow", 0.1),
    ("at", "Distance", "distance", _DISTANCE, "", 50.0),
    ("off", "Out by", "angle", Range(0.0, math.radians(10.0)), "", math.radians(1.0)),
    ("steep", "On a slope of", "angle", _SLOPE, "down is minus", math.radians(20.0)),
    ("along", "Distance along it", "distance", _DISTANCE, "", 50.0),
    ("angle", "Slope", "angle", _SLOPE, "down is minus", math.radians(25.0)),
    ("near", "Near pin", "distance", _DISTANCE, "", 20.0),
    ("far", "Far pin", "distance", _DISTANCE, "", 40.0),
    ("length", "Shaft length", "length", LIMITS["builds.shaft_length_m"], "nock throat to end of shaft", 0.72),
    ("density", "Shaft weight", "density", LIMITS["builds.shaft_kg_per_m"], "per length", 0.017),
    ("front", "At the point's end", "mass", LIMITS["builds.components.mass_kg"], "point, insert, collar", 0.009),
    ("rear", "At the nock's end", "mass", LIMITS["builds.components.mass_kg"], "nock, vanes, wrap", 0.0018),
    ("group", "Usual group", "offset", LIMITS["goals.group_size_m"], "six arrows, across", 0.1),
    ("within", "To know its middle within", "offset", Range(0.001, 1.0), "19 times in 20", 0.02),
)  # fmt: skip
FIELDS = {name: NumberField(name, label, quantity, span, hint) for name, label, quantity, span, hint, _ in _FIELDS}
_BEGIN = {name: begin for name, *_, begin in _FIELDS}
BOW = ("speed", "mass", "across", "eye", "peep")


@router.get("/calculators")
def calculators_page(request: Request) -> Response:
    """Five quick questions about any bow; nothing is kept."""
    query = request.query_params
    last = usual(request.app.state.database)
    units = UNIT_SETS.get(query.get("units", ""), Units.of(last.units) if last else Units())
    begin = {name: _round(units.from_si(field.quantity, _BEGIN[name])) for name, field in FIELDS.items()}
    was = UNIT_SETS.get(query.get("typed_in", ""), units)
    typed = {name: query[name] for name in FIELDS if name in query}
    if was != units:  # the units were changed: what was typed is read in the old ones
        typed = _converted(typed, was, units)
    form = FormInput(begin | typed, units)
    values = {name: _value(form, name) for name in FIELDS}
    return render(
        request,
        "calculators/page.html",
        200 if not form.errors else 422,
        form=form,
        fields=FIELDS,
        bow=BOW,
        shown_in=next((key for key, each in UNIT_SETS.items() if each == units), ""),
        unit_sets=[(key, each.words) for key, each in UNIT_SETS.items()],
        answers=_answers(values, units),
    )


def _round(value: float) -> str:
    """Two figures: a number to begin with."""
    return trimmed(float(f"{value:.2g}"), 3)


def _value(form: FormInput, name: str) -> float | None:
    value = form.number(name, FIELDS[name].quantity, FIELDS[name].span)
    if value is None and name not in form.errors:
        form.errors[name] = "type a number"
    return value


def _converted(typed: Mapping[str, str], was: Units, units: Units) -> dict[str, str]:
    old, told = FormInput(typed, was), dict(typed)
    for name in typed:
        value = old.number(name, FIELDS[name].quantity, FIELDS[name].span)
        if value is not None:
            told[name] = units.plain(FIELDS[name].quantity, value)
    return told


def _answers(values: Mapping[str, float | None], units: Units) -> dict[str, str]:
    """What each calculator says; where a field of it is wrong, that."""
    known = {name: value for name, value in values.items() if value is not None}

    def told(needs: tuple[str, ...], say: Callable[[], str]) -> str:
        if any(name not in known for name in needs):
            return "Not told: a field needs another look."
        try:
            return say()
        except CrossStaffError as error:
            return f"No answer: {getattr(error, 'message', error)}."

    def figures() -> RigFigures:
        return calculators.figures_of(*(known[name] for name in BOW))

    return {
        "degree": told((*BOW, "at", "off", "steep"), lambda: _degree(figures(), known, units)),
        "slope": told((*BOW, "along", "angle"), lambda: _slope(figures(), known, units)),
        "pins": told((*BOW, "near", "far"), lambda: _pins(figures(), known, units)),
        "arrow": told(("length", "density", "front", "rear"), lambda: _arrow(known, units)),
        "arrows": told(("group", "within"), lambda: _arrows(known, units)),
    }


def _degree(figures: RigFigures, known: Mapping[str, float], units: Units) -> str:
    cost = calculators.degree(figures, known["at"], known["off"], known["steep"])
    if cost.canted_m is None:
        return "The arrow does not get there."
    at = whole_distance(units, known["at"])
    said = (
        f"A bow held out of plumb by that hits {on_target(units, cost.canted_m)} to the side that it leans to, at {at}."
    )
    if cost.third_m is None:
        return said
    return f"{said} A third axis that is off by it costs {on_target(units, cost.third_m)} sideways on that slope."


def _slope(figures: RigFigures, known: Mapping[str, float], units: Units) -> str:
    cut = calculators.slope(figures, known["along"], known["angle"])
    if not cut.reached:
        return "The arrow does not get there."
    if cut.level_m is None:
        return "No level distance is shot like that: the arrow would still be high."
    uncut = "" if cut.uncut_m is None else f" Dialled as if level, it hits {_high(units, cut.uncut_m)}."
    return f"Dial {units.show('distance', cut.level_m, 1)}.{uncut}"


def _high(units: Units, up_m: float) -> str:
    return f"{on_target(units, up_m)} {'high' if up_m > 0 else 'low'}"


def _pins(figures: RigFigures, known: Mapping[str, float], units: Units) -> str:
    apart = calculators.pins_apart(figures, known["near"], known["far"])
    if apart is None:
        return "The arrow does not get there."
    side = "below" if apart >= 0 else "above"
    return (
        f"The far pin stands {units.show('length', abs(apart), 2 if units.length == 'in' else 1)} {side} the near one."
    )


def _arrow(known: Mapping[str, float], units: Units) -> str:
    made = calculators.balance(known["length"], known["density"], known["front"], known["rear"])
    mass = units.show("mass", made.mass_kg, 0 if units.mass == "gr" else 1)
    point = units.show("length", made.balance_from_throat_m, 0 if units.length == "mm" else 2)
    return f"{mass}, {made.foc_percent:.1f} % front of centre; it balances {point} from the nock throat."


def _arrows(known: Mapping[str, float], units: Units) -> str:
    count = calculators.arrows(known["group"], known["within"])
    more = " or more: no group tells that" if count >= calculators.MOST_ARROWS else ""
    return f"{count} arrow{'' if count == 1 else 's'}{more}. On one day: another day moves the middle too."
