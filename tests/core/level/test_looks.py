"""What one look says, what ends of a glass say, slips, units (docs/method.md, section 12)."""

import math
import unittest
from dataclasses import replace

from cross_staff.core.level.chain import AXIS_SD_RAD, CARRIED_SD_RAD, WINDAGE_SD_RAD
from cross_staff.core.level.ends import LEAK_RAD, LEAST_END_RAD, _usual
from cross_staff.core.level.log import LevelReading, Match, history
from cross_staff.core.level.looks import says
from cross_staff.core.level.needs import good_to_m
from cross_staff.core.level.rests import middle_of
from cross_staff.core.level.screws import ASK, READ, USUAL_GAIN_RAD, USUAL_PLAY_RAD, AnglePerTurnPrior
from cross_staff.core.level.slips import FLIPS, LEAST_FLIPPED_DIV, MENDED_P
from cross_staff.core.level.slopes import worth
from cross_staff.core.level.units import LOOK_DIV, VialUnit, unit_for
from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.log import BenchEntry
from tests.core.level.test_chain import LINE, Bench
from tests.core.level.test_station import DEG, VIAL, levelled_card
from tests.rigs import NOON, RIG_A


class OneLook(unittest.TestCase):
    def said(self, bench: Bench) -> float:
        """What the last look says [deg], the chain of all behind it."""
        from cross_staff.core.level.chain import solve
        from cross_staff.core.level.log import matches

        log = history(bench.readings, matches(bench.entries), bench.card.level)
        return says(solve(bench.card.level, log, {}), log.looks[-1], log.last) / DEG

    def test_roll_yaw_and_second_axis_are_taken_out(self) -> None:
        for pitch in (-35.0, 35.0):
            bench = Bench(levelled_card(yaw_rad=0.4 * DEG), second=0.8, third=1.5)
            bench.roll, bench.yaw = 0.6, 0.4
            bench.match(reseated=True)
            bench.squared(6)
            bench.look("third", "vise_riser", pitch)
            self.assertAlmostEqual(self.said(bench), 1.5, delta=0.04)
            bench.look("second", "to_string")
            self.assertAlmostEqual(self.said(bench), 0.8, delta=0.02)

    def test_in_a_jig_the_sights_roll_there(self) -> None:
        bench = Bench(levelled_card(jig=VIAL), second=1.6, third=0.7)
        bench.thirds("bench_jig", 4)
        self.assertAlmostEqual(self.said(bench), 0.7, delta=0.03)

    def test_a_group_says_what_the_chain_has(self) -> None:
        bench = Bench()
        bench.squared()
        for slope, right in ((25.0, 0.30), (-25.0, -0.25)):
            number = len(bench.readings) + 1
            bench.readings.append(
                LevelReading("third", "shooting", slope * DEG, 0.0, 0.0, 1, bench.now(), distance_m=95.0, right_m=right,
                             arrows=6, reading_id=number)
            )  # fmt: skip
        third = bench.third
        self.assertEqual(len(third.looks), 2)
        self.assertAlmostEqual(third.looks[0], third.now.value)
        self.assertGreater(third.now.value, 1.0 * DEG)


class Spans(unittest.TestCase):
    def test_an_axis_carried_over_anothers_turn_is_a_little_less_sure(self) -> None:
        bench = Bench()
        bench.squared(12)
        before = bench.state.axes["second"].now.sd
        bench.turn("first", None, 0.3)
        after = bench.state.axes
        self.assertAlmostEqual(after["second"].now.sd, math.hypot(before, CARRIED_SD_RAD), delta=0.02 * DEG)
        self.assertGreater(after["first"].now.sd, 0.9 * AXIS_SD_RAD)

    def test_windage_is_nearly_free_and_no_more(self) -> None:
        self.assertEqual(WINDAGE_SD_RAD, 0.02)

    def test_two_turns_without_a_look_are_one(self) -> None:
        bench = Bench(second=1.5)
        for _ in range(2):
            bench.look("second", "to_string")
        bench.turn("second", 0.25, -0.5)
        bench.turn("second", 0.125, -0.25)
        for _ in range(2):
            bench.look("second", "to_string")
        (turn,) = bench.state.axes["second"].turns
        self.assertEqual(turn.turns, 0.375)
        bench.turn("second", 0.25, -0.5)
        bench.turn("second", None, 0.1)
        bench.look("second", "to_string")
        self.assertEqual(len(bench.state.axes["second"].turns), 1)


class AtTheEnd(unittest.TestCase):
    def end(self, bench: Bench, axis: str, side: int, pitch: float = 0.0) -> None:
        method = "hand_plumb" if axis == "third" else "to_string"
        number = len(bench.readings) + 1
        bench.readings.append(
            LevelReading(axis, method, pitch * DEG, 5.0 * side, 0.0, 1, bench.now(), vial_end=side, reading_id=number)
        )

    def test_from_one_end_to_the_other_is_too_far(self) -> None:
        bench = Bench()
        self.end(bench, "second", 1)
        bench.turn("second", 0.5, 5.0)
        self.end(bench, "second", -1)
        action = bench.state.axes["second"].action
        self.assertEqual((action.because, action.turns), ("back", -0.25))
        beyond = bench.state.axes["second"].beyond
        self.assertEqual((beyond.side, beyond.turns, beyond.tried), (1, 0.5, 0))
        self.assertAlmostEqual(beyond.before / DEG, -2.5, delta=0.01)

    def test_at_the_same_end_again_it_is_counted(self) -> None:
        bench = Bench()
        for _ in range(3):
            self.end(bench, "second", 1)
            bench.turn("second", None, 0.2)
        self.end(bench, "second", 1)
        beyond = bench.state.axes["second"].beyond
        self.assertEqual((beyond.tried, beyond.turns, beyond.before), (3, None, None))

    def test_a_second_axis_of_a_degree_and_more_leaks(self) -> None:
        """Its value and 1.96 of its sds, held against one degree."""
        for second, leaks in ((0.7, ""), (0.95, "known"), (1.3, "known")):
            bench = Bench(second=second)
            bench.squared(12)
            bench.entries.append(BenchEntry("level", "accept_second", 1, bench.now(), note="left so by Sela"))
            self.end(bench, "third", 1, -35.0)
            self.assertEqual(bench.third.beyond.leaks, leaks, second)
        self.assertEqual((LEAK_RAD, LEAST_END_RAD), (1.0 * DEG, 0.5 * DEG))

    def test_nineteen_times_in_twenty_is_what_leaks(self) -> None:
        bench = Bench()
        bench.squared(12)
        sd = bench.state.axes["second"].now.sd / DEG
        for sds, leaks in ((2.4, ""), (1.5, "known")):
            bench = Bench(second=1.0 - sds * sd)
            bench.squared(12)
            bench.entries.append(BenchEntry("level", "accept_second", 1, bench.now(), note="left so by Sela"))
            self.end(bench, "third", 1, -35.0)
            self.assertEqual(bench.third.beyond.leaks, leaks, sds)

    def test_a_jig_holds_no_second_axis(self) -> None:
        bench = Bench()
        bench.readings.append(
            LevelReading("third", "bench_jig", -35.0 * DEG, 5.0, 0.0, 1, bench.now(), vial_end=1, reading_id=1)
        )
        self.assertEqual(bench.third.beyond.leaks, "")

    def test_out_of_its_end_by_a_counted_turn_teaches_the_way(self) -> None:
        bench = Bench(second=-2.0)
        self.end(bench, "second", 1)
        bench.turn("second", 0.25, 0.0)
        for _ in range(2):
            bench.look("second", "to_string")
        action = bench.state.axes["second"].action
        self.assertEqual((action.because, action.about > 0.0), ("watch", True))

    def test_an_uncalibrated_screw_starts_from_five_lines_a_turn(self) -> None:
        bench = Bench(levelled_card(sight=Vial(), reference=Vial(roll_error_div=0.0)), second=0.45)
        for _ in range(2):
            bench.look("second", "to_string")
        known = bench.state.axes["second"]
        self.assertEqual((known.action.because, known.action.about), ("watch", 0.0))
        self.assertEqual(_usual(VialUnit(False, 0.02, 0.02)), AnglePerTurnPrior(0.1, 0.7, 0, 0.12 * 0.02))
        self.assertEqual(_usual(VialUnit(True, 0.02, 0.02)), AnglePerTurnPrior(USUAL_GAIN_RAD, 0.5, 0, USUAL_PLAY_RAD))


class Units(unittest.TestCase):
    def test_what_is_read_beside_counts(self) -> None:
        setup = LevelSetup(Vial(0.01), Vial(0.02), Vial(0.03), jig=Vial(0.04))
        for axis, method, vial, other in (
            ("first", "rail_vial", 0.02, 0.01), ("second", "to_string", 0.03, 0.01), ("second", "to_rail", 0.03, 0.02),
            ("third", "bench_jig", 0.03, 0.04), ("third", "hand_plumb", 0.03, 0.0),
        ):  # fmt: skip
            unit = unit_for(setup, axis, method)
            self.assertEqual((unit.calibrated, unit.vial, unit.reference), (True, vial, other), method)
        self.assertAlmostEqual(unit_for(setup, "second", "to_string").look_sd(), LOOK_DIV * math.hypot(0.03, 0.01))
        line = unit_for(setup, "third", "hand_plumb")
        self.assertAlmostEqual(line.look_sd(0.6), math.hypot(LOOK_DIV * 0.03, 0.15 * DEG * math.cos(0.6)))
        coarse = 1.1 * DEG
        for bare, lines in (({"sight": Vial()}, (coarse, 0.01)), ({"reference": Vial()}, (0.03, coarse))):
            unit = unit_for(replace(setup, **bare), "second", "to_string")
            self.assertEqual((unit.calibrated, unit.vial, unit.reference), (False, *lines))
        self.assertEqual(unit_for(replace(setup, sight=Vial()), "third", "hand_plumb").reference, 0.0)

    def test_off_its_middle_a_guessed_line_is_unsure(self) -> None:
        sds = []
        for reference in (0.0, 0.4):
            bench = Bench(levelled_card(sight=Vial(), reference=Vial(roll_error_div=0.0)))
            bench.look("second", "to_string")
            bench.readings[-1] = replace(bench.readings[-1], reference_div=reference, vial_div=reference)
            sds.append(bench.state.axes["second"].now.sd)
        added = math.sqrt(sds[1] ** 2 - sds[0] ** 2)
        self.assertAlmostEqual(added / DEG, 0.5 * 1.1 * 0.4, delta=0.03)


class Middle(unittest.TestCase):
    def test_where_the_reference_stands_when_the_bow_is_plumb(self) -> None:
        """Matched with the string level off its middle: lines of one in lines of the other, where both are known."""
        log = history([], [Match("flat", 0.5, -0.2, NOON)], LevelSetup())
        for string, reference, middle in (
            (Vial(0.01, roll_error_div=0.1), Vial(0.02), -0.2 - 0.5 * 0.4),
            (Vial(None, roll_error_div=0.1), Vial(0.02), -0.2 - 0.4),
            (Vial(0.01), Vial(None, roll_error_div=0.7), -0.2 - 0.5),
        ):
            setup = LevelSetup(reference, string=string)
            self.assertAlmostEqual(middle_of(setup, log), middle)
        pairs = [Match("flat", 0.0, 1.0, NOON), Match("string", 0.0, -0.5, NOON)]
        self.assertEqual(middle_of(LevelSetup(), history([], pairs, LevelSetup())), -0.5)
        self.assertEqual(middle_of(LevelSetup(Vial(roll_error_div=0.7)), history([], [], LevelSetup())), 0.7)


class Slips(unittest.TestCase):
    def test_every_flip_turns_its_own_sign(self) -> None:
        one = LevelReading("third", "vise_riser", 0.6, 1.0, 0.5, 1, NOON)
        seen = {k: (f(one).vial_div, f(one).reference_div, f(one).pitch_rad) for k, f in FLIPS.items()}
        self.assertEqual(seen, {
            "sight_sign": (-1.0, 0.5, 0.6), "reference_sign": (1.0, -0.5, 0.6),
            "both_signs": (-1.0, -0.5, 0.6), "pitch_sign": (1.0, 0.5, -0.6),
        })  # fmt: skip
        self.assertEqual((LEAST_FLIPPED_DIV, MENDED_P), (0.3, 0.05))

    def slip(self, bench: Bench) -> list[tuple[str, int]]:
        return [(slip.slip, slip.entry.reading_id) for slip in bench.state.slips]

    def looked(self, **more: float) -> Bench:
        """Five looks at the second axis with the bow canted, one of them written wrongly."""
        bench = Bench(second=0.8)
        for cant in (0.9, 0.9, 0.9, 0.9, 0.9):
            bench.look("second", "to_string", cant=cant)
        changed = {name: factor * getattr(bench.readings[2], name) for name, factor in more.items()}
        bench.readings[2] = replace(bench.readings[2], **changed)  # type: ignore[arg-type]
        return bench

    def test_the_commonest_slip_that_mends_it_is_named(self) -> None:
        self.assertEqual(self.slip(self.looked()), [])
        self.assertEqual(self.slip(self.looked(vial_div=-1.0)), [("sight_sign", 3)])
        self.assertEqual(self.slip(self.looked(reference_div=-1.0)), [("reference_sign", 3)])
        self.assertEqual(self.slip(self.looked(vial_div=-1.0, reference_div=-1.0)), [("both_signs", 3)])

    def test_of_two_that_would_mend_it_the_better_one(self) -> None:
        """0.4 and 0.3 lines, the reference's written to the wrong side: the vial's sign turned would nearly do."""
        bench = Bench()
        for n in range(5):
            bench.look("second", "to_string")
            reference = -0.3 if n == 2 else 0.3
            bench.readings[-1] = replace(bench.readings[-1], vial_div=0.4, reference_div=reference)
        self.assertEqual(self.slip(bench), [("reference_sign", 3)])

    def test_looks_that_scatter_accuse_none_of_them(self) -> None:
        """Two sds to either side, eight times: a contradiction, and no single look makes it."""
        bench = Bench()
        for n in range(8):
            bench.look("second", "to_string")
            off = 2.0 * LOOK_DIV * math.sqrt(2.0) * (-1.0) ** n
            bench.readings[-1] = replace(bench.readings[-1], vial_div=off)
        self.assertEqual(self.slip(bench), [])

    def test_one_that_no_sign_mends_is_wrong(self) -> None:
        self.assertEqual(self.slip(self.looked(vial_div=2.0)), [("wrong", 3)])

    def test_a_tilt_with_the_wrong_sign(self) -> None:
        bench = Bench(third=1.2)
        bench.squared(6)
        for _ in range(3):
            bench.thirds("board_rod", 2)
        bench.readings[-1] = replace(bench.readings[-1], pitch_rad=bench.readings[-2].pitch_rad)
        self.assertIn(self.slip(bench), ([("sight_sign", 12 + 6)], [("pitch_sign", 12 + 6)]))

    def test_what_was_turned_since_is_not_accused(self) -> None:
        bench = self.looked(vial_div=-1.0)
        bench.turn("second", 0.25, -0.8)
        for _ in range(2):
            bench.look("second", "to_string")
        self.assertEqual(self.slip(bench), [])


class Further(unittest.TestCase):
    def test_how_far_is_said_only_of_a_whole_card(self) -> None:
        card = levelled_card()
        self.assertIsNone(good_to_m(replace(card, level=replace(card.level, tolerance_m=None)), RIG_A, 0.01))
        self.assertIsNone(good_to_m(replace(card, goals=replace(card.goals, farthest_m=None)), RIG_A, 0.01))
        self.assertIsNone(good_to_m(card, RIG_A, 10.0))
        for far, good in ((50.0, 50.0), (54.0, 50.0), (49.0, 45.0)):
            near = replace(card, goals=replace(card.goals, farthest_m=far))
            self.assertEqual(good_to_m(near, RIG_A, 0.001), good)

    def test_a_group_is_worth_its_spread_over_the_root_of_its_arrows(self) -> None:
        card = levelled_card()
        entry = LevelReading("third", "shooting", 25 * DEG, 0.0, 0.0, 1, NOON, distance_m=61.0, right_m=0.1, arrows=4,
                             reading_id=7)  # fmt: skip
        (told,) = worth(card, history([entry], [], card.level), RIG_A).values()
        far = card.distance_from_sight(61.0)
        self.assertAlmostEqual(told.sd_m, card.goals.spread_mrad / 1000.0 * far / 2.0)
        self.assertAlmostEqual(told.windage_m, RIG_A.eye_to_sight_m + far)
        self.assertLess(told.second_m, 0.0)
        self.assertGreater(told.third_m, 0.0)

    def test_what_is_missing_is_asked_by_its_name(self) -> None:
        """A first axis that looks could prove, were it not for its level or the string's."""
        for kind, because in (("rail", "rail"), ("string", "string")):
            bench = Bench(levelled_card(**{kind: Vial(LINE)}))
            for _ in range(4):
                bench.match()
            bench.squared(4)
            action = bench.state.axes["first"].action
            self.assertEqual((action.kind, action.because), (ASK, because))

    def test_the_usual_tilt_before_anything_was_read(self) -> None:
        axes = Bench().state.axes
        self.assertEqual(
            {axis: round(s.pitch_rad / DEG) for axis, s in axes.items()}, {"first": 0, "second": 0, "third": -35}
        )
        self.assertTrue(all(s.action.kind == READ for s in axes.values()))
