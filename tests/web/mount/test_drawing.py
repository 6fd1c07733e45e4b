"""The planner's side view."""

import unittest
from dataclasses import replace

from cross_staff.core.mount.planner import Place, plan
from cross_staff.web.forms.units import Units
from cross_staff.web.mount.drawing import HEIGHT, WIDTH, side_view
from tests.core.mount.test_planner import card
from tests.rigs import RIG_A

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class Drawings(unittest.TestCase):
    def test_the_side_view_is_to_scale_and_inside_its_frame(self) -> None:
        rig = card()
        found = side_view(rig, plan(rig, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertAlmostEqual(found.home.x - found.peep[0], 820.0 * found.scale, delta=0.2)
        self.assertAlmostEqual(found.base - found.peep[1], 104.0 * found.scale, delta=0.2)
        self.assertAlmostEqual(found.home.bottom - found.home.top, 52.0 * found.scale, delta=0.3)
        self.assertGreater(found.far.pin, found.home.pin)
        for x in (found.nock, found.eye[0], found.home.x, found.end, *(x for x, _ in found.detents)):
            self.assertTrue(0.0 <= x <= WIDTH)
        self.assertTrue(0.0 <= found.home.top < found.far.bottom <= HEIGHT)
        self.assertEqual([here for _, here in found.detents], [False, True, False])
        fixed = card(sight=replace(rig.sight, kind="fixed_pins"))
        still = side_view(fixed, plan(fixed, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertIsNone(still.far)
        self.assertEqual(still.far_pin, found.far.pin)
        self.assertRegex(found.clear_words, r"^\d+ mm over the vanes$")


if __name__ == "__main__":
    unittest.main()
