import math
import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.cost import distances, sideways, slopes, tolerances, worst
from cross_staff.core.level.log import AXES, LevelReading
from cross_staff.core.level.methods import BY_KEY, METHODS
from cross_staff.core.level.rests import check_centred, wants_centred
from cross_staff.core.level.screws import READ, TURN
from cross_staff.core.level.station import Given, LevelState, check_plumb, check_reading, level_state
from cross_staff.core.level.vials import line_from_shim, reversal, sight_tilt
from cross_staff.core.rig.card import Goals, LevelSetup, RigCard, Vial
from cross_staff.core.rig.log import BenchEntry, check_reason
from cross_staff.core.rig.sight import Control
from tests.rigs import NOON, RIG_A, full_card

DEG = math.radians(1.0)
VIAL = Vial(0.5 * DEG, 4.0, 0.0)
TOLERANCES = {"first": 0.25 * DEG, "second": 0.25 * DEG, "third": 0.7 * DEG}
PLUMB = BenchEntry("level", "plumb", 1, NOON, 0.0, "flat", ((0.0, 0.0),))


def levelled_card(**setup: object) -> RigCard:
    fields = {
        "reference": VIAL,
        "rail": VIAL,
        "sight": VIAL,
        "string": VIAL,
        "seat": "flat",
        "yaw_proved": True,
        "tolerance_m": 0.05,
    }
    goals = Goals(17.0, 95.0, 0.25, 0.10, 38.0, slope_up_rad=30 * DEG, slope_down_rad=30 * DEG)
    return full_card(level=LevelSetup(**(fields | setup)), goals=goals)  # type: ignore[arg-type]


class Log:
    """A log of looks at hidden axes, entered one after the other."""

    def __init__(self, card: RigCard) -> None:
        self.card, self.readings = card, []
        self.entries = [PLUMB]

    def add(self, axis: str, vial: float, pitch: float = 0.0, reference: float = 0.0, **more: object) -> None:
        method = str(more.pop("method", "hand_plumb" if axis == "third" else METHODS[axis][0].key))
        number = len(self.readings) + 1
        self.readings.append(
            LevelReading(axis, method, pitch * DEG, vial, reference, 1, NOON, reading_id=number, **more)  # type: ignore[arg-type]
        )

    @property
    def state(self) -> LevelState:
        return level_state(self.card, self.readings, self.entries, None, Given(TOLERANCES))


class Order(unittest.TestCase):
    def test_reference_then_plumb_then_the_axes_one_by_one(self) -> None:
        log = Log(levelled_card(reference=Vial(0.5 * DEG)))
        self.assertEqual(log.state.step, "reference")
        log.card = levelled_card()
        log.entries = []
        self.assertEqual(log.state.step, "plumb")
        log.entries = [PLUMB]
        for axis, pitch in (("first", 0.0), ("second", 0.0), ("third", -35.0)):
            self.assertEqual(log.state.current, axis)
            for _ in range(3):
                log.add(axis, 0.05, pitch)
        self.assertTrue(log.state.done)

    def test_turning_a_later_axis_asks_for_the_earlier_ones_again(self) -> None:
        log = Log(levelled_card())
        for axis, pitch in (("first", 0.0), ("second", 0.0)):
            log.add(axis, 0.0, pitch)
            log.add(axis, 0.0, pitch)
        log.add("third", 1.6, -35.0)
        log.add("third", 1.6, -35.0)
        log.add("third", 0.02, -35.0, turns=-0.25)
        self.assertEqual((log.state.current, log.state.axes["first"].standing), ("first", "recheck"))
        for axis in ("first", "second"):
            log.add(axis, 0.0)
        self.assertTrue(log.state.done)
        self.assertAlmostEqual(log.state.axes["third"].as_found.value / DEG, -0.8 / math.sin(35 * DEG), delta=0.01)

    def test_turning_the_second_axis_makes_the_third_old(self) -> None:
        log = Log(levelled_card())
        for axis, pitch in (("second", 0.0), ("third", -35.0)):
            for _ in range(3):
                log.add(axis, 0.0, pitch)
        self.assertEqual(log.state.axes["third"].standing, "good")
        log.add("second", 2.0)
        log.add("second", 2.0)
        log.add("second", 0.0, turns=0.25)
        self.assertEqual(log.state.axes["third"].standing, "recheck")

    def test_level_ground_alone_leaves_the_third_axis_out(self) -> None:
        card = levelled_card()
        log = Log(replace(card, goals=replace(card.goals, level_only=True)))
        for axis in ("first", "second"):
            log.add(axis, 0.0)
            log.add(axis, 0.0)
        self.assertTrue(log.state.done)
        self.assertEqual(log.state.required, ("first", "second"))

    def test_an_axis_can_be_accepted_in_writing(self) -> None:
        log = Log(levelled_card())
        log.entries.append(BenchEntry("level", "accept_first", 1, NOON, note="no adjustment; costs 1 cm"))
        self.assertEqual((log.state.axes["first"].standing, log.state.current), ("accepted", "second"))

    def test_a_remounted_sight_makes_readings_old(self) -> None:
        log = Log(levelled_card())
        log.add("first", 0.0)
        state = level_state(log.card, log.readings, log.entries, frozenset({2}))
        self.assertEqual((state.old, state.readings, state.step), (1, (), "plumb"))


class Refusals(unittest.TestCase):
    def refused(self, axis: str, pitch: float, stands: float = 0.0, **setup: object) -> str:
        log = Log(levelled_card(**setup))
        log.add(axis, 0.0, pitch, stands)
        try:
            check_reading(log.card.level, log.readings[0])
            if wants_centred(log.card.level, log.readings[0]):
                check_centred(log.readings[0], log.card.level.reference.roll_error_div or 0.0)
        except InvalidValue as error:
            return error.field
        return ""

    def test_an_axis_is_read_at_a_tilt_that_tells_it(self) -> None:
        self.assertEqual([self.refused("third", pitch) for pitch in (0.0, 9.0, -9.0)], ["pitch"] * 3)
        self.assertEqual([self.refused("third", pitch) for pitch in (-35.0, 45.0)], ["", ""])
        for axis in ("first", "second"):
            self.assertEqual([self.refused(axis, pitch) for pitch in (0.0, 11.0, -30.0)], ["", "", "pitch"])

    def test_the_reference_sits_where_the_method_reads_it(self) -> None:
        setup = levelled_card().level
        for method, seat, taken in (
            ("vise_riser", "other", True), ("vise_riser", "string", False), ("board_string", "flat", False),
            ("board_string", "", True), ("hand_plumb", "flat", True),
        ):  # fmt: skip
            look = LevelReading("third", method, -35 * DEG, 0.0, 0.0, 1, NOON, seat=seat)
            with self.subTest(method=method, seat=seat):
                if taken:
                    check_reading(setup, look)
                else:
                    with self.assertRaisesRegex(InvalidValue, "^seat: this way reads it"):
                        check_reading(setup, look)
        check_reading(setup, LevelReading("second", "to_string", 0.0, 0.0, 0.0, 1, NOON, seat="other"))

    def test_uncalibrated_vials_want_the_reference_in_its_middle(self) -> None:
        """Nought where no reversal showed another; the middle that it showed, else."""
        for roll, reference, taken in ((None, 0.05, True), (None, 0.9, False), (None, -0.9, False), (0.8, 0.8, True)):
            setup = LevelSetup(Vial(None, roll_error_div=roll), Vial(), Vial(), "flat")
            log = Log(levelled_card())
            log.add("second", 0.0, 0.0, reference)
            with self.subTest(roll=roll, reference=reference):
                self.assertTrue(wants_centred(setup, log.readings[0]))
                if taken:
                    check_centred(log.readings[0], roll or 0.0)
                else:
                    with self.assertRaisesRegex(InvalidValue, "bring the reference to"):
                        check_centred(log.readings[0], roll or 0.0)

    def test_a_turn_that_went_past_is_said(self) -> None:
        """From three lines left of the middle to one line right of it, farther than is good; not from 3 to 1."""
        for after, past in ((1.0, True), (-1.0, False)):
            log = Log(levelled_card())
            for _ in range(3):
                log.add("first", -3.0)
            log.add("first", after, turns=0.25)
            log.add("first", after)
            self.assertEqual((log.state.axes["first"].overshot, log.state.old), (past, 0))

    def test_how_level_is_level(self) -> None:
        for axis, pitch, taken in (("first", 11.9, True), ("second", -12.1, False), ("first", 12.1, False)):
            log = Log(levelled_card())
            log.add(axis, 0.0, pitch)
            with self.subTest(axis=axis, pitch=pitch):
                if taken:
                    check_reading(log.card.level, log.readings[0])
                else:
                    with self.assertRaisesRegex(InvalidValue, "with the bow level"):
                        check_reading(log.card.level, log.readings[0])

    def test_which_way_a_knob_takes_the_axis_by_its_card(self) -> None:
        """The bubble is left of the middle: clockwise where that takes it right. Where the card does not say, the
        bubble that is watched does."""
        for clockwise, pitch, axis, way in (
            ("left", 0.0, "second", -1.0), ("right", 0.0, "second", 1.0), ("right", 35.0, "third", 1.0),
            ("right", -35.0, "third", 1.0), ("", 0.0, "second", 0.0), ("up", 0.0, "second", 0.0),
        ):  # fmt: skip
            card = levelled_card()
            knob = Control("Knob", f"{axis}_axis", clockwise=clockwise)
            log = Log(replace(card, sight=replace(card.sight, controls=(knob,))))
            for before, tilt in (("first", 0.0), ("second", 0.0), ("third", pitch)):
                for _ in range(3):
                    log.add(before, -3.0 if before == axis else 0.05, tilt)
                if before == axis:
                    break
            state = log.state.axes[axis]
            with self.subTest(axis=axis, clockwise=clockwise, pitch=pitch):
                by_hand = axis == "third"  # no bubble is watched there
                self.assertEqual(state.action.because, "test_turn" if by_hand else "watch")
                told = state.action.turns or state.action.about
                self.assertEqual(math.copysign(1.0, told) if told else 0.0, way)
                self.assertFalse(state.overshot or state.other_way)

    def test_without_calibration_the_reference_stands_in_its_own_middle(self) -> None:
        self.assertEqual(self.refused("second", 0.0, 2.0), "")
        self.assertEqual(self.refused("second", 0.0, 2.0, sight=Vial()), "reference")
        wrong_by_a_line = replace(VIAL, roll_error_div=1.0)
        self.assertEqual(self.refused("second", 0.0, 1.1, sight=Vial(), reference=wrong_by_a_line), "")
        self.assertEqual(self.refused("second", 0.0, 0.0, sight=Vial(), reference=wrong_by_a_line), "reference")

    def test_a_bow_more_than_a_line_off_is_not_plumb(self) -> None:
        check_plumb(1.0, -1.0)
        for side, fore, field in ((1.1, 0.0, "side"), (0.0, -1.1, "fore")):
            with self.assertRaisesRegex(InvalidValue, f"^{field}: more than a line off"):
                check_plumb(side, fore)

    def test_a_reason_is_more_than_a_word(self) -> None:
        check_reason("no screw")
        for said in ("", "no", "  ok  "):
            with self.assertRaisesRegex(InvalidValue, "^reason: write why"):
                check_reason(said)


class Vials(unittest.TestCase):
    def test_a_shim_under_one_end_calibrates(self) -> None:
        self.assertAlmostEqual(line_from_shim(0.5, 100.0, 1.0), math.asin(0.005))
        self.assertAlmostEqual(line_from_shim(0.5, 100.0, 2.0), math.asin(0.005) / 2.0)
        for shim, base, moved in ((50.0, 20.0, 1.0), (0.05, 2000.0, 10.0)):
            with self.assertRaisesRegex(InvalidValue, "which no vial has"):
                line_from_shim(shim, base, moved)

    def test_a_reversal_that_shows_a_large_error_is_doubted(self) -> None:
        self.assertEqual((reversal(0.5, -0.1).tilt, reversal(0.5, -0.1).doubtful), (0.2, False))
        self.assertTrue(reversal(2.0, -2.0).doubtful)

    def test_a_levels_own_error_is_taken_out_of_the_axis_it_reads(self) -> None:
        log = Log(levelled_card(rail=replace(VIAL, roll_error_div=0.4)))
        log.add("first", 0.4)
        log.add("second", 0.0)
        self.assertAlmostEqual(log.state.axes["first"].now.value, 0.0)
        self.assertAlmostEqual(log.state.axes["second"].now.value, 0.0)


class Reading(unittest.TestCase):
    def test_a_reading_taken_back_is_gone_and_kept(self) -> None:
        log = Log(levelled_card())
        log.add("first", 3.0)
        log.add("first", 0.0, undoes=1)
        self.assertEqual(log.state.readings, ())

    def test_loose_looks_do_not_count_but_teach_what_tightening_moves(self) -> None:
        log = Log(levelled_card())
        for vial, locked in ((2.0, True), (2.0, True)):
            log.add("second", vial, locked=locked)
        log.add("second", 0.3, turns=0.25, locked=False)
        self.assertEqual(log.state.axes["second"].action.kind, READ)
        log.add("second", 0.0)
        state = log.state.axes["second"]
        self.assertEqual(len(state.looks), 1)
        self.assertAlmostEqual(state.looks[0], 0.0, places=4)
        self.assertAlmostEqual(state.tightening / DEG, 0.15)
        self.assertEqual(len(state.turns), 1)

    def test_the_reversal_error_of_the_reference_is_taken_out(self) -> None:
        log = Log(levelled_card(reference=replace(VIAL, roll_error_div=0.4)))
        log.entries = [replace(PLUMB, number=0.4)]
        log.add("second", 0.0, reference=0.4)
        log.add("second", 0.0, reference=0.4)
        self.assertAlmostEqual(log.state.axes["second"].now.value, 0.0)

    def test_the_second_axis_is_taken_out_of_the_third(self) -> None:
        """A second axis left at half a degree leaks into every tilted reading: it is known, and comes out."""
        for pitch in (-35.0, 35.0):
            log = Log(levelled_card())
            second, third, p = 0.5 * DEG, 1.2 * DEG, pitch * DEG
            for _ in range(2):
                log.add("first", 0.0)
            for _ in range(3):
                log.add("second", sight_tilt(second, 0.0, 0.0, 0.0) / (0.5 * DEG))
            for _ in range(3):
                log.add("third", sight_tilt(second, third, 0.0, p) / (0.5 * DEG), pitch)
            self.assertAlmostEqual(log.state.axes["second"].now.value / DEG, 0.5, delta=0.005)
            self.assertAlmostEqual(log.state.axes["third"].now.value / DEG, 1.2, delta=0.01)

    def test_a_look_far_from_its_siblings_is_pointed_at(self) -> None:
        log = Log(levelled_card())
        for vial in (0.5, 0.55, 3.0, 0.5):
            log.add("first", vial)
        self.assertEqual(log.state.axes["first"].far_look, 2)

    def test_uncalibrated_vials_are_nulled_in_divisions(self) -> None:
        log = Log(levelled_card(sight=Vial()))
        log.add("second", 2.0)
        log.add("second", 2.0)
        state = log.state.axes["second"]
        self.assertEqual((state.unit.calibrated, state.action.kind), (False, TURN))
        self.assertAlmostEqual(state.now.value / state.unit.vial, -2.0, delta=0.01)

    def test_draw_twist_is_full_draw_less_rest(self) -> None:
        log = Log(levelled_card())
        for method, vial in (("vise_string", 0.4), ("board_string", 1.0)):
            log.add("third", vial, -35.0, method=method)
            log.add("third", vial, -35.0, method=method)
        self.assertAlmostEqual(log.state.twist.value / DEG, -0.3 / math.sin(35 * DEG), delta=0.05)
        self.assertIsNone(Log(levelled_card()).state.twist)


class Costs(unittest.TestCase):
    def test_a_true_sight_costs_nothing_and_home_is_where_windage_is_set(self) -> None:
        card = levelled_card()
        self.assertAlmostEqual(worst(sideways(card, RIG_A, 0.0, 0.0, 0.0)), 0.0, places=9)
        self.assertEqual([round(s / DEG) for s in slopes(card)], [30, 0, -30])
        self.assertEqual(len(distances(card)), 3)

    def test_on_the_level_only_first_less_second_shows(self) -> None:
        card = levelled_card()
        alike = sideways(card, RIG_A, 0.8 * DEG, 0.8 * DEG, 0.0)[1]
        apart = sideways(card, RIG_A, 0.8 * DEG, 0.0, 0.0)[1]
        self.assertLess(max(abs(r) for r in alike.right_m), 0.01)
        self.assertGreater(abs(apart.right_m[-1]), 0.05)

    def test_tolerance_at_the_target_becomes_degrees(self) -> None:
        card = levelled_card()
        degrees = tolerances(card, RIG_A, 0.05)
        self.assertEqual(set(degrees), set(AXES))
        for number, axis in enumerate(AXES):
            off = [degrees[axis] if i == number else 0.0 for i in range(3)]
            share = 1.0 if axis == "third" else math.sqrt(3.0)
            self.assertAlmostEqual(worst(sideways(card, RIG_A, *off)), 0.05 / share, delta=0.001)

    def test_every_method_says_what_it_sees_and_what_it_does_not(self) -> None:
        self.assertEqual(set(METHODS), set(AXES))
        for method in BY_KEY.values():
            self.assertTrue(method.steps and method.sees and method.blind_to, method.key)
            self.assertEqual(bool(method.caution) or not method.full_draw, True)
        self.assertEqual(len(METHODS["third"]), 9)
