"""The booklet on a rig: kept as a revision, matched by side, and what another detent would do."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.rig.card import Mount
from cross_staff.core.tape.booklet import own_span
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import booklet
from tests.data import WithDatabase
from tests.rigs import NOON, full_card


class Kept(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        card = full_card()
        sight = replace(card.sight, extension_mm=(0.0, 15.0, 30.0))
        self.rig_id = self.add_rig(replace(card, sight=sight, mount=Mount(detent=1)))
        figures = open_rig(self.database, self.rig_id).figures
        assert figures
        self.own = own_span(figures, 17.0, 95.0)

    def keep(self, *strips: Strip, **changes: object) -> None:
        kept = replace(Booklet(17.0, 95.0, strips), **changes)  # type: ignore[arg-type]
        booklet.keep(self.database, self.rig_id, kept, NOON)

    def test_strips_are_a_revision_and_the_same_again_is_none(self) -> None:
        self.keep(Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        self.assertEqual(open_rig(self.database, self.rig_id).revision.number, 3)
        self.keep(Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        self.assertEqual(open_rig(self.database, self.rig_id).revision.number, 3)

    def test_the_best_strip_and_its_place(self) -> None:
        self.keep(Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.best
        self.assertEqual(matched.best.label, "5")
        self.assertAlmostEqual(matched.sides[0].exact_order, 5.0, places=6)
        self.assertLess(abs(matched.best.up_m or 1.0), 1e-3)

    def test_the_extension_can_make_a_strip_exact(self) -> None:
        figures = open_rig(self.database, self.rig_id).figures
        assert figures
        out = own_span(replace(figures, eye_to_sight_m=figures.eye_to_sight_m + 0.015), 17.0, 95.0)
        self.keep(Strip("a", 1, out), Strip("b", 2, out + 6.0))
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.best
        detents = dict(matched.detents)
        self.assertEqual((sorted(detents), detents[2].label), ([0, 2], "a"))
        self.assertLess(abs(detents[2].up_m or 1.0), 1e-3)
        self.assertGreater(abs(matched.best.up_m or 0.0), 0.03)

    def test_two_sides_are_matched_by_themselves(self) -> None:
        front = [Strip("1", 1, self.own - 3.0, "front"), Strip("2", 2, self.own + 3.0, "front")]
        back = [Strip("A", 1, self.own + 0.1, "back"), Strip("B", 2, self.own + 9.0, "back")]
        self.keep(*front, *back)
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.best
        self.assertEqual((len(matched.sides), matched.best.label, matched.best.side), (2, "A", "back"))

    def test_what_contradicts_itself_is_refused_and_nothing_written(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "contradict"):
            self.keep(Strip("1", 1, 40.0), Strip("2", 2, 44.0), Strip("3", 3, 43.0))
        with self.assertRaisesRegex(InvalidValue, "farther"):
            self.keep(Strip("1", 1, 40.0), Strip("2", 2, 44.0), to_m=12.0)
        self.assertEqual(open_rig(self.database, self.rig_id).revision.number, 2)

    def test_edges_whose_labels_go_on_are_one_row(self) -> None:
        self.keep(Strip("3", 3, self.own - 2.0, "left"), Strip("8", 8, self.own + 3.0, "right"))
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.best
        self.assertEqual((len(matched.sides), matched.best.label), (1, "5"))

    def test_labels_are_called_as_they_are_listed(self) -> None:
        self.keep(Strip("K", 2, self.own - 2.0), Strip("B", 4, self.own), labels=tuple("XKZBQ"))
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.best
        self.assertEqual(matched.best.label, "B")
        self.assertLessEqual({c.label for c in matched.choices}, set("XKZBQ"))  # there are no others

    def test_without_a_mark_many_may_be_the_right_one(self) -> None:
        self.keep(Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        rig = open_rig(self.database, self.rig_id)
        matched = booklet.matched(rig)
        assert matched and matched.cut
        self.assertGreater(len(matched.cut.rivals), 1)
        sure = rig.evaluation.fit.tape([95.0])[0].sd_on_target_m
        self.assertEqual(matched.cut.sd_m, sure)

    def test_what_was_cut_stays_on_the_record(self) -> None:
        strips = (Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        for used in ("5", "6", ""):
            self.keep(*strips, used=used)
        told = booklet.cut_before(open_rig(self.database, self.rig_id))
        self.assertEqual([(each.label, each.build) for each in told], [("5", "slim"), ("6", "slim")])

    def test_what_the_strip_on_the_sight_leaves(self) -> None:
        strips = (Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0))
        self.keep(*strips, used="7")
        matched = booklet.matched(open_rig(self.database, self.rig_id))
        assert matched and matched.used
        self.assertEqual(matched.used.choice.label, "7")
        self.keep(*strips, used="red")
        again = booklet.matched(open_rig(self.database, self.rig_id))
        assert again
        self.assertIsNone(again.used)

    def test_one_strip_matches_nothing_yet(self) -> None:
        self.keep(Strip("1", 1, 40.0))
        self.assertIsNone(booklet.matched(open_rig(self.database, self.rig_id)))

    def test_cutting_a_strip_makes_no_mark_old(self) -> None:
        self.keep(Strip("4", 4, self.own - 1.0), Strip("9", 9, self.own + 4.0), used="5")
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual(rig.revision.why, "strip 5 was cut")
        self.assertEqual(rig.evaluation.old, ())
