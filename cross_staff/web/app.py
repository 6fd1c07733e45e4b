"""The application: routers, errors, static files, the safety in front of it all."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.openapi.docs import get_swagger_ui_html
from fastapi.staticfiles import StaticFiles
from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.responses import Response

from cross_staff import __version__
from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound
from cross_staff.services.shop import Gatekeeper
from cross_staff.settings import Settings
from cross_staff.storage.database import Database
from cross_staff.web import (
    arrows,
    bench,
    card,
    card_revisions,
    card_sight,
    level,
    level_cost,
    level_photo,
    level_record,
    level_setup,
    mount,
    mount_marks,
    prepare,
    range_sheet,
    shop,
    sight_in,
    sight_in_files,
    sights,
    tape,
    tape_booklet,
    tape_change,
    tape_fits,
    tape_holds,
    tape_pins,
    tape_print,
    tape_slopes,
)
from cross_staff.web.api import arrow as api_arrow
from cross_staff.web.api import axes as api_axes
from cross_staff.web.api import booklet as api_booklet
from cross_staff.web.api import flight as api_flight
from cross_staff.web.api import groups as api_groups
from cross_staff.web.api import pins as api_pins
from cross_staff.web.api import reach as api_reach
from cross_staff.web.api import tape as api_tape
from cross_staff.web.problems import DECLARED, Problem, problem, refused_body, refused_field
from cross_staff.web.render import render
from cross_staff.web.security import Guard

PAGES = (
    bench, card, arrows, card_sight, card_revisions, prepare, mount, mount_marks, level, level_setup, level_record,
    level_photo, level_cost, sight_in, sight_in_files, tape, tape_print, tape_pins, tape_holds, tape_slopes, tape_fits,
    tape_booklet, tape_change, range_sheet, sights, shop,
)  # fmt: skip
_STATIC = Path(__file__).parent / "static"
DOCS_PATH = "/docs"
_ABOUT = (
    "Stateless calculators of Cross Staff. SI units, named in each field; signs and models as in "
    "docs/method.md. Errors are application/problem+json."
)


def create_app(settings: Settings) -> FastAPI:
    """The application on the data folder of `settings`."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.database = Database(settings.database_file)
        app.state.database.migrate()
        yield
        app.state.database.close()

    app = FastAPI(
        title="Cross Staff calculators",
        version=__version__,
        description=_ABOUT,
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
    )
    for page in PAGES:
        app.include_router(page.router, include_in_schema=False)
    for calculators in (
        api_flight,
        api_tape,
        api_arrow,
        api_reach,
        api_axes,
        api_groups,
        api_pins,
        api_booklet,
    ):
        app.include_router(calculators.router, prefix="/api/v1", tags=["calculators"], responses=DECLARED)
    app.mount("/static", StaticFiles(directory=_STATIC), name="static")
    app.add_api_route(DOCS_PATH, _docs, include_in_schema=False)
    _handle_errors(app)
    _declare_problem(app)
    keeper = Gatekeeper(settings.data) if settings.off_loopback else None
    app.state.gatekeeper, app.state.off_loopback, app.state.port = keeper, settings.off_loopback, settings.port
    app.add_middleware(
        Guard,
        body_limit_bytes=settings.body_limit_bytes,
        upload_limit_bytes=settings.upload_limit_bytes,
        docs_path=DOCS_PATH,
        gatekeeper=keeper,
    )
    return app


def _docs() -> Response:
    return get_swagger_ui_html(
        openapi_url="/openapi.json",
        title="Cross Staff calculators",
        swagger_js_url="/static/vendor/swagger-ui-bundle.js",
        swagger_css_url="/static/vendor/swagger-ui.css",
        swagger_favicon_url="/static/mark.svg",
    )


def _declare_problem(app: FastAPI) -> None:
    """Put the problem model into the schema under the name by which the responses refer to it."""
    build = app.openapi

    def openapi() -> dict[str, Any]:
        schema = build()
        models = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        parts = schema.setdefault("components", {}).setdefault("schemas", {})
        parts.update(models.pop("$defs", {}))
        parts["Problem"] = models
        return schema

    app.openapi = openapi  # type: ignore[method-assign]


def _handle_errors(app: FastAPI) -> None:
    @app.exception_handler(RequestValidationError)
    async def body(request: Request, error: RequestValidationError) -> Response:
        if _is_api(request):
            return refused_body(error)
        return _page(request, 404, "There is nothing at this address.")

    @app.exception_handler(CrossStaffError)
    async def refused(request: Request, error: CrossStaffError) -> Response:
        if _is_api(request):
            if isinstance(error, InvalidValue):
                return refused_field(error.field, error.message)
            return problem(422, str(error))
        status = 404 if isinstance(error, NotFound) else 422
        words = f"{error}."[0].upper() + f"{error}."[1:]
        return _page(request, status, words)

    @app.exception_handler(ValidationError)
    @app.exception_handler(ArithmeticError)
    async def unsolvable(request: Request, error: Exception) -> Response:
        """Values within their ranges that together run out of the numbers there are."""
        if _is_api(request):
            return problem(422, "These values lie too far apart to be solved together.")
        raise error

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> Response:
        if _is_api(request):
            return problem(error.status_code, str(error.detail), headers=error.headers)
        words = {404: "There is nothing at this address.", 405: "This page cannot be used so."}
        return _page(request, error.status_code, words.get(error.status_code, str(error.detail)))


def _is_api(request: Request) -> bool:
    return request.url.path.startswith("/api/")


def _page(request: Request, status: int, words: str) -> Response:
    return render(request, "pages/problem.html", status, words=words, code=status)
