"""Sessions of real rigs, the light of a day, calendars of any zone, what is kept."""

import unittest
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.plan.days import RigDays, ShopHours, check_shop
from cross_staff.core.plan.planner import Hours, Moved, Span
from cross_staff.core.plan.sessions import sessions
from cross_staff.core.shop.people import Role
from cross_staff.services import events
from cross_staff.services.plan import page as service
from cross_staff.services.plan.daylight import light_of, zone_of
from cross_staff.services.plan.ics import busy_times
from cross_staff.services.rig import open_rig
from cross_staff.services.shop import people
from tests.data import WithDatabase

NOW = datetime(2026, 11, 30, 8, 0, tzinfo=UTC)
PLACE = {"latitude_deg": 54.4, "longitude_deg": -2.9, "zone": "Europe/London"}
ALL_WEEK = tuple(Hours(day, 8 * 60, 20 * 60) for day in range(7))


def event(*lines: str) -> bytes:
    body = (
        "BEGIN:VCALENDAR",
        "VERSION:2.0",
        "PRODID:test",
        "BEGIN:VEVENT",
        "UID:1",
        *lines,
        "END:VEVENT",
        "END:VCALENDAR",
    )
    return "\r\n".join(body).encode()


class Calendars(unittest.TestCase):
    def spans(self, *lines: str, zone: str = "Europe/London") -> list[tuple[str, str]]:
        found = busy_times(event(*lines), ZoneInfo(zone), NOW)
        return [(each.start.isoformat(timespec="minutes"), each.end.isoformat(timespec="minutes")) for each in found]

    def test_an_event_of_another_zone(self) -> None:
        lines = ("DTSTART;TZID=America/Denver:20261201T080000", "DTEND;TZID=America/Denver:20261201T093000")
        self.assertEqual(self.spans(*lines), [("2026-12-01T15:00", "2026-12-01T16:30")])

    def test_utc_and_no_zone_at_all(self) -> None:
        self.assertEqual(
            self.spans("DTSTART:20261201T080000Z", "DURATION:PT45M"), [("2026-12-01T08:00", "2026-12-01T08:45")]
        )
        self.assertEqual(
            self.spans("DTSTART:20261201T080000", "DTEND:20261201T090000", zone="Europe/Vienna"),
            [("2026-12-01T07:00", "2026-12-01T08:00")],
        )

    def test_whole_days(self) -> None:
        self.assertEqual(
            self.spans("DTSTART;VALUE=DATE:20261224", "DTEND;VALUE=DATE:20261227"),
            [("2026-12-24T00:00", "2026-12-27T00:00")],
        )

    def test_every_week_over_the_change_of_the_clock_and_not_what_is_left_out(self) -> None:
        zone = "Europe/London"
        lines = (
            f"DTSTART;TZID={zone}:20260902T180000", f"DTEND;TZID={zone}:20260902T200000",
            "RRULE:FREQ=WEEKLY;UNTIL=20261216T235959Z", f"EXDATE;TZID={zone}:20261209T180000",
        )  # fmt: skip
        self.assertEqual([start for start, _ in self.spans(*lines)],
                         ["2026-11-18T18:00", "2026-11-25T18:00", "2026-12-02T18:00", "2026-12-16T18:00"])  # fmt: skip

    def test_free_cancelled_or_of_no_length_takes_nothing(self) -> None:
        for lines in (("TRANSP:TRANSPARENT",), ("STATUS:CANCELLED",)):
            self.assertEqual(self.spans("DTSTART:20261201T080000Z", "DURATION:PT45M", *lines), [])
        self.assertEqual(self.spans("DTSTART:20261201T080000Z"), [])

    def test_what_comes_again_every_second_is_not_counted_for_ever(self) -> None:
        for often in ("SECONDLY", "MINUTELY"):
            with self.assertRaisesRegex(InvalidValue, "too often"):
                self.spans("DTSTART:20100101T080000Z", "DURATION:PT1M", f"RRULE:FREQ={often}")
        years = self.spans("DTSTART:19700101T080000Z", "DURATION:PT45M", "RRULE:FREQ=DAILY")
        self.assertGreater(len(years), 90)

    def test_what_is_no_calendar(self) -> None:
        for odd in (b"", b"hello", b"\xff\xfe\x00", event("DTSTART:yesterday"), b"BEGIN:VCALENDAR\r\nEND:VEVENT"):
            with self.assertRaisesRegex(InvalidValue, "no calendar file"):
                busy_times(odd, UTC, NOW)


class Daylight(unittest.TestCase):
    def test_short_in_december_long_in_june(self) -> None:
        light = light_of(ShopHours(**PLACE))  # type: ignore[arg-type]
        winter, summer = light(date(2026, 12, 21)), light(date(2026, 6, 21))
        assert winter is not None and summer is not None
        # almanac for 54.4 N, 2.9 W: sunrise 08:28, sunset 15:47 GMT; 04:35, 21:50 BST
        for found, told in zip((*winter, *summer), (508, 947, 275, 1310)):
            self.assertAlmostEqual(found, told, delta=6)

    def test_where_the_sun_does_not_rise_or_set(self) -> None:
        north = light_of(ShopHours(latitude_deg=78.0, longitude_deg=15.0, zone="Europe/Oslo"))
        self.assertIsNone(north(date(2026, 12, 21)))
        self.assertEqual(north(date(2026, 6, 21)), (0, 24 * 60))

    def test_nobody_said_where_it_is(self) -> None:
        self.assertIsNotNone(light_of(ShopHours())(date(2026, 12, 21)))

    def test_zones_and_places_that_are_none(self) -> None:
        for odd in ("Mars/Base", "../etc/passwd", "Europe"):
            with self.assertRaises(InvalidValue):
                zone_of(ShopHours(zone=odd))
        for hours in (ShopHours(latitude_deg=91.0, longitude_deg=0.0), ShopHours(latitude_deg=1.0),
                      ShopHours(latitude_deg=1.0, longitude_deg=999.0), ShopHours((Hours(0, 60, 30),))):  # fmt: skip
            with self.assertRaises(InvalidValue):
                check_shop(hours)


class Plans(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        service.open_hours(self.database, ShopHours(ALL_WEEK, **PLACE), NOW)  # type: ignore[arg-type]

    def test_a_rig_s_way_from_the_bench_to_the_hand_over(self) -> None:
        rig = self.add_rig()
        keys = [each.key for each in sessions(open_rig(self.database, rig).state)]
        self.assertEqual((keys[0], keys[-2:]), ("tune", ["lock", "hand_over"]))
        self.assertIn("mount", keys)
        self.assertIn("tape day 2", keys)
        made = service.shop_plan(self.database, NOW).plans[rig]
        self.assertEqual([each.session.key for each in made.placed if each.session.key != "slope"],
                         [key for key in keys if key != "slope"])  # fmt: skip

    def test_what_is_moved_stays_and_is_let_go_again(self) -> None:
        rig = self.add_rig()
        to = Moved(datetime(2026, 12, 3, 14, 0))
        service.move(self.database, rig, "tune", to, NOW)
        placed = {each.session.key: each for each in service.shop_plan(self.database, NOW).plans[rig].placed}
        self.assertEqual((placed["tune"].start, placed["tune"].by_hand), (to.start, True))
        self.assertGreaterEqual(placed["mount"].start, placed["tune"].span.end)
        service.move(self.database, rig, "tune", None, NOW)
        placed = {each.session.key: each for each in service.shop_plan(self.database, NOW).plans[rig].placed}
        self.assertFalse(placed["tune"].by_hand)
        with self.assertRaises(InvalidValue):
            service.move(self.database, rig, "tune", Moved(datetime(1, 1, 1)), NOW)
        with self.assertRaises(NotFound):
            service.move(self.database, 99, "tune", to, NOW)

    def test_free_hours_and_busy_times(self) -> None:
        rig = self.add_rig()
        people.add(self.database, "Ida Fell", Role.TECHNICIAN, "4711", NOW)
        service.free(self.database, rig, RigDays((Hours(5, 8 * 60, 20 * 60),)), NOW)
        tune = service.shop_plan(self.database, NOW).plans[rig].placed[0]
        self.assertEqual((tune.start.date(), tune.person), (date(2026, 12, 5), "Ida Fell"))
        day = datetime(2026, 12, 5)
        service.busy(self.database, "Ida Fell", "own", [Span(day, day + timedelta(hours=23))], NOW)
        self.assertEqual(service.shop_plan(self.database, NOW).plans[rig].placed[0].start.date(), date(2026, 12, 12))
        service.busy(self.database, "Ida Fell", "own", [], NOW)  # the same calendar anew
        self.assertEqual(service.shop_plan(self.database, NOW).plans[rig].placed[0].start.date(), date(2026, 12, 5))

    def test_after_a_knock_the_few_arrows_that_prove_it_again(self) -> None:
        rig = self.shop.rig()
        self.shop.marks(rig, 17.0, 38.0, 61.0, 95.0)
        before = {each.kind for each in sessions(open_rig(self.database, rig).state)}
        events.happened(self.database, rig, ("indicator",), "it slipped", NOW)
        keys = [each.key for each in sessions(open_rig(self.database, rig).state)]
        self.assertNotIn("reproof", before)
        self.assertIn("reproof", keys)
        self.assertNotIn("tape day 1", keys)

    def test_an_empty_shop(self) -> None:
        made = service.shop_plan(self.database, NOW)
        self.assertEqual((made.placed, made.people, made.trouble), ((), (service.THE_SHOP,), ()))
