"""A rig's files, and files that are brought in: looked at first, then taken in, all or nothing."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request
from starlette.datastructures import UploadFile
from starlette.responses import RedirectResponse, Response

from cross_staff.core.carry.faults import Fault
from cross_staff.core.carry.records import LOGS
from cross_staff.core.carry.relation import WORDS, Lies
from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.stations import next_step
from cross_staff.services.carry import documents, incoming
from cross_staff.services.carry.documents import INSTRUMENTS, RIG, Unreadable
from cross_staff.services.carry.take_in import Part, Preview, preview, take_in
from cross_staff.services.carry.write import (
    JSON,
    ZIP,
    Written,
    instruments_file,
    not_taken_elsewhere,
    rig_file,
    sight_file,
    whole_rig,
)
from cross_staff.services.rig import open_rig
from cross_staff.web.carry import words
from cross_staff.web.carry.words import LOG_WORDS
from cross_staff.web.forms.form import TypedForm, whole
from cross_staff.web.forms.known import refuse_unknown
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
FIELDS = ("beside",)
MOST_SENT = 90 * 1024 * 1024
MOST_REVISED = 12
_MEDIA = {JSON: "application/json", ZIP: "application/zip"}


@router.get("/rigs/{rig_id}/keep")
def keep_page(request: Request, rig_id: int) -> Response:
    """What there is of a rig to take away. Raises NotFound."""
    database = request.app.state.database
    rig, carried = open_rig(database, rig_id), whole_rig(database, rig_id)
    logs = [{"name": name, "words": words, "count": len(carried.logs[name])} for name, words in LOGS.items()]
    return render(
        request,
        "carry/rig.html",
        **rig_context(rig, "keep", date.today()),
        logs=[log for log in logs if log["count"]],
        photo_count=len(carried.photos),
        faults=[str(fault) for fault in not_taken_elsewhere(carried)],
        uid=carried.uid,
        taken=whole(request.query_params.get("taken", "")),
        go_on=next_step(rig.state).station,
    )


@router.get("/rigs/{rig_id}/rig.{written_as}")
def whole_file(request: Request, rig_id: int, written_as: str) -> Response:
    """The rig as JSON, or as a zip with its photos. Raises NotFound."""
    if written_as not in _MEDIA:
        raise NotFound("a rig is written as .json or .zip")
    return _download(rig_file(request.app.state.database, rig_id, written_as))


@router.get("/sights/{model}/sight.json")
def sight_json(request: Request, model: int) -> Response:
    """A sight model of the library. Raises NotFound."""
    return _download(sight_file(request.app.state.database, model))


@router.get("/instruments.json")
def instruments_json(request: Request) -> Response:
    """The shop's levels and jigs."""
    return _download(instruments_file(request.app.state.database))


def _download(file: Written) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{file.name}"'}
    return Response(file.content, media_type=_MEDIA[file.name.rsplit(".", 1)[-1]], headers=headers)


async def sent_file(request: Request) -> bytes | None:
    """The bytes of the file that was sent, one more than are taken at most; None without one."""
    async with request.form(max_files=1, max_fields=4, max_part_size=MOST_SENT + 1024) as posted:
        refuse_unknown(request, [name for name in posted if name != "file"])
        sent = posted.get("file")
        if not isinstance(sent, UploadFile) or not sent.filename:
            return None
        return await sent.read(MOST_SENT + 1)


@router.get("/carry")
def bring_page(request: Request) -> Response:
    """Choose a file to take in."""
    return _bring(request)


@router.post("/carry")
def bring(request: Request, sent: Annotated[bytes | None, Depends(sent_file)]) -> Response:
    """Look at a file that was sent: what is wrong in it, or what taking it in would do."""
    if not sent:
        return _bring(request, [Fault("file", "choose one first")])
    try:
        if len(sent) > MOST_SENT:
            raise Unreadable(Fault("file", f"is larger than {MOST_SENT // 1024 // 1024} MB: use cross-staff import"))
        documents.read(sent)
    except Unreadable as error:
        return _bring(request, error.faults)
    token = incoming.hold(request.app.state.settings.data, sent, datetime.now(UTC))
    return RedirectResponse(f"/carry/{token}", 303)


@router.get("/carry/{token}")
def look(request: Request, token: str) -> Response:
    """What taking a file in would do. Raises NotFound."""
    return _look(request, token)


@router.post("/carry/{token}")
def take(request: Request, token: str, typed: TypedForm) -> Response:
    """Take it in, all of it or nothing. Raises NotFound."""
    database, data = request.app.state.database, request.app.state.settings.data
    document = documents.read(incoming.held(data, token))
    try:
        taken = take_in(database, document, datetime.now(UTC), typed.get("beside") == "yes")
    except InvalidValue as error:
        return _look(request, token, error.message)
    except Unreadable as error:
        return _bring(request, error.faults)
    incoming.let_go(data, token)
    if taken.rig_id is not None:
        return RedirectResponse(f"/rigs/{taken.rig_id}/keep?taken={taken.records}", 303)
    return RedirectResponse("/instruments" if document.format == INSTRUMENTS else "/sights", 303)


def _bring(request: Request, faults: Any = ()) -> Response:
    return render(
        request,
        "carry/bring.html",
        422 if faults else 200,
        faults=[{"where": fault.where, "what": fault.what} for fault in faults],
        most_mb=MOST_SENT // 1024 // 1024,
    )


def _look(request: Request, token: str, refused: str = "") -> Response:
    document = documents.read(incoming.held(request.app.state.settings.data, token))
    seen = preview(request.app.state.database, document)
    parts = [_part(part) for part in seen.parts]
    return render(
        request,
        "carry/look.html",
        409 if refused else 200,
        say=words.say(seen),
        why=words.why(seen),
        parts=parts,
        instruments=[_part(part) for part in seen.instruments if part.relation.lies not in (Lies.NEW, Lies.SAME)],
        fresh=_names(seen, Lies.NEW),
        same=_names(seen, Lies.SAME),
        edited=seen.edited,
        pictures=seen.pictures,
        without_picture=seen.without_picture,
        revised=[(each.number, local_time(each.saved_utc), each.why) for each in seen.revised[-MOST_REVISED:]],
        brings=seen.brings,
        beside=seen.parted and document.format != INSTRUMENTS,
        here=_here(seen),
        token=token,
        refused=refused,
    )


def _here(seen: Preview) -> str:
    """The page of what the file is about, where that is here already."""
    part = seen.parts[0] if seen.parts else None
    return f"/rigs/{part.here}/card" if part and part.here is not None and seen.document.format == RIG else ""


def _names(seen: Preview, lies: Lies) -> list[str]:
    return [part.name for part in seen.instruments if part.relation.lies == lies]


def _part(part: Part) -> dict[str, Any]:
    relation = part.relation
    return {
        "what": part.what,
        "name": part.name,
        "lies": WORDS[relation.lies],
        "brings": [(count, LOG_WORDS[name]) for name, count in relation.brings.items()],
        "lacks": [(count, LOG_WORDS[name]) for name, count in relation.lacks.items()],
        "newest": [local_time(each) if each else "" for each in (part.newest_here, part.newest_there)],
        "parted": relation.lies in (Lies.PARTED, Lies.JOINS),
    }
