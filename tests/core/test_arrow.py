import math
import unittest

from cross_staff.core import arrow
from cross_staff.core.arrow import Component, balance, speed_at_mass, virtual_mass
from cross_staff.core.errors import InvalidValue


class Builds(unittest.TestCase):
    def test_a_bare_shaft_balances_in_its_middle(self) -> None:
        found = balance(0.7, 0.016, [])
        self.assertAlmostEqual(found.mass_kg, 0.0112)
        self.assertAlmostEqual(found.balance_from_throat_m, 0.35)
        self.assertAlmostEqual(found.foc_percent, 0.0)

    def test_a_point_brings_the_balance_forward(self) -> None:
        found = balance(0.7, 0.016, [Component("Point", 0.0112, 0.7)])
        self.assertAlmostEqual(found.mass_kg, 0.0224)
        self.assertAlmostEqual(found.balance_from_throat_m, 0.525)
        self.assertAlmostEqual(found.foc_percent, 25.0)

    def test_what_cannot_be_a_build(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "shaft_length_m"):
            balance(0.0, 0.016, [])
        with self.assertRaisesRegex(InvalidValue, "more than nothing"):
            balance(0.7, 0.0, [])

    def test_the_first_guess_of_drag(self) -> None:
        self.assertAlmostEqual(arrow.prior_drag(0.0062, 0.0272), 0.00135537, delta=2e-8)


class Speeds(unittest.TestCase):
    def test_two_arrows_give_the_virtual_mass_that_made_them(self) -> None:
        energy, virtual = 95.0, 0.009
        light, heavy = (math.sqrt(2.0 * energy / (m + virtual)) for m in (0.022, 0.030))
        self.assertAlmostEqual(virtual_mass(0.022, light, 0.030, heavy), virtual, places=9)
        self.assertAlmostEqual(speed_at_mass(light, 0.022, 0.030, virtual).speed_mps, heavy, places=9)

    def test_the_same_mass_keeps_its_speed_and_is_sure(self) -> None:
        found = speed_at_mass(80.0, 0.025, 0.025)
        self.assertEqual((found.speed_mps, found.sd_mps), (80.0, 0.0))

    def test_the_sd_is_what_the_prior_makes_of_it(self) -> None:
        low, high = (speed_at_mass(80.0, 0.022, 0.030, 0.008 * math.exp(s)).speed_mps for s in (-0.01, 0.01))
        found = speed_at_mass(80.0, 0.022, 0.030)
        self.assertAlmostEqual(found.sd_mps, abs(high - low) / 0.02 * 0.35, delta=1e-3)

    def test_arrows_that_cannot_tell(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "must differ"):
            virtual_mass(0.022, 80.0, 0.022, 80.0)
        with self.assertRaisesRegex(InvalidValue, "heavier arrow must be the slower"):
            virtual_mass(0.022, 80.0, 0.030, 90.0)
