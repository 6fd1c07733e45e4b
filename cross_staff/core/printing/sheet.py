"""The printed sheet: strips at true scale, cut lines, a check bar, the waste edge.

Everything is placed in millimetres from the top left corner of the page, as rectangles, dashed
lines and texts; the PDF and the SVG draw the same pieces.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import product

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.tape.scale import TapeLayout, Tick

PAPERS_MM = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
CHECK_BAR_MM = 100.0
MEASURED_BAR_MM = Range(90.0, 110.0)
COPIES = Range(1, 12)
WIDTH_MM = Range(4.0, 25.0)
LEAST_TWO_EDGED_MM = 10.0

_MARGIN, _WASTE, _GAP, _END = 15.0, 7.5, 9.0, 6.0
_TOP = 58.0
_USUAL_LINES, _LINE_MM = 4, 4.6  # of a heading
_TICK_PART = {1: 0.30, 5: 0.42, 10: 0.52}
_TICK_THICKNESS = {1: 0.18, 5: 0.28, 10: 0.38}
_POINT = 0.3528  # mm
_ON_LINE_MM = 1e-3  # a first line so near home is home's
_WASTE_POINTS = 5.6
_LETTER_MM = 0.42  # width of an average letter, in parts of the type size


@dataclass(frozen=True)
class Box:
    """A filled rectangle [mm]; y grows downwards."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class CutLine:
    """A dashed cut line [mm]."""

    x1: float
    y1: float
    x2: float
    y2: float


@dataclass(frozen=True)
class Text:
    """A text with its baseline at (x, y) [mm]; size in points; turned is read from below."""

    x: float
    y: float
    words: str
    points: float
    anchor: str = "start"
    turned: bool = False
    bold: bool = False

    @property
    def size_mm(self) -> float:
        return self.points * _POINT


@dataclass
class Page:
    """The pieces of one page."""

    boxes: list[Box] = field(default_factory=list)
    cuts: list[CutLine] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)


@dataclass(frozen=True)
class SheetStyle:
    """How the tape is to be printed.

    width_mm of the strip; ticks start at the left or right edge; farther distances run down (the
    pointer passes the tape) or up (the tape passes the pointer); measured_bar_mm is what the check
    bar of an earlier print measured, 100 when the printer is true; other_edge names what a second edge
    carries, empty for one edge.
    """

    width_mm: float = 9.0
    ticks_at: str = "right"
    farther_runs: str = "down"
    copies: int = 1
    paper: str = "A4"
    measured_bar_mm: float = CHECK_BAR_MM
    other_edge: str = ""

    @property
    def correction(self) -> float:
        """Factor on every length."""
        return CHECK_BAR_MM / self.measured_bar_mm


@dataclass(frozen=True)
class PrintedSheet:
    """Pages and paper size [mm]."""

    pages: tuple[Page, ...]
    paper_mm: tuple[float, float]


def _shortened(words: str, points: float, room_mm: float) -> str:
    """Words that fit into the room, an ellipsis where they had to be shortened."""
    letters = max(int(room_mm / (_LETTER_MM * points * _POINT)), 2)
    return words if len(words) <= letters else f"{words[: letters - 1]}…"


@dataclass(frozen=True)
class PrintedStrip:
    """A strip: its name, the tape at the ticks' edge first, then that of the other edge if there is one; the number of
    its home line, where home falls between two lines."""

    name: str
    edges: tuple[TapeLayout, ...]
    home: str = ""


def compose(
    chosen: Sequence[PrintedStrip], style: SheetStyle, heading: Sequence[str], waste: Sequence[str]
) -> PrintedSheet:
    """Lay out `copies` of the strips, flowing over as many pages as needed.

    Args: chosen: the strips, nearest first; heading: name of the rig and lines about the tape; waste: the rig's
        name, then the lines by which the tape can be printed again, for the waste edge of each strip.
    Raises: InvalidValue when a strip is longer than the page, or the style is out of range.
    """
    _check(style)
    paper = PAPERS_MM[style.paper]
    scale = style.correction
    cell_width = (style.width_mm + _WASTE) * scale + _GAP
    height = (max(last - first for first, last in map(_frame, chosen)) + 2 * _END) * scale
    cell_height = height + _GAP
    columns = int((paper[0] - 2 * _MARGIN + _GAP) // cell_width)
    top = _TOP + _below_heading(heading)
    rows = int((paper[1] - top - _MARGIN + _GAP) // cell_height)
    if rows < 1:
        raise InvalidValue("to_m", f"makes a tape of {height:.0f} mm, longer than {style.paper}: print a shorter span")
    cells = list(product(range(rows), range(columns)))
    pages: list[Page] = []
    for index, strip in enumerate(strip for _ in range(style.copies) for strip in chosen):
        row, column = cells[index % len(cells)]
        if index % len(cells) == 0:
            pages.append(headed(style, heading))
        corner = (_MARGIN + column * cell_width, top + row * cell_height)
        _Strip(pages[-1], style, corner).draw(strip, waste)
    return PrintedSheet(tuple(pages), paper)


def _frame(strip: PrintedStrip) -> tuple[float, float]:
    """First and last place of all edges [mm from home], its home line among them."""
    places = [place for edge in strip.edges for place in (edge.first_mm, edge.last_mm)]
    return min([*places, 0.0] if strip.home else places), max(places)


def _check(style: SheetStyle) -> None:
    if style.paper not in PAPERS_MM:
        raise InvalidValue("paper", f"must be one of {', '.join(PAPERS_MM)}")
    if style.ticks_at not in ("left", "right"):
        raise InvalidValue("ticks_at", "must be left or right")
    if style.other_edge and style.width_mm < LEAST_TWO_EDGED_MM:
        raise InvalidValue("width_mm", f"must be at least {LEAST_TWO_EDGED_MM:g} mm for two edges")
    if style.farther_runs not in ("down", "up"):
        raise InvalidValue("farther_runs", "must be down or up")
    WIDTH_MM.check("width_mm", style.width_mm, "mm")
    MEASURED_BAR_MM.check("measured_bar_mm", style.measured_bar_mm, "mm")
    COPIES.check("copies", style.copies, "")


@dataclass(frozen=True)
class PrintedTape:
    """A tape as it was printed: everything that lays the same sheet out again; what its home line is right for [m as
    ranged], and what the sight's scale read there [mm], None where nobody read a scale, or on old sheets."""

    strips: tuple[PrintedStrip, ...]
    style: SheetStyle
    heading: tuple[str, ...]
    waste: tuple[str, ...]
    home_m: float | None = None
    home_mark_mm: float | None = None

    def sheet(self, measured_bar_mm: float | None = None) -> PrintedSheet:
        """The sheet as it was, or corrected for another printer."""
        bar = self.style.measured_bar_mm if measured_bar_mm is None else measured_bar_mm
        return compose(self.strips, replace(self.style, measured_bar_mm=bar), self.heading, self.waste)


def _below_heading(heading: Sequence[str]) -> float:
    """How much lower than usual everything stands under a heading of more than four lines [mm]."""
    return _LINE_MM * max(len(heading) - _USUAL_LINES, 0)


def headed(style: SheetStyle, heading: Sequence[str]) -> Page:
    """A page with its heading and the check bar."""
    page, scale = Page(), style.correction
    room = PAPERS_MM[style.paper][0] - 2 * _MARGIN
    page.texts.append(Text(_MARGIN, 20.0, _shortened(heading[0], 15.0, room), 15.0, bold=True))
    for row, line in enumerate(heading[1:]):
        page.texts.append(Text(_MARGIN, 25.5 + _LINE_MM * row, _shortened(line, 9.0, room), 9.0))
    length, y = CHECK_BAR_MM * scale, 41.0 + _below_heading(heading)
    page.boxes.append(Box(_MARGIN, y, length, 0.8))
    for part in range(11):
        tall = 4.0 if part % 10 == 0 else 2.6 if part == 5 else 1.6
        middle = _MARGIN + length * part / 10.0
        left = min(max(middle - 0.125, _MARGIN), _MARGIN + length - 0.25)
        page.boxes.append(Box(left, y - tall, 0.25, tall))
    note = "Check bar: 100 mm. Print at 100 %, never “fit to page”, then measure this bar."
    page.texts.append(Text(_MARGIN, y + 5.0, note, 8.0))
    if style.measured_bar_mm != CHECK_BAR_MM:
        corrected = f"Corrected for a printer whose bar measured {style.measured_bar_mm:g} mm."
        page.texts.append(Text(_MARGIN, y + 9.0, corrected, 8.0))
    return page


@dataclass
class _Strip:
    """One strip with its waste edge, drawn from `corner` [mm]."""

    page: Page
    style: SheetStyle
    corner: tuple[float, float]

    @property
    def left(self) -> float:
        """Left edge of the strip: the waste edge lies at the blank side, away from the ticks."""
        return _WASTE if self.style.ticks_at == "right" else 0.0

    def draw(self, strip: PrintedStrip, waste: Sequence[str]) -> None:
        width, frame, edges = self.style.width_mm, _frame(strip), strip.edges
        length = frame[1] - frame[0] + 2 * _END
        blank = 0.0 if self.style.ticks_at == "right" else width
        for x in (0.0, width):
            self._cut(self.left + x, 0.0, self.left + x, length)
        for y in (0.0, length):
            self._cut(self.left, y, self.left + width, y)
        at_right = self.style.ticks_at == "right"
        for number, edge in enumerate(edges):
            for tick in edge.ticks:
                self._tick(tick, self._place(frame, tick.position_mm), at_right == (number == 0), len(edges) > 1)
        if frame[0] - _ON_LINE_MM <= 0.0 <= frame[1] + _ON_LINE_MM:
            self._home(self._place(frame, 0.0), len(edges) > 1, strip.home)
        self._waste_text(self.left + blank, length, strip.name, waste)

    def _place(self, frame: tuple[float, float], position_mm: float) -> float:
        if self.style.farther_runs == "down":
            return _END + position_mm - frame[0]
        return _END + frame[1] - position_mm

    def _tick(self, tick: Tick, y: float, right: bool, shared: bool) -> None:
        width = self.style.width_mm
        part = 0.5 if shared or tick.beyond else 1.0
        length, thick = _TICK_PART[tick.rank] * width * part, _TICK_THICKNESS[tick.rank]
        x = self.left + (width - length if right else 0.0)
        self._box(x, y - thick / 2.0, length, thick)
        if tick.label:
            points = 7.0 if width >= (14.0 if shared else 7.0) else 5.5
            edge = x - 0.5 if right else x + length + 0.5
            drop = 0.36 * points * _POINT
            anchor = "end" if right else "start"
            words = f"({tick.label})" if tick.beyond else tick.label
            self._text(edge, y + drop, words, points, anchor, bold=not tick.beyond)

    def _home(self, y: float, shared: bool, number: str) -> None:
        """A short bar at the blank edge, or in the middle of two: the home line, to lay the strip on by; from edge to
        edge, with its number, where home falls between two lines."""
        length = 0.14 * self.style.width_mm
        if number:
            self._box(self.left, y - 0.1, self.style.width_mm, 0.2)
            self._text(self.left + self.style.width_mm / 2.0, y - 0.6, f"home {number}", 4.6, "middle")
        x = self.left if self.style.ticks_at == "right" else self.left + self.style.width_mm - length
        if shared:
            x = self.left + 0.5 * (self.style.width_mm - length)
        self._box(x, y - 0.2, length, 0.4)

    def _waste_text(self, edge: float, length: float, name: str, waste: Sequence[str]) -> None:
        """The rig's name, shortened if it must be, and below it, in type small enough for the strip,
        the whole of what is needed to print the tape again."""
        points = min(7.0, (self.style.width_mm + _WASTE + _GAP - 1.5) / (len(name) * _LETTER_MM * _POINT))
        self._text(self.left + self.style.width_mm / 2.0, -1.6, name, points, "middle", bold=True)
        x = edge + 2.2 - (_WASTE if self.style.ticks_at == "right" else 0.0)
        lines = [_shortened(waste[0], _WASTE_POINTS, length), f"{name} · {waste[1]}", *waste[2:]]
        for row, line in enumerate(lines):
            fitting = length / (len(line) * _LETTER_MM * _POINT)
            self._text(x + 2.3 * row, length, line, min(_WASTE_POINTS, fitting), turned=True)

    def _at(self, x: float, y: float) -> tuple[float, float]:
        scale = self.style.correction
        return self.corner[0] + scale * x, self.corner[1] + scale * y

    def _box(self, x: float, y: float, width: float, height: float) -> None:
        scale = self.style.correction
        self.page.boxes.append(Box(*self._at(x, y), scale * width, scale * height))

    def _cut(self, x1: float, y1: float, x2: float, y2: float) -> None:
        self.page.cuts.append(CutLine(*self._at(x1, y1), *self._at(x2, y2)))

    def _text(
        self,
        x: float,
        y: float,
        words: str,
        points: float,
        anchor: str = "start",
        turned: bool = False,
        bold: bool = False,
    ) -> None:
        self.page.texts.append(Text(*self._at(x, y), words, points, anchor, turned, bold))
