"""Explanations: a list, and each with its sliders, small or over the whole screen."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.explain.explainers import EXPLAINERS, Explainer
from cross_staff.services.explain import Explained, explained
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.explain.drawing import BOTTOM, HEIGHT, LEFT, RIGHT, TOP, WIDTH, chart
from cross_staff.web.explain.words import says, value_words
from cross_staff.web.forms.form import wants_fragment, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.render import render

router = APIRouter()
_FRAME = {"width": WIDTH, "height": HEIGHT, "left": LEFT, "right": WIDTH - RIGHT, "top": TOP, "bottom": HEIGHT - BOTTOM}


@router.get("/explain")
def listed(request: Request) -> Response:
    """All explanations. Raises NotFound for a rig that there is not."""
    rig = _rig(request)
    return render(request, "explain/list.html", explainers=list(EXPLAINERS.values()), of=_of(rig), rig_name=_name(rig))


@router.get("/explain/{key}")
def shown(request: Request, key: str) -> Response:
    """One, as its sliders stand; its picture alone where htmx asks. Raises NotFound."""
    rig = _rig(request)
    units = Units.of(rig.units) if rig is not None else Units()
    told = explained(key, _given(request, EXPLAINERS.get(key)), rig)
    context = _context(told, units) | {"of": _of(rig), "rig_name": _name(rig), "full": "full" in request.query_params}
    context["alone"] = wants_fragment(request)
    return render(request, "explain/_told.html" if wants_fragment(request) else "explain/page.html", **context)


def _rig(request: Request) -> Rig | None:
    number = whole(request.query_params.get("rig", ""))
    return None if number is None else open_rig(request.app.state.database, number)


def _of(rig: Rig | None) -> int | None:
    return None if rig is None else rig.rig_id


def _name(rig: Rig | None) -> str:
    return "" if rig is None else rig.card.name


def _given(request: Request, explainer: Explainer | None) -> dict[str, float | None]:
    """What the sliders sent; what is no number is passed over."""
    given: dict[str, float | None] = {}
    for slider in explainer.sliders if explainer else ():
        try:
            given[slider.key] = float(request.query_params.get(slider.key, ""))
        except ValueError:
            given[slider.key] = None
    return given


def _context(told: Explained, units: Units) -> dict[str, Any]:
    return {
        "explainer": told.explainer,
        "own": told.own,
        "sliders": [(s, told.values[s.key], value_words(s, told.values[s.key], units)) for s in told.explainer.sliders],
        "says": says(told, units),
        "chart": chart(told.explainer, told.picture, units) if told.picture and _any(told) else None,
        "frame": _FRAME,
    }


def _any(told: Explained) -> bool:
    """Whether there is anything to draw."""
    picture = told.picture
    return picture is not None and any((*picture.curves.values(), *picture.points.values()))
