"""Another arrow of the same bow: what its marks tell of the one on the card."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import RigCard
from cross_staff.core.stations import tape_step
from cross_staff.core.tape.carry_over import LAUNCH_SD_MRAD, carried_over, other_arrow
from cross_staff.core.tape.fit import RATIO, ZERO, Fit, predicted
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.observation import Observation, OtherArrow
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.solver import solve
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.core.tape.test_fit import MARKS, PRIORS
from tests.rigs import RIG_A, entry, full_card, true_mark

LIGHT = full_card()
_HEAVY = (Component("Point", 0.0150, 0.724), Component("Nock", 0.0006, 0.0))
HEAVY = replace(
    LIGHT, builds=(LIGHT.build, replace(LIGHT.build, name="heavy", components=_HEAVY, sessions=())), in_use=1
)
OTHER = other_arrow(LIGHT, HEAVY)
FARTHER = OtherArrow(0.05, 0.01, 0.1, 0.03, 1.0)


def heavy(off: tuple[float, float] = (0.0, 0.0)) -> RigFigures:
    """What the heavy arrow truly does from rig A, so many sds beside what is expected."""
    speed = math.exp(-OTHER.speed_ln + off[0] * OTHER.speed_sd_ln)
    drag = math.exp(-OTHER.drag_ln + off[1] * OTHER.drag_sd_ln)
    return replace(RIG_A, speed_mps=RIG_A.speed_mps * speed, drag_per_m=RIG_A.drag_per_m * drag)


def heavy_mark(distance_m: float, figures: RigFigures) -> float:
    """On the same scale, which reads 20 mm at home of the light one."""
    return 20.0 + 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(figures, distance_m))


def shot(*distances: float) -> list[TapeMark]:
    """Marks of the light arrow."""
    return [entry(n, d, true_mark(d), arrows=6) for n, d in enumerate(distances, 1)]


def fresh(*marks: tuple[float, float]) -> list[TapeMark]:
    return [replace(entry(20 + n, d, mark, arrows=6), revision=2) for n, (d, mark) in enumerate(marks)]


def both(rows: list[TapeMark], card: RigCard = HEAVY) -> Evaluation:
    return evaluate(card, rows, frozenset((2,)), others=((1, OTHER),))


class InTheFit(unittest.TestCase):
    def fit(self, arrow: OtherArrow = FARTHER, priors: object = PRIORS) -> Fit:
        seen = [replace(each, arrow=1) for each in MARKS] + [Observation(25.0, 3.0, 0.15), Observation(60.0, 26.0, 0.2)]
        return solve(priors, 18.0, seen, arrows=(arrow,))  # type: ignore[arg-type]

    def test_an_arrow_that_is_known_to_be_the_same_is_the_same(self) -> None:
        same = self.fit(OtherArrow(0.0, 1e-7, 0.0, 1e-7, 1e-6))
        plain = solve(PRIORS, 18.0, [*MARKS, Observation(25.0, 3.0, 0.15), Observation(60.0, 26.0, 0.2)])
        for a, b in zip(same.tape([18.0, 50.0, 90.0]), plain.tape([18.0, 50.0, 90.0])):
            self.assertAlmostEqual(a.mark_mm or 0.0, b.mark_mm or 0.0, places=5)
            self.assertAlmostEqual(a.sd_mm or 0.0, b.sd_mm or 0.0, places=5)

    def test_of_an_arrow_of_which_nothing_is_known_only_the_bow_counts(self) -> None:
        nothing = self.fit(OtherArrow(0.0, 3.0, 0.0, 3.0, 500.0))
        alone = solve(PRIORS, 18.0, [Observation(25.0, 3.0, 0.15), Observation(60.0, 26.0, 0.2)])
        for a, b in zip(nothing.tape([18.0, 50.0, 90.0]), alone.tape([18.0, 50.0, 90.0])):
            self.assertAlmostEqual(a.mark_mm or 0.0, b.mark_mm or 0.0, delta=0.3)
            self.assertLessEqual(a.sd_mm or 0.0, 1.001 * (b.sd_mm or 0.0))

    def test_the_gradient_is_that_of_what_is_predicted(self) -> None:
        fit = self.fit()
        places, at = fit.arrow_places[0], np.array([30.0, 70.0])
        args = (at, np.array([0.02, -0.1]), np.array([0, 0]), [None, None], [1, 0])
        _, gradient = predicted(fit, *args)
        for place in (*range(ZERO + 1), *range(places, places + 3)):
            step = 1e-5 * max(abs(float(fit.estimate[place])), 1.0)
            moved = []
            for way in (1.0, -1.0):
                estimate = fit.estimate.copy()
                estimate[place] += way * step
                moved.append(predicted(replace(fit, estimate=estimate), *args)[0])
            numeric = (moved[0] - moved[1]) / (2.0 * step)
            for row in range(2):
                self.assertAlmostEqual(gradient[row, place], numeric[row], delta=2e-3 * max(abs(numeric[row]), 1.0))

    def test_it_is_the_most_likely(self) -> None:
        fit = self.fit()
        step = np.delete(fit.jacobian.T @ fit.whitened, RATIO)  # which is exact
        self.assertLess(float(np.abs(step).max()), 1e-2)
        self.assertEqual(len(fit.estimate), ZERO + 1 + 3)


class Beside(unittest.TestCase):
    def test_by_hand(self) -> None:
        """6 g heavier of 16.9 g and 8 g: v falls by sqrt((m + mv) / (m' + mv)), drag by the masses."""
        light, weighed = LIGHT.build.mass_kg() or 0.0, HEAVY.build.mass_kg() or 0.0
        self.assertAlmostEqual(OTHER.speed_ln, 0.5 * math.log((weighed + 0.008) / (light + 0.008)), places=4)
        self.assertAlmostEqual(OTHER.drag_ln, math.log(weighed / light), places=9)
        self.assertEqual(OTHER.launch_sd_mrad, LAUNCH_SD_MRAD)

    def test_an_arrow_whose_mass_nobody_knows_says_nothing(self) -> None:
        unknown = replace(HEAVY, builds=(replace(LIGHT.build, shaft_length_m=None), HEAVY.builds[1]), in_use=0)
        with self.assertRaises(InvalidValue):
            other_arrow(unknown, HEAVY)


class AtTheStation(unittest.TestCase):
    def test_before_it_was_shot_nobody_knows_how_far_it_is_good(self) -> None:
        told = both(shot(17.0, 38.0, 61.0))
        self.assertEqual((len(told.used), told.own, told.aside), (3, (), True))
        self.assertEqual((told.good_to_m, told.good_enough, told.next_shot), (None, False, None))
        self.assertEqual(tape_step(HEAVY, told).code, "other_arrow")
        self.assertTrue(all(row.has("arrow") for row in told.rows))

    def test_one_group_at_home_gives_most_of_the_tape_back(self) -> None:
        truth = heavy()
        home = fresh((17.0, heavy_mark(17.0, truth)))
        told, alone = both([*shot(17.0, 38.0, 61.0, 78.0), *home]), both(home)
        sds = [each.fit.tape([95.0])[0].sd_on_target_m for each in (told, alone)]
        self.assertLess(sds[0], 0.65 * sds[1])
        row = told.fit.tape([95.0])[0]
        self.assertLess(abs(row.mark_mm - heavy_mark(95.0, truth)), COVERAGE * row.sd_mm)
        self.assertEqual((len(told.own), told.aside), (1, False))

    def test_the_marks_of_a_light_arrow_do_not_disagree_with_a_heavy_ones(self) -> None:
        told = both([*shot(17.0, 61.0), *fresh((17.0, heavy_mark(17.0, heavy())), (61.0, heavy_mark(61.0, heavy())))])
        self.assertEqual({f.code for row in told.rows for f in row.findings}, {"arrow"})
        self.assertIsNone(told.contradiction)

    def test_bands_hold_for_arrows_as_they_differ(self) -> None:
        held, rng, bows = 0, np.random.default_rng(8), 40
        for _ in range(bows):
            truth, launch = heavy(tuple(rng.normal(size=2))), rng.normal(0.0, LAUNCH_SD_MRAD)
            mark = heavy_mark(17.0, truth) + self.off(17.0, launch, rng)
            before = [replace(e, mark_mm=e.mark_mm + self.off(e.ranged_m, 0.0, rng)) for e in shot(17.0, 38.0, 61.0)]
            row = both([*before, *fresh((17.0, mark))]).fit.tape([78.0])[0]
            true = heavy_mark(78.0, truth) + 0.82 * 78.0 / 78.82 * launch
            held += abs(row.mark_mm - true) <= COVERAGE * row.sd_mm
        self.assertGreaterEqual(held, 0.9 * bows)

    @staticmethod
    def off(distance_m: float, high_mrad: float, rng: np.random.Generator) -> float:
        """What a mark is off by: an arrow that leaves higher, six arrows of 1 mrad, and how it is read."""
        angle = high_mrad + rng.normal(0.0, 6**-0.5)
        return float(0.82 * distance_m / (0.82 + distance_m) * angle + rng.normal(0.0, 0.15))


class CarriedOver(unittest.TestCase):
    def test_days_are_no_mark_zeros(self) -> None:
        """A fit with days is carried over as one without: a day's offset is no mark."""
        light = LIGHT.distance_from_sight
        seen = [Observation(light(d), true_mark(d), 0.15, session=day) for d, day in ((17.0, "a"), (61.0, "b"))]
        plain = solve(LIGHT.priors(), 17.0, seen)
        with_days = solve(LIGHT.priors(), 17.0, seen, day_spread_mrad=1e-4)
        for one, other in zip(*(carried_over(LIGHT, HEAVY, fit).fit.tape([17.0, 95.0]) for fit in (plain, with_days))):
            self.assertAlmostEqual(one.mark_mm, other.mark_mm, places=3)
            self.assertAlmostEqual(one.sd_mm, other.sd_mm, places=3)
        offsets = carried_over(LIGHT, HEAVY, solve(LIGHT.priors(), 17.0, seen, day_spread_mrad=0.3)).fit
        self.assertLess(abs(offsets.session_offset("a").value), 1.0)
