from __future__ import annotations

import unittest
from datetime import UTC, date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from cross_staff.services.keeping.nights import DAYS, WEEKS, kept, last_night, name_of, night_of

_NIGHTS = st.sets(st.dates(date(2025, 1, 1), date(2027, 1, 1)), max_size=80)


class Nights(unittest.TestCase):
    def test_the_night_turns_at_three(self) -> None:
        at = datetime(2026, 11, 27, tzinfo=UTC)
        self.assertEqual(last_night(at + timedelta(hours=2, minutes=59)), date(2026, 11, 26))
        self.assertEqual(last_night(at + timedelta(hours=3)), date(2026, 11, 27))

    def test_a_backup_is_known_by_its_name_alone(self) -> None:
        self.assertEqual(night_of(name_of(date(2026, 11, 27))), date(2026, 11, 27))
        for name in ("cross-staff.sqlite3", "cross-staff-before-0012.sqlite3", "cross-staff-2026-13-40.sqlite3", "x"):
            self.assertIsNone(night_of(name))

    def test_of_a_year_of_nights_seven_days_and_five_weeks_stay(self) -> None:
        today = date(2026, 11, 27)  # a Friday
        every = [today - timedelta(days=n) for n in range(365)]
        stay = sorted(kept(every), reverse=True)
        self.assertEqual(stay[:7], every[:7])
        self.assertEqual(stay[7:], [date(2026, 11, 15), date(2026, 11, 8), date(2026, 11, 1)])

    def test_night_after_night_it_comes_to_the_same(self) -> None:
        there: set[date] = set()
        for n in range(120):
            there = set(kept({*there, date(2026, 1, 1) + timedelta(days=n)}))
        self.assertEqual(there, set(kept(date(2026, 1, 1) + timedelta(days=n) for n in range(120))))

    @given(_NIGHTS)
    def test_the_newest_stay_and_never_too_many(self, nights: set[date]) -> None:
        stay = kept(nights)
        self.assertLessEqual(set(sorted(nights, reverse=True)[:DAYS]), stay)
        self.assertLessEqual(len(stay), DAYS + WEEKS)
        self.assertLessEqual(stay, nights)
        self.assertEqual(kept(stay), stay)


if __name__ == "__main__":
    unittest.main()
