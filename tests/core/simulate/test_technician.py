"""The virtual technician: what his hidden bow shows and does, and what he does with an order."""

import math
import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.screws import TURN, Action
from cross_staff.core.level.station import Given, level_state
from cross_staff.core.level.vials import reversal
from cross_staff.core.rig.card import Goals, RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.hidden_bow import HiddenBow, HiddenVial
from cross_staff.core.simulate.technician import (
    FIGURES,
    Act,
    Habits,
    Technician,
    outcome,
)
from tests.core.level.test_station import TOLERANCES
from tests.rigs import NOON, full_card

DEG = math.radians(1.0)
STILL = Habits(("vise_riser",), True, False, "flat", "to_string", 0.0, 0.0, 0.0, 0.0)


class Still:
    """A generator without noise."""

    def normal(self, middle: float = 0.0, _sd: float = 1.0) -> float:
        return middle

    def random(self) -> float:
        return 0.999

    def uniform(self, low: float, high: float) -> float:
        return 0.5 * (low + high)


def still_bow(**axes: float) -> HiddenBow:
    bow = HiddenBow.drawn(np.random.default_rng(1), True)
    bow.axes = {"first": 0.0, "second": 0.0, "third": 0.0} | {name: v * DEG for name, v in axes.items()}
    bow.parts = dict.fromkeys(bow.parts, 0.0)
    bow.vials = {kind: HiddenVial(0.5 * DEG, 0.0, 4) for kind in bow.vials}
    bow.gains = dict.fromkeys(bow.gains, 2.0 * DEG)
    bow.jig_roll = 0.0
    bow.generator = Still()  # type: ignore[assignment]
    bow.put_on("flat", "flat")
    return bow


class Vials(unittest.TestCase):
    def test_a_bubble_stops_at_the_end_of_its_glass(self) -> None:
        vial = HiddenVial(0.5 * DEG, 0.5, 4)
        still = Still()
        self.assertEqual(vial.stands(1.0 * DEG, still), (2.5, 0))  # type: ignore[arg-type]
        self.assertEqual(vial.stands(2.15 * DEG, still), (4.8, 0))  # type: ignore[arg-type]
        self.assertEqual(vial.stands(2.25 * DEG, still), (5.0, 1))  # type: ignore[arg-type]
        self.assertEqual(vial.stands(-2.8 * DEG, still), (-5.0, -1))  # type: ignore[arg-type]


class Looks(unittest.TestCase):
    def test_each_way_shows_what_it_sees(self) -> None:
        bow = still_bow(first=0.5, second=1.0, third=1.5)
        self.assertEqual(bow.look("first", "rail_vial", 0.0, 0.0), ((-1.0, 0), 0.0))
        self.assertEqual(bow.look("second", "to_string", 0.0, 0.25 * DEG), ((-2.5, 0), -0.5))
        self.assertEqual(bow.look("second", "to_rail", 0.0, 0.0), ((-2.0, 0), -1.0))
        down = round(2.0 * (1.5 * math.sin(-0.5) - 1.0 * math.cos(0.5)), 1)
        self.assertAlmostEqual(bow.look("third", "hand_plumb", -0.5, 0.0)[0][0], down, delta=0.11)
        bow.parts = dict(bow.parts) | {"flex": 1.0 * DEG}
        seen = bow.look("third", "vise_riser", 0.5, 0.0)[0][0] - bow.look("third", "hand_plumb", 0.5, 0.0)[0][0]
        self.assertAlmostEqual(seen, 2.0 * math.sin(0.5), delta=0.11)

    def test_the_reference_rolls_and_yaws_with_its_seat(self) -> None:
        bow = still_bow()
        bow.roll, bow.yaw = 0.5 * DEG, 1.0 * DEG
        self.assertEqual(bow.look("second", "to_string", 0.0, 0.0)[1], -1.0)
        tilted = bow.look("third", "vise_riser", 0.5, 0.0)[1]
        self.assertAlmostEqual(tilted, 2.0 * (math.sin(0.5) - 0.5 * math.cos(0.5)), delta=0.06)
        bow.jig_roll = 0.5 * DEG
        self.assertEqual(bow.look("third", "bench_jig", 0.0, 0.0), ((-1.0, 0), 0.0))

    def test_bows_are_drawn_as_they_come(self) -> None:
        bows = [HiddenBow.drawn(np.random.default_rng(n), False) for n in range(80)]
        lines = {vial.lines for bow in bows for vial in bow.vials.values()}
        self.assertEqual(lines, {3, 4, 5})
        for bow in bows:
            bow.put_on("other", "flat")
        self.assertAlmostEqual(float(np.std([bow.roll for bow in bows])) / DEG, 0.7, delta=0.2)
        self.assertAlmostEqual(float(np.std([bow.yaw for bow in bows])) / DEG, 1.5, delta=0.4)

    def test_a_seat_that_was_proved_has_no_yaw(self) -> None:
        bow = HiddenBow.drawn(np.random.default_rng(3), True)
        bow.put_on("flat", "flat")
        self.assertEqual((bow.yaw, bow.seat), (0.0, "flat"))
        bow.put_on("string", "flat")
        self.assertNotEqual(bow.yaw, 0.0)


class Turns(unittest.TestCase):
    def test_a_turn_moves_by_its_gain_and_less_after_a_change_of_way(self) -> None:
        bow = still_bow()
        bow.turn("second", 0.5)
        self.assertAlmostEqual(bow.axes["second"] / DEG, 1.0)
        bow.turn("second", -0.25)
        self.assertAlmostEqual(bow.axes["second"] / DEG, 1.0 - 0.5 + 0.03)
        bow.push("first", 0.2 * DEG)
        self.assertAlmostEqual(bow.axes["first"] / DEG, 0.2)


class Acts(unittest.TestCase):
    def card(self, technician: Technician, **more: object) -> RigCard:
        goals = Goals(17.0, 61.0, 0.25, 0.10, 38.0)
        sight = KINDS["multi_pin_slider"].template
        return full_card(sight=sight, level=technician.setup(0.05), goals=goals, **more)

    def technician(self, habits: Habits = STILL, **axes: float) -> Technician:
        return Technician(still_bow(**axes), habits, NOON)

    def done(self, technician: Technician) -> tuple[RigCard, list[Act]]:
        """All that he does until he is done, by the core alone."""
        card, log, entries, acts = self.card(technician), [], [], []
        for _ in range(150):
            state = level_state(card, log, entries, None, Given(TOLERANCES, figures=FIGURES))
            todo = technician.act(card, state)
            if not todo:
                break
            for act in todo:
                acts.append(act)
                if act.entry is not None:
                    log.append(replace(act.entry, reading_id=len(log) + 1, revision=1))
                elif act.kind == "reverse":
                    vial = replace(getattr(card.level, act.which), roll_error_div=reversal(*act.points).error)
                    card = replace(card, level=replace(card.level, **{act.which: vial}))
                elif act.kind == "undo":
                    gone = log[int(act.which) - 1]
                    log.append(replace(gone, undoes=gone.reading_id, reading_id=len(log) + 1))
                else:
                    key = {"accept": f"accept_{act.which}", "leave": "accept_third"}.get(act.kind, act.kind)
                    after = "reseated" if act.reseated else ""
                    moment = technician.moment()
                    words = "left so by hand"
                    seen = (act.reference_div, act.seat, (act.points,), after, words)
                    entries.append(BenchEntry("level", key, 1, moment, *seen))
        self.state = level_state(card, log, entries, None, Given(TOLERANCES, figures=FIGURES))
        return card, acts

    def test_true_axes_are_read_and_left_alone(self) -> None:
        technician = self.technician(third=0.0)
        _, acts = self.done(technician)
        kinds = [act.kind for act in acts]
        self.assertEqual(kinds[:5], ["reverse", "reverse", "plumb", "entry", "reverse"])
        self.assertEqual([act.which for act in acts[:2]], ["reference", "string"])
        self.assertEqual(kinds[-1], "leave")
        self.assertEqual((technician.turns, self.state.step, self.state.label), (0, "done", "squared_at_rest"))
        went = outcome(technician, self.state)
        self.assertEqual((went.over("second"), went.readings), (0.0, technician.readings))
        moments = [act.entry.entered for act in acts if act.entry]
        self.assertEqual(moments, sorted(set(moments)))
        self.assertGreaterEqual(moments[1] - moments[0], timedelta(minutes=1))

    def test_an_axis_that_is_off_is_turned_as_it_is_told(self) -> None:
        technician = self.technician(replace(STILL, methods=("hand_plumb",)), second=1.5)
        _, acts = self.done(technician)
        turns = [act.entry for act in acts if act.entry and act.entry.turn]
        self.assertEqual({entry.axis for entry in turns}, {"second"})
        self.assertLess(abs(technician.bow.axes["second"]), 0.25 * DEG)
        self.assertEqual((self.state.step, self.state.label, technician.impossible), ("done", "", []))
        self.assertLessEqual(technician.largest_first, 0.25)

    def test_off_its_glass_by_eye_a_turn_at_most(self) -> None:
        technician = self.technician(replace(STILL, methods=("hand_plumb",)), second=4.5)
        _, acts = self.done(technician)
        eye = [act for act in acts if act.entry and act.entry.turn and act.entry.turns is None]
        self.assertEqual(len(eye), 1)
        self.assertEqual(self.state.axes["second"].standing, "good")

    def test_groups_uphill_and_downhill_in_turn(self) -> None:
        technician = self.technician(replace(STILL, methods=("shooting",)), third=2.0)
        card = self.card(technician)
        state = level_state(card, [], [])
        one = technician._group(card, state)[0].entry
        self.assertIsInstance(one, LevelReading)
        self.assertAlmostEqual(one.pitch_rad / DEG, 25.0)
        self.assertGreater(one.right_m, 0.02)
        later = level_state(card, [replace(one, reading_id=1)], [], None, Given(figures=FIGURES))
        other = technician._group(card, later)[0].entry
        self.assertAlmostEqual(other.pitch_rad / DEG, -25.0)
        self.assertLess(other.right_m, one.right_m)
        self.assertEqual((other.arrows, other.distance_m, technician.readings), (6, 61.0, 2))
        technician.windage += 0.001
        blown = technician._group(card, state)[0].entry
        self.assertAlmostEqual(blown.right_m - one.right_m, 0.001 * (61.0 + FIGURES.eye_to_sight_m), delta=0.002)

    def test_uncalibrated_the_reference_is_brought_where_the_page_says(self) -> None:
        technician = self.technician(replace(STILL, calibrated=False))
        technician.bow.roll = 0.7 * DEG
        card = self.card(technician)
        self.assertIsNone(card.level.sight.per_division_rad)
        technician.bow.roll = 0.7 * DEG
        state = replace(level_state(card, [], []), middle_div=-1.4)
        look = technician._look(card, state, "second")[0].entry
        self.assertAlmostEqual(look.reference_div, -1.4, delta=0.11)
        self.assertAlmostEqual(look.vial_div, 0.0, delta=0.11)
        rail = technician._look(card, state, "first")[0].entry
        self.assertAlmostEqual(rail.reference_div, -1.4, delta=0.11)
        far = technician._look(card, replace(state, middle_div=-4.6), "second")[0].entry
        self.assertAlmostEqual(far.reference_div, -4.6, delta=0.11)

    def test_a_reference_that_was_moved_is_said_once(self) -> None:
        technician = self.technician()
        card = self.card(technician)
        technician._put_on("flat")
        state = level_state(card, [], [])
        told = [technician._look(card, state, axis)[0].entry.reseated for axis in ("second", "second")]
        self.assertEqual(told, [True, False])

    def test_the_first_turn_of_each_axis_is_remembered(self) -> None:
        technician = self.technician(second=1.5)
        card = self.card(technician)
        known = level_state(card, [], []).axes["second"]
        for turns in (0.25, 1.0):
            technician._turned(card, replace(known, action=Action(TURN, "by_gain", turns)))
        self.assertEqual((technician.largest_first, technician.turns), (0.25, 2))

    def test_a_slip_is_undone_the_next_time(self) -> None:
        technician = self.technician(second=1.0)
        card = self.card(technician)
        look = technician._look(card, level_state(card, [], []), "second")[0].entry
        technician.typed_wrong = True
        state = level_state(card, [replace(look, reading_id=5)], [])
        (act,) = technician.act(card, state)
        self.assertEqual((act.kind, act.which, technician.typed_wrong), ("undo", "5", False))

    def test_habits_are_drawn_and_repeat(self) -> None:
        one, other = (Technician.drawn(np.random.default_rng(8), NOON) for _ in range(2))
        self.assertEqual((one.habits, one.bow.axes), (other.habits, other.bow.axes))
        many = [Habits.drawn(np.random.default_rng(n)) for n in range(60)]
        self.assertEqual({len(habits.methods) for habits in many}, {1, 2})
        self.assertEqual({habits.seat for habits in many}, {"flat", "other", "string"})
        self.assertTrue(0.5 < sum(habits.calibrated for habits in many) / 60.0 < 0.9)
