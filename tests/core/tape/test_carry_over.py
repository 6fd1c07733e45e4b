"""A change of arrow or draw weight: the carried tape against the true one, and its wider bands."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.speed import measured
from cross_staff.core.tape.carry_over import carried_over, confirming, overlay
from cross_staff.core.tape.forecast import PlannedGroup
from cross_staff.core.tape.station import evaluate
from tests.rigs import RIG_A, entry, full_card, true_mark

OLD = full_card()
MARKS = [entry(n, d, true_mark(d), arrows=6) for n, d in enumerate((17.0, 38.0, 61.0, 78.0), 1)]
FIT = evaluate(OLD, MARKS).fit


def heavier(kg: float = 0.0016, diameter: float | None = None) -> ArrowBuild:
    build = OLD.build
    parts = tuple(replace(p, mass_kg=p.mass_kg + kg) if p.name == "Point" else p for p in build.components)
    return replace(build, components=parts, shaft_diameter_m=diameter or build.shaft_diameter_m)


class Carried(unittest.TestCase):
    def test_nothing_changed_changes_nothing(self) -> None:
        assert FIT
        nothing = carried_over(OLD, OLD, FIT)
        self.assertEqual((nothing.drag_factor, nothing.home_shift_mm), (1.0, 0.0))
        for row in overlay(FIT, nothing.fit, [38.0, 95.0]):
            self.assertAlmostEqual(row.old_mm or 0.0, row.new_mm or 1.0, places=9)
        self.assertAlmostEqual(nothing.fit.tape([95.0])[0].sd_mm or 0.0, FIT.tape([95.0])[0].sd_mm or 1.0, places=9)

    def test_a_length_that_was_measured_again_moves_its_own_figure_and_is_known_to_two_millimetres(self) -> None:
        assert FIT
        nearer = carried_over(OLD, replace(OLD, eye_to_sight_m=0.80), FIT).fit
        higher = replace(OLD, peep=replace(OLD.peep, along_m=0.170))
        moved = higher.peep.height().height_m - OLD.peep.height().height_m
        peep = carried_over(OLD, higher, FIT).fit
        for made, place, by in ((nearer, 2, -0.02), (peep, 3, moved)):
            change = made.estimate[:4] - FIT.estimate[:4]
            self.assertEqual([abs(v) > 1e-12 for v in change], [n == place for n in range(4)])
            self.assertAlmostEqual(change[place], by)
            wider = made.covariance[place, place] - FIT.covariance[place, place]
            self.assertAlmostEqual(math.sqrt(wider), 0.002, places=9)

    def test_home_is_as_sure_as_its_height_by_speed_drag_lengths_and_scale(self) -> None:
        """The sd of the carried home mark, against nudging each figure by hand."""
        assert FIT
        made = carried_over(OLD, OLD.with_build(heavier(diameter=0.0065)), FIT)
        draws = np.random.default_rng(2).multivariate_normal(FIT.estimate, FIT.covariance, 500)
        factor, drag = made.fit.figures.speed_mps / FIT.figures.speed_mps, made.drag_factor
        marks = []
        for speed, ln_drag, lever, peep, _ratio, zero in draws[:, :6]:
            then = RigFigures(speed, FIT.priors.drag_per_m.value * math.exp(ln_drag), lever, peep)
            now = replace(then, speed_mps=factor * speed, drag_per_m=drag * then.drag_per_m)
            marks.append(zero + 1000.0 * (pin_height(then, 17.0) - pin_height(now, 17.0)))
        spread = float(np.std(marks))
        known = made.fit.known("speed_mps")
        self.assertGreater(made.fit.tape([17.0])[0].sd_mm, spread * 0.9)
        self.assertLess(made.fit.tape([17.0])[0].sd_mm, spread * 1.6)  # what is not known of the change widens it
        self.assertGreater(known.sd, FIT.known("speed_mps").sd * factor)

    def test_the_new_arrows_own_chronograph_counts_by_its_sd(self) -> None:
        """Two independent measurements of the speed: 1 / sd^2 adds up, and the mean is weighted so."""
        assert FIT
        new = OLD.with_build(heavier())
        alone = carried_over(OLD, new, FIT).fit.known("speed_mps")
        session = ChronographSession((78.0, 78.2, 78.4), mass_kg=new.build.mass_kg())
        build = replace(new.build, sessions=(session,))
        own = measured((build,), 0)
        made = carried_over(OLD, new.with_build(build), FIT)
        weights = alone.sd**-2.0, own.sd_mps**-2.0
        self.assertTrue(made.chronographed)
        mean = (alone.value * weights[0] + own.speed_mps * weights[1]) / sum(weights)
        self.assertAlmostEqual(made.fit.known("speed_mps").value, mean)
        self.assertAlmostEqual(made.fit.known("speed_mps").sd, sum(weights) ** -0.5)

    def test_a_heavier_arrow_is_slower_and_its_bands_are_wider(self) -> None:
        assert FIT
        new = OLD.with_build(heavier())
        wider = carried_over(OLD, new, FIT)
        was, now = OLD.build.mass_kg() or 0.0, new.build.mass_kg() or 0.0
        expected = math.sqrt((was + 0.008) / (now + 0.008))
        self.assertAlmostEqual(wider.speed_now_mps / wider.speed_then_mps, expected, delta=0.003)
        self.assertAlmostEqual(wider.drag_factor, was / now, places=9)
        self.assertGreater(wider.home_shift_mm, 0.0)
        for row in overlay(FIT, wider.fit, [17.0, 61.0, 95.0]):
            self.assertLess(row.up_m or 0.0, 0.0)
            self.assertGreater(row.sd_m or 0.0, FIT.tape([row.distance_m])[0].sd_on_target_m or 9.0)

    def test_the_carried_mark_is_where_the_new_arrow_really_needs_it(self) -> None:
        """The scale stays on the sight: a mark is a pin height, whatever flies."""
        assert FIT
        new = OLD.with_build(heavier())
        made = carried_over(OLD, new, FIT)
        figures = made.fit.figures
        for distance in (17.0, 61.0, 95.0):
            mark = made.fit.tape([distance])[0].mark_mm or 0.0
            height = pin_height(FIT.figures, 17.0) - (mark - FIT.mark_zero_mm.value) / 1000.0
            self.assertAlmostEqual(height, pin_height(figures, distance), delta=1e-6)

    def test_more_draw_weight_is_faster_by_its_root(self) -> None:
        assert FIT
        old = replace(OLD, bow=replace(OLD.bow, draw_weight_n=250.0))
        new = replace(OLD, bow=replace(OLD.bow, draw_weight_n=270.0))
        root = carried_over(old, new, FIT)
        self.assertAlmostEqual(root.speed_now_mps / root.speed_then_mps, math.sqrt(270.0 / 250.0), places=6)
        self.assertGreater(root.fit.known("speed_mps").sd or 0.0, 0.009 * RIG_A.speed_mps)

    def test_another_shaft_leaves_its_drag_less_sure(self) -> None:
        assert FIT
        thin = carried_over(OLD, OLD.with_build(heavier()), FIT).fit.known("drag_per_m").sd or 0.0
        thick = carried_over(OLD, OLD.with_build(heavier(diameter=0.0072)), FIT).fit.known("drag_per_m").sd or 0.0
        self.assertGreater(thick, thin)

    def test_a_peep_moved_moves_the_tape(self) -> None:
        assert FIT
        new = replace(OLD, peep=replace(OLD.peep, along_m=(OLD.peep.along_m or 0.0) + 0.004))
        tape = carried_over(OLD, new, FIT)
        self.assertAlmostEqual(
            tape.fit.figures.peep_height_m - FIT.figures.peep_height_m, 0.004 * math.sin(math.radians(39.0)), places=6
        )
        self.assertNotEqual(tape.home_shift_mm, 0.0)

    def test_the_chronograph_of_the_new_arrow_is_heard(self) -> None:
        assert FIT
        build = heavier()
        session = replace(OLD.build.sessions[0], readings_mps=(75.0, 75.2, 74.9, 75.1), mass_kg=build.mass_kg())
        new = OLD.with_build(replace(build, sessions=(*OLD.build.sessions, session)))
        heard = carried_over(OLD, new, FIT)
        self.assertTrue(heard.chronographed)
        silent = carried_over(OLD, OLD.with_build(build), FIT)
        self.assertLess(abs(heard.speed_now_mps - 75.1), abs(silent.speed_now_mps - 75.1))

    def test_what_is_not_known_is_said(self) -> None:
        assert FIT
        with self.assertRaisesRegex(InvalidValue, "mass"):
            carried_over(OLD, OLD.with_build(ArrowBuild("nothing known")), FIT)

    def test_home_and_one_far_distance_confirm_it(self) -> None:
        assert FIT
        made = carried_over(OLD, OLD.with_build(heavier()), FIT)
        home, far = confirming(made.fit, 17.0, [26.0, 38.0, 61.0, 78.0, 95.0], 95.0, PlannedGroup())
        self.assertEqual(home.distance_m, 17.0)
        self.assertGreater(far.distance_m, 60.0)
        self.assertLess(far.sd_at_farthest_m_then, 0.7 * home.sd_at_farthest_m_now)
