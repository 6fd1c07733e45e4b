"""The practice bow: what it answers, that it answers the same again, what it refuses; the truth at the end."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import Exercise
from cross_staff.core.practice.log import Practice, PracticeAct, Value
from cross_staff.core.simulate import debrief
from cross_staff.core.simulate.practice_bow import PracticeBow
from tests.core.practice.test_exercise import NOW, exercise

LOOK: dict[str, Value] = {"axis": "second", "method": "to_string", "seat": "flat", "middle": 0.0}


def ranged(**more: object) -> Exercise:
    """An exercise at the range."""
    return replace(exercise(**more), goals=("home",), theme="range")


class Answers(unittest.TestCase):
    def did(self, exercise: Exercise, *done: tuple[str, dict[str, Value]]) -> tuple[PracticeBow, list[PracticeAct]]:
        """A bow after what was done to it, and the acts with what they showed."""
        bow, told = PracticeBow(exercise), []
        for number, (kind, how) in enumerate(done, start=1):
            told.append(PracticeAct(kind, how, bow.do(kind, how, number), NOW, number))
        return bow, told

    def test_the_same_done_again_answers_the_same(self) -> None:
        done = [
            (acts.LOOK, LOOK), (acts.TURN, {"axis": "second", "turns": 0.3}), (acts.LOOK, LOOK),
            (acts.SHOOT, {"distance": 10.0, "arrows": 3}), (acts.DAY, {}),
            (acts.SHOOT, {"distance": 17.0, "arrows": 4}),
        ]  # fmt: skip
        (first, one), (second, other) = self.did(exercise(day_mrad=0.3), *done), self.did(exercise(day_mrad=0.3), *done)
        self.assertEqual([a.saw for a in one], [a.saw for a in other])
        self.assertEqual(first.truth(), second.truth())
        self.assertEqual(PracticeBow(exercise(day_mrad=0.3)).done(one).truth(), first.truth())

    def test_a_bubble_stands_where_the_axis_is_and_moves_with_its_screw(self) -> None:
        bow = PracticeBow(exercise(second_deg=0.4))
        line = bow.bow.vials["sight"].line_rad
        for number in range(1, 6):
            saw = bow.do(acts.LOOK, LOOK, number)
            plumb = bow.bow.vials["reference"].error_div * bow.bow.vials["reference"].line_rad + bow.bow.roll
            stands = (bow.bow.axes["second"] - plumb) / line
            shown = min(abs(stands), bow.bow.vials["sight"].lines + 1.0)
            self.assertAlmostEqual(abs(float(str(saw["vial"]))), shown, delta=0.5)
        before = bow.bow.axes["second"]
        bow.do(acts.TURN, {"axis": "second", "turns": 0.25}, 9)
        self.assertAlmostEqual((bow.bow.axes["second"] - before) / (0.25 * bow.bow.gains["second"]), 1.0, delta=0.35)

    def test_a_watched_turn_ends_where_the_bubble_was_wanted(self) -> None:
        """Until it stands in the middle, or has come so far; at rest what the draw does stays in it."""
        bow = PracticeBow(exercise(second_deg=1.0))
        vial = bow.bow.vials["sight"]
        watched: dict[str, Value] = {"axis": "second", "watching": True, "method": "to_string", "until": "stands"}
        bow.do(acts.TURN, watched | {"pitch": 0.0, "lines": 0.0}, 1)
        self.assertLess(abs(bow.bow.axes["second"]) / vial.line_rad, 0.8)
        before = bow.bow.axes["second"]
        bow.do(acts.TURN, watched | {"pitch": 0.0, "until": "come", "lines": 2.0}, 2)
        self.assertAlmostEqual((before - bow.bow.axes["second"]) / vial.line_rad, 2.0, delta=0.8)
        twisted = PracticeBow(exercise(third_deg=0.0, second_deg=0.0, flex_deg=1.5, lean_deg=0.0))
        drawn: dict[str, Value] = {"axis": "third", "watching": True, "method": "board_string", "until": "stands"}
        twisted.do(acts.TURN, drawn | {"pitch": -35.0, "lines": 0.0}, 1)
        self.assertAlmostEqual(math.degrees(twisted.bow.axes["third"]), -1.5, delta=0.7)
        for more, field in (
            ({"pitch": 2.0}, "pitch"),
            ({"lines": 99.0}, "lines"),
            ({"until": "come"}, "lines"),
            ({"method": "guess"}, "method"),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as refused:
                twisted.do(acts.TURN, drawn | more, 2)
            self.assertEqual(refused.exception.field, field)

    def test_reversed_knobs_go_the_other_way(self) -> None:
        plain, against = PracticeBow(exercise()), PracticeBow(exercise(reversed=("second",)))
        self.assertAlmostEqual(plain.bow.gains["second"], -against.bow.gains["second"])
        for hidden, way in (((), 1.0), (("windage",), -1.0)):
            bow = PracticeBow(ranged(windage_mm=2.0, reversed=hidden))
            bow.do(acts.MOVE, {"control": "Windage micro", "amount": 20.0}, 1)
            self.assertGreater(way * (2.0 - bow.archer.sight.right_mm), 0.5)

    def test_arrows_land_about_the_aim_and_wind_moves_them(self) -> None:
        still, blown = PracticeBow(ranged(windage_mm=0.0)), PracticeBow(ranged(windage_mm=0.0, wind_mps=8.0))
        shots = [bow.do(acts.SHOOT, {"distance": 40.0, "arrows": 3}, 1)["shots"] for bow in (still, blown)]
        self.assertTrue(all(isinstance(each, list) and len(each) == 3 for each in shots))
        moved = [b[0] - a[0] for a, b in zip(*shots)]  # type: ignore[arg-type]
        self.assertTrue(all(each > 20.0 for each in moved), moved)

    def test_what_cannot_be_done_is_refused_at_its_field(self) -> None:
        for kind, how, field in (
            ("fly", {}, "kind"),
            ("__init__", {}, "kind"),
            (acts.LOOK, {"axis": "fourth", "method": "to_string"}, "axis"),
            (acts.LOOK, {"axis": "second", "method": "guess"}, "method"),
            (acts.LOOK, LOOK | {"pitch": 400.0}, "pitch"),
            (acts.TURN, {"axis": "second"}, "turns"),
            (acts.TURN, {"axis": "second", "turns": 0.0}, "turns"),
            (acts.TURN, {"axis": "second", "turns": 40.0}, "turns"),
            (acts.SHOOT, {"distance": 10.0, "arrows": 0}, "arrows"),
            (acts.SHOOT, {"distance": 10.0, "arrows": 3, "pin": 9}, "pin"),
            (acts.SHOOT, {"arrows": 3}, "distance"),
            (acts.MOVE, {"control": "Elevation wheel", "amount": 3.0}, "control"),
            (acts.MOVE, {"control": "Windage micro", "amount": 0.0}, "amount"),
            (acts.PLACE, {"pin": 1}, "below"),
            (acts.TUNE, {"step": "saw it off"}, "step"),
            (acts.HINT, {"which": 2}, "which"),
        ):
            with self.subTest(kind, field=field), self.assertRaises(InvalidValue) as refused:
                PracticeBow(exercise()).do(kind, how, 1)
            self.assertEqual(refused.exception.field, field)

    def test_peep_speed_and_paper_tell_what_is_hidden(self) -> None:
        low, plain = PracticeBow(exercise(peep_mm=-14.0)), PracticeBow(exercise())
        peeps = [float(str(bow.do(acts.MEASURE, {}, 1)["peep_mm"])) for bow in (low, plain)]
        self.assertAlmostEqual(peeps[0] - peeps[1], -14.0, delta=1.1)
        fast, slow = PracticeBow(exercise(speed_part=0.05)), PracticeBow(exercise(speed_part=-0.05))
        speeds = [bow.do(acts.SPEED, {"arrows": 3}, 1)["speeds"] for bow in (fast, slow)]
        self.assertGreater(speeds[0][0][0], speeds[1][0][0] + 3.0)  # type: ignore[index]
        torn = PracticeBow(exercise(tear_up_mm=20.0))
        before = float(str(torn.do(acts.PAPER, {}, 1)["up_mm"]))
        torn.do(acts.TUNE, {"step": "nock_down"}, 2)
        self.assertLess(float(str(torn.do(acts.PAPER, {}, 3)["up_mm"])), before)


class Order(Answers):
    def mistakes(self, exercise: Exercise, *done: tuple[str, dict[str, Value]]) -> dict[str, int]:
        _, told = self.did(exercise, *done)
        return {each.key: each.times for each in debrief.mistakes(Practice(exercise, "", NOW, tuple(told)))}

    def test_a_clean_order_has_no_mistakes(self) -> None:
        done = [(acts.REVERSE, {"which": "reference"}), (acts.LOOK, LOOK), (acts.SHOOT, {"distance": 5.0, "arrows": 3})]
        self.assertEqual(self.mistakes(exercise(), *done), {})

    def test_each_mistake_is_seen(self) -> None:
        board: dict[str, Value] = {"axis": "third", "method": "board_string", "pitch": -35.0}
        turn: dict[str, Value] = {"axis": "third", "turns": 0.1}
        self.assertEqual(
            self.mistakes(exercise(), (acts.LOOK, board), (acts.TURN, turn)),
            {debrief.UNPROVEN: 1, debrief.DRAWN: 1, debrief.EARLIER: 1, debrief.UNREAD: 1},
        )
        let_down = [(acts.LOOK, board), (acts.LET_DOWN, {}), (acts.TURN, turn), (acts.LOOK, board)]
        self.assertNotIn(debrief.DRAWN, self.mistakes(exercise(), *let_down))
        far: list[tuple[str, dict[str, Value]]] = [
            (acts.SHOOT, {"distance": 17.0, "arrows": 1}),
            (acts.MOVE, {"control": "Windage micro", "amount": 3.0}),
        ]
        told = self.mistakes(ranged(wind_mps=5.0, windage_mm=0.0, elevation_mm=0.0), *far)
        self.assertEqual(told, {debrief.TOO_FAR: 1, debrief.ONE_ARROW: 1, debrief.IN_WIND: 1})
        away = [(acts.MOVE, {"control": "Windage micro", "amount": -60.0})]
        self.assertEqual(self.mistakes(ranged(windage_mm=3.0), *away), {debrief.WORSE: 1})


if __name__ == "__main__":
    unittest.main()
