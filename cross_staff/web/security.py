"""Safety from the first day: content security policy, cross-site posts refused, body limit, the door, who acts."""

from __future__ import annotations

import asyncio
import ipaddress
import logging
import re
from contextlib import suppress
from datetime import UTC, datetime
from urllib.parse import quote, urlsplit

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from cross_staff.core.errors import CrossStaffError
from cross_staff.services.shop.door import Door, Visit, acted, acting
from cross_staff.web.problems import problem

SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
POLICY = "default-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'; object-src 'none'"
UPLOADS = re.compile(r"/rigs/\d+/(mount/marks|level/photo|sight_in/photo|photo-bench)|/carry|/plan/busy|/practice/file")
MOST_LOGGED = 200  # letters of an address
BODY_SECONDS = 30.0  # how long the next piece of what is sent may be waited for
COOKIE, DOOR, HEALTH = "cross-staff-shop", "/shop", "/health"
REFUSALS = frozenset({400, 401, 403, 408, 413, 422, 429})  # that stand in the log
_LOG = logging.getLogger("cross_staff.security")
WHO, OUT, ARCHER = "/who", "/out", "/archer/"  # who holds the device, log out, an archer's link
OPEN = (DOOR, HEALTH)  # to everybody
STATELESS = "/api/"
NOT_KEPT = ("/static/", "/help", "/calculators")  # what a browser may keep: nothing of a client is in it
FORWARDED = ("x-forwarded-for", "x-forwarded-host", "forwarded")
LOOPBACK_NAMES = frozenset({"127.0.0.1", "localhost", "::1"})
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


class BodyTooLarge(Exception):
    """More was sent than the server takes."""


class TooSlow(Exception):
    """Nothing more was sent for a while, in the middle of what was to come."""


class Guard:
    """ASGI middleware in front of everything."""

    def __init__(
        self,
        app: ASGIApp,
        body_limit_bytes: int,
        upload_limit_bytes: int,
        asks: bool = False,
        behind: str = "",
    ) -> None:
        self.app = app
        self.behind = urlsplit(behind).netloc.lower()
        self.asks = asks
        self.body_limit = body_limit_bytes
        self.upload_limit = upload_limit_bytes

    def _limit(self, scope: Scope) -> int:
        """The bytes that this address takes: photos need more than forms."""
        return self.upload_limit if UPLOADS.fullmatch(scope["path"]) else self.body_limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                if message["status"] in REFUSALS:
                    _log_refused(scope, message["status"])
                out = MutableHeaders(scope=message)
                out["Content-Security-Policy"] = POLICY
                for name, value in _HEADERS.items():
                    out[name] = value
                if not scope["path"].startswith(NOT_KEPT):
                    out["Cache-Control"] = "no-store"
                if self.behind:
                    out["Strict-Transport-Security"] = "max-age=31536000"
            await send(message)

        refusal = self._refusal(scope, headers) or await self._come_in(scope, headers)
        if refusal is not None:
            await refusal(scope, receive, send_guarded)
            return
        token = acting(scope["state"]["holder"])
        try:
            await self._limited(scope, receive, send_guarded)
        finally:
            acted(token)

    def _refusal(self, scope: Scope, headers: Headers) -> Response | None:
        host = headers.get("host", "")
        at_home = _loopback_name(host)
        proxied = bool(self.behind) and host.lower() == self.behind
        if not at_home and not proxied and not (self.asks and _address(host)):
            return _answer(scope, 403, "This name does not belong to this machine.")
        if not self.behind and any(name in headers for name in FORWARDED):
            return _answer(scope, 403, "A proxy stands before this program, which was started without --behind.")
        if scope["method"] not in SAFE_METHODS and not same_site(headers):
            return _answer(scope, 403, "This request came from another site and was refused.")
        length = headers.get("content-length", "0")
        if not length.isdecimal() or int(length) > self._limit(scope):
            return _too_much(scope, self._limit(scope))
        return None

    async def _come_in(self, scope: Scope, headers: Headers) -> Response | None:
        """Whose device it is, and whether he may: over the network with the cookie, and by name where the shop has
        people; else to the door, or to what dresses it."""
        state = scope.setdefault("state", {})
        state |= {"visit": None, "holder": "", "viewer": False}
        path, door, now = scope["path"], scope["app"].state.door, datetime.now(UTC)
        if path in (HEALTH,) or path.startswith(("/static/", ARCHER)):
            return None
        visit = door.visit(cookie_parser(headers.get("cookie", "")).get(cookie_name(bool(self.behind)), ""), now)
        # whoever comes through a proxy comes from this machine: then everybody is asked
        asked = self.asks and (
            bool(self.behind) or not (_loopback_name(headers.get("host", "")) and _from_loopback(scope))
        )
        if asked and not door.let_in(visit):
            return None if path in OPEN else _sent(scope, DOOR, "Say the shop's passphrase first.")
        state["visit"], holder = visit, door.holder(visit)
        state["holder"], state["viewer"] = holder.name if holder else "", holder is not None and not holder.writes
        await self._noted(door, visit, scope)
        if path in (*OPEN, WHO, OUT):
            return None
        if asked and holder is None and door.has_people:
            return _sent(scope, WHO, "Say first who holds this device.")
        if state["viewer"] and scope["method"] not in SAFE_METHODS and not path.startswith(STATELESS):
            return _answer(
                scope, 403, f"{state['holder']} looks on: nothing was written. A technician signs in under {WHO}."
            )
        return None

    @staticmethod
    async def _noted(door: Door, visit: Visit | None, scope: Scope) -> None:
        """That the device was seen, now and then; whoever is let in does not wait for it."""
        address, now = scope["client"][0] if scope.get("client") else "", datetime.now(UTC)
        if visit is not None and door.needs_note(visit, address, now):
            with suppress(CrossStaffError):
                await run_in_threadpool(door.note, visit, address, now)

    async def _limited(self, scope: Scope, receive: Receive, send: Send) -> None:
        taken, started, ended = 0, False, False

        async def receive_counted() -> Message:
            nonlocal taken, ended
            try:
                message = await asyncio.wait_for(receive(), None if ended else BODY_SECONDS)
            except TimeoutError as error:
                raise TooSlow from error
            ended = not message.get("more_body", False)
            taken += len(message.get("body", b""))
            if taken > self._limit(scope):
                raise BodyTooLarge
            return message

        async def send_noted(message: Message) -> None:
            nonlocal started
            started = True
            await send(message)

        try:
            await self.app(scope, receive_counted, send_noted)
        except (BodyTooLarge, TooSlow) as error:
            if not started:
                slow = isinstance(error, TooSlow)
                refusal = _answer(scope, 408, "This came too slowly.") if slow else _too_much(scope, self._limit(scope))
                await refusal(scope, receive, send)


def cookie_name(secure: bool) -> str:
    """What the cookie of a visit is called; behind TLS so that no other name, path or port can set it."""
    return f"__Host-{COOKIE}" if secure else COOKIE


def _log_refused(scope: Scope, status: int) -> None:
    """A line for what was refused: what was asked, not what was typed."""
    address = scope["client"][0] if scope.get("client") else "nowhere"
    _LOG.info("refused (%s) %s %s from %s", status, scope["method"], in_log(scope["path"]), address)


def in_log(path: str) -> str:
    """A path as the log has it: not too long, and no archer's link, which is a key."""
    return ARCHER if path.startswith(ARCHER) else path[:MOST_LOGGED]


def same_site(headers: Headers) -> bool:
    """Whether an unsafe request comes from our own pages, or from a script outside any browser."""
    site = headers.get("sec-fetch-site")
    if site is not None and site not in ("same-origin", "none"):
        return False
    origin = headers.get("origin")
    if origin is None:
        return True
    scheme, _, place = origin.partition("://")
    return scheme in ("http", "https") and place == headers.get("host", "")


def _loopback_name(host: str) -> bool:
    """Whether the request names this machine: a stranger's name that resolves here is refused."""
    name = host_of(host)[0]
    return name in LOOPBACK_NAMES or is_loopback(name)


def host_of(text: str) -> tuple[str, int | None]:
    """Name and port of a Host header; no name where it is none."""
    try:
        parts = urlsplit(f"//{text}")
        return parts.hostname or "", parts.port
    except ValueError:
        return "", None


def _address(host: str) -> bool:
    """Whether a request names a bare address: no stranger's name can be made to resolve to one."""
    try:
        ipaddress.ip_address(host_of(host)[0])
    except ValueError:
        return False
    return True


def is_loopback(address: str) -> bool:
    """Whether an address is this machine's alone."""
    try:
        return ipaddress.ip_address(address).is_loopback
    except ValueError:
        return False


def _from_loopback(scope: Scope) -> bool:
    """Whether the other end of the line is this machine itself."""
    client = scope.get("client")
    return client is not None and is_loopback(client[0])


def _too_much(scope: Scope, limit: int) -> Response:
    return _answer(scope, 413, f"More than {limit // 1024} KB was sent.")


def _sent(scope: Scope, to: str, words: str) -> Response:
    """To a page that asks something first; what cannot be led there is refused."""
    if scope["method"] not in SAFE_METHODS or scope["path"].startswith(STATELESS):
        return _answer(scope, 401, words)
    return RedirectResponse(f"{to}?to={quote(scope['path'])}", 303)


def _answer(scope: Scope, status: int, words: str) -> Response:
    if scope["path"].startswith("/api/"):
        return problem(status, words)
    return PlainTextResponse(words, status)
