"""The bench sheet's page: one line to work on, the sheet beside it, the gate, the log."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.prepare import station as prepare
from cross_staff.core.prepare.checklist import ABSENT, BY_EYE, CHECKS, NOT_KNOWN, NUMBERS, POINTS, SEEN, Check
from cross_staff.core.prepare.station import STATION, Judged, readings
from cross_staff.core.prepare.tuning import KINDS, STEPS
from cross_staff.core.ranges import DISTANCE_M, Range
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.mount.page import planned_here
from cross_staff.services.photo_readings import figures_of
from cross_staff.services.prepare import record as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop.changes import written_by
from cross_staff.web.card.results import arrow_warnings
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.prepare import words
from cross_staff.web.prepare.drawing import ROWS, place_drawing, walk_drawing
from cross_staff.web.prepare.words import QUANTITIES
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.log import log_rows
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
PEEP_STEPS = (
    "Arrow on the string, pointing at the butt, finger off the trigger, nobody in front.",
    "Eyes closed, draw, settle at anchor as if there were no sight.",
    "Open the eyes: the peep must already be there, and ring the housing.",
    "Not there: let down first, then move it by what was missing, and draw again.",
    "Three times alike, then secure it, and look once more.",
)


@router.get("/rigs/{rig_id}/prepare")
def prepare_page(request: Request, rig_id: int, line: str = "") -> Response:
    """The sheet, with one of its lines to work on. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    torn = figures_of(rig, request.query_params.get("photo", ""), "tear") if line == "paper_tear" else {}
    put = {name: units.measured("length", figure.value) for name, figure in torn.items()}
    return _page(request, rig, _chosen(rig, line), FormInput(put, units))


@router.post("/rigs/{rig_id}/prepare/override")
def override(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Open the gate with a written reason."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    entry = BenchEntry(STATION, prepare.OVERRIDE, 0, datetime.now(UTC), note=form.text("reason", 300))
    if not form.errors:
        with form.refusals():
            service.override_gate(database, rig_id, entry)
    if form.errors:
        return _page(request, rig, _chosen(rig, ""), form, 422)
    return RedirectResponse(f"/rigs/{rig_id}/prepare", 303)


@router.post("/rigs/{rig_id}/prepare/{key}")
def answer(request: Request, rig_id: int, key: str, typed: TypedForm) -> Response:
    """Enter what a line of the sheet found; then on to the next open one. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    check = _check(key)
    form = FormInput(typed, Units.of(rig.units))
    entry = _entry(form, check)
    if not form.errors:
        with form.refusals({"distance": "wb_0_distance"} if check.kind == "walk_back" else {}):
            service.answer(database, rig_id, entry)
    if form.errors:
        return _page(request, rig, check.key, form, 422)
    after = open_rig(database, rig_id)
    failed = after.checklist.line(check.key).verdict == "fail"  # then what to try is read before going on
    onward = check.key if failed else _next(after, check.key)
    return RedirectResponse(f"/rigs/{rig_id}/prepare?line={onward}", 303)


@router.post("/rigs/{rig_id}/prepare/{key}/undo")
def undo(request: Request, rig_id: int, key: str) -> Response:
    """Take back the newest entry of a line, or of the gate. Raises NotFound."""
    name = key if key == prepare.OVERRIDE else _check(key).key
    entries.take_back(request.app.state.database, rig_id, BenchEntry(STATION, name, 0, datetime.now(UTC)))
    line = "" if name == prepare.OVERRIDE else f"?line={name}"
    return RedirectResponse(f"/rigs/{rig_id}/prepare{line}", 303)


def _check(key: str) -> Check:
    if key not in CHECKS:
        raise NotFound("the bench sheet has no such line")
    return CHECKS[key]


def _chosen(rig: Rig, line: str) -> str:
    """The line to work on: the one asked for, else the first open one, else the first."""
    if line in CHECKS:
        return line
    opened = rig.checklist.open_lines
    return opened[0].check.key if opened else next(iter(CHECKS))


def _next(rig: Rig, key: str) -> str:
    """The next open line after this one, from the top again at the end; this one when none is open."""
    keys = list(CHECKS)
    opened = {line.check.key for line in rig.checklist.open_lines}
    later = [k for k in keys[keys.index(key) + 1 :] + keys[: keys.index(key)] if k in opened]
    return later[0] if later else key


def _entry(form: FormInput, check: Check) -> BenchEntry:
    """What was typed for a line, as an entry; what is wrong stands in `form.errors`."""
    now, note = datetime.now(UTC), form.text("note", 200)
    if check.kind == "card":
        return BenchEntry(STATION, check.key, 0, now)
    if check.kind == "choice" or form.typed.get("choice", "") in SEEN:
        chosen = form.typed.get("choice", "")
        return BenchEntry(STATION, check.key, 0, now, choice=chosen, note=note)
    if check.kind == "number":
        value = _wanted(form, "number", check.quantity, NUMBERS[check.quantity])
        return BenchEntry(STATION, check.key, 0, now, number=value, note=note)
    if check.kind == "walk_back":
        return BenchEntry(STATION, check.key, 0, now, points=_impacts(form), note=note)
    after = form.typed.get("after", "")
    quantity, span = QUANTITIES[check.kind], POINTS[check.kind]
    right, up = (_wanted(form, name, quantity, span) for name in ("right", "up"))
    distance = _wanted(form, "distance", "distance", DISTANCE_M) if check.kind == "bare_shaft" else None
    return BenchEntry(STATION, check.key, 0, now, distance, points=((right, up),), after=after, note=note)


def _wanted(form: FormInput, name: str, quantity: str, span: Range) -> float:
    value = form.number(name, quantity, span)
    if value is None and name not in form.errors:
        form.errors[name] = "type a number"
    return value or 0.0


def _impacts(form: FormInput) -> tuple[tuple[float, float], ...]:
    """The rows of a walk-back that have a distance: (distance, right) [m], the nearest first."""
    impacts = []
    for row in range(ROWS):
        if not form.typed.get(f"wb_{row}_distance", "").strip():
            continue
        distance = _wanted(form, f"wb_{row}_distance", "distance", DISTANCE_M)
        right = form.number(f"wb_{row}_right", "offset", POINTS["walk_back"])
        if right is None and f"wb_{row}_right" not in form.errors:
            form.errors[f"wb_{row}_right"] = "how far right?"
        impacts.append((distance, right or 0.0))
    return tuple(sorted(impacts))


def _page(request: Request, rig: Rig, key: str, form: FormInput, status: int = 200) -> Response:
    units, sheet = Units.of(rig.units), rig.checklist
    line = sheet.line(key)
    opened = sheet.open_lines
    try_, why = words.remedy(line, rig.card, units)
    context = (
        rig_context(rig, "prepare", date.today())
        | {
            "form": form,
            "line": line,
            "check": line.check,
            "answered": words.value(line.check, line.entry, units),
            "verdict": words.VERDICTS[line.verdict],
            "try_": try_,
            "try_why": why,
            "limits": words.limits(line.check, units),
            "caution": words.CAUTIONS_PREPARE.get(key, sentences.CAUTION_STRING),
            "lines": [_row(each, units) for each in sheet.lines],
            "left": len(opened),
            "seen": _seen_answers(line.check),
            "may_stay": "" if line.matters or line.entry else words.leaves(line, rig.card, units),
            "sheet": sheet,
            "override": sheet.override.note if sheet.override else "",
            "after_words": {key: said for key, said in words.AFTER.items() if not key or _possible(key, rig, line)},
            "log": log_rows(
                rig.log_of(STATION),
                lambda entry: words.logged(entry, units),
                written_by(request.app.state.database, rig.rig_id),
            ),
            "peep": _peep(rig, units) if line.check.hangs_on in ("peep_height", "peep_rotation") else None,
            "peep_steps": PEEP_STEPS,
            "warnings": arrow_warnings(rig.card, units),
        }
        | _work(rig, line, form, units)
    )
    return render(request, "prepare/page.html", status, **context)


def _seen_answers(check: Check) -> list[tuple[str, str]]:
    """The answers that any line takes: seen by eye, not on this bow where that can be, not known."""
    absent = [(ABSENT, check.absent)] if check.absent else []
    return [(BY_EYE, SEEN[BY_EYE]), *absent, (NOT_KNOWN, SEEN[NOT_KNOWN])]


def _possible(step: str, rig: Rig, line: Judged) -> bool:
    """Whether a step can have been done on this bow, or was."""
    done, cams = line.entry is not None and line.entry.after == step, rig.card.bow.cams_by
    return done or not cams or STEPS[step].possible(cams)


def _row(line: Judged, units: Units) -> dict[str, Any]:
    return {
        "key": line.check.key,
        "name": line.check.name,
        "state": words.STATES[line.verdict],
        "verdict": words.VERDICTS[line.verdict],
        "value": words.value(line.check, line.entry, units) or words.by_card(line),
        "required": line.check.required and (line.matters or line.shuts),
    }


def _work(rig: Rig, line: Judged, form: FormInput, units: Units) -> dict[str, Any]:
    """What the line's own work needs: a drawing with the earlier readings, the numbers as typed."""
    check, typed = line.check, form.typed
    if check.key in KINDS:
        earlier = readings(rig.log_of(STATION), check.key)
        distance = line.entry.number if line.entry and line.entry.number else 18.0
        quantity = QUANTITIES[check.kind]
        right, up = (_typed_or_middle(form, name, quantity) for name in ("right", "up"))
        usual = line.advice.step if line.advice and not line.advice.good else ""
        return {
            "drawing": place_drawing(check.key, earlier, (right, up), distance, units),
            "right": typed.get("right", ""),  # nobody has looked at this tear yet
            "up": typed.get("up", ""),
            "distance": typed.get("distance", units.plain("distance", distance) if earlier else ""),
            "after": typed.get("after", usual),
            "quantity": quantity,
            "on_photo": check.key == "paper_tear",
            "earlier": [
                (n, words.offset(r.point, quantity, units), words.TRIED[r.after])
                for n, r in enumerate(earlier, start=1)
            ],
        }
    if check.kind == "walk_back":
        return {"drawing": _walk_drawing(line, form, units), "walk": _walk_typed(line, typed, units)}
    return {"drawing": None}


def _typed_or_middle(form: FormInput, name: str, quantity: str) -> float:
    if not form.typed.get(name, "").strip() or name in form.errors:
        return 0.0
    return form.number(name, quantity, Range(-10.0, 10.0)) or 0.0


def _walk_typed(line: Judged, typed: Mapping[str, str], units: Units) -> list[dict[str, str]]:
    points = line.entry.points if line.entry else ()
    rows = []
    for row in range(ROWS):
        kept = points[row] if row < len(points) else None
        distance = units.plain("distance", kept[0]) if kept else ""
        rows.append({"distance": typed.get(f"wb_{row}_distance", distance), "right": typed.get(f"wb_{row}_right", "")})
    return rows


def _walk_drawing(line: Judged, form: FormInput, units: Units) -> Any:
    points = line.entry.points if line.entry else ()
    impacts = [points[row] if row < len(points) else (None, 0.0) for row in range(ROWS)]
    return walk_drawing(impacts, line.shape, units)


def _peep(rig: Rig, units: Units) -> dict[str, str] | None:
    """The peep's height, what size rings the housing, and how the far end asks it lower."""
    card, figures = rig.card, rig.figures
    height = card.peep.height()
    if height is None:
        return None
    places = 0 if units.length == "mm" else 2
    wide = sentences.plus_minus(units, "length", height.sd_m, places)
    said = {"height": f"{units.show('length', height.height_m, places)} {wide}"}
    if figures is None or card.goals.home_m is None:
        return said
    planned, fine = planned_here(rig), 1 if units.length == "mm" else 3
    if planned is None:
        return said
    if planned.peep_shift_mm is not None and card.goals.farthest_m is not None:
        said["shift"] = units.show("length", planned.peep_shift_mm / 1000.0, 1 if units.length == "mm" else 2)
        said["far"] = sentences.whole_distance(units, card.goals.farthest_m)
    if planned.ringing_aperture_mm is not None:
        said["ringing"] = units.show("diameter", planned.ringing_aperture_mm / 1000.0, fine)
    if card.peep.aperture_m is not None:
        said["aperture"] = units.show("diameter", card.peep.aperture_m, fine)
    return said
