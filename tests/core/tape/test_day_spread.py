"""What marks of several days teach of an archer's scatter."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.rig.card import SPREAD_SD_LN, USUAL_SPREAD_MRAD
from cross_staff.core.rig.scatter import DAY_PART, Scatter, usual_scatter
from cross_staff.core.tape.day_spread import fit_with_days
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.core.tape.test_fit import PRIORS
from tests.rigs import NOON, entry, full_card, true_mark

STATED = Scatter(1.0, DAY_PART)
UNSAID = Scatter(USUAL_SPREAD_MRAD, DAY_PART * USUAL_SPREAD_MRAD, SPREAD_SD_LN)


def shot(session: str, high_mrad: float, scatter: Scatter, distances: tuple[float, ...] = (18.0, 38.0, 60.0)) -> list:
    """Six arrows a distance where a tape of the card's own figures has its marks, all of them a day's offset high."""
    from cross_staff.core.tape.solver import solve

    marks = solve(PRIORS, 18.0, []).tape(distances)
    error = 1e-3 * scatter.spread_mrad / 6.0**0.5
    return [
        Observation(d, row.mark_mm or 0.0, 0.15, 1e-3 * high_mrad * d, error * d, "group", session=session)
        for d, row in zip(distances, marks)
    ]


def told(seen: list[Observation], scatter: Scatter) -> tuple[Fit, Scatter]:
    return fit_with_days(PRIORS, 18.0, seen, (), scatter, [True] * len(seen))


class Learned(unittest.TestCase):
    def test_days_that_differ_teach_a_wider_day_and_days_alike_a_narrower_one(self) -> None:
        days = [[high * sign for sign in (1.0, -1.0, 1.0, -1.0)] for high in (0.0, 0.3, 0.8)]
        spreads = [
            told([each for n, high in enumerate(highs) for each in shot(str(n), high, STATED)], STATED)[1].day_mrad
            for highs in days
        ]
        self.assertEqual(spreads, sorted(spreads))
        self.assertLess(spreads[0], 0.3)
        self.assertGreater(spreads[0], 0.1)  # never nought
        self.assertGreater(spreads[2], 0.5)

    def test_a_single_day_tells_nothing_of_days(self) -> None:
        fit, scatter = told(shot("a", 0.8, STATED), STATED)
        self.assertEqual(scatter, STATED)
        self.assertEqual(fit.day_spread_mrad, DAY_PART)

    def test_a_spread_that_nobody_stated_is_wider_until_arrows_tell(self) -> None:
        seen = shot("a", 0.0, UNSAID)
        first, wide = told(seen[:1], UNSAID)
        self.assertAlmostEqual(wide.spread_mrad, USUAL_SPREAD_MRAD * np.exp(SPREAD_SD_LN**2), delta=0.05)
        self.assertAlmostEqual(first.observations[0].up_se_m / seen[0].up_se_m, wide.spread_mrad / USUAL_SPREAD_MRAD)
        self.assertTrue(wide.assumed)
        many = [each for n in range(6) for each in shot(str(n), 0.0, UNSAID)]
        self.assertLess(told(many, UNSAID)[1].spread_mrad, 0.8 * USUAL_SPREAD_MRAD)
        self.assertEqual(told([], UNSAID)[1], UNSAID)

    def test_bands_hold_over_days_that_differ_by_half_a_spread(self) -> None:
        """The far mark of sixty bows, two days: without days in the fit two thirds of them held."""
        random = np.random.default_rng(17)
        held = alone = 0
        true = told([], STATED)[0].tape([90.0])[0].mark_mm or 0.0
        for _ in range(60):
            seen = []
            for session in "ab":
                off = random.normal(0.0, 0.5)
                for each in shot(session, off, STATED):
                    arrows = random.normal(0.0, each.up_se_m)
                    seen.append(replace(each, up_m=each.up_m + arrows, mark_mm=each.mark_mm + random.normal(0.0, 0.15)))
            known = replace(PRIORS, speed_mps=replace(PRIORS.speed_mps, sd=3.0))  # the marks decide
            for days in (True, False):
                rows = [each if days else replace(each, session=None) for each in seen]
                there = fit_with_days(known, 18.0, rows, (), STATED, [True] * 6)[0].tape([90.0])[0]
                hit = abs((there.mark_mm or 0.0) - true) <= 1.96 * (there.sd_mm or 0.0)
                held, alone = held + (days and hit), alone + (not days and hit)
        self.assertGreaterEqual(held, 54)
        self.assertLess(alone, held)


class OnTheRig(unittest.TestCase):
    def rows(self, *days: tuple[float, ...]) -> list[TapeMark]:
        return [
            replace(entry(10 * day + n, d, true_mark(d), arrows=6), entered=NOON + timedelta(days=day))
            for day, distances in enumerate(days)
            for n, d in enumerate(distances, start=1)
        ]

    def far_sd(self, evaluation: Evaluation) -> float:
        assert evaluation.fit
        return evaluation.fit.tape([95.0])[0].sd_on_target_m or 0.0

    def test_the_date_is_the_session_of_marks_that_say_none(self) -> None:
        evaluation = evaluate(full_card(), self.rows((17.0, 38.0), (17.0, 61.0)))
        assert evaluation.fit
        self.assertEqual(evaluation.fit.days, tuple((NOON + timedelta(days=n)).date().isoformat() for n in (0, 1)))
        named = [replace(row, session="cold morning") for row in self.rows((17.0, 38.0), (17.0, 61.0))]
        self.assertEqual((evaluate(full_card(), named).fit or evaluation.fit).days, ("cold morning",))

    def test_the_same_marks_on_two_days_say_more_than_on_one(self) -> None:
        one = evaluate(full_card(), self.rows((17.0, 38.0, 61.0, 17.0, 38.0, 61.0)))
        two = evaluate(full_card(), self.rows((17.0, 38.0, 61.0), (17.0, 38.0, 61.0)))
        self.assertLess(self.far_sd(two), self.far_sd(one))

    def test_another_day_can_be_worth_more_than_many_arrows(self) -> None:
        evaluation = evaluate(full_card(), self.rows((17.0, 38.0, 61.0, 78.0, 90.0) * 3))
        best, same = evaluation.next_shot, evaluation.same_day
        assert best and same
        self.assertLess(best.sd_at_farthest_m_then, same.sd_at_farthest_m_then)

    def test_two_days_at_one_distance_are_no_contradiction_of_half_a_spread(self) -> None:
        card = full_card()
        off = 0.0018 * 47.0  # on the target, between two days
        pair = [
            entry(1, 47.0, true_mark(47.0), up_m=0.0, arrows=60),
            entry(2, 47.0, true_mark(47.0), up_m=off, arrows=60),
        ]
        alike = evaluate(card, pair)
        apart = evaluate(card, [pair[0], replace(pair[1], entered=NOON + timedelta(days=1))])
        said = [[f.code for row in each.rows for f in row.findings] for each in (alike, apart)]
        self.assertIn("disagrees_with", said[0])
        self.assertEqual(usual_scatter(card).assumed, False)
        self.assertNotIn("disagrees_with", said[1])
