from dataclasses import replace

from cross_staff.core.errors import NotFound
from cross_staff.core.rig.events import ALL_MARKS
from cross_staff.core.tape.layout import Wanted
from cross_staff.services import events
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from tests.data import WithDatabase
from tests.rigs import NOON, full_card, true_mark


class Rows(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()

    def save(self, *edits: RowEdit) -> list[tape.Outcome]:
        return tape.save_rows(self.database, self.rig_id, edits, NOON)

    def log(self) -> list:
        return list(open_rig(self.database, self.rig_id).log)

    def test_rows_are_kept_and_untouched_ones_write_nothing(self) -> None:
        first, second = self.save(RowEdit(17.0, 20.0), RowEdit(61.0, 44.0, -0.03, 6))
        self.assertEqual((first.entry.line, second.entry.line), (1, 2))
        self.save(
            RowEdit(17.0, 20.0, line=1, base=first.entry.entry_id),
            RowEdit(61.0, 44.2, -0.03, 6, line=2, base=second.entry.entry_id),
        )
        self.assertEqual([e.mark_mm for e in self.log()], [20.0, 44.0, 44.2])

    def test_a_row_changed_in_two_windows_is_a_conflict_that_loses_nothing(self) -> None:
        base = self.save(RowEdit(17.0, 20.0))[0].entry.entry_id
        self.assertFalse(self.save(RowEdit(17.0, 20.6, line=1, base=base))[0].conflict)
        late = self.save(RowEdit(17.0, 21.3, line=1, base=base))[0]
        self.assertTrue(late.conflict)
        self.assertEqual(late.entry.mark_mm, 20.6)
        again = self.save(RowEdit(17.0, 21.3, line=1, base=late.entry.entry_id))[0]
        self.assertFalse(again.conflict)
        self.assertEqual([e.mark_mm for e in self.log()], [20.0, 20.6, 21.3])

    def test_a_new_row_sent_twice_is_one_row(self) -> None:
        self.save(RowEdit(17.0, 20.0, key="a1"))
        self.save(RowEdit(17.0, 20.0, key="a1"), RowEdit(61.0, 44.0, key="b2"))
        self.assertEqual([(e.line, e.mark_mm) for e in self.log()], [(1, 20.0), (2, 44.0)])
        fuller = self.save(RowEdit(17.0, 20.0, None, 6, key="a1"))[0]
        self.assertEqual((fuller.conflict, fuller.entry.line, fuller.entry.arrows), (False, 1, 6))
        joined = self.save(RowEdit(17.0, 23.0, key="a1"))[0]
        self.assertEqual((joined.joined, joined.entry.mark_mm, joined.entry.arrows), (True, 23.0, 6))
        late = self.save(RowEdit(17.0, 24.0, key="a1"))[0]
        self.assertEqual((late.conflict, late.entry.mark_mm), (True, 23.0))

    def test_an_untouched_row_of_a_stale_window_is_no_conflict(self) -> None:
        base = self.save(RowEdit(17.0, 20.0))[0].entry.entry_id
        self.save(RowEdit(17.0, 20.6, line=1, base=base))
        stale = self.save(RowEdit(17.0, 20.0, line=1, base=base))[0]
        self.assertFalse(stale.conflict)
        self.assertEqual(stale.entry.mark_mm, 20.6)

    def test_undo_goes_back_by_going_on(self) -> None:
        base = self.save(RowEdit(17.0, 20.0))[0].entry
        changed = self.save(RowEdit(17.0, 25.0, line=1, base=base.entry_id))[0].entry
        with self.assertRaisesRegex(NotFound, "changed again"):
            tape.undo(self.database, self.rig_id, base.entry_id, NOON)
        tape.undo(self.database, self.rig_id, changed.entry_id, NOON)
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual([row.entry.mark_mm for row in rig.evaluation.rows], [20.0])
        self.assertEqual(len(rig.log), 3)
        with self.assertRaisesRegex(NotFound, "no entry 99"):
            tape.undo(self.database, self.rig_id, 99, NOON)

    def test_taking_out_and_putting_back(self) -> None:
        base = self.save(RowEdit(17.0, 20.0))[0].entry.entry_id
        gone = self.save(RowEdit(17.0, 20.0, removed=True, line=1, base=base))[0].entry
        self.assertEqual(open_rig(self.database, self.rig_id).evaluation.rows, ())
        tape.undo(self.database, self.rig_id, gone.entry_id, NOON)
        self.assertEqual(len(open_rig(self.database, self.rig_id).evaluation.rows), 1)

    def test_a_changed_arrow_sets_marks_aside_until_they_are_confirmed(self) -> None:
        self.save(RowEdit(17.0, 20.0), RowEdit(61.0, true_mark(61.0)))
        heavier = replace(full_card().build, shaft_kg_per_m=0.0180)
        saved = card.save(self.database, self.rig_id, 2, full_card(build=heavier), {}, NOON, "new shafts")
        self.assertTrue("tape" in saved.stale)
        self.assertEqual(open_rig(self.database, self.rig_id).evaluation.own, ())
        self.assertEqual(events.take_up(self.database, self.rig_id, ALL_MARKS, "the same flight", NOON), 4)
        self.assertEqual(len(open_rig(self.database, self.rig_id).evaluation.own), 2)
        self.assertEqual([e.revision for e in self.log()], [2, 2])

    def test_leaving_an_old_mark_out_does_not_make_it_new(self) -> None:
        base = self.save(RowEdit(17.0, 20.0))[0].entry.entry_id
        card.save(self.database, self.rig_id, 2, full_card(eye_to_sight_m=0.80), {}, NOON)
        entry = self.save(RowEdit(17.0, 20.0, left_out=True, line=1, base=base, reason="shot in gusts"))[0].entry
        self.assertEqual(entry.revision, 2)

    def test_reading_the_scale_the_other_way_is_a_revision(self) -> None:
        tape.read_scale_other_way(self.database, self.rig_id, NOON)
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual((rig.revision.number, rig.card.tape.scale_grows), (3, False))
        self.assertIn("other way", rig.revision.why)

    def test_the_printed_tapes_are_the_fitted_one_and_its_neighbours(self) -> None:
        self.save(RowEdit(17.0, 20.0), RowEdit(61.0, true_mark(61.0)))
        rig = open_rig(self.database, self.rig_id)
        beside = tape.tapes_to_print(rig, Wanted(17.0, 95.0))
        assert beside.nearer and beside.farther and beside.edges and rig.evaluation.fit
        near, fitted, far = (each[0].ticks[-1].position_mm for each in (beside.nearer, beside.fitted, beside.farther))
        self.assertAlmostEqual(far - fitted, fitted - near)
        self.assertAlmostEqual(far - fitted, beside.edges.end_mm, places=6)
        gradient = rig.evaluation.fit.sensitivities([rig.card.distance_from_sight(d) for d in (17.0, 95.0)])[1]
        apart = gradient[1] - gradient[0]
        self.assertAlmostEqual(far - fitted, 1.96 * float(apart @ rig.evaluation.fit.covariance @ apart) ** 0.5)
