import unittest
from dataclasses import replace

from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.pins import Pins
from cross_staff.core.tape.layout import Wanted, tape_layout, tape_rows
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.rigs import entry, full_card, true_mark

CARD = full_card()
PINS = Pins((17.0, 38.0), 1)
TAPE = evaluate(CARD, [entry(n, d, true_mark(d)) for n, d in enumerate((17.0, 47.0, 78.0), 1)], pins=PINS)
SPAN_M = 95.0 - 17.0


class Rows(unittest.TestCase):
    def marks(self, **wanted: object) -> list[float]:
        rows = tape_rows(CARD, TAPE, Wanted(17.0, 95.0, **wanted), [12.0, 17.0, 56.0, 95.0])  # type: ignore[arg-type]
        return [row.mark_mm for row in rows]

    def test_of_the_dialled_pin_unless_another_is_wanted(self) -> None:
        top, low = self.marks(pin=0), self.marks(pin=1)
        self.assertEqual(self.marks(), low)
        apart = [a - b for a, b in zip(top, low)]
        self.assertGreater(min(apart), 5.0)
        self.assertAlmostEqual(max(apart), min(apart), places=6)

    def test_low_on_purpose_nought_at_home_and_in_proportion_beyond(self) -> None:
        """4 cm at 95 m are 2 cm half way, nothing at home, and nothing nearer than that."""
        fit = TAPE.fit
        wanted = [0.0, 0.0, -0.02, -0.04]
        expected = [row.mark_mm for row in fit.tape([12.0, 17.0, 56.0, 95.0], 0, wanted)]
        for mark, told in zip(self.marks(pin=0, low_m=0.04), expected):
            self.assertAlmostEqual(mark, told, places=9)

    def test_a_span_of_a_metre_takes_the_whole_bias(self) -> None:
        row = tape_rows(CARD, TAPE, Wanted(17.0, 18.0, pin=0, low_m=0.04), [18.0])[0]
        self.assertEqual(row.mark_mm, TAPE.fit.tape([18.0], 0, [-0.04])[0].mark_mm)

    def test_a_tape_that_ends_at_home_has_no_span_to_divide_by(self) -> None:
        rows = tape_rows(CARD, TAPE, Wanted(12.0, 17.0, pin=0, low_m=0.04), [12.0, 17.0])
        self.assertEqual([row.mark_mm for row in rows], [row.mark_mm for row in TAPE.fit.tape([12.0, 17.0], 0)])

    def test_from_the_eye_is_nearer_from_the_sight(self) -> None:
        by_eye = replace(CARD, ranged_from="eye")
        row = tape_rows(by_eye, TAPE, Wanted(17.0, 95.0, pin=0), [56.0])[0]
        self.assertEqual(row.distance_m, 56.0 - 0.82)

    def test_without_a_fit_there_is_no_tape(self) -> None:
        for ask in (lambda: tape_rows(CARD, Evaluation(("peep",), ()), Wanted(17.0, 95.0), [20.0]),
                    lambda: tape_layout(CARD, Evaluation(("peep",), ()), Wanted(17.0, 95.0))):  # fmt: skip
            with self.assertRaises(OutOfReach):
                ask()


class Laid(unittest.TestCase):
    def test_positions_are_counted_from_the_home_mark_in_the_unit_that_is_asked(self) -> None:
        for unit in (1.0, 0.9144):
            ticks = tape_layout(CARD, TAPE, Wanted(17.0, 95.0, unit, 0)).ticks
            tick = next(t for t in ticks if t.count == 60)
            mark = TAPE.fit.tape([60.0 * unit], 0)[0].mark_mm
            self.assertAlmostEqual(tick.position_mm, mark - TAPE.home_mark_mm, places=6)
        own = tape_layout(CARD, TAPE, Wanted(17.0, 95.0, None, 0))
        self.assertEqual(own.ticks, tape_layout(CARD, TAPE, Wanted(17.0, 95.0, CARD.tape.unit_m, 0)).ticks)
