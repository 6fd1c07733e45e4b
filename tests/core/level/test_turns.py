"""Ends of the glass and turns, as the chain takes them (docs/method.md, section 12)."""

import unittest
from dataclasses import replace

from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.screws import ASK, READ, TURN
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight import Screw
from tests.core.level.test_chain import Bench
from tests.core.level.test_station import DEG, levelled_card


class Ends(unittest.TestCase):
    def end(self, bench: Bench, axis: str, side: int, pitch: float = 0.0) -> None:
        method = "hand_plumb" if axis == "third" else METHODS[axis][0].key
        number = len(bench.readings) + 1
        bench.readings.append(
            LevelReading(axis, method, pitch * DEG, 5.0 * side, 0.0, 1, bench.now(), vial_end=side, reading_id=number)
        )

    def test_a_bubble_at_the_end_tells_which_way_and_stays_out_of_the_sum(self) -> None:
        for axis, pitch, side, way in (("second", 0.0, 1, -1), ("third", -35.0, 1, -1), ("third", 35.0, 1, 1)):
            bench = Bench()
            if axis == "third":
                bench.squared()
            self.end(bench, axis, side, pitch)
            state = bench.state.axes[axis]
            self.assertEqual((state.now, state.as_found, state.beyond.side, state.found_beyond), (None, None, way, way))
            self.assertEqual((state.action.kind, state.action.because), (TURN, "coarse"))
            self.assertGreaterEqual(state.beyond.least, 2.5 * DEG)

    def test_a_second_axis_that_was_left_off_does_not_make_the_third_turn(self) -> None:
        """Left at 2.2 degrees in writing: tilted up the bubble lies at its end, and the other tilt is read instead."""
        bench = Bench(second=-2.2)
        bench.squared()
        bench.entries.append(BenchEntry("level", "accept_second", 1, bench.now(), note="left so by Sela"))
        self.end(bench, "third", 1, 35.0)
        self.assertEqual((bench.third.action.kind, bench.third.action.because), (READ, "other_tilt"))
        self.end(bench, "third", 1, -35.0)
        self.assertEqual(bench.third.action.because, "stuck")
        for _ in range(4):
            bench.look("third", "hand_plumb", -35.0)
        self.assertIsNone(bench.third.beyond)

    def test_a_bubble_that_went_to_its_end_tells_the_way_of_the_screw_whatever_the_seat_rolls(self) -> None:
        """Rolled by 0.9 degrees, the end of the glass seems nearer than the last look: the way is that it went to."""
        bench = Bench(second=-1.9)
        bench.roll = 0.9
        bench.match(reseated=True)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.turn("second", 0.25, -0.9)
        self.end(bench, "second", 1)
        self.assertEqual(bench.state.axes["second"].action.turns, -0.25)
        bench.turn("second", -0.25, 0.9)
        for _ in range(2):
            bench.look("second", "to_string")
        self.assertLess(bench.state.axes["second"].action.about, 0.0)

    def test_tilted_at_the_end_the_second_axis_comes_first(self) -> None:
        bench = Bench()
        self.end(bench, "third", 1, -35.0)
        self.assertEqual((bench.third.action.kind, bench.third.action.because), (ASK, "second_first"))
        bench.squared()
        self.assertEqual(bench.third.action.because, "coarse")

    def test_a_test_turn_the_wrong_way_teaches_its_way(self) -> None:
        bench = Bench(second=1.8)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.turn("second", 0.25, 1.5)
        self.end(bench, "second", -1)
        self.assertEqual(
            (bench.state.axes["second"].action.because, bench.state.axes["second"].action.turns), ("back", -0.25)
        )
        bench.turn("second", -0.25, -1.5)
        for _ in range(2):
            bench.look("second", "to_string")
        self.assertLess(bench.state.axes["second"].action.about, 0.0)


class Turns(unittest.TestCase):
    def test_turned_by_eye_is_two_states_and_teaches_no_gain(self) -> None:
        bench = Bench(second=1.2)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.turn("second", None, -1.0)
        for _ in range(2):
            bench.look("second", "to_string")
        state = bench.state.axes["second"]
        self.assertAlmostEqual(state.as_found.value / DEG, 1.2, delta=0.01)
        self.assertAlmostEqual(state.now.value / DEG, 0.2, delta=0.01)
        self.assertEqual((state.turns, state.angle_per_turn, state.by_eye), ((), None, 1))

    def test_turned_before_anybody_looked_has_no_as_found(self) -> None:
        bench = Bench(second=1.2)
        bench.turn("second", None, -1.0)
        bench.look("second", "to_string")
        self.assertIsNone(bench.state.axes["second"].as_found)

    def test_a_reading_taken_back_leaves_the_turn(self) -> None:
        bench = Bench(second=1.2)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.turn("second", 0.25, -0.6)
        bench.look("second", "to_string")
        last = bench.readings[-1]
        bench.readings.append(replace(last, undoes=last.reading_id, reading_id=last.reading_id + 1))
        self.assertEqual(bench.state.axes["second"].action.because, "first_look")
        for _ in range(2):
            bench.look("second", "to_string", reading_id=len(bench.readings) + 5)
        (turn,) = bench.state.axes["second"].turns
        self.assertEqual(turn.turns, 0.25)
        self.assertAlmostEqual(turn.move / DEG, -0.6, delta=0.01)

    def test_files_of_old_carry_the_turn_in_the_look(self) -> None:
        bench = Bench(second=1.2)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.axes["second"] = 0.6
        bench.look("second", "to_string", turns=0.25)
        self.assertEqual(len(bench.state.axes["second"].turns), 1)
        last = bench.readings[-1]
        bench.readings.append(replace(last, undoes=last.reading_id, reading_id=99))
        self.assertEqual((bench.state.log.last, len(bench.state.axes["second"].looks)), (0, 2))

    def test_a_shim_moves_every_axis(self) -> None:
        card = levelled_card()
        bench = Bench(replace(card, sight=replace(card.sight, axes=("none", "pair", "pair"))))
        bench.squared()
        bench.turn("first", None, 0.5)
        self.assertGreater(bench.state.axes["second"].now.sd, 4.0 * DEG)
        self.assertEqual(bench.state.axes["second"].standing, "recheck")

    def test_an_acceptance_ends_with_the_next_turn(self) -> None:
        bench = Bench(first=2.0)
        for _ in range(2):
            bench.look("first", "rail_vial")
        bench.entries.append(BenchEntry("level", "accept_first", 1, bench.now(), note="left so by Sela"))
        self.assertEqual(bench.state.axes["first"].standing, "accepted")
        bench.turn("first", None, -1.0)
        self.assertEqual(bench.state.axes["first"].accepted, "")

    def test_a_pair_is_named_on_its_card(self) -> None:
        self.assertEqual(Screw("Pair", drive="pair", pair="front_rear").ends, ("front", "rear"))
        self.assertEqual(Screw("Pair", drive="pair").ends, ("dotted", "plain"))
