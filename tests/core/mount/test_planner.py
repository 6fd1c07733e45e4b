import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.mount import planner
from cross_staff.core.mount.planner import HOMES, PlaceChoice, Plan, Remedy, take
from cross_staff.core.mount.station import CLASH, EITHER, QUIVER, WHEEL, goes_on_first
from cross_staff.core.rig.card import Goals, Mount, Outline, PeepEntry, RigCard
from cross_staff.core.rig.peep import aperture_that_rings, peep_shift
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.reach import PinSetting, Place
from cross_staff.core.rig.sight import Control, Housing, Pin, SightModel, TapeSeat
from cross_staff.core.rig.sight_kinds import KINDS
from tests.rigs import RIG_A, full_card

SIGHT = SightModel(
    "slider",
    "multi_pin_slider",
    pins=(Pin(0.48),) * 3,
    housing=Housing(44.0, 52.0, 30.0, 30.0),
    slider_travel_mm=45.0,
    extension_mm=(0.0, 12.0, 24.0),
    holes_mm=(0.0, 9.5),
    controls=(Control("housing", "gang_elevation", travel_mm=10.0),),
    tape=TapeSeat(length_mm=60.0),
)
GOALS = Goals(20.0, 78.0, 0.25, 0.1, 38.0, (12.0, 20.0, 78.0), (20.0, 35.0, 50.0))


def card(**changes: object) -> RigCard:
    """Rig A's geometry, with the sight at its middle detent."""
    mount = Mount(0, 1, "top", vanes_mm=17.0, clearance_mm=3.0, ahead_of_grip_m=0.17)
    fields: dict[str, object] = {"sight": SIGHT, "goals": GOALS, "mount": mount, "peep": PeepEntry("square", 0.104)}
    return full_card(**(fields | changes))  # type: ignore[arg-type]


def setting(card: RigCard) -> PinSetting:
    """The pins of the card, the near one on the wheel."""
    return PinSetting(Pins(card.goals.pin_distances_m), (), card.tape.ratio)


def plan(card: RigCard, figures: RigFigures, place: Place) -> Plan:
    return planner.plan(card, figures, place, setting(card))


def plan_all(card: RigCard, figures: RigFigures) -> PlaceChoice:
    return planner.plan_all(card, figures, setting(card))


def remedies(card: RigCard, figures: RigFigures, now: Plan) -> tuple[Remedy, ...]:
    return planner.remedies(card, figures, now, setting(card))


class FirstOn(unittest.TestCase):
    def test_the_one_nearer_the_riser_where_they_cover_one_another(self) -> None:
        quiver, wheel = Outline((-20.0, 60.0), (-40.0, 40.0), 12.0), Outline((30.0, 75.0), (-10.0, 20.0), 31.0)
        for quiver_, wheel_, first in (
            (quiver, wheel, QUIVER),
            (replace(quiver, out_mm=40.0), wheel, WHEEL),
            (replace(quiver, out_mm=30.0), wheel, CLASH),
            (quiver, replace(wheel, ahead_mm=(60.0, 90.0)), EITHER),
            (quiver, replace(wheel, out_mm=None), None),
            (Outline(), Outline(), None),
        ):
            rig = card()
            self.assertEqual(goes_on_first(replace(rig, mount=replace(rig.mount, quiver=quiver_, wheel=wheel_))), first)


class NotInvented(unittest.TestCase):
    def test_no_place_is_best_while_the_reach_is_not_known(self) -> None:
        bare = card(sight=SightModel("bare", "multi_pin_slider"))
        choice = plan_all(bare, RIG_A)
        self.assertFalse(choice.told)
        self.assertEqual([each.place.home for each in choice.plans], list(HOMES))
        near = card(sight=SightModel("bare", "multi_pin_slider"), goals=replace(GOALS, distances_m=(12.0, 20.0)))
        top, reserve, _ = plan_all(near, RIG_A).plans
        self.assertGreater(top.wanted_above_mm, 0.0)
        self.assertEqual((top.near_enough, reserve.near_enough), (False, True))


class Plans(unittest.TestCase):
    def test_the_reference_limits_at_the_top(self) -> None:
        reach = plan(card(), RIG_A, Place(0, 1, "top")).reach
        self.assertEqual(reach.binding, "clearance")
        self.assertAlmostEqual(reach.farthest_m, 80.419, delta=0.002)
        self.assertAlmostEqual(reach.limits["slider_travel"], 90.278, delta=0.002)

    def test_the_stack_and_the_tape_are_those_of_the_flight(self) -> None:
        planned = plan(card(), RIG_A, Place(0, 1, "top"))
        self.assertAlmostEqual(planned.pins_mm, 17.2548, places=3)
        drop = 1000.0 * (pin_height(RIG_A, 20.0) - pin_height(RIG_A, 78.0))
        self.assertAlmostEqual(planned.tape_mm, drop, places=3)
        wheel = replace(SIGHT, tape=TapeSeat(length_mm=200.0, ratio=3.0))
        self.assertAlmostEqual(plan(card(sight=wheel), RIG_A, Place(0, 1, "top")).tape_mm, 3.0 * drop, places=3)

    def test_farther_out_is_a_longer_tape_a_shorter_reach_and_more_torque(self) -> None:
        near, far = (plan(card(), RIG_A, Place(0, detent, "top")) for detent in (0, 2))
        self.assertGreater(far.tape_mm, near.tape_mm)
        self.assertLess(far.reach.farthest_m, near.reach.farthest_m)
        self.assertGreater(far.torque_m, near.torque_m)
        self.assertLess(far.ringing_aperture_mm, near.ringing_aperture_mm)
        self.assertAlmostEqual(far.figures.eye_to_sight_m - near.figures.eye_to_sight_m, 0.024)

    def test_torque_is_the_arm_times_the_angle_at_the_target(self) -> None:
        planned = plan(card(), RIG_A, Place(0, 1, "top"))
        self.assertAlmostEqual(planned.torque_m, 0.17 * math.radians(1.0) * (0.82 + 78.0) / 0.82)
        self.assertIsNone(plan(card(mount=Mount(0, 1)), RIG_A, Place(0, 1, "top")).torque_m)

    def test_each_home_has_its_price(self) -> None:
        top, reserve, centred = (plan(card(), RIG_A, Place(0, 1, home)) for home in ("top", "reserve", "centred"))
        self.assertEqual((top.above_home_mm, centred.above_home_mm), (0.0, 22.5))
        self.assertGreater(reserve.above_home_mm, reserve.wanted_above_mm)
        self.assertFalse(top.near_enough)
        self.assertTrue(reserve.near_enough and centred.near_enough)
        limits = [p.reach.limits["slider_travel"] for p in (top, reserve, centred)]
        self.assertEqual(limits, sorted(limits, reverse=True))

    def test_what_must_be_dialled_up_is_at_most_the_turnover(self) -> None:
        wanted_above_mm = plan(card(), RIG_A, Place(0, 1, "top")).wanted_above_mm
        self.assertAlmostEqual(wanted_above_mm, 1000.0 * (pin_height(RIG_A, 12.0) - pin_height(RIG_A, 20.0)), places=3)
        deep = replace(GOALS, distances_m=(5.0, 78.0))
        self.assertAlmostEqual(plan(card(goals=deep), RIG_A, Place(0, 1, "top")).wanted_above_mm, 2.5, delta=0.06)

    def test_a_hole_that_puts_home_beyond_the_travel_is_said(self) -> None:
        low = card(mount=Mount(0, 1, pin_at_top_mm=60.0))
        self.assertFalse(plan(low, RIG_A, Place(0, 1, "top")).fits)
        higher = replace(SIGHT, holes_mm=(0.0, 30.0))
        planned = plan(replace(low, sight=higher), RIG_A, Place(1, 1, "top"))
        self.assertTrue(planned.fits)
        self.assertEqual(plan_all(low, RIG_A).why, "home_beyond_travel")

    def test_the_housing_moves_as_far_as_its_gang_lets_it(self) -> None:
        at_home = 1000.0 * pin_height(RIG_A, 20.0)
        planned = plan(card(mount=Mount(0, 1, pin_at_top_mm=at_home + 8.0)), RIG_A, Place(0, 1, "top"))
        self.assertAlmostEqual(planned.above_home_mm, 3.0)

    def test_a_sight_without_a_peep_has_no_picture(self) -> None:
        planned = plan(card(peep=PeepEntry("eye", 0.104)), RIG_A, Place(0, 1, "top"))
        self.assertEqual((planned.ringing_aperture_mm, planned.peep_shift_mm, planned.picture_part), (None, None, None))

    def test_near_enough_to_a_twentieth_of_a_millimetre(self) -> None:
        planned = replace(plan(card(), RIG_A, Place(0, 1, "reserve")), wanted_above_mm=2.0)
        said = [replace(planned, above_home_mm=above).near_enough for above in (1.9, 1.96, 2.5, None)]
        self.assertEqual(said, [False, True, True, True])

    def test_by_how_much_each_limit_falls_short(self) -> None:
        drop = 1000.0 * (pin_height(RIG_A, 20.0) - pin_height(RIG_A, 95.0))
        far, high = replace(GOALS, farthest_m=95.0), Housing(44.0, 52.0, 0.0, 30.0)
        self.assertAlmostEqual(
            plan(card(goals=far), RIG_A, Place(0, 1, "top")).short_by_mm,
            drop - 1000.0 * (pin_height(RIG_A, 20.0) - 0.030 - 0.020),
            places=5,
        )
        by_travel = plan(card(goals=far, sight=replace(SIGHT, housing=high)), RIG_A, Place(0, 1, "top"))
        self.assertEqual(by_travel.reach.binding, "slider_travel")
        self.assertAlmostEqual(by_travel.short_by_mm, drop - 45.0, places=5)
        self.assertIsNone(plan(card(), RIG_A, Place(0, 1, "top")).short_by_mm)

    def test_the_far_pin_s_place_in_the_housing_is_travel_gained(self) -> None:
        planned = plan(card(), RIG_A, Place(0, 1, "top"))
        lower = SightRoom(0.045 + 1e-3 * planned.pins_mm, 0.030 - 1e-3 * planned.pins_mm, 0.020)
        self.assertAlmostEqual(planned.far_pin_reach_m, reach(RIG_A, 20.0, lower).farthest_m, places=6)
        open_below = replace(SIGHT, housing=Housing(44.0, 52.0, None, 30.0))
        unbound = plan(card(sight=open_below), RIG_A, Place(0, 1, "top")).far_pin_reach_m
        room = replace(lower, housing_below_pin_m=None)
        self.assertAlmostEqual(unbound, reach(RIG_A, 20.0, room).farthest_m, places=6)


class Picture(unittest.TestCase):
    def test_peep_and_housing_ring_each_other(self) -> None:
        aperture = aperture_that_rings(0.044, 0.07, 0.82)
        self.assertAlmostEqual(aperture / 0.07, 0.044 / 0.89)
        self.assertAlmostEqual(peep_shift(0.045, 0.07, 0.82), 0.045 * 0.07 / 0.89)

    def test_the_housing_looks_a_little_lower_at_the_far_end(self) -> None:
        planned = plan(card(), RIG_A, Place(0, 1, "top"))
        self.assertTrue(0.98 < planned.picture_part < 1.0)
        self.assertAlmostEqual(planned.ringing_aperture_mm, 44.0 * 0.07 / 0.89, places=6)
        self.assertAlmostEqual(planned.peep_shift_mm, planned.tape_mm * 0.07 / 0.89, places=6)
        near, far = (math.atan((0.104 - pin_height(RIG_A, d)) / 0.82) for d in (20.0, 78.0))
        self.assertAlmostEqual(planned.picture_part, (math.cos(far) / math.cos(near)) ** 2)


class Best(unittest.TestCase):
    def test_the_finest_tape_that_reaches_both_ends(self) -> None:
        ends = plan_all(card(), RIG_A)
        self.assertEqual(len(ends.plans), 9)
        reaching = [p for p in ends.plans if p.far_enough(78.0) and p.near_enough]
        self.assertEqual(ends.best.tape_mm, max(p.tape_mm for p in reaching))
        self.assertIn(ends.why, ("finest_tape", "finest_that_reaches"))
        self.assertNotEqual(ends.best.place.home, "top")

    def test_when_nothing_reaches_the_farthest_is_taken_and_remedies_are_named(self) -> None:
        far = card(goals=replace(GOALS, farthest_m=95.0))
        named = plan_all(far, RIG_A)
        self.assertEqual(named.why, "farthest_of_all")
        self.assertEqual(named.best.reach.farthest_m, max(p.reach.farthest_m for p in named.plans))
        self.assertGreater(named.best.short_by_mm, 0.0)
        bought = {r.code: r.reach_m for r in remedies(far, RIG_A, plan(far, RIG_A, Place(0, 2, "top")))}
        self.assertEqual(set(bought), {"lower_on_post", "faster_arrow", "higher_peep", "nearer_riser", "far_pin"})
        self.assertTrue(all(r is None or r > 77.0 for r in bought.values()))

    def test_what_each_remedy_is_weighed_with(self) -> None:
        here = Place(0, 2, "top")
        bought = {r.code: r.reach_m for r in remedies(card(), RIG_A, plan(card(), RIG_A, here))}
        lower = card(sight=replace(SIGHT, housing=Housing(44.0, 52.0, 25.0, 30.0)))
        self.assertAlmostEqual(bought["lower_on_post"], plan(lower, RIG_A, here).reach.farthest_m)
        faster, higher = replace(RIG_A, speed_mps=1.05 * 81.0), replace(RIG_A, peep_height_m=0.109)
        self.assertAlmostEqual(bought["faster_arrow"], plan(card(), faster, here).reach.farthest_m)
        self.assertAlmostEqual(bought["higher_peep"], plan(card(), higher, here).reach.farthest_m)
        self.assertAlmostEqual(bought["nearer_riser"], plan(card(), RIG_A, Place(0, 0, "top")).reach.farthest_m)
        self.assertEqual(list(bought.values()), sorted(bought.values(), reverse=True))

    def test_holes_are_weighed_only_where_pin_and_hole_were_noted(self) -> None:
        """Home needs the pin 88 mm above the arrow line: from 60 at the top stop only the higher hole has it."""
        higher = replace(SIGHT, holes_mm=(0.0, 30.0))
        for mount, holes in ((Mount(0, 1, pin_at_top_mm=60.0), {1}), (Mount(0, 1), {0}), (Mount(None, 1), {None}),
                             (Mount(None, 1, pin_at_top_mm=60.0), {None})):  # fmt: skip
            made = plan_all(card(sight=higher, mount=mount), RIG_A)
            self.assertEqual({each.place.hole for each in made.plans}, holes, mount)

    def test_without_places_the_present_one_is_planned(self) -> None:
        plain = replace(SIGHT, extension_mm=(), holes_mm=())
        self.assertEqual([p.place.detent for p in plan_all(card(sight=plain, mount=Mount()), RIG_A).plans], [None] * 3)

    def test_every_kind_of_sight_can_be_planned(self) -> None:
        for kind in KINDS:
            planned = plan_all(card(sight=replace(SIGHT, kind=kind)), RIG_A)
            homes = {p.place.home for p in planned.plans}
            self.assertEqual(homes, set(HOMES) if KINDS[kind].dialled else {"top"}, kind)
            if not KINDS[kind].dialled:
                computed = KINDS[kind].computes_dots  # a display has no lowest pin
                self.assertEqual(planned.best.reach.binding, None if computed else "lowest_pin")
                self.assertTrue(computed or planned.best.reach.farthest_m < 78.0)


class Gone(unittest.TestCase):
    """A place that the sight's description no longer names is not known, and not lost."""

    def test_it_is_planned_where_it_is(self) -> None:
        fewer = replace(SIGHT, extension_mm=(0.0, 12.0), holes_mm=())
        lost = card(sight=fewer, mount=Mount(1, 2, "top", pin_at_top_mm=85.0))
        self.assertEqual((lost.hole, lost.detent), (None, None))
        planned = plan(lost, RIG_A, Place(lost.hole, lost.detent, "top"))
        self.assertEqual(planned.figures, RIG_A)
        self.assertEqual([each.place.detent for each in plan_all(lost, RIG_A).plans], [None] * 3)
        self.assertEqual(plan(lost, RIG_A, Place(None, 1, "top")).figures, RIG_A)
        taken = take(lost, Place(None, None, "reserve"))
        self.assertEqual((taken.mount.hole, taken.mount.detent, taken.mount.home), (1, 2, "reserve"))
        back = replace(taken, sight=SIGHT)
        self.assertEqual((back.hole, back.detent), (1, 2))


class Taking(unittest.TestCase):
    def test_the_extension_moves_lever_and_arm(self) -> None:
        arm = take(card(), Place(1, 2, "reserve"))
        self.assertAlmostEqual(arm.eye_to_sight_m, 0.832)
        self.assertAlmostEqual(arm.mount.ahead_of_grip_m, 0.182)
        self.assertEqual((arm.mount.hole, arm.mount.detent, arm.mount.home), (1, 2, "reserve"))
        self.assertEqual(take(arm, Place(0, 1, "top")).eye_to_sight_m, 0.82)

    def test_the_hole_moves_the_pin(self) -> None:
        measured = card(mount=Mount(0, 1, pin_at_top_mm=85.0))
        self.assertEqual(take(measured, Place(1, 1, "top")).mount.pin_at_top_mm, 94.5)
