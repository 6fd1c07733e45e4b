"""Two kinds of group held against each other."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.prove.pairs import PAIRS, PairKind
from cross_staff.core.ranges import Range
from cross_staff.services.prove import record as service
from cross_staff.services.prove import sides
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import side_words, words
from cross_staff.web.prove.form import blank, read_line
from cross_staff.web.prove.routes import ways_between
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
MOST_NAME = 24
CANT_RAD = Range(math.radians(-20.0), math.radians(20.0))
CANT_TRIED = math.radians(3.0)
NO_TAPE = "none"


@router.get("/rigs/{rig_id}/prove/pairs")
def pairs_page(request: Request, rig_id: int, kind: str = "", name: str = "") -> Response:
    """What was held against what, and the form for one group more. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    chosen = kind if kind in set(PairKind) else PairKind.POINTS.value
    farthest = max(rig.card.goals.pin_distances_m, default=rig.card.goals.home_m)
    fields = blank(units, date.today(), farthest, 6) | {"kind": chosen, "name": name[:MOST_NAME], "side": "0"}
    return _page(request, rig, FormInput(fields, units))


@router.post("/rigs/{rig_id}/prove/pairs")
def save_group(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep a group of one of the two kinds. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    units = Units.of(rig.units)
    nothing = dict.fromkeys((*blank(units, date.today(), None, 6), "name", "side"), "")
    form = FormInput(nothing | typed | {"dialled": NO_TAPE}, units)
    kind = PairKind(form.choice("kind", tuple(PairKind)))
    side, name = int(form.choice("side", ("0", "1"))), form.text("name", MOST_NAME).replace(":", " ")
    if kind == PairKind.POINTS and side == 1 and typed.get("butt") != "yes":
        form.errors["butt"] = "hunting points only into a butt that takes them: say that this one does"
    line = read_line(form, datetime.now(UTC), None, "", sides.pair_label(kind, side, name))
    if line is not None:
        with form.refusals({"ranged": "distance"}):
            service.enter(database, rig_id, replace(line, dialled_m=None))
    if form.errors:
        return _page(request, rig, form, 422)
    return RedirectResponse(f"/rigs/{rig_id}/prove/pairs?{urlencode({'kind': kind.value, 'name': name})}", 303)


@router.post("/rigs/{rig_id}/prove/pairs/{key}/undo")
def undo(request: Request, rig_id: int, key: str) -> Response:
    """Take a group back. Raises NotFound."""
    service.take_back(request.app.state.database, rig_id, key, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/prove/pairs", 303)


def _page(request: Request, rig: Rig, form: FormInput, status: int = 200) -> Response:
    units = Units.of(rig.units)
    kind = PairKind(form.typed["kind"]) if form.typed.get("kind") in set(PairKind) else PairKind.POINTS
    asked = PAIRS[kind]
    context = rig_context(rig, "prove", date.today()) | ways_between("/pairs")
    context |= {
        "form": form,
        "kind": kind.value,
        "kinds": [(each.value, side_words.PAIR_NAMES[each]) for each in PairKind],
        "sides": (("0", asked.first), ("1", asked.second)),
        "points": kind == PairKind.POINTS,
        "pairs": [_told(rig, pair, units) for pair in sides.pairs_of(rig)],
        "cant": _cant(rig, units, form) if kind == PairKind.CANT else "",
        "caution": words.CAUTION_POINTS if kind == PairKind.POINTS else words.CAUTION_RANGE,
    }
    return render(request, "prove/pairs.html", status, **context)


def _told(rig: Rig, pair: sides.Pair, units: Units) -> dict[str, Any]:
    """A pair: what it says, where to look, its groups."""
    asked = PAIRS[pair.kind]
    distance = rig.card.distance_from_sight(pair.distance_m)
    say, how = ("", pair.problem)
    looks: list[str] = []
    if pair.told is not None:
        say, how = side_words.pair_words(pair, pair.told, asked, units, distance)
        looks = [f"{side.capitalize()}: {asked.looks[side]}." for side in pair.told.sides]
    return {
        "name": side_words.PAIR_NAMES[pair.kind] + (f", {pair.name}" if pair.name else ""),
        "say": say or "One of the two is missing.",
        "how": how,
        "real": pair.told is not None and pair.told.real,
        "looks": looks,
        "groups": [
            (word, line.key, line.day.isoformat(), words.line_words(line, units))
            for word, lines in zip((asked.first, asked.second), pair.lines)
            for line in lines
        ],
    }


def _cant(rig: Rig, units: Units, form: FormInput) -> str:
    """What a cant of three degrees should cost where the groups are shot."""
    ranged = rig.card.goals.farthest_m
    pairs = [pair for pair in sides.pairs_of(rig) if pair.kind == PairKind.CANT]
    at = pairs[0].distance_m if pairs else ranged
    cost = None if at is None else sides.cant_cost(rig, at, CANT_TRIED)
    if cost is None or at is None:
        return ""
    right, up = cost
    return (
        f"By the flight, 3° of cant with the top to the right put the arrows {words.sideways(units, right)} and "
        f"{words.high(units, up)} at {words.whole_distance(units, at)}. What hits beside that says what a line of "
        "your bubble is worth."
    )
