"""The whole chain: what methods do not see, seats, lines and jigs, groups on slopes (docs/method.md, section 12)."""

import math
import unittest
from dataclasses import replace
from datetime import timedelta

from cross_staff.core.ballistics.cant import false_cant
from cross_staff.core.level.axis import USUAL_TOLERANCE_RAD
from cross_staff.core.level.chain import ROLL_SD_RAD, state_of
from cross_staff.core.level.log import AXES, RESEATED, LevelReading
from cross_staff.core.level.methods import BY_KEY, METHODS, PART_SD_RAD
from cross_staff.core.level.needs import drawn, easiest, good_to_m, tools
from cross_staff.core.level.screws import GOOD, SQUARED, TURN
from cross_staff.core.level.station import Given, LevelState, level_state
from cross_staff.core.level.units import COARSE_LINE_RAD
from cross_staff.core.level.vials import sight_tilt
from cross_staff.core.rig.card import LevelSetup, RigCard, Vial
from cross_staff.core.rig.log import BenchEntry
from tests.core.level.test_station import DEG, PLUMB, TOLERANCES, VIAL, levelled_card
from tests.rigs import NOON, RIG_A

LINE = 0.5 * DEG


class Bench:
    """A bow with true axes [deg], a reference with roll and yaw [deg] on its seat, and what a method sees beside the
    third axis [deg]; looks without noise, a minute apart."""

    def __init__(
        self, card: RigCard | None = None, first: float = 0.0, second: float = 0.0, third: float = 0.0
    ) -> None:
        self.card = card or levelled_card()
        self.axes = {"first": first, "second": second, "third": third}
        self.roll = self.yaw = 0.0
        self.seat = self.card.level.seat
        self.bias = dict.fromkeys(BY_KEY, 0.0)
        self.readings: list[LevelReading] = []
        self.entries: list[BenchEntry] = [PLUMB]
        self.tolerances = dict(TOLERANCES)
        self.setups: dict[int, LevelSetup] = {}

    def now(self):  # type: ignore[no-untyped-def]
        return NOON + timedelta(minutes=len(self.readings) + len(self.entries))

    def look(self, axis: str, method: str, pitch: float = 0.0, cant: float = 0.0, **more: object) -> None:
        reads, p, c = BY_KEY[method].reads, pitch * DEG, cant * DEG
        third = (self.axes["third"] + self.bias[method]) * DEG
        vial = sight_tilt(self.axes["second"] * DEG, third, c, p)
        if axis == "first":
            vial = sight_tilt(self.axes["first"] * DEG, 0.0, c, p)
        clip = reads == "clip"
        reference = sight_tilt(self.roll * DEG, self.yaw * DEG, c, p) if clip else 0.0
        if reads == "rail":
            reference = sight_tilt(self.axes["first"] * DEG, 0.0, c, p)
        if reads == "jig":
            reference = sight_tilt(0.0, 0.0, c, p)
        fields = {"seat": self.seat if clip else "", "reading_id": len(self.readings) + 1} | more
        self.readings.append(
            LevelReading(axis, method, p, vial / LINE, reference / LINE, 1, self.now(), **fields)  # type: ignore[arg-type]
        )

    def turn(self, axis: str, turns: float | None, move: float) -> None:
        self.axes[axis] += move
        number = len(self.readings) + 1
        method = METHODS[axis][0].key
        self.readings.append(
            LevelReading(axis, method, 0.0, 0.0, 0.0, 1, self.now(), turns, turn=True, reading_id=number)
        )

    def match(self, reseated: bool = False) -> None:
        after = RESEATED if reseated else ""
        reference = -self.roll * DEG / LINE
        self.entries.append(BenchEntry("level", "match", 1, self.now(), reference, self.seat, ((0.0, 0.0),), after))

    def squared(self, looks: int = 3) -> None:
        """First and second axis read."""
        for axis, method in (("first", "rail_vial"), ("second", "to_string")):
            for _ in range(looks):
                self.look(axis, method)

    def thirds(self, method: str, looks: int = 3, tilts: tuple[float, ...] = (-35.0, 35.0)) -> None:
        for n in range(looks):
            self.look("third", method, tilts[n % len(tilts)])

    @property
    def state(self) -> LevelState:
        given = Given(self.tolerances, figures=RIG_A, setups=self.setups)
        return level_state(self.card, self.readings, self.entries, None, given)

    @property
    def third(self):  # type: ignore[no-untyped-def]
        return self.state.axes["third"]


class Methods(unittest.TestCase):
    def test_what_a_method_does_not_see_by_hand(self) -> None:
        """The sds of section 12 of the physics, added in quadrature, method by method."""
        for key, degrees in (
            ("bench_jig", math.hypot(0.35, 0.57, 0.71)),
            ("vise_riser", math.hypot(0.35, 0.57)),
            ("vise_string", math.hypot(0.35, 0.57)),
            ("board_riser", math.hypot(0.35, 0.19)),
            ("board_string", 0.2),
            ("board_rod", 0.2),
            ("hand_plumb", 0.15),
            ("shooting", 0.1),
        ):
            self.assertAlmostEqual(BY_KEY[key].bias_sd_rad / DEG, degrees, msg=key)
        self.assertEqual({part for m in METHODS["third"] for part in m.parts}, set(PART_SD_RAD))

    def test_what_is_left_open_is_all_counted(self) -> None:
        for method in METHODS["third"][:-1]:
            bench = Bench(levelled_card(clip_proved=True))
            bench.squared(12)
            bench.thirds(method.key, 12)
            third = bench.third
            self.assertAlmostEqual(third.now.sd / DEG, method.bias_sd_rad / DEG, delta=0.12, msg=method.key)
            self.assertLess(third.seen.sd, 0.15 * DEG, method.key)

    def test_averaging_jig_and_vise_does_not_take_their_common_part_out(self) -> None:
        bench = Bench()
        bench.squared(12)
        bench.thirds("vise_riser", 12)
        alone = bench.third.now.sd
        bench.thirds("bench_jig", 12)
        self.assertGreater(bench.third.now.sd, 0.95 * alone)

    def test_a_vise_alone_is_squared_at_rest_and_never_good(self) -> None:
        bench = Bench()
        bench.squared()
        bench.thirds("vise_riser", 6)
        state = bench.state
        self.assertEqual(
            (state.axes["third"].action.kind, state.step, state.label), (SQUARED, "squared", "squared_at_rest")
        )
        self.assertFalse(state.done)
        self.assertAlmostEqual(state.axes["third"].chance, math.erf(0.7 / 0.68 / math.sqrt(2.0)), delta=0.02)
        bench.tolerances["third"] = 3.1 * DEG  # 50 m
        self.assertEqual(bench.third.action.kind, GOOD)

    def test_a_jig_alone_is_bench_only(self) -> None:
        bench = Bench()
        bench.squared()
        bench.thirds("bench_jig", 6)
        self.assertEqual((bench.state.step, bench.state.label), ("squared", "bench_only"))

    def test_vise_and_draw_board_differ_by_the_draw_twist_and_the_board_decides(self) -> None:
        """Six looks at rest say nought, six at full draw say 1.5: the answer is 1.5, and nobody is an outlier."""
        bench = Bench(levelled_card(clip_proved=True), third=1.5)
        bench.bias["vise_riser"] = -1.5
        bench.squared(6)
        bench.thirds("vise_riser", 6)
        self.assertAlmostEqual(bench.third.now.value / DEG, 0.0, delta=0.05)
        bench.seat = "string"
        bench.thirds("board_string", 6)
        state = bench.state
        self.assertAlmostEqual(state.axes["third"].now.value / DEG, 1.4, delta=0.1)
        self.assertEqual((state.axes["third"].action.kind, state.slips), (TURN, ()))
        self.assertAlmostEqual(state.twist.value / DEG, 1.5, delta=0.1)
        own = {key: seen.value / DEG for key, seen in state.by_method.items()}
        self.assertAlmostEqual(own["vise_riser"], 0.0, delta=0.06)
        self.assertAlmostEqual(own["board_string"], 1.5, delta=0.06)

    def test_the_twist_once_learned_goes_on_counting_after_a_turn(self) -> None:
        bench = Bench(levelled_card(clip_proved=True), third=1.5)
        bench.bias["vise_riser"] = -1.5
        bench.squared(6)
        bench.thirds("vise_riser", 6)
        bench.seat = "string"
        bench.thirds("board_string", 6)
        bench.turn("third", 0.5, -1.5)
        bench.seat = "flat"
        bench.thirds("vise_riser", 6)
        self.assertAlmostEqual(bench.third.now.value / DEG, 0.0, delta=0.16)
        self.assertLess(bench.third.now.sd, 0.3 * DEG)

    def test_never_another_turn_for_a_bias(self) -> None:
        bench = Bench(levelled_card(yaw_proved=False))
        bench.squared()
        for looks in range(2, 14):
            bench.thirds("vise_riser", 1, (-35.0 if looks % 2 else 35.0,))
            self.assertNotEqual(bench.third.action.kind, TURN, looks)


class Seats(unittest.TestCase):
    def test_an_unproved_yaw_is_part_of_the_verdict(self) -> None:
        """On the string, not proved, yawed by 1.2 degrees: it looks true, and is not."""
        bench = Bench(levelled_card(yaw_proved=False, seat="string"), third=1.2)
        bench.yaw = 1.2
        bench.squared()
        bench.thirds("board_string", 8)
        third = bench.third
        self.assertAlmostEqual(third.now.value / DEG, 0.0, delta=0.1)
        self.assertAlmostEqual(third.now.sd / DEG, 1.5, delta=0.1)
        self.assertEqual((third.action.kind, bench.state.label), (SQUARED, "not_proved"))

    def test_a_proved_clip_counts_on_the_string_alone(self) -> None:
        setup = LevelSetup(seat="flat", yaw_proved=True, clip_proved=True)
        self.assertEqual([setup.yaw_of(s)[1] / DEG for s in ("flat", "string")], [0.0, 0.0])
        self.assertAlmostEqual(setup.yaw_of("other")[1] / DEG, 1.5)
        self.assertEqual(replace(setup, yaw_rad=0.02).yaw_of("flat"), (0.02, 0.0))

    def test_a_moved_reference_brings_a_new_roll_until_it_is_matched(self) -> None:
        """From the flat, where it was matched, to the string, rolled by 0.6 degrees: no axis is good against it."""
        bench = Bench(second=0.6, first=0.6)
        bench.seat, bench.roll = "string", 0.6
        bench.squared(6)
        state = bench.state
        for axis in ("first", "second"):
            self.assertNotEqual(state.axes[axis].standing, "good", axis)
            self.assertGreater(state.axes[axis].now.sd, 0.9 * ROLL_SD_RAD)
        self.assertEqual((state.step, state.current), ("match", "first"))
        bench.match()
        for axis in ("first", "second"):
            self.assertAlmostEqual(bench.state.axes[axis].now.value / DEG, 0.6, delta=0.05)

    def test_put_on_again_where_it_was_is_a_new_seating(self) -> None:
        bench = Bench()
        bench.squared()
        self.assertEqual(bench.state.axes["second"].standing, "good")
        bench.look("second", "to_string", reseated=True)
        self.assertEqual((bench.state.matched, len(bench.state.log.seatings)), (False, 2))
        bench.match(reseated=True)
        self.assertEqual((bench.state.matched, len(bench.state.log.seatings)), (True, 3))

    def test_matched_a_line_off_the_bow_reads_as_it_is(self) -> None:
        for string, reference in ((0.0, -1.2), (0.4, -0.8)):
            bench = Bench()
            bench.entries = [replace(PLUMB, number=reference, points=((string, 0.0),))]
            bench.roll = 0.6
            bench.squared()
            self.assertAlmostEqual(bench.state.axes["second"].now.value / DEG, 0.0, delta=0.01)
            self.assertAlmostEqual(bench.state.middle_div, -1.2, delta=0.01)

    def test_a_third_axis_against_an_unmatched_seat_wants_both_tilts_or_the_match(self) -> None:
        bench = Bench(levelled_card(yaw_proved=True, seat="flat"))
        bench.squared()
        bench.look("third", "vise_riser", -35.0, reseated=True)
        for _ in range(6):
            bench.look("third", "vise_riser", -35.0)
        self.assertEqual(bench.third.action.because, "match")
        self.assertGreater(bench.third.seen.sd, 0.5 * DEG)
        for _ in range(6):
            bench.look("third", "vise_riser", 35.0)
        self.assertLess(bench.third.seen.sd, 0.2 * DEG)

    def test_levels_that_were_not_reversed_come_first(self) -> None:
        for kind, step in (("reference", "reference"), ("string", "string"), ("rail", "rail")):
            bench = Bench(levelled_card(**{kind: Vial(LINE)}))
            bench.squared()
            self.assertEqual(bench.state.step, step)
            if kind != "reference":  # whose own error the match takes out
                self.assertNotEqual(bench.state.axes["first"].standing, "good")

    def test_what_was_read_with_another_level_is_reckoned_with_that_one(self) -> None:
        coarse = replace(
            levelled_card().level, reference=Vial(2.0 * LINE, roll_error_div=0.5), from_shop=(("reference", 1),)
        )
        bench = Bench()
        bench.setups = {1: bench.card.level}
        bench.look("second", "to_string", cant=1.0)
        before = bench.state.axes["second"].now.value
        bench.card = replace(bench.card, level=coarse)
        self.assertAlmostEqual(bench.state.axes["second"].now.value, before)
        bench.setups = {}
        self.assertNotAlmostEqual(bench.state.axes["second"].now.value, before, delta=0.1 * DEG)


class LinesAndJigs(unittest.TestCase):
    def test_against_a_line_no_reference_is_read(self) -> None:
        """A riser that yaws by 0.8 degrees, and any number in the reference's field, orders nothing."""
        for method in ("hand_plumb", "board_rod"):
            bench = Bench()
            bench.yaw = 0.8
            bench.squared()
            for _ in range(4):
                bench.look("third", method, -35.0)
                bench.readings[-1] = replace(bench.readings[-1], reference_div=9.0)
            self.assertAlmostEqual(bench.third.now.value / DEG, 0.0, delta=0.01)
            self.assertEqual(bench.third.action.kind, GOOD)

    def test_a_line_works_with_a_calibrated_sight_and_no_reference(self) -> None:
        bench = Bench(levelled_card(reference=Vial(roll_error_div=0.0)))
        bench.look("third", "hand_plumb", -35.0)
        self.assertTrue(bench.third.unit.calibrated)
        self.assertEqual((bench.third.unit.vial, bench.third.unit.reference), (LINE, 0.0))

    def test_in_a_jig_the_sights_roll_is_its_own(self) -> None:
        bench = Bench(levelled_card(jig=VIAL), second=1.0, third=0.0)
        bench.squared()
        bench.axes["second"] = 2.0  # as it sits in the jig
        bench.thirds("bench_jig", 8)
        self.assertAlmostEqual(bench.third.now.value / DEG, 0.0, delta=0.05)

    def test_an_uncalibrated_line_is_counted_coarser_than_nearly_every_vial(self) -> None:
        bench = Bench(levelled_card(sight=Vial(), reference=Vial(roll_error_div=0.0)))
        bench.look("second", "to_string")
        unit = bench.state.axes["second"].unit
        self.assertEqual((unit.calibrated, unit.vial), (False, COARSE_LINE_RAD))
        self.assertGreater(COARSE_LINE_RAD, 1.0 * DEG)

    def test_squared_to_the_rail_is_judged_against_the_rail(self) -> None:
        bench = Bench(first=0.9, second=0.9)
        for _ in range(4):
            bench.look("second", "to_rail")
        self.assertAlmostEqual(bench.state.axes["second"].now.value / DEG, 0.0, delta=0.02)
        self.assertEqual(bench.state.axes["second"].standing, "good")


class OnSlopes(unittest.TestCase):
    def group(self, bench: Bench, slope: float, second: float = 0.0) -> None:
        """Six arrows at 95 m, without noise: where they come in with 2 degrees of third axis."""
        from cross_staff.core.ballistics.cant import Case, falls

        ((fall, delta, _height),) = falls(RIG_A, (Case(95.0, slope * DEG),))  # type: ignore[misc]
        cant = false_cant(second * DEG, 2.0 * DEG, slope * DEG, delta)
        number = len(bench.readings) + 1
        bench.readings.append(
            LevelReading("third", "shooting", slope * DEG, 0.0, 0.0, 1, bench.now(), distance_m=95.0,
                         right_m=fall * math.sin(cant) + 0.012, arrows=6, reading_id=number)
        )  # fmt: skip

    def test_groups_up_and_down_tell_the_third_axis(self) -> None:
        """Windage left a little wrong falls out of up against down; 6 and 6 arrows tell 0.4 degrees."""
        bench = Bench()
        bench.card = replace(bench.card, ranged_from="sight")
        bench.squared(6)
        self.group(bench, 25.0)
        self.assertEqual(bench.third.now.sd > 0.7 * DEG, True)
        self.group(bench, -25.0)
        self.assertAlmostEqual(bench.third.now.value / DEG, 2.0, delta=0.1)
        spread = bench.card.goals.spread_mrad
        self.assertAlmostEqual(bench.third.now.sd / DEG, 0.40 * spread, delta=0.09)

    def test_without_figures_a_group_says_nothing(self) -> None:
        bench = Bench()
        self.group(bench, 25.0)
        state = level_state(bench.card, bench.readings, bench.entries, None, Given(TOLERANCES))
        self.assertGreater(state.axes["third"].now.sd, 4.0 * DEG)


class Needs(unittest.TestCase):
    def test_what_each_tool_proves_and_how_far_a_vise_is_enough(self) -> None:
        """Jig 2.0, vise 1.4, riser board 0.8, string board 0.45, hand 0.36 degrees, the yaw proved."""
        setup = levelled_card(clip_proved=True).level
        proves = {tool.method.key: tool.provable_rad / DEG for tool in tools(setup, 0.7 * DEG)}
        for key, degrees in (
            ("bench_jig", 2.0), ("vise_riser", 1.4), ("board_riser", 0.8), ("board_string", 0.45), ("hand_plumb", 0.36),
        ):  # fmt: skip
            self.assertAlmostEqual(proves[key], degrees, delta=0.1, msg=key)
        enough = {tool.method.key for tool in tools(setup, 0.7 * DEG) if tool.enough}
        self.assertEqual(enough, {"board_string", "board_rod", "hand_plumb", "hand_rod", "shooting"})
        card = levelled_card()
        card = replace(card, goals=replace(card.goals, slope_up_rad=25 * DEG, slope_down_rad=25 * DEG))
        self.assertIn(good_to_m(card, RIG_A, 1.4 * DEG), (65.0, 70.0))
        self.assertIsNone(tools(setup, None)[0].enough)

    def test_the_easiest_that_proves_it_and_the_one_to_decide(self) -> None:
        setup = levelled_card(clip_proved=True).level
        for degrees, wanted, deciding in (
            (3.0, "bench_jig", "board_riser"), (0.7, "board_rod", "board_rod"), (0.1, None, "hand_plumb"),
        ):  # fmt: skip
            known = tools(setup, degrees * DEG)
            best = easiest(known)
            self.assertEqual((best and best.method.key, drawn(known).method.key), (wanted, deciding), degrees)

    def test_an_unproved_seat_dulls_the_tools_that_read_it(self) -> None:
        dull = {t.method.key: t.provable_rad / DEG for t in tools(levelled_card(yaw_proved=False).level, None)}
        self.assertGreater(dull["board_string"], 2.9)
        self.assertLess(dull["board_rod"], 0.5)

    def test_the_usual_tolerance_while_nothing_is_known(self) -> None:
        state = level_state(levelled_card(), [], [])
        self.assertEqual({s.tolerance for s in state.axes.values()}, {USUAL_TOLERANCE_RAD})
        self.assertEqual(set(state.axes), set(AXES))
        self.assertEqual(state_of("third", 2), "third@2")
