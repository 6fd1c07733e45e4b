"""A day has an offset of its own: what the fit makes of sessions."""

from __future__ import annotations

import unittest
from dataclasses import replace

from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.forecast import PlannedGroup, after, next_shot
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import shift_of, solve
from tests.core.tape.test_fit import MARKS, PRIORS

GROUPS = (
    Observation(35, 8.9, 0.15, 0.021, 0.012, "group", session="a"),
    Observation(55, 22.2, 0.15, 0.060, 0.020, "group", session="a"),
    Observation(55, 21.4, 0.15, -0.050, 0.020, "group", session="b"),
)
AT = (18.0, 30.0, 50.0, 70.0, 90.0, 110.0)


def fit_of(day_spread_mrad: float, groups: tuple[Observation, ...] = GROUPS) -> Fit:
    return solve(PRIORS, 18.0, [*MARKS, *groups], day_spread_mrad=day_spread_mrad)


class Days(unittest.TestCase):
    def test_reference_values(self) -> None:
        fit = fit_of(0.5)
        marks = (-0.0039, 5.9602, 18.1930, 31.5959, 45.8068, 60.7727)
        sds = (0.1304, 0.1108, 0.1254, 0.2353, 0.4592, 0.7973)
        for row, mark, sd in zip(fit.tape(AT), marks, sds):
            self.assertAlmostEqual(row.mark_mm or 0.0, mark, delta=0.002)
            self.assertAlmostEqual(row.sd_mm or 0.0, sd, delta=0.0005)
        for session, value, sd in (("a", 0.277, 0.268), ("b", -0.502, 0.333)):
            offset = fit.session_offset(session)
            self.assertAlmostEqual(offset.value, value, delta=0.003)
            self.assertAlmostEqual(offset.sd or 0.0, sd, delta=0.002)
        alike = fit_of(0.0).tape([90.0])[0]
        self.assertAlmostEqual(alike.mark_mm or 0.0, 45.8845, delta=0.001)
        self.assertAlmostEqual(alike.sd_mm or 0.0, 0.4484, delta=0.0005)

    def test_a_day_is_one_unknown_of_its_arrows(self) -> None:
        """The same as observations whose errors go together: generalised least squares says the same."""
        fit, plain = fit_of(0.5), fit_of(0.0)
        self.assertEqual(fit.days, ("a", "b"))
        self.assertEqual(plain.days, ())
        self.assertEqual(len(fit.estimate), len(plain.estimate) + 2)
        self.assertEqual(fit.degrees_of_freedom, plain.degrees_of_freedom)
        tiny = fit_of(1e-6)
        for a, b in zip(tiny.tape(AT), plain.tape(AT)):
            self.assertAlmostEqual(a.mark_mm or 0.0, b.mark_mm or 0.0, places=6)
        lone = tuple(replace(g, session=str(n)) for n, g in enumerate(GROUPS))
        wider = tuple(
            replace(g, up_se_m=(g.up_se_m**2 + (0.5e-3 * g.distance_m) ** 2) ** 0.5, session=None) for g in GROUPS
        )
        for a, b in zip(fit_of(0.5, lone).tape(AT), fit_of(0.5, wider).tape(AT)):
            self.assertAlmostEqual(a.mark_mm or 0.0, b.mark_mm or 0.0, delta=0.01)
            self.assertAlmostEqual(a.sd_mm or 0.0, b.sd_mm or 0.0, delta=0.003)

    def test_another_day_tells_what_more_arrows_do_not(self) -> None:
        fit = fit_of(0.5)
        many, again = PlannedGroup(600, 1.0), PlannedGroup(600, 1.0, day_spread_mrad=0.5)
        best, with_day = (next_shot(fit, [50.0, 70.0, 90.0], 110.0, shot) for shot in (many, again))
        assert best and with_day
        self.assertLess(best.sd_at_farthest_m_then, with_day.sd_at_farthest_m_then)
        self.assertAlmostEqual(
            with_day.sd_at_farthest_m_then,
            after(fit, with_day.distance_m, again).tape([110.0])[0].sd_on_target_m or 0.0,
            places=9,
        )

    def test_a_shift_of_a_whole_session_is_that_of_a_day(self) -> None:
        """What all arrows of one session are off together is less of a surprise where days differ."""
        high = tuple(replace(g, up_m=g.up_m + 0.001 * g.distance_m) for g in GROUPS[:2])
        surprise = {}
        for day in (0.0, 0.5):
            shift = shift_of(fit_of(day, (*high, GROUPS[2])), [len(MARKS), len(MARKS) + 1])
            assert shift
            surprise[day] = abs(shift[0]) / shift[1]
        self.assertLess(surprise[0.5], 0.7 * surprise[0.0])
