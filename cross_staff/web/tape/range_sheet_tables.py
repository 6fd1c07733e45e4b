"""What a range sheet can carry."""

from __future__ import annotations

from collections.abc import Callable

from cross_staff.web.tape.hold_tables import bands, holds, misjudged
from cross_staff.web.tape.pin_tables import dialled, gaps, pointers, ways
from cross_staff.web.tape.slope_tables import cut, wind
from cross_staff.web.tape.tables import Table, TapeView, marks

Maker = Callable[[TapeView], Table]
# what a range sheet can carry, in the order it is printed; those of several pins only where there are several
SHEET: dict[str, tuple[str, Maker]] = {
    "marks": ("Marks", marks),
    "gaps": ("Pin gaps", gaps),
    "dialled": ("What every pin is worth when dialled", dialled),
    "ways": ("Which pin for which distance", ways),
    "indicators": ("Pointers", pointers),
    "holds": ("Holds", holds),
    "bands": ("Point-on bands", bands),
    "cut_up": ("Cut chart, up", lambda t: cut(t, True)),
    "cut_down": ("Cut chart, down", lambda t: cut(t, False)),
    "misjudged": ("What a misjudged distance costs", misjudged),
    "wind": ("Crosswind, an estimate", wind),
}
OF_SEVERAL_PINS = ("gaps", "dialled", "ways", "indicators")
USUAL = ("marks", "ways", "holds", "cut_up", "cut_down")
WITH_A_DRUM = ("marks", "cut_up", "cut_down")  # every distance is set, and none held


def usual(t: TapeView) -> tuple[str, ...]:
    """What is on the sheet where nobody chose."""
    return WITH_A_DRUM if t.drummed else USUAL


def offered(t: TapeView) -> list[str]:
    """The tables that make sense for this rig, by their keys."""
    several, moves = len(t.heights) > 1, t.card.sight_kind.dialled
    hills = not t.card.goals.level_only
    return [
        key
        for key in SHEET
        if (several or key not in OF_SEVERAL_PINS)
        and (moves or key not in ("marks", "dialled", "ways", "indicators"))
        and (hills or not key.startswith("cut_"))
    ]
