"""The planner's side view."""

import unittest
from dataclasses import replace

from cross_staff.core.rig.reach import Place
from cross_staff.web.forms.units import Units
from cross_staff.web.mount.drawing import HEIGHT, WIDTH, side_view
from tests.core.mount.test_planner import card, plan
from tests.rigs import RIG_A

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class Drawings(unittest.TestCase):
    def test_the_side_view_is_to_scale_and_inside_its_frame(self) -> None:
        rig = card()
        view = side_view(rig, plan(rig, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertAlmostEqual(view.home.x - view.peep[0], 820.0 * view.scale, delta=0.2)
        self.assertAlmostEqual(view.base - view.peep[1], 104.0 * view.scale, delta=0.2)
        self.assertAlmostEqual(view.home.bottom - view.home.top, 52.0 * view.scale, delta=0.3)
        self.assertGreater(view.far.pin, view.home.pin)
        for x in (view.nock, view.eye[0], view.home.x, view.end, *(x for x, _ in view.detents)):
            self.assertTrue(0.0 <= x <= WIDTH)
        self.assertTrue(0.0 <= view.home.top < view.far.bottom <= HEIGHT)
        self.assertEqual([here for _, here in view.detents], [False, True, False])
        fixed = card(sight=replace(rig.sight, kind="fixed_pins"))
        still = side_view(fixed, plan(fixed, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertIsNone(still.far)
        self.assertEqual(still.far_pin, view.far.pin)
        self.assertRegex(view.clear_words, r"^\d+ mm over the vanes$")


if __name__ == "__main__":
    unittest.main()
