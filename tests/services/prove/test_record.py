import tempfile
import unittest
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prove.chain import Aside, Chain
from cross_staff.core.prove.handover import CardContent, Section
from cross_staff.core.prove.locking import SPARE, Thread
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.verdict import Doubt, TapeVerdict, VerdictKind
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.sight_in.log import Move
from cross_staff.core.stations import next_step
from cross_staff.services import events
from cross_staff.services.card import save as card
from cross_staff.services.prove import handover, record
from cross_staff.storage import range_log
from cross_staff.storage.database import Database
from tests.rigs import NOON
from tests.shop import Shop

STAKES = (26.0, 61.0, 38.0, 78.0)


class Proving(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        self.database = Database(Path(folder.name) / "shop.sqlite3")
        self.database.migrate()
        self.addCleanup(self.database.close)
        self.shop = Shop(self.database)
        self.rig = self.shop.rig()
        self.shop.marks(self.rig, 17.0, 38.0, 61.0, 78.0)

    def current(self) -> Chain:
        chain = self.shop.open(self.rig).prove.current
        assert chain is not None
        return chain

    def verdict(self) -> TapeVerdict:
        verdict = self.current().verdict
        assert verdict is not None
        return verdict

    def shot(self, days: int, a_mm: float = 0.0, b: float = 0.0, first: int = 0) -> None:
        """Lines of so many days, two each, of a tape that is off by a shift and a stretch."""
        strip = self.current().tape.strip
        for day in range(first, first + days):
            for distance in (STAKES[day % 2 * 2], STAKES[day % 2 * 2 + 1]):
                away = a_mm + b * strip.place_mm("", distance)
                up = -away / (1000.0 * 0.82 / (0.82 + distance))
                self.shop.proof(self.rig, day, distance, up)


class Tapes(Proving):
    def test_without_a_tape_there_is_nothing_to_prove_and_nothing_lost(self) -> None:
        line = self.shop.proof(self.rig, 1, 38.0, 0.02)
        state = self.shop.open(self.rig).prove
        self.assertIsNone(state.current)
        self.assertFalse(state.asks_which)
        self.assertEqual(state.lines, (line,))

    def test_the_only_tape_is_taken_and_of_two_it_is_asked(self) -> None:
        self.shop.printed(self.rig, lay=False)
        self.assertIsNotNone(self.shop.open(self.rig).prove.current)
        second = self.shop.printed(self.rig, 61.0, lay=False)
        self.assertTrue(self.shop.open(self.rig).prove.asks_which)
        record.lay(self.database, self.rig, second, NOON)
        self.assertEqual(self.current().tape.code, second)
        record.lay(self.database, self.rig, second, NOON)
        self.assertEqual(len(self.shop.open(self.rig).log_of("prove")), 1)
        with self.assertRaisesRegex(InvalidValue, "not one of this rig's tapes"):
            record.lay(self.database, self.rig, "strip 99.0", NOON)

    def test_lines_stay_with_the_tape_they_were_shot_with(self) -> None:
        first = self.shop.printed(self.rig)
        self.shot(2, a_mm=1.0)
        second = self.shop.printed(self.rig, 61.0)
        self.assertEqual(self.current().lines, ())
        self.shop.proof(self.rig, 8, 38.0)
        state = self.shop.open(self.rig).prove
        self.assertEqual(len(self.current().lines), 1)
        self.assertEqual([(each.tape.code, len(each.lines)) for each in state.others], [(first, 4)])
        self.assertEqual(set(state.why_aside.values()), {Aside.OTHER_TAPE})
        self.assertEqual(self.current().too_far_m, (78.0,))
        self.assertEqual(self.current().tape.code, second)

    def test_a_strip_of_the_booklet_is_proven_like_a_printed_one(self) -> None:
        strips = (Strip("C", 3.0, 33.0), Strip("F", 6.0, 36.0))
        self.shop.strips(self.rig, Booklet(17.0, 78.0, strips))
        self.assertEqual(self.shop.open(self.rig).prove.tapes, ())
        self.shop.strips(self.rig, Booklet(17.0, 78.0, strips, used="F"))
        chain = self.current()
        self.assertEqual(chain.tape.strip.name, "strip F of the booklet")
        far, near = (chain.tape.strip.place_mm("", d) for d in (78.0, 38.0))
        self.assertGreater(far - near, 15.0)
        for day in range(9):
            for distance in ((47.0, 78.0), (38.0, 61.0))[day % 2]:
                away = -0.12 * chain.tape.strip.place_mm("", distance)
                self.shop.proof(self.rig, day, distance, -away * (0.82 + distance) / 820.0)
        self.assertEqual(self.verdict().kind, VerdictKind.STRETCHED)
        self.assertFalse(record.can_be_marks(self.current()))
        with self.assertRaisesRegex(NotFound, "no line to take over"):
            record.take_over(self.database, self.shop.open(self.rig), NOON)

    def test_a_tape_that_ends_before_what_is_wanted_is_never_called_true(self) -> None:
        self.shop.printed(self.rig, 61.0)
        for day in range(9):
            self.shop.proof(self.rig, day, 26.0)
            self.shop.proof(self.rig, day, 61.0)
        self.assertEqual(self.verdict().kind, VerdictKind.TRUE)
        standing = next(each for each in self.shop.open(self.rig).standings if each.station.key == "prove")
        self.assertNotEqual(standing.word, "true")


class Verdicts(Proving):
    def setUp(self) -> None:
        super().setUp()
        self.code = self.shop.printed(self.rig)

    def test_true(self) -> None:
        self.shot(8)
        self.assertEqual(self.verdict().kind, VerdictKind.TRUE)
        standing = next(each for each in self.shop.open(self.rig).standings if each.station.key == "prove")
        self.assertEqual((standing.state, standing.word, standing.count), ("done", "true", 16))

    def test_what_is_true_is_locked_then_handed_over_and_loosened_by_what_is_done_since(self) -> None:
        self.shot(8)
        state = self.shop.open(self.rig).state.locking
        assert state is not None
        for place, line in enumerate(state.lines):
            rig = self.shop.open(self.rig)
            self.assertEqual((rig.prove_step.code, rig.prove_step.about), ("lock", line.joint.name))
            way = Thread.DRY if line.joint.name == "Pointer" else Thread.MOVABLE
            record.lock(self.database, self.rig, line.joint.name, way, "Ida Fell", NOON + timedelta(minutes=place))
        self.assertEqual(self.shop.open(self.rig).prove_step.code, "spare")
        record.lock(self.database, self.rig, SPARE, Thread.SPARE, "Ida Fell", NOON)
        self.assertEqual(self.shop.open(self.rig).prove_step.code, "hand_over")
        content = CardContent((Section("rig", "Rig", (("name", "x"),)),))
        handover.sign(self.database, self.rig, content, "Ida Fell", "", NOON)
        rig = self.shop.open(self.rig)
        self.assertEqual(rig.prove_step.code, "handed_over")
        self.assertEqual([each.word for each in rig.standings if each.station.key == "prove"], ["handed_over"])
        record.lock(self.database, self.rig, "Rest", Thread.CLEANED, "Ida Fell", NOON + timedelta(hours=2))
        rig = self.shop.open(self.rig)
        self.assertEqual([each.word for each in rig.standings if each.station.key == "prove"], ["true"])
        self.assertEqual((rig.prove_step.code, rig.prove_step.about), ("lock", "Rest"))
        record.lock(self.database, self.rig, "Rest", Thread.MOVABLE, "Ida Fell", NOON + timedelta(hours=3))
        events.happened(self.database, self.rig, ("indicator",), "it slipped", NOON)
        loose = self.shop.open(self.rig).state.locking
        assert loose is not None
        self.assertEqual([line.joint.name for line in loose.lines if line.state == "old"], ["Pointer"])

    def test_a_shift_is_mended_in_one_act_and_begins_a_new_chain(self) -> None:
        self.shot(6, a_mm=2.5)
        self.assertEqual(self.verdict().kind, VerdictKind.SHIFTED)
        self.assertAlmostEqual(self.verdict().shift_alone_mm.value, 2.5, delta=0.3)
        rig = self.shop.open(self.rig)
        laying = self.current().laying
        number = record.mend(self.database, self.rig, record.INDICATOR, laying, "indicator moved 2.5 mm", NOON)
        self.assertEqual(number, rig.revision.number + 1)
        after = self.shop.open(self.rig)
        self.assertEqual(self.current().lines, ())
        self.assertEqual(self.current().tape.code, self.code)
        self.assertEqual(len(after.prove.lines), 12)
        with self.assertRaisesRegex(NotFound, "meanwhile"):
            record.mend(self.database, self.rig, record.INDICATOR, laying, "again", NOON)
        self.assertEqual(self.shop.open(self.rig).revision.number, number)

    def test_a_strip_laid_anew_leaves_the_marks_alone(self) -> None:
        self.shot(6, a_mm=2.5)
        before = len(self.shop.open(self.rig).evaluation.own)
        record.mend(self.database, self.rig, record.STRIP, self.current().laying, "laid anew", NOON)
        after = self.shop.open(self.rig)
        self.assertEqual(len(after.evaluation.own), before)
        self.assertEqual(self.current().lines, ())

    def test_a_stretch_is_taken_over_as_marks_once_each_of_its_day(self) -> None:
        self.shot(9, b=0.08)
        self.assertEqual(self.verdict().kind, VerdictKind.STRETCHED)
        rig = self.shop.open(self.rig)
        self.assertEqual(record.taken_over(rig, self.current().lines), 0)
        self.assertEqual(record.take_over(self.database, rig, NOON), 18)
        again = self.shop.open(self.rig)
        self.assertEqual(record.take_over(self.database, again, NOON), 18)
        rows = self.shop.open(self.rig).log
        self.assertEqual(len(rows), 4 + 18)
        self.assertEqual({row.entered.date() for row in rows[4:]}, {line.day for line in self.current().lines})
        self.assertEqual({row.reads for row in rows[4:]}, {"26", "38", "61", "78"})

    def test_a_stretch_is_taken_over_instead_of_the_marks_where_the_bow_changed(self) -> None:
        self.shop.end(self.rig, "end1", 47.0, dial_mm=36.0)
        self.shot(9, b=0.08)
        record.take_over(self.database, self.shop.open(self.rig), NOON, instead=True)
        rig = self.shop.open(self.rig)
        used = [row.entry for row in rig.evaluation.used if not row.origin]
        self.assertEqual({entry.ruler for entry in used}, {self.code})
        left = [row.entry for row in rig.evaluation.listed if row.entry.left_out]
        self.assertEqual({entry.reason for entry in left if not entry.from_range}, {record.INSTEAD})
        self.assertIn(record.INSTEAD, rig.range_log.ends[0].note)
        self.assertGreaterEqual(len(left), 4)
        self.assertFalse(rig.evaluation.doubtful)

    def test_something_done_to_the_bow_begins_a_new_chain(self) -> None:
        self.shot(4)
        events.happened(self.database, self.rig, ("peep",), "", NOON)
        state = self.shop.open(self.rig).prove
        self.assertEqual(self.current().lines, ())
        self.assertEqual(set(state.why_aside.values()), {Aside.BEFORE})
        events.undo(self.database, self.rig, self.shop.open(self.rig).revision.number, "it was another bow", NOON)
        self.assertEqual(len(self.current().lines), 8)

    def moved(self, key: str, moves: str) -> None:
        revision, when = self.shop.open(self.rig).revision.number, self.shop.now()
        with self.database.writing() as connection:
            range_log.add_move(
                connection, self.rig, Move(key, revision, when, "a control", moves, 1.5, "mm", order=1.0)
            )

    def test_a_pin_that_was_moved_at_the_range_begins_a_new_chain(self) -> None:
        self.shot(4)
        for key, moves in (("m1", "windage"), ("m2", "gang_elevation")):  # the pointer goes with a slider's housing
            self.moved(key, moves)
            self.assertEqual(len(self.current().lines), 8)
        self.moved("m3", "elevation")
        state = self.shop.open(self.rig).prove
        self.assertEqual(self.current().lines, ())
        self.assertEqual([len(each.lines) for each in state.others], [8])
        self.assertTrue(state.others[0].past)
        self.shop.proof(self.rig, 9, 38.0)
        self.assertEqual(len(self.current().lines), 1)

    def test_another_arrow_is_set_aside_and_comes_back(self) -> None:
        self.shot(2)
        full = self.shop.open(self.rig).card
        heavy = replace(full.build, name="heavy", shaft_kg_per_m=0.0192, sessions=())
        other = replace(full, builds=(*full.builds, heavy), in_use=1)
        revision = self.shop.open(self.rig).revision.number
        said = (("arrow", "changed"),)
        from cross_staff.core.rig.staleness import Said

        card.save(self.database, self.rig, revision, other, self.shop.units, NOON, "heavier", Said(meant=said))
        self.shop.proof(self.rig, 5, 38.0, -0.30)
        state = self.shop.open(self.rig).prove
        self.assertEqual(set(state.why_aside.values()), {Aside.OTHER_ARROW})
        self.assertEqual(len(self.current().lines), 4)

    def test_cold_first_shots_are_a_series_of_their_own(self) -> None:
        self.shot(5)
        for day in range(6):
            self.shop.proof(self.rig, day, 61.0, -0.18, cold=True)
        chain = self.current()
        self.assertEqual(len(chain.lines), 10)
        assert chain.cold is not None
        self.assertEqual(chain.cold.lines, 6)
        self.assertAlmostEqual(chain.cold.high_mrad, -0.18 / 61.0 * 1e3, delta=0.3)
        self.assertTrue(chain.cold.real)

    def test_a_knock_that_nobody_said_is_noticed(self) -> None:
        self.shot(4)
        self.shot(4, a_mm=2.5, first=4)
        self.assertEqual(self.verdict().doubt, Doubt.MOVED)
        self.assertEqual(self.verdict().moved_after, (NOON.date() - timedelta(days=27)).isoformat())

    def test_what_lies_beyond_the_tape_is_kept_and_not_counted(self) -> None:
        line = self.shop.proof(self.rig, 1, 110.0, -0.4, dialled_m=78.0)
        self.assertEqual(self.shop.open(self.rig).prove.why_aside[line.key], Aside.OFF_TAPE)

    def test_a_steep_line_counts_as_what_it_is_worth_on_level_ground(self) -> None:
        self.shop.proof(self.rig, 1, 61.0, 0.0, dialled_m=52.0, slope_rad=0.5)
        self.assertLess(self.current().shots[0].distance_m, 56.0)

    def test_lines_that_contradict_each_other_claim_nothing(self) -> None:
        for day, up in enumerate((0.4, -0.4, 0.35, -0.38, 0.41, -0.4)):
            self.shop.proof(self.rig, day, 61.0, up)
        verdict = self.verdict()
        self.assertEqual((verdict.kind, verdict.doubt), (VerdictKind.CANNOT_TELL, Doubt.DAYS))
        self.assertEqual(len(self.current().suspects), 1)


class Log(Proving):
    def setUp(self) -> None:
        super().setUp()
        self.shop.printed(self.rig)

    def test_the_same_line_twice_is_one(self) -> None:
        line = self.shop.proof(self.rig, 1, 38.0, 0.02)
        kept = record.enter(self.database, self.rig, replace(line, entered=self.shop.now()))
        self.assertEqual(kept.line.entry_id, line.entry_id)
        self.assertEqual(len(self.shop.open(self.rig).proof_log), 1)

    def test_a_line_is_changed_and_the_log_keeps_both(self) -> None:
        line = self.shop.proof(self.rig, 1, 38.0, 0.02)
        record.enter(self.database, self.rig, replace(line, up_m=-0.02), line.entry_id)
        rig = self.shop.open(self.rig)
        self.assertEqual([each.up_m for each in rig.proof_log], [0.02, -0.02])
        self.assertEqual([each.up_m for each in self.current().lines], [-0.02])

    def test_of_two_windows_the_second_is_asked(self) -> None:
        line = self.shop.proof(self.rig, 1, 38.0, 0.02)
        record.enter(self.database, self.rig, replace(line, up_m=-0.02), line.entry_id)
        kept = record.enter(self.database, self.rig, replace(line, up_m=0.09), line.entry_id)
        self.assertTrue(kept.refused)
        self.assertEqual(kept.line.up_m, -0.02)

    def test_what_is_taken_back_can_be_put_back(self) -> None:
        line = self.shop.proof(self.rig, 1, 38.0, 0.02)
        record.take_back(self.database, self.rig, line.key, NOON)
        self.assertEqual(self.current().lines, ())
        record.take_back(self.database, self.rig, line.key, NOON, again=True)
        self.assertEqual(len(self.current().lines), 1)
        with self.assertRaisesRegex(NotFound, "no line"):
            record.take_back(self.database, self.rig, "nothing", NOON)

    def test_each_refusal_names_its_field(self) -> None:
        day = NOON.date()
        good = ProofLine("k", 0, NOON, day, 38.0, 38.0, 4, 0.0)
        for field, wrong in (
            ("ranged", replace(good, ranged_m=0.0)),
            ("dialled", replace(good, dialled_m=900.0)),
            ("arrows", replace(good, arrows=0)),
            ("up", replace(good, up_m=9.0)),
            ("up", replace(good, up_m=None)),
            ("right", replace(good, right_m=-7.0)),
            ("slope", replace(good, slope_rad=1.4)),
            ("wind", replace(good, crosswind_mps=80.0)),
            ("day", replace(good, day=day + timedelta(days=9))),
            ("note", replace(good, note="x" * 300)),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as raised:
                record.enter(self.database, self.rig, wrong)
            self.assertEqual(raised.exception.field, field)
        self.assertEqual(self.shop.open(self.rig).proof_log, ())


class Order(Proving):
    def test_a_printed_tape_that_is_good_enough_is_proven_next(self) -> None:
        rig = self.shop.ready()
        self.shop.marks(rig, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0)
        self.shop.marks(rig, 78.0, 61.0)
        before = next_step(self.shop.open(rig).state)
        self.shop.printed(rig)
        after = next_step(self.shop.open(rig).state)
        self.assertEqual(before.station, "tape")
        if before.code == "print_tape":
            self.assertEqual((after.station, after.code), ("prove", "shoot"))

    def test_a_mended_pointer_is_proven_by_the_tape_itself_until_something_else_is_done(self) -> None:
        self.rig = self.shop.ready()
        self.shop.marks(self.rig, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0)
        self.shop.printed(self.rig)
        self.shot(6, a_mm=2.5)
        laying = self.current().laying
        record.mend(self.database, self.rig, record.INDICATOR, laying, "proof: the pointer moved 2.5 mm", NOON)
        step = next_step(self.shop.open(self.rig).state)
        self.assertEqual((step.station, step.code), ("prove", "shoot"))
        events.happened(self.database, self.rig, ("peep",), "", NOON)
        self.assertNotEqual(next_step(self.shop.open(self.rig).state).station, "prove")


if __name__ == "__main__":
    unittest.main()
