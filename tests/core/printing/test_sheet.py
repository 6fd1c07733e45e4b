"""Sheets that were printed and measured once, kept line for line: they change only where somebody means it.

Where they are kept anew (tests/kept.py), print one and measure it.
"""

from __future__ import annotations

import unittest
from dataclasses import astuple
from pathlib import Path

from cross_staff.core.errors import InvalidValue
from cross_staff.core.printing.pin_template import TemplateLine, pin_template
from cross_staff.core.printing.sheet import PrintedSheet, PrintedStrip, SheetStyle, compose
from tests.core.tape.test_scale import YARD_M, tape
from tests.kept import WithKept

KEPT = Path(__file__).parent / "sheets.json"
HEADING = ["Ledge bow, with a name that is far too long for one line of a small sheet " * 2, "Maren Oake", "revision 3"]
WASTE = ["Ledge bow of the Quarry Bench, with a long name that is cut", "rev 3", "3 marks", "fit 0.21"]
SCALES = (("× 0.99", 0.99), ("fitted", 1.0), ("× 1.01", 1.01))
SHORT = tuple(PrintedStrip(name, (tape(17.0, 30.0, scale=s),)) for name, s in SCALES)
BOTH = tuple(PrintedStrip(name, (tape(17.0, 30.0, scale=s), tape(18.0, 30.0, YARD_M, scale=s))) for name, s in SCALES)
LINES = (
    TemplateLine("low pin, 61 m", 25.1, None, 0.3),
    TemplateLine("top pin, 17 m", 0.5, 0.48),
    TemplateLine("pin 2, 26 m", 2.1, 0.48, 0.1),
)


def sheets() -> dict[str, PrintedSheet]:
    """One of every way to print."""
    return {
        "one edge, right, down": compose(SHORT, SheetStyle(), HEADING, WASTE),
        "one edge, left, up, corrected": compose(
            SHORT, SheetStyle(6.5, "left", "up", measured_bar_mm=98.0), HEADING, WASTE
        ),
        "two edges, eight copies": compose(BOTH, SheetStyle(14.0, copies=8, other_edge="in yd"), HEADING, WASTE),
        "two edges, narrow, left": compose(BOTH, SheetStyle(11.0, "left", other_edge="in yd"), HEADING, WASTE),
        "pins": pin_template(LINES, SheetStyle(), HEADING),
        "pins, corrected": pin_template(LINES, SheetStyle(measured_bar_mm=102.0), HEADING),
    }


def told(sheet: PrintedSheet) -> list[dict[str, list[str]]]:
    """Every line, bar and word of each page, places and sizes to a thousandth of a millimetre."""

    def line(thing: object) -> str:
        return " ".join(f"{v:.3f}" if isinstance(v, float) else str(v) for v in astuple(thing))  # type: ignore[call-overload]

    return [{name: [line(each) for each in getattr(page, name)] for name in ("boxes", "cuts", "texts")}
            for page in sheet.pages]  # fmt: skip


class Kept(WithKept):
    def test_they_are_as_they_were(self) -> None:
        self.assert_kept(KEPT, {name: told(sheet) for name, sheet in sheets().items()})


class Room(unittest.TestCase):
    def test_strips_stay_within_the_margins_and_fill_the_page(self) -> None:
        """As many beside one another as have room between 15 mm on either side: another would not."""
        for width in (4.0, 6.0, 9.0, 12.0, 17.0, 25.0):
            page = compose(SHORT, SheetStyle(width, copies=9), HEADING, WASTE).pages[0]
            edges = sorted({round(cut.x1, 6) for cut in page.cuts if cut.x1 == cut.x2})
            self.assertLessEqual(edges[-1], 210.0 - 15.0 + 1e-6, width)
            apart = edges[2] - edges[0]
            self.assertGreater(edges[-1] + apart, 210.0 - 15.0, width)

    def test_home_has_its_line_where_it_is_on_the_strip(self) -> None:
        """A short bar of 0.4 mm, with numeric noise about home too; none where the tape begins beyond."""
        for first, lines in ((17.0, 3), (12.0, 3), (18.0, 0)):
            tapes = [PrintedStrip(name, (tape(first, 30.0, scale=s),)) for name, s in SCALES]
            boxes = compose(tapes, SheetStyle(), HEADING, WASTE).pages[0].boxes
            self.assertEqual(sum(abs(box.height - 0.4) < 1e-9 for box in boxes), lines, first)

    def test_a_stack_that_just_fits_the_page_and_one_that_does_not(self) -> None:
        """297 mm of A4, less 62 above and 15 below, less 8 beyond each end: 204 mm."""
        pin_template([TemplateLine("top", 0.0), TemplateLine("low", 203.9)], SheetStyle(), HEADING)
        with self.assertRaisesRegex(InvalidValue, "longer than A4"):
            pin_template([TemplateLine("top", 0.0), TemplateLine("low", 204.1)], SheetStyle(), HEADING)
        with self.assertRaisesRegex(InvalidValue, "longer than A4"):
            pin_template(
                [TemplateLine("top", 0.0), TemplateLine("low", 203.9)], SheetStyle(measured_bar_mm=98.0), HEADING
            )

    def test_nothing_leaves_the_paper(self) -> None:
        for name, sheet in sheets().items():
            wide, high = sheet.paper_mm
            for page in sheet.pages:
                with self.subTest(name):
                    self.assertTrue(all(b.width > 0.0 and b.height > 0.0 for b in page.boxes))
                    self.assertTrue(
                        all(b.x >= 0.0 and b.x + b.width <= wide and b.y + b.height <= high for b in page.boxes)
                    )
                    self.assertTrue(all(0.0 <= t.x <= wide and 0.0 <= t.y <= high for t in page.texts))
