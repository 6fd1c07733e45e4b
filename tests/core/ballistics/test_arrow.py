import unittest

from cross_staff.core.ballistics import arrow
from cross_staff.core.ballistics.arrow import Component, balance
from cross_staff.core.errors import InvalidValue


class Builds(unittest.TestCase):
    def test_a_bare_shaft_balances_in_its_middle(self) -> None:
        middle = balance(0.7, 0.016, [])
        self.assertAlmostEqual(middle.mass_kg, 0.0112)
        self.assertAlmostEqual(middle.balance_from_throat_m, 0.35)
        self.assertAlmostEqual(middle.foc_percent, 0.0)

    def test_a_point_brings_the_balance_forward(self) -> None:
        forward = balance(0.7, 0.016, [Component("Point", 0.0112, 0.7)])
        self.assertAlmostEqual(forward.mass_kg, 0.0224)
        self.assertAlmostEqual(forward.balance_from_throat_m, 0.525)
        self.assertAlmostEqual(forward.foc_percent, 25.0)

    def test_what_cannot_be_a_build(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "shaft_length_m"):
            balance(0.0, 0.016, [])
        with self.assertRaisesRegex(InvalidValue, "more than nothing"):
            balance(0.7, 0.0, [])

    def test_the_first_guess_of_drag(self) -> None:
        self.assertAlmostEqual(arrow.prior_drag(0.0062, 0.0272), 0.00135537, delta=2e-8)
