"""The strips at the edges of a tape's own uncertainty, and the farthest mark that nothing checks."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.rig.scatter import DAY_PART
from cross_staff.core.tape.edges import LEAST_APART_MM, edge_shifts_mm, tape_edges
from cross_staff.core.tape.station import evaluate
from cross_staff.core.tape.unchecked import unchecked
from tests.core.tape.test_station import marks
from tests.rigs import full_card


class Edges(unittest.TestCase):
    def setUp(self) -> None:
        self.card = full_card()
        self.evaluation = evaluate(self.card, marks(17.0, 47.0))

    def test_nought_at_home_and_the_edge_at_the_end(self) -> None:
        shifts = edge_shifts_mm(self.card, self.evaluation, [17.0, 47.0, 95.0], 95.0)
        fit = self.evaluation.fit
        assert fit
        apart = fit.sensitivities([95.0])[1][0] - fit.sensitivities([17.0])[1][0]
        self.assertAlmostEqual(shifts[0], 0.0)
        self.assertAlmostEqual(shifts[2], 1.96 * math.sqrt(float(apart @ fit.covariance @ apart)))
        self.assertTrue(0.0 < shifts[1] < shifts[2])

    def test_nineteen_true_tapes_in_twenty_end_between_the_edges(self) -> None:
        fit = self.evaluation.fit
        assert fit
        generator = np.random.default_rng(7)
        gradient = fit.sensitivities([17.0, 95.0])[1]
        drawn = generator.multivariate_normal(np.zeros(len(fit.estimate)), fit.covariance, 4000)
        ends = drawn @ (gradient[1] - gradient[0])
        edge = float(edge_shifts_mm(self.card, self.evaluation, [95.0], 95.0)[0])
        self.assertAlmostEqual(float(np.mean(np.abs(ends) <= edge)), 0.95, delta=0.015)

    def test_one_knows_at_the_nearest_distance_where_six_arrows_tell(self) -> None:
        edges = tape_edges(self.card, self.evaluation, 95.0)
        assert edges and self.evaluation.fit
        spread = 1e-3 * (self.card.goals.spread_mrad or 0.0) * math.hypot(1.0 / math.sqrt(6), DAY_PART)
        self.assertGreaterEqual(edges.apart_m, 1.96 * spread * edges.tell_m)
        nearer = edges.tell_m - 10.0
        shift = float(edge_shifts_mm(self.card, self.evaluation, [nearer], 95.0)[0])
        apart = shift * float(self.evaluation.fit.target_m_per_tape_mm(nearer))
        self.assertLess(abs(apart), 1.96 * spread * nearer)

    def test_where_no_group_tells_them_it_is_said(self) -> None:
        wide = replace(self.card, goals=replace(self.card.goals, group_size_m=2.9))
        edges = tape_edges(wide, evaluate(wide, marks(17.0, 47.0)), 95.0)
        assert edges
        self.assertEqual((edges.tells, edges.tell_m), (False, 95.0))

    def test_a_tape_surer_than_a_line_has_none_beside_it(self) -> None:
        rows = [replace(row, arrows=99) for row in marks(17.0, 38.0, 61.0, 78.0, 95.0, 90.0, 85.0)]
        sure = evaluate(self.card, rows)
        end = float(edge_shifts_mm(self.card, sure, [20.0], 20.0)[0])
        self.assertLess(abs(end), LEAST_APART_MM)
        self.assertIsNone(tape_edges(self.card, sure, 20.0))

    def test_without_a_fit_there_is_nothing(self) -> None:
        bare = evaluate(replace(self.card, eye_to_sight_m=None), [])
        self.assertIsNone(tape_edges(self.card, bare, 95.0))
        self.assertEqual(list(edge_shifts_mm(self.card, bare, [50.0], 95.0)), [0.0])


class Unchecked(unittest.TestCase):
    def test_the_farthest_of_few_marks_is_hardly_checked(self) -> None:
        few, more = (
            unchecked(evaluate(full_card(), marks(*d))) for d in ((17.0, 47.0, 90.0), (17.0, 38.0, 61.0, 78.0, 90.0))
        )
        assert few and more
        self.assertEqual(few.row.entry.ranged_m, 90.0)
        self.assertLess(few.caught, more.caught)
        self.assertLess(few.caught, 0.5)

    def test_it_is_caught_about_as_often_as_is_said(self) -> None:
        """Slips of five of the mark's own sds, drawn with noise on every mark."""
        card, generator = full_card(), np.random.default_rng(3)
        rows = marks(17.0, 47.0, 90.0)
        told = unchecked(evaluate(card, rows))
        assert told
        sds = [row.sd_mm or 0.0 for row in evaluate(card, rows).rows]
        caught = 0
        for _ in range(150):
            noisy = [replace(row, mark_mm=row.mark_mm + sd * float(generator.normal())) for row, sd in zip(rows, sds)]
            noisy[2] = replace(noisy[2], mark_mm=noisy[2].mark_mm + 5.0 * sds[2])
            suspect = evaluate(card, noisy).suspect
            caught += suspect is not None
        self.assertAlmostEqual(caught / 150.0, told.caught, delta=0.15)

    def test_a_second_group_there_on_another_day_checks_it(self) -> None:
        rows = marks(17.0, 47.0, 90.0)
        again = replace(rows[2], line=9, entry_id=9)
        self.assertIsNotNone(unchecked(evaluate(full_card(), [*rows, again])))
        other_day = replace(again, entered=again.entered + timedelta(days=1))
        self.assertIsNone(unchecked(evaluate(full_card(), [*rows, other_day])))
        self.assertIsNone(unchecked(evaluate(full_card(), rows[:1])))
