"""A virtual archer with habits: what he does, what he does not note, what he says when he is asked; and by hand."""

import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import MovementAdvice, range_controls
from cross_staff.core.sight_in.questions import COUNT, DIAL, MOVED, OTHER_WAY, PIN, Answer, Question
from cross_staff.core.simulate.archer import Archer, Habits
from cross_staff.core.simulate.hidden_sight import HiddenSight
from cross_staff.core.simulate.range_by_hand import by_hand

HOME = Aim(0, 17.0)


def asks(*answers: Answer) -> Question:
    """A question with these answers."""
    return Question((), (1.0, 1.0), (0.1, 0.1), (*answers, Answer(COUNT)))


class Hidden(unittest.TestCase):
    def test_the_arrows_go_where_the_hidden_figures_send_them(self) -> None:
        sight = HiddenSight.drawn("fixed_pins", np.random.default_rng(4))
        shots = [s for s in sight.shoot(0, 26.0, 3000, None) if not s.called_bad]
        lever = sight.figures.eye_to_sight_m
        right = 1000 * np.mean([s.right_m for s in shots]) * lever / (lever + 26.0)
        self.assertAlmostEqual(right, sight.right_mm, delta=0.05)
        self.assertAlmostEqual(np.std([s.up_m for s in shots]), sight.spread_mrad * 0.026, delta=0.001)

    def test_a_called_bad_arrow_is_wild_and_said(self) -> None:
        sight = HiddenSight.drawn("fixed_pins", np.random.default_rng(4))
        bad = [s for s in sight.shoot(0, 26.0, 3000, None) if s.called_bad]
        self.assertAlmostEqual(len(bad) / 3000, 0.03, delta=0.015)
        self.assertGreater(np.std([s.right_m for s in bad]), 2.5 * sight.spread_mrad * 0.026)


class Does(unittest.TestCase):
    def test_who_has_no_habits_does_what_he_is_told(self) -> None:
        archer = Archer.drawn("multi_pin_slider", 3, Habits())
        shot = archer.end(HOME, 6, archer.zero_mm, False)
        self.assertEqual((len(shot.shots), shot.pin, archer.slips, archer.arrows), (6, 0, [], 6))
        self.assertAlmostEqual(archer.stands_mm, archer.zero_mm, delta=0.3)

    def test_what_he_does_not_note_he_remembers_when_he_is_asked(self) -> None:
        archer = Archer.drawn("multi_pin_slider", 3, Habits(forgets_dial=1.0))
        archer.end(HOME, 3, archer.zero_mm, False)
        near = round(archer.zero_mm + 2.0, 1)
        archer.end(Aim(0, 20.0, True), 3, near, False)
        self.assertEqual([slip.kind for slip in archer.slips], ["dial"])
        said = archer.answers(asks(Answer(DIAL)))
        self.assertEqual(said.kind, DIAL)
        self.assertAlmostEqual(said.dial_mm or 0.0, archer.zero_mm, delta=0.3)
        self.assertEqual((archer.answers(asks()).kind, archer.false_questions), (COUNT, 1))

    def test_another_pin_and_a_control_of_his_own(self) -> None:
        archer = Archer.drawn("fixed_pins", 3, Habits(wrong_pin=1.0, own_move=1.0))
        archer.end(HOME, 3, None, False)
        archer.end(HOME, 3, None, False)
        self.assertEqual({slip.kind for slip in archer.slips}, {"pin", "moved"})
        moved = next(slip for slip in archer.slips if slip.kind == "moved")
        kinds = {archer.answers(asks(Answer(MOVED, moved.drive))).kind for _ in range(2)}
        self.assertEqual(kinds, {PIN, MOVED})

    def test_a_knob_that_goes_the_other_way_is_seen_unless_he_does_not_look(self) -> None:
        for looks, said in ((0.0, False), (1.0, True)):
            archer = Archer.drawn("fixed_pins", 3, Habits(does_not_look=looks))
            micro = next(d for d in range_controls(archer.card.sight) if d.moves == "windage")
            archer.sight.travels_per_unit[micro.name] = -0.05
            self.assertEqual(archer.obey(MovementAdvice(micro, "right", 0.5, 10.0), HOME), said)
            self.assertEqual(archer.answers(asks(Answer(OTHER_WAY, micro.name))).kind, OTHER_WAY)

    def test_an_order_that_makes_it_worse_is_counted(self) -> None:
        archer = Archer.drawn("fixed_pins", 3, Habits())
        gang = next(d for d in range_controls(archer.card.sight) if d.moves == "gang_elevation")
        off = archer.off_mm(HOME)[1]
        archer.obey(MovementAdvice(gang, "", -5.0 * np.sign(off), -5.0 * np.sign(off)), HOME)
        archer.obey(MovementAdvice(gang, "", 5.0 * np.sign(off), 5.0 * np.sign(off)), HOME)
        self.assertEqual(len(archer.worse), 1)

    def test_days_and_wild_arrows(self) -> None:
        archer = Archer.drawn("fixed_pins", 3, Habits(wild=1.0, day_mrad=0.3))
        shot = archer.end(HOME, 6, None, False)
        self.assertTrue(all(archer.was_wild(s) for s in shot.shots))
        days = []
        for _ in range(300):
            archer.new_day()
            days.append(archer.day_mrad)
        self.assertAlmostEqual(float(np.std(days)), 0.3, delta=0.05)


class Hand(unittest.TestCase):
    def test_by_the_usual_rules_it_takes_more_and_is_true_less_often(self) -> None:
        told = [by_hand(Archer.drawn("fixed_pins", seed, Habits(a_day=24, day_mrad=0.3))) for seed in range(12)]
        self.assertGreater(np.median([each.arrows for each in told]), 18)
        self.assertTrue(all(each.moves for each in told))
        off = [max(each.off.values()) for each in told]
        self.assertGreater(max(off), 0.5)

    def test_he_who_comes_back_until_it_is_true_shoots_more_and_ends_true(self) -> None:
        """A tape by hand: the far marks dialled until two groups come in, and again on other days where they lie."""
        draws = [Archer.drawn("single_pin_slider", seed, Habits()) for seed in range(8)]
        again = [Archer.drawn("single_pin_slider", seed, Habits()) for seed in range(8)]
        once = [by_hand(each, 1, (40.0, 61.0)) for each in draws]
        told = [by_hand(each, 1, (40.0, 61.0), until_true=True) for each in again]
        self.assertTrue(any(max(each.off.values()) > 1.0 for each in once))
        for first, later in zip(once, told):
            self.assertEqual(len(first.off), 3)
            wrong = max(first.off.values()) > 1.0
            self.assertEqual(later.arrows > first.arrows, wrong)

    def test_a_hand_that_twists_scatters_sideways_alone_and_wind_moves_all(self) -> None:
        still, twists, blown = (
            Archer.drawn("fixed_pins", 5, habits)
            for habits in (Habits(), Habits(torque_mrad=3.0), Habits(wind_mps=6.0))
        )
        shots = [
            [s for _ in range(20) for s in each.end(HOME, 6, None, False).shots] for each in (still, twists, blown)
        ]
        wide = [float(np.std([s.right_m for s in each])) for each in shots]
        high = [float(np.std([s.up_m for s in each])) for each in shots]
        self.assertGreater(wide[1], 1.5 * wide[0])
        self.assertAlmostEqual(high[1] / high[0], 1.0, delta=0.3)
        middle = [float(np.mean([s.right_m for s in each])) for each in shots]
        self.assertGreater(middle[2] - middle[0], 0.01)

    def test_the_hidden_sight_is_the_same_for_both(self) -> None:
        one, other = (Archer.drawn("fixed_pins", 5, Habits()) for _ in range(2))
        self.assertEqual(one.sight.heights_m, other.sight.heights_m)
        self.assertEqual(one.off_m(HOME, None), other.off_m(replace(HOME), None))
