"""What the pages say of days, and of an archer of whom nobody said how wide he shoots."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import timedelta
from html import unescape

from cross_staff.core.rig.pins import Pins
from cross_staff.core.tape.comparison import days
from cross_staff.core.tape.station import evaluate
from cross_staff.services.card import save as cards
from cross_staff.web.forms.units import Units
from cross_staff.web.tape import trust_words
from tests.rigs import NOON, entry, full_card, true_mark
from tests.web.client import WithClient
from tests.web.tape.test_tape import table


class Days(WithClient):
    def page(self, number: int) -> str:
        text = unescape(self.client.get(f"/rigs/{number}/tape").text).replace("\u00a0", " ")
        return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", text))

    def test_nobody_said_how_wide_this_archer_groups(self) -> None:
        number = self.add_rig()
        card = full_card()
        unsaid = replace(card, goals=replace(card.goals, group_size_m=None, group_at_m=None))
        said = "Nobody said how wide this archer groups"
        self.client.post(f"/rigs/{number}/tape", data=table(("17", "20"), ("61", "44.3", "-3", "6")))
        self.assertNotIn(said, self.page(number))
        cards.save(self.database, number, 2, unsaid, {}, NOON)
        self.assertIn(said, self.page(number))

    def test_each_day_is_said_with_what_it_set_its_arrows_off_by(self) -> None:
        rows = [entry(n, d, true_mark(d)) for n, d in enumerate((17.0, 38.0, 61.0), 1)]
        late = [replace(entry(n, d, true_mark(d) + 1.5), entered=NOON + timedelta(days=2)) for n, d in
                enumerate((17.0, 38.0, 61.0), 4)]  # fmt: skip
        said = trust_words.days(days(evaluate(full_card(), [*rows, *late])), Units.of({}))
        self.assertRegex(said[0].replace("\u00a0", " "), r"^2026-11-24: 3 marks, [\d.]+ cm high ± [\d.]+ cm at 61 m")
        self.assertRegex(said[1].replace("\u00a0", " "), r"^2026-11-26: 3 marks, [\d.]+ cm low .*more than days do")
        self.assertEqual(trust_words.days(days(evaluate(full_card(), rows)), Units.of({})), [])

    def test_another_day_is_said_to_tell_more_where_it_does(self) -> None:
        rows = [entry(n, d, true_mark(d), arrows=6) for n, d in enumerate((17.0, 38.0, 61.0, 78.0, 90.0) * 3, 1)]
        evaluation = evaluate(full_card(), rows)
        said = trust_words.another_day(evaluation, 95.0, Units.of({}))
        self.assertRegex(
            said.replace("\u00a0", " "), r"^Another day tells more: 6 arrows at \d+ m .* 20 more on the day"
        )
        best, same = evaluation.next_shot, evaluation.same_day
        assert best and same
        alike = replace(evaluation, same_day=best)
        self.assertEqual(trust_words.another_day(alike, 95.0, Units.of({})), "")
        self.assertEqual(trust_words.another_day(replace(evaluation, next_shot=None), 95.0, Units.of({})), "")

    def test_a_dialled_pin_that_nobody_shot_is_said(self) -> None:
        """The tape of such a pin takes for granted where it stands; a shot of it promises no "good to" before."""
        rows = [entry(n, d, true_mark(d), arrows=6) for n, d in enumerate((17.0, 38.0), 1)]
        card = full_card()
        card = replace(card, sight=replace(card.sight, kind="multi_pin_slider"))
        pins = Pins((17.0, 30.0, 40.0), 2)
        evaluation = evaluate(card, rows, pins=pins)
        self.assertIn("Nobody shot the low pin", trust_words.unshot(card, evaluation, Units.of({})))
        self.assertIn("right for 40", trust_words.unshot(card, evaluation, Units.of({})).replace("\u00a0", " "))
        self.assertIsNone(evaluation.then_good_to_m)
        near = replace(card, goals=replace(card.goals, farthest_m=45.0, distances_m=()))
        self.assertFalse(evaluate(near, rows, pins=pins).good_enough)
        self.assertTrue(evaluate(near, rows).good_enough)
        shot = evaluate(card, [*rows, replace(entry(3, 61.0, true_mark(61.0) - 12.0, arrows=6), pin=2)], pins=pins)
        self.assertEqual(trust_words.unshot(card, shot, Units.of({})), "")
        self.assertEqual(trust_words.unshot(card, evaluate(card, [], pins=pins), Units.of({})), "")
