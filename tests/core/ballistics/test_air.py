import unittest

from cross_staff.core.ballistics.air import air_density, drag_per_m


class Air(unittest.TestCase):
    def test_reference_densities(self) -> None:
        self.assertAlmostEqual(air_density(15.0, 101325.0, 0.5), 1.22110, delta=2e-5)
        self.assertAlmostEqual(air_density(30.0, 84500.0, 0.2), 0.96735, delta=2e-5)

    def test_reference_drag(self) -> None:
        density = air_density(15.0, 101325.0, 0.5)
        self.assertAlmostEqual(drag_per_m(2.0, 0.0062, 0.0272, density), 0.00135537, delta=2e-8)

    def test_moist_air_is_lighter(self) -> None:
        self.assertLess(air_density(25.0, 1e5, 1.0), air_density(25.0, 1e5, 0.0))

    def test_drag_goes_with_the_section_and_against_the_mass(self) -> None:
        one = drag_per_m(2.0, 0.005, 0.025, 1.2)
        self.assertAlmostEqual(drag_per_m(2.0, 0.010, 0.025, 1.2), 4.0 * one)
        self.assertAlmostEqual(drag_per_m(2.0, 0.005, 0.050, 1.2), one / 2.0)
