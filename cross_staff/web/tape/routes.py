"""The tape page: marks and groups in, tape and judgement out."""

from __future__ import annotations

from datetime import UTC, date, datetime
from secrets import token_hex
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.stations import contradiction_step, reproof_step, tape_step
from cross_staff.core.tape.comparison import days
from cross_staff.core.tape.rows import RowEvaluation, TapeMark
from cross_staff.core.tape.station import Evaluation
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as range_service
from cross_staff.services.tape import record as service
from cross_staff.services.tape.page import whole_tape
from cross_staff.services.tape.record import Outcome, Rig, RowEdit
from cross_staff.services.tape.rulers import Rulers, rulers_of
from cross_staff.web.forms.form import TypedForm, wants_fragment
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared import pin_words, reach_words
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.room import now
from cross_staff.web.tape import ruler_words, trust_words, words
from cross_staff.web.tape.drawing import tape_drawing
from cross_staff.web.tape.form import (
    MOST_REASON,
    SPARE_ROWS,
    TypedRow,
    edit_of,
    filled_row,
    pasted_rows,
    rows_of,
    spare_rows,
    typed_rows,
)
from cross_staff.web.tape.page import ways_between
from cross_staff.web.tape.results import evaluated
from cross_staff.web.tape.ruler_words import mark_words

router = APIRouter()
MOST_BROUGHT = 2000  # letters of rows that come off a photo


@router.get("/rigs/{rig_id}/tape")
def tape_page(request: Request, rig_id: int) -> Response:
    """The station with its marks as they are kept."""
    rig = open_rig(request.app.state.database, rig_id)
    asked = request.query_params.get("read")
    read = asked if asked in _rulers(request, rig).codes else None
    brought = request.query_params.get("pasted", "")[:MOST_BROUGHT]
    rows = rows_of(_kept(rig), Units.of(rig.units), rig.evaluation.pins.dialled, read)
    return _page(request, rig, rows, brought=brought)


@router.post("/rigs/{rig_id}/tape")
def save_rows(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep what is sound in the table; what is wrong comes back as typed, with its message."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    # the table was typed in the units that its page was shown in, whatever the card says by now
    units = Units.of(rig.units | {q: typed[q] for q in ("distance", "offset") if q in typed})
    rows = typed_rows(typed)
    # a change in the table sends the whole form, but pasted rows wait until they are asked for
    text = "" if wants_fragment(request) else typed.get("pasted", "")
    if text.strip():
        rows = [row for row in rows if row.line or not row.empty]
    first = 1 + max((row.index for row in rows), default=-1)
    read, rulers = typed.get("read", ""), _rulers(request, rig)
    pasted, left_over = pasted_rows(text, first, typed.get("pasted_key", ""), rig.evaluation.pins.dialled, read)
    rows += pasted
    _keep(database, rig, rows, units, rulers, typed.get("remove", ""))
    rig = open_rig(database, rig_id)
    wrong = bool(left_over) or any(row.errors for row in rows)
    if wants_fragment(request):
        context = _context(rig, rows, units, rulers)
        return render(request, "tape/_update.html", 422 if wrong else 200, **context)
    if wrong:
        first = 1 + max((row.index for row in rows), default=-1)
        spare = spare_rows(first, SPARE_ROWS, rig.evaluation.pins.dialled, read)
        return _page(request, rig, [*rows, *spare], 422, units, left_over)
    return RedirectResponse(f"/rigs/{rig_id}/tape{f'?read={read}' if read else ''}", 303)


@router.post("/rigs/{rig_id}/tape/undo/{entry_id}")
def undo(request: Request, rig_id: int, entry_id: int) -> Response:
    """Take one change of the log back, by a new entry."""
    service.undo(request.app.state.database, rig_id, entry_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/tape", 303)


@router.post("/rigs/{rig_id}/tape/end/{key}")
def leave_end_out(request: Request, rig_id: int, key: str, typed: TypedForm) -> Response:
    """Leave an end of the range out of the fit, with a reason; or use it again. Raises NotFound."""
    database, now = request.app.state.database, datetime.now(UTC)
    if "use" in typed:
        range_service.change_end(database, rig_id, key, now, left_out=False)
        return RedirectResponse(f"/rigs/{rig_id}/tape#shot", 303)
    reason = " ".join(typed.get("reason", "").split())[:MOST_REASON]
    try:
        range_service.leave_out(database, rig_id, key, reason, now)
    except InvalidValue as error:
        rig = open_rig(database, rig_id)
        rows = rows_of(_kept(rig), Units.of(rig.units), rig.evaluation.pins.dialled)
        return _page(request, rig, rows, 422, refused_end=(key, reason, error.message))
    return RedirectResponse(f"/rigs/{rig_id}/tape#shot", 303)


@router.post("/rigs/{rig_id}/tape/scale")
def scale_other_way(request: Request, rig_id: int) -> Response:
    """The sight's scale is numbered from its other end."""
    service.read_scale_other_way(request.app.state.database, rig_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/tape", 303)


def _kept(rig: Rig) -> list[TapeMark]:
    return [row.entry for row in rig.evaluation.listed if not row.entry.from_range]


def _rulers(request: Request, rig: Rig) -> Rulers:
    return rulers_of(rig, service.printed_of(request.app.state.database, rig.rig_id))


def _keep(database: Any, rig: Rig, rows: list[TypedRow], units: Units, rulers: Rulers, remove: str) -> None:
    """Save the sound rows, and write into each row what became of it."""
    held = {entry.line: entry for entry in _kept(rig)}
    edits: list[tuple[TypedRow, RowEdit]] = []
    for row in rows:
        entry = held.get(row.line) if row.line is not None else None
        if entry is not None and row.asked == entry.entry_id:
            if row.choice == "theirs":
                row.take(filled_row(row.index, entry, units))
            elif row.choice == "mine":
                row.base = entry.entry_id
        if entry is not None and (row.empty or remove == str(row.index)):
            edits.append((row, _removal(entry, row.base)))
            continue
        if remove == str(row.index):
            row.cells = dict.fromkeys(row.cells, "")
        edit = edit_of(row, units, rulers, range_service.pins_of(rig), entry)
        if edit is not None:
            edits.append((row, edit))
    outcomes = service.save_rows(database, rig.rig_id, [edit for _, edit in edits], datetime.now(UTC))
    for (row, edit), outcome in zip(edits, outcomes):
        _note(row, edit, outcome, units)


def _removal(entry: TapeMark, base: int | None) -> RowEdit:
    return RowEdit(
        entry.ranged_m,
        entry.mark_mm,
        entry.up_m,
        entry.arrows,
        entry.left_out,
        removed=True,
        line=entry.line,
        base=base,
        pin=entry.pin,
        reason=entry.reason,
        ruler=entry.ruler,
        from_m=entry.from_m,
        reads=entry.reads,
        reading_sd_mm=entry.reading_sd_mm,
        laid_mm=entry.laid_mm,
    )


def _note(row: TypedRow, edit: RowEdit, outcome: Outcome, units: Units) -> None:
    row.line = outcome.entry.line
    if outcome.conflict:
        row.asked, row.kept_words = outcome.entry.entry_id, _kept_words(outcome.entry, units)
        at = local_time(outcome.entry.entered)[-5:]
        row.errors["mark"] = f"changed in another window too, at {at}, to {row.kept_words}: which holds?"
        return
    row.base, row.asked = outcome.entry.entry_id, None
    if edit.removed:
        row.cells = dict.fromkeys(row.cells, "")
        row.notes.append("taken out; undo it in the log")
        row.line = row.base = None
        row.key = token_hex(8)
    elif outcome.joined:  # what somebody else changed of the row meanwhile is shown
        row.take(filled_row(row.index, outcome.entry, units))
        row.notes.append("joined with what was changed in another window")


def _kept_words(entry: TapeMark, units: Units) -> str:
    """What a row says as it is kept, in few words."""
    distance = sentences.whole_distance(units, entry.ranged_m)
    return "taken out" if entry.removed else f"{mark_words(entry, units)} at {distance}"


def _page(
    request: Request,
    rig: Rig,
    rows: list[TypedRow],
    status: int = 200,
    units: Units | None = None,
    left_over: str = "",
    brought: str = "",
    refused_end: tuple[str, str, str] = ("", "", ""),
) -> Response:
    context = _context(rig, rows, units or Units.of(rig.units), _rulers(request, rig)) | {
        "left_over": left_over,
        "brought": brought,
        "pasted_key": token_hex(8),
        "refused_end": refused_end,
    }
    return render(request, "tape/page.html", status, **context)


def _context(rig: Rig, rows: list[TypedRow], units: Units, rulers: Rulers) -> dict[str, Any]:
    evaluation, card = rig.evaluation, rig.card
    step = reproof_step(rig.state) or tape_step(card, evaluation)
    contradicted = contradiction_step(evaluation)
    numbers = {row.entry.line: n for n, row in enumerate(evaluation.listed, start=1)}
    judged = {row.entry.line: row for row in evaluation.listed}
    used = {row.read for row in rows}
    return (
        rig_context(rig, "tape", date.today())
        | ways_between("")
        | {
            "units": units,
            "now": now(step, units),
            "step": step.code,
            "contradiction": words.contradiction(contradicted, units) if contradicted else "",
            "backwards": evaluation.scale_runs_backwards,
            "pins": words.pin_choices(card, evaluation, units, [entry.pin for entry in _kept(rig)]),
            "rulers": ruler_words.choices(rulers, used) if used - {""} else [],
            "ways_to_read": ruler_words.ways(rulers, used) if card.sight_kind.dialled else [],
            "read_now": next((row.read for row in reversed(rows)), ""),
            "hints": ruler_words.hints(used),
            "several_days": trust_words.days(days(evaluation), units),
            "rows": [_said(row, judged.get(row.line or 0), numbers, units) for row in rows],
            "shot": [_shot(rig, numbers[r.entry.line], r, units) for r in evaluation.listed if r.entry.from_range],
            "drawing": rig.results.get(
                ("drawn", units), lambda: tape_drawing(card, evaluation, units, whole_tape(card, evaluation))
            ),
            "evaluated": rig.results.get(("evaluated", units), lambda: evaluated(card, evaluation, units)),
            "log": _log(rig, units),
            "message": _message(evaluation),
            "falls_short": reach_words.falls_short(rig.reach, card.goals.farthest_m, units),
            "ready": words.READY.get(step.code, ""),
            "dialled": card.sight_kind.dialled,
            "unchecked": words.unchecked(rig.unchecked, units),
            "unshot": trust_words.unshot(card, evaluation, units),
            "carried": trust_words.carried(card, evaluation, units),
            "another_day": trust_words.another_day(evaluation, card.goals.farthest_m, units),
            "unmeasured": trust_words.unmeasured(card, evaluation, units),
            "assumed": trust_words.assumed(evaluation.scatter, units) if evaluation.used else "",
            "focus": _focus(rig, rows),
        }
    )


def _shot(rig: Rig, number: int, row: RowEvaluation, units: Units) -> dict[str, Any]:
    """An end of arrows from the range, as the fit sees it."""
    entry, pins = row.entry, rig.evaluation.pins.at_m
    return {
        "number": number,
        "key": rig.range_log.ends[-entry.line - 1].key,
        "left_out": entry.left_out,
        "when": local_time(entry.entered),
        "distance": sentences.whole_distance(units, entry.ranged_m),
        "pin": "" if len(pins) < 2 else _short_pin(rig, entry.pin, units),
        "mark": fixed(entry.mark_mm, 1),
        "up": _height_words(entry, units),
        "arrows": entry.arrows,
        "off": _off(row, units),
        "findings": [words.finding(f, units) for f in row.findings],
    }


def _short_pin(rig: Rig, pin: int, units: Units) -> str:
    name = pin_words.pin_name(rig.card, rig.evaluation.pins.at_m, pin, units)
    return pin_words.short_name(name).replace(" ", "\u00a0")


def _off(judged: RowEvaluation, units: Units) -> str:
    """How far a row lies from the tape's line, in words."""
    if judged.residual_mm is None or judged.target_m is None:
        return ""
    if abs(judged.residual_mm) < 0.05:
        return "on the tape's line"
    side = "low" if judged.residual_mm > 0 else "high"
    return f"off by {abs(judged.residual_mm):.1f} mm, {sentences.on_target(units, judged.target_m)} {side}"


def _focus(rig: Rig, rows: list[TypedRow]) -> str:
    """The field that the next action is about: the suspect's mark, or none in particular."""
    suspect = rig.evaluation.suspect
    chosen = [row.index for row in rows if suspect and row.line == suspect.entry.line]
    return f"row-{chosen[0]}-mark" if chosen else ""


def _message(evaluation: Evaluation) -> str:
    used = len(evaluation.used)
    if evaluation.fit is None or used > 1 or used > len(evaluation.own):
        return ""
    if evaluation.rows and not used:
        return "No mark is in use: this tape comes from speed and geometry alone, with its honest width."
    if used == 0:
        return "No marks yet: this tape comes from speed and geometry alone, with its honest width."
    return "One mark places the tape, but says nothing of its length: a second, farther one does."


def _said(row: TypedRow, judged: RowEvaluation | None, numbers: dict[int, int], units: Units) -> dict[str, Any]:
    """A row for the template: its cells, its number, its residual in words, its findings."""
    off = "" if judged is None else _off(judged, units)
    findings = [] if judged is None else judged.findings
    return {
        "row": row,
        "number": str(numbers.get(row.line or 0, "")),
        "off": off,
        "findings": [(f.code, words.finding(f, units)) for f in findings],
    }


def _log(rig: Rig, units: Units) -> list[dict[str, Any]]:
    """Every entry, newest first, each with what it did."""
    newest = {entry.line: entry.entry_id for entry in rig.log}
    seen: dict[int, TapeMark] = {}
    rows = []
    for entry in rig.log:
        before = seen.get(entry.line)
        rows.append(
            {
                "entry_id": entry.entry_id,
                "when": local_time(entry.entered),
                "distance": sentences.whole_distance(units, entry.ranged_m),
                "mark": mark_words(entry, units),
                "up": _height_words(entry, units),
                "arrows": "" if entry.arrows is None else str(entry.arrows),
                "revision": entry.revision,
                "did": _did(entry, before, units),
                "pin": entry.pin + 1,
                "undo": newest[entry.line] == entry.entry_id and not (entry.removed and before is None),
            }
        )
        seen[entry.line] = entry
    return rows[::-1]


def _height_words(entry: TapeMark, units: Units) -> str:
    if entry.up_m is None:
        return "sighted in"
    side = "high" if entry.up_m > 0 else "low"
    return f"{units.plain('offset', abs(entry.up_m))} {units.label('offset')} {side}" if entry.up_m else "level"


def _did(entry: TapeMark, before: TapeMark | None, units: Units) -> str:
    if entry.removed:
        return "taken out"
    if before is None:
        return "entered"
    if before.removed:
        return "put back"
    if entry.left_out != before.left_out:
        why = f": {entry.reason}" if entry.reason else ""
        return f"left out of the fit{why}" if entry.left_out else "used again"
    if entry.revision != before.revision and entry.mark_mm == before.mark_mm:
        return "said to hold still"
    return f"changed from {mark_words(before, units)}"
