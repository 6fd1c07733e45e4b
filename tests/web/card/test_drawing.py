"""The card's drawings."""

import unittest

from cross_staff.core.rig.card import PeepEntry
from cross_staff.core.rig.chronograph import ChronographSession, summary
from cross_staff.web.card.drawing import arrow_drawing, peep_drawing, speed_strip
from cross_staff.web.forms.units import Units
from tests.rigs import full_card

UNITS = Units(speed="mps")


class CardDrawn(unittest.TestCase):
    def test_the_balance_lies_forward_of_the_middle(self) -> None:
        build = full_card().build
        middle = arrow_drawing(build, build.balance())
        self.assertGreater(middle.balance, middle.middle)
        self.assertIsNone(arrow_drawing(build, None))

    def test_the_odd_reading_is_marked(self) -> None:
        session = ChronographSession((82.1, 82.3, 79.6, 82.2, 82.0))
        marked = speed_strip(session, summary(session), UNITS)
        self.assertEqual([r.index for r in marked.readings if r.odd], [2])
        self.assertLess(marked.readings[2].x, marked.low)
        self.assertIsNone(speed_strip(ChronographSession(()), None, UNITS))

    def test_the_triangle_has_its_angle(self) -> None:
        import math

        angle = peep_drawing(PeepEntry("along", along_m=0.164, angle_rad=math.radians(38.0)), UNITS)
        dx, dy = angle.peep[0] - angle.nock[0], angle.nock[1] - angle.peep[1]
        self.assertAlmostEqual(math.degrees(math.atan2(dy, dx)), 38.0, delta=0.1)
        self.assertEqual((angle.along, angle.square), ("164\u00a0mm", "101\u00a0mm"))
        self.assertFalse(peep_drawing(PeepEntry(), UNITS).measured)


if __name__ == "__main__":
    unittest.main()
