"""Logs as CSV, as they were written down: SI units in the heads, a record a line."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields
from datetime import datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.carry.records import LOGS
from cross_staff.core.errors import NotFound
from cross_staff.services import bench
from cross_staff.services.carry.write import whole_rig
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import csv_file, csv_of
from cross_staff.web.shared.room import standing_word

router = APIRouter()
_WHOLE = ("card", "sheet")  # records of their own: they are in the rig's file
_BENCH_HEADS = ("number", "rig", "archer", "sight", "due", "archived")


@router.get("/rigs/{rig_id}/log/{name}.csv")
def log_csv(request: Request, rig_id: int, name: str) -> Response:
    """Every record of a log. Raises NotFound."""
    if name not in LOGS:
        raise NotFound("there is no such log")
    rig = open_rig(request.app.state.database, rig_id)
    log = whole_rig(request.app.state.database, rig_id).logs[name]
    return csv_file(rows_of(log), rig, name.replace("_", "-"))


def rows_of(log: tuple[Any, ...]) -> Iterator[list[object]]:
    """Records as rows, heads first; a log without any has no heads either."""
    if not log:
        return
    names = [each.name for each in fields(log[0]) if each.name not in _WHOLE]
    yield ["place", *names]
    for place, record in enumerate(log, start=1):
        yield [place, *(_cell(getattr(record, name)) for name in names)]


def _cell(value: object) -> object:
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, tuple):
        return "; ".join(" ".join(map(str, each)) if isinstance(each, tuple) else str(each) for each in value)
    return "" if value is None else value


@router.get("/bench.csv")
def bench_csv(request: Request) -> Response:
    """Every rig with how its stations stand, archived ones too."""
    lines = bench.every_line(request.app.state.database)
    names = [each.station.name for each in lines[0].summary.standings] if lines and lines[0].summary else []
    rows: list[list[object]] = [[*_BENCH_HEADS, *names]]
    for line in lines:
        summary, units = line.summary, Units.of(line.units)
        if summary is None:
            continue
        words = [f"{each.state}, {standing_word(each, units)}" for each in summary.standings]
        due = summary.due.isoformat() if summary.due else ""
        archived = "archived" if line.archived else ""
        rows.append([line.rig_id, summary.name, summary.archer, summary.kind, due, archived, *words])
    return csv_of(rows, "bench.csv")
