"""The proof log as a file."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.prove.log import ProofLine
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import words
from cross_staff.web.shared.downloads import csv_file

router = APIRouter()


@router.get("/rigs/{rig_id}/prove/lines.csv")
def lines_file(request: Request, rig_id: int) -> Response:
    """Every line that stands, in the rig's units, with why it does not count where it does not. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units, why = Units.of(rig.units), rig.prove.why_aside
    at, off = units.label("distance"), units.label("offset")
    heads = ("day", f"shot at, {at}", f"dialled, {at}", "arrows", f"high, {off}", f"right, {off}", "slope, deg",
             f"crosswind, {units.label('wind')}", "cold", "tape", "label", "counts", "note")  # fmt: skip
    rows = [_row(line, units, words.WHY_ASIDE[why[line.key]] if line.key in why else "yes") for line in rig.prove.lines]
    return csv_file([heads, *rows], rig, "proof-lines")


def _row(line: ProofLine, units: Units, counts: str) -> tuple[str, ...]:
    return (
        line.day.isoformat(),
        units.plain("distance", line.ranged_m),
        units.plain("distance", line.dialled_m),
        str(line.arrows),
        units.plain("offset", line.up_m),
        units.plain("offset", line.right_m),
        units.plain("angle", line.slope_rad),
        units.plain("wind", line.crosswind_mps),
        "yes" if line.cold else "",
        line.tape,
        line.label,
        counts,
        line.note,
    )
