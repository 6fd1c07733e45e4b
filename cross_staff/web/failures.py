"""What is shown when something fails: what happened, what was kept, a way back; the traceback goes to the log."""

from __future__ import annotations

import logging
from secrets import token_hex
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound, NotKept, Unreckonable
from cross_staff.web.bench import trouble
from cross_staff.web.forms.form import wants_fragment
from cross_staff.web.problems import problem, refused_body, refused_field
from cross_staff.web.security import BodyTooLarge, TooSlow, in_log
from cross_staff.web.shared.render import render

_LOG = logging.getLogger("cross_staff")
SAFE = ("GET", "HEAD")
MOST_KEPT = 200_000  # letters of a form that are sent back, so that it can be sent again
NOTHING_LOST = "Nothing you measured is lost. Rigs are listed on the bench."


class NothingYet(Exception):
    """A file of what a rig does not have yet: its page says what is missing."""

    def __init__(self, page: str) -> None:
        super().__init__(page)
        self.page = page


class Unexpected:
    """ASGI middleware: an error that nobody foresaw becomes an answer of ours, its traceback a line of the log."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        started = False

        async def send_noted(message: Message) -> None:
            nonlocal started
            started = True
            await send(message)

        try:
            await self.app(scope, receive, send_noted)
        except (BodyTooLarge, TooSlow):
            raise
        except ClientDisconnect:
            return  # whoever asked has gone: nobody is there to be answered
        except Exception as error:
            number = token_hex(3)
            _LOG.error("%s %s failed (%s)", scope["method"], in_log(scope["path"]), number, exc_info=error)
            if started:
                raise
            answer = unexpected(Request(scope, receive), number)
            await answer(scope, receive, send)


def unexpected(request: Request, number: str) -> Response:
    """The answer to an error that nobody foresaw, by its number in the log."""
    if is_api(request):
        return problem(500, f"The program failed here; its log says why, under {number}.")
    why = f"It is a fault of the program, and stands in its log under {number}. What was saved before is kept."
    return page(request, 500, "This could not be done.", why)


def handle_errors(app: FastAPI) -> None:
    """Give every error that can be foreseen its answer."""

    @app.exception_handler(RequestValidationError)
    async def body(request: Request, error: RequestValidationError) -> Response:
        if is_api(request):
            return refused_body(error)
        return page(request, 404, "There is nothing at this address.")

    @app.exception_handler(NotKept)
    async def not_kept(request: Request, error: NotKept) -> Response:
        words = f"{str(error)[0].upper()}{str(error)[1:]}."
        if is_api(request):
            return problem(503, words, headers={"Retry-After": "5"})
        what = "" if request.method in SAFE else "This was not saved: "
        return page(request, 503, words, f"{what}{error.remedy}. What was saved before is kept.")

    @app.exception_handler(Unreckonable)
    def unreckonable(request: Request, error: Unreckonable) -> Response:
        number = token_hex(3)
        _LOG.error("%s %s failed (%s)", request.method, in_log(request.url.path), number, exc_info=error)
        if request.method in SAFE and not wants_fragment(request):
            return trouble.answer(request, error, number)
        why = "Its records are all kept, and each can be taken back on the rig's own page."
        return page(request, 500, "This rig cannot be worked out.", why, onward=f"/rigs/{error.rig_id}/trouble")

    @app.exception_handler(NothingYet)
    async def nothing_yet(request: Request, error: NothingYet) -> Response:
        return RedirectResponse(error.page, 303)

    @app.exception_handler(CrossStaffError)
    async def refused(request: Request, error: CrossStaffError) -> Response:
        if is_api(request):
            if isinstance(error, InvalidValue):
                return refused_field(error.field, error.message)
            return problem(422, str(error))
        status = 404 if isinstance(error, NotFound) else 422
        words = f"{error}."[0].upper() + f"{error}."[1:]
        return page(request, status, words)

    @app.exception_handler(ValidationError)
    @app.exception_handler(ArithmeticError)
    async def unsolvable(request: Request, error: Exception) -> Response:
        """Values within their ranges that together run out of the numbers there are."""
        if is_api(request):
            return problem(422, "These values lie too far apart to be solved together.")
        raise error

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> Response:
        if is_api(request):
            return problem(error.status_code, str(error.detail), headers=error.headers)
        words = {404: "There is nothing at this address.", 405: "This page cannot be used so."}
        return page(request, error.status_code, words.get(error.status_code, str(error.detail)))


def is_api(request: Request) -> bool:
    """Whether a calculator was asked, which answers in JSON."""
    return request.url.path.startswith("/api/")


def page(request: Request, status: int, words: str, why: str = NOTHING_LOST, onward: str = "/") -> Response:
    """The page, or the fragment, that says what happened. What was typed comes back and can be sent again."""
    context: dict[str, Any] = {"words": words, "code": status, "why": why, "onward": onward}
    if wants_fragment(request):
        return render(request, "shared/_problem.html", status, **context)
    typed: dict[str, str] = getattr(request.state, "typed", {})
    again = status >= 500 and bool(typed) and sum(map(len, typed.values())) < MOST_KEPT
    kept = {name: text for name, text in typed.items() if name != "passphrase"} if again else {}
    context |= {"again": request.url.path if again else "", "typed": kept}
    return render(request, "shared/problem.html", status, **context)
