"""A change of arrow or draw weight: the new tape before a shot, over the old one, and how to confirm it."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.station import ARROWS_TO_SHOOT
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape import carry_over as service
from cross_staff.web.card.fields import NUMBERS
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared import reach_words
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import words
from cross_staff.web.tape.carry_over_drawing import change_drawing
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.tables import Table, TapeView, tape_view

router = APIRouter()


@router.get("/rigs/{rig_id}/tape/change")
def change_page(request: Request, rig_id: int) -> Response:
    """What another arrow or draw weight makes of the tape. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t, was = tape_view(rig, units), service.before(rig)
    if t is None:
        return no_tape(request, rig, "/change")
    form = FormInput({k: request.query_params.get(k, "") for k in ("to", "draw_weight")}, units)
    shown: dict[str, Any] = {
        "say": "Choose what changes.",
        "why": "Another arrow of the card, or another draw weight: the tape that was shot is carried over to it.",
    }
    if was is None:
        shown = {"say": "Shoot marks first.", "why": "There is no tape yet that could be carried over."}
    else:
        shown |= _carried(t, was, form)
        shown["tables"] = [*shown.get("tables", ()), *_side_by_side(t, was)]
    builds = [(str(i), b.name or f"build {i + 1}") for i, b in enumerate(rig.card.builds)]
    return tape_page(
        request,
        rig,
        "/change",
        "tape/carry_over.html",
        form=form,
        caution=words.CAUTION_NEW_ARROW,
        builds=builds,
        now_differs=_differs(rig, was),
        was=was is not None,
        draw=NUMBERS["draw_weight"],
        **({"drawing": None} | shown),
    )


def _differs(rig: Rig, was: service.Before | None) -> bool:
    """Whether the rig has changed since its marks were shot."""
    return was is not None and was.revision != rig.revision.number


def _carried(t: TapeView, was: service.Before, form: FormInput) -> dict[str, Any]:
    spec = NUMBERS["draw_weight"]
    weight = form.number("draw_weight", spec.quantity, spec.span)
    to = form.choice("to", ("", *map(str, range(len(t.card.builds)))))
    build = int(to) if to else None
    if form.errors or not (to or weight is not None or _differs(t.rig, was)):
        return {}
    try:
        card = service.wanted_card(t.rig, was, build, weight)
        ranged = t.distances(was.evaluation.tape_home_m, every=5.0)
        outlook = service.outlook(was, card, ranged, t.rig.setting)
    except InvalidValue as error:
        if error.field == "to":
            if to or weight is not None:  # a page that was only opened refuses nothing
                form.errors["to"] = error.message
            return {}
        return {"problem": f"{error.field[0].upper()}{error.field[1:]} {error.message}."}
    except CrossStaffError as error:
        return {"problem": f"{error}."}
    return _said(t, was, outlook, ranged) | {"drawing": change_drawing(t, was, outlook, ranged)}


def _side_by_side(t: TapeView, was: service.Before) -> list[Table]:
    """What each arrow of the card costs when it is shot by another's tape; none where there is but one."""
    builds, units = t.card.builds, t.units
    if len(builds) < 2:
        return []
    ranged = t.distances(was.evaluation.tape_home_m, every=10.0)
    made = service.side_by_side(t.rig, was, ranged)
    names = [build.name or f"build {n}" for n, build in enumerate(builds, start=1)]
    heads = (t.unit, *(f"“{names[each.shot]}” by the tape of “{names[each.tape]}”" for each in made))
    rows = [[t.number(d), *(words.high_low(units, each.up_m[n]) for each in made)] for n, d in enumerate(ranged)]
    note = (
        f"How high or low arrows hit, {units.label('offset')}, the sight where the other arrow's tape is laid on. "
        "By speed and drag alone: a group at home shows what else the other arrow does."
    )
    return [Table("side_by_side", "Each arrow by the other's tape", heads, rows, note)] if made else []


def _said(t: TapeView, was: service.Before, outlook: service.Outlook, ranged: list[float]) -> dict[str, Any]:
    units, changed = t.units, outlook.changed
    marks = " and ".join(whole_distance(units, round(each.distance_m, 1)) for each in outlook.confirm)
    before = outlook.confirm[0].sd_at_farthest_m_now if outlook.confirm else 0.0
    then, now = (units.show("speed", v, 1) for v in (changed.speed_then_mps, changed.speed_now_mps))
    home = f"{abs(changed.home_shift_mm):.1f} mm {'farther down' if changed.home_shift_mm > 0 else 'up'}"
    chronograph = "its own chronograph heard" if changed.chronographed else "by the energy of the bow"
    why = f"{then} becomes {now}, {chronograph}; drag × {changed.drag_factor:.2f}; home moves {home}."
    if t.card.sight_kind.dialled:
        why += f" The sight then goes to {reach_words.reach(outlook.reach, units)}."
    if outlook.confirm:
        last = outlook.confirm[-1].sd_at_farthest_m_then
        narrows = f"from ± {on_target(units, COVERAGE * before)} to ± {on_target(units, COVERAGE * last)}"
        why += f" {ARROWS_TO_SHOOT} arrows at each take the farthest {narrows}."
    rows = [
        [
            t.number(d),
            "–" if row.old_mm is None else fixed(row.old_mm, 1),
            "–" if row.new_mm is None else fixed(row.new_mm, 1),
            "–" if row.sd_m is None else f"± {on_target(units, COVERAGE * row.sd_m)}",
            words.high_low(units, row.up_m),
        ]
        for d, row in zip(ranged, outlook.rows)
    ]
    heads = (t.unit, "old tape, mm", "new tape, mm", "new, on the target", f"old mark shoots, {units.label('offset')}")
    of_pin = f", {t.pin_name(was.evaluation.pins.dialled)}" if len(t.heights) > 1 else ""
    note = (
        f"Both counted from the old home mark (revision {was.revision}). Rest, nocking point and anchor are taken to "
        "be as they were."
    )
    return {
        "say": f"Confirm it at {marks}." if marks else "Shoot the home mark again.",
        "why": why,
        "tables": [Table("change", f"Old and new tape{of_pin}", heads, rows, note)],
    }
