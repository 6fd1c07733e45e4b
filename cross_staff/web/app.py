"""The application: routers, errors, static files, the safety in front of it all."""

from __future__ import annotations

from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import APIRouter, Depends, FastAPI, Request
from fastapi.staticfiles import StaticFiles

from cross_staff import __version__
from cross_staff.core import stations
from cross_staff.core.errors import NotFound, Unanswered
from cross_staff.services import bench as bench_service
from cross_staff.services.beside import Beside
from cross_staff.services.keeping.backups import Keeping
from cross_staff.services.keeping.keeper import Keeper
from cross_staff.services.rig import helped_by
from cross_staff.services.shop.door import Door
from cross_staff.settings import Settings
from cross_staff.storage.database import Database
from cross_staff.web.api import arrow, axes, booklet, flight, groups, pins, prove, reach, tape
from cross_staff.web.api import routes as interface
from cross_staff.web.api.examples import EXAMPLES
from cross_staff.web.api.reference import PREFIX
from cross_staff.web.archer import routes as archer
from cross_staff.web.bench import about, search, trouble
from cross_staff.web.bench import routes as bench
from cross_staff.web.calculators import routes as calculators
from cross_staff.web.carry import routes as carry
from cross_staff.web.carry import tables
from cross_staff.web.devices import routes as device_pages
from cross_staff.web.devices.listening import listening
from cross_staff.web.devices.taking import TakenReadings
from cross_staff.web.events import routes as events
from cross_staff.web.events.ask import asked
from cross_staff.web.explain import routes as explain
from cross_staff.web.failures import Unexpected, handle_errors
from cross_staff.web.forms import drafts
from cross_staff.web.forms.known import known_by
from cross_staff.web.handover import routes as handover
from cross_staff.web.help import routes as help_pages
from cross_staff.web.photos import overlay as photo_overlay
from cross_staff.web.photos import routes as photos
from cross_staff.web.plan import routes as plan
from cross_staff.web.practice import routes as practice
from cross_staff.web.problems import DECLARED, Problem
from cross_staff.web.saves import PROGRESS_PATH, Progress, Saves, progress
from cross_staff.web.security import Guard
from cross_staff.web.shared.room import room_of
from cross_staff.web.shop import changes, door, people

BENCH = (bench.router, search.router, trouble.router, door.router, about.router)
BENCH_FIELDS = ("archer", "keep", "key", "kind", "name", "passphrase", "to", "units")
CALCULATORS = (flight, tape, arrow, reach, axes, groups, pins, booklet, prove)
_STATIC = Path(__file__).parent / "static"
MOST_DIGITS = 15
_ABOUT = (
    "Stateless calculators of Cross Staff. SI units, named in each field; signs and models as in "
    "docs/method.md. Errors are application/problem+json."
)


def page_routers() -> Iterator[tuple[APIRouter, tuple[str, ...]]]:
    """The bench's pages, and those of every station, with the fields that their forms may bring."""
    yield from ((router, BENCH_FIELDS) for router in BENCH)
    yield people.router, people.FIELDS
    yield changes.router, ()
    yield handover.router, handover.FIELDS
    yield archer.router, archer.FIELDS
    yield photo_overlay.router, photo_overlay.FIELDS
    yield photos.router, photos.FIELDS
    yield plan.router, plan.FIELDS
    yield practice.router, practice.FIELDS
    yield explain.router, ()
    yield events.router, events.FIELDS
    yield carry.router, carry.FIELDS
    yield tables.router, ()
    yield calculators.router, ()
    yield help_pages.router, ()
    yield interface.router, ()
    yield device_pages.router, device_pages.FIELDS
    for station in stations.STATIONS:
        room = room_of(station.key)
        yield from ((router, room.fields) for router in room.routers)


def sound_numbers(request: Request) -> None:
    """A number in an address is one that a record can have. Raises NotFound."""
    if any(value.isdecimal() and len(value) > MOST_DIGITS for value in request.path_params.values()):
        raise NotFound("there is nothing at this address")


def create_app(settings: Settings) -> FastAPI:
    """The application on the data folder of `settings`."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.database = Database(settings.database_file, settings.busy_timeout_ms)
        app.state.database.migrate()
        app.state.door = Door(app.state.database, settings.data, settings.off_loopback)
        bench_service.begin(app.state.database)
        keeper = Keeper(app.state.keeping, settings.nightly)
        keeper.start()
        app.state.beside = Beside(settings.database_file)
        if settings.beside:
            app.state.beside.start()
            helped_by(app.state.database, app.state.beside.rig)
        async with listening(app.state.database) as app.state.hub:
            yield
        app.state.beside.stop()
        keeper.stop()
        app.state.database.close()

    app = FastAPI(
        title="Cross Staff calculators",
        version=__version__,
        description=_ABOUT,
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
    )
    for pages, fields in page_routers():
        checks = [Depends(sound_numbers), Depends(known_by(fields))]
        app.include_router(pages, include_in_schema=False, dependencies=checks)
    app.include_router(drafts.router, include_in_schema=False, dependencies=[Depends(sound_numbers)])
    for json_routes in CALCULATORS:
        app.include_router(json_routes.router, prefix=PREFIX, tags=["calculators"], responses=DECLARED)
    app.mount("/static", StaticFiles(directory=_STATIC), name="static")
    app.add_api_route(PROGRESS_PATH, progress, include_in_schema=False)
    app.state.progress = Progress()
    handle_errors(app)
    app.add_exception_handler(Unanswered, asked)  # type: ignore[arg-type]
    _declare_problem(app)
    app.state.settings = settings
    app.state.keeping = Keeping.of(settings.database_file, settings.backups)
    app.state.stopping = lambda: False
    app.state.streams = set()  # of server-sent events that are open
    app.add_middleware(TakenReadings)
    app.add_middleware(Unexpected)
    app.add_middleware(Saves)
    app.add_middleware(
        Guard,
        body_limit_bytes=settings.body_limit_bytes,
        upload_limit_bytes=settings.upload_limit_bytes,
        asks=settings.off_loopback,
        behind=settings.behind,
    )
    return app


def _declare_problem(app: FastAPI) -> None:
    """Put the problem model into the schema under the name by which the responses refer to it, and the examples."""
    build = app.openapi

    def openapi() -> dict[str, Any]:
        schema = build()
        models = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        parts = schema.setdefault("components", {}).setdefault("schemas", {})
        parts.update(models.pop("$defs", {}))
        parts["Problem"] = models
        for path, example in EXAMPLES.items():
            schema["paths"][PREFIX + path]["post"]["requestBody"]["content"]["application/json"]["example"] = example
        return schema

    app.openapi = openapi  # type: ignore[method-assign]
