"""Files of the range: every shot as CSV, out and in, and the session sheet as PDF."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import replace
from datetime import UTC, date, datetime
from zlib import crc32

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.ranges import DISTANCE_M
from cross_staff.core.sight_in.acts import SKIPPED, SightInStepState
from cross_staff.core.sight_in.checks import DIAL_MM
from cross_staff.core.sight_in.log import MOST_SHOTS, End, GroupLine
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in.ends import EndDraft, import_ends, take_import_back
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.numbers import NotANumber, read
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import csv_file, file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.pdf import Rows, ruled_pdf
from cross_staff.web.shared.words import whole_distance
from cross_staff.web.sight_in import words
from cross_staff.web.sight_in.form import MOST_PINS
from cross_staff.web.sight_in.log_rows import dial_words, middle
from cross_staff.web.sight_in.page import station_page

router = APIRouter()
COLUMNS = ("end", "shot", "entered", "session", "revision", "distance_m", "pin", "dial_mm", "dial_from", "right_mm",
           "up_mm", "bad", "arrow", "arrows", "stands", "note")  # fmt: skip
MOST_LINE = 2000
NEEDED = ("distance_m", "right_mm", "up_mm")
_SAME = {"distance": "distance_m", "dial": "dial_mm", "right": "right_mm", "up": "up_mm"}
_KEY = re.compile(r"[^A-Za-z0-9.-]+")


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
        drafts = ends_of(text, form.units)
    except NotANumber as error:
        form.errors["csv"] = f"{str(error)[0].upper()}{str(error)[1:]}."
        return station_page(request, rig, form, 422, left_over=text)
    with form.refusals():
        tell = request.app.state.progress.of(request)
        import_ends(request.app.state.database, rig_id, drafts, datetime.now(UTC), tell)
    if form.errors:
        form.errors["csv"] = " ".join(form.errors.values())
        return station_page(request, rig, form, 422, left_over=text)
    count = sum(len(draft.shots) for draft in drafts)
    return RedirectResponse(f"/rigs/{rig_id}/sight_in?taken={count}", 303)


@router.post("/rigs/{rig_id}/sight_in/import/undo")
def undo_import(request: Request, rig_id: int) -> Response:
    """Take the newest import back. Raises NotFound."""
    count = take_import_back(request.app.state.database, rig_id, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/sight_in?back={count}", 303)


def ends_of(text: str, units: Units) -> list[EndDraft]:
    """Ends from CSV lines: heads first, comma, semicolon or tab between; a distance may have its unit
    behind it, a new end begins where end, distance, pin or dial changes.

    Raises: NotANumber naming the line.
    """
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise NotANumber("paste the lines first: heads, then a shot a line")
    mark = max("\t;,", key=lines[0].count)
    if max(map(len, lines)) > MOST_LINE:
        raise NotANumber(f"a line is longer than {MOST_LINE} letters: these are not shots")
    heads = [_SAME.get(h.strip().lower(), h.strip().lower()) for h in next(csv.reader([lines[0]], delimiter=mark))]
    missing = [name for name in NEEDED if name not in heads]
    if missing:
        raise NotANumber(f"the first line must name the columns; missing: {', '.join(missing)}")
    if len(lines) - 1 > MOST_SHOTS:
        raise NotANumber(f"at most {MOST_SHOTS} shots at once")
    ends: dict[tuple[str, ...], EndDraft] = {}
    for number, row in enumerate(csv.reader(io.StringIO("\n".join(lines[1:])), delimiter=mark), start=2):
        cells = {head: cell.strip() for head, cell in zip(heads, row)}
        try:
            _take(ends, cells, number, units)
        except NotANumber as error:
            raise NotANumber(f"line {number}: {error}") from error
    return list(ends.values())


def _take(ends: dict[tuple[str, ...], EndDraft], cells: dict[str, str], number: int, units: Units) -> None:
    aim = tuple(cells.get(name, "") for name in ("end", "distance_m", "pin", "dial_mm"))
    many = cells.get("arrows", "") or "1"
    if many != "1":
        _take_line(ends, aim, cells, units)
        return
    right, up = (_number(cells.get(name, ""), "mark", units, name) / 1000.0 for name in ("right_mm", "up_mm"))
    end = ends.get(aim) or _end(aim, len(ends) + 1, cells, units)
    key = _KEY.sub("", cells.get("shot", ""))[:40] or _key_of(aim, right, up, end)
    bad = cells.get("bad", "").lower() in ("x", "1", "yes", "true", "bad")
    shaft = _KEY.sub("", cells.get("arrow", ""))[:6]
    ends[aim] = replace(end, shots=(*end.shots, Shot(right, up, bad, key, shaft)))


def _take_line(
    ends: dict[tuple[str, ...], EndDraft], aim: tuple[str, ...], cells: dict[str, str], units: Units
) -> None:
    """A group that was written as one line."""
    arrows = whole(cells.get("arrows", ""))
    if arrows is None:
        raise NotANumber("arrows: a whole number, of a group as one line")
    right, up = (
        _number(cells[name], "mark", units, name) / 1000.0 if cells.get(name) else None
        for name in ("right_mm", "up_mm")
    )
    ends[aim] = replace(_end(aim, len(ends) + 1, cells, units), line=GroupLine(arrows, right, up))


def _key_of(aim: tuple[str, ...], right: float, up: float, end: EndDraft) -> str:
    """A key for a shot that brings none: the same lines again give the same ones, and none that a page gave."""
    stem = f"in-{crc32(repr((aim, right, up)).encode()):08x}-"
    return stem + str(1 + sum(shot.key.startswith(stem) for shot in end.shots))


def _end(aim: tuple[str, ...], count: int, cells: dict[str, str], units: Units) -> EndDraft:
    name, distance, pin, dial = aim
    key = _KEY.sub("", name)[:40] or f"in-{crc32(repr(aim).encode())}-{count}"
    ranged = _distance(distance, units) if distance else None
    if ranged is not None and not DISTANCE_M.holds(ranged):
        raise NotANumber("the distance must lie between 0.5 and 400 m")
    place = (whole(pin) or 0) - 1 if pin else 0
    if not 0 <= place < MOST_PINS:
        raise NotANumber(f"“{pin[:12]}” is not a pin: 1 is the top one")
    reading = _number(dial, "mark", units, "dial_mm") if dial else None
    if reading is not None and not DIAL_MM.holds(reading):
        raise NotANumber("the dial reading is off any scale")
    source = re.sub(r"[^a-z0-9:+.,-]", "", cells.get("dial_from", ""))[:40]
    return EndDraft(key, ranged, place, reading, note=cells.get("note", "")[:200], dial_from=source)


def _distance(text: str, units: Units) -> float:
    """Metres, unless another unit stands behind."""
    return read(text, "distance", Units(distance="m") if text.strip()[-1:].isdecimal() else units).value


def _number(text: str, quantity: str, units: Units, name: str) -> float:
    if not text:
        raise NotANumber(f"{name} is empty")
    return read(text, quantity, units).value


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
