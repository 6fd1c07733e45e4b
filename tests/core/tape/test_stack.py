import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.sight import Housing, TapeSeat
from cross_staff.core.tape.stack import gap_sds_mm, stack
from cross_staff.core.tape.station import evaluate
from tests.rigs import entry, full_card, true_mark

PINS_M = (17.0, 38.0, 61.0)


def rig(ratio: float = 1.0, room_mm: float | None = 22.0):  # type: ignore[no-untyped-def]
    """A card and its fit: the same flight on a tape that runs so many times as far as the housing."""
    card = full_card(tape=TapeSeat(ratio=ratio))
    card = replace(card, sight=replace(card.sight, housing=Housing(44.0, 52.0, 24.0, room_mm)))
    marks = [entry(n, d, 20.0 + ratio * (true_mark(d) - 20.0)) for n, d in enumerate((17.0, 47.0, 78.0), 1)]
    fit = evaluate(card, marks).fit
    assert fit is not None
    return card, fit


class Stack(unittest.TestCase):
    def test_in_millimetres_of_the_housing_whatever_the_tape_runs(self) -> None:
        for ratio in (1.0, 2.5, 0.4):
            card, fit = rig(ratio)
            heights = [pin_height(fit.figures, d) for d in PINS_M]
            for place, height in zip(stack(card, fit, PINS_M).pins, heights):
                self.assertAlmostEqual(place.below_mm, 1000.0 * (heights[0] - height), places=4, msg=ratio)

    def test_how_sure_a_gap_is_without_the_zero(self) -> None:
        """Against the sd of the difference of two marks, over the ratio; a shift of all marks is none of it."""
        for ratio in (1.0, 2.5):
            card, fit = rig(ratio)
            marks, gradient = fit.sensitivities(list(PINS_M))
            for pin, place in enumerate(stack(card, fit, PINS_M).pins):
                apart = gradient[pin] - gradient[0]
                self.assertAlmostEqual(place.sd_mm, math.sqrt(apart @ fit.covariance @ apart) / ratio)
            self.assertEqual(stack(card, fit, PINS_M).pins[0].sd_mm, 0.0)
            table = gap_sds_mm(card, fit, PINS_M[:2], PINS_M)
            self.assertAlmostEqual(table[1][2], gap_sds_mm(card, fit, PINS_M[2:], PINS_M[1:2])[0][0])
            self.assertEqual((len(table), [len(row) for row in table]), (2, [3, 3]))

    def test_what_fits_and_where_the_top_pin_stands_to_centre_it(self) -> None:
        card, fit = rig(room_mm=22.0)
        made = stack(card, fit, PINS_M)
        self.assertEqual([place.fits for place in made.pins], [True, True, False])
        self.assertEqual(([p.pin for p in made.beyond], made.farthest_that_fits_m), ([2], 38.0))
        self.assertAlmostEqual(made.top_above_middle_mm, made.pins[1].below_mm / 2.0)
        open_below = stack(*rig(room_mm=None), PINS_M)
        self.assertEqual([place.fits for place in open_below.pins], [None] * 3)
        self.assertIsNone(open_below.farthest_that_fits_m)
        self.assertAlmostEqual(open_below.top_above_middle_mm, open_below.pins[2].below_mm / 2.0)

    def test_out_of_reach(self) -> None:
        card, fit = rig()
        far = stack(card, fit, (17.0, 1500.0)).pins[1]
        self.assertEqual((far.below_mm, far.sd_mm, far.fits), (None, None, None))
        self.assertEqual(gap_sds_mm(card, fit, (17.0,), (1500.0,)), [[math.inf]])
        with self.assertRaises(OutOfReach):
            stack(card, fit, (1500.0,))
