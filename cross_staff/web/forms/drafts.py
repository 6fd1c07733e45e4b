"""A form as it is typed, kept on the server for this device: Back, reload or another page lose nothing."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import UTC, datetime
from secrets import token_urlsafe
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.services import drafts as service
from cross_staff.services.drafts import Draft
from cross_staff.web.forms.form import MAX_FIELDS
from cross_staff.web.forms.known import MEANT, TAKEN
from cross_staff.web.forms.merge import CHOICE
from cross_staff.web.shared.moments import local_time

router = APIRouter()
COOKIE, COOKIE_DAYS = "cross-staff-device", 365
MOST_LETTERS, MOST_NAME = 4000, 60
# the pages whose forms are kept, by the names of their drafts
PAGES = {"card": "card", "sight": "card/sight", "mount": "mount"}
_ARROW, _DEVICE = re.compile("arrow-([0-9]{1,2})"), re.compile("[A-Za-z0-9_-]{10,40}")
_PASSING = ("save", "into_library")
_CARRIED = ("based_on", "seen", "shown_build", "typed_unit_", "unit_")  # what a form carries and nobody types


async def _typed(request: Request) -> dict[str, str]:
    form = await request.form(max_files=0, max_fields=MAX_FIELDS)
    pairs = {key: value for key, value in form.multi_items() if isinstance(value, str)}
    request.state.typed = pairs
    return {name: text for name, text in pairs.items() if len(name) <= MOST_NAME and _is_kept(name, text)}


def _is_kept(name: str, text: str) -> bool:
    return name == "seen" or (
        name != TAKEN and len(text) <= MOST_LETTERS and not name.startswith((MEANT, CHOICE)) and name not in _PASSING
    )


@router.post("/rigs/{rig_id}/draft/{form}")
def keep(request: Request, rig_id: int, form: str, typed: Annotated[dict[str, str], Depends(_typed)]) -> Response:
    """Keep what was typed so far. Raises NotFound."""
    page_of(form)
    return _kept(request, rig_id, form, typed, Response(status_code=204))


@router.post("/rigs/{rig_id}/draft/{form}/discard")
def discard(request: Request, rig_id: int, form: str) -> Response:
    """What was typed is not wanted: the form shows what is kept again. Raises NotFound."""
    dropped(request, rig_id, form)
    return RedirectResponse(f"/rigs/{rig_id}/{page_of(form)}", 303)


def page_of(form: str) -> str:
    """The page that a draft's form stands on. Raises NotFound for a form that has no drafts."""
    arrow = _ARROW.fullmatch(form)
    page = f"card/arrows/{arrow.group(1)}" if arrow else PAGES.get(form)
    if page is None:
        raise NotFound("no form of that name is kept while it is typed")
    return page


def device_of(request: Request) -> str | None:
    """The device that asks, by its cookie; None before the first draft."""
    device = request.cookies.get(COOKIE, "")
    return device if _DEVICE.fullmatch(device) else None


def says_more(draft: Draft, kept: Mapping[str, str]) -> bool:
    """Whether a draft says anything else than what is kept, which would show so in the form."""
    names = {name for name in {*kept, *draft.fields} if not name.startswith(_CARRIED)}
    return any(kept.get(name, "") != draft.fields.get(name, "") for name in names)


def draft_of(request: Request, rig_id: int, form: str) -> Draft | None:
    """What was typed last on this device, whatever it says; None where nothing was."""
    device = device_of(request)
    return None if device is None else service.of(request.app.state.database, rig_id, device, form)


def draft_context(form: str, draft: Draft | None) -> dict[str, str]:
    """For a page that shows what is not saved: when it was typed, and whose draft it is."""
    return {"draft_form": form, "unsaved": "" if draft is None else local_time(draft.saved)[11:]}


def dropped(request: Request, rig_id: int, form: str) -> None:
    """What was typed is saved, or not wanted."""
    device = device_of(request)
    if device is not None:
        service.drop(request.app.state.database, rig_id, device, form)


def settled(request: Request, rig_id: int, form: str, answer: Response) -> Response:
    """The answer to a save: what was kept while it was typed goes once it is saved, and is kept while it is refused."""
    if answer.status_code == 303:
        dropped(request, rig_id, form)
        return answer
    return _kept(request, rig_id, form, getattr(request.state, "typed", {}), answer)


def asked_on(request: Request, rig_id: int, answer: Response) -> Response:
    """The answer to a save that is asked about; its form is kept, so that Back finds it as it was typed."""
    forms = {page: form for form, page in PAGES.items()}
    path = request.url.path.removeprefix(f"/rigs/{rig_id}/")
    form = forms.get(path, f"arrow-{path.rpartition('/')[2]}")
    if path not in forms and not _ARROW.fullmatch(form):
        return answer
    return _kept(request, rig_id, form, getattr(request.state, "typed", {}), answer)


def _kept(request: Request, rig_id: int, form: str, typed: Mapping[str, str], answer: Response) -> Response:
    device = device_of(request)
    if device is None:
        device = token_urlsafe(16)
        answer.set_cookie(COOKIE, device, max_age=COOKIE_DAYS * 86400, httponly=True, samesite="lax")
    fields = {name: text for name, text in typed.items() if _is_kept(name, text)}
    service.keep(request.app.state.database, rig_id, device, form, fields, datetime.now(UTC))
    return answer
