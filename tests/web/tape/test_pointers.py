"""Pointers and pins, reach and sheets, as a technician meets them on the pages."""

from __future__ import annotations

import csv
import io
import re
import subprocess
import tempfile
from dataclasses import replace
from html import unescape
from pathlib import Path

import numpy as np

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import Goals, Mount
from cross_staff.core.rig.sight import Housing, Pin, SightModel, TapeSeat
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from tests.ends import PINS_M, end, exact_card, hits
from tests.rigs import NOON, RIG_A, TEMPLATES, full_card, true_mark
from tests.web.client import WithClient
from tests.web.tape.flown_rigs import RIGS, fill
from tests.web.test_route import rasterised

IMPERIAL = {"distance": "yd", "offset": "in", "length": "in"}
YARD_M = 0.9144
NUMBERS = {rig.name: number for number, rig in enumerate(RIGS, start=1)}


class OnThePages(WithClient):
    def page(self, path: str, status: int = 200) -> str:
        answer = self.client.get(path)
        self.assertEqual(answer.status_code, status, path)
        return unescape(answer.text).replace("\u00a0", " ")

    def table(self, path: str) -> list[list[str]]:
        """A table as its file has it."""
        answer = self.client.get(path)
        self.assertEqual(answer.status_code, 200, path)
        return list(csv.reader(io.StringIO(answer.text.removeprefix("\ufeff"))))

    def say(self, path: str) -> str:
        """The sentence of a page."""
        found = re.search(r'<h2 class="now[^"]*"[^>]*>(.*?)</h2>', self.page(path))
        assert found
        return found[1]

    def text_of(self, path: str) -> str:
        answer = self.client.get(path)
        self.assertEqual((answer.status_code, answer.content[:5]), (200, b"%PDF-"), answer.text[:300])
        made = subprocess.run(["pdftotext", "-layout", "-", "-"], input=answer.content, capture_output=True, check=True)
        return made.stdout.decode()

    def raster(self, path: str) -> np.ndarray:
        with tempfile.TemporaryDirectory(prefix="cross-staff-test-") as folder:
            file = Path(folder) / "page.pdf"
            file.write_bytes(self.client.get(path).content)
            return rasterised(file)


class Answers(OnThePages):
    fill_with = staticmethod(fill)

    def dialled(self, name: str, wanted: str) -> str:
        return self.say(f"/rigs/{NUMBERS[name]}/tape/dialled?wanted={wanted}")

    def test_a_pin_that_holds_it_at_home_comes_before_any_dialling(self) -> None:
        self.assertEqual(self.dialled("top pin dialled", "38"), "38 m: pin 2, nothing to dial.")
        self.assertRegex(
            self.dialled("top pin dialled", "39"), r"39 m: pin 2, nothing to dial; it hits [\d.]+ cm low\."
        )
        self.assertRegex(
            self.dialled("top pin dialled", "12"), r"12 m: top pin, nothing to dial; it hits [\d.]+ cm high\."
        )

    def test_else_a_pointer_and_the_number_under_it(self) -> None:
        self.assertEqual(self.dialled("top pin dialled", "47"), "47 m: top pin's pointer to 47.")
        self.assertEqual(self.dialled("low pin dialled", "78"), "78 m: low pin's pointer to 78.")
        self.assertEqual(self.dialled("middle pin dialled", "47"), "47 m: pin 2's pointer to 47.")
        self.assertEqual(self.dialled("three pointers", "78"), "78 m: low pin's pointer to 78.")
        self.assertEqual(self.dialled("one pin", "78"), "78 m: the pointer to 78.")
        self.assertEqual(self.dialled("metres, a strip in yards", "70"), "70 m: low pin's pointer to 76.6 yd.")

    def test_a_pin_without_a_pointer_is_offered_nowhere(self) -> None:
        for name in ("top pin dialled", "low pin dialled", "middle pin dialled"):
            own = {"top pin dialled": "top pin", "low pin dialled": "low pin"}.get(name, "pin 2")
            page = self.page(f"/rigs/{NUMBERS[name]}/tape/dialled?wanted=47")
            pointers = set(re.findall(r"(top pin|low pin|pin 2)'s pointer", page))
            self.assertEqual(pointers, {own}, name)

    def test_beyond_the_travel_it_says_by_how_much_and_what_is_held_instead(self) -> None:
        number = NUMBERS["slow, little travel"]
        self.assertRegex(self.dialled("slow, little travel", "58"), r"58 m: beyond its reach, [\d.]+ mm short\.")
        self.assertRegex(self.page(f"/rigs/{number}/tape/dialled?wanted=58"), r"the low pin, held \d+ cm high")

    def test_scale_and_drum_are_set_by_line_and_drum(self) -> None:
        said = self.dialled("scale and drum", "61")
        self.assertRegex(said, r"61 m: line \d+, drum \d+\.\d\.")
        number = NUMBERS["scale and drum"]
        line, drum = re.search(r"line (\d+), drum (\d+\.\d)", said).groups()  # type: ignore[union-attr]
        rows = {row[0]: row for row in self.table(f"/rigs/{number}/tape/range-sheet?show=marks&csv=marks")[1:]}
        self.assertEqual(rows["61"][1], f"{line}, {drum}")
        self.assertIn(f"{rows['61'][2]} clicks from zero", self.page(f"/rigs/{number}/tape/dialled?wanted=61"))

    def test_every_unit_on_request(self) -> None:
        number = NUMBERS["scale and drum"]
        heads = {
            shown: self.table(f"/rigs/{number}/tape/dialled?shown={shown}&csv=marks")[0][1]
            for shown in ("hand", "mm", "in", "division", "click", "turn")
        }
        self.assertEqual(
            list(heads.values()),
            [
                "line, drum",
                "scale, mm",
                "scale, in",
                "scale, divisions",
                "clicks from zero",
                "turns + clicks from zero",
            ],
        )
        self.page(f"/rigs/{number}/tape/dialled?shown=furlong", 422)

    def test_a_marked_row_and_every_table_as_a_file(self) -> None:
        number = NUMBERS["three pointers"]
        page = self.page(f"/rigs/{number}/tape/dialled?wanted=70")
        self.assertEqual(page.count('<tr class="wanted"><th scope="row">70</th>'), 2)
        for key in ("ways", "dialled", "indicators", "marks"):
            rows = self.table(f"/rigs/{number}/tape/dialled?wanted=70&csv={key}")
            self.assertGreater(len(rows), 3, key)
            self.assertIn(f"wanted=70&csv={key}", page.replace("&amp;", "&"))
        self.page(f"/rigs/{number}/tape/dialled?csv=moon", 404)

    def test_the_picture_moves_with_the_slider_and_without_scripts(self) -> None:
        number = NUMBERS["three pointers"]
        part = self.client.get(f"/rigs/{number}/tape/dialled?at=10", headers={"HX-Request": "true"}).text
        self.assertTrue(part.lstrip().startswith('<div id="sight-picture"'))
        whole = self.page(f"/rigs/{number}/tape/dialled?at=10")
        words = re.search(r'aria-label="(The sight 10\.0 mm below home: [^"]*)"', unescape(part))
        assert words
        self.assertIn(words[1].replace("\u00a0", " "), whole)
        rig = open_rig(self.database, number)
        for pin, name in enumerate(("top pin", "pin 2", "low pin")):
            said = re.search(rf"{name}'s pointer on (\d+(?:\.\d)?)", words[1])
            assert said and rig.evaluation.fit
            at = pin_height(rig.evaluation.fit.figures, float(said[1]))
            self.assertAlmostEqual(1000.0 * (rig.heights_m[pin] - at), 10.0, delta=0.06)
        for at in ("9999", "-9999", "nowhere", "nan"):
            self.page(f"/rigs/{number}/tape/dialled?at={at}")

    def test_between_turnover_and_home_it_stands_in_the_tables_with_what_it_needs(self) -> None:
        rows = {
            row[0]: row for row in self.table(f"/rigs/{NUMBERS['home 18.5']}/tape/range-sheet?show=marks&csv=marks")
        }
        self.assertEqual(rows["m"][-1], "needs")
        self.assertRegex(rows["12"][-1], r"^\d\.\d mm above home$")
        self.assertIn("18.5", rows)

    def test_every_chart_of_several_pins_says_which(self) -> None:
        page = self.page(f"/rigs/{NUMBERS['low pin dialled']}/tape/slopes?there_m=2000")
        for words in (
            "Dial for a slope up, low pin's pointer",
            "Air of a trip, low pin",
            "nearer than the strip's first line",
        ):
            self.assertIn(words, page)

    def test_the_strip_has_home_on_it_where_home_is_no_whole_unit(self) -> None:
        """19.25 yd: the lines lie as far from the home line as the flight has them, measured on the paper."""
        number = NUMBERS["home 19.25 yd"]
        self.assertIn("home 19.25", self.text_of(f"/rigs/{number}/tape.pdf"))
        self.assertRegex(self.page(f"/rigs/{number}/tape/print"), r'name="from"[^>]* value="19.25"')
        rig = open_rig(self.database, number)
        assert rig.evaluation.fit
        heights = [pin_height(rig.evaluation.fit.figures, d * YARD_M) for d in (19.25, 30.0, 50.0, 90.0)]
        grey = self.raster(f"/rigs/{number}/tape.pdf?width=9")
        strip = grey[560:, 480:570] < 128  # the second of three: 15 mm of margin, 25.5 a strip, 7.5 of waste edge
        home = float(np.flatnonzero(strip[:, 6:84].mean(axis=1) > 0.97).mean())
        dark = np.flatnonzero(strip[:, 70:86].mean(axis=1) > 0.9)
        ticks = [float(group.mean()) for group in np.split(dark, np.flatnonzero(np.diff(dark) > 1) + 1)]
        for distance, height in zip((30.0, 50.0, 90.0), heights[1:]):
            expected = home + 10_000.0 * (heights[0] - height)
            self.assertLess(min(abs(tick - expected) for tick in ticks), 1.5, distance)  # tenths of a millimetre

    def test_strips_are_named_by_when_to_use_them(self) -> None:
        text = self.text_of(f"/rigs/{NUMBERS['one pin']}/tape.pdf")
        high, low = re.search(r"if arrows hit high at (\d+ m)", text), re.search(r"if arrows hit low at (\d+ m)", text)
        assert high and low
        self.assertEqual(high[1], low[1])
        self.assertIn("You will know at " + low[1], text.replace("\u00a0", " "))
        self.assertNotIn("0.99", text)

    def test_marks_beyond_reach_are_printed_as_such(self) -> None:
        number = NUMBERS["slow, little travel"]
        text = self.text_of(f"/rigs/{number}/tape.pdf")
        self.assertIn("in brackets: beyond reach, the slider runs out", text)
        self.assertIn("(60)", text)
        rows = {row[0]: row for row in self.table(f"/rigs/{number}/tape/dialled?csv=marks")}
        self.assertEqual(rows["61"][-1], "beyond reach")
        self.assertIn("beyond its reach", self.table(f"/rigs/{number}/tape/dialled?wanted=60&csv=ways")[-2][1])

    def test_no_page_speaks_in_sds_or_p(self) -> None:
        for number in (1, 4, 9, 13, 24):
            for path in ("", "/print", "/pins", "/dialled", "/fits", "/holds", "/slopes", "/range-sheet"):
                page = self.page(f"/rigs/{number}/tape{path}")
                words = re.sub(r"<[^>]+>", " ", page)
                for gone in (
                    "chi-squared",
                    "pulled by",
                    r"\bsds\b",
                    r"\brms\b",
                    r"\(p ",
                    r"[-−]0\.0+(?!\d)",
                    r"\bnan\b",
                ):
                    self.assertNotRegex(words, gone, (number, path))
                self.assertIn("Every ± is 95 %: 19 times in 20 the truth lies within it.", words)


class Model(OnThePages):
    def test_the_sight_says_whose_its_pointers_are(self) -> None:
        rig_id = self.add_rig(full_card(sight=replace(TEMPLATES["vertical_pin_slider"], pins=(Pin(0.5),) * 3)))
        address = f"/rigs/{rig_id}/card/sight"
        for typed, words in (
            ("1 4", "a pointer for pin 4, and this sight has 3 pins"),
            ("2 2", "name each pin once"),
            ("1.5", "whole numbers"),
            ("0", "too little"),
            ("many", "not a number"),
        ):
            answer = self.client.post(address, data=self.form(address) | {"pointers": typed})
            self.assertEqual(answer.status_code, 422, typed)
            self.assertIn(words, answer.text)
            self.assertIn(f'value="{typed}"', answer.text)
        self.assertEqual(self.client.post(address, data=self.form(address) | {"pointers": "3 1"}).status_code, 303)
        self.assertEqual(open_rig(self.database, rig_id).card.sight.pointers, (2, 0))
        self.assertIn('value="3  1"', self.client.get(address).text)
        self.assertEqual(open_rig(self.database, rig_id).evaluation.old, ())

    def test_the_dialled_pin_may_be_any(self) -> None:
        goals = Goals(17.0, 95.0, 0.25, 0.1, 38.0, (), (17.0, 26.0, 38.0, 61.0))
        sight = SightModel(
            "four", "multi_pin_slider", pins=(Pin(),) * 4, slider_travel_mm=70.0, housing=Housing(44.0, 50.0)
        )
        rig_id = self.add_rig(full_card(sight=sight, goals=goals))
        page = self.page(f"/rigs/{rig_id}/tape/dialled")
        for name in ("Dial the top pin", "Dial the pin 2", "Dial the pin 3"):
            self.assertIn(name, page)
        for school, pin in (("pin3", 2), ("near", 0), ("far", 3), ("pin2", 1)):
            self.assertEqual(self.client.post(f"/rigs/{rig_id}/tape/dialled/{school}").status_code, 303)
            self.assertEqual(open_rig(self.database, rig_id).evaluation.pins.dialled, pin)
        self.assertEqual(self.client.post(f"/rigs/{rig_id}/tape/dialled/pin9").status_code, 404)

    def test_a_pin_that_the_sight_has_not_cannot_be_dialled(self) -> None:
        sight = replace(TEMPLATES["vertical_pin_slider"], pins=(Pin(),) * 3, pointers=(0, 2))
        goals = Goals(17.0, 78.0, 0.25, 0.1, 38.0, (), (17.0, 30.0, 45.0))
        rig_id = self.add_rig(full_card(sight=sight, goals=goals))
        for school in ("pin2", "pin5"):  # no pointer, no pin
            self.assertEqual(self.client.post(f"/rigs/{rig_id}/tape/dialled/{school}").status_code, 404, school)
        page = self.page(f"/rigs/{rig_id}/tape/dialled")
        self.assertIn("2 pointers, each for its own pin", page)
        self.assertNotIn("Dial the pin 2", page)

    def test_the_strip_itself_is_a_ruler_for_the_other_pins(self) -> None:
        goals = Goals(17.0, 95.0, 0.25, 0.1, 38.0, (), (17.0, 26.0, 38.0))
        for ratio, told in ((1.0, True), (1.8, False)):
            sight = replace(TEMPLATES["vertical_pin_slider"], pins=(Pin(),) * 3, tape=TapeSeat(ratio=ratio))
            rig_id = self.add_rig(full_card(sight=sight, goals=goals))
            words = "its 17 held at the top pin, the others belong at its 26 and 38"
            self.assertEqual(words in self.page(f"/rigs/{rig_id}/tape/pins"), told, ratio)

    def test_pointers_are_set_after_the_tape_is_on_and_follow_home(self) -> None:
        """Shot in, the tape on, every pointer named with its line; home found elsewhere opens both again."""
        sight = replace(TEMPLATES["vertical_pin_slider"], pins=(Pin(),) * 2, home_stop="none")
        goals = Goals(17.0, 78.0, 0.3, 0.1, 38.0, (), (17.0, 38.0))
        rig_id = self.add_rig(exact_card("vertical_pin_slider", sight=sight, goals=goals))
        for number, (ranged, pin) in enumerate(
            ((5.0, 0), (17.0, 0), (17.0, 0), (47.0, 0), (75.0, 0), (38.0, 1), (38.0, 1))
        ):
            read = 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 38.0 if ranged == 38.0 else ranged))
            dial = 10.0 if pin else 10.0 + read
            shots = end(1, ranged, 0.0, hits(0.0, 38.0, 38.0) if pin else 0.0).shots
            key = f"p{number}"
            save_end(self.database, rig_id, EndDraft(key, ranged, pin, round(dial, 1), shots), NOON)
        page = self.page(f"/rigs/{rig_id}/sight_in?step=pointer")
        self.assertRegex(
            page,
            r"top pin's pointer to the line of 17 \(± \d\.\d\), "
            r"low pin's pointer to the line of 3[78](\.\d)? \(± \d\.\d\)",
        )
        for step in ("tape_on", "pointer"):
            self.client.post(f"/rigs/{rig_id}/sight_in/step/{step}", data={"state": "done"})

        def said() -> list[str]:
            steps = {each.step.key: each.state for each in open_rig(self.database, rig_id).range.steps}
            return [str(steps[key]) for key in ("tape_on", "pointer")]

        self.assertEqual(said(), ["done", "done"])
        for number in range(4):  # home is another mark by now
            save_end(self.database, rig_id, EndDraft(f"h{number}", 17.0, 0, 13.0, end(1, 17.0).shots), NOON)
        for key in ("p1", "p2"):
            sight_in.leave_out(self.database, rig_id, key, "the sight was knocked", NOON)
        self.assertEqual(said(), ["", ""])

    def test_a_distance_is_typed_back_as_it_was(self) -> None:
        shop = self.shop
        shop.units = IMPERIAL
        goals = Goals(19.25 * YARD_M, 80.0, 0.25, 0.1, 38.0)
        rig_id = shop.rig(full_card(goals=goals))
        for ranged in (19.25, 33.0):
            save_end(self.database, rig_id, EndDraft(f"t{ranged}", ranged * YARD_M, 0, 10.0, end(1, 17.0).shots), NOON)
        page = self.page(f"/rigs/{rig_id}/sight_in")
        self.assertIn("19.25 yd", page)
        self.assertNotIn("19.3", page)
        self.assertRegex(self.page(f"/rigs/{rig_id}/sight_in?end=t19.25"), r'name="distance"[^>]* value="19.25"')


class BelongsAndStands(OnThePages):
    """Pins shot for one plan; then the plan changes, and the template says where they belong."""

    def setUp(self) -> None:
        super().setUp()
        sight = SightModel(
            "three", "multi_pin_slider", pins=(Pin(0.5),) * 3, slider_travel_mm=70.0, housing=Housing(44.0, 50.0)
        )
        goals = Goals(17.0, 95.0, 0.25, 0.1, 38.0, (), (17.0, 26.0, 38.0))
        self.rig_id = self.add_rig(full_card(sight=sight, goals=goals))
        sight_in.choose(self.database, self.rig_id, "dialled", "near", NOON)
        rows = [RowEdit(d, 20.0, arrows=12, pin=pin) for pin, d in enumerate((17.0, 26.0, 38.0))]
        rows += [RowEdit(d, true_mark(d), arrows=12) for d in (47.0, 78.0)]
        tape.save_rows(self.database, self.rig_id, rows, NOON)
        held = open_rig(self.database, self.rig_id)
        planned = replace(held.card, goals=replace(held.card.goals, pin_distances_m=(17.0, 26.0, 50.0)))
        card.save(self.database, self.rig_id, held.revision.number, planned, held.units, NOON)

    def below(self, distance_m: float) -> float:
        return 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, distance_m))

    def test_two_columns_and_two_drawings(self) -> None:
        rows = self.table(f"/rigs/{self.rig_id}/tape/pins?csv=gaps")
        low = dict(zip(rows[0], rows[3]))
        self.assertAlmostEqual(float(low["belongs below the top, mm"]), self.below(50.0), delta=0.4)
        self.assertAlmostEqual(float(low["stands, mm"]), self.below(38.0), delta=0.4)
        self.assertAlmostEqual(float(low["right for, m"]), 38.0, delta=0.5)
        self.assertRegex(low["to go, mm"], r"^[\d.]+ down$")
        page = self.page(f"/rigs/{self.rig_id}/tape/pins")
        self.assertIn("Where they belong, to scale", page)
        self.assertIn("Where they stand now", page)
        self.assertEqual(page.count('class="drawing housing"'), 2)

    def test_the_template_has_where_they_belong(self) -> None:
        text = self.text_of(f"/rigs/{self.rig_id}/tape/pins.pdf")
        said = re.search(r"low pin \(50 m\)\s+([\d.]+) ±", text)
        assert said
        self.assertAlmostEqual(float(said[1]), self.below(50.0), delta=0.4)

    def test_holds_are_those_of_the_pins_as_they_stand(self) -> None:
        rows = self.table(f"/rigs/{self.rig_id}/tape/holds?csv=bands")
        self.assertLess(float(rows[3][2]), 44.0)


class OneReach(OnThePages):
    def test_nothing_typed_is_not_known_and_the_arrow_s_range_is(self) -> None:
        goals = Goals(17.0, 61.0, 0.25, 0.1, 38.0)
        slow = full_card().chronograph.__class__((41.0, 41.2, 40.8))
        rig_id = self.add_rig(full_card(sight=SightModel("bare", "single_pin_slider"), goals=goals, chronograph=slow))
        for path in ("mount", "tape/slopes", "card/arrows"):
            page = self.page(f"/rigs/{rig_id}/{path}")
            self.assertNotIn("beyond 200", page, path)
            self.assertIn("not known", page, path)
        mount = self.page(f"/rigs/{rig_id}/mount")
        self.assertIn("Measure it from its top stop to its bottom one", mount)
        self.assertRegex(mount, r"The arrow itself flies 1\d\d m on the level")
        self.assertNotIn("vanes</text>", mount)  # no figure from what nobody typed

    def test_sight_in_orders_nothing_beyond_it(self) -> None:
        sight = replace(TEMPLATES["single_pin_slider"], slider_travel_mm=30.0, home_stop="none")
        card_of = exact_card(
            "single_pin_slider", sight=sight, mount=Mount(home="top"), goals=Goals(17.0, 110.0, 0.3, 0.1, 38.0)
        )
        rig_id = self.add_rig(card_of)
        reach = open_rig(self.database, rig_id).reach
        assert reach and reach.farthest_m
        self.assertLess(reach.farthest_m, 80.0)
        for ranged in (5.0, 17.0, 40.0, 55.0, 65.0):
            dial = 10.0 + 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, ranged))
            shots = end(1, ranged).shots
            save_end(self.database, rig_id, EndDraft(f"r{ranged:.0f}", ranged, 0, round(dial, 1), shots), NOON)
            aim = open_rig(self.database, rig_id).range.act.aim
            if aim is not None:
                self.assertLessEqual(aim.ranged_m, reach.farthest_m)

    def test_an_unknown_ratio_is_not_taken_as_one(self) -> None:
        rig_id = self.add_rig(full_card(tape=TapeSeat(ratio=None, length_mm=60.0)))
        self.assertIn("travel per housing travel is not known", self.page(f"/rigs/{rig_id}/tape/print"))
        self.assertRegex(self.page(f"/rigs/{rig_id}/mount"), r"Tape, 17 m to 95 m</dt><dd>not known")


class OtherSheets(OnThePages):
    def test_what_is_not_dialled_gets_no_strip_and_what_it_needs(self) -> None:
        for kind, say in (
            ("fixed_pins", "Set the pins by the template."),
            ("geared_stack", "Spread the pins by the template."),
            ("pin_display", "Hold the display against these dots."),
        ):
            rig_id = self.add_rig(exact_card(kind))
            page = self.page(f"/rigs/{rig_id}/tape/print")
            self.assertIn("Nothing is dialled on this sight", page)
            for path in ("tape.pdf", "tape.svg", "tape.csv", "tape.json"):
                self.assertEqual(self.client.get(f"/rigs/{rig_id}/{path}").status_code, 303, (kind, path))
            self.assertEqual(self.say(f"/rigs/{rig_id}/tape/pins"), say)
            for path in ("", "/pins", "/fits", "/booklet", "/range-sheet"):
                words = self.page(f"/rigs/{rig_id}/tape{path}")
                self.assertNotIn("Lay the tape on", words, (kind, path))
                self.assertNotIn("pin dialled", words)
            self.assertEqual("Download the template" in self.page(f"/rigs/{rig_id}/tape/pins"), kind != "pin_display")
            self.assertEqual(self.client.get(f"/rigs/{rig_id}/tape/range-sheet.pdf").status_code, 200)

    def test_arrows_of_every_pin_make_a_geared_stack_s_holds(self) -> None:
        rig_id = self.add_rig(exact_card("geared_stack"))
        wide = {0: 0.0, 2: -1.2}
        for pin, off in wide.items():
            shots = end(1, PINS_M[pin], 0.0, hits(off, PINS_M[pin], PINS_M[pin])).shots
            save_end(self.database, rig_id, EndDraft(f"g{pin}", PINS_M[pin], pin, None, shots), NOON)
        rows = self.table(f"/rigs/{rig_id}/tape/pins?csv=gaps")
        self.assertEqual([row[5] == "not shot" for row in rows[1:]], [False, False, False])
        self.assertLess(float(rows[3][7]), 40.5)
        self.assertGreater(float(rows[3][7]), 38.4)

    def test_units_of_the_card(self) -> None:
        shop = self.shop
        shop.units = IMPERIAL
        rig_id = shop.rig(full_card(peep=replace(full_card().peep, aperture_m=0.0047625)))
        page = self.page(f"/rigs/{rig_id}/tape/slopes")
        self.assertIn("mph", page)
        self.assertNotIn("m/s", re.sub(r"<[^>]+>", "", page))
        self.assertIn('name="peep_aperture"', self.page(f"/rigs/{rig_id}/card"))
        self.assertRegex(self.page(f"/rigs/{rig_id}/card"), r'name="peep_aperture"[^>]* value="0.1875"')

    def test_the_unchecked_farthest_mark_is_said_until_another_day(self) -> None:
        rig_id = self.add_rig()
        rows = [RowEdit(d, round(true_mark(d), 1), arrows=6) for d in (17.0, 47.0, 78.0)]
        tape.save_rows(self.database, rig_id, rows, NOON)
        self.assertIn("The farthest mark, 78 m, is hardly checked", self.page(f"/rigs/{rig_id}/tape"))
        again = [RowEdit(78.0, round(true_mark(78.0), 1), arrows=6)]
        tape.save_rows(self.database, rig_id, again, NOON.replace(day=26))
        self.assertNotIn("hardly checked", self.page(f"/rigs/{rig_id}/tape"))
