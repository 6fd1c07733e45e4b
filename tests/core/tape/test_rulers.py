"""Pencil lines, strips and trial strips: distances between lines as observations of the one fit."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.rig.scatter import usual_scatter
from cross_staff.core.stations import tape_step
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.rows import TapeMark, observation
from cross_staff.core.tape.rulers import BOOKLET, LINE_SD_MM, LINES, StripRuler, trial_span
from cross_staff.core.tape.solver import solve
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.rigs import NOON, entry, full_card, true_mark

CARD = full_card()


def span(line: int, from_m: float, to_m: float, wrong_mm: float = 0.0, **changes: object) -> TapeMark:
    """A distance between two pencil lines, measured true."""
    length = true_mark(to_m) - true_mark(from_m) + wrong_mm
    return entry(line, to_m, length, **({"arrows": 6, "ruler": LINES, "from_m": from_m} | changes))


def at(evaluation: Evaluation, *distances: float) -> list[tuple[float, float]]:
    """From home, and how surely on the target, at each distance."""
    assert evaluation.fit is not None, evaluation.problem
    rows = evaluation.fit.tape([17.0, *distances])
    return [((row.mark_mm or 0.0) - (rows[0].mark_mm or 0.0), row.sd_on_target_m or 0.0) for row in rows[1:]]


class PencilLines(unittest.TestCase):
    def test_two_lines_are_two_marks_of_a_ruler_of_their_own(self) -> None:
        """By hand: the same as two marks of any zero, each with the sd of a line."""
        evaluation = evaluate(CARD, [span(1, 17.0, 61.0)])
        assert evaluation.fit is not None and evaluation.scatter is not None
        scatter = usual_scatter(CARD)
        plain = [observation(CARD, entry(n, d, true_mark(d), arrows=6), scatter) for n, d in ((1, 17.0), (2, 61.0))]
        seen = [replace(each, reading_sd_mm=LINE_SD_MM) for each in plain]
        priors = CARD.priors()
        assert priors is not None
        alone = solve(priors, 17.0, seen, day_spread_mrad=scatter.day_mrad)
        for d in (38.0, 95.0):
            one, other = evaluation.fit.tape([17.0, d]), alone.tape([17.0, d])
            self.assertAlmostEqual(one[1].mark_mm - one[0].mark_mm, other[1].mark_mm - other[0].mark_mm, places=6)
            self.assertAlmostEqual(one[1].sd_mm, other[1].sd_mm, places=6)
        self.assertEqual((len(evaluation.listed), len(evaluation.used)), (1, 2))
        self.assertAlmostEqual(evaluation.home_mark_mm, alone.mark_zero_mm.value - true_mark(17.0), places=6)

    def test_lines_tell_as_much_in_whatever_order_they_are_measured(self) -> None:
        one = evaluate(CARD, [span(1, 17.0, 38.0), span(2, 17.0, 61.0)])
        for others in (
            [span(1, 17.0, 38.0), span(2, 38.0, 61.0)],
            [span(1, 17.0, 61.0), span(2, 38.0, 61.0)],
            [span(1, 38.0, 61.0), span(2, 17.0, 38.0)],
        ):
            told = evaluate(CARD, others)
            self.assertEqual(len(told.used), 3)
            for (mark, sd), (other, other_sd) in zip(at(one, 61.0, 95.0), at(told, 61.0, 95.0)):
                self.assertAlmostEqual(mark, other, delta=0.02)
                self.assertAlmostEqual(sd, other_sd, delta=0.0005)

    def test_a_line_measured_twice_is_one_line_whose_arrows_count_once(self) -> None:
        once = evaluate(CARD, [span(1, 17.0, 61.0)])
        often = evaluate(CARD, [span(n, 17.0, 61.0) for n in range(1, 6)])
        (_, one), (_, five) = at(once, 61.0)[0], at(often, 61.0)[0]
        self.assertLess(0.9 * one, five)
        self.assertLess(five, one)

    def test_on_another_day_it_is_another_line(self) -> None:
        again = replace(span(2, 17.0, 61.0), entered=NOON + timedelta(days=1))
        once, twice = evaluate(CARD, [span(1, 17.0, 61.0)]), evaluate(CARD, [span(1, 17.0, 61.0), again])
        self.assertEqual([row.shared for row in twice.listed], [1, 1])
        self.assertLess(at(twice, 61.0)[0][1], 0.9 * at(once, 61.0)[0][1])
        apart = replace(again, mark_mm=again.mark_mm + 1.0)
        told = evaluate(CARD, [span(1, 17.0, 61.0), apart])
        self.assertFalse(any(r.has("disagrees_with") or r.has("measured_apart") for r in told.rows))

    def test_what_is_to_be_looked_at_is_a_line_that_somebody_wrote_down(self) -> None:
        """Of two lines each lies as far from the other as the other from it; where all of one ruler agree but for the
        line they were measured from, it is that one."""
        slip = evaluate(CARD, [span(1, 17.0, 61.0, 9.0)])
        self.assertEqual((slip.suspect.origin, slip.suspect.entry.ranged_m), (False, 61.0))
        off = [span(n, 17.0, d, 6.0) for n, d in enumerate((38.0, 47.0, 61.0, 78.0), 1)]
        told = evaluate(CARD, off)
        self.assertEqual((told.suspect.origin, told.suspect.entry.ranged_m), (True, 17.0))
        self.assertEqual(tape_step(CARD, told).about, "origin")

    def test_two_rulers_that_share_no_line_have_a_zero_each(self) -> None:
        evaluation = evaluate(CARD, [span(1, 17.0, 38.0), span(2, 47.0, 61.0)])
        self.assertEqual(len({row.ruler for row in evaluation.used}), 2)
        self.assertEqual(len(evaluation.fit.shot_pins), 2)
        self.assertAlmostEqual(at(evaluation, 61.0)[0][0], true_mark(61.0) - true_mark(17.0), delta=1.0)

    def test_lines_beside_a_scale_leave_its_zero_alone(self) -> None:
        scale = [entry(1, 17.0, true_mark(17.0), arrows=6)]
        both = evaluate(CARD, [*scale, span(2, 17.0, 61.0)])
        self.assertAlmostEqual(both.home_mark_mm, true_mark(17.0), delta=0.05)
        self.assertLess(at(both, 61.0)[0][1], 0.7 * at(evaluate(CARD, scale), 61.0)[0][1])

    def test_lines_that_contradict_each_other_are_said(self) -> None:
        """One line, measured twice: what its arrows scatter is in both, so a millimetre is no chance."""
        for wrong, said in ((4.0, True), (1.0, True), (0.4, False)):
            evaluation = evaluate(CARD, [span(1, 17.0, 61.0), span(2, 17.0, 61.0, wrong)])
            self.assertEqual(any(row.has("measured_apart") for row in evaluation.rows), said, wrong)
            self.assertEqual((evaluation.doubtful, tape_step(CARD, evaluation).code in ("measure_again", "look_again")),
                             (said, said), wrong)  # fmt: skip

    def test_a_line_of_old_still_tells_how_far_it_lay_from_another(self) -> None:
        home = replace(span(2, 17.0, 38.0), revision=2)
        evaluation = evaluate(CARD, [span(1, 17.0, 61.0), home], frozenset((2,)), spans=((1, 2),))
        self.assertEqual([row.has("span") for row in evaluation.listed], [True, False])

    def test_bands_hold_from_pencil_lines_alone(self) -> None:
        """Two lines, with the errors that are said of them: the farthest mark lies in its band."""
        held, rng, bows = 0, np.random.default_rng(17), 60
        scatter = usual_scatter(CARD)
        for _ in range(bows):
            day = rng.normal(0.0, scatter.day_mrad)
            off = [
                rng.normal(0.0, LINE_SD_MM)
                + 0.82e3 / (0.82 + d) * 1e-3 * d * (day + rng.normal(0.0, scatter.spread_mrad / 6**0.5))
                for d in (17.0, 61.0)
            ]
            evaluation = evaluate(CARD, [span(1, 17.0, 61.0, float(off[1] - off[0]))])
            mark = evaluation.fit.tape([17.0, 61.0])
            apart = mark[1].mark_mm - mark[0].mark_mm - (true_mark(61.0) - true_mark(17.0))
            held += abs(apart) <= COVERAGE * (mark[0].sd_mm ** 2 + mark[1].sd_mm ** 2) ** 0.5
        self.assertGreaterEqual(held, 0.9 * bows)


def strip_ruler(home_mark_mm: float | None = None, stretch: float = 1.0) -> StripRuler:
    """A strip as the true bow would have it, or a stretched one."""
    lines = tuple(float(d) for d in range(17, 96))
    return StripRuler(
        "strip 1.0",
        "no. 1",
        1.0,
        lines,
        tuple(stretch * (true_mark(d) - true_mark(17.0)) for d in lines),
        17.0,
        home_mark_mm,
    )


def read_off(line: int, ruler: StripRuler, hits_m: float, reads_m: float, **changes: object) -> TapeMark:
    """“The strip reads so, arrows say so.”"""
    place = ruler.place_mm("mark", reads_m)
    fields = {"arrows": 6, "ruler": ruler.code, "from_m": 17.0, "reads": f"{reads_m:g}", "laid_mm": ruler.home_mark_mm}
    return entry(line, hits_m, place, **(fields | changes))


class Strips(unittest.TestCase):
    def test_a_number_of_a_strip_is_a_place_on_it(self) -> None:
        ruler = strip_ruler()
        self.assertAlmostEqual(ruler.place_mm("mark", 60.5), true_mark(60.5) - true_mark(17.0), delta=0.01)
        self.assertEqual(ruler.place_mm("mark", 17.0), 0.0)
        with self.assertRaises(InvalidValue) as refused:
            ruler.place_mm("mark", 120.0)
        self.assertIn("from 17 to 95", refused.exception.message)

    def test_what_a_stretched_strip_reads_gives_the_true_tape(self) -> None:
        """The strip is 4 % too long: it reads less than is shot, and the tape comes out as it is without it."""
        ruler = strip_ruler(stretch=1.04)
        true = true_mark(61.0) - true_mark(17.0)
        reads = next(d / 100 for d in range(6100, 5000, -1) if ruler.place_mm("mark", d / 100) <= true)
        evaluation = evaluate(CARD, [read_off(1, ruler, 61.0, reads)])
        self.assertEqual(len(evaluation.used), 2)  # where it was laid on is a line too
        self.assertAlmostEqual(at(evaluation, 61.0)[0][0], true, delta=0.4)

    def test_a_reading_at_home_takes_the_place_of_what_was_taken_for_granted(self) -> None:
        ruler = strip_ruler()
        rows = [read_off(1, ruler, 61.0, 62.0), read_off(2, ruler, 17.0, 18.0)]
        evaluation = evaluate(CARD, rows)
        self.assertEqual(len(evaluation.used), 2)
        span_mm = ruler.place_mm("mark", 62.0) - ruler.place_mm("mark", 18.0)
        self.assertAlmostEqual(evaluation.used[0].at_mm - evaluation.used[1].at_mm, span_mm, places=9)

    def test_a_strip_laid_on_the_home_mark_is_read_on_the_scale(self) -> None:
        scale = [entry(n, d, true_mark(d), arrows=6) for n, d in ((1, 17.0), (2, 47.0))]
        ruler = strip_ruler(home_mark_mm=true_mark(17.0))
        both = evaluate(CARD, [*scale, read_off(3, ruler, 78.0, 78.0)])
        self.assertEqual(len(both.used), 3)
        self.assertAlmostEqual(both.used[2].at_mm, true_mark(78.0), delta=0.001)
        apart = evaluate(CARD, [*scale, read_off(3, ruler, 78.0, 78.0, laid_mm=None)])
        self.assertLess(at(both, 95.0)[0][1], at(apart, 95.0)[0][1])

    def test_of_a_scale_whose_numbers_fall_too(self) -> None:
        falls = full_card(tape=replace(CARD.tape, scale_grows=False))
        scale = [entry(n, d, -true_mark(d), arrows=6) for n, d in ((1, 17.0), (2, 47.0))]
        ruler = strip_ruler(home_mark_mm=-true_mark(17.0))
        both = evaluate(falls, [*scale, read_off(3, ruler, 78.0, 78.0)])
        self.assertAlmostEqual(both.used[2].at_mm, true_mark(78.0), delta=0.001)
        self.assertEqual([row.findings for row in both.rows], [(), (), ()])


BOOK = Booklet(17.0, 61.0, (Strip("22", 22.0, 27.0), Strip("25", 25.0, 30.0), Strip("A", 1.0, 20.0, "back")))


class TrialStrips(unittest.TestCase):
    def test_a_label_is_a_length(self) -> None:
        self.assertEqual(trial_span(BOOK, "22"), (27.0, 0.3))
        self.assertEqual(trial_span(BOOK, "23,5")[0], 28.5)

    def test_what_is_not_known_is_asked(self) -> None:
        for book, label, words in (
            (BOOK, "Z", "its label, or its place"),
            (replace(BOOK, strips=BOOK.strips[:1]), "22", "two measured strips"),
            (Booklet(), "22", "two measured strips"),
        ):
            with self.subTest(label), self.assertRaises(InvalidValue) as refused:
                trial_span(book, label)
            self.assertIn(words, refused.exception.message)

    def test_it_is_an_observation_of_the_fit(self) -> None:
        length = true_mark(61.0) - true_mark(17.0)
        book = replace(BOOK, strips=(Strip("22", 22.0, length - 0.5), Strip("23", 23.0, length + 0.5)))
        mm, sd = trial_span(book, "22.5")
        seen = entry(1, 61.0, mm, arrows=6, ruler=BOOKLET, from_m=17.0, reading_sd_mm=sd)
        evaluation = evaluate(CARD, [seen])
        self.assertAlmostEqual(at(evaluation, 61.0)[0][0], length, delta=0.6)

        self.assertAlmostEqual(evaluation.fit.observations[0].reading_sd_mm, 0.3)
