"""The booklet of printed strips: measured here; which strip fits, and what its neighbours would cost."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.rig.limits import LIMITS
from cross_staff.core.tape.booklet import StripChoice, strip_errors
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape import booklet as service
from cross_staff.web.forms.form import FormInput, TypedForm, until_kept
from cross_staff.web.forms.merge import merged, seen_text, units_seen
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared import reach_words
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.words import CAUTION_BLADE, whole_distance
from cross_staff.web.tape import booklet_words, words
from cross_staff.web.tape.form import DISTANCE_SPAN
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.tables import Table, TapeView, tape_view

router = APIRouter()
ORDER_SPAN, SPAN_MM = LIMITS["sight.booklet.strips.order"], LIMITS["sight.booklet.strips.span_mm"]
MOST_STRIPS, SPARE, SHOWN = 12, 2, 9
MOST_LABELS = 600  # letters
COLUMNS = ("label", "order", "span", "side")


@router.get("/rigs/{rig_id}/tape/booklet")
def booklet_page(request: Request, rig_id: int) -> Response:
    """The strips as measured, and which one fits. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    texts = _filled(rig, Units.of(rig.units))
    return _page(request, rig, FormInput(texts, Units.of(rig.units), seen=seen_text(texts, rig.units)))


@router.post("/rigs/{rig_id}/tape/booklet")
def keep_booklet(request: Request, rig_id: int, typed: TypedForm) -> Response:
    """Keep the measured strips, joined with what was saved meanwhile. Raises NotFound."""
    return until_kept(lambda: _save(request, rig_id, typed))


def _save(request: Request, rig_id: int, typed: dict[str, str]) -> Response:
    rig = open_rig(request.app.state.database, rig_id)
    units = units_seen(typed, rig.units)
    form = FormInput(typed, units)
    form.take(merged(typed, _filled(rig, units), units.keys()))
    measured = _read(form, rig.card.sight.booklet)
    if not form.errors:
        with form.refusals():
            number = rig.revision.number
            service.keep(request.app.state.database, rig_id, measured, datetime.now(UTC), number)
            return RedirectResponse(f"/rigs/{rig_id}/tape/booklet", 303)
    return _page(request, rig, form)


def _filled(rig: Rig, units: Units) -> dict[str, str]:
    """The booklet as text, field by field."""
    kept, goals = rig.card.sight.booklet, rig.card.goals
    texts = {
        "from": units.plain("distance", kept.from_m if kept.from_m is not None else goals.home_m),
        "to": units.plain("distance", kept.to_m if kept.to_m is not None else goals.farthest_m),
        "labels": " ".join(kept.labels),
        "used": kept.used,
    }
    for row, strip in enumerate(kept.strips):
        cells = (strip.label, trimmed(strip.order, 1), trimmed(strip.span_mm, 2), strip.side)
        texts |= {f"{column}_{row}": text for column, text in zip(COLUMNS, cells)}
    return texts


def _rows(typed: Mapping[str, str]) -> list[int]:
    """The rows that hold something, and some spare ones."""
    used = [row for row in range(MOST_STRIPS) if any(typed.get(f"{c}_{row}", "").strip() for c in COLUMNS)]
    last = max(used, default=-1)
    return list(range(min(max(last + 1 + SPARE, 3), MOST_STRIPS)))


def _read(form: FormInput, kept: Booklet) -> Booklet:
    labels = tuple(form.text("labels", MOST_LABELS).replace(",", " ").split())
    listed = replace(kept, labels=labels, strips=())
    if len(set(labels)) < len(labels):
        form.errors["labels"] = "each label once, in the order of the booklet"
    strips = []
    for row in _rows(form.typed):
        label, side = form.text(f"label_{row}", 24), form.text(f"side_{row}", 24)
        order = form.number(f"order_{row}", "plain", ORDER_SPAN)
        span = form.number(f"span_{row}", "mark", SPAN_MM)
        if not (
            label or side or form.typed.get(f"order_{row}", "").strip() or form.typed.get(f"span_{row}", "").strip()
        ):
            continue
        if order is None and label:
            order = listed.order_of(label)
        if order is None and f"order_{row}" not in form.errors:
            form.errors[f"order_{row}"] = "its place in the booklet, counted 1, 2, 3"
        if span is None and f"span_{row}" not in form.errors:
            form.errors[f"span_{row}"] = "its length between the two distances"
        if order is not None and span is not None:
            strips.append(Strip(label or f"{order:g}", order, span, side))
    start, end = form.number("from", "distance", DISTANCE_SPAN), form.number("to", "distance", DISTANCE_SPAN)
    for name, value in (("from", start), ("to", end)):
        if value is None and name not in form.errors:
            form.errors[name] = "between which distances was it measured?"
    return Booklet(start, end, tuple(strips), kept.read_label, form.text("used", 24), labels)


def _page(request: Request, rig: Rig, form: FormInput) -> Response:
    t = tape_view(rig, form.units)
    if t is None:
        return no_tape(request, rig, "/booklet")
    say, why, problem = "Measure two strips.", "Their length from the home line to the far line, on any two strips.", ""
    tables: list[Table] = []
    to_cut: list[str] = []
    if not t.card.sight_kind.dialled:
        say, why = words.NOT_DIALLED, "Strips are for a sight whose housing is dialled along them."
    try:
        matched = service.matched(rig)
        if matched is not None and matched.cut is not None:
            say, why = booklet_words.say(t, matched, matched.cut)
            tables = _tables(t, matched)
            weighed = () if t.evaluation.doubtful else (matched.cut.best, *matched.cut.rivals[:2])
            to_cut = [each.choice.label for each in weighed if each.choice.label != rig.card.sight.booklet.used]
    except CrossStaffError as error:
        problem = f"{error}"[0].upper() + f"{error}."[1:]
    return tape_page(
        request,
        rig,
        "/booklet",
        "tape/booklet.html",
        tables,
        form,
        say=say,
        why=why,
        problem=problem,
        caution=CAUTION_BLADE,
        rows=_rows(form.typed),
        to_cut=to_cut,
        doubtful=bool(tables) and t.evaluation.doubtful,
        on_sight=booklet_words.on_sight(t, service.cut_before(rig)),
        trial=len(rig.card.sight.booklet.strips) > 1,
        labels={f"{c}_{row}": f"Strip {row + 1}, {c}" for c in COLUMNS for row in range(MOST_STRIPS)},
        changed_at=local_time(rig.revision.saved),
    )


def _tables(t: TapeView, matched: service.Matched) -> list[Table]:
    goals, units = t.card.goals, t.units
    nearest = sorted(matched.choices[:SHOWN], key=lambda c: (c.side, c.order))
    far = whole_distance(units, goals.farthest_m or 0.0)
    errors = _along(t, nearest, _home_m(t))
    heads = ("strip", "place", "length, mm", f"shoots at {far}", *(t.number(d) for d in errors))
    rows = [
        [
            booklet_words.named(c) + ("" if c.measured else " (not measured)"),
            fixed(c.order, 0 if c.order == int(c.order) else 1),
            f"{c.span_mm:.1f}",
            words.high_low(units, c.up_m),
            *(words.high_low(units, column[i]) for column in errors.values()),
        ]
        for i, c in enumerate(nearest)
    ]
    note = f"How high or low arrows hit, {units.label('offset')}, the strip's home line on the home mark."
    tables = [Table("strips", "The strips around it", heads, rows, note)]
    if matched.detents:
        rows = [
            [reach_words.extension(t.card, detent), booklet_words.named(c), words.high_low(units, c.up_m)]
            for detent, c in matched.detents
        ]
        tables.append(
            Table("detents", "At another place of the extension", ("extension", "best strip", f"shoots at {far}"), rows)
        )
    return tables


def _home_m(t: TapeView) -> float | None:
    """Where the dialled pin's tape begins [m from the sight plane]."""
    home = t.evaluation.tape_home_m or t.card.goals.home_m
    return None if home is None else t.card.distance_from_sight(home)


def _along(t: TapeView, choices: list[StripChoice], home_m: float | None) -> dict[float, list[float | None]]:
    """What each strip would do at some distances on the way [m, up], by the distance as ranged."""
    kept, ratio = t.card.sight.booklet, t.evaluation.fit.tape_ratio if t.evaluation.fit else 1.0
    ends = [t.card.distance_from_sight(d or 0.0) for d in (kept.from_m, kept.to_m)]
    ranged = [d for d in t.distances() if (kept.from_m or 0.0) < d < (t.card.goals.farthest_m or 0.0)][-4:]
    spans = [choice.span_mm / ratio for choice in choices]
    return {d: strip_errors(t.figures, ends[0], ends[1], spans, t.card.distance_from_sight(d), home_m) for d in ranged}
