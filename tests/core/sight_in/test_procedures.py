"""Procedures as data: every kind is whole, every school leads somewhere."""

import string
import unittest
from dataclasses import replace
from itertools import product

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import Goals, Mount
from cross_staff.core.rig.procedure import PLACE, SETTLE, SHOOT
from cross_staff.core.rig.schools import QUESTIONS
from cross_staff.core.rig.sight import Housing, Pin
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.procedures import answers, pin_distances, questions, steps
from tests.rigs import TEMPLATES, full_card

NUMBERS = {"pin", "at", "home", "far", "place", "centre", "reserve", "pointer", "pointers"}


def card_of(kind: str, **changes: object):  # type: ignore[no-untyped-def]
    goals = Goals(17.0, 78.0, 0.3, 0.1, 38.0, (17.0, 26.0, 38.0, 47.0), (17.0, 26.0, 38.0))
    return full_card(sight=replace(TEMPLATES[kind], **changes), goals=goals)


class Whole(unittest.TestCase):
    def test_every_step_says_do_look_enter_and_done(self) -> None:
        for kind, procedure in ((kind.key, kind.procedure) for kind in KINDS.values()):
            for step in procedure:
                with self.subTest(kind=kind, step=step.key):
                    for words in (step.say, step.do, step.look_for, step.enter, step.done_when):
                        self.assertTrue(words.strip())
                        named = {name for _, name, _, _ in string.Formatter().parse(words) if name}
                        self.assertLessEqual(named, NUMBERS)

    def test_what_a_step_needs_comes_before_it_whatever_is_chosen(self) -> None:
        for kind in KINDS:
            asked = KINDS[kind].questions
            for chosen in product(*([school.key for school in q.schools] for q in asked)):
                card = card_of(kind)
                made = steps(card, answers(card, dict(zip((q.key for q in asked), chosen))))
                keys = [step.key for step in made]
                self.assertEqual(len(keys), len(set(keys)), (kind, chosen))
                self.assertEqual(sum(step.kind == SETTLE for step in made), 1)
                known = {step.key for every in KINDS.values() for step in every.procedure}
                for place, step in enumerate(made):
                    for need in step.needs:
                        later = [k for k in keys[place + 1 :] if k == need]
                        self.assertEqual(later, [], (kind, chosen, step.key, need))
                        self.assertIn(need, known)

    def test_close_comes_before_home_and_settling_near_the_end(self) -> None:
        for kind in KINDS:
            card = card_of(kind)
            keys = [step.key for step in steps(card, answers(card, {}))]
            self.assertLess(keys.index("close"), keys.index("home"), kind)
            self.assertLess(keys.index("home"), keys.index("settle"), kind)

    def test_no_word_of_a_school_is_missing(self) -> None:
        for question in QUESTIONS.values():
            self.assertGreater(len(question.schools), 1)
            for school in question.schools:
                self.assertTrue(school.why and school.price and school.name)


class Fitted(unittest.TestCase):
    def test_pins_are_placed_and_shot_one_by_one(self) -> None:
        card = card_of("fixed_pins")
        keys = [step.key for step in steps(card, answers(card, {})) if step.kind in (PLACE, SHOOT)]
        self.assertEqual(keys, ["close", "home", "place_1", "each_1", "place_2", "each_2"])

    def test_a_retractable_pin_is_checked_only_where_there_is_one(self) -> None:
        for retractable in (False, True):
            card = card_of("fixed_pins", pins=(Pin(), Pin(), Pin(retractable=retractable)))
            keys = [step.key for step in steps(card, answers(card, {}))]
            self.assertEqual("retract" in keys, retractable)

    def test_both_kinds_of_stop(self) -> None:
        for stop, there, not_there in (("fixed", "stop_up", "stop_fit"), ("settable", "stop_fit", "stop_up")):
            card = card_of("multi_pin_slider", home_stop=stop)
            keys = [step.key for step in steps(card, answers(card, {}))]
            self.assertIn(there, keys)
            self.assertNotIn(not_there, keys)

    def test_a_fixed_stop_is_met_by_the_whole_housing_where_it_can(self) -> None:
        gang = TEMPLATES["multi_pin_slider"].controls
        for controls, movement in ((gang, "gang_elevation"), (gang[:1], "elevation")):
            card = card_of("single_pin_slider", controls=controls)
            home = next(step for step in steps(card, answers(card, {"stop": "fixed"})) if step.key == "home")
            self.assertEqual(home.movement, movement)

    def test_pointer_to_pin_and_pin_to_pointer(self) -> None:
        card = card_of("vertical_pin_slider")
        for school, there in (("to_pin", "pointer"), ("to_round", "pin_to_pointer_1")):
            self.assertIn(there, [s.key for s in steps(card, answers(card, {"pointer": school}))])

    def test_a_slow_bow_is_told_of_its_reserve(self) -> None:
        card = replace(card_of("multi_pin_slider"), mount=Mount(home="reserve", reserve_mm=2.0))
        self.assertIn("reserve", [step.key for step in steps(card, answers(card, {}))])
        plain = replace(card, mount=Mount(home="top"))
        self.assertNotIn("reserve", [step.key for step in steps(plain, answers(plain, {}))])

    def test_the_display_has_two_schools(self) -> None:
        card = card_of("pin_display")
        computed = [s.key for s in steps(card, answers(card, {"dots": "computed"}))]
        by_hand = [s.key for s in steps(card, answers(card, {"dots": "by_hand"}))]
        self.assertIn("far", computed)
        self.assertIn("each_1", by_hand)
        self.assertEqual([k for k in ("figures", "far") if k in by_hand], [])

    def test_what_was_not_chosen_is_as_the_sight_has_it(self) -> None:
        card = card_of("single_pin_slider", home_stop="settable")
        self.assertEqual(answers(card, {})["stop"], "settable")
        self.assertEqual(answers(card, {"stop": "none"})["stop"], "none")
        self.assertEqual([q.key for q in questions(card)], ["stop"])


class Distances(unittest.TestCase):
    def test_the_first_pin_is_home(self) -> None:
        self.assertEqual(pin_distances(card_of("fixed_pins")), (17.0, 26.0, 38.0))
        self.assertEqual(pin_distances(card_of("target_scope")), (17.0,))

    def test_no_more_than_there_are_pins(self) -> None:
        self.assertEqual(pin_distances(card_of("vertical_pin_slider")), (17.0, 26.0))

    def test_without_a_home_there_are_none(self) -> None:
        self.assertEqual(pin_distances(full_card(goals=Goals())), ())


class LargestGap(unittest.TestCase):
    def test_two_pins_take_the_largest_gap_or_a_wanted_distance(self) -> None:
        card = card_of("vertical_pin_slider")
        self.assertEqual(pin_distances(card, {"second": "wanted"}), (17.0, 26.0))
        home, far = pin_distances(card, {"second": "gap"})
        room = card.sight.housing.pin_room_mm or 0.0
        priors = card.priors()
        assert priors
        below = [1000 * (pin_height(priors.figures, home) - pin_height(priors.figures, d)) for d in (far, far + 1.0)]
        self.assertLessEqual(below[0], room)
        self.assertGreater(below[1], room)

    def test_without_the_post_s_room_there_is_only_one(self) -> None:
        card = card_of("vertical_pin_slider", housing=Housing())
        self.assertEqual(pin_distances(card, {"second": "gap"}), (17.0,))

    def test_the_largest_gap_is_the_whole_metre_that_the_post_has_room_for(self) -> None:
        """The room that 61 m wants, a hair more and a hair less."""
        card = card_of("vertical_pin_slider")
        figures = card.priors().figures
        room = 1000.0 * (pin_height(figures, 17.0) - pin_height(figures, 61.0))
        for more, lowest in ((0.01, 61.0), (-0.01, 60.0)):
            housing = replace(card.sight.housing, pin_room_mm=room + more)
            fitted = replace(card, sight=replace(card.sight, housing=housing))
            self.assertEqual(pin_distances(fitted, {"second": "gap"}), (17.0, lowest))
