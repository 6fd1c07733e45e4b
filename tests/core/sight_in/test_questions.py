"""The newest ends are held against what is believed: a question where they disagree, with what may have been."""

import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.acts import ASK, SHOOT
from cross_staff.core.sight_in.log import RangeLog
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.procedures import pins_of
from cross_staff.core.sight_in.questions import (
    BAD,
    COUNT,
    DIAL,
    DISTANCE,
    MOVED,
    NOT_MADE,
    OTHER_WAY,
    PIN,
    AnswerKind,
    Question,
    before,
    question,
)
from cross_staff.core.sight_in.station import places_in, sight_in
from cross_staff.core.tape.station import evaluate
from tests.ends import PINS_M, believed, drawn, end, exact_card, hits, judged, moved, range_log, said
from tests.rigs import NOON, RIG_A

SIGHTED = tuple(end(3 * n + k, d, pin=n) for n, d in enumerate(PINS_M) for k in (1, 2, 3))
MM_AT_17 = 1e-3 * 17.82 / 0.82


def asked(card: RigCard, log: RangeLog) -> Question | None:
    """What is asked of a log."""
    evaluation = evaluate(card, end_entries(card, log), pins=pins_of(card, log.chosen))
    return question(believed(card, log), places_in(evaluation, log.ends))


def kinds(about: Question | None) -> list[AnswerKind]:
    assert about
    return [answer.kind for answer in about.answers]


class Disagree(unittest.TestCase):
    def test_a_knob_that_was_turned_between_ends_is_asked_about_and_nothing_is_ordered(self) -> None:
        """Nine centred arrows after a knob was turned by nobody knows whom: once they were answered with 35 clicks."""
        off = tuple(end(n, 17.0, right_m=1.75 * MM_AT_17) for n in (20, 21))
        log = range_log(*SIGHTED, *off)
        state = judged(exact_card(), log)
        self.assertEqual((state.act.kind, state.act.because, state.act.moves), (ASK, "disagrees", ()))
        about = state.question
        assert about
        told = next(a for a in about.answers if a.kind == MOVED and a.drive == "Windage micro")
        self.assertAlmostEqual(told.amount or 0.0, -35.0, delta=3.0)
        self.assertEqual(kinds(about)[-2:], [BAD, COUNT])

    def test_what_is_asked_about_counts_for_nothing_until_it_is_answered(self) -> None:
        wrong = end(20, 17.0, up_m=hits(6.0, 17.0, 17.0))
        state = judged(exact_card(), range_log(*SIGHTED, wrong))
        assert state.estimate
        self.assertNotIn(wrong, state.estimate.counted)
        counted = judged(exact_card(), range_log(*SIGHTED, replace(wrong, asked=True)))
        assert counted.estimate
        self.assertIsNone(counted.question)
        self.assertIn("e20", [e.key for e in counted.estimate.counted])

    def test_ends_as_believed_are_not(self) -> None:
        self.assertIsNone(asked(exact_card(), range_log(*SIGHTED, end(20, 38.0, pin=2))))

    def test_where_nothing_was_believed_nothing_is_asked(self) -> None:
        self.assertIsNone(asked(exact_card(), range_log(end(1, 5.0, right_m=0.3, up_m=0.4))))

    def test_a_movement_that_nobody_counted_is_an_answer_that_holds(self) -> None:
        blind = moved(19, "Housing, up and down", "gang_elevation", 0.0, "unknown")
        off = end(20, 17.0, up_m=hits(6.0, 17.0, 17.0))
        self.assertIsNotNone(asked(exact_card(), range_log(*SIGHTED, off)))
        self.assertIsNone(asked(exact_card(), range_log(*SIGHTED, blind, off)))

    def test_a_day_may_set_all_of_them_off(self) -> None:
        off = end(20, 17.0, up_m=1.25e-3 * 17.0)
        self.assertIsNotNone(asked(exact_card(), range_log(*SIGHTED, off)))
        self.assertIsNone(asked(exact_card(), range_log(*SIGHTED, replace(off, session=2))))

    def test_one_wild_arrow_is_another_question(self) -> None:
        shots = [*end(20, 17.0).shots]
        shots[-1] = Shot(0.16, 0.14, False, "wild")
        wild = end(20, 17.0, shots=tuple(shots))
        self.assertIsNone(asked(exact_card(), range_log(*SIGHTED, wild)))
        act = judged(exact_card(), range_log(*SIGHTED, wild, entries=said("step:face"))).act
        self.assertEqual((act.kind, act.because, act.odd and act.odd[1]), (ASK, "suspect", 5))
        counts = range_log(*SIGHTED, wild, entries=(*said("step:face"), *said("counts:e20", choice="kept")))
        self.assertNotEqual(judged(exact_card(), counts).act.because, "suspect")


class Answers(unittest.TestCase):
    def test_another_pin(self) -> None:
        wrong = end(20, 38.0, up_m=hits(0.0, 26.0, 38.0), pin=2)  # shot with pin 2, noted for pin 3
        about = asked(exact_card(), range_log(*SIGHTED, wrong))
        assert about
        self.assertEqual([a.pin for a in about.answers if a.kind == PIN], [1])

    def test_another_distance(self) -> None:
        wrong = end(20, 26.0, up_m=float(impact_heights(RIG_A, pin_height(RIG_A, 26.0), 38.0)[0]), pin=1)
        about = asked(exact_card(), range_log(*SIGHTED, wrong))
        assert about
        self.assertIn(38.0, [a.ranged_m for a in about.answers if a.kind == DISTANCE])

    def test_the_other_way_and_not_made(self) -> None:
        move = moved(19, "Housing, up and down", "gang_elevation", 3.0)
        low = tuple(end(n, 17.0, up_m=hits(-3.0, 17.0, 17.0), asked=True) for n in (15, 16))
        for stands_mm, kind in ((-6.0, OTHER_WAY), (-3.0, NOT_MADE)):
            log = range_log(*low, move, end(20, 17.0, up_m=hits(stands_mm, 17.0, 17.0)))
            self.assertIn(kind, kinds(asked(exact_card(), log)))

    def test_a_dial_that_was_left_where_it_stood(self) -> None:
        """26.1 from 47 m kept for an end at 17 m: the reading is asked, and no order is 64 cm wrong."""
        card = exact_card("single_pin_slider")
        far = 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 47.0))
        ends = [end(n, 17.0, dial_mm=10.0) for n in (1, 2)] + [end(3, 47.0, dial_mm=round(10.0 + far, 1))]
        high = float(impact_heights(RIG_A, pin_height(RIG_A, 47.0), 17.0)[0])
        forgot = end(9, 17.0, up_m=high, dial_mm=10.0)
        about = asked(card, range_log(*ends, forgot))
        assert about
        self.assertEqual(about.answers[0].kind, DIAL)
        self.assertAlmostEqual(about.answers[0].dial_mm or 0.0, 10.0 + far, delta=0.1)
        state = judged(card, range_log(*ends, forgot))
        self.assertEqual(state.act.kind, ASK)

    def test_a_reading_that_nobody_took_makes_no_mark(self) -> None:
        card = exact_card("single_pin_slider")
        log = range_log(end(1, 17.0, dial_mm=10.0), end(2, 47.0))
        self.assertEqual(len(end_entries(card, log)), 1)


class EarlierEnd(unittest.TestCase):
    """The end before was the odd one: once the newest alone was asked about, and what was answered of the other one
    stood beside it."""

    def contradicted(self, **wrong: object) -> RangeLog:
        """The third pin's first end, shot with the second; the order that it led to; an end as ordered."""
        gap = 1000.0 * (pin_height(RIG_A, 26.0) - pin_height(RIG_A, 38.0))
        other = end(20, 38.0, up_m=hits(0.0, 26.0, 38.0), pin=2)
        move = moved(21, "Pin screw", "pin", -gap, pin=2)
        return range_log(*SIGHTED[:6], replace(other, **wrong), move, end(22, 38.0, up_m=hits(-gap, 38.0, 38.0), pin=2))

    def test_shot_with_another_pin(self) -> None:
        about = asked(exact_card(), self.contradicted())
        assert about
        self.assertEqual(about.keys, ("e22",))
        told = [(a.kind, a.pin) for a in about.answers if a.ends == ("e20",)]
        self.assertEqual(told, [(PIN, 1), (BAD, None)])

    def test_once_that_is_said_nothing_is_asked_and_the_way_back_is_known(self) -> None:
        state = judged(exact_card(), self.contradicted(pin=1))
        self.assertIsNone(state.question)
        assert state.estimate and state.estimate.up
        to_go = state.estimate.up.of(state.estimate.weights(2))[0]
        self.assertAlmostEqual(to_go, -self.contradicted().moves[0].amount, delta=0.2)

    def test_one_that_was_asked_about_is_not_doubted_again(self) -> None:
        about = asked(exact_card(), self.contradicted(asked=True))
        assert about
        self.assertEqual([a for a in about.answers if a.ends], [])

    def test_odd_sideways_it_can_be_left_out(self) -> None:
        fluke, move = end(1, 17.0, right_m=3.0 * MM_AT_17), moved(2, "Windage micro", "windage", -60.0, "click")
        about = asked(exact_card(), range_log(fluke, move, end(3, 17.0, right_m=-3.0 * MM_AT_17)))
        assert about
        self.assertEqual([(a.kind, a.ends) for a in about.answers if a.ends], [(BAD, ("e1",))])

    def test_a_knob_that_was_turned_since_makes_no_earlier_end_odd(self) -> None:
        off = tuple(end(n, 17.0, right_m=1.75 * MM_AT_17) for n in (20, 21))
        about = asked(exact_card(), range_log(*SIGHTED, *off))
        assert about
        self.assertEqual([a for a in about.answers if a.ends], [])

    def test_a_display_that_was_squared_later_was_as_sure_before(self) -> None:
        ends = tuple(replace(end(n, 17.0), entered=NOON + timedelta(minutes=n)) for n in (1, 2, 3))
        entry = replace(said("step:square")[0], entered=NOON + timedelta(minutes=2.5))
        card = exact_card("pin_display")
        sds = []
        for known in (ends[1], ends[2]):
            earlier = before(believed(card, range_log(*ends, entries=(entry,))), known)
            assert earlier.up
            sds.append(earlier.up.of(earlier.weights(0))[1])
        self.assertLess(sds[0], 1.0)
        self.assertGreater(sds[1], 3.9)


class Rates(unittest.TestCase):
    """By simulation: a move of four sds of an end's mean is asked about within two ends, and hardly ever no move."""

    def drawn_log(self, seed: int, off_sds: float) -> tuple[RangeLog, RangeLog]:
        generator = np.random.default_rng(seed)
        spread = 0.8e-3 * 17.0
        off = off_sds * spread / np.sqrt(6.0)
        before = [end(n, 17.0, shots=drawn(generator, 0.0, 0.0, spread, 6)) for n in range(1, 7)]
        after = [end(n, 17.0, shots=drawn(generator, off, 0.0, spread, 6)) for n in (7, 8)]
        return range_log(*before, after[0]), range_log(*before, *after)

    def test_a_move_of_four_sds(self) -> None:
        card, noticed = exact_card(), 0
        for seed in range(40):
            one, two = self.drawn_log(seed, 4.0)
            noticed += any(self.asks(card, log) for log in (one, two))
        self.assertGreaterEqual(noticed, 37)

    def test_hardly_ever_without_one(self) -> None:
        card = exact_card()
        false = sum(self.asks(card, self.drawn_log(seed, 0.0)[0]) for seed in range(100, 180))
        self.assertLessEqual(false, 3)

    @staticmethod
    def asks(card: RigCard, log: RangeLog) -> bool:
        return question(believed(card, log), {}) is not None


class Without(unittest.TestCase):
    def test_the_tape_is_reckoned_without_it(self) -> None:
        card = exact_card("single_pin_slider")
        ends = [end(n, 17.0, dial_mm=10.0) for n in (1, 2)]
        log = range_log(*ends, end(3, 17.0, dial_mm=10.0, up_m=hits(8.0, 17.0, 17.0)))
        evaluation = evaluate(card, end_entries(card, log))
        first = sight_in(card, log, evaluation)
        assert first.question
        self.assertEqual(first.question.keys, ("e3",))
        again = sight_in(card, log, evaluate(card, end_entries(card, log)[:2]), question=first.question)
        self.assertEqual((again.question, again.act.kind), (first.question, ASK))
        self.assertNotEqual(judged(card, range_log(*ends)).act.kind, ASK)
        self.assertEqual(judged(card, range_log(*ends)).act.kind in (SHOOT, "confirm"), True)
