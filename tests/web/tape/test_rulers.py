"""Marks off pencil lines, a printed strip and a trial strip: printed, measured, entered and fitted again."""

from __future__ import annotations

import re
from html import unescape

from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape import booklet
from cross_staff.services.tape.record import printed_of
from cross_staff.services.tape.rulers import rulers_of
from tests.rigs import NOON, TEMPLATES, full_card, true_mark
from tests.shop import rig_card
from tests.web.client import WithClient
from tests.web.tape.test_tape import table


def rows(*given: dict[str, str], read: str = "") -> dict[str, str]:
    """A posted table in which every row says what it was read off."""
    form = {"distance": "m", "offset": "cm", "read": read}
    for index, row in enumerate(given):
        for column in ("distance", "mark", "up", "arrows", "from", "read", "pin"):
            form[f"row-{index}-{column}"] = row.get(column, "")
        form[f"row-{index}-key"] = f"{index:016x}"
        form |= {f"row-{index}-{name}": row[name] for name in ("line", "base") if name in row}
    return form


def apart(near_m: float, far_m: float) -> float:
    return true_mark(far_m) - true_mark(near_m)


class Reading(WithClient):
    def rig(self, number: int) -> Rig:
        return open_rig(self.database, number)

    def send(self, number: int, *given: dict[str, str], status: int = 303, read: str = "") -> str:
        sent = self.client.post(f"/rigs/{number}/tape", data=rows(*given, read=read), follow_redirects=False)
        self.assertEqual(sent.status_code, status, sent.text[:300])
        return re.sub(r"\s+", " ", unescape(sent.text))

    def text(self, number: int, query: str = "") -> str:
        return re.sub(r"\s+", " ", unescape(self.client.get(f"/rigs/{number}/tape{query}").text))


class PencilLines(Reading):
    def test_a_table_has_no_rulers_until_they_are_asked_for(self) -> None:
        number = self.add_rig()
        self.assertNotIn("row-0-read", self.text(number))
        self.assertIn("No scale to read?", self.text(number))
        asked = self.text(number, "?read=lines")
        self.assertIn('<option value="lines" selected>', asked)
        self.assertIn("1 3/8 in", asked)
        self.assertNotIn("row-0-read", self.text(number, "?read=made up"))

    def test_home_and_far_between_two_pencil_lines_make_a_tape(self) -> None:
        number = self.add_rig()
        self.send(number, {"read": "lines", "distance": "61", "mark": f"{apart(17.0, 61.0):.2f}", "arrows": "6"})
        evaluation = self.rig(number).evaluation
        self.assertEqual((len(evaluation.listed), len(evaluation.used)), (1, 2))
        entry = evaluation.listed[0].entry
        self.assertEqual((entry.ruler, entry.from_m, entry.arrows), ("lines", 17.0, 6))
        page = self.text(number)
        self.assertIn('value="17"', page)  # home was filled in
        self.assertNotIn("scale, mm", page)  # nobody read one
        self.assertIn("from home, mm", page)
        self.assertIn("mm from 17", page)  # the log
        file = self.client.get(f"/rigs/{number}/tape.csv").text.splitlines()[3].split(",")
        self.assertEqual((file[1], bool(file[2])), ("", True))
        self.assertIsNone(self.client.get(f"/rigs/{number}/tape.json").json()["rows"][1]["scale_mm"])
        for path in ("", "/dialled", "/pins", "/holds", "/slopes", "/print", "/sheet"):
            self.assertIn(self.client.get(f"/rigs/{number}/tape{path}").status_code, (200, 404), path)
        self.assertEqual(self.client.get(f"/rigs/{number}/sight_in").status_code, 200)

    def test_a_scale_that_nobody_read_is_never_said_to_stand_somewhere(self) -> None:
        """A target sight whose marks were pencil lines: line and drum are counted from home, and said to be."""
        number = self.add_rig(rig_card("target_scope"))
        self.send(number, {"read": "lines", "distance": "61", "mark": f"{apart(17.0, 61.0):.2f}", "arrows": "6"})
        page = unescape(self.client.get(f"/rigs/{number}/tape/dialled?wanted=53").text)
        self.assertRegex(page, r"53\u00a0m: \d+, \d+\.\d from home\.")
        for path in ("dialled?wanted=53", "range-sheet", "slopes"):
            for shown in ("hand", "click", "division", "mm"):
                said = self.client.get(f"/rigs/{number}/tape/{path}{'&' if '?' in path else '?'}shown={shown}").text
                self.assertNotIn("from zero", re.sub(r"<[^>]+>", " ", said), (path, shown))

    def test_home_is_what_the_pin_is_right_for_there(self) -> None:
        number = self.add_rig(rig_card("multi_pin_slider"))
        self.send(number, {"read": "lines", "distance": "61", "mark": "20", "pin": "2"})
        entry = self.rig(number).log[-1]
        self.assertEqual((entry.pin, entry.from_m), (2, 38.0))

    def test_the_same_table_sent_again_writes_nothing(self) -> None:
        number = self.add_rig()
        row = {"read": "lines", "from": "17", "distance": "61", "mark": "28.4", "arrows": "6"}
        self.send(number, row)
        held = self.rig(number).log
        entry = held[-1]
        again = row | {"line": str(entry.line), "base": str(entry.entry_id)}
        self.send(number, again)
        self.assertEqual(self.rig(number).log, held)
        self.send(number, again | {"mark": "28.9"})
        self.assertEqual([e.mark_mm for e in self.rig(number).log], [28.4, 28.9])

    def test_inches_and_fractions_are_read_with_how_surely_they_can_be(self) -> None:
        number = self.add_rig()
        self.send(
            number,
            {"read": "lines", "distance": "61", "mark": "1 1/8 in"},
            {"read": "lines", "distance": "47", "mark": ".8 in"},
        )
        kept = [row.entry for row in self.rig(number).evaluation.listed]
        self.assertEqual([round(e.mark_mm, 3) for e in kept], [28.575, 20.32])
        self.assertAlmostEqual(kept[0].reading_sd_mm, 25.4 / 8 * 0.29)
        self.assertIsNone(kept[1].reading_sd_mm)

    def test_what_is_wrong_is_said_at_its_field_and_kept(self) -> None:
        number = self.add_rig()
        for row, field, words in (
            ({"read": "lines", "from": "61", "distance": "17", "mark": "20"}, "distance", "farther than the line"),
            ({"read": "lines", "distance": "61", "mark": "-20"}, "mark", "0.5"),
            ({"read": "lines", "distance": "61", "mark": "1/0 in"}, "mark", "not a number"),
            ({"read": "lines", "from": "x", "distance": "61", "mark": "20"}, "from", "not a number"),
            ({"read": "lines", "distance": "", "mark": "20"}, "distance", "is missing"),
            ({"read": "strip 9.0", "distance": "61", "mark": "60"}, "read", "what was it read off?"),
            ({"read": "booklet", "distance": "61", "mark": "22"}, "read", "what was it read off?"),
        ):
            with self.subTest(row):
                page = self.send(number, row, status=422, read=row["read"])
                self.assertRegex(page, rf'data-field="row-0-{field}">[^<]*{re.escape(words)}')
                self.assertIn(f'value="{row["mark"]}"', page)
        self.assertEqual(self.rig(number).log, ())

    def test_two_windows_on_one_length(self) -> None:
        number = self.add_rig()
        row = {"read": "lines", "from": "17", "distance": "61", "mark": "28.4", "arrows": "6"}
        self.send(number, row)
        entry = self.rig(number).log[-1]
        seen = row | {"line": str(entry.line), "base": str(entry.entry_id)}
        self.send(number, seen | {"from": "26"})
        page = self.send(number, seen | {"read": ""}, status=422, read="lines")
        self.assertIn("changed in another window too", page)
        self.assertEqual(self.rig(number).log[-1].from_m, 26.0)

    def test_a_length_is_undone_and_left_out_like_any_mark(self) -> None:
        number = self.add_rig()
        self.send(number, {"read": "lines", "distance": "61", "mark": "28.4"})
        entry = self.rig(number).log[-1]
        self.client.post(f"/rigs/{number}/tape/undo/{entry.entry_id}")
        self.assertEqual(self.rig(number).evaluation.listed, ())


class Strips(Reading):
    def printed(self, number: int) -> str:
        """A tape by two marks of the scale, 4 % short of the true one, printed and laid on at home."""
        short = 0.96 * apart(17.0, 61.0) + true_mark(17.0)
        self.client.post(
            f"/rigs/{number}/tape",
            data=table(("17", f"{true_mark(17.0):.2f}", "", "12"), ("61", f"{short:.2f}", "", "12")),
        )
        self.client.post(f"/rigs/{number}/tape/print")
        rulers = rulers_of(self.rig(number), printed_of(self.database, number))
        return next(strip.code for strip in rulers.strips if "fitted" in strip.name or "," not in strip.name)

    def kept(self, number: int) -> list[dict[str, str]]:
        """The rows as they are kept, to be sent along."""
        return [
            {
                "distance": f"{row.entry.ranged_m:g}",
                "mark": f"{row.entry.mark_mm:g}",
                "arrows": "12",
                "line": str(row.entry.line),
            }
            | {"base": str(row.entry.entry_id)}
            for row in self.rig(number).evaluation.listed
        ]

    def test_the_strip_reads_61_arrows_say_60(self) -> None:
        number = self.add_rig()
        code = self.printed(number)
        rulers = rulers_of(self.rig(number), printed_of(self.database, number))
        strip = rulers.strip(code)
        self.assertAlmostEqual(strip.home_mark_mm, true_mark(17.0), delta=0.3)
        places = {d / 10: strip.place_mm("mark", d / 10) for d in range(600, 780)}
        reads = min(places, key=lambda d: abs(places[d] - apart(17.0, 70.0)))
        self.assertGreater(reads, 71.0)
        self.assertIn("strip no. 1", self.text(number, f"?read={code}"))
        before = self.rig(number).evaluation.fit.tape([70.0])[0].mark_mm
        self.send(number, *self.kept(number), {"read": code, "distance": "70", "mark": f"{reads:g}", "arrows": "12"})
        evaluation = self.rig(number).evaluation
        self.assertEqual(len(evaluation.used), 3)  # on the scale, where the strip lies
        after = evaluation.fit.tape([70.0])[0].mark_mm
        self.assertLess(abs(after - true_mark(70.0)), 0.8 * abs(before - true_mark(70.0)))
        page = self.text(number)
        self.assertIn(f"reads {reads:g}", page)
        self.assertIn(f'value="{reads:g}"', page)

    def test_a_number_beyond_the_strip_is_said(self) -> None:
        number = self.add_rig()
        code = self.printed(number)
        page = self.send(number, {"read": code, "distance": "70", "mark": "140"}, status=422, read=code)
        self.assertRegex(page, r'data-field="row-0-mark">is not on that strip: it goes from 17 to 95')

    def test_after_the_indicator_was_moved_the_strip_no_longer_says_where_the_scale_stands(self) -> None:
        number = self.add_rig()
        code = self.printed(number)
        self.assertIn(code, rulers_of(self.rig(number), printed_of(self.database, number)).fresh)
        self.client.post(f"/rigs/{number}/events", data={"did_indicator": "1"})
        rig = self.rig(number)
        self.assertNotIn(code, rulers_of(rig, printed_of(self.database, number)).fresh)


class TrialStrips(Reading):
    def test_the_trial_strip_says_22(self) -> None:
        number = self.add_rig()
        length = apart(17.0, 61.0)
        kept = Booklet(17.0, 61.0, (Strip("21", 21.0, length - 1.0), Strip("25", 25.0, length + 3.0)))
        booklet.keep(self.database, number, kept, NOON)
        self.assertIn("trial strip of the booklet", self.text(number))
        self.send(number, {"read": "booklet", "mark": "22", "arrows": "6"})
        evaluation = self.rig(number).evaluation
        self.assertEqual(evaluation.listed[0].entry.ranged_m, 61.0)
        self.assertAlmostEqual(evaluation.listed[0].entry.mark_mm, length)
        self.assertIn("strip 22", self.text(number))
        page = self.send(number, {"read": "booklet", "mark": "Q"}, status=422, read="booklet")
        self.assertIn("is not a strip of the booklet", page)
        page = self.send(number, {"read": "booklet", "mark": "22", "distance": "50"}, status=422, read="booklet")
        self.assertIn("that the booklet's strips were measured to", page)

    def test_what_was_read_stays_when_the_booklet_is_measured_anew_or_taken_out(self) -> None:
        number = self.add_rig()
        length = apart(17.0, 61.0)
        kept = Booklet(17.0, 61.0, (Strip("21", 21.0, length - 1.0), Strip("25", 25.0, length + 3.0)))
        booklet.keep(self.database, number, kept, NOON)
        self.send(number, {"read": "booklet", "mark": "22", "arrows": "6"})
        entry = self.rig(number).log[-1]
        row = {"read": "booklet", "mark": "22", "distance": "61", "from": "17", "line": str(entry.line)}
        for other in (Booklet(17.0, 61.0, (Strip("21", 21.0, length), Strip("25", 25.0, length + 9.0))), Booklet()):
            booklet.keep(self.database, number, other, NOON)
            page = self.text(number)
            self.assertIn('<option value="booklet" selected>', page)
            base = str(self.rig(number).log[-1].entry_id)
            self.send(number, row | {"base": base, "arrows": "6"})
            self.assertEqual(self.rig(number).log[-1].mark_mm, entry.mark_mm)
        self.send(number, row | {"base": str(entry.entry_id), "arrows": "9"})
        self.assertEqual([e.arrows for e in self.rig(number).log], [6, 9])

    def test_a_sight_that_is_not_dialled_needs_no_ruler(self) -> None:
        number = self.add_rig(full_card(sight=TEMPLATES["fixed_pins"]))
        self.assertNotIn("No scale to read?", self.text(number))


class Rule(Reading):
    def test_a_millimetre_rule_is_printed_at_true_scale(self) -> None:
        number = self.add_rig()
        file = self.client.get(f"/rigs/{number}/tape/rule.pdf?bar=98")
        self.assertEqual(file.headers["content-type"], "application/pdf")
        self.assertTrue(file.content.startswith(b"%PDF"))
        self.assertEqual(self.client.get(f"/rigs/{number}/tape/rule.pdf?bar=9").status_code, 422)
