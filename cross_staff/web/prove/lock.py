"""Locking: one joint at a time, what is on its thread, and by whom; witness marks; the spare strip."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.prove.locking import LOCK, SPARE, Joint, LockLine, LockState, Thread
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.prove import record as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop.door import acts
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.prove import words
from cross_staff.web.prove.routes import ways_between
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()


@router.get("/rigs/{rig_id}/prove/lock")
def lock_page(request: Request, rig_id: int, joint: str = "") -> Response:
    """The joint to lock now, or the one that was chosen, and how all of them stand. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return _page(request, rig, FormInput({"by": acts() or _last_by(rig), "joint": joint}, Units.of(rig.units)))


@router.post("/rigs/{rig_id}/prove/lock")
def lock(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Write down what was done to a joint. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput({"by": "", "joint": "", "way": ""} | typed, Units.of(rig.units))
    by = form.text("by", 60) or acts()
    if not form.errors:
        with form.refusals():
            service.lock(database, rig_id, form.typed["joint"], form.typed["way"], by, datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, 422)
    return RedirectResponse(f"/rigs/{rig_id}/prove/lock", 303)


@router.post("/rigs/{rig_id}/prove/lock/undo")
def undo(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Take back the newest entry of a joint; the log keeps both. Raises NotFound."""
    name = typed.get("joint", "")
    key = SPARE if name == SPARE else f"{LOCK}{name}"
    entries.take_back(request.app.state.database, rig_id, BenchEntry("prove", key, 0, datetime.now(UTC)))
    return RedirectResponse(f"/rigs/{rig_id}/prove/lock", 303)


def _page(request: Request, rig: Rig, form: FormInput, status: int = 200) -> Response:
    state = rig.state.locking
    assert state is not None
    now = _chosen(state, form.typed.get("joint", ""))
    context = rig_context(rig, "prove", date.today()) | ways_between("/lock")
    context |= {
        "form": form,
        "now": words.lock_now(now, state),
        "joint": now.joint.name if now else "",
        "ways": words.lock_ways(now),
        "read": _read_again(now),
        "lines": [_line(line, now) for line in state.lines],
        "wants_spare": state.wants_spare,
        "spare": _entry(state.spare) if state.spare else "",
        "spare_key": SPARE,
        "spare_way": Thread.SPARE.value,
        "unmarked": [joint.mark for joint in state.unmarked],
        "caution": words.CAUTION_LOCK,
    }
    return render(request, "prove/lock.html", status, **context)


def _last_by(rig: Rig) -> str:
    """Who locked the joint before, where nobody holds the device by name."""
    return next((each.note for each in reversed(rig.log_of("prove")) if each.key.startswith(LOCK)), "")


def _chosen(state: LockState, name: str) -> LockLine | None:
    """The joint that was chosen, else the one whose turn it is. Raises NotFound."""
    if not name or name == SPARE:
        return state.current
    chosen = next((line for line in state.lines if line.joint.name == name), None)
    if chosen is None:
        raise NotFound("this sight has no such joint")
    return chosen


def _read_again(line: LockLine | None) -> str:
    """The axis that is read before the next joint; empty for none."""
    return line.joint.axis if line is not None and line.state == "read_again" else ""


def _line(line: LockLine, now: LockLine | None) -> dict[str, Any]:
    return {
        "name": line.joint.name,
        "about": _about(line.joint),
        "state": line.state.value or "open",
        "words": words.LOCK_STATES[line.state],
        "how": _entry(line.entry) if line.entry else "",
        "marked": line.marked or not line.joint.mark,
        "now": now is not None and now.joint == line.joint,
    }


def _about(joint: Joint) -> str:
    return ", ".join(filter(None, (words.LOCK_MOVES.get(joint.moves, ""), joint.tool and f"key {joint.tool}")))


def _entry(entry: BenchEntry) -> str:
    """What was done, by whom and when."""
    return f"{words.LOCK_DONE[Thread(entry.choice)]}, {entry.note}, {local_time(entry.entered)}"
