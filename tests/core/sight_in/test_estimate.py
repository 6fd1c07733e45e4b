"""What the log of the range comes to: movements taken out, pins told apart, every end into the tape."""

import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import Goals
from cross_staff.core.rig.sight import TapeSeat
from cross_staff.core.sight_in.acts import SightIn
from cross_staff.core.sight_in.checks import check_end
from cross_staff.core.sight_in.dispersion import pooled_dispersion
from cross_staff.core.sight_in.estimate import same_distance
from cross_staff.core.sight_in.log import End, Move, RangeLog, RangeSession
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.procedures import dialled_pin, pins_of
from cross_staff.core.sight_in.station import sight_in
from cross_staff.core.tape.station import evaluate
from tests.ends import GOALS, PINS_M, believed, drawn, end, exact_card, hits, moved, range_log, ranged_card, said
from tests.rigs import NOON, RIG_A


class SpreadOfAnArcher(unittest.TestCase):
    def test_ends_at_all_distances_together(self) -> None:
        generator = np.random.default_rng(3)
        card = ranged_card(goals=replace(GOALS, group_size_m=None))
        ends = [
            end(n, d, shots=drawn(generator, 0.1, 0.2, 1.3e-3 * d, 6)) for n, d in enumerate((17.0, 38.0, 61.0) * 20)
        ]
        together = pooled_dispersion(card, ends)
        self.assertAlmostEqual(together.mrad, 1.3, 1)
        self.assertEqual((together.freedom, together.known), (None, True))

    def test_the_card_s_usual_group_is_counted_in(self) -> None:
        card = ranged_card()
        self.assertAlmostEqual(pooled_dispersion(card, []).mrad, card.goals.spread_mrad or 0.0)
        self.assertEqual(pooled_dispersion(card, []).freedom, 10)

    def test_nothing_known(self) -> None:
        card = ranged_card(goals=replace(GOALS, group_size_m=None))
        self.assertFalse(pooled_dispersion(card, []).known)


class AfterAnEvent(unittest.TestCase):
    """A knock moved all pins together by as much: one end tells of all of them."""

    CARD = exact_card()
    HOLDS = {"home": frozenset((2,)), "windage": frozenset((1, 2))}

    def stands(self, *since: End | Move) -> SightIn:
        ends = [end(10 * pin + n, d, pin=pin, up_m=hits(0.0, d, d)) for pin, d in enumerate(PINS_M) for n in (1, 2)]
        log = range_log(*ends, *since, entries=said("close"))
        pins = pins_of(self.CARD, log.chosen)
        evaluation = evaluate(self.CARD, end_entries(self.CARD, log), frozenset((2,)), pins, ((1, 2),))
        return sight_in(self.CARD, log, evaluation, self.HOLDS, spans={1: 2})

    def test_nothing_is_known_before_an_arrow_is_shot(self) -> None:
        told = self.stands()
        self.assertEqual((told.shot_now, told.old_ends), (False, 2 * len(PINS_M)))

    def test_one_end_tells_of_all_pins(self) -> None:
        low = end(50, PINS_M[0], up_m=hits(-3.0, PINS_M[0], PINS_M[0]), revision=2)
        told = self.stands(low)
        self.assertEqual(told.old_ends, 0)
        for pin in range(1, len(PINS_M)):
            mean, sd = told.estimate.up.of(told.estimate.weights(pin))
            self.assertAlmostEqual(mean, 3.0, delta=0.25)
            self.assertLess(sd, 1.0)

    def test_put_back_with_the_gang_no_pin_is_asked_again(self) -> None:
        low = [end(n, PINS_M[0], up_m=hits(-3.0, PINS_M[0], PINS_M[0]), revision=2) for n in (50, 51)]
        gang = moved(60, "gang", "gang_elevation", 3.0)
        right = end(70, PINS_M[0], up_m=hits(0.0, PINS_M[0], PINS_M[0]), revision=2)
        told = self.stands(*low, replace(gang, revision=2), right)
        means = [abs(told.estimate.up.of(told.estimate.weights(pin))[0]) for pin in range(len(PINS_M))]
        self.assertLess(max(means), 0.5)
        again = {step.step.key for step in told.steps if step.state == "done" and step.aim is not None}
        fresh = self.stands(right)
        self.assertGreaterEqual(len(again), len([s for s in fresh.steps if s.state == "done" and s.aim is not None]))


class Dialled(unittest.TestCase):
    """What bringing the dial back to home takes off."""

    def end_at(self, kind: str, dial_mm: float):  # type: ignore[no-untyped-def]
        home = [end(n, 17.0, dial_mm=20.0) for n in (1, 2)]
        away = end(3, 26.0, pin=1, dial_mm=dial_mm)
        return believed(exact_card(kind), range_log(*home, away)), away

    def test_a_pin_that_was_shot_with_the_dial_away_from_home_says_nothing_of_its_place(self) -> None:
        for kind, counts in (("multi_pin_slider", True), ("multi_pin_slider", False)):
            estimate, away = self.end_at(kind, 20.0 if counts else 24.0)
            self.assertEqual(estimate.to_go_mm(away, 1) is not None, counts or estimate.by_wheel)

    def test_where_the_wheel_finds_home_it_is_taken_off(self) -> None:
        """The same end with the dial four millimetres farther: its pin stood four millimetres lower."""
        (level, one), (lower, two) = (self.end_at("vertical_pin_slider", dial) for dial in (20.0, 24.0))
        self.assertTrue(level.by_wheel)
        ratio, direction = level.fit.tape_ratio, level.card.tape.direction
        home = level.home_dial_mm, lower.home_dial_mm
        expected = -direction * (4.0 - (home[1] - home[0])) / ratio
        self.assertAlmostEqual(lower.to_go_mm(two, 1)[0] - level.to_go_mm(one, 1)[0], expected, delta=0.15)


class Geared(unittest.TestCase):
    def test_each_pin_moves_with_the_spread_in_its_part(self) -> None:
        """The lowest as much as the spread says, the top not at all, those between by their place."""
        estimate = believed(exact_card("geared_stack"), range_log(end(1, 17.0)))
        parts = [estimate.weights(pin)["spread"] for pin in range(3)]
        self.assertEqual((parts[0], parts[2]), (0.0, 1.0))
        self.assertAlmostEqual(parts[1], estimate.below_mm(1) / estimate.below_mm(2))
        self.assertEqual([estimate.weights(pin)["stack"] for pin in range(3)], [1.0] * 3)

    def test_a_pin_out_of_reach_is_nowhere(self) -> None:
        far = exact_card("geared_stack", goals=replace(GOALS, pin_distances_m=(17.0, 26.0, 1500.0)))
        self.assertEqual(believed(far, range_log(end(1, 17.0))).below_mm(2), 0.0)


class Windage(unittest.TestCase):
    def test_one_offset_from_every_distance(self) -> None:
        card = exact_card()
        ends = (end(n + 1, d, right_m=1e-3 * (0.82 + d) / 0.82, pin=n) for n, d in enumerate(PINS_M))
        log = range_log(*ends)
        mean, sd = believed(card, log).right.of({"right": 1.0})
        self.assertAlmostEqual(mean, 1.0, 2)
        self.assertLess(sd, 0.8 * 0.82 / np.sqrt(18) * 1.1)

    def test_the_sights_movement_is_taken_out(self) -> None:
        card, far = exact_card(), 17.82 / 0.82
        log = range_log(end(1, 17.0, right_m=3e-3 * far), moved(2, "Windage micro", "windage", 60.0, "click"),
                        end(3, 17.0, right_m=0.0))  # fmt: skip
        mean, sd = believed(card, log).right.of({"right": 1.0})
        self.assertAlmostEqual(mean, 0.0, 1)
        alone = believed(card, range_log(end(3, 17.0))).right.of({"right": 1.0})[1]
        self.assertLess(sd, 0.8 * alone)  # both ends count

    def test_wind_that_was_written_down_makes_it_less_sure_and_moves_nothing(self) -> None:
        card = exact_card()
        calm = believed(card, range_log(end(1, 38.0, right_m=0.02)))
        windy = believed(
            card, range_log(end(1, 38.0, right_m=0.02), session=RangeSession(1, 1, NOON, crosswind_mps=4.0))
        )
        self.assertAlmostEqual(calm.right.of({"right": 1.0})[0], windy.right.of({"right": 1.0})[0], 3)
        self.assertGreater(windy.right.of({"right": 1.0})[1], 2 * calm.right.of({"right": 1.0})[1])
        self.assertGreater(windy.drift_m(windy.log.ends[0]), 0.0)

    def test_a_ragged_session_counts_half_or_not_at_all(self) -> None:
        card = exact_card()
        sds = []
        for counts in ("full", "half"):
            log = range_log(end(1, 17.0), session=RangeSession(1, 1, NOON, counts=counts))
            sds.append(believed(card, log).right.of({"right": 1.0})[1])
        self.assertAlmostEqual(sds[1] / sds[0], np.sqrt(2.0), 2)
        none = believed(card, range_log(end(1, 17.0), session=RangeSession(1, 1, NOON, counts="none")))
        self.assertEqual(none.counted, ())


class Heights(unittest.TestCase):
    def test_a_pin_s_error_is_found_from_close_in(self) -> None:
        card = exact_card()
        for off in (-4.0, 2.5):
            log = range_log(end(1, 5.0, up_m=hits(off, 17.0, 5.0)))
            up = believed(card, log).up
            assert up is not None
            mean, sd = up.of({"pin0": 1.0})
            self.assertAlmostEqual(mean, -off, delta=2.0 * sd)
            self.assertLess(sd, 1.2)

    def test_a_far_miss_goes_by_the_flight_itself(self) -> None:
        """Half a metre off at 38 m: the straight lever would be a third of a millimetre wrong."""
        card = exact_card()
        log = range_log(end(1, 38.0, up_m=hits(-11.0, 38.0, 38.0), pin=2))
        to_go_mm = believed(card, log).to_go_mm(log.ends[0], 2)
        assert to_go_mm
        self.assertAlmostEqual(to_go_mm[0], 11.0, delta=0.05)

    def test_moving_the_housing_moves_every_pin_moving_one_only_that(self) -> None:
        card = exact_card()
        ends = (end(1, 17.0, up_m=hits(2.0, 17.0, 17.0)), end(2, 26.0, up_m=hits(-1.0, 26.0, 26.0), pin=1))
        log = range_log(
            *ends, moved(3, "Housing, up and down", "gang_elevation", -2.0), moved(4, "Pin screw", "pin", 3.0, pin=1)
        )
        up = believed(card, log).up
        assert up is not None
        self.assertAlmostEqual(up.of({"pin0": 1.0})[0], 0.0, 1)
        self.assertAlmostEqual(up.of({"pin1": 1.0})[0], 0.0, 1)

    def test_a_geared_stack_has_two_unknowns_for_all_pins(self) -> None:
        card = exact_card("geared_stack")
        below = 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 38.0))
        between = 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 26.0))
        # a spread that is a tenth too wide puts each pin too low, in proportion
        log = range_log(end(1, 17.0), end(2, 38.0, up_m=hits(-0.1 * below, 38.0, 38.0), pin=2))
        estimate = believed(card, log)
        assert estimate.up is not None
        self.assertAlmostEqual(estimate.up.of(estimate.weights(2))[0], 0.1 * below, delta=0.15)
        self.assertAlmostEqual(estimate.up.of(estimate.weights(1))[0], 0.1 * between, delta=0.15)

    def test_a_wheel_that_finds_home_leaves_the_height_to_the_fit(self) -> None:
        estimate = believed(exact_card("single_pin_slider"), range_log(end(1, 17.0, dial_mm=12.0)))
        self.assertIsNone(estimate.up)
        self.assertAlmostEqual(estimate.fitted_mark(17.0)[0], 12.0, 1)  # type: ignore[index]

    def test_what_was_shot_before_the_rig_changed_is_not_counted(self) -> None:
        card = exact_card()
        log = range_log(end(1, 17.0, right_m=0.05), end(2, 17.0, revision=2))
        fit = evaluate(card, ()).fit
        assert fit is not None
        from cross_staff.core.sight_in.estimate import AimEstimate

        old = {"windage": frozenset({2}), "home": frozenset({2})}
        self.assertAlmostEqual(AimEstimate(card, log, fit, old).right.of({"right": 1.0})[0], 0.0, 2)


class IntoTheTape(unittest.TestCase):
    def test_every_end_feeds_the_fit_and_need_not_be_centred(self) -> None:
        card = exact_card("single_pin_slider")
        far = 1000 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 61.0))
        log = range_log(end(1, 17.0, dial_mm=10.0), end(2, 61.0, up_m=hits(1.0, 61.0, 61.0), dial_mm=10.0 + far - 1.0))
        evaluation = evaluate(card, end_entries(card, log))
        self.assertEqual([row.entry.from_range for row in evaluation.used], [True, True])
        assert evaluation.fit is not None
        self.assertAlmostEqual(evaluation.fit.tape([61.0])[0].mark_mm or 0, 10.0 + far, delta=0.3)

    def test_an_end_before_the_housing_moved_is_brought_to_now(self) -> None:
        card = exact_card("multi_pin_slider")
        log = range_log(end(1, 17.0, dial_mm=0.0), moved(2, "Housing, up and down", "gang_elevation", 3.0),
                        entries=said("choose:dialled", choice="near"))  # fmt: skip
        (entry,) = end_entries(card, log)
        self.assertAlmostEqual(entry.mark_mm, 3.0)
        self.assertGreater(entry.reading_sd_mm or 0, 0.15)

    def test_the_scale_s_own_way_is_kept(self) -> None:
        seat = TapeSeat(scale_grows=False)
        card = exact_card("multi_pin_slider")
        card = replace(card, sight=replace(card.sight, tape=seat))
        log = range_log(end(1, 17.0, dial_mm=50.0), moved(2, "Housing, up and down", "gang_elevation", 3.0),
                        entries=said("choose:dialled", choice="near"))  # fmt: skip
        self.assertAlmostEqual(end_entries(card, log)[0].mark_mm, 47.0)

    def test_pins_at_different_heights_share_one_flight(self) -> None:
        card = exact_card("multi_pin_slider")
        log = range_log(end(1, 38.0, dial_mm=0.0, pin=2), end(2, 17.0, dial_mm=0.0))
        self.assertEqual(dialled_pin(card, log.chosen), 2)
        far, near = end_entries(card, log)
        self.assertEqual([(far.pin, far.mark_mm), (near.pin, near.mark_mm)], [(2, 0.0), (0, 0.0)])
        evaluation = evaluate(card, (far, near), pins=pins_of(card, log.chosen))
        self.assertAlmostEqual(evaluation.tape_home_m or 0.0, 38.0, delta=0.3)  # where the far pin's tape begins
        mark = believed(card, log).fitted_mark(38.0)
        assert mark
        self.assertAlmostEqual(mark[0], 0.0, delta=0.1)

    def test_a_pin_s_own_movement_shifts_its_marks(self) -> None:
        card = exact_card("multi_pin_slider")
        log = range_log(end(1, 38.0, dial_mm=5.0, pin=2), moved(2, "Pin screw", "pin", 1.0, pin=2))
        self.assertAlmostEqual(end_entries(card, log)[0].mark_mm, 6.0)

    def test_what_says_nothing_of_the_tape_stays_out(self) -> None:
        card = exact_card("multi_pin_slider")
        unranged, no_dial = end(1, 17.0, dial_mm=1.0), end(2, 38.0, pin=2)
        log = RangeLog((), (replace(unranged, ranged_m=None), no_dial, end(3, 38.0, dial_mm=0.0, pin=2, shots=())))
        self.assertEqual(end_entries(card, log), ())


class Bad(unittest.TestCase):
    def test_an_end_that_cannot_be(self) -> None:
        for wrong, field in ((end(1, 500.0), "distance"), (end(1, 17.0, pin=7), "pin")):
            with self.assertRaises(ValueError) as caught:
                check_end(wrong, 3)
            self.assertEqual(caught.exception.field, field)  # type: ignore[attr-defined]
        check_end(replace(end(1, 17.0), ranged_m=None), 3)
        check_end(replace(end(1, 18.0), pin=7), 3, end(1, 17.0, pin=7))  # shot with a pin that the sight had then

    def test_the_same_distance(self) -> None:
        self.assertTrue(same_distance(37.9, 38.0))
        self.assertFalse(same_distance(36.0, 38.0))
        self.assertEqual(PINS_M, Goals(pin_distances_m=PINS_M).pin_distances_m)
