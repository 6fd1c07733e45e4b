"""A dialled sight: how a distance is shot, what every pin is worth, where the pointers go, the little picture."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.pins import may_be_dialled
from cross_staff.core.rig.schools import DIALLED
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as range_service
from cross_staff.web.forms.form import FormInput, wants_fragment
from cross_staff.web.forms.sliders import slider_number
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.render import render
from cross_staff.web.shared.words import whole_distance
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.pin_tables import answer_words, dialled, pointers, ways
from cross_staff.web.tape.sight_drawing import sight_picture
from cross_staff.web.tape.tables import Shown, Table, TapeView, kept, marks, shown_in, tape_view

router = APIRouter()
_MOST_MM = 500.0


@router.get("/rigs/{rig_id}/tape/dialled")
def dialled_page(request: Request, rig_id: int) -> Response:
    """What every pin is worth when dialled, which pin to dial, where indicators go. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/dialled")
    at = request.query_params.get("at", "")
    if at and wants_fragment(request) and t.card.sight_kind.dialled:  # the slider asks for the picture alone
        return render(
            request, "tape/_sight_picture.html", picture=sight_picture(t, None, slider_number(at, 0.0, _MOST_MM))
        )
    typed = {name: request.query_params.get(name, "") for name in ("wanted", "shown")}
    form = FormInput({"shown": typed["shown"] or Shown.HAND.value, "wanted": typed["wanted"]}, units)
    wanted = form.number("wanted", "distance", DISTANCE_SPAN)
    shown = form.choice("shown", tuple(key for key, _ in shown_in(t.card.sight)))
    say, why = (
        "Ask for a distance.",
        "A pin that holds it with the sight at home, else a pointer and the number under it.",
    )
    answer = None
    if wanted is not None:
        answer = kept(t, ("answer", wanted), lambda: t.answers([wanted])[0])
        say, why = answer_words(t, whole_distance(units, wanted), answer)
    moves, pins = t.card.sight_kind.dialled, t.evaluation.pins
    several = len(t.heights) > 1
    return tape_page(
        request,
        rig,
        "/dialled",
        "tape/dialled.html",
        _dialled_tables(t, wanted, Shown(shown) if shown else Shown.HAND),
        form,
        say=say if moves or wanted is not None else "Nothing is dialled on this sight.",
        why=why
        if moves or wanted is not None
        else "Its pins stand still: ask for a distance, and it says which holds it.",
        moves=moves,
        picture=sight_picture(t, answer, slider_number(at, 0.0, _MOST_MM) if at else None) if moves else None,
        schools=_schools(t) if several else [],
        begins=whole_distance(units, round(t.evaluation.tape_home_m or 0.0, 1)),
        own_home=pins.dialled > 0,
        home=whole_distance(units, t.card.goals.home_m or 0.0),
        dialled_name=t.pin_name(pins.dialled),
        shown_in=shown_in(t.card.sight) if moves else [],
        pointers=len(pins.pointed),
    )


def _dialled_tables(t: TapeView, wanted_m: float | None, shown: Shown) -> list[Table]:
    moves, several = t.card.sight_kind.dialled, len(t.heights) > 1
    if not moves:
        return [kept(t, ("ways", wanted_m), lambda: ways(t, wanted_m))]
    tables = [kept(t, ("ways", wanted_m), lambda: ways(t, wanted_m))]
    if several:
        tables += kept(t, ("several", wanted_m), lambda: [dialled(t, wanted_m), pointers(t)])
    return [*tables, kept(t, ("marks", shown), lambda: marks(t, shown))]


def _schools(t: TapeView) -> list[tuple[str, str, str, bool]]:
    """Which pins the tape can be laid on for: key, name, why, and whether it is that one now."""
    pins, kind = t.evaluation.pins, t.card.sight_kind
    if not kind.asks(DIALLED):
        return []
    options = may_be_dialled(t.card.sight, len(pins.at_m))
    told = []
    for pin in options:
        key = "near" if pin == options[0] else "far" if pin == options[-1] else f"pin{pin + 1}"
        told.append((key, t.pin_name(pin), DIALLED.school(key).why, pin == pins.dialled))
    return told if len(told) > 1 else []


@router.post("/rigs/{rig_id}/tape/dialled/{school}")
def choose_dialled(request: Request, rig_id: int, school: str) -> Response:
    """Which pin goes with the wheel: the near or the far one. Raises NotFound, InvalidValue."""
    range_service.choose(request.app.state.database, rig_id, "dialled", school, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/tape/dialled", 303)
