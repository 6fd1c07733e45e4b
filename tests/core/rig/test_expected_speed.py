"""A speed that nobody measured: what a bow gives, from what is known of it."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.rig.card import Bow, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.expected_speed import expected_speed
from cross_staff.core.rig.priors import Known
from cross_staff.core.tape.forecast import COVERAGE, chronograph_worth
from cross_staff.core.tape.rows import READING_SD_MM, TapeMark
from cross_staff.core.tape.solver import solve
from cross_staff.core.tape.station import evaluate
from tests.rigs import RIG_A, entry, full_card, true_mark


def unmeasured(bow: Bow = Bow("", 267.0, let_off=0.8), draw_m: float | None = 0.69) -> RigCard:
    """A card that lacks a chronograph, and says so."""
    card = full_card()
    build = replace(card.build, sessions=(), speed_unmeasured=True)
    return replace(card, bow=bow, builds=(build,), peep=replace(card.peep, true_draw_m=draw_m))


class Expected(unittest.TestCase):
    def test_by_hand(self) -> None:
        """60 lb, 0.692 m from nocking point to grip, 80 % let off, 27.2 g: 2 x 0.86 x 267 x 0.527 / 0.0352."""
        told = expected_speed(0.0272, 267.0, 0.692, 0.8)
        self.assertAlmostEqual(told.at_sight.speed_mps, (2 * 0.86 * 267 * 0.527 / 0.0352) ** 0.5, places=6)
        self.assertEqual(told.assumed, ())
        self.assertAlmostEqual(told.at_sight.sd_mps / told.at_sight.speed_mps, 0.089, delta=0.002)

    def test_usual_bows_lie_within_what_is_expected(self) -> None:
        """Speeds that bows of their kind are known to give, from slow to fast."""
        for mass, force, draw, let_off, speed in (
            (0.0227, 311.0, 0.718, 0.80, 101.0),
            (0.0227, 311.0, 0.718, 0.80, 91.0),
            (0.0272, 267.0, 0.692, 0.85, 84.0),
            (0.0324, 289.0, 0.667, 0.75, 78.0),
            (0.0194, 178.0, 0.635, 0.65, 75.0),
            (0.0214, 178.0, 0.660, 0.0, 57.0),
        ):
            told = expected_speed(mass, force, draw, let_off).at_sight
            self.assertLess(abs(told.speed_mps - speed), COVERAGE * told.sd_mps)

    def test_what_nobody_said_is_taken_for_granted_and_widens(self) -> None:
        known = expected_speed(0.0272, 267.0, 0.69, 0.8)
        for args, assumed in (
            ((None, 0.69, 0.8), ("draw_weight",)),
            ((267.0, None, 0.8), ("draw_length",)),
            ((None, None, None), ("draw_weight", "draw_length", "let_off")),
        ):
            told = expected_speed(0.0272, *args)
            self.assertEqual(told.assumed, assumed)
            self.assertGreater(told.at_sight.sd_mps, 1.02 * known.at_sight.sd_mps)
            self.assertAlmostEqual(told.at_sight.speed_mps, known.at_sight.speed_mps, delta=1.0)


class OnTheCard(unittest.TestCase):
    def test_it_is_asked_for_and_never_taken_silently(self) -> None:
        card = full_card()
        bare = replace(card, builds=(replace(card.build, sessions=()),))
        self.assertEqual(bare.missing(), ("chronograph",))
        self.assertEqual(unmeasured().missing(), ())
        self.assertIsNone(bare.speed())

    def test_what_was_measured_is_never_set_aside_for_it(self) -> None:
        card = unmeasured()
        shot = replace(card.build, sessions=(ChronographSession((80.0, 80.2), mass_kg=card.build.mass_kg()),))
        measured = replace(card, builds=(shot,))
        self.assertIsNone(measured.expected_speed())
        self.assertAlmostEqual(measured.speed().speed_mps, 80.2, delta=0.3)
        other = replace(card, builds=(card.build, shot))
        self.assertIsNone(other.expected_speed())
        self.assertLess(other.speed().sd_mps, 1.0)  # predicted from the other arrow

    def test_without_its_mass_nothing_is_expected(self) -> None:
        card = unmeasured()
        nothing = replace(card, builds=(replace(card.build, shaft_length_m=None),))
        self.assertIsNone(nothing.expected_speed())
        self.assertIn("arrow", nothing.missing())


class Tape(unittest.TestCase):
    def test_two_marks_make_a_tape(self) -> None:
        marks = [entry(n, d, true_mark(d), arrows=6) for n, d in ((1, 17.0), (2, 61.0))]
        told, known = (evaluate(card, marks) for card in (unmeasured(), full_card()))
        one, other = (each.fit.tape([78.0])[0] for each in (told, known))
        self.assertLess(one.sd_on_target_m, 1.1 * other.sd_on_target_m)
        self.assertLess(abs(one.mark_mm - true_mark(78.0)), COVERAGE * one.sd_mm)
        self.assertIsNone(known.chronograph)
        self.assertGreater(told.chronograph.sd_at_farthest_m_then, 0.9 * told.chronograph.sd_at_farthest_m_now)

    def test_before_a_mark_a_chronograph_would_buy_much(self) -> None:
        told = evaluate(unmeasured(), [])
        self.assertLess(told.chronograph.sd_at_farthest_m_then, 0.3 * told.chronograph.sd_at_farthest_m_now)
        self.assertLess(told.good_to_m, 40.0)
        short = replace(RIG_A, speed_mps=22.0)
        priors = replace(unmeasured().priors(), speed_mps=Known(short.speed_mps, 1.0))
        self.assertIsNone(chronograph_worth(solve(priors, 5.0, []), 199.0))

    def test_bands_hold_for_bows_as_they_differ(self) -> None:
        card, rng, held, bows = unmeasured(), np.random.default_rng(5), 0, 40
        expected = card.speed()
        for _ in range(bows):
            true = replace(RIG_A, speed_mps=float(rng.normal(expected.speed_mps, expected.sd_mps)))
            evaluation = evaluate(card, [self.shot(n, d, true, rng) for n, d in ((1, 17.0), (2, 61.0))])
            row, home = evaluation.fit.tape([95.0])[0], true_mark(95.0, figures=true)
            held += abs(row.mark_mm - home) <= COVERAGE * row.sd_mm
        self.assertGreaterEqual(held, 0.9 * bows)

    def shot(self, line: int, distance_m: float, true: RigFigures, rng: np.random.Generator) -> TapeMark:
        """Six arrows of an archer of 1 mrad, and how a mark is read."""
        off = rng.normal(0.0, 0.82 / (0.82 + distance_m) * distance_m * 6**-0.5) + rng.normal(0.0, READING_SD_MM)
        return entry(line, distance_m, true_mark(distance_m, figures=true) + off, arrows=6)
