"""A jig for every axis, two places of the rail, a quick look, sights without a rail (docs/method.md, section 12)."""

import math
import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.axis import AxisState
from cross_staff.core.level.methods import BY_KEY, ON_RAIL
from cross_staff.core.level.screws import GOOD, READ, SQUARED, TURN
from cross_staff.core.level.station import asked_for, check_entry, check_reading, ways_of
from cross_staff.core.rig.card import Vial
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight_kinds import KINDS
from tests.core.level.test_chain import Bench
from tests.core.level.test_station import DEG, VIAL, levelled_card
from tests.rigs import NOON

JIG_WAYS = (("first", "jig_rail"), ("second", "jig_vial"))


def bare() -> Bench:
    """A sight on the table: nothing plumb, no level proven but the rail's."""
    bench = Bench(levelled_card(reference=Vial(), string=Vial(), jig=VIAL))
    bench.entries = []
    bench.tolerances |= {"first": 0.6 * DEG, "second": 0.6 * DEG, "third": 1.5 * DEG}
    return bench


class Jig(unittest.TestCase):
    def said(self, bench: Bench, choice: str) -> None:
        bench.entries.append(BenchEntry("level", "where", 1, bench.now(), choice=choice))

    def test_no_bow_and_no_string_level_is_asked_for(self) -> None:
        bench = bare()
        self.assertEqual(bench.state.step, "reference")
        self.said(bench, "jig")
        self.assertEqual((bench.state.step, bench.state.current), ("axis", "first"))
        self.assertEqual([bench.state.axes[axis].method for axis, _ in JIG_WAYS], ["jig_rail", "jig_vial"])
        self.assertTrue(bench.state.in_jig)

    def test_all_three_axes_are_squared_in_it_and_labelled(self) -> None:
        bench = bare()
        bench.look("first", "jig_rail")
        self.assertTrue(bench.state.in_jig)  # read so, and so it is there
        for axis, method in JIG_WAYS:
            for place in ("top", "bottom") if axis == "first" else ("", ""):
                bench.look(axis, method, place=place)
        bench.thirds("bench_jig")
        state = bench.state
        self.assertEqual({a.standing for a in state.axes.values()}, {"squared"})
        self.assertEqual((state.step, state.label), ("squared", "bench_only"))

    def test_for_level_ground_two_axes_are_enough_and_still_labelled(self) -> None:
        bench = bare()
        bench.card = replace(bench.card, goals=replace(bench.card.goals, level_only=True))
        for axis, method in JIG_WAYS:
            bench.look(axis, method)
            bench.look(axis, method)
        self.assertEqual((bench.state.step, bench.state.label), ("squared", "bench_only"))

    def test_on_the_bow_what_a_jig_squared_is_read_again(self) -> None:
        """The sight sits in its jig two degrees off the bow: nothing of it is good before it was read there."""
        bench = bare()
        for axis, method in JIG_WAYS:
            bench.look(axis, method)
            bench.look(axis, method)
        self.said(bench, "bow")
        self.assertEqual(bench.state.step, "reference")
        first = bench.state.axes["first"]
        self.assertEqual((first.action.kind, first.action.because, first.method), (READ, "on_bow", "rail_vial"))
        bench.card = levelled_card()
        bench.entries.append(replace(Bench().entries[0], entered=bench.now()))
        bench.axes["first"] = 2.0
        bench.match()
        for place in ON_RAIL:
            bench.look("first", "rail_vial", place=place)
        self.assertEqual(bench.state.axes["first"].action.kind, TURN)

    def test_a_far_off_axis_is_turned_in_the_jig_too(self) -> None:
        bench = bare()
        bench.axes["second"] = 3.0
        bench.look("second", "jig_vial")
        self.assertEqual(bench.state.axes["second"].action.kind, TURN)
        bench.turn("second", None, -3.0)
        bench.look("second", "jig_vial")
        self.assertEqual(bench.state.axes["second"].action.kind, SQUARED)

    def test_how_it_sits_in_the_jig_goes_into_both_axes_and_is_no_third_axis(self) -> None:
        bench = bare()
        bench.axes["second"] = 0.8  # of it, nobody knows how much is the jig's
        bench.look("second", "jig_vial")
        bench.look("third", "bench_jig", -35.0)
        bench.look("third", "bench_jig", 35.0)
        self.assertAlmostEqual(bench.third.seen.value / DEG, 0.0, delta=0.1)

    def test_only_bow_or_jig_can_be_said(self) -> None:
        with self.assertRaises(InvalidValue):
            check_entry(levelled_card(), BenchEntry("level", "where", 1, NOON, choice="table"))


class Rail(unittest.TestCase):
    def bench(self, bend: float) -> Bench:
        bench = Bench()
        bench.tolerances |= {"first": 0.6 * DEG}
        for place, part in (("top", 0.5), ("bottom", -0.5)):
            bench.axes["first"] = part * bend
            bench.look("first", "rail_vial", place=place)
        bench.axes["first"] = 0.0
        return bench

    def test_each_end_is_asked_for_in_turn(self) -> None:
        bench = Bench()
        self.assertEqual(bench.state.axes["first"].place, "top")
        bench.look("first", "rail_vial", place="top")
        self.assertEqual(bench.state.axes["first"].place, "bottom")
        self.assertEqual(bench.state.axes["second"].place, "")

    def test_a_straight_rail_is_good_in_two_looks(self) -> None:
        bench = self.bench(0.0)
        self.assertEqual(bench.state.axes["first"].action.kind, GOOD)
        self.assertLess(abs(bench.state.bend.value), 0.05 * DEG)

    def test_a_bent_rail_shows_and_the_axis_is_the_mean_of_both(self) -> None:
        bench = self.bench(1.0)
        bend = bench.state.bend
        self.assertAlmostEqual(bend.value / DEG, 1.0, delta=0.15)
        self.assertGreater(bend.value, 1.96 * bend.sd)
        self.assertAlmostEqual(bench.state.axes["first"].now.value / DEG, 0.0, delta=0.03)

    def test_one_end_alone_is_known_less_and_tells_no_bend(self) -> None:
        ends = {}
        for places in (("top", "bottom"), ("top", "top")):
            bench = Bench()
            for place in places:
                bench.look("first", "rail_vial", place=place)
            ends[places[1]] = bench.state
        self.assertIsNone(ends["top"].bend)
        self.assertGreater(ends["top"].axes["first"].now.sd, 1.5 * ends["bottom"].axes["first"].now.sd)

    def test_a_place_that_a_way_does_not_read_is_refused(self) -> None:
        bench = Bench()
        bench.look("second", "to_string", place="top")
        with self.assertRaises(InvalidValue):
            check_reading(bench.card.level, bench.readings[-1])


class QuickLook(unittest.TestCase):
    def looked(self, lean: float, travel: float = 0.045) -> Bench:
        bench = Bench(first=lean)
        right = -travel * math.tan(lean * DEG)  # dialled down, a top that leans right leaves to the left
        bench.look("first", "plumb_wander", right_m=right, distance_m=travel)
        bench.readings[-1] = replace(bench.readings[-1], vial_div=0.0)
        return bench

    def first(self, bench: Bench) -> AxisState:
        return bench.state.axes["first"]

    def test_a_large_lean_is_turned_and_its_way_is_right(self) -> None:
        for lean in (6.0, -6.0):
            first = self.first(self.looked(lean))
            self.assertEqual(first.action.kind, TURN)
            self.assertAlmostEqual(first.now.value / DEG, lean, delta=0.6)

    def test_it_never_proves_the_axis(self) -> None:
        bench = self.looked(0.0)
        bench.tolerances["first"] = 3.0 * DEG
        first = self.first(bench)
        self.assertEqual((first.action.kind, first.action.because, first.method), (READ, "quick_only", "rail_vial"))

    def test_nonsense_is_refused(self) -> None:
        bench = self.looked(1.0)
        for wrong in ({"right_m": None}, {"distance_m": None}, {"distance_m": 0.001}, {"right_m": 0.04}):
            with self.assertRaises(InvalidValue):
                check_reading(bench.card.level, replace(bench.readings[-1], **wrong))


class WithoutRail(unittest.TestCase):
    def test_nothing_asks_for_one(self) -> None:
        for key in ("fixed_pins", "geared_stack", "pin_display"):
            card = replace(levelled_card(), sight=KINDS[key].template)
            bench = Bench(card)
            self.assertEqual(asked_for(card), ("second", "third"), key)
            self.assertEqual(bench.state.current, "second")
            self.assertNotIn("to_rail", [way.key for way in ways_of(card, "second")])
        self.assertEqual(len(asked_for(levelled_card())), 3)

    def test_it_is_done_without_a_first_axis_and_not_for_level_ground_only(self) -> None:
        card = replace(levelled_card(), sight=KINDS["fixed_pins"].template)
        bench = Bench(card)
        bench.tolerances |= {"second": 0.6 * DEG, "third": 1.5 * DEG}
        bench.look("second", "to_string")
        bench.look("second", "to_string")
        bench.thirds("board_string", 4)
        self.assertEqual((bench.state.step, bench.state.required), ("done", ("second", "third")))


class ByHand(unittest.TestCase):
    def test_a_rod_by_hand_sees_what_a_line_by_hand_sees(self) -> None:
        rod, line = BY_KEY["hand_rod"], BY_KEY["hand_plumb"]
        self.assertEqual((rod.parts, rod.watched, rod.full_draw), (line.parts, "", True))
        self.assertEqual(set(line.places), {"plumb_line", "corner", "door_frame"})
        for method in (rod, line):
            self.assertIn("let down", " ".join(method.steps))
            self.assertIn("nobody in front", method.caution)


if __name__ == "__main__":
    unittest.main()
