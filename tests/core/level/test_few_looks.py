"""An axis is looked at no oftener than what is done can depend on it (docs/method.md, section 12)."""

import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.rests import check_centred, rests_at, wants_centred
from cross_staff.core.level.screws import GOOD, READ, TURN
from cross_staff.core.rig.card import Vial
from cross_staff.core.rig.sight import Screw
from tests.core.level.test_chain import Bench
from tests.core.level.test_station import DEG, levelled_card


class Carried(unittest.TestCase):
    def bench(self, **axes: float) -> Bench:
        """First and second axis read and good, the third far off and turned once."""
        bench = Bench(**axes)
        bench.tolerances |= {"first": 0.6 * DEG, "second": 0.6 * DEG, "third": 1.5 * DEG}
        for axis, method in (("first", "rail_vial"), ("second", "to_string")):
            for _ in range(2):
                bench.look(axis, method)
        return bench

    def test_a_look_far_off_is_enough_to_turn_and_one_after_it_to_be_good(self) -> None:
        bench = self.bench(third=3.0)
        bench.look("third", "board_string", -35.0)
        self.assertEqual((bench.third.action.kind, bench.third.action.because), (TURN, "watch"))
        bench.turn("third", None, -3.0)
        bench.look("third", "board_string", -35.0)
        self.assertEqual(bench.third.standing, "good")
        self.assertTrue(bench.state.done)

    def test_what_another_screw_was_seen_to_move_is_read_again(self) -> None:
        for carried, standing in ((0.0, "good"), (0.3, "recheck")):
            bench = self.bench(third=3.0)
            bench.look("third", "board_string", -35.0)
            bench.turn("third", None, -2.0)
            bench.axes["second"] += carried
            for _ in range(2):
                bench.look("second", "to_string")
            bench.look("third", "board_string", -35.0)
            bench.turn("third", None, -1.0)
            bench.look("third", "board_string", -35.0)
            second = bench.state.axes["second"]
            with self.subTest(carried=carried):
                self.assertEqual(second.standing, standing)
                self.assertEqual(second.action.kind, GOOD if standing == "good" else READ)

    def test_what_was_looked_at_once_is_not_good_because_another_was_turned(self) -> None:
        bench = Bench()
        bench.tolerances |= {"first": 0.6 * DEG, "second": 0.6 * DEG}
        bench.look("first", "rail_vial")
        bench.turn("second", None, 0.1)
        bench.look("second", "to_string")
        first = bench.state.axes["first"]
        self.assertEqual((first.action.kind, first.standing), (READ, "recheck"))
        bench.look("first", "rail_vial")
        self.assertEqual(bench.state.axes["first"].standing, "good")

    def test_what_is_read_by_hand_or_arrows_is_moved_by_how_far_its_bubble_comes(self) -> None:
        """At rest it stands elsewhere than at full draw: a place of its glass would be another axis."""
        card = levelled_card()
        ring = Screw("Third ring", "third_axis", "ring")
        for method, how in (("hand_plumb", "come"), ("board_string", "come"), ("vise_string", "stands")):
            bench = Bench(replace(card, sight=replace(card.sight, screws=(ring,))), third=3.0)
            bench.squared()
            bench.look("third", method, -35.0)
            with self.subTest(method):
                self.assertEqual(bench.third.action.kind, TURN)
                self.assertEqual(bench.third.until[0], how)
                self.assertIsNone(Bench().third.until)

    def test_what_was_turned_itself_is_read(self) -> None:
        bench = self.bench()
        bench.turn("second", None, 0.1)
        self.assertEqual(bench.state.axes["second"].action.kind, READ)


class Uncalibrated(unittest.TestCase):
    def test_the_rails_level_stands_in_its_own_middle_where_lines_are_guessed(self) -> None:
        """Two vials of other lines differ with every cant of the bow, and were turned after for ever."""
        bench = Bench(levelled_card(sight=Vial(), rail=Vial(roll_error_div=0.4)))
        setup = bench.card.level
        bench.look("second", "to_rail", cant=-0.8)
        reading = replace(bench.readings[-1], reference_div=1.6)
        self.assertTrue(wants_centred(setup, reading))
        self.assertEqual(rests_at(setup, bench.state.log, "second", "to_rail"), 0.4)
        with self.assertRaises(InvalidValue):
            check_centred(reading, 0.4)
        check_centred(replace(reading, reference_div=0.5), 0.4)
        sds = []
        for stands in (0.4, 1.6):
            bench.readings[-1] = replace(reading, reference_div=stands)
            sds.append(bench.state.axes["second"].seen.sd)
        self.assertGreater(sds[1], 2.0 * sds[0])

    def test_nothing_is_read_beside_a_line(self) -> None:
        bench = Bench(levelled_card(sight=Vial()))
        bench.look("third", "hand_plumb", -35.0)
        self.assertFalse(wants_centred(bench.card.level, bench.readings[-1]))
        self.assertEqual(rests_at(bench.card.level, bench.state.log, "third", "hand_plumb"), 0.0)


if __name__ == "__main__":
    unittest.main()
