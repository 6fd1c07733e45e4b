import unittest

from cross_staff.core.ballistics.air import air_density, drag_per_m, saturation_pressure, standard_pressure


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

    def test_saturated_vapour_alone(self) -> None:
        """Buck at freezing; vapour alone weighs p / (461.495 T); the standard air at 1000 m has 89874.6 Pa."""
        self.assertAlmostEqual(saturation_pressure(0.0), 611.21)
        vapour = saturation_pressure(20.0)
        self.assertAlmostEqual(vapour, 2339.3, delta=4.0)  # steam tables; his form is good to 0.2 %
        self.assertAlmostEqual(air_density(20.0, vapour, 1.0), vapour / (461.495 * 293.15), places=9)
        self.assertAlmostEqual(air_density(20.0, 1e5, 0.0), 1e5 / (287.053 * 293.15), places=9)
        self.assertAlmostEqual(standard_pressure(0.0), 101325.0)
        self.assertAlmostEqual(standard_pressure(1000.0), 89874.6, delta=1.0)
