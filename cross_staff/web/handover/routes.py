"""The hand-over card: as it would be signed now, as it was signed, what became otherwise since; as PDF."""

from __future__ import annotations

from datetime import UTC, date, datetime
from hashlib import sha256
from io import BytesIO

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import NotFound
from cross_staff.core.prove.handover import CardContent, HandoverCard, differences
from cross_staff.services.prove import handover as service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop.door import acts
from cross_staff.web.forms.form import FormInput, TypedForm
from cross_staff.web.forms.units import Units
from cross_staff.web.handover.content import content
from cross_staff.web.prove.routes import ways_between
from cross_staff.web.shared.downloads import file_headers
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.one_page_pdf import PAPERS, TooMuch, sheet_pdf
from cross_staff.web.shared.render import render, rig_context
from cross_staff.web.shared.table import Table
from cross_staff.web.shared.words import CAUTION_RANGE
from cross_staff.web.shop.door import addresses_of

router = APIRouter()
FIELDS = ("note", "signed_by")
MOST_PICTURES = 5
DEFER = "The maker's manual, local law and the rules of an event come before this card."


@router.get("/rigs/{rig_id}/prove/hand-over")
def card_page(request: Request, rig_id: int, number: int = 0, said: str = "") -> Response:
    """The card as it would be signed now, or one that was. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    form = FormInput({"signed_by": acts(), "note": ""}, Units.of(rig.units))
    return _page(request, rig, form, _kept(rig, number) if number else None, said=said == "signed")


@router.post("/rigs/{rig_id}/prove/hand-over")
def sign(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Sign the card as it stands now; one that was signed before stays as it was. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput({"signed_by": "", "note": ""} | typed, Units.of(rig.units))
    by, note, told = form.text("signed_by", 60) or acts(), form.text("note", 400), _now(request, rig)
    if typed.get("seen", "") not in ("", _digest(told)):
        form.errors["signed_by"] = "the rig changed while this page stood open: look at what stands on the card now"
        return _page(request, rig, form, None, 409)
    number = 0
    if not form.errors:
        with form.refusals():
            number = service.sign(database, rig_id, told, by, note, datetime.now(UTC))
    if form.errors:
        return _page(request, rig, form, None, 422)
    return RedirectResponse(f"/rigs/{rig_id}/prove/hand-over?number={number}&said=signed", 303)


@router.get("/rigs/{rig_id}/prove/hand-over.pdf")
def card_file(request: Request, rig_id: int, number: int = 0) -> Response:
    """A card that was signed, the newest unless another is asked for; a draft where none was. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    newest = rig.handed_over[-1] if rig.handed_over else None
    card = _kept(rig, number) if number else newest
    body = card_pdf(request, rig, card)
    return Response(body, media_type="application/pdf", headers=file_headers(rig, _named(card), "pdf"))


def _named(card: HandoverCard | None) -> str:
    return "card-draft" if card is None else f"card-{card.number}"


def _kept(rig: Rig, number: int) -> HandoverCard:
    card = next((each for each in rig.handed_over if each.number == number), None)
    if card is None:
        raise NotFound("no such card was signed")
    return card


def _now(request: Request, rig: Rig) -> CardContent:
    addresses = addresses_of(request)
    address = f"{addresses[0]}/rigs/{rig.rig_id}/prove/hand-over" if addresses else ""
    return content(request.app.state.database, rig, date.today(), address)


def _digest(told: CardContent) -> str:
    """What tells one content from another: nobody signs what he has not seen."""
    return sha256(repr(told.sections).encode()).hexdigest()[:16]


def _page(
    request: Request,
    rig: Rig,
    form: FormInput,
    card: HandoverCard | None,
    status: int = 200,
    said: bool = False,
) -> Response:
    now = _now(request, rig)
    shown = now if card is None else card.content
    newest = rig.handed_over[-1] if rig.handed_over else None
    sums = {total: number for number, total in service.sums(request.app.state.database, rig.rig_id).items()}
    context = rig_context(rig, "prove", date.today()) | ways_between("/hand-over")
    context |= {
        "form": form,
        "said": said,
        "kept": _signed(card) if card else None,
        "seen": _digest(now),
        "sections": shown.sections,
        "pictures": [(joint, sums[total]) for joint, total in shown.photos if total in sums],
        "changed": differences(newest.content, now) if newest else (),
        "newest": _signed(newest) if newest else None,
        "older": [_signed(each) for each in reversed(rig.handed_over[:-1])],
        "open": next((each.lines for each in now.sections if each.key == "open"), ()),
        "address": shown.address,
        "defer": DEFER,
        "caution": CAUTION_RANGE,
    }
    return render(request, "handover/page.html", status, **context)


def _signed(card: HandoverCard) -> dict[str, str | int]:
    return {
        "number": card.number,
        "by": card.signed_by,
        "when": local_time(card.entered),
        "note": card.note,
        "revision": card.revision,
    }


def card_pdf(request: Request, rig: Rig, card: HandoverCard | None) -> bytes:
    """One side of paper: what stands on the card, photos of the marks below, as many as there is room for; a draft
    where nobody signed. Raises TooMuch where the words alone do not fit."""
    told = _now(request, rig) if card is None else card.content
    tables = [Table(each.key, each.title, ("", ""), [list(line) for line in each.lines]) for each in told.sections]
    signed = "DRAFT, not signed" if card is None else f"card {card.number}, signed by {card.signed_by}"
    when = date.today().isoformat() if card is None else local_time(card.entered)
    heading = [rig.card.name, f"{signed}, {when}", *([card.note] if card and card.note else []), DEFER]
    pictures = [
        (joint, photo.jpeg) for joint, photo in service.pictures(request.app.state.database, rig.rig_id, told.photos)
    ]
    for count in range(min(len(pictures), MOST_PICTURES), -1, -1):
        try:
            return sheet_pdf(heading, tables, "A4", _code(told.address), pictures[:count])
        except TooMuch:
            if not count:
                raise
    raise AssertionError(PAPERS)


def _code(address: str) -> bytes:
    """The address as a QR code, a PNG; empty without one."""
    if not address:
        return b""
    import segno

    out = BytesIO()
    segno.make(address, error="m").save(out, kind="png", scale=8, border=2)
    return out.getvalue()
