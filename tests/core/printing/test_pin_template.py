"""The pin template, tapes with two edges, crowded ticks, seats on the rail, and a tape printed again."""

from __future__ import annotations

import unittest

from cross_staff.core.errors import InvalidValue
from cross_staff.core.printing.pin_template import TemplateLine, pin_template
from cross_staff.core.printing.sheet import PrintedStrip, PrintedTape, SheetStyle, compose
from cross_staff.core.tape.scale import LEAST_TICK_GAP_MM, layout, seats
from tests.core.tape.test_scale import YARD_M, strips, tape

HEADING = ["Ledge bow", "Maren Oake", "revision 3"]
WASTE = ["Ledge bow", "rev 3", "3 marks"]


class Template(unittest.TestCase):
    lines = (
        TemplateLine("top pin, 17 m", 0.0, 0.48),
        TemplateLine("pin 2, 26 m", 1.6, 0.48, 0.1),
        TemplateLine("low pin, 61 m", 24.6, None, 0.3),
    )

    def test_lines_stand_as_far_apart_as_the_pins(self) -> None:
        for bar in (100.0, 98.0):
            page = pin_template(self.lines, SheetStyle(measured_bar_mm=bar), HEADING).pages[0]
            lines = [box for box in page.boxes if abs(box.width - 12.0 * 100.0 / bar) < 1e-6]
            middles = [(box.y + box.height / 2.0) * bar / 100.0 for box in lines]
            self.assertEqual([round(m - middles[0], 3) for m in middles], [0.0, 1.6, 24.6])
            self.assertAlmostEqual(max(box.width for box in page.boxes), 100.0 * 100.0 / bar)

    def test_words_are_moved_apart_and_say_how_sure(self) -> None:
        texts = pin_template(self.lines, SheetStyle(), HEADING).pages[0].texts
        places = [t.y for t in texts if t.words.startswith(("top pin", "pin 2", "low pin"))]
        self.assertGreater(places[1] - places[0], 3.0)
        self.assertIn("1.6 ± 0.2 mm", [t.words for t in texts])

    def test_what_has_no_template_is_said(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "two pins"):
            pin_template(self.lines[:1], SheetStyle(), HEADING)
        with self.assertRaisesRegex(InvalidValue, "longer than A4"):
            pin_template([*self.lines, TemplateLine("moon", 400.0)], SheetStyle(), HEADING)


class Edges(unittest.TestCase):
    def both(self, **style: object) -> PrintedTape:
        edges = (tape(), tape(18.0, 95.0, YARD_M))
        strips = tuple(PrintedStrip(name, edges) for name in ("nearer", "fitted", "farther"))
        return PrintedTape(strips, SheetStyle(**style), tuple(HEADING), tuple(WASTE))  # type: ignore[arg-type]

    def test_two_edges_share_one_strip(self) -> None:
        page = self.both(width_mm=12.0, other_edge="in yd").sheet().pages[0]
        cuts = sorted({cut.x1 for cut in page.cuts if cut.x1 == cut.x2})[:2]
        ticks = [box for box in page.boxes if box.y > 55 and box.x < cuts[1] and 1.0 < box.width < 9.0]
        left = [box for box in ticks if abs(box.x - cuts[0]) < 1e-6]
        right = [box for box in ticks if abs(box.x + box.width - cuts[1]) < 1e-6]
        self.assertGreater(len(left), 20)
        self.assertGreater(len(right), 20)

    def test_the_same_distance_lies_at_the_same_height_on_both(self) -> None:
        metres, yards = ({t.count: t.position_mm for t in edge.ticks} for edge in self.both().strips[1].edges)
        near = min(yards, key=lambda yd: abs(yd * YARD_M - 64.0))
        slope = (metres[65] - metres[63]) / 2.0
        self.assertAlmostEqual(yards[near], metres[64] + slope * (near * YARD_M - 64.0), delta=0.01)

    def test_a_narrow_tape_has_no_room_for_two(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "two edges"):
            self.both(width_mm=8.0, other_edge="in yd").sheet()

    def test_a_tape_that_begins_beyond_home_has_no_home_line_on_it(self) -> None:
        beyond = strips(from_m=38.0)
        page = compose(beyond, SheetStyle(), HEADING, WASTE).pages[0]
        strip = [cut for cut in page.cuts if cut.y1 == cut.y2]
        self.assertTrue(all(box.y >= min(c.y1 for c in strip) for box in page.boxes if box.y > 55))
        self.assertFalse([box for box in page.boxes if abs(box.height - 0.4) < 1e-9])

    def test_printed_again_it_is_the_same_sheet(self) -> None:
        kept = self.both(width_mm=12.0, other_edge="in yd")
        self.assertEqual(kept.sheet(), kept.sheet())
        self.assertAlmostEqual(kept.sheet(98.0).pages[0].boxes[0].width, 100.0 / 0.98)


class Crowded(unittest.TestCase):
    def test_fives_give_way_too_where_they_crowd(self) -> None:
        def positions(distances):  # type: ignore[no-untyped-def]
            return [0.02 * d + 0.0004 * d * d for d in distances]

        kept = layout(17.0, 95.0, 1.0, 10.0, positions).ticks
        gaps = [b.position_mm - a.position_mm for a, b in zip(kept, kept[1:])]
        self.assertGreaterEqual(min(gaps[1:]), min(LEAST_TICK_GAP_MM, 0.3))
        self.assertNotIn(25, [tick.count for tick in kept])
        self.assertIn(20, [tick.count for tick in kept])


class Seats(unittest.TestCase):
    def test_the_seat_that_takes_the_whole_tape_comes_first(self) -> None:
        first = seats((-5.0, 10.0, 0.0), 50.0, 0.0, 47.7)
        self.assertEqual([seat.begins_mm for seat in first], [0.0, -5.0, 10.0])
        self.assertEqual([round(seat.missing_mm, 2) for seat in first], [0.0, 2.7, 10.0])
        self.assertEqual([seat.to_mm for seat in first], [50.0, 45.0, 60.0])
        self.assertEqual([seat.missing_near_mm for seat in first], [0.0, 0.0, 10.0])
        self.assertEqual(seats((), 50.0, 0.0, 40.0), ())
