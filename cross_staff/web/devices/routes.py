"""The shop's measuring instruments: entered, looked at, heard; and what was taken from them for a rig."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from datetime import UTC, datetime
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse
from starlette.responses import Response, StreamingResponse

from cross_staff.devices.address import Address, address_of
from cross_staff.devices.hub import Hub
from cross_staff.services import devices
from cross_staff.services.devices import KeptDevice
from cross_staff.services.rig import open_rig
from cross_staff.web.devices import words
from cross_staff.web.devices.listening import entered
from cross_staff.web.devices.live import news
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
FIELDS = ("name", "kind", "address", "back")
LOOK_S, KEEPALIVE_S = 0.2, 10.0
MOST_STREAMS = 64
_NEW = {"name": "", "kind": "chronograph", "address": ""}


def _page(request: Request, form: FormInput, status: int = 200, changing: int = 0) -> Response:
    hub: Hub = request.app.state.hub
    now, kept = datetime.now(UTC), devices.kept(request.app.state.database)
    return render(
        request,
        "devices/page.html",
        status,
        form=form,
        lines=[words.line(each, hub.standing(each.device), now) for each in kept],
        kinds=words.KINDS,
        changing=changing,
        gone=_gone(request),
        port=words.STAND_IN_PORT,
    )


def _gone(request: Request) -> KeptDevice | None:
    """The one that was just removed, so that it can be put back."""
    number = request.query_params.get("gone", "")
    every = devices.kept(request.app.state.database, removed=True) if number.isdecimal() else []
    return next((each for each in every if str(each.device) == number), None)


@router.get("/devices")
def devices_page(request: Request) -> Response:
    """The instruments, each with how it stands and what it said last."""
    return _page(request, FormInput(_NEW, Units()))


@router.get("/devices/{device}")
def change_page(request: Request, device: int) -> Response:
    """The same with the form of one of them. Raises NotFound."""
    kept = devices.find(request.app.state.database, device)
    typed = {"name": kept.name, "kind": kept.kind, "address": str(Address(kept.host, kept.port))}
    return _page(request, FormInput(typed, Units()), changing=device)


@router.post("/devices")
def add(request: Request, typed: TypedForm) -> Response:
    """Enter one, and listen to it from now on."""
    form = FormInput(_NEW | typed, Units())
    with form.refusals():
        name, kind, where = form.text("name"), form.typed["kind"], address_of(form.typed["address"])
        if not form.errors:
            devices.add(request.app.state.database, name, kind, where.host, where.port, datetime.now(UTC))
    return _page(request, form, 422) if form.errors else _done(request)


@router.post("/devices/{device}")
def change(request: Request, device: int, typed: TypedForm) -> Response:
    """Another name or address. Raises NotFound."""
    kept = devices.find(request.app.state.database, device)
    form = FormInput(_NEW | {"kind": kept.kind} | typed, Units())
    with form.refusals():
        name, where = form.text("name"), address_of(form.typed["address"])
        if not form.errors:
            devices.change(request.app.state.database, device, name, where.host, where.port, datetime.now(UTC))
    return _page(request, form, 422, device) if form.errors else _done(request)


@router.post("/devices/{device}/remove")
def remove(request: Request, device: int, typed: TypedForm) -> Response:
    """Listen to it no more, or again, which another of its name or at its place forbids. Raises NotFound."""
    form = FormInput(_NEW, Units())
    with form.refusals():
        devices.remove(request.app.state.database, device, datetime.now(UTC), back="back" in typed)
    return _page(request, form, 422) if form.errors else _done(request, "" if "back" in typed else f"?gone={device}")


def _done(request: Request, and_says: str = "") -> Response:
    request.app.state.hub.follow(entered(request.app.state.database))
    return RedirectResponse(f"/devices{and_says}", 303)


@router.get("/devices/live/stream")
async def stream(request: Request) -> Response:
    """What the instruments say, as server-sent events: first what is known, then every change."""
    open_streams = request.app.state.streams
    if len(open_streams) >= MOST_STREAMS:
        return Response(status_code=503, headers={"Retry-After": "5"})
    headers = {"X-Accel-Buffering": "no"}
    return StreamingResponse(_events(request, open_streams), media_type="text/event-stream", headers=headers)


async def _events(request: Request, open_streams: set[object]) -> AsyncIterator[str]:
    hub: Hub = request.app.state.hub
    this, told, quiet_s = object(), -1, 0.0
    open_streams.add(this)
    try:
        while not request.app.state.stopping() and not await request.is_disconnected():
            if hub.version != told:
                after, told, quiet_s = max(told, 0), hub.version, 0.0
                yield f"data: {json.dumps(news(hub, after))}\n\n"
            elif quiet_s >= KEEPALIVE_S:
                quiet_s = 0.0
                yield ": still here\n\n"
            await asyncio.sleep(LOOK_S)
            quiet_s += LOOK_S
    finally:
        open_streams.discard(this)


@router.get("/rigs/{rig_id}/taken")
def taken_page(request: Request, rig_id: int) -> Response:
    """All that was taken from instruments for a rig, newest first. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    context: dict[str, Any] = rig_context(rig, "", datetime.now(UTC).date())
    rows = [words.taken(each, context["units"]) for each in devices.taken(database, rig_id)]
    return render(request, "devices/taken.html", rows=rows, **context)
