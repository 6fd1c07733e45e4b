"""What the arrows make one doubt, and whether it is a tape day."""

import unittest
from dataclasses import replace

import numpy as np
from scipy import stats

from cross_staff.core.sight_in.anomalies import sideways_trend
from cross_staff.core.sight_in.conditions import GO, HALF, NO, NOT_YET, tape_day
from cross_staff.core.sight_in.log import RangeSession
from tests.ends import GOALS, PINS_M, believed, drawn, end, exact_card, moved, range_log
from tests.rigs import NOON


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

    def test_windage_that_was_moved_and_not_counted_says_nothing(self) -> None:
        rows = [end(n, d, right_m=0.5 * (d - 17.0)) for n, d in enumerate((17.0, 26.0, 38.0) * 2, start=1)]
        blind = moved(9, "Windage micro", "windage", 0.0, "unknown")
        self.assertIsNone(sideways_trend(believed(exact_card(), range_log(*rows, blind))))

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
