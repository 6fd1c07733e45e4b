"""The door of the shop: the passphrase off this machine, logging out, and the phone's address as a QR code."""

from __future__ import annotations

import asyncio
import io
import socket
from datetime import UTC, datetime
from urllib.parse import quote, urlsplit

from fastapi import APIRouter, Request
from starlette.concurrency import run_in_threadpool
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.services.shop.door import Door, Waits
from cross_staff.web.forms.form import TypedForm
from cross_staff.web.security import LOOPBACK_NAMES, cookie_name, host_of
from cross_staff.web.shared.render import render

router = APIRouter()
COOKIE_S = 400 * 86400  # the longest that a browser keeps one


def inside(path: str) -> str:
    """A path of this application to go on to; the bench for anything else."""
    try:
        parts = urlsplit(path)
    except ValueError:
        return "/"
    safe = path.startswith("/") and not path.startswith("//") and "\\" not in path and not parts.netloc
    return path if safe and path.isprintable() and len(path) < 300 else "/"


@router.get("/shop")
def door(request: Request, to: str = "/") -> Response:
    """Ask for the passphrase."""
    return render(request, "shop/door.html", to=inside(to), error="")


@router.post("/shop")
async def knock(request: Request, typed: TypedForm) -> Response:
    """Let in who knows it; one who was in before and mistyped much is heard after a while, on no thread."""
    to, door = inside(typed.get("to", "/")), request.app.state.door
    if not door.asks:
        return RedirectResponse(to, 303)  # this machine alone is served: there is no door
    return await run_in_threadpool(_heard, request, to, typed.get("passphrase", ""), await _held(request))


async def _held(request: Request) -> Waits | None:
    """Wait as long as a try from here is held; what it is refused with where too many are."""
    door: Door = request.app.state.door
    try:
        await asyncio.sleep(door.hold_s(address_of(request), datetime.now(UTC)))
    except Waits as error:
        return error
    return None


def _heard(request: Request, to: str, passphrase: str, refused: Waits | None) -> Response:
    door: Door = request.app.state.door
    try:
        if refused is not None:
            raise refused
        cookie = door.knock(passphrase, address_of(request), device_of(request), datetime.now(UTC))
    except InvalidValue as error:
        status = 429 if isinstance(error, Waits) else 422
        return render(request, "shop/door.html", status, to=to, error=error.message)
    return with_cookie(request, RedirectResponse(to, 303), cookie)


@router.post("/out")
def log_out(request: Request) -> Response:
    """The visit of this device ends."""
    visit = request.state.visit
    if visit is not None:
        request.app.state.door.end(visit.visit, datetime.now(UTC))
    answer = RedirectResponse("/shop" if request.app.state.door.asks else "/", 303)
    secure = bool(request.app.state.settings.behind)
    answer.delete_cookie(cookie_name(secure), httponly=True, samesite="lax", secure=secure)
    return answer


def address_of(request: Request) -> str:
    """From where a request comes."""
    return request.client.host if request.client else ""


def device_of(request: Request) -> str:
    """What a device is, as far as it says so."""
    agent = request.headers.get("user-agent", "").lower()
    if "tablet" in agent or "ipad" in agent:
        return "tablet"
    return "phone" if "mobi" in agent else "computer" if "mozilla" in agent else "script"


def with_cookie(request: Request, answer: Response, cookie: str) -> Response:
    """An answer that lets the device in: the cookie is kept from scripts and from other sites, and wears off here, by
    when the device was last seen."""
    secure = bool(request.app.state.settings.behind)
    answer.set_cookie(cookie_name(secure), cookie, max_age=COOKIE_S, httponly=True, samesite="lax", secure=secure)
    return answer


@router.get("/phone")
def phone(request: Request, to: str = "/") -> Response:
    """The address for a phone, to be scanned."""
    addresses = [f"{begins}{inside(to)}" for begins in addresses_of(request)]
    codes = [(address, f"/phone.svg?address={quote(address, safe='')}") for address in addresses]
    return render(request, "shop/phone.html", codes=codes, to=inside(to))


@router.get("/phone.svg")
def code(request: Request, address: str) -> Response:
    """An address of this machine as a QR code. Anything else is refused."""
    import segno

    begins = tuple(f"{each}/" for each in addresses_of(request))
    if not address.startswith(begins) or len(address) > 400 or not address.isprintable():
        raise InvalidValue("address", "is not one of this machine's")
    out = io.BytesIO()
    segno.make(address, error="m").save(
        out, kind="svg", scale=6, border=3, xmldecl=False, title="Address for the phone"
    )
    return Response(out.getvalue(), media_type="image/svg+xml")


def addresses_of(request: Request) -> list[str]:
    """Addresses under which a phone finds this machine: its proxy's, or those in the same network; none while it
    only listens to itself."""
    settings = request.app.state.settings
    if settings.behind:
        return [settings.behind.rstrip("/")]
    if not settings.off_loopback:
        return []
    name, own_port = host_of(request.headers.get("host", ""))
    port = own_port or settings.port
    hosts = [] if name in LOOPBACK_NAMES or not name else [name]
    return [f"http://{host}:{port}" for host in dict.fromkeys([*hosts, *network_addresses()])]


def network_addresses() -> list[str]:
    """This machine's own address in its network, as its routes have it; nothing is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # an address for documentation: only the route is looked up
            address = probe.getsockname()[0]
        except OSError:
            return []
    return [] if address.startswith("127.") or address == "0.0.0.0" else [address]
