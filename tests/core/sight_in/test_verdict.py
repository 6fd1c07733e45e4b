"""Is it real, is it worth a turn, how many more: the verdict at each level."""

import unittest
from dataclasses import replace

from cross_staff.core.estimation.groups import ADJUST, LEAVE, NOT_YET_KNOWN, SHOOT_MORE, inside
from cross_staff.core.rig.procedure import READY, ROUGH, SURE
from cross_staff.core.sight_in.verdict import SURELY, AimStanding, shots_to_settle, verdict_on

STILL = AimStanding((0.0, 0.0), (0.2, 0.2), None, 0.8, 6, True)


class Rough(unittest.TestCase):
    def test_the_first_arrows(self) -> None:
        arrows = verdict_on(ROUGH, replace(STILL, sd=(40.0, 40.0), arrows=0))
        self.assertEqual((arrows.kind, arrows.because, arrows.more), (SHOOT_MORE, "first", 2))

    def test_a_rough_error_is_taken_out_at_once(self) -> None:
        once = verdict_on(ROUGH, replace(STILL, offset=(1.0, -9.8), sd=(0.5, 0.5), arrows=2))
        self.assertEqual((once.kind, once.move), (ADJUST, (False, True)))

    def test_near_enough_to_step_back(self) -> None:
        self.assertTrue(verdict_on(ROUGH, replace(STILL, offset=(2.0, -3.0), sd=(0.5, 0.6), arrows=2)).there)

    def test_unsure_asks_for_more(self) -> None:
        more = verdict_on(ROUGH, replace(STILL, offset=(1.0, 0.0), sd=(4.0, 0.5), arrows=1))
        self.assertEqual((more.kind, more.because), (SHOOT_MORE, "rough_unsure"))


class Ready(unittest.TestCase):
    def test_beyond_chance_is_moved(self) -> None:
        moved = verdict_on(READY, replace(STILL, offset=(0.5, 0.1)))
        self.assertEqual((moved.kind, moved.move, moved.beyond), (ADJUST, (True, False), (True, False)))

    def test_few_arrows_with_a_wide_quantile_are_not(self) -> None:
        at = replace(STILL, offset=(0.5, 0.1), freedom=2.0)
        self.assertEqual(verdict_on(READY, at).kind, LEAVE)

    def test_less_than_half_a_step_is_left(self) -> None:
        self.assertTrue(verdict_on(READY, replace(STILL, offset=(0.5, 0.0), step=(1.2, 0.05))).there)

    def test_six_are_wanted(self) -> None:
        wanted = verdict_on(READY, replace(STILL, arrows=4))
        self.assertEqual((wanted.kind, wanted.because, wanted.more), (SHOOT_MORE, "too_few", 2))
        self.assertEqual(wanted.move, (False, False))

    def test_stay_when_the_group_says_stay(self) -> None:
        stay = verdict_on(READY, replace(STILL, within_circle=False, arrows=12))
        self.assertEqual((stay.kind, stay.because), (SHOOT_MORE, "not_within_circle"))

    def test_nothing_is_known_of_the_spread(self) -> None:
        spread = verdict_on(READY, replace(STILL, offset=(5.0, 0.0), arrows=2, spread_known=False))
        self.assertEqual((spread.kind, spread.more), (NOT_YET_KNOWN, 1))


class Sure(unittest.TestCase):
    def test_settled_when_surely_within_a_third(self) -> None:
        third = verdict_on(SURE, replace(STILL, sd=(0.08, 0.08), arrows=80))
        self.assertTrue(third.there)
        self.assertGreater(third.surely, SURELY)

    def test_a_last_trim_when_that_makes_it_sure(self) -> None:
        sure = verdict_on(SURE, replace(STILL, offset=(0.14, 0.0), sd=(0.08, 0.08), arrows=80, noise=(0.02, 0.02)))
        self.assertEqual((sure.kind, sure.because, sure.move), (ADJUST, "trim", (True, False)))

    def test_a_blunt_hand_is_not_asked_to_trim_what_it_cannot(self) -> None:
        at = replace(STILL, offset=(0.05, 0.0), sd=(0.12, 0.12), arrows=40, noise=(0.3, 0.3))
        self.assertEqual(verdict_on(SURE, at).kind, SHOOT_MORE)

    def test_what_is_not_worth_a_turn_stays_and_counts(self) -> None:
        """0.2 of a direction whose step is 0.5 stays: moving the other leaves the aim as unsure as it was."""
        for first in (0, 1):
            pair = ((0.2, 0.14), (0.14, 0.2))[first], ((0.5, 0.05), (0.05, 0.5))[first]
            at = replace(STILL, offset=pair[0], sd=(0.08, 0.08), step=pair[1], arrows=80)
            made = verdict_on(SURE, at)
            self.assertEqual((made.kind, made.because, made.move), (SHOOT_MORE, "not_sure", (False, False)))

    def test_a_hand_is_blunt_only_where_both_directions_are(self) -> None:
        """Moving the one that is known no better than the hand can set it would gain, but not enough."""
        for sd in ((0.12, 0.05), (0.05, 0.12)):
            offset = (0.14, 0.0) if sd[0] > sd[1] else (0.0, 0.14)
            at = replace(STILL, offset=offset, sd=sd, noise=(0.06, 0.06), arrows=80)
            self.assertEqual(verdict_on(SURE, at).because, "not_sure")
            self.assertEqual(verdict_on(SURE, replace(at, noise=(0.125, 0.125))).because, "trim")

    def test_the_number_that_is_asked_for_is_enough_and_no_more(self) -> None:
        at = replace(STILL, sd=(0.3, 0.25))
        more = shots_to_settle(at)
        for count, enough in ((more, True), (more - 1, False)):
            sd = [(s**-2 + count * at.spread**-2) ** -0.5 for s in at.sd]
            self.assertEqual(inside((0, 0), (sd[0], sd[1]), at.spread / 3) >= SURELY, enough)

    def test_what_the_target_allows_is_enough(self) -> None:
        at = replace(STILL, sd=(0.3, 0.3), arrows=8)
        self.assertFalse(verdict_on(SURE, at).there)
        self.assertTrue(verdict_on(SURE, replace(at, allowed=0.8)).there)

    def test_a_day_that_no_arrow_takes_away_asks_for_another_day(self) -> None:
        at = replace(STILL, sd=(0.1, 0.1), arrows=40, allowed=0.5, day=(0.0, 0.4))
        made = verdict_on(SURE, at)
        self.assertEqual((made.kind, made.because), (SHOOT_MORE, "another_day"))

    def test_what_was_moved_is_not_there_before_it_was_shot(self) -> None:
        for level in (READY, SURE):
            made = verdict_on(level, replace(STILL, sd=(0.05, 0.05), verified=False))
            self.assertEqual((made.because, made.more), ("after_move", 3))
        rough = verdict_on(ROUGH, replace(STILL, verified=False))
        self.assertEqual((rough.because, rough.more), ("after_move", 2))

    def test_few_arrows_move_nothing_unless_it_is_far_off(self) -> None:
        """Three where the archer's spread is known, six where it is not; fewer where the error is a big one."""
        for known, arrows, more in ((True, 2, 1), (False, 3, 3)):
            at = replace(STILL, arrows=arrows, spread_known=known)
            near, far = (verdict_on(READY, replace(at, offset=(x, 0.0))) for x in (1.0, 4.0))
            self.assertEqual((near.because, near.more, far.kind), ("too_few", more, ADJUST))
        pooled = verdict_on(READY, replace(STILL, offset=(1.0, 0.0), arrows=3))
        self.assertEqual(pooled.kind, ADJUST)

    def test_a_short_movement_close_in_is_looked_at_from_farther(self) -> None:
        """Where the arrow would still be on the butt had it gone the other way."""
        for moved, because in ((4.0, "rough_enough"), (5.0, "after_move")):
            rough = verdict_on(ROUGH, replace(STILL, verified=False, moved=moved, arrows=2, rough=9.0))
            self.assertEqual(rough.because, because, moved)

    def test_an_end_is_never_less_than_three(self) -> None:
        three = verdict_on(SURE, replace(STILL, offset=(0.0, 0.0), sd=(0.112, 0.111), arrows=60))
        self.assertEqual((three.kind, three.more), (SHOOT_MORE, 3))
