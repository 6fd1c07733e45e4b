"""What the axes are read with: vials and their calibration, the reference's reversal, the tolerance."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.level.vials import line_from_shim, reversal
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import INSTRUMENT_KINDS, SEATS, LevelSetup, Vial
from cross_staff.core.rig.limits import LIMITS, VIAL_LINE_RAD
from cross_staff.services.card import save as card_service
from cross_staff.services.level import instruments
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.card.fields import NumberField
from cross_staff.web.forms.form import FormInput, TypedForm, based_on, until_kept, whole
from cross_staff.web.forms.merge import merged, seen_text, units_seen, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words as level_words
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
VIALS = {
    "reference": "Reference level",
    "sight": "Sight's vial",
    "rail": "Level for the rail",
    "string": "Level for the string",
    "jig": "Level of the bench jig",
}
REVERSIBLE = ("reference", "rail", "string")
_LINES = Range(-5.0, 5.0)
FIELDS = {
    field.name: field
    for field in (
        *(
            NumberField(f"{key}_line", f"{name}, a line", "angle", VIAL_LINE_RAD, "empty: not calibrated")
            for key, name in VIALS.items()
        ),
        *(
            NumberField(f"{key}_settle", f"{name}, settles in", "seconds", LIMITS[f"level.{key}.settle_s"])
            for key, name in VIALS.items()
        ),
        *(
            NumberField(f"{key}_lines", f"{name}, lines a side", "count", LIMITS[f"level.{key}.lines"])
            for key, name in VIALS.items()
        ),
        NumberField("first_way", "Read one way", "plain", _LINES, "lines, left is minus"),
        NumberField("turned_way", "Turned end for end", "plain", _LINES, "towards the same side of the room"),
        NumberField(
            "yaw",
            "Its own yaw there",
            "angle",
            LIMITS["level.yaw_rad"],
            "right end forward; 0 when square",
        ),
        NumberField(
            "tolerance", "May cost sideways", "offset", LIMITS["level.tolerance_m"], "at the farthest, steepest target"
        ),
        NumberField("shim", "Shim under one end", "mark", Range(0.05, 20.0)),
        NumberField("base", "Length it stands on", "mark", Range(20.0, 2000.0)),
        NumberField("moved", "The bubble moved", "plain", Range(0.1, 10.0), "lines"),
    )
}


@router.get("/rigs/{rig_id}/level/setup")
def setup_page(request: Request, rig_id: int, saved: int = 0) -> Response:
    """Vials, reference and tolerance. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    texts = _filled(rig.card.level, units)
    form = FormInput(texts, units, _values(rig.card.level), seen=seen_text(texts, rig.units))
    return _page(request, rig, form, "Saved." if saved else "")


@router.post("/rigs/{rig_id}/level/setup")
def save_setup(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Save them, as a revision of the card, joined with what was saved meanwhile. Raises NotFound."""
    return until_kept(lambda: _save(request, rig_id, typed))


def _save(request: Request, rig_id: int, typed: dict[str, str]) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    units = units_seen(typed, rig.units)
    form = FormInput(typed, units, _values(rig.card.level))
    outdated = based_on(form) not in (0, rig.revision.number)
    form.take(merged(typed, _filled(rig.card.level, units), units.keys(), outdated=outdated))
    if form.conflicts:
        return _page(request, rig, form, waits(form.conflicts), 409)
    setup = _read(form, rig.card.level, date.today())
    if not form.errors:
        setup = _from_shop(request, form, setup)
    if form.errors or (form.notes.get("turned_way") and form.typed.get("sure") != "yes"):
        form.errors |= {k: v for k, v in form.notes.items() if k == "turned_way"}
        return _page(request, rig, form, "", 422)
    card, number = replace(rig.card, level=setup), rig.revision.number
    card_service.save(database, rig_id, number, card, rig.units, datetime.now(UTC), "vials and reference")
    return RedirectResponse(f"/rigs/{rig_id}/level/setup?saved=1", 303)


def _from_shop(request: Request, form: FormInput, setup: LevelSetup) -> LevelSetup:
    """The setup with the shop's instruments that were chosen in place of the rig's own vials."""
    for kind in INSTRUMENT_KINDS:
        number = whole(form.typed.get(f"shop_{kind}", ""))
        before = setup.instrument(kind)
        try:
            if number != before:
                setup = instruments.chosen(request.app.state.database, setup, kind, number)
        except NotFound as error:
            form.errors[f"shop_{kind}"] = f"{error}: choose another"
    return setup


def _values(setup: LevelSetup) -> dict[str, float | None]:
    values: dict[str, float | None] = {"yaw": setup.yaw_rad, "tolerance": setup.tolerance_m}
    for key in VIALS:
        vial: Vial = getattr(setup, key)
        values |= {
            f"{key}_line": vial.per_division_rad,
            f"{key}_settle": vial.settle_s,
            f"{key}_lines": float(vial.lines),
        }
    return values


def _filled(setup: LevelSetup, units: Units) -> dict[str, str]:
    values = _values(setup)
    texts = {name: units.plain(FIELDS[name].quantity, value, _places(name)) for name, value in values.items()}
    return texts | {
        **{f"shop_{kind}": str(setup.instrument(kind) or "") for kind in INSTRUMENT_KINDS},
        "seat": setup.seat,
        "seat_words": setup.seat_words,
        "proved": "yes" if setup.yaw_proved else "no",
    }


def setup_texts(setup: LevelSetup, units: Units) -> dict[str, str]:
    """What the axes are read with, by the labels of its fields, units behind the numbers."""
    typed = _filled(setup, units)
    texts = {
        FIELDS[name].label: f"{text} {units.label(FIELDS[name].quantity)}".strip()
        for name, text in typed.items()
        if name in FIELDS and text
    }
    texts |= {f"{VIALS[key]}, by reversal": level_words.own_error(getattr(setup, key)) for key in REVERSIBLE}
    return texts | {"Seat": SEATS[setup.seat], "Proved square there": "yes" if setup.yaw_proved else "no"}


def _places(name: str) -> int | None:
    return 3 if name.endswith("_line") else None


def _read(form: FormInput, kept: LevelSetup, today: date) -> LevelSetup:
    numbers = {name: form.number(name, spec.quantity, spec.span, _places(name)) for name, spec in FIELDS.items()}
    lines = {key: numbers[f"{key}_line"] for key in VIALS}
    calibrated = form.choice("cal_vial", ("", *VIALS))
    if calibrated:
        made = _calibrated(form, numbers)
        lines[calibrated] = lines[calibrated] if made is None else made
    vials: dict[str, Any] = {
        key: replace(
            getattr(kept, key),
            per_division_rad=lines[key],
            settle_s=numbers[f"{key}_settle"],
            lines=int(numbers[f"{key}_lines"] or Vial.lines),
        )
        for key in VIALS
    }
    one, other = numbers["first_way"], numbers["turned_way"]
    if (one is None) != (other is None):
        form.errors.setdefault("turned_way" if other is None else "first_way", "both readings, or neither")
    if one is not None and other is not None:
        tested = reversal(one, other)
        if tested.doubtful:
            form.notes["turned_way"] = "a large error of its own: were both read towards the same side of the room?"
        turned = form.choice("reversed", REVERSIBLE)
        if kept.instrument(turned) is not None:
            form.errors["reversed"] = "this one is the shop's: prove it on the level page, or among the instruments"
        vials[turned] = replace(vials[turned], roll_error_div=tested.error, reversed_on=today)
    proved = form.choice("proved", ("no", "yes")) == "yes"
    of_shop = {kind: getattr(kept, kind) for kind in INSTRUMENT_KINDS if kept.instrument(kind) is not None}
    return replace(
        kept,
        **(vials | of_shop),
        seat=form.choice("seat", tuple(SEATS)),
        seat_words=form.text("seat_words", 120),
        yaw_rad=numbers["yaw"] or 0.0,
        yaw_proved=proved,
        tolerance_m=numbers["tolerance"],
    )


def _calibrated(form: FormInput, numbers: dict[str, float | None]) -> float | None:
    """Radians a line from a known tilt: a shim under one end of a known length."""
    shim, base, moved = numbers["shim"], numbers["base"], numbers["moved"]
    for name in ("shim", "base", "moved"):
        if numbers[name] is None and name not in form.errors:
            form.errors[name] = "needed to calibrate"
    if shim is None or base is None or moved is None:
        return None
    with form.refusals():
        return line_from_shim(shim, base, moved)
    return None


def _page(request: Request, rig: Rig, form: FormInput, said: str, status: int = 200) -> Response:
    errors = {key: level_words.own_error(getattr(rig.card.level, key)) for key in REVERSIBLE}
    yaw_sd = rig.card.level.yaw_of(rig.card.level.seat)[1]
    context = rig_context(rig, "level", date.today()) | {
        "form": form,
        "changed_at": local_time(rig.revision.saved),
        "labels": {name: spec.label for name, spec in FIELDS.items()},
        "fields": FIELDS,
        "vials": VIALS,
        "seats": tuple(SEATS.items()),
        "said": said,
        "refused": status >= 400,
        "reversible": [(key, VIALS[key]) for key in REVERSIBLE],
        "reversed": {key: words for key, words in errors.items() if words},
        "proved": level_words.own_error(rig.card.level.reference),
        "yaw_sd": f"{math.degrees(1.96 * yaw_sd):.1f}°" if yaw_sd else "",
        "shop": _shop_choices(request, rig.card.level),
        "from_shop": dict(rig.card.level.from_shop),
    }
    return render(request, "level/setup.html", status, **context)


def _shop_choices(request: Request, setup: LevelSetup) -> dict[str, list[tuple[str, str]]]:
    """The shop's instruments of each kind, to choose from; one that was removed stays choosable where it is in use."""
    database = request.app.state.database
    known = {kept.instrument: kept for kept in instruments.kept(database)}
    for _, number in setup.from_shop:
        known.setdefault(number, instruments.find(database, number))
    return {
        kind: [("", "this rig's own"), *((str(n), k.record.name) for n, k in known.items() if k.record.kind == kind)]
        for kind in INSTRUMENT_KINDS
    }
