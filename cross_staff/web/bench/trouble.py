"""The page of a rig that cannot be worked out: why, and its latest records, each to be taken back."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import Unreckonable
from cross_staff.services import trouble as service
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.form import TypedForm
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render

router = APIRouter()


@router.get("/rigs/{rig_id}/trouble")
def trouble_page(request: Request, rig_id: int) -> Response:
    """Why a rig cannot be worked out; on to its card when it can. Raises NotFound, Unreckonable."""
    open_rig(request.app.state.database, rig_id)
    return RedirectResponse(f"/rigs/{rig_id}/card", 303)


@router.post("/rigs/{rig_id}/trouble")
def take_back(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Take one of the records back. Raises NotFound."""
    service.take_back(
        request.app.state.database, rig_id, typed.get("kind", ""), typed.get("key", "")[:60], datetime.now(UTC)
    )
    return RedirectResponse(f"/rigs/{rig_id}/trouble", 303)


def answer(request: Request, error: Unreckonable, number: str) -> Response:
    """What every page of such a rig shows. Args: number, under which the log says more."""
    latest = service.latest(request.app.state.database, error.rig_id)
    written = [
        {"kind": each.kind, "key": each.key, "when": local_time(each.entered), "says": each.says}
        for each in latest.written
    ]
    return render(
        request,
        "bench/trouble.html",
        500,
        rig_id=error.rig_id,
        rig=latest.name,
        reason=error.reason,
        written=written,
        number=number,
    )
