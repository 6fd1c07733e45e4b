import math
import unittest

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig import peep
from cross_staff.core.rig.card import PeepEntry


class PeepHeights(unittest.TestCase):
    def test_150_mm_along_the_string_is_only_about_95_mm_high(self) -> None:
        from_along_string = peep.from_along_string(0.150, math.radians(39.0))
        self.assertAlmostEqual(from_along_string.height_m, 0.0944, delta=5e-5)
        self.assertAlmostEqual(from_along_string.ahead_of_nock_m, 0.1166, delta=5e-5)

    def test_the_sd_follows_length_and_angle(self) -> None:
        from_along_string = peep.from_along_string(0.150, math.radians(39.0), 0.0, 0.003)
        self.assertAlmostEqual(from_along_string.sd_m, 0.003 * math.sin(math.radians(39.0)))
        low, high = (peep.from_along_string(0.150, math.radians(39.0 + s)).height_m for s in (-1.5, 1.5))
        wide = peep.from_along_string(0.150, math.radians(39.0), math.radians(1.5), 0.0)
        self.assertAlmostEqual(wide.sd_m, (high - low) / 2.0, delta=1e-6)

    def test_usual_bows_have_usual_angles(self) -> None:
        for axles, draw in ((0.81, 0.69), (0.86, 0.70), (0.97, 0.76)):
            self.assertTrue(peep.USUAL_ANGLE_RAD[0] < peep.string_angle(axles, draw) < peep.USUAL_ANGLE_RAD[1])

    def test_a_length_along_the_string_does_not_pass_for_a_height(self) -> None:
        self.assertTrue(peep.looks_along_string(0.150))
        self.assertFalse(peep.looks_along_string(0.104))

    def test_impossible_geometry(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "between 0 and 90"):
            peep.from_along_string(0.15, math.radians(95.0))
        with self.assertRaisesRegex(InvalidValue, "axle_to_axle_m"):
            peep.string_angle(0.1, 0.7)
        with self.assertRaisesRegex(InvalidValue, "true_draw_m"):
            peep.string_angle(0.8, 0.1)

    def test_every_way_of_measuring(self) -> None:
        self.assertEqual(PeepEntry("square", 0.1).height().sd_m, peep.SQUARE_SD_M)
        self.assertGreater(PeepEntry("eye", 0.1).height().sd_m, peep.SQUARE_SD_M)
        typed = PeepEntry("along", along_m=0.15, angle_rad=math.radians(39.0)).height()
        guessed = PeepEntry("estimated", along_m=0.15, axle_to_axle_m=0.86, true_draw_m=0.70).height()
        self.assertGreater(guessed.sd_m, typed.sd_m)
        self.assertIsNone(PeepEntry("along", along_m=0.15).height())
        self.assertIsNone(PeepEntry().height())

    def test_usual_angles_and_the_steepest(self) -> None:
        self.assertEqual([round(math.degrees(a), 6) for a in peep.USUAL_ANGLE_RAD], [35.0, 42.0])
        self.assertAlmostEqual(peep.from_along_string(0.1, math.radians(89.0)).height_m, 0.1, delta=2e-5)

    def test_similar_triangles(self) -> None:
        self.assertAlmostEqual(peep.peep_shift(0.030, 0.07, 0.83), 0.030 * 0.07 / 0.90)
        self.assertAlmostEqual(peep.aperture_that_rings(0.045, 0.07, 0.83), 0.0035)
