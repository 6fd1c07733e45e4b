"""What a link of an archer opens: his order, sheet, holds, proof lines and shots of one rig, and nothing else."""

from __future__ import annotations

from datetime import UTC, date, datetime
from secrets import token_hex
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prove.chain import NEXT_ARROWS
from cross_staff.core.stations import next_step
from cross_staff.services.prove import record as proof
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop import links
from cross_staff.services.shop.door import acted, acting, acts
from cross_staff.services.shop.links import ArcherLink
from cross_staff.services.sight_in.page import range_page
from cross_staff.web.failures import NothingYet
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import words
from cross_staff.web.prove.form import blank, read_line
from cross_staff.web.prove.routes import QUICK_ARROWS, stakes_of
from cross_staff.web.shared.downloads import file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.one_page_pdf import TooMuch, sheet_pdf
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.room import now as now_words
from cross_staff.web.shared.table import Table
from cross_staff.web.shared.words import CAUTION_RANGE
from cross_staff.web.shop.door import addresses_of
from cross_staff.web.sight_in.log_rows import visits
from cross_staff.web.tape.range_sheet_tables import SHEET, usual
from cross_staff.web.tape.tables import kept, tape_view

router = APIRouter()
FIELDS = ("arrows", "back", "cold", "day", "days", "dialled", "distance", "key", "note", "right", "right_way", "seen",
          "slope", "up", "up_way", "wind")  # fmt: skip
HIS_OWN = ("sight_in", "tape", "prove")  # stations whose order is the archer's to follow
OF_THE_SHOP = ("lock", "spare", "hand_over")  # steps of proving that are not
MOST_LINES = 40


@router.get("/rigs/{rig_id}/archer")
def links_page(request: Request, rig_id: int) -> Response:
    """The links of a rig: made, looked at, ended. Raises NotFound."""
    return _links(request, open_rig(request.app.state.database, rig_id), str(links.USUAL_DAYS))


def _links(request: Request, rig: Rig, days: str, error: str = "", status: int = 200) -> Response:
    now, addresses = datetime.now(UTC), addresses_of(request)
    base = addresses[0] if addresses else str(request.base_url).rstrip("/")
    context = rig_context(rig, "", date.today()) | {
        "form": FormInput({"days": days}, Units(), errors={"days": error} if error else {}),
        "lines": [_link(each, base, now) for each in links.of_rig(request.app.state.database, rig.rig_id)],
        "open_to_network": bool(addresses),
    }
    return render(request, "archer/links.html", status, **context)


def _link(link: ArcherLink, base: str, now: datetime) -> dict[str, Any]:
    stands = "open" if link.opens(now) else "ended" if link.ended else "worn off"
    return {
        "link": link.link,
        "address": f"{base}/archer/{links.token_of(link)}" if link.opens(now) else "",
        "path": f"/archer/{links.token_of(link)}",
        "stands": stands,
        "made": " by ".join(filter(None, (local_time(link.made), link.made_by))),
        "until": local_time(link.until),
        "opened": local_time(link.opened) if link.opened else "never opened",
    }


@router.post("/rigs/{rig_id}/archer")
def make(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Make a link. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    try:
        links.make(database, rig_id, whole(typed.get("days", "")) or 0, acts(), datetime.now(UTC))
    except InvalidValue as error:
        return _links(request, rig, typed.get("days", ""), error.message, 422)
    return RedirectResponse(f"/rigs/{rig_id}/archer", 303)


@router.post("/rigs/{rig_id}/archer/{link}/end")
def end(request: Request, rig_id: int, link: int) -> Response:
    """A link opens nothing any more. Raises NotFound."""
    links.end(request.app.state.database, rig_id, link, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/archer", 303)


@router.get("/archer/{token}")
def archer_page(request: Request, token: str, said: str = "") -> Response:
    """The rig of a link, for its archer. Raises NotFound."""
    link = _opened(request, token)
    if link is None:
        return render(request, "archer/ended.html", 410)
    rig = open_rig(request.app.state.database, link.rig_id)
    return _page(request, token, link, rig, FormInput(_blank(rig, link), Units.of(rig.units)), _SAID.get(said, ""))


_SAID = {"kept": "Kept. The shop sees it.", "back": "Taken back."}


def _opened(request: Request, token: str) -> ArcherLink | None:
    return links.opened(request.app.state.database, token, datetime.now(UTC))


def _own(link: ArcherLink) -> str:
    """How the keys of lines begin that were written by a link."""
    return f"a{link.link}-"


def _blank(rig: Rig, link: ArcherLink) -> dict[str, str]:
    verdict = rig.prove.verdict
    following = verdict.next if verdict is not None else None
    typed = blank(Units.of(rig.units), date.today(), following.distance_m if following else None, NEXT_ARROWS)
    return typed | {"key": f"{_own(link)}{token_hex(8)}"}


def _page(
    request: Request, token: str, link: ArcherLink, rig: Rig, form: FormInput, said: str = "", status: int = 200
) -> Response:
    units = Units.of(rig.units)
    step = next_step(rig.state)
    return render(
        request,
        "archer/page.html",
        status,
        token=token,
        card=rig.card,
        stopping=rig.checklist.stopping,
        now=now_words(step, units),
        his=step.station in HIS_OWN and step.code not in OF_THE_SHOP,
        form=form,
        said=said,
        tables=_tables(rig, units),
        lines=[_line(rig, each, units, link) for each in list(reversed(rig.prove.lines))[:MOST_LINES]],
        visits=visits(range_page(rig), units) if rig.range_log.sessions else [],
        stakes=stakes_of(rig, units),
        quick_arrows=QUICK_ARROWS,
        dialled=rig.card.sight_kind.dialled,
        opened=False,
        back="",
        line_action=f"/archer/{token}/line",
        until=local_time(link.until),
        caution=CAUTION_RANGE,
        asks_which=rig.prove.asks_which,
    )


def _line(rig: Rig, line: Any, units: Units, link: ArcherLink) -> dict[str, Any]:
    why = rig.prove.why_aside.get(line.key)
    return {
        "key": line.key,
        "words": f"{line.day.isoformat()}: {words.line_words(line, units)}",
        "aside": words.WHY_ASIDE[why] if why is not None else "",
        "own": line.key.startswith(_own(link)),
    }


def _tables(rig: Rig, units: Units) -> list[Table]:
    """The tables of his range sheet; none while the tape is not known."""
    t = tape_view(rig, units)
    return [] if t is None else [kept(t, ("archer", key), lambda key=key: SHEET[key][1](t)) for key in usual(t)]  # type: ignore[misc]


@router.get("/archer/{token}/sheet.pdf")
def sheet(request: Request, token: str) -> Response:
    """His sheet on one page. Raises NotFound."""
    link = _opened(request, token)
    if link is None:
        return render(request, "archer/ended.html", 410)
    rig = open_rig(request.app.state.database, link.rig_id)
    tables = _tables(rig, Units.of(rig.units))
    if not tables:
        raise NothingYet(f"/archer/{token}")
    heading = [rig.card.name, f"{rig.card.archer} · {date.today().isoformat()}", CAUTION_RANGE]
    while True:
        try:
            body = sheet_pdf(heading, tables, "A4")
            return Response(body, media_type="application/pdf", headers=file_headers(rig, "range", "pdf"))
        except TooMuch:
            tables = tables[:-1]


@router.post("/archer/{token}/line")
def write_line(request: Request, token: str, typed: TypedForm) -> Response:
    """Write down a line that he shot. Raises NotFound."""
    database, link = request.app.state.database, _opened(request, token)
    if link is None:
        return render(request, "archer/ended.html", 410)
    rig = open_rig(database, link.rig_id)
    form = FormInput(dict.fromkeys(_blank(rig, link), "") | typed, Units.of(rig.units))
    if not form.typed["key"].startswith(_own(link)):
        form.typed = {**form.typed, "key": f"{_own(link)}{token_hex(8)}"}
    current = rig.prove.current
    line = read_line(form, datetime.now(UTC), None, current.tape.code if current is not None else "")
    if line is not None:
        by = acting(rig.card.archer or "the archer", "link")
        try:
            with form.refusals({"ranged": "distance"}):
                if proof.enter(database, link.rig_id, line).refused:
                    form.errors["distance"] = "this line is kept already, with other figures: open the page anew"
        finally:
            acted(by)
    if form.errors:
        return _page(request, token, link, rig, form, status=422)
    return RedirectResponse(f"/archer/{token}?said=kept", 303)


@router.post("/archer/{token}/line/{key}/undo")
def undo(request: Request, token: str, key: str) -> Response:
    """Take back a line that was written by this link. Raises NotFound."""
    link = _opened(request, token)
    if link is None:
        return render(request, "archer/ended.html", 410)
    if not key.startswith(_own(link)):
        raise NotFound("this line was not written here")
    by = acting(open_rig(request.app.state.database, link.rig_id).card.archer or "the archer", "link")
    try:
        proof.take_back(request.app.state.database, link.rig_id, key, datetime.now(UTC))
    finally:
        acted(by)
    return RedirectResponse(f"/archer/{token}?said=back", 303)
