"""What a mark was read off, in words: the sight's scale, pencil lines, a strip."""

from __future__ import annotations

from collections.abc import Collection

from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.rulers import BOOKLET, LINES, SCALE
from cross_staff.services.tape.rulers import Rulers
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import whole_distance

_NAMES = {SCALE: "scale or rule", LINES: "pencil lines", BOOKLET: "trial strip of the booklet"}
NEWEST = 3  # strips that are offered beside a table
HINTS = {
    SCALE: "Mark: where the pointer stands, from any zero; a printed rule stuck on the rail is a scale too.",
    LINES: "Pencil lines: millimetres, or inches like 1 3/8 in, from one line to the other; “from” left empty is home.",
    BOOKLET: "Trial strip: the strip that the pointer stands at, its home line laid on home.",
    "strip": "Strip: the number under the pointer, and the distance that arrows say; “from” is the line it was laid on "
    "with, left empty it is home.",
}


def choices(rulers: Rulers, used: Collection[str]) -> list[tuple[str, str]]:
    """Every ruler there is, and those that rows were read off although they are no more, with their names."""
    strips = {strip.code: strip.name for strip in rulers.strips}
    codes = dict.fromkeys((*rulers.codes, *sorted(used)))
    return [(code, _NAMES.get(code) or strips.get(code, "a strip that is no more")) for code in codes]


def ways(rulers: Rulers, used: Collection[str]) -> list[tuple[str, str]]:
    """The rulers that a table does not offer yet: of the strips the newest ones."""
    newest = {strip.code for strip in rulers.strips[:NEWEST]}
    offered = [each for each in choices(rulers, ()) if each[0] in (*_NAMES, *newest)]
    return [each for each in offered if each[0] not in used]


def hints(codes: set[str]) -> list[str]:
    """What is typed into the row of each ruler."""
    return [words for code, words in HINTS.items() if any(c == code or (code and c.startswith(code)) for c in codes)]


def mark_words(entry: TapeMark, units: Units) -> str:
    """A mark as it was read, in few words."""
    if entry.ruler == SCALE:
        return trimmed(entry.mark_mm, 2)
    if entry.ruler == LINES:
        return f"{trimmed(entry.mark_mm, 2)} mm from {whole_distance(units, entry.from_m or 0.0)}"
    return f"{'strip' if entry.ruler == BOOKLET else 'reads'} {entry.reads}"
