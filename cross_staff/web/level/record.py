"""The record of the level as PDF: as found, as left, by which method, how sure, and what is left."""

from __future__ import annotations

import math
from datetime import date
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.level.station import AXES, AxisState
from cross_staff.core.rig.sight import tool_list
from cross_staff.services.level.page import level_page
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words as level_words
from cross_staff.web.level.page import cost_table
from cross_staff.web.shared.downloads import csv_file, file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.pdf import Rows, ruled_pdf

router = APIRouter()
_COLUMNS: list[object] = ["entered", "revision", "axis", "method", "tilt_deg", "vial_lines", "reference_lines",
                          "turns_clockwise", "stands", "who", "note"]  # fmt: skip


@router.get("/rigs/{rig_id}/level.pdf")
def level_record(request: Request, rig_id: int) -> Response:
    """The record as it stands now. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    heading, tables = record(rig, Units.of(rig.units))
    return Response(ruled_pdf(heading, tables), media_type="application/pdf", headers=file_headers(rig, "level", "pdf"))


@router.get("/rigs/{rig_id}/level.csv")
def level_csv(request: Request, rig_id: int) -> Response:
    """Every reading as it was seen, also those that were taken back. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    undone = {r.undoes for r in rig.level_log if r.undoes is not None}
    rows: list[list[object]] = [_COLUMNS]
    for r in rig.level_log:
        if r.undoes is None:
            tilt, turns = round(math.degrees(r.pitch_rad), 2), "" if r.turns is None else round(r.turns, 4)
            stands = "taken back" if r.reading_id in undone else "locked" if r.locked else "loose"
            moment = r.entered.isoformat(timespec="seconds")
            rows.append([moment, r.revision, r.axis, r.method, tilt, r.vial_div, r.reference_div, turns, stands,
                         r.who, r.note])  # fmt: skip
    return csv_file(rows, rig, "level")


def record(rig: Rig, units: Units) -> tuple[list[str], list[tuple[str, Rows]]]:
    """Heading lines, and tables by their titles, first row the heads."""
    card, state = rig.card, rig.level
    unproved = "" if card.level.yaw_proved else " (reference's yaw not proved)"
    heading = [
        f"{card.name}: level",
        " · ".join(filter(None, [card.archer, card.bow.words, card.sight.name, f"revision {rig.revision.number}"])),
        f"{date.today().isoformat()} · {'all axes good' if state.done else 'not finished'}"
        f"{'; for level ground only' if len(state.required) < 3 else ''}",
    ]
    axes: Rows = [["axis", "as found", "as left", "good within", "method", "tilt", "looks", "turns", "read", "stands"]]
    axes += [_axis(state.axes[axis], unproved, _last(rig, axis)) for axis in AXES]
    tables = [("Axes", axes)]
    costs = cost_table(level_page(rig), units)
    if costs:
        rows = [["slope", *costs["distances"]]] + [[s, *(words for words, _ in cells)] for s, cells in costs["rows"]]
        tables.append(("What is left costs, sideways", rows))
    reference = card.level.reference
    if reference.roll_error_div is not None:
        seat = card.level.seat_words or "seat not noted"
        proved = "proved at tilt" if card.level.yaw_proved else "yaw not proved"
        error = level_words.bubble(reference.roll_error_div)
        tables.append(("Reference", [["own error", "reversed on", "seat", "at tilt"],
                                     [error, str(reference.reversed_on), seat, proved]]))  # fmt: skip
    tools = [[t.size, ", ".join(t.used_for)] for t in tool_list(card.sight)]
    if tools:
        tables.append(("Keys", [["key", "for"], *tools]))
    if rig.witness:
        tables.append(("Marked joints", [["joint", "where"], *([m.joint, m.place] for m in rig.witness)]))
    log = [
        [local_time(r.entered), level_words.NAMES[r.axis], level_words.tilt(r.pitch_rad),
         level_words.bubble(r.reference_div), level_words.bubble(r.vial_div),
         f"{level_words.turn(r.turns)} {level_words.way(r.turns)}" if r.turns else "", r.who]
        for r in state.readings
    ]  # fmt: skip
    if log:
        tables.append(("Readings that hold", [["read", "axis", "tilt", "reference", "vial", "after", "by"], *log]))
    return heading, tables


def _last(rig: Rig, axis: str) -> str:
    """When an axis was last read, and by whom."""
    own = [r for r in rig.level.readings if r.axis == axis]
    return ", ".join(filter(None, [local_time(own[-1].entered), own[-1].who])) if own else ""


def _axis(state: AxisState, unproved: str, read: str) -> list[str]:
    def shown(estimate: Any) -> str:
        if estimate is None:
            return "not read"
        return f"{level_words.amount(state, estimate.value, 2)} {level_words.spread(state, estimate.sd)}"

    stands = level_words.STANDINGS[state.standing] if state.now or state.accepted else "open"
    note = f": {state.accepted}" if state.accepted else unproved if state.axis == "third" and state.now else ""
    return [
        state.axis,
        shown(state.as_found),
        shown(state.now),
        level_words.spread(state, state.tolerance),
        BY_KEY[state.method].name if state.now else "",
        level_words.tilt(state.pitch_rad) if state.now else "",
        str(len(state.looks)),
        str(len(state.turns)),
        read,
        f"{stands}{note}",
    ]
