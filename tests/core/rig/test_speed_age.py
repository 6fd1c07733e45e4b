import unittest
from dataclasses import replace

from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.speed_age import OLD_SPEED_PART, as_known
from tests.rigs import full_card

CARD = full_card()
NEW = ChronographSession((84.0, 84.2, 83.9, 84.1), mass_kg=CARD.build.mass_kg())
BOTH = CARD.with_build(replace(CARD.build, sessions=(*CARD.build.sessions, NEW)))


class Age(unittest.TestCase):
    def test_a_speed_that_holds_is_as_well_known_as_it_was(self) -> None:
        self.assertIs(as_known([CARD, CARD], {1, 2}), CARD)
        self.assertIs(as_known([CARD, BOTH, BOTH], {1, 2, 3}), BOTH)

    def test_an_old_one_is_kept_and_wider(self) -> None:
        old = as_known([CARD, CARD], {2})
        speed, was = old.speed(), CARD.speed()
        self.assertAlmostEqual(speed.speed_mps, was.speed_mps, places=6)
        self.assertAlmostEqual(speed.sd_mps**2 - was.sd_mps**2, (OLD_SPEED_PART * was.speed_mps) ** 2, places=3)

    def test_a_new_one_stands_alone(self) -> None:
        known = as_known([CARD, CARD, BOTH], {2, 3})
        self.assertEqual(known.build.sessions, (NEW,))
        self.assertAlmostEqual(known.speed().speed_mps, 84.1, delta=0.2)

    def test_the_new_one_of_another_build_tells_of_this_one(self) -> None:
        heavy = replace(CARD.build, name="heavy", shaft_kg_per_m=0.02, sessions=(NEW,))
        two = replace(CARD, builds=(CARD.build, heavy))
        known = as_known([CARD, CARD, two], {2, 3})
        self.assertEqual([len(build.sessions) for build in known.builds], [0, 1])
        self.assertGreater(known.speed().speed_mps, 84.2)

    def test_a_card_without_a_speed_stays_as_it_is(self) -> None:
        bare = CARD.with_build(replace(CARD.build, sessions=()))
        self.assertIs(as_known([bare, bare], {2}), bare)
