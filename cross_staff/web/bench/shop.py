"""The door of the shop: the passphrase off this machine, and the phone's address as a QR code."""

from __future__ import annotations

import io
import socket
from urllib.parse import quote, urlsplit

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.services.shop import COOKIE_DAYS, Gatekeeper
from cross_staff.web.forms.form import TypedForm
from cross_staff.web.security import COOKIE, LOOPBACK_NAMES, host_of
from cross_staff.web.shared.render import render

router = APIRouter()


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
    return render(request, "bench/shop.html", to=inside(to), error="")


@router.post("/shop")
def knock(request: Request, typed: TypedForm) -> Response:
    """Let in who knows it. The cookie is kept from scripts and from other sites."""
    to = inside(typed.get("to", "/"))
    keeper: Gatekeeper | None = request.app.state.gatekeeper
    if keeper is None:
        return RedirectResponse(to, 303)  # this machine alone is served: there is no door
    asker = request.client.host if request.client else ""
    try:
        cookie = keeper.knock(typed.get("passphrase", ""), asker)
    except InvalidValue as error:
        waiting = "wait" in error.message
        return render(request, "bench/shop.html", 429 if waiting else 422, to=to, error=error.message)
    answer = RedirectResponse(to, 303)
    secure = bool(request.app.state.settings.behind)
    answer.set_cookie(COOKIE, cookie, max_age=COOKIE_DAYS * 86400, httponly=True, samesite="lax", secure=secure)
    return answer


@router.get("/phone")
def phone(request: Request, to: str = "/") -> Response:
    """The address for a phone, to be scanned."""
    addresses = [f"{begins}{inside(to)}" for begins in _addresses(request)]
    codes = [(address, f"/phone.svg?address={quote(address, safe='')}") for address in addresses]
    return render(request, "bench/phone.html", codes=codes, to=inside(to))


@router.get("/phone.svg")
def code(request: Request, address: str) -> Response:
    """An address of this machine as a QR code. Anything else is refused."""
    import segno

    begins = tuple(f"{each}/" for each in _addresses(request))
    if not address.startswith(begins) or len(address) > 400 or not address.isprintable():
        raise InvalidValue("address", "is not one of this machine's")
    out = io.BytesIO()
    segno.make(address, error="m").save(
        out, kind="svg", scale=6, border=3, xmldecl=False, title="Address for the phone"
    )
    return Response(out.getvalue(), media_type="image/svg+xml")


def _addresses(request: Request) -> list[str]:
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
