import math
import unittest

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.mount.station import JOINTS as WITNESSED
from cross_staff.core.prove.slope_shots import slope_stands
from cross_staff.core.prove.triage import JOINTS, NONE, JointChance, KnockGroup, Seen, triage, ways_of
from cross_staff.core.rig.events import CAUSES
from tests.rigs import RIG_A

SCATTER = (1.0, 0.35)


def reach(distance: float) -> float:
    return (0.82 + distance) / 0.82 * 1e-3


def told(groups: list[KnockGroup], **seen: Seen) -> tuple[JointChance, ...]:
    return triage(RIG_A, 17.0, groups, SCATTER, seen)


class Triage(unittest.TestCase):
    def chances(self, groups: list[KnockGroup], **seen: Seen) -> dict[str, float]:
        chances = {each.key: each.chance for each in told(groups, **seen)}
        self.assertAlmostEqual(sum(chances.values()), 1.0)
        return chances

    def test_a_pointer_moves_no_arrow_sideways(self) -> None:
        low = [KnockGroup(d, 4, 0.0, -2.0 * reach(d)) for d in (26.0, 61.0)]
        chances = self.chances(low)
        self.assertEqual(max(chances, key=lambda key: chances[key]), "pointer")
        self.assertLess(chances["pointer"], 0.6)  # nocking point and peep do the same
        self.assertGreater(self.chances(low, pointer=Seen.MOVED)["pointer"], 0.9)
        self.assertGreater(self.chances(low, pointer=Seen.STANDS, peep=Seen.MOVED)["peep"], 0.7)

    def test_what_grows_with_the_drop_is_lean_or_vial(self) -> None:
        chances = self.chances([KnockGroup(26.0, 6, 0.01, 0.0), KnockGroup(78.0, 6, 0.20, 0.0)])
        self.assertGreater(chances["rail"] + chances["vial"] + chances["mount"], 0.7)

    def test_both_ways_at_once_are_head_mount_or_rest(self) -> None:
        chances = self.chances([KnockGroup(d, 4, -2.0 * reach(d), -2.0 * reach(d)) for d in (26.0, 61.0)])
        self.assertGreater(chances["rest"] + chances["head"] + chances["mount"], 0.8)

    def test_nothing_moved(self) -> None:
        calm = [KnockGroup(d, 6, 0.0, 0.0) for d in (26.0, 61.0)]
        self.assertEqual(told(calm)[0].key, NONE)
        self.assertFalse(told(calm)[0].told)  # six arrows at two distances do not clear a bow
        stands = {joint.key: Seen.STANDS for joint in JOINTS}
        self.assertGreater(self.chances(calm, **stands)[NONE], 0.9)
        self.assertTrue(told(calm, **stands)[0].told)

    def test_marks_alone_say_something_and_nothing_is_refused(self) -> None:
        self.assertEqual(told([], rest=Seen.MOVED)[0].key, "rest")
        with self.assertRaisesRegex(InvalidValue, "shoot a few arrows"):
            told([])
        with self.assertRaisesRegex(OutOfReach, "out of reach"):
            triage(RigFigures(25.0, 0.01, 0.8, 0.1), 15.0, [KnockGroup(300.0, 4, 0.0, 0.0)], SCATTER, {})

    def test_a_direction_that_was_not_noted_says_nothing(self) -> None:
        low = [KnockGroup(d, 4, None, -2.0 * reach(d)) for d in (26.0, 61.0)]
        noted = [KnockGroup(d, 4, 0.0, -2.0 * reach(d)) for d in (26.0, 61.0)]
        self.assertGreater(self.chances(low)["head"], self.chances(noted)["head"])

    def test_how_far_it_went_comes_back(self) -> None:
        low = [KnockGroup(d, 12, 0.0, -2.0 * reach(d)) for d in (26.0, 47.0, 61.0)]
        pointer = next(each for each in told(low) if each.key == "pointer")
        moved = pointer.moved["up_mm"]
        self.assertAlmostEqual(moved.value, 2.0, delta=2.0 * (moved.sd or 0.0))

    def test_chances_are_what_happens(self) -> None:
        """Joints drawn as often as they are said to be: the first named is right about as often as it claims."""
        rng, claimed, right = np.random.default_rng(11), 0.0, 0
        often = np.array([joint.often for joint in JOINTS])
        for _ in range(200):
            joint = JOINTS[int(rng.choice(len(JOINTS), p=often / often.sum()))]
            groups = []
            size = {way: rng.normal(0.0, sd) for way, sd in joint.moves.items()}
            day = rng.normal(0.0, 0.35e-3, 2)
            plain = [KnockGroup(d, 4, 0.0, 0.0) for d in (26.0, 61.0)]
            away = sum(ways_of(RIG_A, 17.0, plain)[way] * much for way, much in size.items())
            for place, each in enumerate(plain):
                noise = rng.normal(0.0, 0.5e-3 * each.distance_m, 2) + day * each.distance_m
                up, side = away[2 * place] + noise[0], away[2 * place + 1] + noise[1]
                groups.append(KnockGroup(each.distance_m, 4, side, up))
            seen = {
                each.key: Seen.MOVED if rng.random() < (0.9 if each is joint else 0.03) else Seen.STANDS
                for each in JOINTS
            }
            first = triage(RIG_A, 17.0, groups, SCATTER, seen)[0]
            claimed += first.chance
            right += first.key == joint.key
        self.assertAlmostEqual(right / 200.0, claimed / 200.0, delta=0.1)
        self.assertGreater(right, 120)


class Table(unittest.TestCase):
    def test_every_joint_has_its_mark_its_cause_and_its_check(self) -> None:
        for joint in JOINTS:
            self.assertIn(joint.mark, WITNESSED)
            self.assertIn(joint.cause, CAUSES)
            self.assertTrue(joint.check and joint.mend and joint.moves)


class SlopeShots(unittest.TestCase):
    def test_six_and_six_far_out_tell_about_half_a_degree(self) -> None:
        slopes = (math.radians(25.0), math.radians(-25.0))
        stand = slope_stands(RIG_A, 20.0, [95.0], slopes, 1.0, math.radians(1.0))[0]
        self.assertEqual(stand.arrows, 6)
        self.assertAlmostEqual(math.degrees(stand.sd_rad), 0.45, delta=0.06)
        self.assertGreater(stand.right_up_m, 0.05)
        self.assertLess(stand.right_down_m, -0.03)

    def test_farther_needs_fewer_and_comes_first(self) -> None:
        slopes = (math.radians(25.0), math.radians(-25.0))
        stands = slope_stands(RIG_A, 20.0, [38.0, 61.0, 95.0], slopes, 1.0, math.radians(1.0))
        self.assertEqual(stands[0].distance_m, 95.0)

    def test_it_needs_both_ways(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "one down"):
            slope_stands(RIG_A, 20.0, [61.0], (0.3, 0.2), 1.0, 0.02)


if __name__ == "__main__":
    unittest.main()
