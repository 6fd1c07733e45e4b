"""Saves that a page sends by itself: the answer says where to go on to, and one that is sent again, because its
answer was lost on the way, is carried out once."""

from __future__ import annotations

import asyncio
import re
from collections import OrderedDict
from collections.abc import Callable

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

KEY, GO_ON = "x-save", "x-go-on"  # the header that names a save, and the one that says where to go on
MOST_KEYS = 1000
PROGRESS_PATH = "/saves/{key}"
_KEY = re.compile(r"[A-Za-z0-9-]{8,64}")


class Progress:
    """How far the saves are that take a while, by their keys."""

    def __init__(self) -> None:
        self._stands: OrderedDict[str, tuple[int, int]] = OrderedDict()

    def of(self, request: Request) -> Callable[[int, int], None]:
        """What a save tells, again and again: how much is done, of how much."""
        key = request.headers.get(KEY, "")

        def tell(done: int, of: int) -> None:
            if _KEY.fullmatch(key):
                self._stands[key] = (done, of)
                while len(self._stands) > MOST_KEYS:
                    self._stands.popitem(last=False)

        return tell

    def stands(self, key: str) -> tuple[int, int] | None:
        """How much of a save is done, of how much; None for one that told nothing."""
        return self._stands.get(key)


def progress(request: Request, key: str) -> Response:
    """How far a save is, for the page that waits for it: 204 where nothing is known."""
    stands = request.app.state.progress.stands(key)
    return JSONResponse(dict(zip(("done", "of"), stands))) if stands else Response(status_code=204)


class Saves:
    """ASGI middleware. A redirect after a save becomes 204 with the address beside it."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app
        self._done: OrderedDict[str, asyncio.Future[str]] = OrderedDict()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        key = Headers(scope=scope).get(KEY, "") if scope["type"] == "http" and scope["method"] == "POST" else ""
        if not _KEY.fullmatch(key):
            await self.app(scope, receive, send)
            return
        name = f"{scope['path']} {key}"
        while (before := self._done.get(name)) is not None:
            address = await asyncio.shield(before)
            if address:
                await _went_on(send, address)
                return
        await self._first(name, scope, receive, send)

    async def _first(self, name: str, scope: Scope, receive: Receive, send: Send) -> None:
        """Carry a save out; what was refused, or failed, may come again."""
        outcome: asyncio.Future[str] = asyncio.get_running_loop().create_future()
        self._done[name] = outcome
        while len(self._done) > MOST_KEYS:
            self._done.popitem(last=False)
        address = ""

        async def send_on(message: Message) -> None:
            nonlocal address
            if message["type"] == "http.response.start" and message["status"] == 303:
                headers = MutableHeaders(scope=message)
                address = headers["location"]
                headers[GO_ON] = address
                del headers["location"]
                headers["content-length"] = "0"
                message = {**message, "status": 204, "headers": headers.raw}
            await send(message)

        try:
            await self.app(scope, receive, send_on)
        finally:
            outcome.set_result(address)
            if not address:
                self._done.pop(name, None)


async def _went_on(send: Send, address: str) -> None:
    headers = [(GO_ON.encode(), address.encode("latin-1", "replace"))]
    await send({"type": "http.response.start", "status": 204, "headers": headers})
    await send({"type": "http.response.body", "body": b""})
