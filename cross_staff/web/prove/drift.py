"""Left and right over all distances and slopes: the terms, the causes, what mends them."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.services.prove import sides
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import side_words, words
from cross_staff.web.prove.drawing import sides_of
from cross_staff.web.prove.routes import ways_between
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()


@router.get("/rigs/{rig_id}/prove/drift")
def drift_page(request: Request, rig_id: int) -> Response:
    """Every group with a left and right since windage was last touched, and what they say. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units, page = Units.of(rig.units), sides.drift_of(rig)
    drift = page.drift
    rows = [
        (
            units.as_typed("distance", each.ranged_m),
            units.show("angle", each.group.slope_rad, 0) if each.group.slope_rad else "level",
            words.sideways(units, each.group.right_m),
            units.show("offset", 1.96 * each.group.se_m, 1),
            str(each.arrows),
            each.day,
            side_words.WRITTEN[each.station],
        )
        for each in page.seen
    ]
    context = rig_context(rig, "prove", date.today()) | ways_between("/drift")
    context |= {
        "rows": rows,
        "problem": page.problem,
        "chart": sides_of(page.seen, units) if page.seen else None,
        "terms": [(side_words.TERMS[name], side_words.term_words(name, known)) for name, known in drift.terms.items()]
        if drift
        else [],
        "causes": [
            {
                "name": side_words.CAUSES[each.cause],
                "chance": side_words.chance_words(each.chance),
                "why": each.why,
                "check": each.check,
                "station": each.station,
                "mend": side_words.mend_words(each.cause, drift) if each.amount_told else "",
            }
            for place, each in enumerate(drift.causes)
            if each.told or not place
        ]
        if drift
        else [],
        "untold": ", ".join(
            side_words.CAUSES[each.cause].lower() for place, each in enumerate(drift.causes) if place and not each.told
        )
        if drift
        else "",
        "told": drift is not None and drift.told is not None,
        "apart": side_words.apart_words(drift) if drift else "",
        "caution": words.CAUTION_RANGE,
    }
    return render(request, "prove/drift.html", **context)
