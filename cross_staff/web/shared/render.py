"""Templates: one environment, strict about what is missing, every page with the same context."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from fastapi.templating import Jinja2Templates
from jinja2 import Environment, FileSystemLoader, StrictUndefined, select_autoescape
from starlette.requests import Request
from starlette.responses import Response

from cross_staff import __version__
from cross_staff.core.stations import STATIONS
from cross_staff.services import devices
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.guide.terms import with_terms
from cross_staff.web.guide.texts import keys_of
from cross_staff.web.shared.downloads import csv_of
from cross_staff.web.shared.explain_links import links
from cross_staff.web.shared.moments import due_words, waits_words, zone_words
from cross_staff.web.shared.page_tables import table_rows, tables_in
from cross_staff.web.shared.practice_band import band
from cross_staff.web.shared.room import room_of, standing_word
from cross_staff.web.shared.set_aside import aside_lines, reproof_context
from cross_staff.web.shared.taken_words import beside_fields, by_entry
from cross_staff.web.shared.takes import takes_json
from cross_staff.web.shared.words import PLUS_MINUS, plus_minus

_HERE = Path(__file__).parents[1]
_ENVIRONMENT = Environment(
    loader=FileSystemLoader(_HERE / "templates"),
    autoescape=select_autoescape(["html", "svg"], default=True),
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
_ENVIRONMENT.globals["version"] = __version__
_ENVIRONMENT.filters["tables"] = tables_in
_ENVIRONMENT.filters["terms"] = with_terms
_ENVIRONMENT.globals["keys_of"] = keys_of
TABLE = "table"
STATION_KEYS = frozenset(station.key for station in STATIONS)
_TEMPLATES = Jinja2Templates(env=_ENVIRONMENT)


def pairs(records: Iterable[Any], key: str | int = "", words: str | int = "") -> list[tuple[Any, Any]]:
    """What a list offers, as (key, words): two parts of each record by name or place, or each word for itself."""

    def part(record: Any, name: str | int) -> Any:
        return record[name] if isinstance(name, int) else getattr(record, name)

    return [(part(r, key), part(r, words)) if words != "" else (r, r) for r in records]


_ENVIRONMENT.filters["pairs"] = pairs
_ENVIRONMENT.filters["wide"] = lambda sd, units, quantity, decimals=1: plus_minus(units, quantity, sd or 0.0, decimals)
_ENVIRONMENT.globals["plus_minus_words"] = PLUS_MINUS
_ENVIRONMENT.globals["zone_words"] = zone_words


def render(request: Request, name: str, status: int = 200, **context: Any) -> Response:
    """A page or a fragment as the answer."""
    settings = request.app.state.settings
    context["demo"] = str(settings.data) if settings.demo else ""
    context["holder"], context["viewer"] = _holder(request)
    context["has_people"] = request.app.state.door.has_people
    context["tables_at"] = _tables_at(request)
    context |= _instruments(request, context)
    wanted = request.query_params.get(TABLE, "")
    if request.method == "GET" and wanted.isdecimal() and len(wanted) < 4:
        rows = table_rows(_ENVIRONMENT.get_template(name).render(request=request, **context), int(wanted))
        if rows is not None:
            page = re.sub(r"[^a-z0-9]+", "-", request.url.path.lower()).strip("-") or "bench"
            return csv_of(rows, f"{page}-{wanted}.csv")
    return _TEMPLATES.TemplateResponse(request, name, context, status_code=status)


def _holder(request: Request) -> tuple[str, bool]:
    """The name of who holds the device, empty where nobody said, and whether he only looks on."""
    state = request.scope.get("state", {})
    return state.get("holder", ""), bool(state.get("viewer", False))


def _instruments(request: Request, context: dict[str, Any]) -> dict[str, Any]:
    """On a page of a rig: what instruments can fill there, whether anything was taken from them, and what of it stands
    in the entries of the station's log; beside the fields of its form that is said too."""
    if "rig_id" not in context:
        return {"takes": "", "taken_any": False, "taken_by": {}}
    here, form = context.get("here", ""), context.get("form")
    every = devices.taken(request.app.state.database, context["rig_id"])
    takens = [each for each in every if each.station == here]
    if isinstance(form, FormInput):
        form.taken = beside_fields((each for each in takens if not each.entry), form.typed)
    kinds = request.app.state.hub.kinds
    room = room_of(here) if here in STATION_KEYS and kinds else None
    takes = takes_json(room.takes(context), kinds, context["units"]) if room else ""
    return {"takes": takes, "taken_any": bool(every), "taken_by": by_entry(takens)}


def _tables_at(request: Request) -> str:
    """The address under which the page's tables are files, but for their number; empty where it was posted to."""
    others = [(name, value) for name, value in request.query_params.multi_items() if name != TABLE]
    return f"?{urlencode([*others, (TABLE, '')])}" if request.method == "GET" else ""


def drawn(name: str, **context: Any) -> str:
    """A drawing as text, for a file of its own."""
    return _ENVIRONMENT.get_template(name).render(**context)


def staff(rig: Rig, here: str, units: Units) -> list[dict[str, str]]:
    """The cross-pieces of the staff: key, name, state, the word beside it, whether one is here."""
    return [
        {
            "key": each.station.key,
            "name": each.station.name,
            "state": each.state,
            "word": standing_word(each, units),
            "here": "yes" if each.station.key == here else "",
        }
        for each in rig.standings
    ]


def rig_context(rig: Rig, here: str, today: date) -> dict[str, Any]:
    """What every page of a rig shows at its head."""
    units = Units.of(rig.units)
    return {
        "rig_id": rig.rig_id,
        "card": rig.card,
        "revision": rig.revision.number,
        "units": units,
        "staff": staff(rig, here, units),
        "due": due_words(rig.card.due, today),
        "here": here,
        "photos": rig.photos,
        "stopping": rig.checklist.stopping,
        "waits": waits_words(rig.state.waiting, today),
        "aside": aside_lines(rig, here),
        "reproof": reproof_context(rig, units) if here in ("sight_in", "tape") else None,
        "practice": band(rig, here),
        "explain": links(here),
    }
