"""The belief about the aim: against least squares, with movements taken out, gains and ways learned."""

import unittest

import numpy as np

from cross_staff.core.estimation.kalman import FLAT_MM, Moved, Observed, Placed, Shifted, TravelPerUnit, estimate_from

UP = {"up": FLAT_MM}


class Pooling(unittest.TestCase):
    def test_without_movements_it_is_the_weighted_mean(self) -> None:
        seen = [Observed({"up": 1.0}, v, s) for v, s in ((1.0, 0.5), (1.8, 0.25), (0.4, 1.0))]
        mean, sd = estimate_from(UP, {}, seen, {}).of({"up": 1.0})
        weight = np.array([4.0, 16.0, 1.0])
        self.assertAlmostEqual(mean, float(weight @ [1.0, 1.8, 0.4] / (weight.sum() + FLAT_MM**-2)), 9)
        self.assertAlmostEqual(sd, (weight.sum() + FLAT_MM**-2) ** -0.5, 9)

    def test_against_one_least_squares_over_offset_and_gain(self) -> None:
        """y1 = o, y2 = o - 4 g, y3 = o - 7 g, with priors on o and g, all at once."""
        travel_per_unit = TravelPerUnit(0.5, 0.2)
        happened = [
            Observed({"up": 1.0}, 3.1, 0.4), Moved(("up",), "micro", 4.0, 0.0), Observed({"up": 1.0}, 1.3, 0.3),
            Moved(("up",), "micro", 3.0, 0.0), Observed({"up": 1.0}, -0.2, 0.3),
        ]  # fmt: skip
        estimate = estimate_from(UP, {"micro": travel_per_unit}, happened, {})
        rows = np.array([[1, 0], [1, -4], [1, -7], [1, 0], [0, 1]], float)
        sds = np.array([0.4, 0.3, 0.3, FLAT_MM, 0.2])
        values = np.array([3.1, 1.3, -0.2, 0.0, 0.5])
        (offset, size), *_ = np.linalg.lstsq(rows / sds[:, None], values / sds, rcond=None)
        self.assertAlmostEqual(estimate.of({"up": 1.0})[0], offset - 7.0 * size, 6)
        self.assertAlmostEqual(estimate.travel_per_unit("micro")[0], size, 6)
        covariance = np.linalg.inv((rows / sds[:, None]).T @ (rows / sds[:, None]))
        now = np.array([1.0, -7.0])
        self.assertAlmostEqual(estimate.of({"up": 1.0})[1], float(np.sqrt(now @ covariance @ now)), 6)

    def test_a_movement_blurs_by_what_hands_cannot_help(self) -> None:
        seen = Observed({"up": 1.0}, 2.0, 0.1)
        still = estimate_from(UP, {"screw": TravelPerUnit(1.0, 0.0)}, [seen], {}).of({"up": 1.0})[1]
        moved = estimate_from(UP, {"screw": TravelPerUnit(1.0, 0.0)}, [seen, Moved(("up",), "screw", 2.0, 0.3)], {}).of(
            {"up": 1.0}
        )
        self.assertAlmostEqual(moved[1], np.hypot(still, 0.3), 9)
        self.assertAlmostEqual(moved[0], 0.0, 3)

    def test_the_whole_housing_takes_every_pin_along(self) -> None:
        states = {"pin0": FLAT_MM, "pin1": FLAT_MM}
        happened = [Observed({"pin0": 1.0}, 3.0, 0.1), Observed({"pin1": 1.0}, 5.0, 0.1),
                    Moved(("pin0", "pin1"), "gang", 3.0, 0.0)]  # fmt: skip
        estimate = estimate_from(states, {"gang": TravelPerUnit(1.0, 0.01)}, happened, {})
        self.assertAlmostEqual(estimate.of({"pin0": 1.0})[0], 0.0, 3)
        self.assertAlmostEqual(estimate.of({"pin1": 1.0})[0], 2.0, 3)

    def test_a_pin_set_by_rule_is_as_far_off_as_the_one_it_was_set_from(self) -> None:
        states = {"pin0": FLAT_MM, "pin1": FLAT_MM}
        happened = [Observed({"pin0": 1.0}, 0.8, 0.2), Placed("pin1", 0.5, "pin0")]
        mean, sd = estimate_from(states, {}, happened, {}).of({"pin1": 1.0})
        self.assertAlmostEqual(mean, 0.8, 3)
        self.assertAlmostEqual(sd, np.hypot(0.2, 0.5), 3)

    def test_what_was_shifted_together_keeps_how_far_it_lies_apart(self) -> None:
        states = {"pin0": FLAT_MM, "pin1": FLAT_MM, "spread": 12.0}
        before = [
            Observed({"pin0": 1.0}, 0.8, 0.2),
            Observed({"pin1": 1.0}, -0.5, 0.2),
            Observed({"spread": 1.0}, 2.0, 0.1),
        ]
        shifted = [*before, Shifted(("pin0", "pin1"), FLAT_MM)]
        lost = estimate_from(states, {}, shifted, {})
        self.assertGreater(lost.of({"pin1": 1.0})[1], 0.9 * FLAT_MM)
        self.assertEqual(lost.of({"spread": 1.0})[1], estimate_from(states, {}, before, {}).of({"spread": 1.0})[1])
        mean, sd = estimate_from(states, {}, [*shifted, Observed({"pin0": 1.0}, 4.8, 0.2)], {}).of({"pin1": 1.0})
        self.assertAlmostEqual(mean, 3.5, delta=0.05)
        self.assertAlmostEqual(sd, 0.2 * 3**0.5, delta=0.02)


class Controls(unittest.TestCase):
    def test_a_click_value_is_learned(self) -> None:
        true, happened, offset = 0.083, [Observed({"up": 1.0}, 6.0, 0.05)], 6.0
        for clicks in (30, 20, 15):
            offset -= true * clicks
            happened += [Moved(("up",), "micro", clicks, 0.02), Observed({"up": 1.0}, offset, 0.05)]
        size, sd = estimate_from(UP, {"micro": TravelPerUnit(0.05, 0.035)}, happened, {}).travel_per_unit("micro")
        self.assertAlmostEqual(size, true, 3)
        self.assertLess(sd, 0.003)

    def test_a_knob_that_goes_against_its_card_is_noticed(self) -> None:
        happened = [Observed({"up": 1.0}, 3.0, 0.2), Moved(("up",), "knob", 3.0, 0.05), Observed({"up": 1.0}, 6.1, 0.2)]
        estimate = estimate_from(UP, {"knob": TravelPerUnit(1.0, 0.05, checked=False)}, happened, {})
        self.assertEqual(estimate.ways, {"knob": -1})
        self.assertLess(estimate.travel_per_unit("knob")[0], 0.0)
        self.assertAlmostEqual(estimate.of({"up": 1.0})[0], 6.0, 0)

    def test_a_checked_one_is_never_turned_round(self) -> None:
        happened = [Observed({"up": 1.0}, 3.0, 0.2), Moved(("up",), "knob", 3.0, 0.05), Observed({"up": 1.0}, 6.1, 0.2)]
        estimate = estimate_from(UP, {"knob": TravelPerUnit(1.0, 0.05)}, happened, {})
        self.assertGreater(estimate.travel_per_unit("knob")[0], 0.0)

    def test_before_it_can_be_told_both_ways_widen_the_belief(self) -> None:
        happened = [Observed({"up": 1.0}, 0.5, 0.3), Moved(("up",), "knob", 0.5, 0.0)]
        sure = estimate_from(UP, {"knob": TravelPerUnit(1.0, 0.01)}, happened, {}).of({"up": 1.0})
        unsure = estimate_from(UP, {"knob": TravelPerUnit(1.0, 0.01, checked=False)}, happened, {}).of({"up": 1.0})
        self.assertGreater(unsure[1], 1.2 * sure[1])
        self.assertGreater(unsure[0], sure[0])  # one time in ten it went the other way
