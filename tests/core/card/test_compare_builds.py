import unittest
from dataclasses import replace

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.reach import misjudged_m
from cross_staff.core.card import compare_builds
from cross_staff.core.card.compare_builds import ComparedBuilds
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import Bow, RigCard
from tests.core.mount.test_planner import card, setting


def two(heavier_kg: float = 0.003) -> RigCard:
    one = card(bow=Bow("", 270.0))
    point = replace(one.build.components[0], mass_kg=one.build.components[0].mass_kg + heavier_kg)
    other = replace(one.build, name="heavy", components=(point, *one.build.components[1:]), sessions=())
    return replace(one, builds=(one.build, other))


def compare(card: RigCard) -> tuple[ComparedBuilds, ...]:
    return compare_builds.compare(card, setting(card))


class SideBySide(unittest.TestCase):
    def test_the_heavier_arrow_is_slower_shorter_and_forgives_less(self) -> None:
        light, heavy = compare(two())
        self.assertTrue(light.measured and not heavy.measured)
        self.assertGreater(light.speed.speed_mps, heavy.speed.speed_mps + 2.0)
        self.assertGreater(heavy.speed.sd_mps, light.speed.sd_mps)
        self.assertGreater(light.reach.farthest_m, heavy.reach.farthest_m)
        self.assertGreater(heavy.mass_per_force, light.mass_per_force)
        self.assertGreater(heavy.foc_percent, light.foc_percent)
        for (near, at_near), (far, at_far) in (light.misjudged, heavy.misjudged):
            self.assertEqual((near, far), (39.0, 78.0))
            self.assertGreater(at_far, at_near)
        self.assertGreater(heavy.misjudged[1][1], light.misjudged[1][1])

    def test_what_a_twentieth_too_far_costs_at_half_and_all_of_the_way(self) -> None:
        one = two()
        figures = one.priors().figures
        for (ranged, cost), error in zip(compare(one)[0].misjudged, (1.95, 3.9)):
            self.assertAlmostEqual(cost, misjudged_m(figures, one.distance_from_sight(ranged), error))
        nowhere = replace(one, goals=replace(one.goals, farthest_m=None))
        self.assertEqual(compare(nowhere)[0].misjudged, ())
        self.assertIsNotNone(compare(nowhere)[0].reach)

    def test_what_is_not_known_stays_unknown(self) -> None:
        bare = replace(two(), builds=(ArrowBuild("bare"),))
        unknown = compare(bare)[0]
        self.assertEqual((unknown.mass_kg, unknown.speed, unknown.reach, unknown.misjudged), (None, None, None, ()))

    def test_a_build_that_weighs_nothing_breaks_nothing(self) -> None:
        empty = ArrowBuild("empty", 0.7, 0.0, 0.006, (Component("part", 0.0, 0.1),))
        self.assertIsNone(compare(replace(two(), builds=(two().build, empty)))[1].mass_kg)
