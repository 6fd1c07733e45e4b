"""What the arrows make one doubt, and whether it is a tape day."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy import stats

from cross_staff.core.sight_in.anomalies import other_pin, sideways_trend, surprise
from cross_staff.core.sight_in.conditions import GO, HALF, NO, NOT_YET, tape_day
from cross_staff.core.sight_in.log import RangeSession
from tests.ends import GOALS, PINS_M, believed, drawn, end, exact_card, hits, moved, range_log
from tests.rigs import NOON

SIGHTED = tuple(end(n + 1, d, pin=n) for n, d in enumerate(PINS_M))


class OtherPin(unittest.TestCase):
    def test_an_offset_that_equals_a_pin_gap_is_asked_about(self) -> None:
        wrong = end(9, 38.0, up_m=hits(0.0, 26.0, 38.0), pin=2)  # shot with pin 2, noted for pin 3
        about = other_pin(believed(exact_card(), range_log(*SIGHTED, wrong)))
        assert about
        self.assertEqual((about.end.key, about.pin), ("e9", 1))

    def test_two_pins_are_enough(self) -> None:
        two = exact_card(goals=replace(GOALS, pin_distances_m=PINS_M[:2]))
        wrong = end(9, 26.0, up_m=hits(0.0, 17.0, 26.0), pin=1)
        about = other_pin(believed(two, range_log(*SIGHTED[:2], wrong)))
        assert about
        self.assertEqual((about.end.key, about.pin), ("e9", 0))

    def test_how_near_it_must_come_to_another_pins_place(self) -> None:
        """Within two and a half sds of where that pin would have sent it: of the end itself and of the pin's place."""
        card = exact_card()
        sd = math.hypot(0.8 * 0.82 / math.sqrt(6.0), 0.8 * 0.82 / math.sqrt(6.0))  # both shot with six
        for sds, asked in ((2.2, True), (2.9, False), (-2.2, True)):
            wrong = end(9, 38.0, up_m=hits(sds * sd, 26.0, 38.0), pin=2)
            about = other_pin(believed(card, range_log(*SIGHTED, wrong)))
            self.assertEqual(about is not None, asked, sds)

    def test_once_answered_it_is_not_asked_again(self) -> None:
        wrong = end(9, 38.0, up_m=hits(0.0, 26.0, 38.0), pin=2, asked=True)
        self.assertIsNone(other_pin(believed(exact_card(), range_log(*SIGHTED, wrong))))

    def test_a_right_one_or_an_offset_of_no_gap_is_not(self) -> None:
        for up in (0.0, hits(-4.0, 38.0, 38.0)):
            estimate = believed(exact_card(), range_log(*SIGHTED, end(9, 38.0, up_m=up, pin=2)))
            self.assertIsNone(other_pin(estimate))

    def test_a_sight_that_was_never_shot_says_nothing(self) -> None:
        self.assertIsNone(other_pin(believed(exact_card(), range_log(end(1, 5.0, up_m=0.2)))))


class AfterAMovement(unittest.TestCase):
    def end_after(self, up_mm: float):  # type: ignore[no-untyped-def]
        first = end(1, 17.0, up_m=hits(3.0, 17.0, 17.0))
        move = moved(2, "Housing, up and down", "gang_elevation", -3.0)
        return surprise(believed(exact_card(), range_log(first, move, end(3, 17.0, up_m=hits(up_mm, 17.0, 17.0)))))

    def test_where_it_should_be_nothing_is_said(self) -> None:
        self.assertIsNone(self.end_after(0.1))

    def test_the_other_way_is_noticed(self) -> None:
        end_after = self.end_after(6.0)
        assert end_after
        self.assertEqual((end_after.drive, end_after.other_way), ("Housing, up and down", True))
        self.assertEqual((end_after.expected[0], end_after.seen[0]), (0.0, 0.0))
        self.assertAlmostEqual(end_after.seen[1], -6.0, delta=0.05)
        self.assertAlmostEqual(end_after.expected[1], 0.0, delta=0.05)

    def test_another_surprise_is_not_called_the_other_way(self) -> None:
        end_after = self.end_after(-4.0)
        assert end_after
        self.assertFalse(end_after.other_way)

    def test_only_the_first_end_after_it(self) -> None:
        card, first, far = exact_card(), end(1, 17.0), 17.82 / 0.82
        checked = tuple(replace(control, checked=True) for control in card.sight.controls)
        card = replace(card, sight=replace(card.sight, controls=checked))
        move = moved(2, "Windage micro", "windage", 40.0, "click")
        made = surprise(believed(card, range_log(first, move, end(3, 17.0, right_m=2e-3 * far))))
        assert made
        self.assertTrue(made.other_way)
        self.assertEqual((made.expected[1], made.seen[1]), (0.0, 0.0))
        self.assertAlmostEqual(abs(made.seen[0] - made.expected[0]), 4.0, delta=0.1)
        later = believed(card, range_log(first, move, end(3, 17.0, right_m=2e-3 * far), end(4, 17.0)))
        self.assertIsNone(surprise(later))

    def test_an_unchecked_knob_is_turned_round_in_the_belief_itself(self) -> None:
        move = moved(2, "Windage micro", "windage", 40.0, "click")
        after = end(3, 17.0, right_m=2e-3 * 17.82 / 0.82)
        estimate = believed(exact_card(), range_log(end(1, 17.0), move, after, replace(after, key="e4", order=4)))
        self.assertEqual(estimate.reversed, ("Windage micro",))


class Trend(unittest.TestCase):
    def ends(self, per_m: float):  # type: ignore[no-untyped-def]
        rows = []
        for n, d in enumerate((17.0, 26.0, 38.0) * 2):
            shift = 1e-3 * per_m * (d - 17.0) * (0.82 + d) / 0.82
            rows.append(end(n + 1, d, right_m=shift, pin=PINS_M.index(d)))
        return believed(exact_card(), range_log(*rows))

    def test_a_sideways_trend_is_no_windage_setting(self) -> None:
        setting = sideways_trend(self.ends(0.07))
        assert setting
        self.assertGreater(setting.mrad, 2.0 * setting.sd_mrad)
        self.assertEqual((setting.near_m, setting.far_m), (17.0, 38.0))

    def test_it_wants_three_distances_well_apart(self) -> None:
        for distances in ((17.0, 38.0), (17.0, 18.0, 19.0), (17.0, 20.0, 25.0)):
            rows = [end(n, d, right_m=0.5 * (d - 17.0)) for n, d in enumerate(distances * 3, start=1)]
            self.assertIsNone(sideways_trend(believed(exact_card(), range_log(*rows))), distances)
        rows = [end(n, d, right_m=0.5 * (d - 17.0)) for n, d in enumerate((17.0, 20.0, 26.0) * 3, start=1)]
        self.assertIsNotNone(sideways_trend(believed(exact_card(), range_log(*rows))))

    def test_its_angle_is_the_arrows_own(self) -> None:
        """0.07 mm a metre at the sight plane, 0.82 m out, over 21 m: 1.79 mrad."""
        trend = sideways_trend(self.ends(0.07))
        self.assertAlmostEqual(trend.mrad, 0.07 * 21.0 / 0.82, delta=0.02)

    def test_none_is_none(self) -> None:
        self.assertIsNone(sideways_trend(self.ends(0.0)))

    def test_one_distance_says_nothing(self) -> None:
        self.assertIsNone(sideways_trend(believed(exact_card(), range_log(end(1, 17.0), end(2, 17.0, right_m=0.05)))))


class TapeDay(unittest.TestCase):
    def day(self, spread: float, wind: float | None = None, arrows: int = 6, goals=GOALS):  # type: ignore[no-untyped-def]
        generator = np.random.default_rng(11)
        earlier = [end(n, 17.0, shots=drawn(generator, 0, 0, 0.8e-3 * 17, 6), session=1) for n in range(1, 5)]
        shots = end(9, 17.0, spread_mrad=spread).shots[:arrows]
        today = end(9, 17.0, session=2, shots=shots)
        session = RangeSession(2, 1, NOON, crosswind_mps=wind)
        log = range_log(*earlier, today, session=session)
        log = replace(log, sessions=(RangeSession(1, 1, NOON), session))
        return tape_day(believed(exact_card(goals=goals), log), session)

    def test_as_usual_go_ahead(self) -> None:
        self.assertEqual((self.day(0.8).verdict, self.day(0.8).because), (GO, "as_usual"))

    def test_wider_counts_half_much_wider_nothing(self) -> None:
        self.assertEqual(self.day(1.25).verdict, HALF)
        self.assertEqual((self.day(3.0).verdict, self.day(3.0).because), (NO, "much_wider"))

    def test_the_chance_is_that_of_the_f_test(self) -> None:
        day = self.day(1.25)
        assert day.ratio and day.p_value
        self.assertAlmostEqual(day.p_value, stats.f.sf(day.ratio**2, 10, 40), 9)

    def test_the_wind_has_a_word_in_it(self) -> None:
        self.assertEqual(self.day(0.8, wind=4.0).because, "windy")
        self.assertEqual(self.day(0.8, wind=15.0).verdict, NO)
        self.assertEqual(self.day(0.8, wind=0.3).verdict, GO)

    def test_too_few_and_no_session(self) -> None:
        self.assertEqual(self.day(0.8, arrows=3).because, "too_few")
        self.assertEqual(tape_day(believed(exact_card(), range_log()), None).verdict, NOT_YET)

    def test_without_any_history_nothing_speaks_against_it(self) -> None:
        card = exact_card(goals=replace(GOALS, group_size_m=None))
        session = RangeSession(1, 1, NOON)
        made = tape_day(believed(card, range_log(end(1, 17.0), session=session)), session)
        self.assertEqual((made.verdict, made.because, made.p_value), (GO, "no_history", None))
