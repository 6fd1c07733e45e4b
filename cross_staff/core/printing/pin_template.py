"""The pin template: a printed strip at true scale that pins are set against."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue
from cross_staff.core.printing.sheet import PAPERS_MM, Box, CutLine, Page, PrintedSheet, SheetStyle, Text, headed
from cross_staff.core.tape.forecast import COVERAGE

_LEFT, _TOP, _WIDTH, _END = 30.0, 62.0, 34.0, 8.0
_LINE_MM = 0.25
_LEAST_APART_MM = 3.2


@dataclass(frozen=True)
class TemplateLine:
    """A pin on the template: words, how far below the first it belongs, its thickness and the sd of its place
    [mm], None where not known."""

    words: str
    below_mm: float
    thickness_mm: float | None = None
    sd_mm: float | None = None


def pin_template(lines: Sequence[TemplateLine], style: SheetStyle, heading: Sequence[str]) -> PrintedSheet:
    """A sheet with the check bar and the template: a line at the middle of every pin, from the cut edge at
    which the pins' tips are held, with a bar as thick as the pin; words beside it, moved apart where crowded.

    Raises: InvalidValue for fewer than two pins, or a stack longer than the page.
    """
    if len(lines) < 2:
        raise InvalidValue("pins", "a template needs at least two pins with a distance within reach")
    paper, scale = PAPERS_MM[style.paper], style.correction
    ordered = sorted(lines, key=lambda line: line.below_mm)
    first, length = ordered[0].below_mm, ordered[-1].below_mm - ordered[0].below_mm + 2 * _END
    if _TOP + length * scale > paper[1] - 15.0:
        raise InvalidValue("pins", f"make a stack of {length - 2 * _END:.0f} mm, longer than {style.paper}")
    page = headed(style, heading)
    for x in (0.0, _WIDTH):
        page.cuts.append(CutLine(_LEFT + x * scale, _TOP, _LEFT + x * scale, _TOP + length * scale))
    for y in (0.0, length):
        page.cuts.append(CutLine(_LEFT, _TOP + y * scale, _LEFT + _WIDTH * scale, _TOP + y * scale))
    below = 0.0
    for line in ordered:
        place = _END + line.below_mm - first
        below = max(place, below + _LEAST_APART_MM) if below else place
        _draw(page, line, place, below, scale)
    page.texts.append(
        Text(
            _LEFT,
            _TOP + (length + 6.0) * scale,
            "Cut it out, hold the left edge against the pins' tips. ± 19 times in 20.",
            8.0,
        )
    )
    return PrintedSheet((page,), paper)


def _draw(page: Page, line: TemplateLine, place: float, words_at: float, scale: float) -> None:
    thick = line.thickness_mm or 0.0
    y = _TOP + place * scale
    page.boxes.append(Box(_LEFT, y - _LINE_MM * scale / 2.0, 12.0 * scale, _LINE_MM * scale))
    if thick:
        page.boxes.append(Box(_LEFT, y - thick * scale / 2.0, 3.0 * scale, thick * scale))
    sure = "" if line.sd_mm is None else f" ± {COVERAGE * line.sd_mm:.1f}"
    page.texts.append(Text(_LEFT + 13.0 * scale, _TOP + words_at * scale + 0.9, line.words, 7.0, bold=True))
    below = f"{line.below_mm:.1f}{sure} mm"
    page.texts.append(Text(_LEFT + (_WIDTH + 2.0) * scale, _TOP + words_at * scale + 0.9, below, 7.0))
