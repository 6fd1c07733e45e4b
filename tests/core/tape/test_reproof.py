import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import Goals
from cross_staff.core.tape.reproof import DAY_PART, ProofEnd, Reproof, against, arrows_and_band, judged, plan
from cross_staff.core.tape.station import evaluate
from tests.rigs import entry, full_card, true_mark

CARD = full_card()
DISTANCES = (17.0, 47.0, 78.0)
# two days: of a single one nobody knows what it set off
THEN = evaluate(
    CARD,
    [entry(n, d, true_mark(d), arrows=6, session=f"{n % 2}") for n, d in enumerate((*DISTANCES, *DISTANCES), start=1)],
).fit


class Arrows(unittest.TestCase):
    def test_an_unharmed_sight_passes_and_one_that_is_off_by_all_that_is_allowed_does_not(self) -> None:
        random = np.random.default_rng(16)
        for goals in (CARD.goals, replace(CARD.goals, target_size_m=0.4), replace(CARD.goals, group_size_m=0.07)):
            for distance in (17.0, 38.0, 78.0):
                card, sd = replace(CARD, goals=goals), 0.0001 * distance
                arrows, band = arrows_and_band(card, distance, sd)
                spread = 1e-3 * goals.spread_mrad * distance
                allowed = 0.5 * goals.target_size_m * distance / goals.farthest_m
                noise = np.hypot(spread * np.sqrt(1.0 / arrows + DAY_PART**2), sd) * random.normal(size=40000)
                with self.subTest(distance, arrows=arrows):
                    self.assertGreater(np.mean(np.abs(noise) <= band), 0.79)
                    self.assertLess(np.mean(np.abs(noise + allowed) <= band), 0.06)

    def test_a_wider_archer_or_a_smaller_target_asks_for_more_arrows(self) -> None:
        goals = replace(CARD.goals, group_size_m=0.07)
        few, _ = arrows_and_band(replace(CARD, goals=goals), 38.0, 0.0)
        more, _ = arrows_and_band(replace(CARD, goals=replace(goals, target_size_m=0.20)), 38.0, 0.0)
        self.assertLess(few, more)
        self.assertIsNone(arrows_and_band(replace(CARD, goals=replace(goals, group_size_m=0.2)), 38.0, 0.0))

    def test_twelve_arrows_are_asked_for_and_thirteen_are_not(self) -> None:
        def asked(target_m: float) -> int:
            told = arrows_and_band(replace(CARD, goals=replace(CARD.goals, target_size_m=target_m)), 38.0, 0.0)
            return told[0] if told else 13

        counts = {asked(0.100 + 0.001 * n) for n in range(400)}
        self.assertEqual(counts, set(range(3, 14)))

    def test_goals_that_lack_ask_for_nothing(self) -> None:
        self.assertIsNone(arrows_and_band(replace(CARD, goals=Goals(17.0, 95.0)), 38.0, 0.0))

    def test_an_old_tape_that_was_not_sure_cannot_be_proved(self) -> None:
        self.assertIsNotNone(arrows_and_band(CARD, 78.0, 0.01))
        self.assertIsNone(arrows_and_band(CARD, 78.0, 0.2))


class Planned(unittest.TestCase):
    def test_one_end_where_only_the_zero_can_have_moved_and_two_where_the_tape_can(self) -> None:
        (end,) = plan(CARD, THEN, DISTANCES, True)
        both = plan(CARD, THEN, DISTANCES, False)
        self.assertEqual([each.ranged_m for each in both], [17.0, 78.0])
        self.assertAlmostEqual(both[1].mark_mm, true_mark(78.0), delta=0.3)
        self.assertEqual({each.pin for each in both}, {0})
        self.assertLessEqual(end.arrows, min(each.arrows for each in both))
        self.assertIn(end.ranged_m, DISTANCES)

    def test_where_home_alone_was_shot_home_alone_proves_it(self) -> None:
        self.assertEqual([end.ranged_m for end in plan(CARD, THEN, (17.0, 17.0), False)], [17.0])

    def test_pencil_lines_prove_nothing_of_where_the_sight_stands(self) -> None:
        """A length between two lines is the same wherever the housing was knocked to."""
        line = entry(1, 61.0, true_mark(61.0) - true_mark(17.0), arrows=6, ruler="lines", from_m=17.0)
        lines = evaluate(CARD, [line]).fit
        self.assertEqual(plan(CARD, lines, DISTANCES, True), ())
        self.assertIsNone(against(CARD, THEN, line))
        self.assertIsNone(against(CARD, lines, entry(2, 17.0, true_mark(17.0), arrows=6)))

    def test_without_marks_there_is_nothing_to_prove(self) -> None:
        self.assertEqual(plan(CARD, THEN, (), True), ())

    def test_an_archer_who_is_too_wide_is_not_asked(self) -> None:
        wide = replace(CARD, goals=replace(CARD.goals, group_size_m=0.3))
        self.assertEqual(plan(wide, THEN, DISTANCES, False), ())


class Judged(unittest.TestCase):
    def setUp(self) -> None:
        self.ends = (ProofEnd(17.0, 4, 0.02), ProofEnd(78.0, 4, 0.06))

    def shot(self, at: float, up: float, arrows: int = 4) -> object:
        return entry(9, at, true_mark(at), up_m=up, arrows=arrows)

    def test_how_high_it_came_in(self) -> None:
        for at, up in ((17.0, 0.01), (78.0, -0.05), (61.0, 0.0)):
            self.assertAlmostEqual(against(CARD, THEN, self.shot(at, up)), up, delta=0.012)
        low = replace(self.shot(47.0, 0.0), mark_mm=true_mark(47.0) + 1.0)
        self.assertAlmostEqual(against(CARD, THEN, low), -float(THEN.target_m_per_tape_mm(47.0)), delta=0.01)

    def test_it_passes_when_every_end_lies_within_its_band(self) -> None:
        one = judged(CARD, THEN, self.ends, [self.shot(17.0, 0.004)])
        self.assertEqual((one.passed, one.next_end), (False, self.ends[1]))
        both = judged(CARD, THEN, self.ends, [self.shot(17.0, 0.004), self.shot(78.0, -0.02)])
        self.assertEqual((both.passed, both.next_end, both.failed), (True, None, ()))

    def test_too_few_arrows_prove_nothing(self) -> None:
        few = judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.0, 3)])
        self.assertEqual((few.passed, few.next_end), (False, self.ends[0]))
        self.assertTrue(judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.0, 3), self.shot(17.2, 0.0, 1)]).passed)

    def test_an_end_outside_fails_and_is_named(self) -> None:
        told = judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.06)])
        self.assertFalse(told.passed)
        self.assertAlmostEqual(told.failed[0].up_m, 0.06, delta=0.003)

    def test_windage_is_looked_at_where_it_is_asked(self) -> None:
        rights = [(17.0, 4, 0.05)]
        self.assertTrue(judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.0)], rights).passed)
        wide = judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.0)], rights, True)
        self.assertEqual((wide.passed, wide.sideways_seen), (False, True))
        unseen = judged(CARD, THEN, self.ends[:1], [self.shot(17.0, 0.0)], (), True)
        self.assertEqual((unseen.passed, unseen.next_end, unseen.sideways_seen), (False, self.ends[0], False))

    def test_no_ends_never_pass(self) -> None:
        self.assertFalse(Reproof(()).passed)

    def test_a_pin_that_nobody_knows(self) -> None:
        with self.assertRaises(InvalidValue):
            against(CARD, THEN, replace(self.shot(17.0, 0.0), pin=4))
        self.assertEqual(judged(CARD, THEN, self.ends[:1], [replace(self.shot(17.0, 0.0), pin=4)]).seen, ())
