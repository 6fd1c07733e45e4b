import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.arrow import PRIOR_DRAG_SD_LN, PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN
from cross_staff.core.rig.card import USUAL_EYE_TO_PEEP_M, Goals, LevelSetup, PeepEntry, RigCard
from cross_staff.core.rig.priors import Known
from cross_staff.core.rig.sight import Control, SightModel, TapeSeat
from tests.rigs import full_card


class Stated(unittest.TestCase):
    """What is taken where nothing was measured, as docs/method.md states it."""

    def test_the_sds_of_each_way_to_a_peep_height(self) -> None:
        for way, sd in (("square", 0.005), ("photo", 0.006), ("eye", 0.012)):
            self.assertEqual(PeepEntry(way, 0.1).height().sd_m, sd)
        estimated = PeepEntry("estimated", along_m=0.15, axle_to_axle_m=0.86, true_draw_m=0.70)
        along = math.hypot(math.sin(estimated.angle()) * 0.003, 0.15 * math.cos(estimated.angle()) * math.radians(2.5))
        self.assertAlmostEqual(estimated.height().sd_m, along)

    def test_the_yaw_of_a_reference_by_its_seat(self) -> None:
        self.assertAlmostEqual(LevelSetup(seat="flat").yaw_of("flat")[1], math.radians(0.5))
        self.assertAlmostEqual(LevelSetup(seat="string").yaw_of("string")[1], math.radians(1.5))
        self.assertEqual(LevelSetup(seat="string", yaw_proved=True).yaw_of("string")[1], 0.0)

    def test_priors_of_drag_virtual_mass_and_the_eye(self) -> None:
        self.assertEqual((PRIOR_DRAG_SD_LN, PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN), (0.25, 0.008, 0.35))
        self.assertEqual(USUAL_EYE_TO_PEEP_M, 0.07)

    def test_a_ratio_that_is_not_known_starts_at_one_and_is_sought(self) -> None:
        self.assertEqual(full_card(tape=TapeSeat(ratio=None)).priors().tape_ratio, Known(1.0, None))
        self.assertEqual(full_card(tape=TapeSeat(ratio=2.5, ratio_sd=0.1)).priors().tape_ratio, Known(2.5, 0.1))
        self.assertEqual(full_card().priors().tape_ratio, Known(1.0, 0.0))


class Goal(unittest.TestCase):
    def test_an_archers_spread_from_his_usual_group(self) -> None:
        self.assertAlmostEqual(Goals(group_size_m=0.33, group_at_m=50.0).spread_mrad, 2.0)
        self.assertIsNone(Goals(group_size_m=0.33).spread_mrad)


class Card(unittest.TestCase):
    def test_what_the_tape_still_needs_in_the_order_of_measuring(self) -> None:
        self.assertEqual(full_card().missing(), ())
        wanted = ("arrow", "chronograph", "eye_to_sight", "peep", "home", "farthest", "target_size")
        self.assertEqual(RigCard("new").missing(), wanted)
        self.assertEqual(replace(full_card(), eye_to_sight_m=None).missing(), ("eye_to_sight",))

    def test_only_what_was_ranged_from_the_eye_is_longer(self) -> None:
        by_eye = replace(full_card(), ranged_from="eye")
        self.assertAlmostEqual(by_eye.distance_from_sight(50.0), 50.0 - 0.82)
        self.assertAlmostEqual(by_eye.ranged_distance(by_eye.distance_from_sight(50.0)), 50.0)
        self.assertEqual(full_card().distance_from_sight(50.0), 50.0)
        self.assertEqual(full_card().ranged_distance(50.0), 50.0)

    def test_a_tape_is_trusted_no_farther_than_it_is_wanted(self) -> None:
        self.assertEqual(full_card().trusted_m(99.0), 95.0)
        self.assertEqual(full_card().trusted_m(61.0), 61.0)
        self.assertIsNone(full_card().trusted_m(None))


class Seats(unittest.TestCase):
    def test_a_scale_grows_with_distance_unless_it_is_said_otherwise(self) -> None:
        self.assertEqual((TapeSeat().direction, TapeSeat(scale_grows=False).direction), (1.0, -1.0))

    def test_the_housings_own_travel_is_that_of_its_controls(self) -> None:
        gang, micro = Control("Gang", "gang_elevation", travel_mm=20.0), Control("Micro", "elevation", travel_mm=9.0)
        self.assertEqual(SightModel(controls=(gang, micro)).gang_travel_mm(), 20.0)
        self.assertIsNone(SightModel(controls=(micro, Control("Gang", "gang_elevation"))).gang_travel_mm())
