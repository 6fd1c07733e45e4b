"""What the bench sheet and its log say."""

import unittest

from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.prepare.tuning import STEPS as TUNING
from cross_staff.core.prepare.tuning import TuningAdvice, WalkBack
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units
from cross_staff.web.prepare import words as prepare_words
from cross_staff.web.shared.log import log_rows
from tests.rigs import NOON

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class Sentences(unittest.TestCase):
    def test_every_line_has_its_now(self) -> None:
        for key in CHECKS:
            said = prepare_words.next_step(NextStep("prepare", key, {"left": 1.0}), METRIC)
            self.assertTrue(said.say.endswith(".") and said.caution, key)
            self.assertIn("the last line", said.why)

    def test_every_advice_has_its_words(self) -> None:
        for why in prepare_words._WHY:
            words, because = prepare_words.advice(TuningAdvice(False, "rest_left", why, 2.4))
            self.assertTrue(words.startswith("Move the rest") and because)
        self.assertIn("About 2 such steps", prepare_words.advice(TuningAdvice(False, "rest_left", "keep", 2.4))[1])
        self.assertIn("Leave it", prepare_words.advice(TuningAdvice(True))[0])
        self.assertEqual(set(prepare_words.TRIED) - {""}, set(TUNING))

    def test_walk_backs(self) -> None:
        for shape, words in ((None, "Three distances"), ("plumb", "Plumb"), ("curve", "bends"), ("slant", "slants")):
            self.assertIn(words, prepare_words.walk_back(WalkBack(shape, -0.01))[0])
        self.assertIn("to the left", prepare_words.walk_back(WalkBack("slant", -0.01))[0])

    def test_what_a_measured_line_passes_with(self) -> None:
        for key, words in (
            ("rest_centred", "good within 0.5\u00a0mm, noted up to 1.5\u00a0mm; either side"),
            ("string_shots", "150 shots or more are good"),
            ("limb_bolts", "good within 0.062 turn, noted up to 0.125 turn; either side"),
            ("d_loop", ""),
        ):
            self.assertEqual(prepare_words.limits(CHECKS[key], METRIC), words)

    def test_offsets_say_which_way(self) -> None:
        self.assertEqual(prepare_words.offset((-0.012, 0.003), "length", METRIC), "12\u00a0mm left, 3\u00a0mm high")
        self.assertEqual(prepare_words.offset((0.0, -0.0508), "offset", INCHES), "2\u00a0in low")
        self.assertEqual(prepare_words.offset((0.0, 0.0), "offset", METRIC), "in the middle")

    def test_the_log_says_what_was_found_and_what_can_be_taken_back(self) -> None:
        log = [
            BenchEntry("prepare", "d_loop", 1, NOON, choice="loose", entry_id=1),
            BenchEntry("prepare", "d_loop", 1, NOON, choice="good", entry_id=2),
            BenchEntry("prepare", "paper_tear", 1, NOON, points=((0.01, 0.0),), after="grip", entry_id=3),
            BenchEntry("prepare", "gate_override", 1, NOON, note="agreed with him", entry_id=4),
            BenchEntry("prepare", "arrow_level", 1, NOON, choice="good", entry_id=5),
            BenchEntry("prepare", "arrow_level", 1, NOON, removed=True, entry_id=6),
        ]
        rows = log_rows(log, lambda entry: prepare_words.logged(entry, METRIC), {})
        self.assertEqual([row["undo"] for row in rows], [False, False, True, True, True, False])
        self.assertEqual((rows[0]["value"], rows[2]["name"]), ("taken back", "Gate opened with a reason"))
        self.assertEqual(
            (rows[3]["after"], rows[4]["value"]), ("grip settled", "ends on opposite sides, pulled down hard")
        )


if __name__ == "__main__":
    unittest.main()
