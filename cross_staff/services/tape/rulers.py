"""What a rig's marks can be read off beside the sight's scale: pencil lines, its printed strips, its booklet."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.printing.sheet import PrintedSheet, PrintedStrip, SheetStyle, compose
from cross_staff.core.rig.booklet import Booklet
from cross_staff.core.rig.events import PROOF_HANGS_ON
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.tape.checks import check_span
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.rulers import BOOKLET, LINES, SAME_LINE_M, SCALE, STRIP, StripRuler, trial_span
from cross_staff.core.tape.scale import millimetre_rule
from cross_staff.services.rig import Rig
from cross_staff.services.strips import strips_of
from cross_staff.services.tape.record import RowEdit
from cross_staff.storage.printed_tapes import KeptTape

RULE_MM, RULE_WIDTH_MM = 120, 11.0  # room for three figures

SHOWN_MM = 0.006  # a mark is shown to a hundredth of a millimetre


@dataclass(frozen=True)
class Rulers:
    """The printed strips, the newest first; the booklet; what each pin is right for with the sight at home [m as
    ranged], None where nobody said; fresh, the strips that were laid on where the scale's home still is."""

    strips: tuple[StripRuler, ...]
    booklet: Booklet
    homes_m: tuple[float | None, ...]
    fresh: frozenset[str] = frozenset()

    @property
    def codes(self) -> tuple[str, ...]:
        """Every ruler that there is, by its code."""
        trial = (BOOKLET,) if len(self.booklet.strips) > 1 else ()
        return (SCALE, LINES, *trial, *(strip.code for strip in self.strips))

    def strip(self, code: str) -> StripRuler:
        """One of the strips. Raises: InvalidValue for one that was never printed."""
        found = next((strip for strip in self.strips if strip.code == code), None)
        if found is None:
            raise InvalidValue("read", "is not one of this rig's strips")
        return found

    def read(self, edit: RowEdit, held: TapeMark | None = None) -> RowEdit:
        """An edit with what was read on its ruler as a length on it; what is as it was held is not read again, off
        what the ruler is by now. Raises: InvalidValue with the column."""
        if edit.ruler in (SCALE, LINES) and held is not None and _same_length(edit, held):
            edit = replace(edit, mark_mm=held.mark_mm, reading_sd_mm=held.reading_sd_mm)
        if edit.ruler == SCALE:
            return edit
        if held is not None and _as_read(edit, held):
            kept = {name: getattr(held, name) for name in ("mark_mm", "from_m", "reading_sd_mm", "laid_mm")}
            return replace(edit, **kept)
        if edit.ruler == LINES:
            edit = replace(edit, from_m=self._home(edit) if edit.from_m is None else edit.from_m)
        elif edit.ruler == BOOKLET:
            edit = self._trial(edit)
        else:
            edit = self._on_strip(edit, self.strip(edit.ruler))
        check_span(edit.ruler, edit.from_m, edit.ranged_m, edit.mark_mm)
        return edit

    def _home(self, edit: RowEdit) -> float:
        home = self.homes_m[edit.pin] if edit.pin < len(self.homes_m) else None
        if home is None:
            raise InvalidValue("from", "from which line? The card does not say what this pin is right for at home")
        return home

    def _trial(self, edit: RowEdit) -> RowEdit:
        length, sd = trial_span(self.booklet, edit.reads)
        book = self.booklet
        for field, value, wanted in (("from", edit.from_m, book.from_m), ("distance", edit.ranged_m, book.to_m)):
            if value is not None and wanted is not None and abs(value - wanted) > SAME_LINE_M:
                raise InvalidValue(field, "is not the distance that the booklet's strips were measured to")
        return replace(edit, mark_mm=length, reading_sd_mm=sd, from_m=book.from_m)

    def _on_strip(self, edit: RowEdit, strip: StripRuler) -> RowEdit:
        start = strip.home_m if edit.from_m is None else edit.from_m
        reads_m = float(edit.reads) * strip.unit_m
        place = strip.place_mm("mark", reads_m) - strip.place_mm("from", start)
        at_home = abs(start - strip.home_m) <= SAME_LINE_M and strip.code in self.fresh
        return replace(edit, from_m=start, mark_mm=place, laid_mm=strip.home_mark_mm if at_home else None)


def _same_length(edit: RowEdit, held: TapeMark) -> bool:
    """Whether a row has the length that it had, as its page shows it, with no doubt typed behind it: then it is still
    known as well as it was read."""
    same = edit.ruler == held.ruler and abs(edit.mark_mm - held.mark_mm) < SHOWN_MM
    return same and edit.reading_sd_mm is None


def _as_read(edit: RowEdit, held: TapeMark) -> bool:
    """Whether a row says of its strip what it said before."""
    same_line = edit.from_m is None or abs(edit.from_m - (held.from_m or 0.0)) < SAME_LINE_M
    same_place = abs(edit.ranged_m - held.ranged_m) < SAME_LINE_M and same_line
    return bool(edit.reads) and (edit.ruler, edit.reads) == (held.ruler, held.reads) and same_place


def rulers_of(rig: Rig, printed: list[KeptTape]) -> Rulers:
    """The rulers of a rig, with the tapes that were printed for it."""
    strips = tuple(ruler for kept in reversed(printed) for ruler in strips_of(rig.history, kept))
    holding = Timeline([revision.state for revision in rig.history]).holding(PROOF_HANGS_ON)
    revisions = {f"{STRIP} {kept.number}": kept.revision for kept in printed}
    fresh = frozenset(s.code for s in strips if revisions[s.code.partition(".")[0]] in holding)
    homes = (rig.card.goals.home_m, *rig.evaluation.pins.at_m[1:])
    return Rulers(strips, rig.card.sight.booklet, homes, fresh)


def rule_sheet(style: SheetStyle, heading: tuple[str, ...], waste: tuple[str, ...]) -> PrintedSheet:
    """A millimetre rule for a rail that has none, at true scale. Raises: InvalidValue as `compose`."""
    wide = replace(style, other_edge="", width_mm=max(style.width_mm, RULE_WIDTH_MM))
    return compose([PrintedStrip("rule", (millimetre_rule(RULE_MM),))], wide, heading, waste)
