"""The printed tapes of a rig as rulers: where each strip has its lines."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.tape.rulers import STRIP, StripRuler
from cross_staff.storage.printed_tapes import KeptTape
from cross_staff.storage.rigs import Revision


def strips_of(history: Sequence[Revision], kept: KeptTape) -> list[StripRuler]:
    """The strips of one sheet, each by its first edge."""
    tape, rulers = kept.tape, []
    home = tape.home_m
    if home is None:
        home = history[kept.revision - 1].card.goals.home_m or 0.0
    for index, strip in enumerate(tape.strips):
        edge = strip.edges[0]
        ticks = sorted(edge.ticks, key=lambda tick: tick.count)
        name = f"strip no. {kept.number}" + (f", {strip.name}" if len(tape.strips) > 1 else "")
        lines = tuple(tick.count * edge.unit_m for tick in ticks)
        places = tuple(tick.position_mm for tick in ticks)
        code = f"{STRIP} {kept.number}.{index}"
        rulers.append(StripRuler(code, name, edge.unit_m, lines, places, home, tape.home_mark_mm))
    return rulers
