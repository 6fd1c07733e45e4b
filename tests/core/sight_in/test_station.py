"""The station's judgement: what to shoot or move now, for real logs."""

import math
import unittest
from dataclasses import replace
from datetime import timedelta

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.rig.card import Goals, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.procedure import CONFIRM, MARKS, PLACE, SETTLE, SHOOT
from cross_staff.core.rig.sight import Control
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.acts import ALL_DONE, CARD, MOVE, Act, SightIn, SightInStepState
from cross_staff.core.sight_in.aims import Aim, mean_radius
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import End, Move, RangeLog
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.procedures import pins_of
from cross_staff.core.sight_in.station import _lacks, _Work, sight_in
from cross_staff.core.tape.stack import stack
from cross_staff.core.tape.station import evaluate
from tests.ends import GOALS, PINS_M, end, exact_card, hits, judged, moved, range_log, ranged_card, said
from tests.rigs import NOON, RIG_A, full_card

START = said("step:face", "step:stop_up", "step:stack", "step:stop_room")
STEP = KINDS["fixed_pins"].procedure[0]


def aims_of(card: RigCard, log: RangeLog) -> _Work:
    """The judgement at work, to be asked piece by piece."""
    evaluation = evaluate(card, end_entries(card, log), pins=pins_of(card, log.chosen))
    assert evaluation.fit is not None
    return _Work(card, log, evaluation, AimEstimate(card, log, evaluation.fit))


class First(unittest.TestCase):
    def test_without_a_complete_card_it_says_so(self) -> None:
        card = full_card(eye_to_sight_m=None, goals=GOALS)
        made = judged(card, range_log(end(1, 17.0)))
        self.assertEqual((made.act.kind, made.act.because, made.steps), (CARD, "eye_to_sight", ()))

    def test_the_face_comes_first_then_well_inside_ten_metres(self) -> None:
        card = exact_card()
        self.assertEqual((judged(card, range_log()).act.kind), CONFIRM)
        act = judged(card, range_log(entries=START)).act
        self.assertEqual((act.kind, act.arrows, act.aim and act.aim.ranged_m), (SHOOT, 2, 5.0))

    def test_the_impact_to_expect_there_is_computed(self) -> None:
        """PHYSICS: set for 20 m, rig A hits 8.5 mm low at 5 m; here it is set for 17 m."""
        act = judged(exact_card(), range_log(entries=START)).act
        true = float(impact_heights(RIG_A, pin_height(RIG_A, 17.0), 5.0)[0])
        self.assertAlmostEqual(act.expect_m or 0, true, delta=0.002)

    def test_nothing_is_expected_at_home_itself(self) -> None:
        work = aims_of(exact_card("single_pin_slider"), range_log(entries=START))
        for ranged, expected in ((17.0, False), (16.7, False), (16.3, True), (5.0, True), (26.0, False)):
            self.assertEqual(work.expected_m(Aim(0, ranged)) is not None, expected, ranged)

    def test_a_home_nearer_than_that_is_shot_at_home(self) -> None:
        card = exact_card(goals=replace(GOALS, home_m=4.0, pin_distances_m=()))
        act = judged(card, range_log(entries=START)).act
        self.assertEqual(act.aim and act.aim.ranged_m, 4.0)


class Placed(unittest.TestCase):
    def test_only_a_pin_below_the_top_one_has_a_place_below_it(self) -> None:
        work = aims_of(exact_card(), range_log(entries=START))
        for aim, placed in ((None, False), (Aim(0, 17.0), False), (Aim(1, 26.0), True)):
            act = work._placed(Act(PLACE, "", STEP, aim))
            self.assertEqual((act.place_mm is not None, act.place_sd_mm is not None), (placed, placed))


class Needs(unittest.TestCase):
    def test_a_step_lacks_what_it_needs_and_each_pin_of_it(self) -> None:
        def state(key: str) -> SightInStepState:
            return SightInStepState(replace(STEP, key=key), None)

        states = [state("home"), state("each_1"), state("each_2"), state("other")]
        self.assertTrue(_lacks("each", states, {"home", "each_1"}))
        self.assertFalse(_lacks("each", states, {"each_1", "each_2"}))
        self.assertFalse(_lacks("home", states, {"home"}))
        self.assertTrue(_lacks("home", states, {"each_1", "each_2", "other"}))
        self.assertFalse(_lacks("never", states, set()))


class Moves(unittest.TestCase):
    def test_control_direction_and_amount(self) -> None:
        far = 5.82 / 0.82
        log = range_log(end(1, 5.0, right_m=-8e-3 * far, up_m=hits(9.0, 17.0, 5.0)), entries=START)
        act = judged(exact_card(), log).act
        self.assertEqual(act.kind, MOVE)
        up, right = act.moves
        self.assertEqual((up.drive.name, up.way), ("Housing, up and down", "down"))
        self.assertAlmostEqual(up.amount, -9.0, delta=0.6)
        self.assertEqual((right.drive.name, right.way), ("Housing, left and right", "left"))
        self.assertAlmostEqual(right.amount, -8.0, delta=0.2)

    def test_what_was_moved_is_shot_before_it_is_called_good(self) -> None:
        first = end(1, 5.0, up_m=hits(9.0, 17.0, 5.0))
        move = moved(2, "Housing, up and down", "gang_elevation", -9.0)
        act = judged(exact_card(), range_log(first, move, entries=START)).act
        self.assertEqual((act.kind, act.because, act.aim and act.aim.ranged_m), (SHOOT, "after_move", 5.0))
        after = judged(exact_card(), range_log(first, move, end(3, 5.0, up_m=hits(0.0, 17.0, 5.0)), entries=START)).act
        self.assertEqual((after.kind, after.aim and after.aim.ranged_m), (SHOOT, 17.0))

    def test_what_is_within_chance_is_left_alone(self) -> None:
        log = range_log(end(1, 17.0, right_m=0.002, up_m=-0.003), entries=START)
        act = judged(exact_card(), log).act
        self.assertNotEqual(act.kind, MOVE)
        self.assertEqual(act.step and act.step.key, "place_1")

    def test_a_single_pin_is_moved_only_for_its_own_distance(self) -> None:
        log = range_log(end(1, 17.0), end(2, 17.0), moved(3, "pin", "pin", 0.0, pin=1, placed=True),
                        end(4, 26.0, pin=1, up_m=hits(2.0, 26.0, 26.0)), entries=START)  # fmt: skip
        act = judged(exact_card(), log).act
        self.assertEqual((act.kind, act.moves[0].drive.name, act.moves[0].pin), (MOVE, "Pin screw", 1))
        self.assertEqual(act.moves[0].way, "down")

    def test_the_end_of_travel_is_foreseen(self) -> None:
        card = exact_card()
        controls = tuple(replace(c, position_mm=2.0) if c.moves == "gang_elevation" else c for c in card.sight.controls)
        card = replace(card, sight=replace(card.sight, controls=controls))
        act = judged(card, range_log(end(1, 5.0, up_m=hits(9.0, 17.0, 5.0)), entries=START)).act
        self.assertAlmostEqual(act.moves[0].amount, -2.0)
        self.assertAlmostEqual(act.moves[0].short_mm, -7.0, delta=0.6)
        self.assertIn("other_hole", act.moves[0].instead)

    def test_a_click_of_unknown_value_is_learned_from_the_group(self) -> None:
        card, far = exact_card(), 17.82 / 0.82
        controls = (*card.sight.controls[:1], Control("Windage micro", "windage", None, 20.0, checked=True))
        card = replace(card, sight=replace(card.sight, controls=controls, screws=()))
        ends = [end(1, 17.0, right_m=2.5e-3 * far), end(2, 17.0, right_m=2.5e-3 * far)]
        log = range_log(*ends, moved(3, "Windage micro", "windage", 20.0, "click"),
                        *(end(n, 17.0, right_m=0.9e-3 * far) for n in (4, 5)), entries=START)  # fmt: skip
        group = judged(card, log)
        assert group.estimate
        drive = group.estimate.drive("windage")
        assert drive
        self.assertAlmostEqual(group.estimate.travel_per_unit(drive)[0], 0.08, delta=0.012)
        self.assertAlmostEqual(group.act.moves[0].amount, 0.9 / 0.08, delta=3.0)


class Ladder(unittest.TestCase):
    def test_it_says_stay_when_the_groups_say_stay(self) -> None:
        circle = (*START, *said("circle", number=0.04))
        log = range_log(end(1, 17.0, spread_mrad=3.0), entries=circle)
        act = judged(exact_card(), log).act
        self.assertEqual((act.kind, act.because), (SHOOT, "not_within_circle"))
        self.assertEqual(act.aim and act.aim.ranged_m, 17.0)
        twice = range_log(end(1, 17.0, spread_mrad=3.0), end(2, 17.0, spread_mrad=3.0), entries=circle)
        self.assertEqual(judged(exact_card(), twice).act.kind, PLACE)  # nobody is held longer than twelve arrows

    def test_the_archer_s_own_circle_decides(self) -> None:
        log = range_log(end(1, 17.0), entries=(*START, *said("circle", number=0.004)))
        self.assertEqual(judged(exact_card(), log).act.because, "not_within_circle")
        wide = range_log(end(1, 17.0), entries=(*START, *said("circle", number=0.4)))
        self.assertNotEqual(judged(exact_card(), wide).act.because, "not_within_circle")

    def test_five_arrows_are_not_enough(self) -> None:
        one = end(1, 17.0)
        log = range_log(replace(one, shots=one.shots[:5]), entries=START)
        self.assertEqual((judged(exact_card(), log).act.because, judged(exact_card(), log).act.more), ("too_few", 1))

    def test_called_bad_arrows_are_not_counted(self) -> None:
        one = end(1, 17.0)
        bad = tuple(replace(shot, called_bad=n < 2) for n, shot in enumerate(one.shots))
        self.assertEqual(judged(exact_card(), range_log(replace(one, shots=bad), entries=START)).act.more, 2)


class Order(unittest.TestCase):
    def test_another_step_may_be_looked_at_and_says_what_it_lacks(self) -> None:
        lacks = judged(exact_card(), range_log(entries=START), "each_2")
        self.assertEqual(lacks.act.step and lacks.act.step.key, "each_2")
        state = next(s for s in lacks.steps if s.step.key == "each_2")
        self.assertEqual(state.missing, ("home", "place"))

    def test_a_skipped_step_is_confirmed_and_not_done(self) -> None:
        done = judged(exact_card(), range_log(entries=(*START, *said("step:close", choice="skipped"))))
        state = {s.step.key: s.state for s in done.steps}
        self.assertEqual((state["face"], state["close"]), ("done", "skipped"))

    def test_a_staged_finish(self) -> None:
        log = range_log(
            end(1, 17.0), moved(2, "pin", "pin", 0.0, pin=1, placed=True), end(3, 26.0, pin=1), entries=START
        )
        finish = judged(exact_card(), log)
        self.assertEqual(finish.usable_to_m(), 26.0)
        self.assertEqual((finish.act.kind, finish.act.aim and finish.act.aim.pin), (PLACE, 2))
        self.assertAlmostEqual(
            finish.act.place_mm or 0, 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 38.0)), delta=0.4
        )

    def test_everything_said_is_done(self) -> None:
        card = exact_card()
        keys = [f"step:{s.step.key}" for s in judged(card, range_log()).steps]
        self.assertEqual(judged(card, range_log(entries=said(*keys))).act.kind, ALL_DONE)

    def test_squaring_the_display_asks_for_home_again(self) -> None:
        card = exact_card("pin_display")
        shot = end(1, 17.0, dial_mm=0.0)
        square = replace(said("step:square")[0], entered=NOON + timedelta(minutes=5))
        log = range_log(shot, entries=(*START, *said("step:figures"), square))
        self.assertEqual(judged(card, log).act.step and judged(card, log).act.step.key, "again")  # type: ignore[union-attr]
        later = end(2, 17.0, dial_mm=0.0, entered=NOON + timedelta(minutes=9))
        self.assertEqual(judged(card, replace(log, ends=(shot, later))).act.step.key, "far")  # type: ignore[union-attr]


class Dialled(unittest.TestCase):
    def far_marks(self, *things: End | Move) -> SightIn:
        return judged(exact_card("single_pin_slider"), range_log(*things, entries=(*START, *said("step:stop_up"))))

    def test_the_reading_to_dial_comes_from_the_fit(self) -> None:
        act = self.far_marks(end(1, 5.0, up_m=hits(3.0, 17.0, 5.0), dial_mm=20.0)).act
        self.assertEqual((act.kind, act.aim and act.aim.ranged_m), (SHOOT, 17.0))
        self.assertAlmostEqual(act.dial_mm or 0, 23.0, delta=0.6)

    def test_marks_half_way_out_then_where_it_gains_most(self) -> None:
        home = end(1, 17.0, dial_mm=20.0)
        act = self.far_marks(home).act
        self.assertEqual((act.step and act.step.kind, act.aim and act.aim.ranged_m), (MARKS, 47.0))
        far = 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 47.0))
        act = self.far_marks(home, end(2, 47.0, dial_mm=20.0 + far)).act
        self.assertEqual((act.step and act.step.kind, act.aim and act.aim.ranged_m), (MARKS, 78.0))

    def test_two_marks_and_the_target_is_what_matters(self) -> None:
        height = {d: 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, d)) for d in (47.0, 78.0)}
        ends = [end(n, d, dial_mm=20.0 + h) for n, (d, h) in enumerate(height.items(), 2)]
        act = self.far_marks(end(1, 17.0, dial_mm=20.0), *ends).act
        self.assertEqual(act.step and act.step.kind, CONFIRM)
        small = replace(GOALS, target_size_m=0.04)
        card = exact_card("single_pin_slider", goals=small)
        log = range_log(end(1, 17.0, dial_mm=20.0), *ends, entries=(*START, *said("step:marks", "step:stop_up")))
        act = judged(card, log).act
        self.assertEqual(act.step and act.step.kind, SETTLE)
        self.assertTrue(act.at and act.at.verdict.surely < 0.95)

    def test_a_display_is_asked_the_dot_of_its_own_distance(self) -> None:
        """After the far group every other dot is asked too, each with its own; nobody reads where a dot stands."""
        log = range_log(end(1, 17.0), entries=(*START, *said("step:figures", "step:square", "step:again")))
        act = judged(exact_card("pin_display"), log).act
        self.assertEqual((act.step and act.step.key, act.aim), ("far", Aim(2, 38.0)))
        self.assertIsNone(act.dial_mm)
        far = [end(n, 38.0, pin=2) for n in (2, 3)]
        entries = (*START, *said("step:figures", "step:square", "step:again"))
        card = exact_card("pin_display", goals=replace(GOALS, target_size_m=0.05))
        state = judged(card, range_log(end(1, 17.0), *far, entries=entries))
        self.assertEqual(state.act.step and state.act.step.kind, SETTLE)
        self.assertEqual(state.act.aim and state.act.aim.ranged_m, PINS_M[state.act.aim.pin if state.act.aim else 0])
        self.assertEqual([at.aim for at in state.aims], [Aim(0, 17.0), Aim(1, 26.0), Aim(2, 38.0)])

    def test_a_display_s_prediction_is_no_mark(self) -> None:
        log = range_log(end(1, 17.0), end(2, 38.0, pin=2, dial_mm=8.0))
        self.assertEqual([entry.mark_mm for entry in end_entries(exact_card("pin_display"), log)], [0.0])


class Stack(unittest.TestCase):
    def test_pins_that_will_not_fit_are_foreseen(self) -> None:
        card = exact_card(goals=replace(GOALS, pin_distances_m=(17.0, 38.0, 90.0, 120.0)))
        estimate = judged(card, range_log()).estimate
        assert estimate
        foreseen = stack(card, estimate.fit, estimate.distances)
        self.assertEqual([p.ranged_m for p in foreseen.beyond], [90.0, 120.0])
        self.assertEqual(foreseen.farthest_that_fits_m, 38.0)
        self.assertAlmostEqual(foreseen.top_above_middle_mm or 0, (foreseen.pins[1].below_mm or 0) / 2)

    def test_places_are_the_flight_s(self) -> None:
        """PHYSICS: pins 20/35/50 stand 0, 7.9681 and 17.2548 mm below the first."""
        goals = Goals(20.0, 78.0, 0.3, 0.1, 38.0, (), (20.0, 35.0, 50.0))
        card = exact_card(goals=goals)
        estimate = judged(card, range_log()).estimate
        assert estimate
        places = [p.below_mm or 0 for p in stack(card, estimate.fit, estimate.distances).pins]
        for shown, true in zip(places, (0.0, 7.9681, 17.2548)):
            self.assertAlmostEqual(shown, true, delta=0.02 * true + 1e-9)

    def test_out_of_reach_has_no_place(self) -> None:
        card = exact_card(goals=replace(GOALS, pin_distances_m=(17.0, 1500.0)))
        place = stack(card, judged(card, range_log()).estimate.fit, (17.0, 1500.0))  # type: ignore[union-attr]
        self.assertIsNone(place.pins[1].below_mm)


class Radius(unittest.TestCase):
    def test_ends_are_taken_about_their_own_middle(self) -> None:
        self.assertIsNone(mean_radius([]))
        near, far = end(1, 17.0), end(2, 17.0, right_m=0.2)
        self.assertAlmostEqual(mean_radius([near]) or 0, mean_radius([near, far]) or 1)

    def test_old_ends_are_told(self) -> None:
        card = ranged_card()
        log = range_log(end(1, 17.0))
        state = sight_in(card, log, evaluate(card, end_entries(card, log)), {"home": frozenset({2})})
        self.assertEqual((state.old_ends, state.shot_now, state.shot), (1, False, True))


class AnyRig(unittest.TestCase):
    """No rig that a card can describe brings the station down."""

    def test_slow_and_fast_bows_near_and_far_pins_every_kind(self) -> None:
        for kind in KINDS:
            for fps, pins in ((24.0, (17.0, 18.0, 140.0)), (110.0, (300.0, 390.0))):
                goals = replace(GOALS, pin_distances_m=pins)
                card = ranged_card(kind, chronograph=ChronographSession((fps, fps + 0.2)), goals=goals)
                shot = [end(1, 5.0, 0.3, -0.4, dial_mm=3.0), end(2, 17.0, 0.01, 0.0, dial_mm=1.0)]
                placed = moved(4, "pin", "pin", 0.0, pin=1, placed=True)
                with self.subTest(kind=kind, fps=fps, pins=pins):
                    made = judged(card, range_log(*shot, end(3, 140.0, pin=2), placed, entries=START))
                    self.assertTrue(made.act.kind)
                    for at in made.aims:
                        self.assertTrue(all(map(math.isfinite, (*at.standing.offset, *at.standing.sd))))

    def test_after_a_change_the_steps_are_open_again(self) -> None:
        card = exact_card()
        placed, now = moved(2, "pin", "pin", 0.0, pin=1, placed=True), frozenset({2})
        log = range_log(end(1, 17.0), placed, end(3, 26.0, pin=1), entries=START)
        state = sight_in(card, log, evaluate(card, end_entries(card, log)), {"home": now, "windage": now})
        self.assertEqual([s.step.key for s in state.steps if s.state], [])
