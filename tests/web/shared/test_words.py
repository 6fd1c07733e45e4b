import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.card import PeepEntry
from cross_staff.core.rig.priors import Known
from cross_staff.core.stations import tape_step
from cross_staff.core.tape.rows import FINDINGS, Finding
from cross_staff.core.tape.station import evaluate
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import room
from cross_staff.web.shared import words as sentences
from cross_staff.web.tape import words as tape_words
from tests.rigs import entry, full_card, true_mark

METRIC, YARDS = Units(), Units("yd", "in", "in", "fps", "gr")
NUMBERS = {
    "revision": 2.0, "turnover_m": 11.2, "before_m": 38.0, "before_mm": 31.2, "other_mm": 44.1, "apart_mm": 2.5,
    "residual_mm": 1.5, "target_m": 0.09, "sds": 3.4,
}  # fmt: skip


def now(card, *marks, units: Units = METRIC) -> sentences.Now:  # type: ignore[no-untyped-def]
    evaluation = evaluate(card, [entry(n, d, m, arrows=6) for n, (d, m) in enumerate(marks, start=1)])
    return room.now(tape_step(card, evaluation), units)


class Findings(unittest.TestCase):
    def test_every_finding_has_its_sentence(self) -> None:
        for code in FINDINGS:
            self.assertRegex(tape_words.finding(Finding(code, NUMBERS), METRIC), r"[.?]$", code)

    def test_a_suspect_says_which_way_it_would_hit(self) -> None:
        self.assertIn("9.0\u00a0cm low", tape_words.finding(Finding("suspect", NUMBERS), METRIC))
        high = Finding("suspect", NUMBERS | {"residual_mm": -1.5})
        self.assertIn("3.5\u00a0in high", tape_words.finding(high, YARDS))


class Now(unittest.TestCase):
    def test_every_gap_of_the_card_has_its_sentence(self) -> None:
        card = full_card()
        for gap in (
            card.with_build(replace(card.build, shaft_length_m=None)),
            card.with_build(replace(card.build, sessions=())),
            replace(card, eye_to_sight_m=None), replace(card, peep=PeepEntry()),
            replace(card, goals=replace(card.goals, home_m=None)),
            replace(card, goals=replace(card.goals, farthest_m=None)),
            replace(card, goals=replace(card.goals, target_size_m=None)),
        ):  # fmt: skip
            said = now(gap)
            self.assertEqual(said.station, "card")
            self.assertTrue(said.say.endswith(".") and said.caution)

    def test_the_next_shot_is_a_number_with_its_gain(self) -> None:
        card = full_card()
        said = now(card, (17.0, 20.0))
        self.assertRegex(said.say, r"^Shoot 6 arrows at \d+\u00a0m\.$")
        self.assertRegex(said.why, r"from ±\u00a0\d+\u00a0cm to ±\u00a0[\d.]+\u00a0cm, good to \d+\u00a0m")
        self.assertIn("yd", now(card, (17.0, 20.0), units=YARDS).say)

    def test_a_finished_tape_is_printed(self) -> None:
        said = now(full_card(), *((d, true_mark(d)) for d in (17.0, 47.0, 78.0, 95.0)))
        self.assertEqual(said.say, "Print the tape.")
        self.assertIn("good to 95\u00a0m", said.why)

    def test_a_card_that_cannot_be_solved_names_the_input(self) -> None:
        card = replace(full_card(), peep=PeepEntry("along", along_m=0.03, angle_rad=0.3))
        self.assertIn("the peep height must lie between", now(card).why)
        self.assertEqual(sentences.problem(OutOfReach("too far")), "too far")
        self.assertEqual(sentences.problem(InvalidValue("sd", "is odd")), "sd is odd")


class Words(unittest.TestCase):
    def test_figures_carry_their_uncertainty(self) -> None:
        self.assertEqual(sentences.figure("speed_mps", Known(82.0, 0.4), Units(speed="mps")), "82.0\u00a0m/s ± 0.8")
        self.assertEqual(sentences.figure("drag_per_m", Known(0.00142, 0.18), METRIC), "0.00142 /m ± 35 %")
        self.assertEqual(sentences.figure("tape_ratio", Known(3.02, 0.05), METRIC), "3.020 ± 0.098")

    def test_good_to_is_never_more_than_is_wanted(self) -> None:
        card = full_card()
        for good, words in ((None, "not good yet"), (78.9, "good to 78\u00a0m"), (120.0, "good to 95\u00a0m")):
            self.assertEqual(sentences.good_to(card.trusted_m(good), METRIC), words)
