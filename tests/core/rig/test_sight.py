import unittest
from dataclasses import replace

from cross_staff.core.rig.sight import (
    DRIVES,
    HOME_STOPS,
    KEY_SYSTEMS,
    MOVEMENTS,
    WAYS,
    YES_NO,
    Control,
    Fault,
    Housing,
    Screw,
    SightModel,
    faults,
    tool_list,
)
from cross_staff.core.rig.sight_kinds import KINDS
from tests.rigs import TEMPLATES


class Templates(unittest.TestCase):
    def test_one_for_each_kind_and_none_contradicts_itself(self) -> None:
        self.assertEqual(set(TEMPLATES), set(KINDS))
        for kind, model in TEMPLATES.items():
            with self.subTest(kind):
                self.assertEqual(model.kind, kind)
                self.assertEqual(faults(model), ())
                self.assertLessEqual(len(model.pins), KINDS[kind].most_pins)
                self.assertEqual(model.slider_travel_mm is not None, KINDS[kind].dialled)
                self.assertTrue(tool_list(model))

    def test_every_word_is_in_its_table(self) -> None:
        for model in TEMPLATES.values():
            self.assertTrue(set(model.axes) <= {*DRIVES, "none"})
            self.assertIn(model.home_stop, HOME_STOPS)
            self.assertTrue({model.pins_in_line, model.second_axis_carries_pins} <= set(YES_NO))
            for control in model.controls:
                self.assertIn(control.moves, MOVEMENTS)
                self.assertIn(control.clockwise, WAYS)
                self.assertFalse(control.checked)
            for screw in model.screws:
                self.assertIn(screw.movement, MOVEMENTS)
                self.assertIn(screw.drive, DRIVES)
                self.assertIn(screw.key_system, KEY_SYSTEMS)

    def test_both_kinds_of_home_stop_are_there(self) -> None:
        self.assertTrue({"fixed", "settable"} <= {model.home_stop for model in TEMPLATES.values()})


class Controls(unittest.TestCase):
    def test_clicks_make_a_turn(self) -> None:
        self.assertAlmostEqual(Control("drum", per_click_mm=0.05, clicks_per_turn=20.0).travel_per_turn(), 1.0)
        self.assertEqual(Control("wheel", per_turn_mm=25.0).travel_per_turn(), 25.0)
        self.assertIsNone(Control("wheel").travel_per_turn())

    def test_travel_that_is_left(self) -> None:
        self.assertEqual(Control("micro", travel_mm=10.0, position_mm=4.0).left(), (4.0, 6.0))
        self.assertIsNone(Control("micro", travel_mm=10.0).left())


class Faults(unittest.TestCase):
    def rig(self, model: SightModel) -> list[str]:
        return [fault.field for fault in faults(model)]

    def test_what_cannot_be(self) -> None:
        self.assertEqual(self.rig(SightModel(housing=Housing(52.0, 44.0))), ["housing.inner_mm"])
        self.assertEqual(self.rig(SightModel(housing=Housing(44.0, 52.0, pin_room_mm=48.0))), ["housing.pin_room_mm"])
        self.assertEqual(self.rig(SightModel(extension_mm=(0.0, 12.0, 12.0))), ["extension_mm"])
        self.assertEqual(self.rig(SightModel(heads=("scope",), head_in_use="ring")), ["head_in_use"])
        wrong = Control("micro", "windage", 0.05, 20.0, 2.0, 10.0, 12.0, "up")
        self.assertEqual(
            self.rig(SightModel(controls=(wrong,))),
            ["controls.0.position_mm", "controls.0.per_turn_mm", "controls.0.clockwise"],
        )
        self.assertIn("make 1 mm a turn", faults(SightModel(controls=(wrong,)))[1].message)

    def test_clicks_and_turn_agree_to_a_twentieth(self) -> None:
        for said, wrong in ((2.0, []), (2.09, []), (2.2, ["controls.0.per_turn_mm"])):
            self.assertEqual(self.rig(SightModel(controls=(Control("drum", "elevation", 0.1, 20.0, said),))), wrong)

    def test_unknown_contradicts_nothing(self) -> None:
        self.assertEqual(faults(SightModel()), ())
        self.assertEqual(Fault("a", "b"), Fault("a", "b"))


class Tools(unittest.TestCase):
    def test_each_key_once_with_what_it_drives_and_none_for_what_must_not_be_touched(self) -> None:
        stop = Screw("End stop", "stop", "bolt", key_size="2 mm", key_system="metric", never=True)
        model = SightModel(
            screws=(
                Screw("Second pair", "second_axis", "pair", key_size="2 mm", key_system="metric"),
                Screw("Third pair", "third_axis", "pair", key_size="2 mm", key_system="metric"),
                Screw("Clamp", "extension", "knob", key_system="none"),
                stop,
            )
        )
        touched = tool_list(model)
        self.assertEqual([(t.size, t.system) for t in touched], [("2 mm", "metric")])
        self.assertEqual(touched[0].used_for, ("Second pair", "Third pair"))
        self.assertEqual(tool_list(replace(model, screws=(stop,))), ())


class Clicks(unittest.TestCase):
    def test_clicks_to_a_tenth_and_as_turns(self) -> None:
        drum = Control("Drum", "elevation", 0.05, 20.0)
        self.assertEqual(drum.clicks(2.372), 47.4)
        turns, rest = drum.turns_and_clicks(-47.4) or (0, 0.0)
        self.assertEqual((turns, round(rest, 6)), (2, 7.4))
        self.assertIsNone(Control("Drum", "elevation", 0.05).turns_and_clicks(3.0))
        sight = SightModel(controls=(Control("Gang", "gang_elevation", 0.1), drum))
        self.assertEqual(sight.dialling_control(), drum)
        self.assertIsNone(SightModel().dialling_control())
