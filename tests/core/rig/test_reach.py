"""One reach: every limit in one place, with the pins as they stand, and what is not known."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import far_distances, pin_height
from cross_staff.core.rig.card import Goals, Mount, PeepEntry, RigCard
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.reach import PinSetting, Place, SightReach, flight_range_m, place_now, sight_reach
from cross_staff.core.rig.sight import Control, Housing, Pin, SightModel, TapeSeat
from tests.core.oracle import height_at
from tests.rigs import RIG_A, full_card

PINS = (20.0, 35.0, 50.0)
SIGHT = SightModel(
    "slider", "multi_pin_slider", pins=(Pin(),) * 3, housing=Housing(44.0, 52.0, 20.0, 30.0), slider_travel_mm=45.0
)
TOP = Place(None, None, "top")


def card(sight: SightModel = SIGHT, mount: Mount = Mount(home="top", vanes_mm=5.0), **changes: object) -> RigCard:
    goals = Goals(20.0, 95.0, 0.25, 0.1, 38.0, (), PINS)
    fields: dict[str, object] = {"sight": sight, "mount": mount, "goals": goals, "peep": PeepEntry("square", 0.104)}
    return full_card(**(fields | changes))  # type: ignore[arg-type]


def height(distance_m: float) -> float:
    return pin_height(RIG_A, distance_m)


class Limits(unittest.TestCase):
    def reach(self, pins: Pins = Pins(PINS), of: RigCard | None = None, **setting: object) -> SightReach:
        return sight_reach(of or card(), RIG_A, TOP, PinSetting(pins, **setting))  # type: ignore[arg-type]

    def test_the_pin_on_the_wheel_goes_as_far_as_it_is(self) -> None:
        """45 mm of travel take the top pin to the reference value, and each lower one farther."""
        self.assertAlmostEqual(self.reach().farthest_m or 0.0, 90.278, delta=0.002)
        for dialled in (1, 2):
            reach = self.reach(Pins(PINS, dialled))
            wanted = far_distances(RIG_A, [height(PINS[dialled]) - 0.045])[0]
            self.assertEqual((reach.pin, reach.binding), (dialled, "slider_travel"))
            self.assertAlmostEqual(reach.farthest_m or 0.0, wanted or 0.0, places=6)

    def test_of_several_pointers_the_one_that_goes_farthest_counts(self) -> None:
        reach = self.reach(Pins(PINS, 0, (0, 1, 2)))
        self.assertEqual(reach.pin, 2)
        self.assertEqual(dict(reach.by_pin)[0], self.reach().farthest_m)
        self.assertEqual(reach.farthest_m, self.reach(Pins(PINS, 2)).farthest_m)

    def test_a_pin_that_stands_lower_than_it_belongs_goes_farther(self) -> None:
        stands = self.reach(Pins(PINS, 2), below_mm=(0.0, 8.0, 20.0))
        wanted = far_distances(RIG_A, [height(20.0) - 0.020 - 0.045])[0]
        self.assertAlmostEqual(stands.farthest_m or 0.0, wanted or 0.0, places=6)

    def test_the_housing_s_edge_keeps_clear_of_the_vanes(self) -> None:
        near = card(replace(SIGHT, housing=Housing(44.0, 52.0, 40.0)))
        reach = self.reach(of=near)
        self.assertEqual(reach.binding, "clearance")
        moved = 1000.0 * height(20.0) - 40.0 - 8.0
        self.assertAlmostEqual(reach.below_mm or 0.0, moved, places=6)
        self.assertAlmostEqual(reach.farthest_m or 0.0, far_distances(RIG_A, [height(20.0) - moved / 1000.0])[0] or 0.0)

    def test_the_tape_s_seat_ends_by_the_ratio_that_was_found(self) -> None:
        long = card(replace(SIGHT, slider_travel_mm=200.0, housing=Housing(), tape=TapeSeat(length_mm=40.0)))
        self.assertAlmostEqual(self.reach(of=long).farthest_m or 0.0, 83.362, delta=0.002)
        geared = self.reach(of=long, ratio=1.6)
        self.assertAlmostEqual(geared.farthest_m or 0.0, far_distances(RIG_A, [height(20.0) - 0.025])[0] or 0.0)
        unknown = self.reach(of=long, ratio=None)
        self.assertIn("tape_ratio", unknown.unknown)
        self.assertNotIn("tape_length", unknown.limits)

    def test_the_arrow_itself_ends_it_and_flies_no_farther(self) -> None:
        weak = RigFigures(42.0, 0.004, 0.80, 0.10)
        flies = flight_range_m(weak)
        assert flies
        self.assertIsNotNone(height_at(weak, pin_height(weak, flies), flies, 0.0))
        reach = sight_reach(card(SightModel("x", "single_pin_slider")), weak, TOP, PinSetting(Pins((20.0,))))
        self.assertEqual((reach.binding, reach.farthest_m), ("arrow", flies))
        self.assertIsNone(flight_range_m(RIG_A))

    def test_the_wheel_s_travel_stands_in_for_the_slide_s(self) -> None:
        by_wheel = replace(SIGHT, slider_travel_mm=None, controls=(Control("Wheel", "elevation", travel_mm=45.0),))
        self.assertEqual(self.reach(of=card(by_wheel)).farthest_m, self.reach().farthest_m)


class Unknown(unittest.TestCase):
    def test_what_nobody_measured_is_named_the_one_that_binds_soonest_first(self) -> None:
        bare = card(SightModel("bare", "single_pin_slider"), Mount())
        reach = sight_reach(bare, RIG_A, place_now(bare), PinSetting(Pins((20.0,))))
        self.assertEqual(reach.unknown, ("slider_travel", "below_pin", "vanes"))
        self.assertEqual((reach.farthest_m, reach.sight_m, reach.below_mm), (None, None, None))

    def test_home_is_assumed_at_the_top_and_said_to_be(self) -> None:
        for mount, unknown in ((Mount(vanes_mm=5.0), ("home_place",)), (Mount(home="top", vanes_mm=5.0), ()),
                               (Mount(pin_at_top_mm=90.0, vanes_mm=5.0), ())):  # fmt: skip
            of = card(mount=mount)
            self.assertEqual(sight_reach(of, RIG_A, place_now(of), PinSetting(Pins(PINS))).unknown, unknown)

    def test_travel_about_home(self) -> None:
        for home, above in (("top", 0.0), ("centred", 22.5)):
            reach = sight_reach(card(), RIG_A, Place(None, None, home), PinSetting(Pins(PINS)))
            self.assertEqual((reach.above_mm, reach.below_mm), (above, 45.0 - above))

    def test_pins_that_stand_still_end_with_their_housing(self) -> None:
        still = card(replace(SIGHT, kind="fixed_pins"))
        reach = sight_reach(still, RIG_A, TOP, PinSetting(Pins(PINS)))
        self.assertEqual(reach.binding, "lowest_pin")
        self.assertAlmostEqual(reach.farthest_m or 0.0, far_distances(RIG_A, [height(20.0) - 0.030])[0] or 0.0)
        roomless = card(replace(SIGHT, kind="fixed_pins", housing=Housing()))
        self.assertEqual(sight_reach(roomless, RIG_A, TOP, PinSetting(Pins(PINS))).unknown, ("pin_room",))
