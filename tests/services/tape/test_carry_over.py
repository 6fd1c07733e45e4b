"""The last tape that was shot, carried over: found through the revisions, asked of another build."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import carry_over as change
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from tests.data import WithDatabase
from tests.rigs import NOON, full_card, true_mark


class Changes(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        full = full_card()
        heavy = replace(full.build, name="heavy", shaft_kg_per_m=0.0200, sessions=())
        self.rig_id = self.add_rig(replace(full, builds=(*full.builds, heavy)))
        rows = [RowEdit(d, true_mark(d), arrows=6) for d in (17.0, 38.0, 61.0)]
        tape.save_rows(self.database, self.rig_id, rows, NOON)

    def test_without_marks_there_is_nothing_to_carry(self) -> None:
        self.assertIsNone(change.before(open_rig(self.database, self.add_rig())))

    def test_another_build_of_the_card(self) -> None:
        rig = open_rig(self.database, self.rig_id)
        was = change.before(rig)
        assert was
        self.assertEqual(was.revision, 2)
        seen = change.outlook(was, change.wanted_card(rig, was, 1, None), [17.0, 61.0, 95.0], rig.setting)
        assert rig.reach and rig.reach.arrow_m is None
        self.assertEqual(seen.reach.unknown, rig.reach.unknown)
        self.assertLess(seen.changed.speed_now_mps, seen.changed.speed_then_mps)
        self.assertLess(seen.rows[-1].up_m or 0.0, -0.1)
        self.assertEqual(seen.confirm[0].distance_m, 17.0)
        self.assertEqual(len(seen.confirm), 2)

    def test_every_arrow_by_the_others_tape(self) -> None:
        """A heavy arrow by the light one's tape comes in low, and the light one by the heavy one's as much high."""
        rig = open_rig(self.database, self.rig_id)
        was = change.before(rig)
        assert was
        made = {(each.shot, each.tape): each.up_m for each in change.side_by_side(rig, was, [17.0, 61.0, 95.0])}
        self.assertEqual(set(made), {(0, 1), (1, 0)})
        for low, high in zip(made[1, 0], made[0, 1]):
            assert low is not None and high is not None
            self.assertLess(low, 0.0)
            self.assertAlmostEqual(low, -high, delta=0.15 * abs(low))
        self.assertLess(made[1, 0][2], made[1, 0][0])

    def test_an_arrow_whose_mass_nobody_knows_is_left_out(self) -> None:
        full = open_rig(self.database, self.rig_id).card
        card.save(self.database, self.rig_id, 2, replace(full, builds=(*full.builds, ArrowBuild("bare"))), {}, NOON)
        rig = open_rig(self.database, self.rig_id)
        was = change.before(rig)
        assert was
        self.assertEqual({each.shot for each in change.side_by_side(rig, was, [17.0])}, {0, 1})

    def test_marks_of_the_other_arrow_count_for_this_one(self) -> None:
        full = open_rig(self.database, self.rig_id).card
        card.save(self.database, self.rig_id, 2, replace(full, in_use=1), {}, NOON)
        rig = open_rig(self.database, self.rig_id)
        evaluation = rig.evaluation
        self.assertEqual((len(evaluation.used), evaluation.own, evaluation.good_to_m), (3, (), None))
        tape.save_rows(self.database, self.rig_id, [RowEdit(17.0, 21.0, arrows=6)], NOON)
        again = open_rig(self.database, self.rig_id).evaluation
        self.assertEqual((len(again.used), len(again.own)), (4, 1))
        self.assertIsNotNone(again.good_to_m)
        card.save(self.database, self.rig_id, 3, full, {}, NOON)  # and back
        back = open_rig(self.database, self.rig_id).evaluation
        self.assertEqual((len(back.used), len(back.own)), (4, 3))

    def test_the_same_arrow_is_no_change(self) -> None:
        rig = open_rig(self.database, self.rig_id)
        was = change.before(rig)
        assert was
        with self.assertRaisesRegex(InvalidValue, "what the marks were shot with"):
            change.wanted_card(rig, was, None, None)

    def test_after_the_change_the_old_tape_is_found_again(self) -> None:
        rig = open_rig(self.database, self.rig_id)
        card.save(self.database, self.rig_id, 2, replace(rig.card, in_use=1), {}, NOON, "heavier arrows")
        now = open_rig(self.database, self.rig_id)
        self.assertFalse(now.evaluation.own)
        was = change.before(now)
        assert was and was.evaluation.fit
        self.assertEqual((was.revision, len(was.evaluation.used)), (2, 3))
        seen = change.outlook(was, change.wanted_card(now, was, None, None), [61.0], rig.setting)
        self.assertLess(seen.rows[0].up_m or 0.0, 0.0)
