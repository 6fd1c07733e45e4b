"""The bench page: what each rig needs next; filter, sort, copy, archive, restore."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from markupsafe import Markup
from starlette.responses import RedirectResponse, Response

from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services import bench
from cross_staff.services.bench import SORTS, STATES, Asked, BenchLine
from cross_staff.services.card.short import Usual, usual
from cross_staff.services.keeping.backups import state_of
from cross_staff.services.memory import Memory
from cross_staff.web.bench.about import backup_words, nightly
from cross_staff.web.card.fields import TEXTS
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.units import UNIT_SETS, Units
from cross_staff.web.shared.moments import due_words, expected_words
from cross_staff.web.shared.render import drawn, render
from cross_staff.web.shared.room import now, standing_word

router = APIRouter()
_AS_LAST = "last"
_LINES = Memory(500)  # some pages of the bench
SORT_WORDS = {"due": "due date", "archer": "archer", "state": "state", "name": "name"}
STATE_WORDS = {"stale": "something is set aside", "due": "something is due", "blocked": "waits", "done": "all done"}


@router.get("/")
def bench_page(request: Request) -> Response:
    """The rigs being worked on and what each needs next."""
    return _page(request, FormInput({}, Units()))


@router.post("/rigs")
def add_rig(request: Request, typed: TypedForm) -> Response:
    """Put a new rig on the bench and open its card."""
    form = FormInput(typed, Units())
    name, archer = form.text("name", TEXTS["name"]), form.text("archer", TEXTS["archer"])
    if not name and "name" not in form.errors:
        form.errors["name"] = "give it a name, for example the bow's"
    if form.errors:
        return _page(request, form, 422)
    last = usual(request.app.state.database)
    kept = last.units if last and typed.get("units", _AS_LAST) == _AS_LAST else {}
    units = Units.of(kept) if kept else UNIT_SETS.get(typed.get("units", ""), Units())
    rig_id = bench.add(request.app.state.database, name, archer, units.keys(), datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/card", 303)


@router.post("/rigs/{rig_id}/copy")
def copy_rig(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """A new rig with this one's card, without what was measured on it; or the same bow with another sight."""
    new = bench.copy(request.app.state.database, rig_id, datetime.now(UTC), typed.get("keep") == "bow")
    return RedirectResponse(f"/rigs/{new}/card", 303)


@router.post("/rigs/{rig_id}/archive")
def archive_rig(request: Request, rig_id: int) -> Response:
    """Take a rig off the bench; nothing of it is lost."""
    bench.archive(request.app.state.database, rig_id)
    return RedirectResponse(f"/?gone={rig_id}", 303)


@router.post("/rigs/{rig_id}/restore")
def restore_rig(request: Request, rig_id: int) -> Response:
    """Put a rig back on the bench."""
    bench.archive(request.app.state.database, rig_id, off_the_bench=False)
    return RedirectResponse("/", 303)


def _asked(request: Request) -> Asked:
    """The filter of the address; what it does not know it passes over."""
    query = request.query_params
    sort, state = query.get("sort", "due"), query.get("state", "")
    return Asked(
        query.get("show") == "archived",
        query.get("archer", "")[: TEXTS["archer"]],
        state if state in STATES else "",
        sort if sort in SORTS else "due",
        max(whole(query.get("page", "")) or 1, 1),
    )


def _page(request: Request, form: FormInput, status: int = 200) -> Response:
    database, asked = request.app.state.database, _asked(request)
    gone = request.query_params.get("gone", "")
    beside = request.app.state.beside
    page = bench.bench(database, asked, whole(gone), beside.works)
    if beside.works and page.waiting:
        beside.want(line.rig_id for line in page.lines if not line.fresh)
    today = date.today()
    rows = [_kept_row(line, asked.archived, today) for line in page.lines]
    return render(
        request,
        "bench/page.html",
        status,
        rows=rows,
        form=form,
        asked=asked,
        any_rigs=page.on_bench > 0,
        archers=page.archers,
        archived_count=page.archived,
        sorts=SORT_WORDS,
        states=STATE_WORDS,
        gone=page.gone if page.gone and page.gone.archived else None,
        waiting=page.waiting,
        old=sum(not line.fresh for line in page.lines),
        again=f"/?{request.query_params}",
        pages=_pages(request, asked.page, page.pages),
        count=page.count,
        unit_sets=_unit_sets(usual(database)),
        backups=backup_words(state_of(request.app.state.keeping), datetime.now(UTC), nightly(request)),
    )


def _unit_sets(last: Usual | None) -> list[tuple[str, str]]:
    """What a new rig may be shown in, the usual first."""
    as_last = [] if last is None else [(_AS_LAST, f"as on {last.card.name}")]
    return [*as_last, *((key, units.words) for key, units in UNIT_SETS.items())]


def _pages(request: Request, page: int, pages: int) -> dict[str, Any]:
    """The page that is shown, of how many, and the addresses of those beside it."""

    def address(number: int) -> str:
        return "/?" + urlencode({**request.query_params, "page": number}) if 1 <= number <= pages else ""

    return {"now": page, "all": pages, "before": address(page - 1), "after": address(page + 1)}


def _kept_row(line: BenchLine, archived: bool, today: date) -> dict[str, Any]:
    """A line with what it looks like: drawn once for what it was written from."""
    key = (line.rig_id, line.written, line.fresh, tuple(sorted(line.units.items())), archived, today)

    def make() -> dict[str, Any]:
        row = _row(line, today)
        return row | {"drawn": Markup(drawn("bench/_line.html", row=row, archived=archived))}

    return _LINES.get(key, make)


def _row(line: BenchLine, today: date) -> dict[str, Any]:
    units, summary = Units.of(line.units), line.summary
    if summary is None:
        return {"rig_id": line.rig_id, "name": f"Rig {line.rig_id}", "words": "", "now": None, "due": "",
                "occasion": "", "standings": [], "problem": "", "waits": "", "old": True}  # fmt: skip
    return {
        "rig_id": line.rig_id,
        "name": summary.name,
        "words": " · ".join(filter(None, [summary.archer, KINDS[summary.kind].name])),
        "now": now(summary.step, units),
        "due": due_words(summary.due, today),
        "occasion": summary.occasion,
        "problem": summary.problem,
        "old": not line.fresh,
        "waits": ", ".join(filter(None, [summary.waits_for, expected_words(summary.waits_until, today)])),
        "standings": [
            {"name": each.station.name, "state": each.state, "word": standing_word(each, units)}
            for each in summary.standings
        ],
    }
