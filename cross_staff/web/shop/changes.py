"""Who changed what, and when: one page, filtered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.stations import STATIONS
from cross_staff.services.shop.changes import Change, Wanted, changes, room
from cross_staff.web.forms.form import whole
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render

router = APIRouter()
NOBODY = "nobody"
ROOMS = {each.key: each.name for each in STATIONS} | {
    "photos": "Photos",
    "practice": "Practice bench",
    "instruments": "Instruments",
    "days": "The days",
    "shop": "The shop's own",
}
MOST_SHOWN = 4
# what a row of a log is called, and its plural
_CALLED = {
    "rig_revisions": ("card", "cards"),
    "photos": ("photo", "photos"),
    "witness_marks": ("witness mark", "witness marks"),
    "level_readings": ("level reading", "level readings"),
    "range_sessions": ("visit to the range", "visits to the range"),
    "range_ends": ("end", "ends"),
    "range_shots": ("shot", "shots"),
    "range_moves": ("movement of the sight", "movements of the sight"),
    "observations": ("mark", "marks"),
    "printed_tapes": ("printed tape", "printed tapes"),
    "proof_lines": ("proof line", "proof lines"),
    "handover_cards": ("hand-over card", "hand-over cards"),
    "taken_readings": ("reading taken from an instrument", "readings taken from instruments"),
    "sight_models": ("sight of the library", "sights of the library"),
    "instruments": ("level of the shop", "levels of the shop"),
    "devices": ("measuring instrument", "measuring instruments"),
    "people": ("person", "people"),
    "shop_hours": ("hours of the shop", "hours of the shop"),
    "rig_days": ("days of the rig", "days of the rig"),
    "busy_times": ("busy times", "busy times"),
    "bench_entries": ("entry", "entries"),
}


@router.get("/changes")
def changes_page(request: Request, who: str = "", rig: str = "", room: str = "", before: str = "") -> Response:
    """What was written of late, the newest first; `who` is a name, or nobody."""
    wanted = Wanted(
        None if not who else "" if who == NOBODY else who, whole(rig), room if room in ROOMS else "", whole(before)
    )
    told = changes(request.app.state.database, wanted)
    asked = {"who": who, "rig": rig, "room": wanted.room}
    older = f"?{urlencode({**asked, 'before': told.older})}" if told.older else ""
    return render(
        request,
        "shop/changes.html",
        rows=[_row(each) for each in told.changes],
        names=[(name, name) for name in told.names] + [(NOBODY, "nobody by name")],
        rigs=[(str(number), name) for number, name in told.rigs],
        rooms=list(ROOMS.items()),
        asked=asked,
        older=older,
        filtered=bool(who or rig or wanted.room or before),
    )


def _row(change: Change) -> dict[str, Any]:
    rooms = dict.fromkeys(room(log, row) for log, row in change.rows)
    link = next((key for key in rooms if key in {each.key for each in STATIONS}), "card")
    return {
        "when": local_time(change.written),
        "who": change.who or "nobody by name",
        "by_link": change.came_by == "link",
        "rig": change.rig,
        "href": f"/rigs/{change.rig_id}/{link}" if change.rig_id is not None else "",
        "rooms": ", ".join(ROOMS[each] for each in rooms),
        "words": "; ".join(_words(change)),
    }


def _words(change: Change) -> list[str]:
    """What was written, rows of one kind together where there are many."""
    counts = Counter(log for log, _ in change.rows)
    words = []
    for log, count in counts.items():
        own = [row for name, row in change.rows if name == log]
        said = list(dict.fromkeys(_said(log, row) for row in reversed(own)))
        if count > MOST_SHOWN or log == "range_shots" or len(said) < count:
            words.append(f"{count} {_CALLED[log][count > 1]}")
        else:
            words += said
    return words


# what is kept there is no text that anybody wrote
_ON_BENCHES: dict[str, Callable[[dict[str, Any]], str]] = {
    "photos": lambda row: f"measured on a photo: {row['key'].partition(':')[0]}",
    "practice": lambda row: "an exercise begun" if row["key"] == "exercise" else f"practice: {row['choice']}",
}


def _said(log: str, row: dict[str, Any]) -> str:
    """One row in words."""
    back = ", taken back" if row.get("removed") else ""
    called = _CALLED[log][0]
    if log == "rig_revisions":
        return f"card, revision {row['number']}: {row['why']}"
    if log == "bench_entries" and row["station"] in _ON_BENCHES:
        return _ON_BENCHES[row["station"]](row) + back
    if log == "bench_entries":
        about = row["key"].replace("_", " ").replace(":", " ")
        return " ".join(filter(None, (about, row["choice"].replace("_", " "), row["note"]))) + back
    if log == "witness_marks":
        return f"{called}: {row['joint']}{back}"
    if log == "level_readings":
        return f"{'turn of a screw' if row['turn'] else called}, {row['axis']} axis{back}"
    if log in ("people", "devices"):
        return f"{row['name']} ({row['role'] if log == 'people' else row['kind']}){', removed' if back else ''}"
    if log == "taken_readings":
        return f"{row['text']} from {row['instrument']}"
    return f"{called}{back}"
