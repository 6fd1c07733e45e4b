"""An archer's bows tell of one another."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import DAY_PART
from cross_staff.services import bench
from cross_staff.services.bench import Asked
from cross_staff.services.card import save as cards
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape.record import RowEdit, save_rows
from tests.data import WithDatabase
from tests.rigs import NOON, full_card, true_mark


class Archer(WithDatabase):
    def days(self, card: RigCard, off_mm: float) -> int:
        """A rig shot on three days, that come in high and low by so much on the tape at 61 m."""
        number = self.add_rig(card)
        for day in range(3):
            rows = [RowEdit(d, true_mark(d) + off_mm * (day - 1) * d / 61.0, arrows=12) for d in (17.0, 38.0, 61.0)]
            save_rows(self.database, number, rows, NOON + timedelta(days=day))
        return number

    def part(self, number: int) -> float:
        scatter = self.rig(number).evaluation.scatter
        assert scatter
        return scatter.day_mrad / scatter.spread_mrad

    def rig(self, number: int) -> Rig:
        return open_rig(self.database, number)

    def test_another_bow_of_the_same_archer_begins_with_what_his_days_do(self) -> None:
        fresh = self.add_rig(full_card(name="second bow"))
        self.assertAlmostEqual(self.part(fresh), DAY_PART)
        self.days(full_card(), 1.2)
        learned = self.part(fresh)
        self.assertGreater(learned, 1.3 * DAY_PART)
        stranger = self.add_rig(full_card(name="third bow", archer="Sela Brandt"))
        self.assertAlmostEqual(self.part(stranger), DAY_PART)
        nobody = self.add_rig(full_card(name="fourth bow", archer=""))
        self.assertAlmostEqual(self.part(nobody), DAY_PART)

    def test_days_alike_make_the_next_bows_days_narrower(self) -> None:
        fresh = self.add_rig(full_card(name="second bow"))
        self.days(full_card(), 0.0)
        self.assertLess(self.part(fresh), 0.95 * DAY_PART)

    def test_a_spread_that_nobody_stated_is_that_of_his_other_bow(self) -> None:
        card = full_card(name="second bow")
        unsaid = self.add_rig(replace(card, goals=replace(card.goals, group_size_m=None, group_at_m=None)))
        before = self.rig(unsaid).evaluation.scatter
        self.add_rig(full_card())
        after = self.rig(unsaid).evaluation.scatter
        assert before and after
        self.assertEqual((before.other_bows, after.other_bows), (False, True))
        self.assertAlmostEqual(after.spread_mrad, full_card().goals.spread_mrad or 0.0)

    def test_the_bench_says_what_the_page_says(self) -> None:
        """What one bow learns makes the line of the other one old."""
        fresh = self.add_rig(full_card(name="second bow"))
        save_rows(self.database, fresh, [RowEdit(17.0, true_mark(17.0)), RowEdit(47.0, true_mark(47.0))], NOON)
        bench.bench(self.database, Asked())
        other = self.days(full_card(), 1.5)
        lines = {line.rig_id: line for line in bench.bench(self.database, Asked()).lines}
        for number in (fresh, other):
            summary = lines[number].summary
            assert summary
            self.assertEqual(summary.standings, self.rig(number).standings)

    def test_what_tells_nothing_new_leaves_the_rig_as_it_was_worked_out(self) -> None:
        fresh, other = self.add_rig(full_card(name="second bow")), self.days(full_card(), 1.2)
        before = self.rig(fresh)
        bench.archive(self.database, other)
        self.assertIs(self.rig(fresh), before)
        row = RowEdit(47.0, true_mark(47.0) + 3.0, arrows=12)
        save_rows(self.database, other, [row], NOON + timedelta(days=4))
        self.assertIsNot(self.rig(fresh), before)

    def test_a_bow_that_went_to_somebody_else_tells_nothing_of_him(self) -> None:
        fresh = self.add_rig(full_card(name="second bow"))
        sold = self.days(full_card(), 1.2)
        self.assertGreater(self.part(fresh), 1.2 * DAY_PART)
        card = self.rig(sold).card
        cards.save(self.database, sold, self.rig(sold).revision.number, replace(card, archer="Sela Brandt"), {}, NOON)
        self.assertAlmostEqual(self.part(fresh), DAY_PART)
