import unittest
from dataclasses import replace

from cross_staff.core.ballistics.reach import SightRoom, misjudged_m, reach
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import OutOfReach
from tests.rigs import RIG_A, RIG_B

ROOM = SightRoom(0.045, 0.030, 0.020, 0.040)


class Reference(unittest.TestCase):
    """docs/method.md, section 9: rig A, reference 20 m."""

    def test_slider_tape_and_clearance(self) -> None:
        reachable = reach(RIG_A, 20.0, ROOM)
        for name, distance in (("slider_travel", 90.278), ("tape_length", 83.362), ("clearance", 80.419)):
            self.assertAlmostEqual(reachable.limits[name], distance, delta=0.002)
        self.assertEqual(reachable.binding, "clearance")
        self.assertEqual(reachable.farthest_m, reachable.limits["clearance"])


class Laws(unittest.TestCase):
    def test_the_limit_is_where_the_pin_height_runs_out(self) -> None:
        for rig in (RIG_A, RIG_B):
            for travel in (0.002, 0.020, 0.060):
                far = reach(rig, 17.0, SightRoom(travel)).farthest_m
                self.assertAlmostEqual(pin_height(rig, 17.0) - pin_height(rig, far), travel, places=6)

    def test_no_travel_at_all_leaves_the_reference_itself(self) -> None:
        self.assertAlmostEqual(reach(RIG_A, 20.0, SightRoom(0.0)).farthest_m, 20.0, places=3)

    def test_a_wheel_shares_its_tape_by_its_ratio(self) -> None:
        one = reach(RIG_A, 20.0, SightRoom(tape_length_m=0.030))
        wheel = reach(RIG_A, 20.0, SightRoom(tape_length_m=0.090, tape_ratio=3.0))
        self.assertAlmostEqual(one.farthest_m, wheel.farthest_m, places=6)

    def test_what_is_not_known_does_not_bind(self) -> None:
        reachable = reach(RIG_A, 20.0, SightRoom())
        self.assertEqual((reachable.farthest_m, reachable.binding, reachable.limits), (None, None, {}))
        self.assertIsNone(reach(RIG_A, 20.0, SightRoom(0.5)).limits["slider_travel"])

    def test_two_hundred_metres_bind_nobody(self) -> None:
        for ends_at, said in ((199.5, 199.5), (200.5, None)):
            travel = pin_height(RIG_A, 20.0) - pin_height(RIG_A, ends_at)
            far = reach(RIG_A, 20.0, SightRoom(travel)).limits["slider_travel"]
            self.assertEqual(far if far is None else round(far, 3), said)

    def test_a_housing_that_hangs_too_low_goes_nowhere(self) -> None:
        reachable = reach(RIG_A, 20.0, replace(ROOM, housing_below_pin_m=0.080))
        self.assertEqual((reachable.farthest_m, reachable.binding), (0.0, "clearance"))

    def test_fixed_pins_end_at_the_lowest(self) -> None:
        reachable = reach(RIG_A, 20.0, SightRoom(pin_room_m=0.034))
        self.assertEqual(reachable.binding, "lowest_pin")
        self.assertAlmostEqual(reachable.farthest_m, 74.9, delta=0.3)

    def test_an_unreachable_reference_is_said(self) -> None:
        with self.assertRaises(OutOfReach):
            reach(replace(RIG_B, speed_mps=20.0, drag_per_m=0.02), 200.0, ROOM)


class Misjudging(unittest.TestCase):
    def test_too_far_is_too_high_and_costs_more_far_out(self) -> None:
        near, far = misjudged_m(RIG_A, 30.0, 1.0), misjudged_m(RIG_A, 90.0, 1.0)
        self.assertTrue(0.0 < near < far)
        self.assertLess(misjudged_m(RIG_A, 60.0, -1.0), 0.0)
        self.assertAlmostEqual(misjudged_m(RIG_A, 60.0, 0.0), 0.0, places=4)
        self.assertIsNone(misjudged_m(replace(RIG_B, speed_mps=20.0, drag_per_m=0.02), 200.0, 1.0))

    def test_only_a_set_distance_that_is_none_is_none(self) -> None:
        self.assertIsNone(misjudged_m(RIG_A, 1.0, -0.95))
        self.assertIsNotNone(misjudged_m(RIG_A, 1.0, 0.95))
        self.assertIsNotNone(misjudged_m(RIG_A, 30.0, 29.95))
