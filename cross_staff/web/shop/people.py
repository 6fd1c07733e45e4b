"""The people of the shop, who holds this device, devices that were let in, another passphrase."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue
from cross_staff.core.shop.people import Person, Role
from cross_staff.services.shop import people
from cross_staff.services.shop.door import Door, Visit, Waits
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render
from cross_staff.web.shop.door import address_of, device_of, inside, with_cookie

router = APIRouter()
FIELDS = ("again", "back", "name", "new", "old", "person", "pin", "role", "to")
ROLES = {Role.TECHNICIAN.value: "technician: may do everything", Role.VIEWER.value: "viewer: looks on"}
_NEW = {"name": "", "role": Role.TECHNICIAN.value, "pin": ""}
_SAID = {
    "passphrase": "The passphrase is another one. Every other device is asked for it.",
    "ended": "That device is asked again.",
    "kept": "Kept.",
}


@router.get("/who")
def who_page(request: Request, to: str = "/") -> Response:
    """Ask who holds this device."""
    return _who(request, FormInput({"person": "", "pin": ""}, Units()), inside(to))


def _who(request: Request, form: FormInput, to: str, status: int = 200) -> Response:
    everybody = people.every(request.app.state.database)
    options = [(str(each.person), each.name) for each in everybody]
    return render(request, "shop/who.html", status, form=form, to=to, people=options, visit=request.state.visit)


@router.post("/who")
def take(request: Request, typed: TypedForm) -> Response:
    """Somebody takes this device, by his PIN, or nobody holds it any more. Raises NotFound."""
    door, to, visit = request.app.state.door, inside(typed.get("to", "/")), request.state.visit
    form = FormInput({"person": "", "pin": ""} | typed, Units())
    if typed.get("back") and visit is not None:
        door.sign_out(visit)
        return RedirectResponse(to, 303)
    person, now, status = whole(typed.get("person", "")), datetime.now(UTC), 422
    try:
        if person is None:
            raise InvalidValue("person", "who are you?")
        cookie = door.sign_in(visit, person, typed.get("pin", ""), address_of(request), device_of(request), now)
    except InvalidValue as error:
        form.errors[error.field] = error.message
        return _who(request, form, to, 429 if isinstance(error, Waits) else status)
    return with_cookie(request, RedirectResponse(to, 303), cookie)


@router.get("/people")
def people_page(request: Request, said: str = "") -> Response:
    """Everybody of the shop, the devices that were let in, the passphrase."""
    return _page(request, FormInput(_NEW, Units()), said=_SAID.get(said, ""))


@router.get("/people/{person}")
def person_page(request: Request, person: int) -> Response:
    """The same with the form of one of them. Raises NotFound."""
    kept = people.find(request.app.state.database, person)
    typed = {"name": kept.name, "role": kept.role.value, "pin": ""}
    return _page(request, FormInput(typed, Units()), changing=kept)


def _page(
    request: Request,
    form: FormInput,
    status: int = 200,
    changing: Person | None = None,
    said: str = "",
    words: FormInput | None = None,
) -> Response:
    door: Door = request.app.state.door
    database, now = request.app.state.database, datetime.now(UTC)
    gone = request.query_params.get("gone", "")
    removed = [each for each in people.every(database, removed=True) if str(each.person) == gone]
    return render(
        request,
        "shop/people.html",
        status,
        form=form,
        people=people.every(database),
        gone=removed[0] if removed else None,
        roles=ROLES,
        changing=changing,
        said=said,
        visits=[_visit_words(door, each, request.state.visit) for each in door.here(now)],
        asks=door.asks,
        words=words or FormInput({}, Units()),
    )


def _visit_words(door: Door, visit: Visit, mine: Visit | None) -> dict[str, Any]:
    holder = door.holder(visit)
    return {
        "visit": visit.visit,
        "device": visit.device,
        "address": visit.address,
        "holder": holder.name if holder else "",
        "begun": local_time(visit.begun),
        "seen": local_time(visit.seen),
        "mine": mine is not None and mine.visit == visit.visit,
        "in": door.let_in(visit) or not visit.passphrase,
    }


@router.post("/people")
def add(request: Request, typed: TypedForm) -> Response:
    """Enter somebody."""
    form = FormInput(_NEW | typed, Units())
    with form.refusals():
        role = form.choice("role", tuple(ROLES))
        if not form.errors:
            people.add(request.app.state.database, form.typed["name"], Role(role), form.typed["pin"], datetime.now(UTC))
    return _page(request, form, 422) if form.errors else _done(request)


@router.post("/people/{person}")
def change(request: Request, person: int, typed: TypedForm) -> Response:
    """Another name, role or PIN. Raises NotFound."""
    database = request.app.state.database
    kept = people.find(database, person)
    form = FormInput(_NEW | typed, Units())
    with form.refusals():
        role = form.choice("role", tuple(ROLES))
        if not form.errors:
            people.change(database, person, form.typed["name"], Role(role), form.typed["pin"], datetime.now(UTC))
    return _page(request, form, 422, kept) if form.errors else _done(request)


@router.post("/people/{person}/remove")
def remove(request: Request, person: int, typed: TypedForm) -> Response:
    """Of the shop no more, or again. Raises NotFound."""
    form = FormInput(_NEW, Units())
    with form.refusals():
        people.remove(request.app.state.database, person, datetime.now(UTC), back="back" in typed)
    return _page(request, form, 422) if form.errors else _done(request, "" if "back" in typed else f"?gone={person}")


def _done(request: Request, and_says: str = "?said=kept") -> Response:
    request.app.state.door.look_again()
    return RedirectResponse(f"/people{and_says}", 303)


@router.post("/visits/{visit}/end")
def end(request: Request, visit: int) -> Response:
    """A device is asked again. Raises NotFound."""
    request.app.state.door.end(visit, datetime.now(UTC))
    return RedirectResponse("/people?said=ended#visits", 303)


@router.post("/passphrase")
def passphrase(request: Request, typed: TypedForm) -> Response:
    """Another passphrase of the shop."""
    form = FormInput({"old": "", "new": "", "again": ""} | typed, Units())
    told = form.typed
    status = 422
    try:
        request.app.state.door.change_passphrase(
            request.state.visit, told["old"], told["new"], told["again"], address_of(request), datetime.now(UTC)
        )
    except InvalidValue as error:
        status = 429 if isinstance(error, Waits) else 422
        form.errors["new" if error.field == "passphrase" else error.field] = error.message
    if form.errors:
        return _page(request, FormInput(_NEW, Units()), status, words=form)
    return RedirectResponse("/people?said=passphrase", 303)
