"""Estimates in place of measurements: what they cost, and that a measurement after them changes no bow."""

import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.arrow import prior_drag
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.card.estimates import ESTIMATES, SPEED, cost, lacking
from cross_staff.core.rig.arrow_build import ArrowBuild, recorded
from cross_staff.core.rig.card import Bow, Goals, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.correction import changes
from cross_staff.core.rig.estimates import WIDER
from cross_staff.core.rig.expected_speed import expected_speed
from cross_staff.core.rig.staleness import causes
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solved

EMPTY = RigCard("Hedge bow", goals=Goals(18.0, 60.0, 0.3))


def estimated(card: RigCard = EMPTY) -> RigCard:
    for key in ESTIMATES:
        card = card.with_estimate(key)
    return card.with_build(replace(card.build, speed_unmeasured=True))


class Cost(unittest.TestCase):
    def test_an_estimated_card_makes_a_tape_and_knows_how_wide(self) -> None:
        self.assertEqual(EMPTY.missing(), ("arrow", "chronograph", "eye_to_sight", "peep"))
        card = estimated()
        self.assertEqual((card.missing(), card.estimated), ((), ESTIMATES))
        priors = card.priors()
        self.assertGreater(priors.drag_per_m.sd, 0.4)
        self.assertGreater(priors.eye_to_sight_m.sd, 0.05)
        self.assertGreater(priors.peep_height_m.sd, 0.01)

    def test_what_an_estimate_costs_is_what_a_bow_two_sds_away_misses_by(self) -> None:
        card = estimated()
        for key, changed in (
            (
                "eye_to_sight",
                lambda f: replace(f, eye_to_sight_m=f.eye_to_sight_m + 1.96 * WIDER * card.estimate("eye_to_sight").sd),
            ),
            ("peep", lambda f: replace(f, peep_height_m=f.peep_height_m + 1.96 * WIDER * card.estimate("peep").sd)),
        ):
            figures = card.priors().figures
            with self.subTest(key):
                told, missed = cost(card, key).off_m, self._missed(figures, changed(figures), 18.0, 60.0)
                self.assertLess(abs(missed / told - 1.0), 0.25)

    def _missed(self, taken: RigFigures, truth: RigFigures, home_m: float, far_m: float) -> float:
        """How far off [m] an arrow of `truth` comes in that is dialled by `taken` from a home mark that was shot."""
        heights = [pin_heights(Trajectories.of(f, [home_m, far_m])).height_m for f in (taken, truth)]
        dialled = heights[1][0] + heights[0][1] - heights[0][0]
        per_m = far_m / truth.eye_to_sight_m
        return abs(dialled - heights[1][1]) * per_m

    def test_the_farther_the_more_and_a_draw_weight_that_is_known_helps(self) -> None:
        near = cost(replace(EMPTY, goals=Goals(18.0, 40.0, 0.3)), SPEED)
        far = cost(EMPTY, SPEED)
        known = cost(replace(EMPTY, bow=Bow("", 60.0 * 4.448, None, None, 0.8), peep=PeepEntry(true_draw_m=0.7)), SPEED)
        self.assertLess(near.off_m, far.off_m)
        self.assertLess(known.off_m, 0.8 * far.off_m)
        self.assertEqual((near.at_m, far.at_m), (40.0, 60.0))

    def test_out_of_reach_has_no_cost(self) -> None:
        self.assertIsNone(cost(replace(EMPTY, goals=Goals(18.0, 5000.0, 0.3)), "peep"))

    def test_lacking_is_neither_measured_nor_estimated(self) -> None:
        self.assertTrue(all(lacking(EMPTY, key) for key in (*ESTIMATES, SPEED)))
        self.assertFalse(any(lacking(estimated(), key) for key in (*ESTIMATES, SPEED)))

    def test_a_peep_along_the_string_gives_the_better_estimate(self) -> None:
        along = replace(EMPTY, peep=PeepEntry("along", along_m=0.16))
        self.assertLess(along.estimate("peep").sd, EMPTY.estimate("peep").sd)
        self.assertAlmostEqual(along.with_estimate("peep").peep.height().height_m, 0.0996, places=3)


class Bands(unittest.TestCase):
    def test_bows_as_they_differ_lie_within_what_an_estimated_card_says(self) -> None:
        random, within, count = np.random.default_rng(7), 0, 150
        bow, true_draw = Bow("", 245.0, None, None, 0.8), PeepEntry(true_draw_m=0.7)
        card = estimated(replace(EMPTY, bow=bow, peep=true_draw))
        mass, across, lever, height = (card.estimate(key) for key in ESTIMATES)
        fit = solved(card.priors(), 18.0, (Observation(18.0, 0.0, 0.1),), (18.0,))
        told = fit.tape([60.0], 0)[0]
        for spread in random.normal(size=(count, 6)):
            kg = mass.value * math.exp(mass.sd * spread[0])
            drag = prior_drag(across.value * math.exp(across.sd * spread[1]), kg) * math.exp(0.25 * spread[2])
            given = expected_speed(kg, bow.draw_weight_n, true_draw.true_draw_m, bow.let_off).at_sight
            truth = RigFigures(
                given.speed_mps + given.sd_mps * spread[3],
                drag,
                lever.value + lever.sd * spread[4],
                height.value + height.sd * spread[5],
            )
            near, far = pin_heights(Trajectories.of(truth, [18.0, 60.0])).height_m
            within += abs(1000.0 * (near - far) - told.mark_mm) <= 1.96 * told.sd_mm
        self.assertGreaterEqual(within / count, 0.92)  # of 0.95, two sds of counting below


class MeasuredAfterwards(unittest.TestCase):
    def test_is_no_change_of_the_bow(self) -> None:
        card = estimated()
        for measured in (
            replace(card, eye_to_sight_m=0.74, eye_to_sight_estimated=False),
            replace(card, peep=replace(card.peep, square_m=0.118, estimated=False)),
            replace(card, peep=PeepEntry("along", along_m=0.17, angle_rad=0.65)),
            card.with_build(replace(card.build, measured_mass_kg=0.034, mass_estimated=False)),
            card.with_build(replace(card.build, shaft_diameter_m=0.0075, diameter_estimated=False)),
        ):
            told = [change for change in changes(card, measured) if change.guessed]
            self.assertTrue(told)
            self.assertEqual(causes(card, measured), ())
        changed = replace(card, eye_to_sight_m=0.74, eye_to_sight_estimated=False)
        self.assertNotEqual(causes(changed, replace(changed, eye_to_sight_m=0.79)), ())

    def test_a_session_over_an_estimated_mass_stays_that_arrows(self) -> None:
        guessed = ArrowBuild(
            "",
            shaft_diameter_m=0.006,
            measured_mass_kg=0.027,
            mass_estimated=True,
            sessions=(ChronographSession((90.0,)),),
        )
        kept = recorded(guessed, None, None)
        weighed = replace(EMPTY, builds=(replace(kept, measured_mass_kg=0.034, mass_estimated=False),))
        self.assertAlmostEqual(weighed.speed().speed_mps, 90.0, delta=0.5)

    def test_parts_that_are_weighed_win_over_an_estimate(self) -> None:
        build = ArrowBuild("", 0.7, 0.017, 0.006, (), measured_mass_kg=0.027, mass_estimated=True)
        self.assertAlmostEqual(build.mass_kg(), 0.0119)
        self.assertIsNone(build.weighs_apart())
