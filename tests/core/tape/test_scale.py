import unittest
from collections.abc import Sequence

from cross_staff.core.ballistics.sightline import marks, turnover_distance
from cross_staff.core.errors import InvalidValue
from cross_staff.core.printing.sheet import PrintedSheet, PrintedStrip, SheetStyle, compose
from cross_staff.core.tape.scale import LEAST_TICK_GAP_MM, TapeLayout, layout, whole_units
from tests.rigs import RIG_A

YARD_M = 0.9144


def tape(
    from_m: float = 17.0, to_m: float = 95.0, unit_m: float = 1.0, scale: float = 1.0, home_m: float = 17.0
) -> TapeLayout:
    def positions(distances: Sequence[float]) -> list[float | None]:
        return [None if m is None else m.mark_mm for m in marks(RIG_A, home_m, distances)]

    def longer(distances: Sequence[float]) -> list[float]:
        return [(scale - 1.0) * (place or 0.0) for place in positions(distances)]

    return layout(from_m, to_m, unit_m, turnover_distance(RIG_A), positions, longer)


def strips(*, home: str = "", **of: float) -> tuple[PrintedStrip, ...]:
    """The fitted tape between two that differ from it by a hundredth."""
    named = (("if 80 comes in high", 0.99), ("fitted", 1.0), ("if 80 comes in low", 1.01))
    return tuple(PrintedStrip(name, (tape(**of, scale=scale),), home) for name, scale in named)


class Ticks(unittest.TestCase):
    def test_one_for_each_metre_stronger_at_five_numbered_at_ten(self) -> None:
        ranks = {tick.count: tick.rank for tick in tape().ticks}
        self.assertEqual((ranks[40], ranks[45], ranks[47]), (10, 5, 1))
        labels = {tick.label for tick in tape().ticks if tick.label}
        self.assertLessEqual({"20", "30", "40", "50", "60", "70", "80", "90"}, labels)
        self.assertEqual([t.count for t in tape(40).ticks], list(range(40, 96)))

    def test_places_are_the_marks(self) -> None:
        place = {tick.count: tick.position_mm for tick in tape(home_m=20.0).ticks}
        self.assertAlmostEqual(place[20], 0.0, places=3)
        self.assertAlmostEqual(place[50], 17.2548, delta=2e-4)

    def test_yards_fall_where_yards_are(self) -> None:
        place = {t.count: t.position_mm for t in tape(17.0, 95.0, YARD_M, home_m=20.0).ticks}
        wanted = marks(RIG_A, 20.0, [60 * YARD_M])[0].mark_mm
        self.assertAlmostEqual(place[60], wanted, delta=5e-5)

    def test_never_below_the_turnover(self) -> None:
        self.assertEqual(whole_units(2.0, 15.0, 1.0, turnover_distance(RIG_A)), [11, 12, 13, 14, 15])
        self.assertEqual(tape(3.0).ticks[0].count, 11)

    def test_crowded_single_ticks_are_left_out(self) -> None:
        kept = tape(11.0).ticks
        for one, other in zip(kept, kept[1:]):
            if one.rank == other.rank == 1:
                self.assertGreaterEqual(other.position_mm - one.position_mm, LEAST_TICK_GAP_MM)

    def test_scaled_about_home(self) -> None:
        plain, wide = ({t.count: t.position_mm for t in tape(scale=s).ticks} for s in (1.0, 1.01))
        self.assertEqual(plain.keys(), wide.keys())
        for count in plain:
            self.assertAlmostEqual(wide[count], 1.01 * plain[count], places=9)

    def test_first_and_last_are_numbered_where_there_is_room(self) -> None:
        self.assertEqual([tick.label for tick in (tape().ticks[0], tape().ticks[-1])], [None, "95"])
        self.assertEqual([tick.label for tick in (tape(13.0).ticks[0], tape(13.0, 91.0).ticks[-1])], [None, None])
        self.assertEqual(tape(45.0, 56.0).ticks[0].label, "45")

    def test_a_single_tick_within_reach_is_no_tape(self) -> None:
        def positions(distances: Sequence[float]) -> list[float | None]:
            return [0.5 * d if d <= 40.0 else None for d in distances]

        with self.assertRaisesRegex(InvalidValue, "at least two ticks"):
            layout(40.0, 60.0, 1.0, 10.0, positions)
        self.assertEqual([tick.count for tick in layout(39.0, 60.0, 1.0, 10.0, positions).ticks], [39, 40])

    def test_too_short_a_span_is_refused(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "at least two ticks"):
            tape(40.2, 40.8)
        with self.assertRaisesRegex(InvalidValue, "at least two ticks"):
            tape(3.0, 9.0)


class Sheets(unittest.TestCase):
    def sheet(self, to_m: float = 95.0, name: str = "Ledge bow", **style: object) -> PrintedSheet:
        heading = [name, "Maren Oake", "revision 3"]
        return compose(
            strips(to_m=to_m), SheetStyle(**style), heading, [name, "rev 3 · 2026-11-24", "3 marks, good to 95 m"]
        )  # type: ignore[arg-type]

    def test_the_check_bar_is_100_mm(self) -> None:
        bar = max(self.sheet().pages[0].boxes, key=lambda box: box.width)
        self.assertAlmostEqual(bar.width, 100.0)

    def test_a_measured_bar_corrects_every_length(self) -> None:
        plain, mended = self.sheet().pages[0], self.sheet(measured_bar_mm=98.0).pages[0]
        self.assertAlmostEqual(max(b.width for b in mended.boxes), 100.0 / 0.98)
        ticks = [[b for b in page.boxes if b.y > 50] for page in (plain, mended)]
        spans = [max(b.y for b in boxes) - min(b.y for b in boxes) for boxes in ticks]
        self.assertAlmostEqual(spans[1] / spans[0], 1.0 / 0.98, places=4)

    def test_three_strips_a_copy_each_with_its_waste_edge(self) -> None:
        words = [text.words for page in self.sheet(copies=2).pages for text in page.texts]
        for name in ("if 80 comes in high", "fitted", "if 80 comes in low"):
            self.assertEqual(words.count(name), 2)
            self.assertIn(f"{name} · rev 3 · 2026-11-24", words)

    def test_more_copies_take_more_pages(self) -> None:
        self.assertEqual(len(self.sheet().pages), 1)
        self.assertGreater(len(self.sheet(copies=12).pages), 1)

    def test_everything_stays_on_the_paper(self) -> None:
        for style in (
            {},
            {"ticks_at": "left", "width_mm": 25.0},
            {"paper": "Letter", "copies": 5},
            {"farther_runs": "up"},
        ):
            sheet = self.sheet(**style)
            for page in sheet.pages:
                for box in page.boxes:
                    self.assertTrue(box.x > 0 and box.x + box.width < sheet.paper_mm[0])
                    self.assertTrue(box.y > 0 and box.y + box.height < sheet.paper_mm[1])

    def test_a_short_tape_keeps_its_revision_date_and_fit_on_the_waste_edge(self) -> None:
        sheet = self.sheet(to_m=26.0, name="A bow with a name as long as anybody would care to type it, " * 3)
        turned = [text for text in sheet.pages[0].texts if text.turned]
        length = max(cut.y2 for cut in sheet.pages[0].cuts) - min(cut.y1 for cut in sheet.pages[0].cuts)
        for words in ("fitted · rev 3 · 2026-11-24", "3 marks, good to 95 m"):
            self.assertIn(words, [text.words for text in turned])
        for text in turned:
            self.assertLessEqual(len(text.words) * 0.42 * text.size_mm, length + 0.01)
        self.assertTrue(any(text.words.endswith("…") for text in turned))
        title = sheet.pages[0].texts[0]
        self.assertLess(len(title.words) * 0.42 * title.size_mm, 180.0)

    def test_ticks_start_at_the_edge_asked_for(self) -> None:
        for side in ("left", "right"):
            page = self.sheet(ticks_at=side).pages[0]
            cuts = [cut.x1 for cut in page.cuts if cut.x1 == cut.x2][:2]
            edge = min(cuts) if side == "left" else max(cuts)
            ticks = [b for b in page.boxes if b.y > 50 and b.x < max(cuts) and 2.0 < b.width < 9.0]
            self.assertTrue(all(min(abs(b.x - edge), abs(b.x + b.width - edge)) < 1e-6 for b in ticks))
            self.assertGreater(len(ticks), 10)

    def test_farther_runs_up_when_the_tape_passes_the_pointer(self) -> None:
        down, up = (self._place("90", self.sheet(farther_runs=way)) for way in ("down", "up"))
        self.assertGreater(down, self._place("20", self.sheet()))
        self.assertLess(up, self._place("20", self.sheet(farther_runs="up")))

    def test_what_cannot_be_printed_is_said(self) -> None:
        long = (PrintedStrip("fitted", (tape(scale=7.0),)),)
        with self.assertRaisesRegex(InvalidValue, "longer than A4"):
            compose(long, SheetStyle(), ["x"], ["y"])
        for style, words in (
            ({"paper": "A3"}, "A4, Letter"),
            ({"width_mm": 90.0}, "width_mm"),
            ({"measured_bar_mm": 50.0}, "measured_bar_mm"),
            ({"ticks_at": "top"}, "left or right"),
            ({"farther_runs": "x"}, "down or up"),
            ({"copies": 0}, "copies"),
        ):
            with self.assertRaisesRegex(InvalidValue, words):
                self.sheet(**style)

    def _place(self, label: str, sheet: PrintedSheet) -> float:
        return next(text.y for text in sheet.pages[0].texts if text.words == label)
