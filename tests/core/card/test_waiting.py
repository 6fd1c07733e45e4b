import unittest
from dataclasses import replace
from datetime import date

from cross_staff.core.card.waiting import KEY, STATION, check_entry, waiting
from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry
from tests.rigs import NOON, full_card

ENTRY = BenchEntry(STATION, KEY, 1, NOON, choice="2026-12-03", note="cables, 38 in, ordered again")


class WaitingForParts(unittest.TestCase):
    def test_the_newest_holds_until_it_came(self) -> None:
        self.assertIsNone(waiting([]))
        held = waiting([ENTRY, replace(ENTRY, note="the peep", choice="")])
        self.assertEqual((held.what, held.until, held.since), ("the peep", None, NOON))
        self.assertEqual(waiting([ENTRY]).until, date(2026, 12, 3))
        self.assertIsNone(waiting([ENTRY, replace(ENTRY, removed=True)]))

    def test_what_cannot_be(self) -> None:
        check_entry(full_card(), ENTRY)
        check_entry(full_card(), replace(ENTRY, choice=""))
        check_entry(full_card(), replace(ENTRY, note="x" * 120))
        for wrong, error in (
            (replace(ENTRY, note=" "), "waits_for"),
            (replace(ENTRY, note="x" * 121), "waits_for"),
            (replace(ENTRY, choice="soon"), "until"),
        ):
            with self.assertRaises(InvalidValue) as refused:
                check_entry(full_card(), wrong)
            self.assertEqual(refused.exception.field, error)
        with self.assertRaises(NotFound):
            check_entry(full_card(), replace(ENTRY, key="name"))
