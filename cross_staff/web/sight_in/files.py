"""Files of the range: every shot as CSV, out and in, and the session sheet as PDF."""

from __future__ import annotations

from datetime import UTC, date, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.sight_in.acts import SKIPPED, SightInStepState
from cross_staff.core.sight_in.log import End
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in.ends import import_ends, take_import_back
from cross_staff.services.sight_in.record import pins_of
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.numbers import NotANumber
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import csv_file, file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.pdf import Rows, ruled_pdf
from cross_staff.web.shared.words import whole_distance
from cross_staff.web.sight_in import words
from cross_staff.web.sight_in.log_rows import dial_words, middle
from cross_staff.web.sight_in.page import station_page
from cross_staff.web.sight_in.shots_csv import COLUMNS, read_shots

router = APIRouter()


@router.get("/rigs/{rig_id}/sight_in.csv")
def shots_csv(request: Request, rig_id: int) -> Response:
    """Every shot as it was kept, those left out or taken out too. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    rows: list[list[object]] = [list(COLUMNS)]
    for end in rig.every_end:
        stands = "taken out" if end.removed else "left out" if end.left_out else ""
        head = [end.entered.isoformat(timespec="seconds"), end.session, end.revision, end.ranged_m, end.pin + 1,
                end.dial_mm, end.dial_from]  # fmt: skip
        for shot in end.shots:
            place = [round(1000.0 * shot.right_m, 1), round(1000.0 * shot.up_m, 1), "x" if shot.called_bad else ""]
            rows.append([end.key, shot.key, *head, *place, shot.shaft, 1, stands, end.note])
        if end.line is not None:  # a group as one line: its middle, and of how many arrows
            middle = ["" if v is None else round(1000.0 * v, 1) for v in (end.line.right_m, end.line.up_m)]
            rows.append([end.key, "", *head, *middle, "", "", end.line.arrows, stands, end.note])
    return csv_file(rows, rig, "shots")


@router.post("/rigs/{rig_id}/sight_in/import")
def import_csv(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Take shots in from pasted CSV; nothing is taken unless every line is sound. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    text = form.typed.get("csv", "")
    try:
        shots = read_shots(text, form.units, rig.every_end, pins_of(rig))
    except NotANumber as error:
        form.errors["csv"] = f"{str(error)[0].upper()}{str(error)[1:]}."
        return station_page(request, rig, form, 422, left_over=text)
    if shots.wrong:
        count = len(shots.wrong)
        lines = f"{count} of {shots.lines} lines {'is' if count == 1 else 'are'} not sound"
        form.errors["csv"] = f"Nothing was taken: {lines}. Correct what is listed, and take them in again."
        return station_page(request, rig, form, 422, left_over=text, wrong_lines=shots.wrong)
    imported = None
    with form.refusals():
        tell = request.app.state.progress.of(request)
        imported = import_ends(request.app.state.database, rig_id, shots.ends, datetime.now(UTC), tell)
    if imported is None:
        form.errors["csv"] = " ".join(form.errors.values())
        return station_page(request, rig, form, 422, left_over=text)
    known = f"&known={imported.known}" if imported.known else ""
    return RedirectResponse(f"/rigs/{rig_id}/sight_in?taken={imported.new}{known}", 303)


@router.post("/rigs/{rig_id}/sight_in/import/undo")
def undo_import(request: Request, rig_id: int) -> Response:
    """Take the newest import back. Raises NotFound."""
    count = take_import_back(request.app.state.database, rig_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/sight_in?back={count}", 303)


@router.get("/rigs/{rig_id}/sight_in.pdf")
def session_sheet(request: Request, rig_id: int) -> Response:
    """The session sheet: what to do, what was shot, blanks to fill in by hand. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    heading, tables = sheet(rig, Units.of(rig.units))
    return Response(
        ruled_pdf(heading, tables), media_type="application/pdf", headers=file_headers(rig, "session", "pdf")
    )


def sheet(rig: Rig, units: Units) -> tuple[list[str], list[tuple[str, Rows]]]:
    """Heading lines, and tables by their titles, heads first."""
    card, now, session = rig.card, words.now(rig, units), rig.session
    where = " · ".join(filter(None, [session.place, session.light, session.who])) if session else ""
    heading = [
        f"{card.name}: sight in",
        " · ".join(filter(None, [card.archer, card.sight.name, card.build.name, f"revision {rig.revision.number}"])),
        " · ".join(filter(None, [date.today().isoformat(), where])),
        f"Now: {now.say} {now.how} {now.why}",
    ]
    tables: list[tuple[str, Rows]] = []
    steps = [_stands(rig, state, units) for state in rig.range.steps]
    if steps:
        tables.append(("Steps", [["step", "done when", "stands"], *steps]))
    aims = [
        [words.pin_name(rig, at.aim.pin, units), whole_distance(units, at.aim.ranged_m), str(at.standing.arrows),
         "; ".join(w for w in words.offset_words(rig, at, units) if w) or "dead on",
         f"{100.0 * at.verdict.surely:.0f} %"]
        for at in rig.range.aims if max(at.standing.sd) < 20.0
    ]  # fmt: skip
    if aims:
        tables.append(("Aims", [["pin", "distance", "arrows", "all arrows together", "surely good"], *aims]))
    ends = [_printed(rig, end, units) for end in rig.range_log.ends[-24:]]
    tables.append(
        ("Ends", [["when", "pin", "distance", "dial", "shots: right, up, in mm; x called bad", "note"], *ends])
    )
    tables.append(
        ("At the range, by hand", [["pin", "distance", "dial", "right, up", "moved", "note"], *[[" "] * 6] * 6])
    )
    return heading, tables


def _stands(rig: Rig, state: SightInStepState, units: Units) -> list[str]:
    """A step: what it is, when it is done, how it stands."""
    done_when = words.filled(state.step.done_when, rig, state.aim, rig.range.act, units)
    stands = f"confirmed, {state.who}" if state.state == SKIPPED else state.state or "open"
    return [words.step_name(rig, state.step, state.aim, units), done_when, stands]


def _printed(rig: Rig, end: End, units: Units) -> list[str]:
    shots = "; ".join(
        f"{1000.0 * s.right_m:.0f}, {1000.0 * s.up_m:.0f}{' x' if s.called_bad else ''}" for s in end.shots[:40]
    )
    more = f" and {len(end.shots) - 40} more" if len(end.shots) > 40 else ""
    distance = "not ranged" if end.ranged_m is None else whole_distance(units, end.ranged_m)
    dial = dial_words(end, rig.card.sight_kind.dialled)
    if end.line is not None:
        shots = f"{end.line.arrows} arrows: {middle(end, units)}"
    return [local_time(end.entered), words.pin_name(rig, end.pin, units), distance, dial, shots + more, end.note]
