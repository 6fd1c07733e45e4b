"""The record of the level as PDF: as found, as left, by which method, how sure, and what is left."""

from __future__ import annotations

import math
from datetime import date

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, LINE, WANDER
from cross_staff.core.level.station import LevelState
from cross_staff.core.rig.card import INSTRUMENT_KINDS, SEATS, Vial
from cross_staff.core.rig.sight import tool_list
from cross_staff.services.level.page import LevelPage, level_page
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.units import Units
from cross_staff.web.level import words as level_words
from cross_staff.web.level.tables import (
    bend_words,
    cost_table,
    found_words,
    log_rows,
    squared,
    straightedge_words,
    twist_words,
)
from cross_staff.web.shared.downloads import csv_file, file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.pdf import Rows, ruled_pdf

router = APIRouter()
_COLUMNS: list[object] = [
    *("entered", "revision", "kind", "axis", "method", "tilt_deg", "vial_lines", "vial_end", "reference_lines", "seat"),
    *(
        "put_on_again",
        "place",
        "turns_clockwise",
        "distance_m",
        "right_m",
        "arrows",
        "settled_s",
        "stands",
        "who",
        "note",
    ),
]


_KINDS = {ARROWS: "group", WANDER: "wander"}


@router.get("/rigs/{rig_id}/level.pdf")
def level_record(request: Request, rig_id: int) -> Response:
    """The record as it stands now. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    heading, tables = record(level_page(database, rig, date.today()), Units.of(rig.units))
    return Response(ruled_pdf(heading, tables), media_type="application/pdf", headers=file_headers(rig, "level", "pdf"))


@router.get("/rigs/{rig_id}/level.csv")
def level_csv(request: Request, rig_id: int) -> Response:
    """Every reading as it was seen, also those that were taken back. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    undone = {r.undoes for r in rig.level_log if r.undoes is not None}
    rows: list[list[object]] = [_COLUMNS]
    for r in rig.level_log:
        if r.undoes is None:
            stands = "taken back" if r.reading_id in undone else "locked" if r.locked else "loose"
            kind = "turn" if r.turn else _KINDS.get(BY_KEY[r.method].reads, "look")
            turns = "by eye" if r.turn and r.turns is None else "" if r.turns is None else round(r.turns, 4)
            moment = r.entered.isoformat(timespec="seconds")
            looked: list[object] = ["", "", "", "", "", "", r.place]
            if kind == "look":
                beside = r.reference_div if BY_KEY[r.method].reads not in (LINE, ARROWS) else ""
                end = {-1: "left", 0: "", 1: "right"}[r.vial_end]
                tilt = round(math.degrees(r.pitch_rad), 2)
                looked = [tilt, r.vial_div, end, beside, r.seat, "yes" if r.reseated else "", r.place]
            shot = [r.distance_m, r.right_m, r.arrows] if kind in _KINDS.values() else ["", "", ""]
            if kind == "group":
                looked[0] = round(math.degrees(r.pitch_rad), 2)
            rows.append(
                [moment, r.revision, kind, r.axis, r.method, *looked, turns, *shot, r.settled_s, stands, r.who, r.note]
            )
    return csv_file(rows, rig, "level")


def record(page: LevelPage, units: Units) -> tuple[list[str], list[tuple[str, Rows]]]:
    """Heading lines, and tables by their titles, first row the heads."""
    rig = page.rig
    card, state = rig.card, rig.level
    heading = [
        f"{card.name}: level",
        " · ".join(filter(None, [card.archer, card.bow.words, card.sight.name, f"revision {rig.revision.number}"])),
        f"{date.today().isoformat()} · {verdict(state)}",
        *squared_lines(page, units),
        *filter(None, [bend_words(state), straightedge_words(state)]),
    ]
    axes: Rows = [["axis", "as found", "as left", "good within", "method", "tilt", "looks", "turns", "read", "stands"]]
    axes += [_axis(state.axes[axis], rig) for axis in AXES]
    tables = [("Axes", axes)]
    costs = cost_table(page, units)
    if costs:
        rows = [["slope", *costs["distances"]]] + [[s, *(words for words, _ in cells)] for s, cells in costs["rows"]]
        tables.append(("What is left costs, sideways", rows))
    tables.append(("Reference, where it sat", _seatings(rig)))
    tables.append(("Levels", _levels(rig)))
    tools = [[t.size, ", ".join(t.used_for)] for t in tool_list(card.sight)]
    if tools:
        tables.append(("Keys", [["key", "for"], *tools]))
    if rig.witness:
        tables.append(("Marked joints", [["joint", "where"], *([m.joint, m.place] for m in rig.witness)]))
    held = {r.reading_id for r in state.readings}
    log = [
        [row["when"], row["what"], row["tilt"], row["seat"], row["reference"], row["vial"], row["after"], row["note"]]
        for row in reversed(log_rows(rig, units))
        if row["id"] in held
    ]
    if log:
        heads = ["read", "axis", "tilt", "seat", "reference", "vial", "turned", "by, note"]
        tables.append(("Readings and turns that hold", [heads, *log]))
    return heading, tables


def verdict(state: LevelState) -> str:
    """How the level stands, its label with it."""
    if state.label:
        left = ", left so in writing" if state.done else ""
        return f"{level_words.LABELS[state.label]}{left}; full draw or arrows have not decided"
    accepted = [level_words.NAMES[axis] for axis in state.required if state.axes[axis].accepted]
    said = "not finished" if not state.done else "all axes good" if not accepted else f"accepted: {', '.join(accepted)}"
    return f"{said}; for level ground only" if "third" not in state.required else said


def squared_lines(page: LevelPage, units: Units) -> list[str]:
    """What full draw may still bring, where the third axis is squared by its tool."""
    told = squared(page, units) if page.rig.level.label else []
    twist = twist_words(page.rig.level.twist)
    return [*told, *([twist] if twist else [])]


def _axis(state: AxisState, rig: Rig) -> list[str]:
    """An axis: as found, as left with everything counted, how it was read and turned."""
    own = [r for r in rig.level.readings if r.axis == state.axis]
    looks = [r for r in own if not r.turn]
    last = looks[-1] if looks else None
    methods = dict.fromkeys(BY_KEY[r.method].name for r in looks)
    eye = f", {state.by_eye} not counted" if state.by_eye else ""
    yaw = _yaw(state, rig)
    left = (
        f"{level_words.amount(state, state.now.value)} {level_words.spread(state, state.now.sd)}"
        if state.now
        else "not read"
    )
    return [
        level_words.NAMES[state.axis],
        found_words(state) or "not read",
        f"{left}{yaw}",
        level_words.within(state, state.tolerance),
        "; ".join(methods) if methods else "",
        level_words.tilt(last.pitch_rad) if last else "",
        str(len(looks)),
        f"{len(state.turns)}{eye}",
        f"{local_time(last.entered)} {last.who}".strip() if last else "",
        state.accepted or level_words.STANDINGS[state.standing],
    ]


def _yaw(state: AxisState, rig: Rig) -> str:
    """Whether the seat that the third axis was read on was proved."""
    if state.axis != "third" or state.now is None or BY_KEY[state.method].reads != CLIP:
        return ""
    return "" if rig.card.level.yaw_of(state.seat)[1] == 0.0 else " (seat's yaw not proved)"


def _seatings(rig: Rig) -> Rows:
    """Each seating of the reference: where, matched or not, proved at tilt or not."""
    setup = rig.card.level
    rows: Rows = [["seat", "matched to the string level", "at tilt"]]
    for seating in rig.level.log.seatings:
        words = SEATS[seating.seat] if seating.seat else "seat not said"
        place = f"{words}, {setup.seat_words}" if seating.seat == setup.seat and setup.seat_words else words
        pairs = [
            f"string {level_words.bubble(m.string_div)}, reference {level_words.bubble(m.reference_div)}"
            for m, _ in seating.matches
        ]
        proved = "proved square" if setup.yaw_of(seating.seat)[1] == 0.0 else "yaw not proved"
        rows.append([place, "; ".join(pairs) or "not matched", proved])
    return rows if len(rows) > 1 else [*rows, ["no clip-on was read", "", ""]]


def _levels(rig: Rig) -> Rows:
    """What it was read with: own error by reversal, the day, a line."""
    setup = rig.card.level
    rows: Rows = [["level", "own error", "reversed on", "a line is"]]
    for kind, name in INSTRUMENT_KINDS.items():
        vial = getattr(setup, kind)
        if kind == "jig" and vial == Vial():
            continue
        error = "not reversed" if vial.roll_error_div is None else level_words.bubble(vial.roll_error_div)
        error = "none" if error == "in the middle" else error
        line = "not calibrated" if vial.per_division_rad is None else f"{math.degrees(vial.per_division_rad):.3f}°"
        rows.append([name, error, str(vial.reversed_on or ""), line])
    return rows
