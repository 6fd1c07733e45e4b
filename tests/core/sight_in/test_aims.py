import math
import unittest
from collections.abc import Sequence
from dataclasses import replace

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.aims import Aim, Aims, mean_radius
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import End, Move, RangeLog
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.procedures import dialled_pin, pins_of
from cross_staff.core.tape.station import evaluate
from tests.ends import GOALS, end, exact_card, moved, range_log, said

DIAL = 30.0


def aims(card: RigCard, log: RangeLog) -> Aims:
    evaluation = evaluate(card, end_entries(card, log), pins=pins_of(card, log.chosen))
    assert evaluation.fit is not None
    return Aims(card, log, evaluation, AimEstimate(card, log, evaluation.fit))


def shot_at(*distances: float, pin: int = 0, arrows: int = 6) -> list[End]:
    """Ends that came in on their mark."""
    ends = [end(n + 1, d, pin=pin, dial_mm=DIAL + 0.5 * d) for n, d in enumerate(distances)]
    return [replace(each, shots=each.shots[:arrows]) for each in ends]


class Radius(unittest.TestCase):
    def test_two_and_three_about_their_own_middle(self) -> None:
        """Two 10 mm apart, brought to a large group by sqrt(2): 7.07 mm each; three on a line 10 mm apart,
        by sqrt(3/2): 20/3 mm on the mean, 8.16."""
        two = end(1, 17.0, shots=tuple(Shot(x, 0.0, False, str(x)) for x in (0.0, 0.010)))
        three = end(2, 17.0, shots=tuple(Shot(0.0, y, False, str(y)) for y in (0.0, 0.010, 0.020)))
        self.assertIsNone(mean_radius([two]))
        expected = (0.010 * math.sqrt(2.0) + 0.020 * math.sqrt(1.5)) / 5.0
        self.assertAlmostEqual(mean_radius([two, three]), expected)
        lone = replace(two, shots=two.shots[:1])
        self.assertAlmostEqual(mean_radius([two, three, lone]), expected)


class What(unittest.TestCase):
    def settled(self, kind: str, *entries: object, ends: Sequence[End] = ()) -> list[tuple[int, float, bool]]:
        log = range_log(*ends, entries=entries)  # type: ignore[arg-type]
        return [(aim.pin, aim.ranged_m, aim.dialled) for aim in aims(exact_card(kind), log).settled_aims()]

    def test_every_pin_is_settled_and_of_a_display_each_dot_or_the_computing(self) -> None:
        pins = [(0, 17.0, False), (1, 26.0, False), (2, 38.0, False)]
        self.assertEqual(self.settled("fixed_pins"), pins)
        by_hand = self.settled("pin_display", *said("choose:dots", choice="by_hand"))
        self.assertEqual([pin for pin, _, _ in by_hand], [0, 1, 2])
        computed = self.settled("pin_display", *said("choose:dots", choice="computed"))
        self.assertEqual([pin for pin, _, _ in computed], [0, 1, 2])

    def test_a_dialled_mark_far_enough_beyond_home_is_settled_too(self) -> None:
        for far, there in ((18.0, False), (19.0, True), (61.0, True)):
            made = self.settled("single_pin_slider", ends=shot_at(17.0, far))
            self.assertEqual((0, far, True) in made, there, far)


class Circle(unittest.TestCase):
    def test_what_he_said_else_half_as_much_again_as_usual(self) -> None:
        """A card's group of 0.33 m at 50 m: 2 mrad, whose mean radius is 1.2533 times that."""
        goals = replace(GOALS, group_size_m=0.33, group_at_m=50.0)
        usual = aims(exact_card(goals=goals), range_log(end(1, 17.0)))
        pooled = usual.estimate.spread.mrad * 1e-3  # his card, and what he shot
        self.assertAlmostEqual(usual.circle(34.0), 1.5 * math.sqrt(math.pi / 2.0) * pooled * 34.0)
        entries = said("circle", number=0.12)
        stated = aims(exact_card(goals=goals), range_log(end(1, 17.0), entries=entries))
        self.assertAlmostEqual(stated.circle(17.0), 0.06)
        self.assertAlmostEqual(stated.circle(34.0), 0.12)
        nine_inches = said("circle", number=0.12, choice="size")
        stays = aims(exact_card(goals=goals), range_log(end(1, 17.0), entries=nine_inches))
        self.assertEqual([stays.circle(d) for d in (17.0, 34.0)], [0.06, 0.06])

    def test_a_walk_out_goes_by_steps_and_no_farther_than_the_groups_reach(self) -> None:
        goals = replace(GOALS, pin_distances_m=(17.0,), distances_m=(), farthest_m=110.0)
        card = exact_card("single_pin_slider", goals=goals)
        for entries, expected in (
            ((), 53.0),  # half way to where its tape's seat ends
            (said("circle", number=0.2), 34.0),
        ):
            self.assertEqual(aims(card, range_log(*shot_at(17.0), entries=entries)).next_mark(), expected)
        small = aims(card, range_log(*shot_at(17.0, 34.0), entries=said("circle", number=0.1, choice="size")))
        self.assertAlmostEqual(small.groups_reach_m(), 0.05 / (1.2533 * 1e-3 * small.estimate.spread.mrad), delta=0.1)
        self.assertLessEqual(small.next_mark(), small.groups_reach_m() + 0.5)


class Marks(unittest.TestCase):
    def test_which_marks_count_as_shot(self) -> None:
        """Beyond a tenth past the pin's own distance, with six arrows in all, by the dialled pin."""
        card = exact_card("single_pin_slider", goals=replace(GOALS, pin_distances_m=(17.0,)))
        self.assertEqual(aims(card, range_log(*shot_at(17.0, 18.0, 19.0, 30.0))).marks_shot(), [19.0, 30.0])
        self.assertEqual(aims(card, range_log(*shot_at(17.0, 30.0, arrows=3))).marks_shot(), [])
        self.assertEqual(aims(card, range_log(*shot_at(30.0, 30.0, arrows=3))).marks_shot(), [30.0])
        other = [replace(e, pin=2) for e in shot_at(30.0)]
        self.assertEqual(aims(card, range_log(*shot_at(17.0), *other)).marks_shot(), [])

    def test_where_the_next_one_is_shot(self) -> None:
        """Half way out, 47.5 m, is nearest to the stake at 47; then one that was begun is finished."""
        goals = replace(GOALS, pin_distances_m=(17.0,), distances_m=(17.0, 18.0, 26.0, 38.0, 47.0, 61.0, 78.0))
        card = exact_card("single_pin_slider", goals=goals)
        self.assertEqual(aims(card, range_log(*shot_at(17.0))).next_mark(), 47.0)
        self.assertEqual(aims(card, range_log(*shot_at(17.0), *shot_at(26.0, arrows=3))).next_mark(), 26.0)
        near = replace(goals, distances_m=(17.0, 18.0, 26.0), farthest_m=26.0)
        self.assertEqual(aims(exact_card("single_pin_slider", goals=near), range_log(*shot_at(17.0))).next_mark(), 26.0)
        without = replace(goals, distances_m=())
        self.assertEqual(
            aims(exact_card("single_pin_slider", goals=without), range_log(*shot_at(17.0))).next_mark(), 48.0
        )


class Heights(unittest.TestCase):
    def test_a_geared_stack_moves_by_its_ends(self) -> None:
        made = aims(exact_card("geared_stack"), range_log(end(1, 17.0)))
        moves = [drive and drive.moves for drive in (made.movement(Aim(pin, 20.0)) for pin in (0, 1, 2))]
        self.assertEqual(moves, ["gang_elevation", None, "spread"])

    def test_what_nothing_is_known_of(self) -> None:
        made = aims(exact_card("single_pin_slider"), range_log(*shot_at(17.0)))
        height, sd = made.height(Aim(0, 17.0, True))
        self.assertEqual(height, 0.0)
        self.assertLess(sd, 1.0)
        self.assertEqual(made.height(Aim(0, 5000.0, True)), (0.0, 40.0))


class Brought(unittest.TestCase):
    """Ends as marks, brought to where the sight stands now."""

    def test_a_control_that_is_not_on_the_sight_any_more_moved_what_it_says(self) -> None:
        card = exact_card("single_pin_slider")
        first = shot_at(17.0)[0]
        after = moved(2, "an old knob", "gang_elevation", 3.0)
        plain, shifted = (end_entries(card, range_log(first, *more))[0].mark_mm for more in ((), (after,)))
        self.assertAlmostEqual(shifted - plain, 3.0 * card.tape.direction)

    def test_only_what_moved_this_pin_and_later(self) -> None:
        card = exact_card("multi_pin_slider")
        first = shot_at(17.0)[0]

        def brought(*moves: Move) -> float:
            return end_entries(card, range_log(replace(first, order=5), *moves))[0].mark_mm - first.dial_mm

        self.assertEqual(brought(moved(2, "an old knob", "gang_elevation", 3.0)), 0.0)
        self.assertEqual(brought(moved(7, "an old screw", "pin", 3.0, pin=1)), 0.0)
        self.assertAlmostEqual(abs(brought(moved(7, "an old screw", "pin", 3.0, pin=0))), 3.0)

    def test_a_sight_with_one_pin_dials_it(self) -> None:
        for kind in ("single_pin_slider", "multi_pin_slider"):
            for pins in ((), (17.0,)):
                card = exact_card(kind, goals=replace(GOALS, pin_distances_m=pins))
                self.assertEqual(dialled_pin(card, {"dialled": "far"}), 0, (kind, pins))
        self.assertEqual(dialled_pin(exact_card("multi_pin_slider"), {"dialled": "far"}), 2)
        self.assertEqual(dialled_pin(exact_card("multi_pin_slider"), {"dialled": "near"}), 0)
