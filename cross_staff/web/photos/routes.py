"""The photo bench: a picture is brought, tapped, measured; its figures stay with it, and go into a station's fields."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.photos.log import PhotoReading
from cross_staff.core.photos.plane import Figure
from cross_staff.core.photos.plane import Photo as Plane
from cross_staff.core.photos.uses import LINE, SHEET, USES, Use
from cross_staff.services import photo_readings as service
from cross_staff.services.mount import record as photos
from cross_staff.services.photos import MOST_BYTES
from cross_staff.services.rig import Rig, open_rig
from cross_staff.web.forms.form import FormInput, TypedForm, whole
from cross_staff.web.forms.photo import PostedPhoto
from cross_staff.web.forms.units import Units
from cross_staff.web.photos import words
from cross_staff.web.photos.taps import (
    LENGTHS,
    OWN_LENGTHS,
    SCALE_TAPS,
    SCALES,
    lengths_of,
    places_of,
    points_of,
    text_of,
)
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.render import render, rig_context

router = APIRouter()
FIELDS = (
    "act", "use", "scale", SCALE_TAPS, "length_#", "key", "entry", "to",
    *sorted({f"tap_{tap.key}" for use in USES.values() for tap in use.taps}),
)  # fmt: skip
SAID = {
    "back": "Taken back; the log keeps it.",
    "meanwhile": "Nothing was taken back: it was measured anew meanwhile, or is taken back already.",
}
ELSEWHERE = (
    ("vial", "A vial: the bubble is found", "level/photo"),
    ("target", "A target: the holes are found", "sight_in/photo"),
)


@router.get("/rigs/{rig_id}/photo-bench")
def bench_page(request: Request, rig_id: int, said: str = "", use: str = "peep") -> Response:
    """The photos of a rig, what each came to, what can be measured. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    return _bench(request, rig, FormInput({"use": use}, Units.of(rig.units)), said)


@router.post("/rigs/{rig_id}/photo-bench")
def bring(request: Request, rig_id: int, posted: PostedPhoto) -> Response:
    """Keep a photo, and go on to measure it. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form, photo = posted.read()
    use = form.choice("use", (*USES, *(key for key, _, _ in ELSEWHERE)))
    if photo is None:
        form.errors.setdefault("photo", "choose a photo first")
    if photo is None or form.errors:
        return _bench(request, rig, form, status=422)
    kept = photos.keep_photo(database, rig_id, photo, datetime.now(UTC))
    return RedirectResponse(_measure_at(rig_id, kept, use), 303)


def _measure_at(rig_id: int, photo_id: int, use: str) -> str:
    elsewhere = {key: path for key, _, path in ELSEWHERE}
    if use in elsewhere:
        return f"/rigs/{rig_id}/{elsewhere[use]}/{photo_id}"
    return f"/rigs/{rig_id}/photo-bench/{photo_id}?{urlencode({'use': use})}"


def _ways(rig_id: int, photo_id: int) -> list[tuple[str, str]]:
    """What a photo can be measured for: in words, and the address."""
    names = {use.key: use.name for use in USES.values()} | {key: name for key, name, _ in ELSEWHERE}
    return [(name, _measure_at(rig_id, photo_id, key)) for key, name in names.items()]


@router.get("/rigs/{rig_id}/photo-bench/{photo_id}")
def measure_page(request: Request, rig_id: int, photo_id: int, use: str = "peep") -> Response:
    """A photo with its taps; those that it was measured by before. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    photos.photo(request.app.state.database, rig_id, photo_id)
    units = Units.of(rig.units)
    if use not in USES:
        raise NotFound("there is no such use of a photo")
    before = _before(request, rig, photo_id, use)
    form = FormInput(_typed_of(before, units) if before else {"use": use, "scale": USES[use].scales[0]}, units)
    return _page(request, rig, photo_id, USES[use], form, figures=before.figures() if before else None)


@router.post("/rigs/{rig_id}/photo-bench/{photo_id}")
def measure(request: Request, rig_id: int, photo_id: int, typed: TypedForm) -> Response:
    """Measure by the taps, and keep it. Raises NotFound."""
    database = request.app.state.database
    rig = open_rig(database, rig_id)
    form = FormInput(typed, Units.of(rig.units))
    use = USES[form.choice("use", tuple(USES)) or "peep"]
    if form.typed.get("act") == "scale":
        form.errors.clear()
        return _page(request, rig, photo_id, use, form)
    reading = _reading(request, rig, photo_id, use, form)
    if reading is None:
        return _page(request, rig, photo_id, use, form, 422)
    try:
        figures = reading.figures()
        service.keep(database, rig_id, reading, datetime.now(UTC))
    except InvalidValue as error:
        field = {"scale": SCALE_TAPS}.get(
            error.field, error.field if error.field.startswith("length") else f"tap_{error.field}"
        )
        if field == SCALE_TAPS and use.own_line and reading.kind == LINE:
            field = f"tap_{use.own_line[1]}"
        form.errors[field] = error.message
        return _page(request, rig, photo_id, use, form, 422)
    return _page(request, open_rig(database, rig_id), photo_id, use, form, figures=figures, kept=True)


@router.post("/rigs/{rig_id}/photo-bench/{photo_id}/back")
def take_back(request: Request, rig_id: int, photo_id: int, typed: TypedForm) -> Response:
    """What was measured last on a photo is not wanted; the log keeps it. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    entry = whole(typed.get("entry", "")) or 0
    said = service.take_back(request.app.state.database, rig, typed.get("key", "")[:80], entry, datetime.now(UTC))
    return RedirectResponse(f"/rigs/{rig_id}/photo-bench?said={'back' if said else 'meanwhile'}", 303)


def _before(request: Request, rig: Rig, photo_id: int, use: str) -> PhotoReading | None:
    every = service.readings(request.app.state.database, rig)
    return next((each.reading for each in every if each.photo_id == photo_id and each.reading.use == use), None)


def _typed_of(reading: PhotoReading, units: Units) -> dict[str, str]:
    taps = {f"tap_{key}": text_of(list(points)) for key, points in reading.taps.items()}
    sides = {f"length_{n}": units.plain("length", side) for n, side in enumerate(reading.lengths_m, start=1) if side}
    return {"use": reading.use, "scale": reading.kind, SCALE_TAPS: text_of(reading.scale_taps), **sides, **taps}


def _reading(request: Request, rig: Rig, photo_id: int, use: Use, form: FormInput) -> PhotoReading | None:
    """What was tapped, as a reading; None where something is wrong with it, which stands at its field."""
    database = request.app.state.database
    photo = photos.photo(database, rig.rig_id, photo_id)
    kind = form.choice("scale", use.scales) or use.scales[0]
    sides = lengths_of(form, kind, "length")
    taps = {tap.key: points_of(form, f"tap_{tap.key}") for tap in use.taps}
    own = points_of(form, SCALE_TAPS)
    if use.own_line and kind == LINE:
        own = tuple(point for key in use.own_line for point in taps[key][:1])
    if form.errors:
        return None
    lengths = (sides[0], sides[1] if kind == SHEET else 0.0)
    plane = Plane(photo.width, photo.height)
    return PhotoReading(use.key, service.sum_of(database, rig.rig_id, photo_id), plane, kind, lengths, own, taps)


def _page(
    request: Request,
    rig: Rig,
    photo_id: int,
    use: Use,
    form: FormInput,
    status: int = 200,
    figures: Mapping[str, Figure] | None = None,
    kept: bool = False,
) -> Response:
    photo = photos.photo(request.app.state.database, rig.rig_id, photo_id)
    units, kind = Units.of(rig.units), form.typed.get("scale", use.scales[0])
    kind = kind if kind in use.scales else use.scales[0]
    key = f"{use.key}:{service.sum_of(request.app.state.database, rig.rig_id, photo_id)}"
    pins = service.pins_against(rig, figures) if figures and use.key == "pins" else []
    context: dict[str, Any] = rig_context(rig, "card", date.today()) | {
        "form": form,
        "use": use,
        "photo_id": photo_id,
        "size": (photo.width, photo.height),
        "places": places_of(use, kind),
        "scales": [(key, SCALES[key]) for key in use.scales],
        "kind": kind,
        "lengths": OWN_LENGTHS.get(use.key, LENGTHS[kind]) if kind == LINE else LENGTHS[kind],
        "rows": words.rows(use.key, figures, units) if figures else [],
        "goes_to": words.goes_to(rig, use.key, figures, units, key) if figures else [],
        "pins_against": words.pins_words(pins, units),
        "kept": kept,
        "key": key,
        "units": units,
    }
    return render(request, "photos/measure.html", status, **context)


def _bench(request: Request, rig: Rig, form: FormInput, said: str = "", status: int = 200) -> Response:
    database, units = request.app.state.database, Units.of(rig.units)
    every = service.readings(database, rig)
    of_each: dict[int, list[dict[str, Any]]] = {photo_id: [] for photo_id in service.photo_ids(database, rig.rig_id)}
    lost = []
    for each in every:
        row = {
            "use": USES[each.reading.use].name,
            "when": local_time(each.entry.entered),
            "rows": words.rows(each.reading.use, each.reading.figures(), units),
            "at": _measure_at(rig.rig_id, each.photo_id or 0, each.reading.use),
            "key": each.entry.key,
            "entry": each.entry.entry_id,
        }
        if each.photo_id is None:
            lost.append(row)
        else:
            of_each[each.photo_id].append(row)
    context: dict[str, Any] = rig_context(rig, "card", date.today()) | {
        "form": form,
        "uses": [*((use.key, use.name) for use in USES.values()), *((key, name) for key, name, _ in ELSEWHERE)],
        "chosen": form.typed.get("use", "peep"),
        "pictures": [(photo_id, rows, _ways(rig.rig_id, photo_id)) for photo_id, rows in of_each.items()],
        "lost": lost,
        "limit_bytes": MOST_BYTES,
        "limit_mb": MOST_BYTES // 1024 // 1024,
        "said": SAID.get(said, ""),
    }
    return render(request, "photos/bench.html", status, **context)
