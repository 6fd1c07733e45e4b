import unittest
from dataclasses import replace

from cross_staff.core.level.station import level_state
from cross_staff.core.prepare.station import checklist_of
from cross_staff.core.sight_in.log import RangeLog
from cross_staff.core.sight_in.station import sight_in
from cross_staff.core.stations import RigState, reproof_step
from cross_staff.core.tape.reproof import ProofEnd, ProofSeen, Reproof
from cross_staff.core.tape.station import evaluate
from tests.rigs import full_card

CARD = full_card()
TAPE = evaluate(CARD, [])
STATE = RigState(CARD, TAPE, checklist_of(CARD, []), (), level_state(CARD, [], []), sight_in(CARD, RangeLog(), TAPE))
NEAR, FAR = ProofEnd(17.0, 4, 0.02), ProofEnd(78.0, 5, 0.06)


def step(*seen: ProofSeen, ends: tuple[ProofEnd, ...] = (NEAR, FAR)) -> object:
    return reproof_step(replace(STATE, reproof=Reproof(ends, seen)))


class Step(unittest.TestCase):
    def test_the_first_end_that_was_not_shot_in_full_with_what_is_left_of_it(self) -> None:
        first = step()
        self.assertEqual((first.code, first.numbers), ("reprove", {"ranged_m": 17.0, "arrows": 4.0, "band_m": 0.02}))
        self.assertEqual(step(ProofSeen(NEAR, 3, 0.0)).numbers["arrows"], 1.0)
        second = step(ProofSeen(NEAR, 4, 0.0), ProofSeen(FAR, 3, 0.0))
        self.assertEqual((second.numbers["ranged_m"], second.numbers["arrows"]), (78.0, 2.0))

    def test_proved_moved_or_not_to_be_told(self) -> None:
        self.assertEqual(step(ProofSeen(NEAR, 4, 0.0), ProofSeen(FAR, 5, 0.0)).code, "proved")
        self.assertIsNone(step(ProofSeen(NEAR, 4, 0.05)))
        self.assertIsNone(step(ends=()))
        self.assertIsNone(reproof_step(STATE))
