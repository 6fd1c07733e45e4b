"""Whose the pointers are, and which pin the tape can be laid on for."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.card.faults import sight_faults
from cross_staff.core.rig.pins import Pins, may_be_dialled, pointed_pins
from cross_staff.core.rig.sight import Pin, SightModel, faults
from cross_staff.core.rig.sight_kinds import KINDS

SLIDER = SightModel("three pins", "multi_pin_slider", pins=(Pin(), Pin(), Pin()))
VERTICAL = replace(SLIDER, kind="vertical_pin_slider")


class Pointers(unittest.TestCase):
    def test_a_single_pointer_is_that_of_the_pin_on_the_wheel(self) -> None:
        for dialled in (0, 1, 2):
            self.assertEqual(pointed_pins(SLIDER, 3, dialled), (dialled,))
            self.assertEqual(pointed_pins(replace(SLIDER, pointers=(0,)), 3, dialled), (dialled,))
        self.assertEqual(Pins((17.0, 38.0), 1).pointed, (1,))

    def test_each_pin_of_a_post_has_its_own_unless_it_is_said_otherwise(self) -> None:
        self.assertEqual(pointed_pins(VERTICAL, 3, 0), (0, 1, 2))
        self.assertEqual(pointed_pins(VERTICAL, 2, 0), (0, 1))
        self.assertEqual(pointed_pins(replace(VERTICAL, pointers=(2, 0)), 3, 0), (0, 2))
        self.assertEqual(pointed_pins(replace(VERTICAL, pointers=(1,)), 3, 1), (1,))

    def test_several_pointers_leave_their_own_pins_to_be_dialled(self) -> None:
        self.assertEqual(may_be_dialled(SLIDER, 3), (0, 1, 2))
        self.assertEqual(may_be_dialled(replace(SLIDER, pointers=(0, 2)), 3), (0, 2))
        self.assertEqual(may_be_dialled(SLIDER, 0), (0,))

    def test_a_sight_that_is_not_dialled_has_none(self) -> None:
        for kind in KINDS.values():
            if not kind.dialled:
                self.assertEqual(pointed_pins(replace(SLIDER, kind=kind.key), 3, 0), ())

    def test_a_pointer_without_a_pin_and_two_for_one_are_faults(self) -> None:
        beyond = faults(replace(SLIDER, pointers=(0, 3)))
        self.assertEqual([fault.field for fault in beyond], ["pointers"])
        self.assertIn("a pointer for pin 4, and this sight has 3 pins", beyond[0].message)
        self.assertIn("name each pin once", faults(replace(SLIDER, pointers=(1, 1)))[0].message)
        self.assertEqual(faults(replace(SLIDER, pointers=(2, 0))), ())
        self.assertEqual([f.field for f in sight_faults(replace(SLIDER, pointers=(5,)))], ["pointers"])
