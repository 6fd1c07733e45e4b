import unittest
from dataclasses import replace

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.rig.arrow_build import ArrowBuild, margins, mass_per_force, recorded, spine_doubts, usual_centre
from cross_staff.core.rig.chronograph import ChronographSession

POUND_N = 4.4482216152605
PARTS = (
    Component("Nock", 0.0005, 0.002),
    Component("Collar", 0.0019, 0.718),
    Component("Point", 0.0078, 0.728),
)
BUILD = ArrowBuild("slim", 0.724, 0.0168, 0.0058, PARTS)


class Balance(unittest.TestCase):
    def test_a_measured_point_stands_in_place_of_every_parts_centre(self) -> None:
        build = ArrowBuild("", 0.720, None, 0.006, (), 0.027, balance_point_m=0.420)
        self.assertAlmostEqual(build.balance().foc_percent, 100.0 * 0.060 / 0.720)
        self.assertAlmostEqual(build.balance().mass_kg, 0.027)
        self.assertIsNone(ArrowBuild("", 0.720, balance_point_m=0.420).balance())  # nobody weighed it
        self.assertIsNone(build.weighs_apart())

    def test_parts_whose_place_follows_from_the_shaft(self) -> None:
        for name, centre in (("Nock", 0.005), ("lighted nock", 0.005), ("Point", 0.724), ("Insert", 0.708)):
            self.assertAlmostEqual(usual_centre(name, 0.720), centre)
        self.assertIsNone(usual_centre("weight tube", 0.720))


class Weight(unittest.TestCase):
    def test_the_scale_overrides_the_sum(self) -> None:
        self.assertAlmostEqual(BUILD.mass_kg(), 0.724 * 0.0168 + 0.0102)
        weighed = replace(BUILD, measured_mass_kg=0.0231)
        self.assertEqual(weighed.mass_kg(), 0.0231)
        self.assertLess(weighed.drag_per_m(), BUILD.drag_per_m())

    def test_a_scale_that_disagrees_is_said(self) -> None:
        total = BUILD.mass_kg()
        self.assertIsNone(replace(BUILD, measured_mass_kg=total * 1.01).weighs_apart())
        self.assertAlmostEqual(replace(BUILD, measured_mass_kg=total + 0.0013).weighs_apart(), 0.0013)
        self.assertIsNone(BUILD.weighs_apart())

    def test_half_a_shaft_weighs_nothing_yet(self) -> None:
        self.assertIsNone(ArrowBuild(shaft_length_m=0.72).balance())
        self.assertIsNone(ArrowBuild(shaft_kg_per_m=0.0168).mass_kg())

    def test_mass_per_draw_weight(self) -> None:
        self.assertAlmostEqual(mass_per_force(0.02268, 70.0 * POUND_N) * POUND_N / 64.79891e-6, 5.0, places=2)
        self.assertIsNone(mass_per_force(0.02, None))

    def test_the_front_is_point_and_collar(self) -> None:
        self.assertAlmostEqual(BUILD.front_kg(), 0.0097)


class Spine(unittest.TestCase):
    def setUp(self) -> None:
        self.kept = recorded(replace(BUILD, spine="350"), None, 270.0)

    def test_it_remembers_what_it_was_chosen_for(self) -> None:
        self.assertEqual(self.kept.spine_for, BUILD.spine_basis(270.0))
        self.assertEqual(spine_doubts(self.kept, 270.0), ())
        self.assertEqual(recorded(self.kept, self.kept, 300.0).spine_for.draw_weight_n, 270.0)

    def test_more_weight_length_or_point_asks_for_a_stiffer_shaft(self) -> None:
        longer = replace(self.kept, shaft_length_m=0.735)
        pointed = replace(self.kept, components=(*PARTS[:2], Component("Point", 0.0094, 0.728)))
        self.assertEqual([(d.what, d.stiffer) for d in spine_doubts(self.kept, 285.0)], [("draw_weight", 1)])
        self.assertEqual([(d.what, d.stiffer) for d in spine_doubts(self.kept, 255.0)], [("draw_weight", -1)])
        self.assertIn(("shaft_length", 1), [(d.what, d.stiffer) for d in spine_doubts(longer, 270.0)])
        self.assertEqual([(d.what, d.stiffer) for d in spine_doubts(pointed, 270.0)], [("front", 1)])

    def test_a_new_spine_is_chosen_anew_and_an_empty_one_forgets(self) -> None:
        self.assertEqual(recorded(replace(self.kept, spine="300"), self.kept, 300.0).spine_for.draw_weight_n, 300.0)
        self.assertIsNone(recorded(replace(self.kept, spine=""), self.kept, 300.0).spine_for)


class Sessions(unittest.TestCase):
    def test_draw_weight_and_mass_are_written_beside_a_new_session(self) -> None:
        session = recorded(replace(BUILD, sessions=(ChronographSession((81.0, 81.2)),)), None, 270.0).sessions[0]
        self.assertEqual((session.draw_weight_n, session.mass_kg), (270.0, BUILD.mass_kg()))

    def test_leaving_a_reading_out_measures_nothing_anew(self) -> None:
        kept = recorded(replace(BUILD, sessions=(ChronographSession((81.0, 81.2)),)), None, 270.0)
        again = replace(kept, sessions=(ChronographSession((81.0, 81.2), frozenset({1})),))
        self.assertEqual(recorded(again, kept, 300.0).sessions[0].draw_weight_n, 270.0)


class AtTheRest(unittest.TestCase):
    def test_shaft_and_collar_in_front_of_the_rest(self) -> None:
        rest = margins(BUILD, 0.700)
        self.assertAlmostEqual(rest.shaft_m, 0.024)
        self.assertAlmostEqual(rest.collar_m, 0.018)
        self.assertEqual(rest.short, ())
        self.assertEqual(margins(BUILD, 0.716).short, ("shaft", "collar"))
        self.assertEqual(margins(BUILD, None).short, ())
        self.assertIsNone(margins(replace(BUILD, components=()), 0.70).collar_m)
