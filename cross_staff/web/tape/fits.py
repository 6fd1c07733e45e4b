"""Fits beside one another: from speed alone, two marks, all; how to lay the tape on; what each day says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.tape.comparison import Laying, compared, layings
from cross_staff.core.tape.comparison import days as days_of
from cross_staff.core.tape.rows import RowEvaluation
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import booklet
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import trust_words, words
from cross_staff.web.tape.page import no_tape, tape_page
from cross_staff.web.tape.tables import Table, TapeView, kept, tape_view

router = APIRouter()


@router.get("/rigs/{rig_id}/tape/fits")
def fits_page(request: Request, rig_id: int) -> Response:
    """What less would have said, and how the tape is laid on. Raises NotFound."""
    rig = open_rig(request.app.state.database, rig_id)
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    if t is None:
        return no_tape(request, rig, "/fits")
    say, why, laid = kept(t, "laid on", lambda: laid_on(t))
    tables = [kept(t, "compared", lambda: _compared(t)), *laid, *kept(t, "strip", lambda: _strip_laid_on(t))]
    days = trust_words.days(days_of(t.evaluation), units)
    if days:
        tables.append(Table("days", "Day by day", ("what each day's marks say",), [[line] for line in days]))
    if not t.card.sight_kind.dialled:
        say, why = words.NOT_DIALLED, "What speed alone, and what the marks, make of where its pins belong."
        tables = [table for table in tables if table.key not in ("layings", "strip")]
    return tape_page(request, rig, "/fits", tables=tables, say=say, why=why)


def _compared(t: TapeView) -> Table:
    farthest = t.card.goals.farthest_m or 0.0
    far = whole_distance(t.units, farthest)
    heads = (
        "from",
        "marks",
        "home to farthest, mm",
        f"worth at {far}",
        f"would shoot there, {t.units.label('offset')}",
    )
    note = "Beside the fit of all, its tape laid on at home."
    rows = words.compared(compared(t.card, t.evaluation), t.units, farthest)
    return Table("compared", "What less would have said", heads, rows, note)


def laid_on(t: TapeView) -> tuple[str, str, list[Table]]:
    """The best way to lay the printed tape on, and what every way leaves at each mark."""
    rows, ways = layings(t.card, t.evaluation)
    if not ways:
        why = "Until then the tape lies nowhere: speed and geometry give only its length."
        return "Shoot the home mark first.", why, []
    best = min(ways, key=lambda way: way.worst_m)
    say = f"Lay the tape on {words.LAYING[best.key]}: {words.laying(best, t.units)}."
    others = "; ".join(
        f"{words.LAYING[way.key]} {on_target(t.units, way.worst_m)}" for way in ways if way.key != best.key
    )
    why = f"It leaves at most {on_target(t.units, best.worst_m)} at any mark ({others}). Finish by nudging the pointer."
    return say, why, [_laid(t, rows, ways)]


def _strip_laid_on(t: TapeView) -> list[Table]:
    """The same for the strip of the booklet that is on the sight, or fits best."""
    try:
        matched = booklet.matched(t.rig)
    except CrossStaffError:
        return []
    if matched is None or matched.best is None:
        return []
    used = t.card.sight.booklet.used
    strip = next((choice for choice in matched.choices if choice.label == used), matched.best)
    rows, ways = layings(t.card, t.evaluation, booklet.laid_on(t.rig, strip))
    return [replace(_laid(t, rows, ways), key="strip", title=f"Laying strip {strip.label} on")] if ways else []


def _laid(t: TapeView, rows: Sequence[RowEvaluation], ways: Sequence[Laying]) -> Table:
    """What every way of laying a tape on leaves at each mark."""
    table = [
        [
            whole_distance(t.units, row.entry.ranged_m),
            *(f"{fixed(way.left_mm[i], 2)} · {words.high_low(t.units, way.up_m[i])}" for way in ways),
        ]
        for i, row in enumerate(rows)
    ]
    heads = ("left at", *(words.LAYING[way.key] for way in ways))
    note = f"Millimetres on the tape, then how high or low arrows hit, {t.units.label('offset')}."
    return Table("layings", "Laying it on", heads, table, note)
