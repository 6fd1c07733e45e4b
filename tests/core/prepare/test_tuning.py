import unittest

import numpy as np

from cross_staff.core.prepare.tuning import GRIP, KINDS, STEPS, TuneReading, advise, size_m, walk_back

_AXES = {"right": 0, "up": 1}


def follow(
    kind: str, start: tuple[float, float], sideways_sign: int, handed: str = "right", gain: float = 0.004
) -> int:
    """Follow the advice on a bow whose sideways answer is hidden; the number of steps until good."""
    point, readings, after = start, [], ""
    upright = {"nock_down": -1, "nock_up": 1} if kind == "paper_tear" else {"nock_down": 1, "nock_up": -1}
    for count in range(30):
        readings.append(TuneReading(point, after))
        advice = advise(kind, readings, handed, 20.0)
        if advice.good:
            return count
        after = advice.step
        right, up = point
        if after in upright:
            up += gain * upright[after]
        elif after != GRIP:
            right += gain * sideways_sign * (1 if after == "rest_right" else -1)
        point = (right, up)
    return 99


class OneStepAtATime(unittest.TestCase):
    def test_whatever_the_hidden_direction_it_gets_there(self) -> None:
        for kind in KINDS:
            scale = 1.0 if kind == "paper_tear" else 4.0
            for right in (-0.024, 0.0, 0.024):
                for up in (-0.020, 0.0, 0.020):
                    for sign in (-1, 1):
                        for handed in ("right", "left"):
                            start = (scale * right, scale * up)
                            steps = follow(kind, start, sign, handed, 0.004 * scale)
                            self.assertLessEqual(steps, 16, (kind, start, sign, handed))

    def test_grip_first(self) -> None:
        advice = advise("paper_tear", [TuneReading((0.02, 0.0))])
        self.assertEqual((advice.step, advice.why), (GRIP, "first_grip"))

    def test_it_goes_by_the_newest_reading(self) -> None:
        """Torn right at first, left now: the step is the other one."""
        readings = [TuneReading((0.02, 0.0)), TuneReading((-0.02, 0.0), GRIP)]
        other = [TuneReading((-0.02, 0.0)), TuneReading((0.02, 0.0), GRIP)]
        steps = [advise("paper_tear", each).step for each in (readings, other)]
        self.assertEqual(steps, ["rest_left", "rest_right"])

    def test_a_nock_that_tears_high_wants_a_lower_nocking_point(self) -> None:
        for kind, up, step in (
            ("paper_tear", 0.02, "nock_down"),
            ("paper_tear", -0.02, "nock_up"),
            ("bare_shaft", -0.2, "nock_down"),
            ("bare_shaft", 0.2, "nock_up"),
        ):
            advice = advise(kind, [TuneReading((0.0, up)), TuneReading((0.0, up), GRIP)], distance_m=20.0)
            self.assertEqual((advice.step, advice.why), (step, "vertical"))

    def test_the_first_sideways_step_is_a_trial_and_mirrors_with_the_hand(self) -> None:
        readings = [TuneReading((0.02, 0.0)), TuneReading((0.02, 0.0), GRIP)]
        right, left = (advise("paper_tear", readings, hand) for hand in ("right", "left"))
        self.assertEqual((right.why, left.why), ("trial", "trial"))
        self.assertEqual(STEPS[right.step].back, left.step)

    def test_a_direction_that_shrank_the_tear_is_kept_and_one_that_grew_it_turned_round(self) -> None:
        before = [TuneReading((0.02, 0.0)), TuneReading((0.02, 0.0), GRIP)]
        shrank = advise("paper_tear", [*before, TuneReading((0.014, 0.0), "rest_left")])
        self.assertEqual((shrank.step, shrank.why), ("rest_left", "keep"))
        self.assertAlmostEqual(shrank.about_steps, 0.014 / 0.006)
        grew = advise("paper_tear", [*before, TuneReading((0.026, 0.0), "rest_left")])
        self.assertEqual((grew.step, grew.why), ("rest_right", "reverse"))

    def test_what_did_not_help_is_not_advised_again(self) -> None:
        before = [TuneReading((0.02, 0.0)), TuneReading((0.02, 0.0), GRIP)]
        nothing = [*before, TuneReading((0.0201, 0.0), "rest_right")]
        self.assertEqual((advise("paper_tear", nothing).step, advise("paper_tear", nothing).why), ("", "exhausted"))
        yokes = advise("paper_tear", nothing, cams_by="both")
        self.assertEqual((yokes.step, yokes.why), ("yoke_right", "other"))
        worse = [*nothing, TuneReading((0.025, 0.0), "yoke_right"), TuneReading((0.028, 0.0), "yoke_left")]
        self.assertEqual(advise("paper_tear", worse, cams_by="both").step, "cam_right")
        self.assertEqual(advise("paper_tear", worse, cams_by="yokes").why, "exhausted")
        high = [TuneReading((0.0, 0.02)), TuneReading((0.0, 0.02), GRIP), TuneReading((0.0, 0.02), "nock_down")]
        self.assertEqual(advise("paper_tear", high, cams_by="cables").step, "cable_in")

    def test_no_order_is_repeated_for_ever_whatever_the_bow_does(self) -> None:
        """Bows on which each pair of steps does something of its own, or nothing: each is settled, or given up."""
        random = np.random.default_rng(20)
        for _ in range(200):
            worth = {key: random.choice([0.0, -1.0, 1.0]) * random.uniform(0.001, 0.006) for key in STEPS}
            point = random.uniform(-0.03, 0.03, 2)
            readings = [TuneReading(tuple(point))]
            advice = advise("paper_tear", readings, cams_by="both")
            for _ in range(60):
                if advice.good or not advice.step:
                    break
                step = STEPS[advice.step]
                if advice.step != GRIP:
                    first = min(step.key, step.back)
                    point[_AXES[step.axis]] += worth[first] if step.key == first else -worth[first]
                readings.append(TuneReading(tuple(point), advice.step))
                advice = advise("paper_tear", readings, cams_by="both")
            else:
                self.fail(f"ordered for ever: {[r.after for r in readings[-8:]]}")

    def test_a_step_that_went_through_is_taken_back(self) -> None:
        readings = [TuneReading((0.02, 0.0)), TuneReading((0.02, 0.0), GRIP), TuneReading((-0.008, 0.0), "rest_left")]
        self.assertEqual(advise("paper_tear", readings).step, "rest_right")

    def test_a_clean_hole_is_left_alone(self) -> None:
        self.assertTrue(advise("paper_tear", [TuneReading((0.003, -0.003))]).good)
        self.assertTrue(advise("bare_shaft", [TuneReading((0.03, 0.02))], distance_m=20.0).good)
        self.assertAlmostEqual(size_m((0.003, 0.004)), 0.005)

    def test_every_step_can_be_taken_back(self) -> None:
        for step in STEPS.values():
            self.assertEqual(STEPS[step.back].back, step.key)


class WalkBack(unittest.TestCase):
    distances = np.array([10.0, 15.0, 20.0, 25.0, 30.0])

    def shape(self, right: np.ndarray) -> str | None:
        return walk_back(list(zip(self.distances, right)), 1.0).shape

    def test_the_three_shapes(self) -> None:
        x = self.distances - self.distances.mean()
        self.assertEqual(self.shape(0.012 + 0.0 * x), "plumb")
        self.assertEqual(self.shape(0.012 * x), "slant")
        self.assertEqual(self.shape(0.0025 * x**2), "curve")

    def test_scatter_alone_is_plumb_nineteen_times_in_twenty(self) -> None:
        generator = np.random.default_rng(7)
        shapes = [self.shape(generator.normal(0.0, 1e-3 * self.distances)) for _ in range(400)]
        self.assertGreater(shapes.count("plumb"), 340)

    def test_the_lean_and_its_chance(self) -> None:
        walk = walk_back([(d, 0.01 * d) for d in self.distances])
        self.assertAlmostEqual(np.tan(walk.slant_rad), 0.01)
        self.assertLess(walk.slant_p, 1e-6)
        self.assertEqual(len(walk.fitted_m), 5)

    def test_two_distances_are_not_enough(self) -> None:
        self.assertIsNone(walk_back([(10.0, 0.0), (30.0, 0.1), (30.0, 0.1)]).shape)
