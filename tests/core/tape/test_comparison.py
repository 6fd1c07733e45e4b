"""Fits beside one another, several pins in one flight, laying on, days, the air of a trip."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import timedelta

from cross_staff.core.ballistics.air import standard_pressure
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.tape.comparison import ALL, SPEED, TWO, Weather, carried, compared, days, layings, trip
from cross_staff.core.tape.forecast import PlannedGroup, after, next_shot
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solve
from cross_staff.core.tape.station import evaluate, pin_now
from tests.core.oracle import height_at
from tests.rigs import NOON, RIG_A, entry, full_card, true_mark

PRIORS = Priors(Known(80.2, 0.6), Known(0.0015, 0.25), Known(0.82, 0.005), Known(0.104, 0.005))


def seen(distance: float, below_mm: float, pin: int = 0, off: float = 0.0) -> Observation:
    """A mark of a pin that sits so far below the top one."""
    return Observation(distance, true_mark(distance) - below_mm + off, 0.15, pin=pin)


class SeveralPins(unittest.TestCase):
    def test_marks_of_a_lower_pin_say_the_same_of_the_flight(self) -> None:
        below = 12.34
        one = solve(PRIORS, 17.0, [seen(d, 0.0) for d in (17.0, 38.0, 61.0)])
        both = solve(PRIORS, 17.0, [seen(17.0, 0.0), *(seen(d, below, 1) for d in (38.0, 61.0, 78.0))])
        self.assertAlmostEqual(both.known("speed_mps").value, one.known("speed_mps").value, delta=0.3)
        self.assertAlmostEqual(both.tape([78.0], 1)[0].mark_mm or 0.0, true_mark(78.0) - below, delta=0.15)
        self.assertLess(both.tape([78.0], 1)[0].sd_mm or 9.0, one.tape([78.0])[0].sd_mm or 0.0)
        self.assertEqual(both.degrees_of_freedom, 2)

    def test_one_mark_of_another_pin_costs_nothing_and_says_nothing(self) -> None:
        alone = solve(PRIORS, 17.0, [seen(17.0, 0.0), seen(61.0, 0.0)])
        more = solve(PRIORS, 17.0, [seen(17.0, 0.0), seen(61.0, 0.0), seen(38.0, 7.0, 2)])
        self.assertAlmostEqual(more.tape([95.0])[0].mark_mm or 0.0, alone.tape([95.0])[0].mark_mm or 0.0, places=5)
        self.assertAlmostEqual(more.tape([95.0])[0].sd_mm or 0.0, alone.tape([95.0])[0].sd_mm or 0.0, places=6)

    def test_a_pin_that_was_not_shot_is_placed_by_its_distance(self) -> None:
        fit = solve(PRIORS, 17.0, [seen(d, 0.0) for d in (17.0, 61.0)], (17.0, 38.0))
        self.assertAlmostEqual(fit.tape([38.0], 1)[0].mark_mm or 0.0, fit.mark_zero_mm.value, places=6)
        lower = solve(PRIORS, 17.0, [Observation(38.0, 5.0, 0.15, pin=1)], (17.0, 38.0))
        self.assertAlmostEqual(lower.mark_zero_mm.value, 5.0, delta=0.01)  # home is where that pin is right
        with self.assertRaisesRegex(ValueError, "pin"):
            solve(PRIORS, 17.0, [seen(17.0, 0.0)]).tape([38.0], 3)

    def test_the_far_pin_s_tape_begins_at_its_own_home(self) -> None:
        rows = [
            entry(1, 17.0, 20.0),
            entry(2, 61.0, true_mark(61.0) - 7.9, pin=1),
            entry(3, 38.0, true_mark(38.0) - 7.9, pin=1),
        ]
        card = full_card()
        evaluation = evaluate(card, rows, pins=Pins((17.0, 35.0), 1))
        assert evaluation.fit and evaluation.tape_home_m
        height = pin_height(RIG_A, 17.0) - 0.0079
        self.assertAlmostEqual(height_at(RIG_A, height, evaluation.tape_home_m, 0.0) or 0.0, 0.0, delta=0.02)
        self.assertAlmostEqual(
            pin_now(card, evaluation.fit, 1, evaluation.home_mark_mm) or 0.0, evaluation.tape_home_m, places=6
        )


class Compare(unittest.TestCase):
    def setUp(self) -> None:
        self.card = full_card()
        self.rig = evaluate(self.card, [entry(n, d, true_mark(d)) for n, d in enumerate((17.0, 38.0, 61.0, 78.0), 1)])

    def test_more_marks_are_surer_and_the_cost_is_against_all(self) -> None:
        rows = {row.key: row for row in compared(self.card, self.rig)}
        self.assertEqual(list(rows), [SPEED, TWO, ALL])
        widths = [rows[key].sd_m or 0.0 for key in (SPEED, TWO, ALL)]
        self.assertEqual(widths, sorted(widths, reverse=True))
        self.assertEqual([row.entry.ranged_m for row in rows[TWO].used], [17.0, 78.0])
        self.assertAlmostEqual(rows[ALL].up_m or 0.0, 0.0)
        longer = (rows[SPEED].length_mm or 0.0) - (rows[ALL].length_mm or 0.0)
        self.assertGreater((rows[SPEED].up_m or 0.0) * longer, 0.0)

    def test_what_two_marks_are(self) -> None:
        """From three marks on there is something to compare, where the two are a metre apart and of one pin."""
        for distances, keys in (((17.0, 38.0, 61.0), [SPEED, TWO, ALL]), ((17.0, 17.3, 17.8), [SPEED, ALL])):
            rows = [entry(n, d, true_mark(d)) for n, d in enumerate(distances, 1)]
            self.assertEqual([row.key for row in compared(self.card, evaluate(self.card, rows))], keys)
        nowhere = replace(self.card, goals=replace(self.card.goals, farthest_m=None))
        self.assertEqual(compared(nowhere, self.rig), ())
        self.assertEqual(compared(replace(self.card, eye_to_sight_m=None), self.rig), ())

    def test_the_best_laying_is_weighted_by_how_sure_each_mark_is(self) -> None:
        marks = [entry(1, 17.0, 20.3, arrows=12), entry(2, 61.0, true_mark(61.0) + 0.2, arrows=2)]
        evaluation = evaluate(self.card, marks)
        rows, (home, far, best) = layings(self.card, evaluation)
        weights = [row.sd_mm**-2.0 for row in rows]
        self.assertGreater(weights[0], 1.5 * weights[1])
        mean = (home.shift_mm * weights[0] + far.shift_mm * weights[1]) / sum(weights)
        self.assertAlmostEqual(best.shift_mm, mean)

    def test_with_two_marks_there_is_no_third_fit(self) -> None:
        evaluation = evaluate(self.card, [entry(1, 17.0, 20.0), entry(2, 61.0, true_mark(61.0))])
        self.assertEqual([row.key for row in compared(self.card, evaluation)], [SPEED, ALL])
        self.assertEqual([row.key for row in compared(self.card, evaluate(self.card, []))], [SPEED, ALL])

    def test_each_way_of_laying_leaves_nothing_where_it_is_laid(self) -> None:
        marks = [entry(1, 17.0, 20.3), entry(2, 38.0, true_mark(38.0) - 0.2), entry(3, 61.0, true_mark(61.0) + 0.1)]
        evaluation = evaluate(self.card, marks)
        rows, ways = layings(self.card, evaluation)
        home, far, best = ways
        self.assertEqual([row.entry.ranged_m for row in rows], [17.0, 38.0, 61.0])
        self.assertAlmostEqual(home.left_mm[0], 0.0)
        self.assertAlmostEqual(far.left_mm[-1], 0.0)
        self.assertLessEqual(sum(v * v for v in best.left_mm), min(sum(v * v for v in w.left_mm) for w in (home, far)))
        self.assertTrue(all((mm > 0) == (up > 0) for mm, up in zip(best.left_mm, best.up_m)))
        strip = layings(self.card, evaluation, lambda ranged: [1.02 * (true_mark(d) - 20.0) for d in ranged])[1]
        self.assertGreater(strip[0].left_mm[-1], 0.3)  # a strip too long shoots high at the far mark
        self.assertEqual(layings(self.card, evaluate(self.card, [])), ((), ()))

    def test_a_day_that_differs_is_said(self) -> None:
        rows = [entry(n, d, true_mark(d)) for n, d in enumerate((17.0, 38.0, 61.0), 1)]
        again = [entry(n, d, true_mark(d) + 1.5) for n, d in ((4, 17.0), (5, 38.0), (6, 61.0))]
        later = [replace(row, entered=NOON + timedelta(days=2)) for row in again]
        said = days(evaluate(self.card, [*rows, *later]))
        self.assertEqual([day.count for day in said], [3, 3])
        self.assertTrue(all(day.differs for day in said))
        self.assertLess(said[1].high_mrad, -0.1)  # a larger mark for what was seen: that day came in low
        self.assertAlmostEqual(said[0].high_mrad, -said[1].high_mrad, delta=0.1)
        usual = [replace(row, mark_mm=row.mark_mm - 1.2) for row in later]
        self.assertFalse(any(day.differs for day in days(evaluate(self.card, [*rows, *usual]))))
        self.assertFalse(any(day.differs for day in days(evaluate(self.card, rows))))

    def test_a_single_day_says_nothing_of_itself(self) -> None:
        """Marks that a card contradicts leave residuals that no other day is to blame for."""
        rows = [entry(n, d, true_mark(d) + off, arrows=6) for n, (d, off) in
                enumerate(((17.0, 0.0), (38.0, 2.0), (61.0, 4.0), (78.0, 9.0)), 1)]  # fmt: skip
        (day,) = days(evaluate(self.card, rows))
        self.assertEqual((day.count, day.differs), (4, False))

    def test_what_a_day_set_its_arrows_off_by(self) -> None:
        rows = [entry(1, 17.0, 20.0, arrows=12), entry(2, 38.0, true_mark(38.0) + 0.4, arrows=3),
                entry(3, 61.0, true_mark(61.0), arrows=6)]  # fmt: skip
        evaluation = evaluate(self.card, rows)
        (day,) = days(evaluation)
        assert evaluation.fit
        self.assertEqual((day.day, day.count, day.farthest_m), (NOON.date().isoformat(), 3, 61.0))
        self.assertEqual(day.high_mrad, evaluation.fit.session_offset(day.day).value)
        self.assertEqual(days(evaluate(RigCard("bare"), rows)), ())


class Air(unittest.TestCase):
    def test_the_standard_atmosphere(self) -> None:
        self.assertAlmostEqual(standard_pressure(0.0), 101325.0)
        self.assertAlmostEqual(standard_pressure(1500.0), 84556.0, delta=10.0)
        self.assertAlmostEqual(Weather().density_kgm3, 1.2211, delta=1e-4)

    def test_thinner_air_shoots_high_by_what_the_oracle_says(self) -> None:
        fit = solve(PRIORS, 17.0, [seen(d, 0.0) for d in (17.0, 38.0, 61.0)])
        here, there = Weather(), Weather(1500.0, 25.0)
        other = carried(fit.figures, here, there)
        self.assertLess(other.drag_per_m, fit.figures.drag_per_m)
        for row in trip(fit, [38.0, 95.0], here, there):
            up = height_at(other, pin_height(fit.figures, row.distance_m), row.distance_m, 0.0)
            self.assertAlmostEqual(row.up_m or 0.0, up or 0.0, delta=2e-3)
            self.assertLess(row.mark_mm or 0.0, 0.0)
        self.assertEqual(trip(fit, [95.0], here, here)[0].mark_mm, 0.0)


class Afterwards(unittest.TestCase):
    def test_after_a_shot_the_fit_is_as_sure_as_was_foretold(self) -> None:
        fit = solve(PRIORS, 17.0, [seen(17.0, 0.0)])
        shot = PlannedGroup(6, 1.0, 0.15)
        best = next_shot(fit, [38.0, 61.0], 95.0, shot)
        assert best
        then = after(fit, best.distance_m, shot).tape([95.0])[0].sd_on_target_m
        self.assertAlmostEqual(then or 0.0, best.sd_at_farthest_m_then, places=9)


class OutOfReach(unittest.TestCase):
    def test_a_pin_out_of_reach_has_no_height_and_no_distance(self) -> None:
        slow = full_card(chronograph=ChronographSession((45.0, 45.1, 44.9)))
        evaluation = evaluate(slow, [], pins=Pins((17.0, 38.0, 390.0), 0))
        assert evaluation.fit
        self.assertIsNone(pin_now(slow, evaluation.fit, 2, evaluation.home_mark_mm))
