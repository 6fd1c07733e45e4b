"""How a distance is shot: pins at home first, then pointers with the number under them."""

from __future__ import annotations

import unittest

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.tape.pointers import pointer_lines
from cross_staff.core.tape.ways import Answer, NoWay, Travel, answers
from tests.core.oracle import height_at
from tests.rigs import RIG_A, RIG_B

HEIGHTS = [pin_height(RIG_A, d) for d in (20.0, 35.0, 50.0)]


def one(wanted_m: float, pointed: tuple[int, ...] = (0,), hold_m: float = 0.12, travel: Travel = Travel()) -> Answer:
    return answers(RIG_A, HEIGHTS, pointed, [wanted_m], hold_m, travel)[0]


class AtHome(unittest.TestCase):
    def test_a_pin_that_holds_it_within_half_the_target_is_the_answer(self) -> None:
        for wanted, pin in ((20.0, 0), (22.0, 0), (34.0, 1), (35.0, 1), (51.0, 2)):
            best = one(wanted).best
            assert best
            self.assertEqual((best.pin, best.at_home, best.travel_mm), (pin, True, 0.0), wanted)
            self.assertAlmostEqual(best.up_m, height_at(RIG_A, HEIGHTS[pin], wanted, 0.0) or 0.0, delta=5e-4)

    def test_between_the_pins_it_is_dialled(self) -> None:
        best = one(29.0, hold_m=0.05).best
        assert best
        self.assertFalse(best.at_home)

    def test_where_everything_is_dialled_nothing_is_held(self) -> None:
        best = one(22.0, hold_m=0.0).best
        assert best
        self.assertFalse(best.at_home)

    def test_nearer_than_home_the_top_pin_holds(self) -> None:
        best = one(12.0).best
        assert best
        self.assertTrue(best.at_home and best.pin == 0 and 0.02 < best.up_m < 0.12)


class Dialled(unittest.TestCase):
    def test_a_pointer_stands_on_the_distance_that_its_own_pin_is_brought_to(self) -> None:
        ways = one(61.0, (0, 1, 2)).ways
        self.assertEqual([way.pin for way in ways], [2, 1, 0])
        for way in ways:
            self.assertAlmostEqual(way.line_m or 0.0, 61.0, delta=1e-3)
            up = height_at(RIG_A, HEIGHTS[way.pin] - way.travel_mm / 1000.0, 61.0, 0.0)
            self.assertAlmostEqual(up or 0.0, 0.0, delta=5e-4)

    def test_a_pin_without_a_pointer_is_never_dialled(self) -> None:
        self.assertEqual([way.pin for way in one(61.0, (0,)).ways], [0])
        self.assertEqual(one(61.0, ()).ways, ())

    def test_nearer_than_the_turnover_the_number_is_the_farther_one_of_the_same_mark(self) -> None:
        best = one(7.0, hold_m=0.0, travel=Travel(3.0)).best
        assert best and best.line_m
        self.assertGreater(best.line_m, 11.0)
        self.assertAlmostEqual(pin_height(RIG_A, best.line_m), pin_height(RIG_A, 7.0), delta=1e-6)

    def test_travel_binds_and_says_by_how_much(self) -> None:
        drop = 1000.0 * (HEIGHTS[0] - pin_height(RIG_A, 80.0))
        short = one(80.0, travel=Travel(0.0, 30.0))
        self.assertEqual((short.ways, short.problem), ((), NoWay.BELOW))
        self.assertAlmostEqual(short.misses_mm, drop - 30.0, places=6)
        self.assertEqual(one(80.0, travel=Travel(0.0, None, {0: 79.0})).problem, NoWay.BELOW)
        above = one(12.0, hold_m=0.0, travel=Travel(1.0, 30.0))
        self.assertEqual(above.problem, NoWay.ABOVE)
        self.assertAlmostEqual(above.misses_mm, 1000.0 * (pin_height(RIG_A, 12.0) - HEIGHTS[0]) - 1.0, places=6)

    def test_what_the_arrow_does_not_reach(self) -> None:
        told = answers(RIG_B, [pin_height(RIG_B, 20.0)], (0,), [399.0], 0.1, Travel())[0]
        self.assertEqual((told.problem, told.best), (NoWay.ARROW, None))
        self.assertEqual(answers(RIG_B, [0.07], (0,), [], 0.1, Travel()), [])


class Pointers(unittest.TestCase):
    def test_each_stands_on_the_line_of_its_pin(self) -> None:
        lines = pointer_lines(RIG_A, HEIGHTS, (0, 2), 0, 1.5, 1.0, 0.0, [0.1, None, 0.2])
        self.assertEqual([each.pin for each in lines], [0, 2])
        self.assertEqual([round(each.line_m or 0.0, 3) for each in lines], [20.0, 50.0])
        self.assertAlmostEqual(lines[1].beyond_mm, 1.5 * 17.2548, delta=3e-4)
        slope = 1000.0 * (pin_height(RIG_A, 49.5) - pin_height(RIG_A, 50.5))
        self.assertAlmostEqual(lines[1].sd_m or 0.0, 0.2 / slope, delta=1e-3)

    def test_the_round_distance_beside_it_and_how_far_its_pin_would_move(self) -> None:
        low = [HEIGHTS[0], pin_height(RIG_A, 35.4)]
        line = pointer_lines(RIG_A, low, (1,), 0, 1.0, 1.0, 0.0, [None, None])[0]
        self.assertEqual((line.round_m, line.sd_m), (35.0, None))
        self.assertAlmostEqual(low[1] + (line.pin_up_mm or 0.0) / 1000.0, pin_height(RIG_A, 35.0), delta=1e-6)

    def test_above_the_turnover_there_is_no_line(self) -> None:
        line = pointer_lines(RIG_A, [HEIGHTS[0] + 0.010], (0,), 0, 1.0, 1.0, 0.0, [None])[0]
        self.assertIsNone(line.line_m)
        self.assertEqual(pointer_lines(RIG_A, [], (0,), 0, 1.0, 1.0, 0.0, []), ())
