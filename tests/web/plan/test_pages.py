"""The days on the pages: the week, a rig's way, what is moved, calendars in and out, what cannot be."""

import re
import unittest
from datetime import date, datetime, timedelta
from typing import Any

from icalendar import Calendar

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.planner import Hours
from cross_staff.web.plan.hours import hours_text, read_hours
from tests.services.plan.test_plan import event
from tests.web.client import WithClient

OPEN = {"open": "Mon-Sun 8-20", "latitude": "54.4", "longitude": "-2.9", "zone": "Europe/London"}


class Typed(unittest.TestCase):
    def test_as_people_write_them(self) -> None:
        evenings = tuple(Hours(day, 1080, 1200) for day in range(3))
        self.assertEqual(read_hours("sat 9:30-17, Mon-Wed 18 - 20", "free"), (*evenings, Hours(5, 570, 1020)))
        self.assertEqual(read_hours("Saturday–Monday 9-10", "free"),
                         (Hours(0, 540, 600), Hours(5, 540, 600), Hours(6, 540, 600)))  # fmt: skip
        self.assertEqual(read_hours("none", "free"), ())

    def test_back_again(self) -> None:
        for text in ("Mon 9-17, Sat 9:30-12", "none"):
            self.assertEqual(hours_text(read_hours(text, "free")), text)
        self.assertEqual(hours_text(None), "")

    def test_what_is_no_part_of_a_week(self) -> None:
        for text in ("weekends", "Mon", "Mon 9", "Mon 17-9", "Mon 9-25", "Mon 9:75-10", "Foo 9-10"):
            with self.assertRaises(InvalidValue, msg=text):
                read_hours(text, "free")


class Days(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig = self.add_rig()
        self.assertEqual(self.client.post("/plan/hours", data=OPEN).status_code, 303)

    def move(self, start: str, key: str = "tune", **more: str) -> Any:
        return self.client.post("/plan/move", data={"rig": str(self.rig), "key": key, "start": start} | more)

    def noon(self, days: int) -> str:
        return f"{date.today() + timedelta(days=days)}T12:00"

    def test_the_week_and_the_rig_s_own_days(self) -> None:
        week, own = self.client.get("/plan").text, self.client.get(f"/rigs/{self.rig}/plan").text
        for page in (week, own):
            self.assertIn("Bench sheet and tune", page)
        self.assertIn("Hand over", own)
        self.assertIn("Nobody said when", own)
        self.assertIn("light 0", week)

    def test_an_empty_shop_and_weeks_that_are_none(self) -> None:
        for week in ("", "2026-13-01", "x", "0001-01-01", "9999-12-31"):
            self.assertEqual(self.client.get(f"/plan?week={week}").status_code, 200, week)
        self.client.post(f"/rigs/{self.rig}/archive", data={})
        self.assertIn("No rig is on the bench", self.client.get("/plan").text)
        self.assertIn("off the bench", self.client.get(f"/rigs/{self.rig}/plan").text)

    def test_moved_and_let_go(self) -> None:
        there = self.noon(3)
        self.assertEqual(self.move(there, back=f"/rigs/{self.rig}/plan").headers["location"], f"/rigs/{self.rig}/plan")
        page = self.client.get(f"/rigs/{self.rig}/plan").text
        self.assertIn("put there", page)
        self.assertIn(f'value="{there}"', page)
        self.move("", let_go="yes")
        self.assertNotIn("put there", self.client.get(f"/rigs/{self.rig}/plan").text)

    def test_a_place_where_it_cannot_be_is_kept_and_said(self) -> None:
        self.move(f"{date.today() + timedelta(days=3)}T03:00", "close")
        page = self.client.get("/plan").text
        self.assertIn("Cannot be as it was put", page)
        self.assertIn("the shop is closed; there is no light", page)

    def test_moves_that_are_none(self) -> None:
        for start in ("", "tomorrow", "2026-02-31T10:00", "0001-01-01T00:00"):
            answer = self.move(start)
            self.assertEqual((answer.status_code, "choose a day and an hour" in answer.text), (422, True), start)
        self.assertEqual(
            self.client.post("/plan/move", data={"rig": "99", "key": "x", "start": self.noon(1)}).status_code, 404
        )
        self.assertEqual(self.client.post("/plan/move", data={"rig": "x"}).status_code, 404)
        self.assertEqual(self.move(self.noon(1), back="//elsewhere.example").headers["location"], "/")

    def test_no_free_days(self) -> None:
        self.client.post(f"/rigs/{self.rig}/plan/free", data={"free": "none"})
        page = self.client.get(f"/rigs/{self.rig}/plan").text
        self.assertIn("The archer has no free time", page)
        self.assertIn('value="none"', page)
        refused = self.client.post(f"/rigs/{self.rig}/plan/free", data={"free": "weekends"})
        self.assertEqual((refused.status_code, 'value="weekends"' in refused.text), (422, True))

    def test_hours_that_cannot_be(self) -> None:
        for change in (
            {"open": "always"},
            {"latitude": "91"},
            {"latitude": ""},
            {"longitude": "west"},
            {"zone": "Mars/Base"},
        ):
            answer = self.client.post("/plan/hours", data=OPEN | change)
            self.assertEqual(answer.status_code, 422, change)
            name, value = next(iter(change.items()))
            self.assertRegex(answer.text, rf'name="{name}"[^>]*value="{value}"[^>]*aria-invalid="true"')

    def busy(self, body: bytes, name: str = "ida.ics", of: str = "") -> Any:
        files = {"calendar": (name, body, "text/calendar")}
        return self.client.post("/plan/busy", data={"of": of}, files=files)

    def test_busy_times_in(self) -> None:
        tomorrow = date.today() + timedelta(days=1)
        ends = tomorrow + timedelta(days=1)
        both = event(f"DTSTART;VALUE=DATE:{date.today():%Y%m%d}", f"DTEND;VALUE=DATE:{ends:%Y%m%d}")
        self.assertEqual(self.busy(both).status_code, 303)
        page = self.client.get("/plan").text
        self.assertIn("ida.ics, everybody: 1 times", page)
        starts = re.findall(r'data-start="([^"]*)"', self.client.get(f"/rigs/{self.rig}/plan").text)
        self.assertGreater(min(starts), tomorrow.isoformat() + "T23:59")
        for body, name, of, words in ((b"hello", "a.ics", "", "no calendar file"), (b"", "", "", "choose a calendar"),
                                      (event(), "a.ics", "Nobody", "nobody of that name")):  # fmt: skip
            answer = self.busy(body, name, of)
            self.assertEqual((answer.status_code, words in answer.text), (422, True), words)

    def test_calendars_out(self) -> None:
        for path in ("/plan.ics", f"/rigs/{self.rig}/plan.ics"):
            answer = self.client.get(path)
            self.assertTrue(answer.headers["content-type"].startswith("text/calendar"))
            events = Calendar.from_ical(answer.content).walk("VEVENT")
            self.assertGreater(len(events), 5)
            self.assertEqual(len({str(each["UID"]) for each in events}), len(events))
            for each in events:
                self.assertIsNotNone(each.decoded("DTSTART").tzinfo)
                self.assertLess(each.decoded("DTSTART"), each.decoded("DTEND"))
        self.assertEqual(self.client.get("/rigs/99/plan.ics").status_code, 404)

    def test_a_plan_out_is_a_busy_time_in(self) -> None:
        out = self.client.get("/plan.ics").content
        self.assertEqual(self.busy(out).status_code, 303)

    def test_late(self) -> None:
        form = self.form(f"/rigs/{self.rig}/card")
        due = (datetime.now() + timedelta(days=2)).date().isoformat()
        self.client.post(f"/rigs/{self.rig}/card", data=form | {"due": due})
        page = self.client.get(f"/rigs/{self.rig}/plan").text
        self.assertRegex(page, r"Too late for all of it|It is not ready by")
