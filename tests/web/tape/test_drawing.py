"""The tape as it is drawn."""

import unittest

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import TapeSeat
from cross_staff.core.tape.station import evaluate
from cross_staff.services.tape.page import whole_tape
from cross_staff.web.forms.units import Units
from cross_staff.web.tape.drawing import PIXELS_PER_MM, PLOT_LEFT, PLOT_RIGHT, tape_drawing
from tests.rigs import entry, full_card, true_mark

UNITS = Units(speed="mps")


def drawn(card: RigCard | None = None, **wrong: float):  # type: ignore[no-untyped-def]
    card = card or full_card()
    rows = [entry(n, d, true_mark(d) + wrong.get(f"at{d}", 0.0), arrows=6) for n, d in enumerate((17, 38, 61), 1)]
    evaluation = evaluate(card, rows)
    return tape_drawing(card, evaluation, UNITS, whole_tape(card, evaluation))


class TapeDrawn(unittest.TestCase):
    def test_it_is_to_scale(self) -> None:
        scale = drawn()
        place = {tick.label: tick.y for tick in scale.ticks if tick.label}
        fit = evaluate(full_card(), [entry(1, 17, 20.0), entry(2, 38, true_mark(38)), entry(3, 61, true_mark(61))]).fit
        rows = {row.distance_m: row.mark_mm for row in fit.tape([30.0, 90.0])}
        pixels = float(scale.enlargement) * PIXELS_PER_MM * (rows[90.0] - rows[30.0])
        self.assertAlmostEqual(place["90"] - place["30"], pixels, delta=0.5)

    def test_a_mark_too_far_down_stands_low_of_the_middle(self) -> None:
        middle = drawn(at38=1.0)
        dot = next(dot for dot in middle.dots if dot.number == 2)
        self.assertLess(dot.x, middle.middle)
        self.assertTrue(dot.low < dot.x < dot.high)
        self.assertFalse(dot.clipped)

    def test_everything_stays_inside_the_plot(self) -> None:
        plot = drawn(at61=12.0)
        xs = [float(point.split(",")[0]) for point in plot.band.split()]
        self.assertTrue(all(PLOT_LEFT <= x <= PLOT_RIGHT for x in xs))
        self.assertTrue(all(PLOT_LEFT <= dot.x <= PLOT_RIGHT for dot in plot.dots))

    def test_ticks_start_at_the_edge_of_the_card(self) -> None:
        for side, anchor in (("left", "start"), ("right", "end")):
            card = drawn(full_card(tape=TapeSeat(ticks_at=side)))
            self.assertEqual({tick.anchor for tick in card.ticks}, {anchor})
            self.assertEqual(len({tick.x2 for tick in card.ticks}), 1)

    def test_nothing_to_draw(self) -> None:
        card = RigCard("bare")
        self.assertIsNone(whole_tape(card, evaluate(card, [])))
        self.assertIsNone(tape_drawing(card, evaluate(card, []), UNITS, None))


if __name__ == "__main__":
    unittest.main()
