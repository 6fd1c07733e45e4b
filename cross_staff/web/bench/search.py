"""Search over rigs, archers, sights and notes."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.stations import STATIONS
from cross_staff.services import search
from cross_staff.web.shared.render import render

router = APIRouter()
MOST_LETTERS = 60
_NAMES = {station.key: station.name for station in STATIONS}


@router.get("/search")
def search_page(request: Request) -> Response:
    """Where the words that are asked for stand."""
    asked = request.query_params.get("q", "")[:MOST_LETTERS].strip()
    answer = search.find(request.app.state.database, asked)
    rows = [
        {
            "href": f"/rigs/{found.rig_id}/{found.station}",
            "name": found.name,
            "what": f"{_NAMES.get(found.station, found.station)}, {found.what}",
            "text": found.text,
        }
        for found in answer.found
    ]
    return render(request, "bench/search.html", asked=asked, rows=rows, sights=answer.sights)
