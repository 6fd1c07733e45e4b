"""The week of the shop, the way of one rig to its hand-over; sessions moved, calendars in and out."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from typing import Any

from fastapi import APIRouter, Request
from starlette.datastructures import UploadFile
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.plan.days import RigDays, ShopHours
from cross_staff.core.plan.planner import Moved, Placed
from cross_staff.services.plan import page as service
from cross_staff.services.plan.daylight import zone_of
from cross_staff.services.plan.ics import busy_times
from cross_staff.services.plan.page import ShopPlan
from cross_staff.services.rig import open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.known import refuse_unknown
from cross_staff.web.forms.units import Units
from cross_staff.web.plan import words
from cross_staff.web.plan.hours import EXAMPLE, hours_text, read_hours
from cross_staff.web.plan.ics import TYPE, calendar_of
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shop.door import inside

router = APIRouter()
FIELDS = ("back", "calendar", "free", "key", "latitude", "let_go", "longitude", "of", "open", "person", "rig", "start",
          "zone")  # fmt: skip
MOST_ICS = 2_000_000
WEEK = timedelta(days=7)
_DEGREES = re.compile(r"[+\-−]?\d{1,3}([.,]\d+)?")


@router.get("/plan")
def week_page(request: Request, week: str = "") -> Response:
    """A week of the whole shop; `week` is the day that it begins on."""
    return _week(request, week)


def _week(
    request: Request, week: str = "", form: FormInput | None = None, status: int = 200, clash: str = ""
) -> Response:
    made = service.shop_plan(request.app.state.database, datetime.now(UTC))
    first = _first_day(week, made.now.date())
    units = _units(request, made)
    days = [first + timedelta(days=n) for n in range(7)]
    placed = made.placed
    following = next((each for each in placed if each.span.end > made.now), None)
    return render(
        request,
        "plan/week.html",
        status,
        form=form or FormInput(_hours_texts(made.hours), Units()),
        days=[_day(day, made, units) for day in days],
        now=_now(following, made, units) if following else "",
        say=clash,
        clashes=[_clash(each, made, units) for each in placed if each.clashes],
        late=[_late(rig_id, made, units) for rig_id in made.plans if _late(rig_id, made, units)["say"]],
        trouble=made.trouble,
        beyond=made.beyond,
        people=made.people,
        before=(first - WEEK).isoformat(),
        after=(first + WEEK).isoformat(),
        week=first.isoformat(),
        back=f"/plan?week={first.isoformat()}",
        calendars=[(person or "everybody", name, len(spans)) for (person, name), spans in made.busy.items() if spans],
        example=EXAMPLE,
        placed=made.hours.placed,
        any_rigs=bool(made.plans),
    )


def _first_day(week: str, today: date) -> date:
    """The first of the seven days that are shown: the one that was asked for, else today."""
    try:
        day = date.fromisoformat(week) if week else today
        return day if date(2000, 1, 1) <= day <= date(2200, 1, 1) else today
    except ValueError:
        return today


def _units(request: Request, made: ShopPlan) -> dict[int, Units]:
    shown = service.units(request.app.state.database, made)
    return {rig_id: Units.of(kept) for rig_id, kept in shown.items()}


def _day(day: date, made: ShopPlan, units: dict[int, Units]) -> dict[str, Any]:
    light = made.light(day)
    return {
        "day": day.isoformat(),
        "words": words.day_words(day),
        "today": day == made.now.date(),
        "idle": "over" if day < made.now.date() else "nothing" if _is_open(day, made) else "closed",
        "light": "" if light is None else f"{_clock(light[0])} to {_clock(light[1])}",
        "sessions": [_session(each, made, units) for each in made.placed if each.start.date() == day],
    }


def _is_open(day: date, made: ShopPlan) -> bool:
    return any(each.weekday == day.weekday() for each in made.hours.open)


def _clock(minute: int) -> str:
    return f"{minute // 60:02d}:{minute % 60:02d}"


def _session(placed: Placed, made: ShopPlan, units: dict[int, Units]) -> dict[str, Any]:
    name = words.session_name(placed.session, units[placed.rig_id])
    return {
        "id": f"s-{placed.rig_id}-{placed.session.key.replace(' ', '-').replace('.', '-')}",
        "rig_id": placed.rig_id,
        "rig": made.names[placed.rig_id],
        "key": placed.session.key,
        "name": name,
        "more": words.KINDS[placed.session.kind][1],
        "where": words.where_words(placed.session),
        "minutes": placed.session.about.minutes,
        "at": placed.start.strftime("%H:%M"),
        "when": words.moment_words(placed.start),
        "start": placed.start.isoformat(timespec="minutes"),
        "person": placed.person,
        "by_hand": placed.by_hand,
        "clashes": words.clash_words(placed),
        "archer": placed.session.about.archer,
    }


def _now(placed: Placed, made: ShopPlan, units: dict[int, Units]) -> str:
    """The next thing that the shop does."""
    session = _session(placed, made, units)
    return f"{session['when']}: {session['name']}, {session['rig']}."


def _clash(placed: Placed, made: ShopPlan, units: dict[int, Units]) -> str:
    session = _session(placed, made, units)
    return f"{session['when']}, {session['name']}, {session['rig']}: {'; '.join(session['clashes'])}."


def _late(rig_id: int, made: ShopPlan, units: dict[int, Units]) -> dict[str, Any]:
    say, costs = words.late_words(made.plans[rig_id], units[rig_id])
    return {"rig_id": rig_id, "rig": made.names[rig_id], "say": say, "costs": costs}


@router.get("/plan/soon")
def soon(request: Request) -> Response:
    """What each rig needs within the next seven days, for the bench: a fragment. Where rigs are worked out beside the
    pages it is the newest that was made, and says where that is old."""
    database, moment, current = request.app.state.database, datetime.now(UTC), True
    beside = request.app.state.beside
    if beside.works:
        for known, plan in beside.plans():
            service.take_plan(database, known, plan)
        newest, current = service.newest_plan(database, moment)
        if not current:
            beside.want_plan()
        if newest is None:
            return render(request, "plan/soon.html", rigs=[], known=False, current=False)
        made = newest
    else:
        made = service.shop_plan(database, moment)
    units, end = _units(request, made), made.now + WEEK
    rigs: dict[int, list[dict[str, Any]]] = {}
    for each in made.placed:
        if made.now < each.span.end <= end:
            rigs.setdefault(each.rig_id, []).append(_session(each, made, units))
    return render(request, "plan/soon.html", rigs=list(rigs.values()), known=True, current=current)


@router.get("/rigs/{rig_id}/plan")
def rig_page(request: Request, rig_id: int) -> Response:
    """The way of one rig to its hand-over. Raises NotFound."""
    return _rig(request, rig_id)


def _rig(request: Request, rig_id: int, form: FormInput | None = None, status: int = 200) -> Response:
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    made = service.shop_plan(database, datetime.now(UTC))
    units = _units(request, made)
    own = made.plans.get(rig_id)
    placed = own.placed if own is not None else ()
    free = made.days[rig_id].free if rig_id in made.days else None
    context = rig_context(rig, "", date.today())
    context |= {
        "form": form or FormInput({"free": hours_text(free)}, Units()),
        "sessions": [_session(each, made, units) for each in placed],
        "late": _late(rig_id, made, units) if own is not None else {"say": "", "costs": []},
        "planned": own is not None,
        "people": made.people,
        "assumed": free is None,
        "back": f"/rigs/{rig_id}/plan",
        "example": EXAMPLE,
        "light_known": made.hours.placed,
    }
    return render(request, "plan/rig.html", status, **context)


@router.post("/rigs/{rig_id}/plan/free")
def free(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """When the archer is free. Raises NotFound."""
    form = FormInput({"free": ""} | typed, Units())
    with form.refusals():
        text = form.typed["free"]
        hours = read_hours(text, "free") if text.strip() else None
        service.free(request.app.state.database, rig_id, RigDays(hours), datetime.now(UTC))
    if form.errors:
        return _rig(request, rig_id, form, 422)
    return RedirectResponse(f"/rigs/{rig_id}/plan", 303)


@router.post("/plan/move")
def move(request: Request, typed: TypedForm) -> Response:
    """Put a session somewhere, or leave it to the program again. Raises NotFound."""
    back, rig_id = inside(typed.get("back", "/plan")), whole(typed.get("rig", ""))
    if rig_id is None:
        raise NotFound("there is no such rig")
    try:
        to = None if typed.get("let_go") else Moved(_moment(typed.get("start", "")), typed.get("person", "")[:60])
        service.move(request.app.state.database, rig_id, typed.get("key", ""), to, datetime.now(UTC))
    except InvalidValue as error:
        return _week(request, status=422, clash=f"Nothing was moved: {error.message}.")
    return RedirectResponse(back, 303)


def _moment(text: str) -> datetime:
    """A moment by the clock of the shop, as a browser's field gives it. Raises InvalidValue."""
    try:
        moment = datetime.fromisoformat(text.strip())
    except ValueError as error:
        raise InvalidValue("start", "choose a day and an hour") from error
    return moment.replace(tzinfo=None, second=0, microsecond=0)


def _hours_texts(hours: ShopHours) -> dict[str, str]:
    return {
        "open": hours_text(hours.open),
        "latitude": "" if hours.latitude_deg is None else f"{hours.latitude_deg:g}",
        "longitude": "" if hours.longitude_deg is None else f"{hours.longitude_deg:g}",
        "zone": hours.zone,
    }


@router.post("/plan/hours")
def hours(request: Request, typed: TypedForm) -> Response:
    """When the shop is open, and where it is."""
    form = FormInput(dict.fromkeys(("open", "latitude", "longitude", "zone"), "") | typed, Units())
    with form.refusals():
        kept = ShopHours(
            read_hours(form.typed["open"], "open"),
            _degrees(form, "latitude"),
            _degrees(form, "longitude"),
            form.text("zone", 60),
        )
        if not form.errors:
            service.open_hours(request.app.state.database, kept, datetime.now(UTC))
    return _week(request, "", form, 422) if form.errors else RedirectResponse("/plan", 303)


def _degrees(form: FormInput, name: str) -> float | None:
    text = form.typed[name].strip()
    if text and not _DEGREES.fullmatch(text):
        form.errors[name] = "degrees and parts of them, such as 54.4 or -2.9"
        return None
    return float(text.replace(",", ".").replace("−", "-")) if text else None


@router.post("/plan/busy")
async def busy(request: Request) -> Response:
    """What somebody has no time for, from a calendar file."""
    async with request.form(max_files=1, max_fields=10, max_part_size=MOST_ICS + 1024) as posted:
        refuse_unknown(request, [name for name in posted if name != "calendar"])
        sent, person = posted.get("calendar"), str(posted.get("of", ""))[:60]
        named = isinstance(sent, UploadFile) and bool(sent.filename)
        body = await sent.read(MOST_ICS + 1) if named else b""  # type: ignore[union-attr]
        name = str(sent.filename)[:80] if named else ""  # type: ignore[union-attr]
    return await _in_thread(request, person, name, body)


async def _in_thread(request: Request, person: str, name: str, body: bytes) -> Response:
    from starlette.concurrency import run_in_threadpool

    return await run_in_threadpool(_busy, request, person, name, body)


def _busy(request: Request, person: str, name: str, body: bytes) -> Response:
    database, now = request.app.state.database, datetime.now(UTC)
    made = service.shop_plan(database, now)
    form = FormInput(_hours_texts(made.hours) | {"of": person}, Units())
    with form.refusals():
        if not name:
            raise InvalidValue("calendar", "choose a calendar file (.ics)")
        if len(body) > MOST_ICS:
            raise InvalidValue("calendar", "is larger than 2 MB")
        if person and person not in made.people:
            raise InvalidValue("of", "nobody of that name works here")
        service.busy(database, person, name, busy_times(body, zone_of(made.hours), now), now)
    return _week(request, "", form, 422) if form.errors else RedirectResponse("/plan", 303)


@router.get("/plan.ics")
def shop_calendar(request: Request) -> Response:
    """The plan of the whole shop as a calendar."""
    made = service.shop_plan(request.app.state.database, datetime.now(UTC))
    return _calendar(request, made, made.placed, "cross-staff")


@router.get("/rigs/{rig_id}/plan.ics")
def rig_calendar(request: Request, rig_id: int) -> Response:
    """The plan of one rig as a calendar. Raises NotFound."""
    open_rig(request.app.state.database, rig_id)
    made = service.shop_plan(request.app.state.database, datetime.now(UTC))
    own = made.plans.get(rig_id)
    return _calendar(request, made, own.placed if own is not None else (), f"rig-{rig_id}")


def _calendar(request: Request, made: ShopPlan, placed: Iterable[Placed], name: str) -> Response:
    units = _units(request, made)
    told = [
        (
            each,
            f"{words.session_name(each.session, units[each.rig_id])}: {made.names[each.rig_id]}",
            f"{each.person}, {words.where_words(each.session)}",
            service.identity(request.app.state.database, each.rig_id),
        )
        for each in placed
    ]
    body = calendar_of(told, zone_of(made.hours), datetime.now(UTC))
    return Response(body, media_type=TYPE, headers={"Content-Disposition": f'attachment; filename="{name}.ics"'})
