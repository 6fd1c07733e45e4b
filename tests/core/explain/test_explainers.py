"""The explanations say what the core says, and keep to what their sliders can."""

from __future__ import annotations

import math
import unittest

import numpy as np

from cross_staff.core.ballistics.cant import Case, cost
from cross_staff.core.explain.chased import SEEDS, chase
from cross_staff.core.explain.explainers import EXPLAINERS, USUAL
from cross_staff.core.level.vials import sight_tilt


class Explained(unittest.TestCase):
    def picture(self, key: str, **given: float | None):  # type: ignore[no-untyped-def]
        """A picture, where the sliders were put."""
        explainer = EXPLAINERS[key]
        return explainer.picture(USUAL, explainer.values(given))

    def test_each_draws_something_at_every_end_of_its_sliders(self) -> None:
        for key, explainer in EXPLAINERS.items():
            for pick in ("least", "usual", "most"):
                with self.subTest(key, at=pick):
                    told = self.picture(key, **{s.key: getattr(s, pick) for s in explainer.sliders})
                    drawn = [*told.curves.values(), *told.points.values()]
                    self.assertTrue(drawn and all(len(each) > 5 for each in drawn))
                    self.assertTrue(np.isfinite([xy for each in drawn for p in each for xy in p]).all())

    def test_a_slider_keeps_within_its_ends_and_passes_over_nonsense(self) -> None:
        values = EXPLAINERS["cant"].values({"cant": 99.0, "distance": math.nan})
        self.assertEqual(values, {"cant": 10.0, "distance": 60.0})
        self.assertEqual(EXPLAINERS["cant"].values({})["cant"], 3.0)

    def test_bubbles_part_as_the_vials_formula_says(self) -> None:
        told = self.picture("bubbles", tilt=-40.0, third=2.0, cant=0.0)
        tilt = math.degrees(sight_tilt(0.0, math.radians(2.0), 0.0, math.radians(-40.0)))
        self.assertAlmostEqual(told.numbers["apart"], tilt)
        level = self.picture("bubbles", tilt=0.0, third=5.0, cant=1.0)
        self.assertAlmostEqual(level.numbers["apart"], 0.0, delta=0.01)

    def test_a_slope_turns_the_miss_round(self) -> None:
        up, down = (self.picture("slope", slope=s, third=2.0, second=0.0).numbers["right"] for s in (30.0, -30.0))
        self.assertGreater(up, 0.0)
        self.assertLess(down, 0.0)
        (known,) = cost(USUAL, 0.0, math.radians(2.0), [Case(60.0, math.radians(30.0))])
        assert known is not None
        self.assertAlmostEqual(up, known.right_m)

    def test_the_cosine_is_wrong_and_not_the_same_up_and_down(self) -> None:
        up, down = (self.picture("cosine", slope=s, distance=60.0).numbers for s in (30.0, -30.0))
        self.assertAlmostEqual(up["rule"], 60.0 * math.cos(math.radians(30.0)))
        self.assertGreater(abs(up["true"] - down["true"]), 0.5)
        flat = self.picture("cosine", slope=0.0, distance=60.0).numbers
        self.assertAlmostEqual(flat["true"], 60.0, places=2)

    def test_out_is_a_longer_tape_and_more_torque_in_less_of_both(self) -> None:
        out, inward = (self.picture("extension", out=mm, torque=0.5).numbers for mm in (60.0, -60.0))
        self.assertGreater(out["tape_out"], out["tape_now"])
        self.assertGreater(out["torque_out"], out["torque_now"])
        self.assertLess(inward["tape_out"], inward["tape_now"])
        self.assertLess(inward["torque_out"], inward["torque_now"])

    def test_square_is_along_times_the_sine(self) -> None:
        told = self.picture("peep", along=150.0, angle=38.0).numbers
        self.assertAlmostEqual(told["square"], 0.150 * math.sin(math.radians(38.0)))

    def test_days_help_where_a_day_does_something(self) -> None:
        some, none = (self.picture("days", day=mrad).numbers for mrad in (0.5, 0.0))
        self.assertLess(some["more"], some["one"])
        self.assertAlmostEqual(none["more"], none["one"])


class Chased(unittest.TestCase):
    def test_pooling_beats_chasing_by_the_root_of_the_groups(self) -> None:
        told = chase(1.5, 3, 9, 0.0, 18.0)
        self.assertEqual((len(told.chased_m), len(told.pooled_m)), (SEEDS, SEEDS))
        self.assertAlmostEqual(told.chased_off_m / told.pooled_off_m, 3.0, delta=0.45)

    def test_more_groups_do_not_help_who_chases(self) -> None:
        few, many = (chase(1.5, 3, groups, 0.0, 18.0).chased_off_m for groups in (2, 20))
        self.assertAlmostEqual(few / many, 1.0, delta=0.35)  # pooled it would be 3.2

    def test_wild_arrows_hurt_both(self) -> None:
        calm, wild = chase(1.5, 3, 6, 0.0, 18.0), chase(1.5, 3, 6, 20.0, 18.0)
        self.assertGreater(wild.chased_off_m, calm.chased_off_m)
        self.assertGreater(wild.pooled_off_m, calm.pooled_off_m)


if __name__ == "__main__":
    unittest.main()
