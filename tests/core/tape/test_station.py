import unittest
from dataclasses import replace
from unittest.mock import patch

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.level.station import level_state
from cross_staff.core.prepare.station import checklist_of
from cross_staff.core.rig.card import Goals, Mount, RigCard
from cross_staff.core.rig.sight import TapeSeat
from cross_staff.core.sight_in.log import RangeLog
from cross_staff.core.sight_in.station import sight_in
from cross_staff.core.stations import RigState, standings, tape_step
from cross_staff.core.tape.layout import Wanted, tape_layout
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.rigs import RIG_A, entry, full_card, true_mark


def marks(*distances: float, **wrong: float) -> list:
    """Sound marks at these distances; `at38=2.0` makes the one at 38 m wrong by 2 mm."""
    return [
        entry(n, d, round(true_mark(d) + wrong.get(f"at{d:g}", 0.0), 1), arrows=6)
        for n, d in enumerate(distances, start=1)
    ]


def codes(evaluation: Evaluation) -> dict[float, list[str]]:
    return {row.entry.ranged_m: [f.code for f in row.findings] for row in evaluation.rows if row.findings}


class Fitting(unittest.TestCase):
    def test_three_marks_make_a_tape_that_fits_elsewhere(self) -> None:
        card = full_card()
        evaluation = evaluate(card, marks(17.0, 47.0, 78.0))
        for distance in (26.0, 61.0, 95.0):
            row = evaluation.fit.tape([distance])[0]
            self.assertLess(abs(row.mark_mm - true_mark(distance)), 2.5 * row.sd_mm)
        self.assertEqual(codes(evaluation), {})
        self.assertGreaterEqual(evaluation.good_to_m, 95.0)

    def test_an_incomplete_card_says_what_is_missing(self) -> None:
        evaluation = evaluate(RigCard("new"), [])
        self.assertEqual(
            evaluation.missing, ("arrow", "chronograph", "eye_to_sight", "peep", "home", "farthest", "target_size")
        )
        self.assertIsNone(evaluation.fit)

    def test_eye_and_sight_are_told_apart(self) -> None:
        entries = marks(17.0, 47.0, 78.0)
        shifted = [replace(e, ranged_m=e.ranged_m + 0.82) for e in entries]
        goals = Goals(17.82, 95.82, 0.25, 0.10, 38.0)
        one = evaluate(full_card(), entries)
        other = evaluate(full_card(ranged_from="eye", goals=goals), shifted)
        self.assertAlmostEqual(one.fit.figures.speed_mps, other.fit.figures.speed_mps, places=6)
        self.assertAlmostEqual(other.turnover_m - one.turnover_m, 0.82, places=6)

    def test_where_only_the_zero_moved_one_fresh_mark_gives_the_whole_tape_back(self) -> None:
        knocked = [replace(each, mark_mm=each.mark_mm + 3.0) for each in marks(17.0, 47.0, 78.0)]
        home = replace(entry(4, 17.0, round(true_mark(17.0), 1), arrows=6), revision=2)
        spans, since = ((1, 2),), frozenset((2,))
        evaluation = evaluate(full_card(), [*knocked, home], since, spans=spans)
        plain = evaluate(full_card(), marks(17.0, 47.0, 78.0))
        self.assertEqual([row.zero for row in evaluation.rows], [2, 2, 2, 0])
        self.assertEqual(codes(evaluation), {17.0: ["span"], 47.0: ["span"], 78.0: ["span"]})
        for distance in (38.0, 61.0, 95.0):
            one, other = evaluation.fit.tape([distance])[0], plain.fit.tape([distance])[0]
            self.assertLess(abs(one.mark_mm - other.mark_mm), 0.5)
        alone = evaluate(full_card(), [home], since)
        self.assertLess(evaluation.fit.tape([95.0])[0].sd_on_target_m, 0.5 * alone.fit.tape([95.0])[0].sd_on_target_m)
        self.assertGreater(evaluation.good_to_m, alone.good_to_m or 0.0)

    def test_spans_say_nothing_while_nothing_was_shot_since(self) -> None:
        evaluation = evaluate(full_card(), marks(17.0, 47.0, 78.0), frozenset((2,)), spans=((1, 2),))
        self.assertEqual((evaluation.used, len(evaluation.old), evaluation.good_enough), ((), 3, False))
        self.assertIsNone(evaluation.good_to_m)

    def test_a_single_old_mark_has_no_span(self) -> None:
        home = replace(entry(2, 17.0, round(true_mark(17.0), 1), arrows=6), revision=2)
        evaluation = evaluate(full_card(), [*marks(47.0), home], frozenset((2,)), spans=((1, 2),))
        self.assertEqual([row.used for row in evaluation.rows], [False, True])

    def test_from_speed_alone_the_home_mark_comes_first(self) -> None:
        evaluation = evaluate(full_card(), [])
        self.assertIsNotNone(evaluation.fit)
        self.assertIsNone(evaluation.next_shot)
        self.assertEqual(tape_step(full_card(), evaluation).code, "shoot_home")

    def test_the_home_mark_shares_a_nearer_distance(self) -> None:
        evaluation = evaluate(full_card(), marks(17.0))
        self.assertLess(evaluation.home_partner_m, evaluation.turnover_m)
        self.assertIsNone(evaluate(full_card(goals=Goals(8.0, 60.0, 0.3)), []).home_partner_m)

    def test_printed_ticks_start_from_home(self) -> None:
        card = full_card()
        home = tape_layout(card, evaluate(card, marks(17.0, 61.0)), Wanted(17.0, 95.0))
        self.assertEqual((home.ticks[0].count, home.ticks[-1].count), (17, 95))
        self.assertAlmostEqual(home.ticks[0].position_mm, 0.0, places=6)


class Findings(unittest.TestCase):
    def test_a_slip_of_the_pen_is_suspect(self) -> None:
        evaluation = evaluate(full_card(), marks(17.0, 26.0, 38.0, 47.0, 61.0, at38=3.0))
        self.assertIn("suspect", codes(evaluation)[38.0])
        self.assertEqual(evaluation.suspect.entry.ranged_m, 38.0)
        self.assertTrue(evaluation.doubtful)

    def test_leaving_it_out_is_the_technicians_choice(self) -> None:
        entries = marks(17.0, 26.0, 38.0, 47.0, 61.0, at38=3.0)
        entries[2] = replace(entries[2], left_out=True)
        evaluation = evaluate(full_card(), entries)
        self.assertEqual(codes(evaluation), {38.0: ["left_out"]})
        self.assertFalse(evaluation.doubtful)

    def test_two_marks_at_one_distance_that_disagree(self) -> None:
        evaluation = evaluate(full_card(), [*marks(17.0, 38.0), entry(3, 38.0, true_mark(38.0) + 2.5, arrows=6)])
        self.assertIn("disagrees_with", [c for row in evaluation.rows for c in [f.code for f in row.findings]])
        self.assertEqual(len(evaluation.used), 3)

    def test_two_marks_at_one_distance_within_chance(self) -> None:
        evaluation = evaluate(full_card(), [*marks(17.0, 38.0), entry(3, 38.0, true_mark(38.0) + 0.3, arrows=6)])
        self.assertEqual(codes(evaluation), {})

    def test_inside_the_turnover_and_out_of_reach(self) -> None:
        evaluation = evaluate(full_card(), [*marks(17.0, 8.0, 61.0), entry(4, 199.0, 150.0, up_m=3.0)])
        self.assertEqual(codes(evaluation)[8.0], ["inside_turnover"])
        slow = full_card(chronograph=replace(full_card().chronograph, readings_mps=(30.0,)))
        far = evaluate(slow, [entry(1, 17.0, 20.0), entry(2, 190.0, 90.0)])
        self.assertEqual(codes(far)[190.0], ["out_of_reach"])
        self.assertEqual(len(far.used), 1)

    def test_two_rows_swapped_and_a_scale_read_backwards(self) -> None:
        swapped = marks(17.0, 26.0, 38.0, 47.0, 61.0)
        swapped[1], swapped[2] = (
            replace(swapped[1], mark_mm=swapped[2].mark_mm),
            replace(swapped[2], mark_mm=swapped[1].mark_mm),
        )
        self.assertIn("wrong_way", codes(evaluate(full_card(), swapped))[38.0])
        falling = [replace(e, mark_mm=100.0 - e.mark_mm) for e in marks(17.0, 47.0, 78.0)]
        evaluation = evaluate(full_card(), falling)
        self.assertTrue(evaluation.scale_runs_backwards)
        other_way = evaluate(full_card(tape=TapeSeat(scale_grows=False)), falling)
        self.assertFalse(other_way.scale_runs_backwards)
        self.assertGreaterEqual(other_way.good_to_m, 95.0)

    def test_old_marks_are_set_aside(self) -> None:
        evaluation = evaluate(full_card(), marks(17.0, 61.0), holds=frozenset({2}))
        self.assertEqual(codes(evaluation), {17.0: ["old"], 61.0: ["old"]})
        self.assertEqual(tape_step(full_card(), evaluation).code, "marks_old")
        card = full_card()
        shot = sight_in(card, RangeLog(), evaluation)
        state = RigState(card, evaluation, checklist_of(card, []), (), level_state(card, [], []), shot)
        self.assertEqual(
            [each.state for each in standings(state)], ["done", "due", "done", "blocked", "stale", "stale", "blocked"]
        )


class Small(unittest.TestCase):
    """What is seen at its edge."""

    def test_a_pair_disagrees_beyond_three_sds_of_both(self) -> None:
        for apart, said in ((1.2, False), (1.7, True)):
            pair = [entry(1, 47.0, true_mark(47.0)), entry(2, 47.0, true_mark(47.0) + apart, up_m=0.0, arrows=3)]
            self.assertEqual("disagrees_with" in codes(evaluate(full_card(), pair)).get(47.0, []), said)

    def test_half_a_millimetre_back_is_the_wrong_way(self) -> None:
        back = [entry(1, 47.0, 40.0), entry(2, 61.0, 39.5)]
        self.assertIn("wrong_way", codes(evaluate(full_card(), [*back, entry(3, 17.0, 20.0)]))[61.0])

    def test_the_next_shot_is_looked_for_from_beyond_the_turnover_to_the_farthest(self) -> None:
        with patch("cross_staff.core.tape.station.next_shot", return_value=None) as looked:
            evaluation = evaluate(full_card(), marks(17.0, 47.0))
            candidates = looked.call_args.args[1]
        first = max(5.0, evaluation.turnover_m)
        self.assertEqual(candidates, [float(d) for d in range(int(first) + 1, 96)])

    def test_a_mark_that_was_sighted_in_and_a_group(self) -> None:
        fit = evaluate(full_card(), [entry(1, 17.0, 20.0), entry(2, 47.0, true_mark(47.0), up_m=0.0)]).fit
        self.assertEqual([each.kind for each in fit.observations], ["mark", "group"])


class WhatAMarkWouldDo(unittest.TestCase):
    def test_a_residual_is_said_as_what_it_would_shoot(self) -> None:
        """Dialled to the mark as it was written, the fit's arrow comes in so much low or high: flown."""
        evaluation = evaluate(full_card(), marks(17.0, 38.0, 61.0, 78.0, at61=1.5))
        fit = evaluation.fit
        for row in evaluation.used:
            written = row.entry.mark_mm
            height = pin_height(fit.figures, 17.0) - (written - fit.mark_zero_mm.value) / 1000.0
            flown = float(impact_heights(fit.figures, height, row.entry.ranged_m)[0])
            self.assertAlmostEqual(row.target_m, flown, delta=2e-3 + 0.01 * abs(flown))
        worst = max(evaluation.used, key=lambda row: row.target_m)
        self.assertEqual(worst.entry.ranged_m, 61.0)
        self.assertGreater(worst.target_m, 0.05)


class WhereNext(unittest.TestCase):
    def test_never_beyond_where_the_sight_ends(self) -> None:
        """Thirty millimetres of travel from home: the next group is asked for within them, not at the farthest."""
        free = evaluate(full_card(), marks(17.0, 26.0, 38.0))
        short = full_card()
        short = replace(short, sight=replace(short.sight, slider_travel_mm=30.0), mount=Mount(home="top"))
        bound = evaluate(short, marks(17.0, 26.0, 38.0))
        self.assertGreater(free.next_shot.distance_m, 75.0)
        self.assertLess(bound.next_shot.distance_m, 72.0)
        self.assertGreater(1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, bound.next_shot.distance_m)), 25.0)

    def test_a_whole_distance_in_the_unit_that_the_tape_is_printed_in(self) -> None:
        """As the archer ranges it, from the eye or the sight."""
        for unit in (1.0, 0.9144):
            for ranged_from in ("sight", "eye"):
                card = full_card(ranged_from=ranged_from, tape=TapeSeat(unit_m=unit))
                at = evaluate(card, marks(17.0)).next_shot.distance_m / unit
                self.assertAlmostEqual(at, round(at), places=6, msg=(unit, ranged_from))
                self.assertGreater(at * unit, 60.0)


class NextSteps(unittest.TestCase):
    def step(self, entries: list, **card: object) -> str:
        rig = full_card(**card)
        return tape_step(rig, evaluate(rig, entries)).code

    def test_the_most_pressing_comes_first(self) -> None:
        self.assertEqual(self.step([], eye_to_sight_m=None), "eye_to_sight")
        self.assertEqual(self.step(marks(17.0)), "shoot_next")
        self.assertEqual(self.step(marks(17.0, 26.0, 38.0, 47.0, 61.0, at38=3.0)), "look_again")
        self.assertEqual(self.step(marks(17.0, 47.0, 78.0, 95.0)), "print_tape")
        falling = [replace(e, mark_mm=-e.mark_mm) for e in marks(17.0, 47.0, 78.0)]
        self.assertEqual(self.step(falling), "scale_backwards")

    def test_the_far_end_gains_most_after_home(self) -> None:
        rig = full_card()
        evaluation = evaluate(rig, marks(17.0))
        self.assertGreater(evaluation.next_shot.distance_m, 60.0)
        self.assertLess(evaluation.next_shot.sd_at_farthest_m_then, evaluation.next_shot.sd_at_farthest_m_now)
        self.assertGreater(evaluation.then_good_to_m, evaluation.good_to_m)
