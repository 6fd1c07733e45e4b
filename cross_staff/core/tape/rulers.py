"""What marks are read off beside the sight's own scale: pencil lines, a printed strip, a trial strip of a booklet.

A ruler of its own has a zero of its own: what lies on it are distances between lines. The line that a distance is
measured from is an observation too, shared by all that are measured from it.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import hypot

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.rig.booklet import Booklet
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.booklet import sequences, span_at
from cross_staff.core.tape.rows import READING_SD_MM, RowEvaluation, day_of

SCALE, LINES, BOOKLET, STRIP = "", "lines", "booklet", "strip"
SPAN_MM = Range(0.5, 300.0)
LINE_SD_MM = 0.18  # of one of two pencil lines: calipers, and a line's own width
STRIP_SD_MM = 0.2  # a quarter of a yard at sixty
LAID_SD_MM = 0.25  # how nearly a strip's home line lies under the pointer
STEP_PART = 0.3  # of the step from strip to strip, as a trial strip is read
SAME_LINE_M = 0.05


@dataclass(frozen=True)
class StripRuler:
    """A printed strip: its code in the records, what it is called, the metres of its unit, and where it has its lines
    [m as ranged; mm from its home line], shape (n,); home_m, what it begins with; home_mark_mm, where the sight's scale
    stood at home when it was printed, None where nobody read a scale."""

    code: str
    name: str
    unit_m: float
    lines_m: tuple[float, ...]
    places_mm: tuple[float, ...]
    home_m: float
    home_mark_mm: float | None = None

    def place_mm(self, field: str, ranged_m: float) -> float:
        """Where a distance stands on it [mm from its home line].

        Args:
            field: what is said to be wrong.
            ranged_m: a number of the strip [m as ranged].

        Returns:
            [mm].

        Raises:
            InvalidValue: for a number that it does not have.

        Source:
            monotone cubics through its lines, F. N. Fritsch and R. E. Carlson, 1980.
        """
        from scipy.interpolate import PchipInterpolator

        first, last = self.lines_m[0], self.lines_m[-1]
        if abs(ranged_m - self.home_m) <= SAME_LINE_M:
            return 0.0
        if not first - SAME_LINE_M <= ranged_m <= last + SAME_LINE_M:
            a, b = (f"{end / self.unit_m:g}" for end in (first, last))
            raise InvalidValue(field, f"is not on that strip: it goes from {a} to {b}")
        return float(PchipInterpolator(self.lines_m, self.places_mm)(min(max(ranged_m, first), last)))


def trial_span(booklet: Booklet, label: str) -> tuple[float, float]:
    """What a trial strip that reads a label at the far distance says of the length between the booklet's two distances.

    Args:
        booklet: as it was measured.
        label: what the pointer stood at, a strip's label or a place in the booklet.

    Returns:
        the length and its sd [mm].

    Raises:
        InvalidValue: where two strips of the booklet were not measured yet, or the label is not known.

    Source:
        straight lines between measured strips.
    """
    rows = sequences(booklet) if len(booklet.strips) > 1 else ()
    for row in rows:
        named = next((strip.order for strip in row if strip.label == label), None)
        order = booklet.order_of(label) if named is None else named
        if order is not None:
            length = span_at(row, order)
            return length, max(STEP_PART * abs(span_at(row, order + 1.0) - length), READING_SD_MM)
    if not rows:
        raise InvalidValue("mark", "needs two measured strips of the booklet first")
    raise InvalidValue("mark", f"“{label}” is not a strip of the booklet: its label, or its place as a number")


def with_places(card: RigCard, rows: Sequence[RowEvaluation]) -> tuple[RowEvaluation, ...]:
    """The rows with the place of each on its ruler, then the lines that distances are measured from.

    Args:
        card: the rig's card.
        rows: every row, those that are used among them, shape (n,).

    Returns:
        the rows in their order, and those of the lines behind them.

    Source:
        docs/method.md, section 5.
    """
    scale = any(row.used and row.entry.ruler == SCALE and not row.zero for row in rows)
    groups: dict[tuple[object, ...], list[int]] = {}
    placed = list(rows)
    for place, row in enumerate(rows):
        if not row.used:
            continue
        if row.entry.ruler == SCALE:
            placed[place] = replace(row, at_mm=card.tape.direction * row.entry.mark_mm, at_m=row.entry.ranged_m)
        elif scale and row.entry.laid_mm is not None and not row.zero:
            at = card.tape.direction * row.entry.laid_mm + row.entry.mark_mm
            placed[place] = replace(row, at_mm=at, at_m=row.entry.ranged_m)
            groups.setdefault(("laid", row.entry.ruler), []).append(place)
        else:
            groups.setdefault(_ruler(row), []).append(place)
    origins: list[RowEvaluation] = []
    for number, (key, places) in enumerate(groups.items(), start=1):
        if key[0] == "laid":
            sd = hypot(STRIP_SD_MM, LAID_SD_MM * len(places) ** 0.5)  # they share how it was laid
            for each in places:
                placed[each] = replace(placed[each], reading_sd_mm=sd)
            continue
        lines = _from_one_line if str(key[0]).startswith(STRIP) else _chained
        for which, row in lines([(each, placed[each]) for each in places], f"{key[0]} {number}"):
            if which is None:
                origins.append(row)
            else:
                placed[which] = row
    return (*placed, *origins)


def _ruler(row: RowEvaluation) -> tuple[object, ...]:
    """What lies on one ruler: of one kind, aimed with one pin, of one arrow, since one shift of the zero; strips as
    they lie."""
    entry = row.entry
    laid = round((entry.from_m or 0.0) / SAME_LINE_M) if entry.ruler.startswith(STRIP) else None
    return entry.ruler, entry.pin, row.zero, laid, row.arrow


Placed = Iterable[tuple[int | None, RowEvaluation]]


def _from_one_line(rows: Sequence[tuple[int, RowEvaluation]], name: str) -> Placed:
    """What a strip reads: every place is counted from the line that it was laid on with."""
    first = rows[0][1]
    at_line = any(abs(row.entry.ranged_m - (row.entry.from_m or 0.0)) <= SAME_LINE_M for _, row in rows)
    for place, row in rows:
        yield place, _on(row, name, row.entry.mark_mm, row.entry.ranged_m, STRIP_SD_MM, 1)
    if not at_line:
        yield None, _origin(first, name, 0.0, first.entry.from_m or 0.0, STRIP_SD_MM)


def _chained(rows: Sequence[tuple[int, RowEvaluation]], name: str) -> Placed:
    """Distances between pencil lines: each from a line that is placed, whichever way; a line that is measured more
    than once on a day is one line, its arrows counted once; on another day it was shot again."""
    waiting, lines, part = list(rows), list[tuple[float, float]](), 0
    told: list[tuple[int, RowEvaluation, float, float, str]] = []
    while waiting:
        found = next(((i, way) for i, (_, row) in enumerate(waiting) for way in _ways(row, lines)), None)
        if found is None:
            part, lines = part + 1, []
            begun = waiting[0][1].entry
            lines.append((begun.from_m or 0.0, 0.0))
            yield None, _origin(waiting[0][1], f"{name}.{part}", 0.0, begun.from_m or 0.0, LINE_SD_MM)
            continue
        index, (at_m, at_mm) = found
        place, row = waiting.pop(index)
        lines.append((at_m, at_mm))
        told.append((place, row, at_m, at_mm, f"{name}.{part}"))
    for place, row, at_m, at_mm, ruler in told:
        there = [each[1] for each in told if each[4] == ruler and abs(each[2] - at_m) <= SAME_LINE_M]
        day = day_of(row.entry.entered)
        yield place, _on(row, ruler, at_mm, at_m, LINE_SD_MM, sum(day_of(o.entry.entered) == day for o in there))


def _ways(row: RowEvaluation, lines: Sequence[tuple[float, float]]) -> Iterable[tuple[float, float]]:
    """Where a distance between two lines places the other of them, when one is placed."""
    entry = row.entry
    for end_m, other_m, way in (
        (entry.from_m or 0.0, entry.ranged_m, 1.0),
        (entry.ranged_m, entry.from_m or 0.0, -1.0),
    ):
        known = next((mm for m, mm in lines if abs(m - end_m) <= SAME_LINE_M), None)
        if known is not None:
            yield other_m, known + way * entry.mark_mm
            return


def _on(row: RowEvaluation, ruler: str, at_mm: float, at_m: float, sd_mm: float, shared: int) -> RowEvaluation:
    sd = row.entry.reading_sd_mm or sd_mm
    return replace(row, ruler=ruler, at_mm=at_mm, at_m=at_m, reading_sd_mm=sd, shared=shared)


def _origin(row: RowEvaluation, ruler: str, at_mm: float, at_m: float, sd_mm: float) -> RowEvaluation:
    """The line that others are measured from: it was sighted in, like theirs."""
    entry = replace(row.entry, ranged_m=at_m, mark_mm=0.0, up_m=None)
    return replace(_on(replace(row, entry=entry, findings=()), ruler, at_mm, at_m, sd_mm, 1), origin=True)
