import unittest
from dataclasses import replace
from datetime import date, timedelta

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prove.chain import Aside, Given, Holding, ProofTape
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.station import LAID, MARK, ProveState, check_entry, prove_state
from cross_staff.core.prove.verdict import VerdictKind
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.stations import next_step, standings
from cross_staff.core.tape.rulers import StripRuler
from tests.core.test_stations import rig
from tests.rigs import NOON, RIG_A, full_card, true_mark

CARD = full_card()
LINES = tuple(float(d) for d in range(17, 96, 2))
STRIP = StripRuler("strip 1.0", "strip no. 1", 1.0, LINES, tuple(true_mark(d, 0.0) for d in LINES), 17.0)
TAPE = ProofTape(STRIP, 1, 0)
GIVEN = Given(CARD, RIG_A, Scatter(0.8, 0.28), 1.0, Holding(frozenset((1, 2)), (0, 0), (0, 0)))
FIRST = date(2026, 11, 1)


def line(day: int, distance: float, up: float = 0.0, **changes: object) -> ProofLine:
    fields: dict[str, object] = {"key": f"{day} {distance:g}", "dialled_m": distance, "tape": STRIP.code}
    entered = NOON + timedelta(minutes=day)
    made = ProofLine("", 1, entered, FIRST + timedelta(days=day), distance, None, 4, up)
    return replace(made, **(fields | changes))  # type: ignore[arg-type]


def state(*lines: ProofLine, given: Given = GIVEN, tapes: tuple[ProofTape, ...] = (TAPE,)) -> ProveState:
    return prove_state(given, tapes, lines, [])


def days(count: int, mrad: float = 0.0) -> list[ProofLine]:
    return [line(day, d, 1e-3 * mrad * d) for day in range(count) for d in ((38.0, 95.0), (26.0, 77.0))[day % 2]]


class Sorting(unittest.TestCase):
    def why(self, *lines: ProofLine, given: Given = GIVEN) -> list[Aside]:
        return list(state(*lines, given=given).why_aside.values())

    def test_each_reason_has_its_word(self) -> None:
        for changes, why in (
            ({"label": "points:0:"}, Aside.LABELLED),
            ({"dialled_m": None}, Aside.NOT_DIALLED),
            ({"up_m": None, "right_m": 0.1}, Aside.NOT_DIALLED),
            ({"tape": "strip 9.0"}, Aside.OTHER_TAPE),
            ({"laying": 4}, Aside.OTHER_TAPE),
            ({"dialled_m": 120.0}, Aside.OFF_TAPE),
            ({"cold": True}, Aside.COLD),
        ):
            self.assertEqual(self.why(line(1, 38.0, **changes)), [why])

    def test_what_was_done_and_another_arrow(self) -> None:
        later = replace(GIVEN, holding=Holding(frozenset((2,)), (0, 0), (0, 1)))
        self.assertEqual(self.why(line(1, 38.0), given=later), [Aside.BEFORE])
        other = replace(GIVEN, holding=Holding(frozenset((1, 2)), (0, 1), (0, 0)))
        shot = line(1, 38.0, revision=2)
        self.assertTrue(state(shot, given=other).asks_which)  # the only tape is another arrow's
        laid_on = BenchEntry("prove", LAID, 1, NOON, choice=STRIP.code)
        told = prove_state(other, (TAPE,), (shot,), [laid_on])
        self.assertEqual(list(told.why_aside.values()), [Aside.OTHER_ARROW])

    def test_lines_from_before_are_a_chain_of_their_own(self) -> None:
        given = replace(GIVEN, holding=Holding(frozenset((2,)), (0, 0), (0, 1)))
        told = state(*days(3), line(5, 38.0, revision=2), given=given)
        self.assertEqual([(len(each.lines), each.past) for each in told.others], [(6, True)])
        assert told.current is not None
        self.assertEqual(len(told.current.lines), 1)

    def test_what_is_not_known_judges_nothing(self) -> None:
        for given in (
            replace(GIVEN, ratio=None),
            replace(GIVEN, card=replace(CARD, eye_to_sight_m=None)),
            replace(GIVEN, card=replace(CARD, goals=replace(CARD.goals, target_size_m=None))),
        ):
            told = state(*days(6), given=given)
            self.assertIsNone(told.verdict)
            assert told.current is not None
            self.assertIn(told.current.lacks, ("scale", "target"))
            self.assertEqual(next_step(replace(rig(), prove=told)).code, "waits_for_card")
            self.assertEqual(len(told.lines), 12)

    def test_a_log_that_cannot_be(self) -> None:
        entry = BenchEntry("prove", LAID, 1, NOON)
        with self.assertRaisesRegex(InvalidValue, "which tape"):
            check_entry(CARD, entry)
        with self.assertRaisesRegex(NotFound, "nothing is written down"):
            check_entry(CARD, replace(entry, key="mood"))
        with self.assertRaisesRegex(InvalidValue, "choose one"):
            check_entry(CARD, replace(entry, key=f"{MARK}rest", choice="loose"))
        check_entry(CARD, replace(entry, key=f"{MARK}rest", choice="moved"))


class AtTheStaff(unittest.TestCase):
    def told(self, proved: ProveState) -> tuple[str, str, str, str]:
        made = replace(rig(), prove=proved)
        stands = standings(made)[-1]
        step = next_step(made)
        return stands.state.value, str(stands.word), step.station, str(step.code)

    def test_each_verdict_stands_and_leads_on(self) -> None:
        for proved, told in (
            (ProveState(None), ("blocked", "no_tape", "tape", "print_tape")),
            (ProveState(None, (TAPE, TAPE)), ("due", "which_tape", "prove", "which_tape")),
            (state(), ("due", "no_lines", "prove", "shoot")),
            (state(*days(1)), ("due", "cannot_tell", "prove", "shoot")),
            (state(*days(9)), ("done", "true", "prove", "true")),
            (state(*days(9, 4.0)), ("stale", "shifted", "prove", "shifted")),
            (state(*days(1, 9.0)), ("stale", "one_day", "prove", "shoot")),
            (state(*days(4), *[line(d, x, 0.009 * x) for d in range(5, 9) for x in (38.0, 95.0)]),
             ("stale", "moved_between", "prove", "moved_between")),
            (state(*days(4), line(5, 61.0, 0.9)), ("due", "days_differ", "prove", "days_differ")),
        ):  # fmt: skip
            self.assertEqual(self.told(proved), told)

    def test_a_tape_of_another_arrow_is_never_called_true(self) -> None:
        other = replace(GIVEN, holding=Holding(frozenset((1, 2)), (0, 1), (0, 0)))
        laid_on = BenchEntry("prove", LAID, 1, NOON, choice=STRIP.code)
        told = prove_state(other, (TAPE,), days(9), [laid_on])
        assert told.current is not None and told.verdict is not None
        self.assertEqual(told.verdict.kind, VerdictKind.TRUE)  # of its own arrow
        self.assertEqual(self.told(told), ("due", "other_arrow", "prove", "other_arrow"))

    def test_old_lines_alone_are_stale(self) -> None:
        later = replace(GIVEN, holding=Holding(frozenset((2,)), (0, 0), (0, 1)))
        self.assertEqual(self.told(state(*days(2), given=later))[:2], ("stale", "lines_old"))


if __name__ == "__main__":
    unittest.main()
