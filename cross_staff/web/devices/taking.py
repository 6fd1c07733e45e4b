"""What was taken from instruments into a form is kept with the record, once the form was saved."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from typing import Any

from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.rig.taken import Taken
from cross_staff.devices.hub import Hub
from cross_staff.devices.protocol import UNITS
from cross_staff.services import devices
from cross_staff.web.forms.known import TAKEN

_RIG = re.compile(r"/rigs/(\d{1,15})/([a-z_]+)")
_AS_TYPED = re.compile(r"/rigs/\d+/(tape|sight_in/end)")
_ROW = re.compile(r"row-\d+-")
ENTRY = ("sent", "key")  # the fields that name the entry of a log which a form makes
MOST = 200  # of one form


class TakenReadings:
    """ASGI middleware: a form of a rig that was saved has its readings written down too."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] != "POST" or not _RIG.match(scope["path"]):
            await self.app(scope, receive, send)
            return
        request = Request(scope)

        async def send_kept(message: Message) -> None:
            if message["type"] == "http.response.start" and _saved(scope["path"], message["status"]):
                await run_in_threadpool(_keep, request)
            await send(message)

        await self.app(scope, receive, send_kept)


def _saved(path: str, status: int) -> bool:
    """Whether a form was saved: a page leads on, a table or an end says so itself; a look ahead saves nothing."""
    return status == 303 or (status < 300 and _AS_TYPED.fullmatch(path) is not None)


def _keep(request: Request) -> None:
    posted: Mapping[str, str] = getattr(request.state, "posted", {})
    where = _RIG.match(request.url.path)
    if where is None or not posted.get(TAKEN):
        return
    takens = list(_taken(request.app.state.hub, where[2], posted))
    try:
        if takens:
            devices.keep_taken(request.app.state.database, int(where[1]), takens)
    except CrossStaffError:
        return  # the value itself is kept


def _taken(hub: Hub, station: str, posted: Mapping[str, str]) -> Iterator[Taken]:
    """What a form says was taken, as far as it still stands in its fields and can have come from an instrument."""
    try:
        told = json.loads(posted[TAKEN])
    except (ValueError, RecursionError):
        return
    for each in told[:MOST] if isinstance(told, list) else ():
        try:
            taken = _one(hub, station, posted, each)
        except (KeyError, TypeError, ValueError, OverflowError):
            continue
        yield taken


def _one(hub: Hub, station: str, posted: Mapping[str, str], told: Any) -> Taken:
    """One of them. Raises KeyError, TypeError, ValueError where it is none, or the field says something else by now."""
    field, text, figure, sequence = str(told["field"]), str(told["text"]), str(told["figure"]), int(told["sequence"])
    if not text or text not in posted[field].replace(",", " ").split() + [posted[field].strip()]:
        raise ValueError("typed over")
    standing = hub.standing(int(told["device"]))
    if standing is None:
        raise ValueError("no instrument of the shop")
    came = standing.of(figure, sequence)  # type: ignore[arg-type]
    if came is not None:
        value, resolution, at = came.reading.si, came.reading.resolution * UNITS[came.reading.kind][1], came.at
    else:  # from before the program was started anew: as the page had it
        value, resolution = float(told["si"]), float(told["resolution"])
        at = datetime.fromisoformat(str(told["at"])).astimezone(UTC)
    row = _ROW.match(field)
    key = posted.get(f"{row[0]}key", "") if row else next((posted[name] for name in ENTRY if posted.get(name)), "")
    return Taken(station, key, field, text, standing.device.name, figure, value, resolution, sequence, at)
