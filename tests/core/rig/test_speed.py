import math
import unittest
from dataclasses import replace

from cross_staff.core.ballistics.arrow import PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.speed import at_sight, measured, predicted, virtual_mass

MASSES = (0.0250, 0.0290, 0.0272)


def build(mass_kg: float, *sessions: ChronographSession) -> ArrowBuild:
    return ArrowBuild(shaft_diameter_m=0.006, measured_mass_kg=mass_kg, sessions=sessions)


def session(speed: float, spread: float = 0.2, **changes: object) -> ChronographSession:
    return ChronographSession((speed - spread, speed, speed + spread), distance_m=0.0, **changes)  # type: ignore[arg-type]


class Measured(unittest.TestCase):
    def test_one_session_is_brought_back_to_the_sight(self) -> None:
        one = build(0.0272, ChronographSession((80.0, 80.4), distance_m=1.5, accuracy=0.004))
        back = math.exp(one.drag_per_m() * 1.5)
        sight = measured([one], 0)
        self.assertAlmostEqual(sight.speed_mps, 80.2 * back)
        self.assertAlmostEqual(sight.sd_mps, math.hypot(0.004 * 80.2, 0.2) * back)

    def test_a_single_reading_has_the_instrument_for_its_spread(self) -> None:
        spread = measured([build(0.0272, ChronographSession((80.0,), distance_m=0.0, accuracy=0.005))], 0)
        self.assertAlmostEqual(spread.sd_mps, math.sqrt(2.0) * 0.4)

    def test_sessions_are_pooled_but_the_instrument_is_not(self) -> None:
        alike = measured([build(0.027, session(80.0), session(80.1))], 0)
        self.assertAlmostEqual(alike.speed_mps, 80.05)
        self.assertGreater(alike.sd_mps, 0.4)
        apart = measured([build(0.027, session(80.0), session(83.0))], 0)
        self.assertGreater(apart.sd_mps, 1.4)

    def test_nothing_kept_is_nothing_known(self) -> None:
        self.assertIsNone(measured([build(0.027)], 0))
        self.assertIsNone(at_sight([build(0.027, ChronographSession((80.0,), frozenset({0})))], 0))

    def test_another_draw_weight_rescales_and_widens(self) -> None:
        then = session(80.0, draw_weight_n=250.0)
        widens = measured([build(0.027, then)], 0, 275.0)
        self.assertAlmostEqual(widens.speed_mps, 80.0 * math.sqrt(1.1))
        self.assertGreater(widens.sd_mps, measured([build(0.027, then)], 0, 250.0).sd_mps)


class Predicted(unittest.TestCase):
    def test_one_arrow_leaves_the_virtual_mass_to_its_prior(self) -> None:
        builds = [build(MASSES[0], session(84.0, 1e-6, accuracy=1e-6)), build(MASSES[1])]
        prior = predicted(builds, 1)

        def rescaled(virtual: float) -> float:
            return 84.0 * math.sqrt((MASSES[0] + virtual) / (MASSES[1] + virtual))

        low, high = (rescaled(PRIOR_VIRTUAL_MASS_KG * math.exp(s)) for s in (-0.01, 0.01))
        self.assertAlmostEqual(prior.speed_mps, rescaled(PRIOR_VIRTUAL_MASS_KG), places=3)
        self.assertAlmostEqual(prior.sd_mps, (high - low) / 0.02 * PRIOR_VIRTUAL_MASS_SD_LN, delta=0.02)

    def test_two_arrows_measure_it(self) -> None:
        def speed(mass: float, virtual: float = 0.0055) -> float:
            return math.sqrt(2.0 * 105.0 / (mass + virtual))

        shot = [build(m, session(speed(m), 0.02, accuracy=1e-5)) for m in MASSES[:2]]
        made = predicted([*shot, build(0.033)], 2)
        self.assertAlmostEqual(made.speed_mps, speed(0.033), delta=3.0 * made.sd_mps)
        self.assertLess(made.sd_mps, predicted([shot[0], build(0.033)], 1).sd_mps)

    def test_a_changed_arrow_is_predicted_from_what_it_was(self) -> None:
        then = session(84.0, mass_kg=0.0250)
        self.assertIsNone(measured([build(0.0266, then)], 0))
        was = at_sight([build(0.0266, then)], 0)
        self.assertLess(was.speed_mps, 83.0)
        self.assertAlmostEqual(at_sight([build(0.0250, then)], 0).speed_mps, 84.0)

    def test_without_a_mass_nothing_is_said(self) -> None:
        unknown = replace(build(0.027), measured_mass_kg=None)
        self.assertIsNone(predicted([build(0.025, session(84.0)), unknown], 1))

    def test_the_virtual_mass_is_its_prior_until_arrows_tell(self) -> None:
        self.assertEqual(virtual_mass([build(0.027)]), (PRIOR_VIRTUAL_MASS_KG, PRIOR_VIRTUAL_MASS_SD_LN))

        def speed(mass: float) -> float:
            return math.sqrt(2.0 * 105.0 / (mass + 0.0055))

        shot = [build(m, session(speed(m), 0.01, accuracy=1e-5)) for m in MASSES[:2]]
        told, sd_ln = virtual_mass(shot)
        self.assertAlmostEqual(math.log(told / 0.0055), 0.0, delta=2.0 * sd_ln)
        self.assertLess(sd_ln, 0.2 * PRIOR_VIRTUAL_MASS_SD_LN)
