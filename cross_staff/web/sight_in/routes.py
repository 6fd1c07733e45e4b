"""The range: arrows tapped on the target, judged with all before them, and what to move now."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import JSONResponse, RedirectResponse, Response

from cross_staff.core.errors import InvalidValue, NotFound, StaleRevision
from cross_staff.core.ranges import DISTANCE_M
from cross_staff.core.sight_in.acts import SaidOf
from cross_staff.core.sight_in.checks import CIRCLE_M, CIRCLES, DIAL_MM, FACE_M, HUNDRED_MM, MOVED
from cross_staff.core.sight_in.log import UNKNOWN, End, Move
from cross_staff.core.sight_in.orders import read_order
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import answers, moves
from cross_staff.services.sight_in import record as service
from cross_staff.services.sight_in.ends import head_of, kept_end, save_end
from cross_staff.web.forms.form import FormInput, TypedForm, until_kept, wants_fragment, whole
from cross_staff.web.forms.merge import merged, seen_text, units_seen, waits
from cross_staff.web.forms.units import Units
from cross_staff.web.sight_in.drawing import FACES
from cross_staff.web.sight_in.form import answered_of, dial_of, end_of, head_texts, head_values, session_of
from cross_staff.web.sight_in.page import session_texts, settings_texts, station_page

router = APIRouter()
MOST_TYPED = 4000  # letters of shots that come off a photo
BROUGHT = ("distance", "pin", "dial")  # what stands over shots that come from elsewhere
CHANGES: dict[str, dict[str, object]] = {
    "leave_out": {"left_out": True},
    "use": {"left_out": False},
    "remove": {"removed": True},
    "restore": {"removed": False},
}


def _here(rig_id: int) -> RedirectResponse:
    return RedirectResponse(f"/rigs/{rig_id}/sight_in", 303)


def _opened(request: Request, rig_id: int, typed: TypedForm) -> tuple[Rig, FormInput]:
    """The rig, and what was typed in its units. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return rig, FormInput(typed, Units.of(rig.units))


@router.get("/rigs/{rig_id}/sight_in")
def shown(request: Request, rig_id: int) -> Response:
    """The station; `step` looks at another step, `end` opens an end again, `shots` come off a photo, or of a practice
    bow. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    shots, photo = request.query_params.get("shots", "")[:MOST_TYPED], whole(request.query_params.get("photo", ""))
    brought = {"shots": shots, "note": f"off photo {photo}" if photo else ""} if shots else {}
    brought |= {name: request.query_params[name] for name in BROUGHT if request.query_params.get(name)} if shots else {}
    return station_page(request, rig, FormInput(brought, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/sight_in/end")
def keep_end(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep an end as far as it is shot; the page sends it after every tap. What stands over it is joined with
    what was written meanwhile; where both changed it, the arrows are kept and the rest is asked. Raises NotFound."""
    return until_kept(lambda: _keep_end(request, rig_id, typed))


def _keep_end(request: Request, rig_id: int, typed: dict[str, str]) -> Response:
    database = request.app.state.database
    held, shown_in = kept_end(database, rig_id, typed.get("key", ""))
    units = units_seen(typed, shown_in)
    form = FormInput(typed, units, head_values(held) if held else {})
    if held is not None:
        form.take(merged(typed, head_texts(held, units), units.keys()))
    conflicts, asked = form.conflicts, {each.name: form.errors.pop(each.name) for each in form.conflicts}
    if held is not None:
        form.typed = dict(form.typed) | {each.name: each.theirs for each in conflicts}
    draft, saved = end_of(form, lambda: open_rig(database, rig_id)), None
    if not form.errors:
        with form.refusals():
            draft = replace(draft, seen=head_of(held))
            kept = save_end(database, rig_id, draft, datetime.now(UTC))
            if kept.asked:
                raise StaleRevision(0, 0)  # somebody wrote just then: join again
            saved = kept.end
    status = 422 if form.errors else 409 if conflicts else 200
    if wants_fragment(request):
        return JSONResponse(_told(form, saved, shown_in), status)
    if status == 200:
        return _here(rig_id)
    form.typed = dict(form.typed) | {each.name: each.mine for each in conflicts}
    form.errors |= asked
    return station_page(request, open_rig(database, rig_id), form, status)


def _told(form: FormInput, saved: End | None, units: dict[str, str]) -> dict[str, object]:
    """What the page is told of an end that it sent: how much is kept, what stands over it now, what is wrong
    or to be asked."""
    head = head_texts(saved, form.units) if saved else {}
    asked = [{"name": each.name, "mine": each.mine, "theirs": each.theirs} for each in form.conflicts]
    seen = form.seen if asked else seen_text(head, units) if saved else ""
    return {"kept": len(saved.shots) if saved else 0, "errors": form.errors, "head": head, "asked": asked, "seen": seen}


@router.post("/rigs/{rig_id}/sight_in/end/{key}/shot/{shot}/{what}")
def call_shot(request: Request, rig_id: int, key: str, shot: str, what: str) -> Response:
    """Call a kept shot bad, or not. Raises NotFound."""
    service.mark_shot(request.app.state.database, rig_id, key, shot, what == "bad", datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/end/{key}/counts")
def counts(request: Request, rig_id: int, key: str) -> Response:
    """Every shot of an end counts, also one far from its others. Raises NotFound."""
    service.say_counts(request.app.state.database, rig_id, key, datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/end/{key}/{what}")
def change_end(request: Request, rig_id: int, key: str, what: str) -> Response:
    """Leave an end out, use it again, take it out, put it back, say that its pin was right. Raises NotFound."""
    if what not in CHANGES:
        raise NotFound("there is no such change of an end")
    service.change_end(request.app.state.database, rig_id, key, datetime.now(UTC), **CHANGES[what])
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/session")
def save_session(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Begin a session, or correct the one that runs. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = units_seen(typed, rig.units)
    form, fresh, number = FormInput(typed, units), bool(typed.get("fresh")), whole(typed.get("session_number", ""))
    held = next((each for each in rig.range_log.sessions if each.number == number), rig.session)
    held = None if fresh else held
    if held is not None:
        form.kept = {"crosswind": held.crosswind_mps, "temperature": held.temperature_c}
        form.take(merged(typed, session_texts(rig, held, units), units.keys()))
    if form.conflicts:
        return station_page(request, rig, form, 409, waits(form.conflicts))
    key = form.typed.get("session_key", "")[:40]
    build = held.build if held else rig.card.build.name
    session = session_of(form, held.number if held else 0, datetime.now(UTC), build, key)
    if not form.errors:
        with form.refusals():
            service.save_session(request.app.state.database, rig_id, session, datetime.now(UTC))
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/moved")
def moved(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The movements of an order are made as it was shown, the way they should or the other way; whatever would be
    ordered by now. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    key, other = form.typed.get("act_key", "")[:40], form.typed.get("other_way", "")
    try:
        order = read_order(form.typed.get("order", ""))
        other_way = (other,) if other else ()
        moves.made_moves(request.app.state.database, rig_id, key, order, datetime.now(UTC), other_way)
    except InvalidValue as error:
        return station_page(request, rig, form, 422, f"{error.message[0].upper()}{error.message[1:]}.")
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/answer")
def answer(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """What was with the newest ends, where they did not belong to what is believed. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    said = answered_of(form, rig)
    if said is not None and not form.errors:
        with form.refusals():
            ends = form.typed.get("ends", "").split()
            answers.answer(request.app.state.database, rig_id, ends, said, datetime.now(UTC))
    if form.errors:
        return station_page(request, rig, form, 422, " ".join(form.errors.values()))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/stand")
def stand(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Where the dial, or a control, stands: confirmed, corrected, or not known. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    what, text = form.typed.get("what", "")[:80], form.typed.get("reads", "").strip()
    value = None
    if form.typed.get("unknown") != "yes":
        if text and what == "dial":
            value = dial_of(form, lambda: rig, "reads")[0]
        elif text:
            value = form.number("reads", "mark", DIAL_MM)
        else:
            form.errors["reads"] = "what does it read? Or say that nobody knows"
    if not form.errors:
        with form.refusals({"stand": "reads"}):
            service.say_stand(request.app.state.database, rig_id, what, value, datetime.now(UTC))
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/shaft/{shaft}/{said}")
def shaft(request: Request, rig_id: int, shaft: str, said: str) -> Response:
    """What was done about a numbered shaft: its nock turned, weeded out, kept. Raises NotFound."""
    service.say_shaft(request.app.state.database, rig_id, shaft, said, datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/spread/{said}")
def spread(request: Request, rig_id: int, said: str) -> Response:
    """The archer's own spread is taken over onto the card, or left; he is told once. Raises NotFound."""
    service.take_spread(request.app.state.database, rig_id, said == "take", datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/own-move")
def own_move(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """A movement that was not asked for, so that it is taken out of the sum. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    amount = form.number("amount", "plain", MOVED)
    pin = whole(form.typed.get("moved_pin", "0")) or 0
    drive, key = form.typed.get("drive", ""), form.typed.get("move_key", "")[:80]
    unit = UNKNOWN if amount is None else ""  # by eye: nobody counted
    move = Move(key, 0, datetime.now(UTC), drive, "", amount or 0.0, unit, pin, before=form.typed.get("before", ""))
    if not form.errors:
        with form.refusals():
            moves.own_move(request.app.state.database, rig_id, move, datetime.now(UTC))
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/move/{key}/undo")
def undo_move(request: Request, rig_id: int, key: str) -> Response:
    """A movement was not made after all. Raises NotFound."""
    moves.take_move_back(request.app.state.database, rig_id, key, datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/step/{key}")
def say_step(request: Request, rig_id: int, key: str, typed: TypedForm) -> Response:
    """A step is done, with the mark that it reads; good enough; or skipped and confirmed by somebody. Raises
    NotFound."""
    rig, form = _opened(request, rig_id, typed)
    state, who = form.choice("state", tuple(SaidOf)), form.text("confirmed_by", 80)
    mark = dial_of(form, lambda: rig, "mark")[0] if form.typed.get("mark", "").strip() else None
    if not form.errors:
        with form.refusals():
            service.say_step(request.app.state.database, rig_id, key, state, who, datetime.now(UTC), mark)
    return station_page(request, rig, form, 422, step=key) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/step/{key}/open")
def reopen_step(request: Request, rig_id: int, key: str) -> Response:
    """Take back that a step was said to be done. Raises NotFound."""
    service.reopen_step(request.app.state.database, rig_id, key, datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/click")
def calibrate_click(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The travel of a hundred clicks, as read on the scale: the card's click is made of it. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    travel = form.number("hundred_clicks", "mark", HUNDRED_MM)
    if travel is None and "hundred_clicks" not in form.errors:
        form.errors["hundred_clicks"] = "read the travel of 100 clicks on the scale, in mm"
    if travel is not None and not form.errors:
        with form.refusals():
            service.calibrate_click(request.app.state.database, rig_id, travel / 100.0, datetime.now(UTC))
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/home")
def start_farther(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Home is moved farther out: the tape then starts there. Raises NotFound."""
    rig, form = _opened(request, rig_id, typed)
    home = form.number("new_home", "distance", DISTANCE_M, 1)
    if home is None and "new_home" not in form.errors:
        form.errors["new_home"] = "from which distance on shall the tape start?"
    if home is not None and not form.errors:
        with form.refusals():
            service.start_farther(request.app.state.database, rig_id, home, datetime.now(UTC))
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/choose/{question}/{school}")
def choose(request: Request, rig_id: int, question: str, school: str) -> Response:
    """Choose a school. Raises NotFound."""
    service.choose(request.app.state.database, rig_id, question, school, datetime.now(UTC))
    return _here(rig_id)


@router.post("/rigs/{rig_id}/sight_in/settings")
def settings(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """The step-back circle, the target's face and its size, joined with what was kept meanwhile. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    units = units_seen(typed, rig.units)
    said = rig.range_log.said
    form = FormInput(typed, units, {"circle": said["circle"].number if "circle" in said else None})
    form.take(merged(typed, settings_texts(rig, units), units.keys()))
    if form.conflicts:
        return station_page(request, rig, form, 409, waits(form.conflicts))
    circle, circle_is = form.number("circle", "offset", CIRCLE_M), form.choice("circle_is", CIRCLES)
    face, size = form.choice("face", tuple(FACES)), form.number("face_size", "offset", FACE_M)
    if not form.errors:
        now = datetime.now(UTC)
        if circle is not None:
            service.set_circle(database, rig_id, circle, now, circle_is)
        service.set_face(database, rig_id, face, size, now)
    return station_page(request, rig, form, 422) if form.errors else _here(rig_id)
