"""Fits beside one another: from speed alone, two marks, all; how to lay the tape on; what each day says."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from cross_staff.core.fits import compared, layings
from cross_staff.services.rig import open_rig
from cross_staff.web import tape_words as words
from cross_staff.web.sentences import on_target, whole_distance
from cross_staff.web.tape_page import no_tape, tape_page
from cross_staff.web.tape_tables import Table, Told, told
from cross_staff.web.units import Units, fixed

router = APIRouter()


@router.get("/rigs/{rig_id}/tape/fits")
def fits_page(request: Request, rig_id: int) -> Response:
    """What less would have said, and how the tape is laid on. Raises NotFound."""
    found = open_rig(request.app.state.database, rig_id)
    units = Units.of(found.units)
    t = told(found, units)
    if t is None:
        return no_tape(request, found, "/fits")
    say, why, laid = laid_on(t)
    tables = [_compared(t), *laid]
    days = words.days(t.reckoning, units)
    if days:
        tables.append(Table("days", "Day by day", ("what each day's marks say",), [[line] for line in days]))
    return tape_page(request, found, "/fits", tables=tables, say=say, why=why)


def _compared(t: Told) -> Table:
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
    return Table(
        "compared",
        "What less would have said",
        heads,
        words.compared(compared(t.card, t.reckoning), t.units, farthest),
        note,
    )


def laid_on(t: Told) -> tuple[str, str, list[Table]]:
    """The best way to lay the printed tape on, and what every way leaves at each mark."""
    rows, ways = layings(t.card, t.reckoning)
    if not ways:
        return (
            "Shoot the home mark first.",
            "Until then the tape lies nowhere: speed and geometry give only its length.",
            [],
        )
    table = [
        [
            whole_distance(t.units, row.entry.ranged_m),
            *(f"{fixed(way.left_mm[i], 2)} · {words.high_low(t.units, way.up_m[i])}" for way in ways),
        ]
        for i, row in enumerate(rows)
    ]
    heads = ("left at", *(words.LAYING[way.key] for way in ways))
    note = f"Millimetres on the tape, then how high or low arrows come in, {t.units.label('offset')}."
    best = min(ways, key=lambda way: way.worst_m)
    say = f"Lay the tape on {words.LAYING[best.key]}: {words.laying(best, t.units)}."
    others = "; ".join(
        f"{words.LAYING[way.key]} {on_target(t.units, way.worst_m)}" for way in ways if way.key != best.key
    )
    why = f"It leaves at most {on_target(t.units, best.worst_m)} at any mark ({others}). Finish by nudging the pointer."
    return say, why, [Table("layings", "Laying it on", heads, table, note)]
