"""The tape's pages: what each says, its files measured, and what it answers to bad input."""

from __future__ import annotations

import re
import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import Goals, Mount
from cross_staff.core.rig.sight import Housing, Pin, SightModel
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from tests.rigs import NOON, full_card, true_mark
from tests.web.client import WithClient, fields
from tests.web.tape.test_tape import table
from tests.web.test_route import longest_dark_run, rasterised

PAGES = ("/pins", "/dialled", "/holds", "/slopes", "/fits", "/booklet", "/change", "/range-sheet")


def three_pins() -> SightModel:
    return SightModel(
        "three pins, 44 mm housing", "multi_pin_slider", pins=(Pin(0.48),) * 3, slider_travel_mm=60.0,
        housing=Housing(44.0, 50.0, 22.0, 30.0), extension_mm=(0.0, 15.0),
    )  # fmt: skip


class Pages(WithClient):
    def setUp(self) -> None:
        super().setUp()
        goals = Goals(
            17.0, 95.0, 0.25, 0.10, 38.0, (12.0, 17.0, 38.0, 61.0, 95.0), (17.0, 38.0, 61.0), False, 0.61, 0.61
        )
        mount = Mount(detent=0, home="reserve", reserve_mm=3.0)
        self.rig_id = self.add_rig(full_card(sight=three_pins(), goals=goals, mount=mount))
        self.base = f"/rigs/{self.rig_id}/tape"
        sight_in.choose(self.database, self.rig_id, "dialled", "near", NOON)
        rows = table(*((f"{d}", f"{true_mark(d):.1f}", "", "12") for d in (17, 47, 78)))
        self.client.post(self.base, data=rows)

    def page(self, path: str, status: int = 200) -> str:
        answer = self.client.get(self.base + path)
        self.assertEqual(answer.status_code, status, path)
        return answer.text.replace("\u00a0", " ")

    def raster(self, path: str) -> np.ndarray:
        answer = self.client.get(self.base + path)
        self.assertEqual((answer.status_code, answer.content[:5]), (200, b"%PDF-"), answer.text[:300])
        with tempfile.TemporaryDirectory(prefix="cross-staff-test-") as folder:
            file = Path(folder) / "page.pdf"
            file.write_bytes(answer.content)
            return rasterised(file)

    def test_every_page_leads_to_every_other(self) -> None:
        for path in ("", "/print", *PAGES):
            text = self.page(path)
            for other in PAGES:
                self.assertIn(f'href="{self.base}{other}"', text)
            self.assertEqual(text.count('aria-current="page"'), 2)

    def test_without_a_tape_every_page_says_what_is_missing(self) -> None:
        self.client.post("/rigs", data={"name": "bare"})
        for path in PAGES:
            self.assertIn("There is no tape yet", self.client.get(f"/rigs/2/tape{path}").text)
        for page in ("/pins", "/range-sheet"):
            self.assertEqual(self.client.get(f"/rigs/2/tape{page}.pdf").headers["location"], f"/rigs/2/tape{page}")

    # pins
    def test_the_template_is_true_to_scale(self) -> None:
        rig = open_rig(self.database, self.rig_id)
        heights = rig.heights_m
        grey = self.raster("/pins.pdf")
        self.assertAlmostEqual(max(longest_dark_run(row) for row in grey) / 10.0, 100.0, delta=0.2)
        strip = grey[620:, 305:325] < 128  # beyond the bars of the pins' thickness lie the lines alone
        inner = grey[620:, 345:415] < 128
        rows = np.flatnonzero(inner.mean(axis=1) > 0.95)
        lines = [float(group.mean()) for group in np.split(rows, np.flatnonzero(np.diff(rows) > 1) + 1)]
        self.assertTrue(strip.any())
        self.assertEqual(len(lines), 3)
        for line, height in zip(lines, heights):
            self.assertAlmostEqual((line - lines[0]) / 10.0, 1000.0 * (heights[0] - height), delta=0.11)

    def test_pins_in_the_wrong_order_and_other_nonsense(self) -> None:
        for query, words in (
            ("first=61&last=17", "the nearest first"),
            ("count=1", "too little"),
            ("count=2.5", "whole number"),
            ("count=many", "not a number"),
            ("target=0", "too little"),
            ("bar=10", "too little"),
            ("paper=A3", "choose one"),
        ):
            self.assertIn(words, self.page(f"/pins?{query}", 422))
        self.assertEqual(self.client.get(f"{self.base}/pins.pdf?bar=10").status_code, 422)
        self.assertEqual(self.client.get(f"{self.base}/pins.doc").status_code, 404)

    def test_choices_are_priced(self) -> None:
        text = self.page("/pins?count=4&first=17&last=61&target=25")
        for words in ("even gaps", "point-on bands that meet", "widest cover", "two pins, largest gap"):
            self.assertIn(words, text)
        self.assertIn("housing", text)

    # dialled
    def test_one_distance_is_answered(self) -> None:
        self.assertIn("47 m: top pin’s pointer".replace("’", "&#39;"), self.page("/dialled?wanted=47"))
        self.assertIn("nothing to dial", self.page("/dialled?wanted=17"))
        self.assertIn("beyond its reach", self.page("/dialled?wanted=180"))
        self.assertIn("is not a number", self.page("/dialled?wanted=far", 422))
        self.assertIn("too much", self.page("/dialled?wanted=900", 422))

    def test_the_other_school_begins_its_tape_elsewhere(self) -> None:
        self.assertIn("its tape begins at 17 m", self.page("/dialled"))
        answer = self.client.post(f"{self.base}/dialled/far")
        self.assertEqual(answer.status_code, 303)
        text = self.page("/dialled")
        self.assertIn("its own home distance, not at 17 m", text)
        self.assertRegex(self.page("/print"), r'name="from"[^>]* value="61"')
        self.assertEqual(self.client.post(f"{self.base}/dialled/both").status_code, 404)

    def test_a_mark_of_another_pin(self) -> None:
        form = fields(self.client.get(self.base).text)
        below = 1000.0 * (open_rig(self.database, self.rig_id).heights_m[0] - 0.08)
        form |= {"row-3-distance": "61", "row-3-mark": f"{true_mark(61) - below:.1f}", "row-3-pin": "2"}
        self.assertEqual(self.client.post(self.base, data=form).status_code, 303)
        rows = open_rig(self.database, self.rig_id).evaluation.rows
        self.assertEqual([row.entry.pin for row in rows], [0, 0, 0, 2])
        self.assertFalse(any(row.findings for row in rows))
        form = fields(self.client.get(self.base).text) | {"row-3-pin": "9"}
        answer = self.client.post(self.base, data=form)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("this sight has 3 pins", answer.text)

    def test_marks_keep_their_pin_while_the_card_names_none(self) -> None:
        rows = table(("61", "30", "", "")) | {"row-0-key": "p" * 16, "row-0-pin": "2"}
        self.client.post(self.base, data=rows)
        rig = open_rig(self.database, self.rig_id)
        bare = replace(
            rig.card, sight=replace(rig.card.sight, pins=()), goals=replace(rig.card.goals, pin_distances_m=())
        )
        card.save(self.database, self.rig_id, 2, bare, {}, NOON)
        form = fields(self.client.get(self.base).text) | {"row-4-distance": "50", "row-4-mark": "22"}
        self.assertEqual(self.client.post(self.base, data=form).status_code, 303)
        kept = [row.entry for row in open_rig(self.database, self.rig_id).evaluation.rows]
        self.assertEqual(
            [(mark.ranged_m, mark.pin) for mark in kept if mark.ranged_m in (50.0, 61.0)], [(61.0, 2), (50.0, 0)]
        )

    # holds
    def test_a_hold_for_one_distance_and_another_target(self) -> None:
        self.assertIn("For 45 m: hold pin 2", self.page("/holds?at=45"))
        self.assertIn("dead on", self.page("/holds?at=38"))
        self.assertIn("out of reach", self.page("/holds?at=200").replace("For 200 m", "out of reach"))
        self.assertIn("Point-on for 40 cm", self.page("/holds?target=40"))
        self.assertIn("too little", self.page("/holds?target=1", 422))

    # slopes
    def test_slopes_that_cannot_be(self) -> None:
        for query, words in (
            ("up=90", "90 ° is too much: between 1 and 60 °"),
            ("down=-10", "too little"),
            ("up=1+2+3+4+5+6+7+8+9", "at most 8 slopes"),
            ("there_m=99999", "too much"),
            ("there_c=cold", "is not a number"),
        ):
            self.assertIn(words, self.page(f"/slopes?{query}", 422))

    def test_cuts_reach_remedies_wind_and_a_trip(self) -> None:
        text = self.page("/slopes?there_m=1500&there_c=28")
        for words in (
            "Dial for a slope up",
            "Dial for a slope down",
            "What ends the reach",
            "Crosswind",
            "1500 m, 28 °C",
        ):
            self.assertIn(words, text)

    # booklet
    def test_strips_in_and_the_answer_out(self) -> None:
        form = {"from": "17", "to": "95"}
        for row, (label, order, span) in enumerate((("A", "1", "44"), ("D", "4", "50"))):
            form |= {f"label_{row}": label, f"order_{row}": order, f"span_{row}": span}
        self.assertEqual(self.client.post(f"{self.base}/booklet", data=form).status_code, 303)
        text = self.page("/booklet")
        self.assertRegex(text, r"(Use strip|Strip) (B|C|D)\b")
        self.assertIn("(not measured)", text)
        self.assertIn("What a trial strip says", text)
        self.assertIn("At another place of the extension", text)
        used = re.search(r'name="used" value="([^"]+)"', text)
        assert used
        self.client.post(f"{self.base}/booklet", data={"used": used.group(1)})
        self.assertIn(f"Strip {used.group(1)} is on this sight", self.page("/booklet"))
        self.assertEqual(len(open_rig(self.database, self.rig_id).card.sight.booklet.strips), 2)

    def test_what_the_fit_cannot_tell_is_said_and_what_will(self) -> None:
        form = {"from": "17", "to": "95", "label_0": "4", "span_0": "44", "label_1": "9", "span_1": "46"}
        self.client.post(f"{self.base}/booklet", data=form)
        text = self.page("/booklet").replace("\u00a0", " ")
        self.assertRegex(text, r"Strip \d+, or (one of )?\d+( or| to)? ?\d*\.|Strip \d+; \d+ does as well")
        self.assertRegex(text, r"This fit cannot tell it from \d+, [\d.]+ cm (high|low).*6 arrows at \d+ m w(ill|ould)")
        labels = re.findall(r'name="used" value="(\d+)"', text)
        self.assertGreater(len(labels), 1)
        self.client.post(f"{self.base}/booklet", data={"used": labels[1]})
        again = self.page("/booklet")
        self.assertIn(f"Strip {labels[1]} stays on.", again)
        self.assertRegex(again, rf"Strip {labels[1]} is on this sight, cut \d{{4}}-\d\d-\d\d for")
        self.client.post(f"{self.base}/booklet", data={"used": "30"})
        far = self.page("/booklet")
        self.assertIn("Put on strip", far)
        self.assertIn(f"Cut before: {labels[1]} on ", far)

    def test_no_strip_is_named_while_the_marks_disagree(self) -> None:
        form = {"from": "17", "to": "95", "label_0": "4", "span_0": "44", "label_1": "9", "span_1": "60"}
        self.client.post(f"{self.base}/booklet", data=form)
        self.assertNotIn("Settle the marks first.", self.page("/booklet"))
        self.client.post(self.base, data=table(("70", "20", "0", "6")) | {"row-0-key": "f" * 16})
        self.assertTrue(open_rig(self.database, self.rig_id).evaluation.doubtful)
        text = self.page("/booklet")
        self.assertIn("Settle the marks first.", text)
        self.assertRegex(text, "They disagree, .* As they are:")
        self.assertIn("Open the marks", text)
        self.assertNotIn("I cut strip", text)

    def test_labels_in_any_order(self) -> None:
        form = {"from": "17", "to": "95", "labels": "X, K Z B Q", "label_0": "K", "span_0": "42"}
        form |= {"label_1": "B", "span_1": "50"}
        self.assertEqual(self.client.post(f"{self.base}/booklet", data=form).status_code, 303)
        kept = open_rig(self.database, self.rig_id).card.sight.booklet
        self.assertEqual([(s.label, s.order) for s in kept.strips], [("K", 2.0), ("B", 4.0)])
        self.assertIn("X K Z B Q", self.page("/booklet"))
        wrong = self.client.post(f"{self.base}/booklet", data=form | {"labels": "X X B"})
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("each label once", wrong.text)

    def test_strips_that_contradict_each_other_keep_what_was_typed(self) -> None:
        form = {"from": "17", "to": "95"}
        for row, span in enumerate(("44", "50", "47")):
            form |= {f"label_{row}": "ABC"[row], f"order_{row}": str(row + 1), f"span_{row}": span}
        answer = self.client.post(f"{self.base}/booklet", data=form)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("contradict the others", answer.text)
        self.assertEqual(fields(answer.text)["span_2"], "47")
        for change, words in (
            ({"span_1": ""}, "its length between"),
            ({"order_1": "first"}, "is not a number"),
            ({"label_1": "²", "order_1": ""}, "its place in the booklet"),
            ({"to": "12"}, "must be farther"),
            ({"from": ""}, "between which distances"),
        ):
            answer = self.client.post(f"{self.base}/booklet", data=form | {"span_2": "55"} | change)
            self.assertEqual(answer.status_code, 422, change)
            self.assertIn(words, answer.text)

    # fits
    def test_fits_and_layings(self) -> None:
        text = self.page("/fits")
        for words in ("speed alone", "two marks", "all marks", "Lay the tape on"):
            self.assertIn(words, text)

    def test_before_the_first_mark_nothing_is_laid(self) -> None:
        other = self.add_rig()
        self.assertIn("Shoot the home mark first", self.client.get(f"/rigs/{other}/tape/fits").text)
        self.assertIn("Shoot marks first", self.client.get(f"/rigs/{other}/tape/change").text)

    # change
    def test_another_draw_weight(self) -> None:
        card = open_rig(self.database, self.rig_id).card
        self.assertIsNone(card.bow.draw_weight_n)
        text = self.page("/change")
        self.assertIn("Choose what changes", text)
        self.assertIn("what the marks were shot with", self.page("/change?to=0", 422))
        self.assertIn("too much", self.page("/change?draw_weight=900", 422))
        self.assertIn("choose one", self.page("/change?to=%C2%B2", 422))

    # the range sheet
    def test_the_range_sheet_is_one_page_on_every_paper(self) -> None:
        for paper, size in (("A4", (2100, 2970)), ("Letter", (2159, 2794)), ("Pocket", (900, 1480))):
            grey = self.raster(f"/range-sheet.pdf?paper={paper}&show=marks&show=cut_up")
            self.assertAlmostEqual(grey.shape[1], size[0], delta=2)
            self.assertAlmostEqual(grey.shape[0], size[1], delta=2)
            self.assertGreater((grey < 128).mean(), 0.002)

    def test_what_does_not_fit_is_said_before_it_is_printed(self) -> None:
        everything = "&".join(
            f"show={key}" for key in re.findall(r'name="show" value="(\w+)"', self.page("/range-sheet"))
        )
        self.assertIn("too much for one Pocket page", self.page(f"/range-sheet?paper=Pocket&{everything}"))
        self.assertEqual(self.client.get(f"{self.base}/range-sheet.pdf?paper=Pocket&{everything}").status_code, 422)
        self.assertEqual(self.client.get(f"{self.base}/range-sheet.pdf?paper=A0").status_code, 422)

    def test_only_what_was_chosen_is_on_it(self) -> None:
        text = self.page("/range-sheet?show=holds&show=nonsense")
        self.assertIn('id="table-holds"', text)
        self.assertNotIn('id="table-marks"', text)
        self.assertIn("Air of a trip", self.page("/range-sheet?show=holds&there_m=1200"))


class Printed(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.base = f"/rigs/{self.rig_id}/tape"
        self.client.post(self.base, data=table(*((f"{d}", f"{true_mark(d):.1f}", "", "6") for d in (17, 47, 78))))

    def test_a_tape_that_was_printed_is_printed_again_byte_for_byte(self) -> None:
        answer = self.client.post(f"{self.base}/print?from=17&to=95&width=12&other=yd&low=4")
        self.assertEqual(answer.status_code, 303)
        first = self.client.get(answer.headers["location"]).content
        self.client.post(self.base, data=table(("17", "25"), ("61", "60")))  # the rig goes on
        again = self.client.get(f"{self.base}/printed/1.pdf").content
        self.assertEqual(first, again)
        self.assertNotEqual(first, self.client.get(f"{self.base}.pdf?width=12&other=yd&low=4").content)
        text = self.client.get(f"{self.base}/print").text.replace("\u00a0", " ")
        self.assertIn("No. 1,", text)
        self.assertIn("other edge: the same in yd · set 4.0 cm low at 95 m, as asked", text)
        svg = self.client.get(f"{self.base}/printed/1.svg?bar=98").text
        self.assertIn('width="102.0408"', svg)

    def test_the_same_twice_is_kept_once(self) -> None:
        for _ in range(2):
            self.client.post(f"{self.base}/print?from=17&to=95")
        self.assertEqual(self.client.get(f"{self.base}/printed/2.pdf").status_code, 404)

    def test_what_cannot_be_printed_is_not_kept(self) -> None:
        for query, words in (
            ("from=96&to=99", "beyond the farthest"),
            ("low=900", "too much"),
            ("other=pin7", "choose one"),
            ("other=yd&width=8", "two edges"),
        ):
            page = self.client.get(f"{self.base}/print?{query}")
            self.assertEqual(page.status_code, 422, query)
            self.assertIn(words, page.text)
            self.assertEqual(self.client.post(f"{self.base}/print?{query}").status_code, 422)
        self.assertEqual(self.client.get(f"{self.base}/printed/1.pdf").status_code, 404)
        self.assertEqual(self.client.get(f"{self.base}/printed/1.doc").status_code, 404)

    def test_printed_measured_and_entered_again_it_is_the_same_tape(self) -> None:
        """Off the printed PDF, ten pixels a millimetre, every numbered tick is read as a mark of a new rig."""
        before = open_rig(self.database, self.rig_id).evaluation
        with tempfile.TemporaryDirectory(prefix="cross-staff-test-") as folder:
            file = Path(folder) / "tape.pdf"
            file.write_bytes(self.client.get(f"{self.base}.pdf?from=30&to=95&width=12").content)
            grey = rasterised(file)
        ticks = self._ticks(grey)
        self.assertEqual(len(ticks), 66)
        marks = dict(zip(range(30, 96), ticks))
        other = self.add_rig()
        rows = [(f"{d}", f"{marks[d] - marks[30] + 20.0:.2f}", "", "99") for d in (30, 38, 47, 61, 78, 95)]
        self.client.post(f"/rigs/{other}/tape", data=table(*rows))
        after = open_rig(self.database, other).evaluation
        assert before.fit and after.fit
        one, two = ([row.mark_mm or 0.0 for row in tape.fit.tape([30.0, 55.0, 90.0])] for tape in (before, after))
        for place in (1, 2):
            self.assertAlmostEqual(one[place] - one[0], two[place] - two[0], delta=0.12)

    def _ticks(self, grey: np.ndarray) -> list[float]:
        """Places of the ticks of the fitted strip, read along its edge [mm]."""
        svg = " ".join(self.client.get(f"{self.base}.svg?from=30&to=95&width=12").text.split())
        words = re.search(
            r'translate\(([\d.]+) ([\d.]+)\)" font-size="[\d.]+" text-anchor="middle" font-weight="600">fitted', svg
        )
        assert words
        edge = float(words.group(1)) + 6.0  # the words stand over the middle of a strip of 12 mm
        top = float(words.group(2)) + 1.6
        column = grey[int(10 * top) + 20 : 2400, int(10 * edge) - 25 : int(10 * edge) - 8] < 140
        rows = np.flatnonzero(column.mean(axis=1) > 0.95)
        return [float(g.mean()) / 10.0 for g in np.split(rows, np.flatnonzero(np.diff(rows) > 1) + 1)]


class Seats(WithClient):
    def test_the_seat_to_use_is_said_and_a_tape_past_the_reach_is_offered(self) -> None:
        card = full_card()
        tape = replace(card.tape, places_mm=(-5.0, 0.0, 12.0), length_mm=60.0)
        sight = replace(card.with_tape(tape).sight, slider_travel_mm=70.0)
        rig_id = self.add_rig(replace(card, sight=sight))
        text = self.client.get(f"/rigs/{rig_id}/tape/print").text
        self.assertIn("Use this one: the seat that begins", text)
        self.assertIn("Print as far as that", text)

    def test_a_ratio_of_nought_is_refused_on_the_card(self) -> None:
        rig_id = self.add_rig()
        form = self.form(f"/rigs/{rig_id}/card") | {"tape_kind": "ratio", "tape_ratio": "0"}
        answer = self.client.post(f"/rigs/{rig_id}/card", data=form)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("0 is too little: between 0.1 and 20", answer.text)

    def test_a_measured_ratio_goes_into_the_fit_with_its_width(self) -> None:
        rig_id = self.add_rig()
        form = self.form(f"/rigs/{rig_id}/card") | {"tape_kind": "ratio", "tape_ratio": "2.3"}
        form |= {"tape_ratio_sd": "0.05"}
        self.assertEqual(
            self.client.post(f"/rigs/{rig_id}/card", data=form | {"tape_places": "0  30"}).status_code, 303
        )
        card = open_rig(self.database, rig_id).card
        self.assertEqual((card.tape.ratio, card.tape.ratio_sd, card.tape.places_mm), (2.3, 0.05, (0.0, 30.0)))
        rows = ((f"{d}", f"{20 + 2.35 * (true_mark(d) - 20):.1f}", "", "12") for d in (17, 38, 61, 78))
        self.client.post(f"/rigs/{rig_id}/tape", data=table(*rows))
        fit = open_rig(self.database, rig_id).evaluation.fit
        assert fit
        self.assertAlmostEqual(fit.tape_ratio, 2.35, delta=0.06)
        self.assertIn("tape_ratio", fit.pulls)


class EndsLeftOut(WithClient):
    def test_an_end_of_the_range_is_left_out_with_a_reason(self) -> None:
        rig_id = self.add_rig(full_card(sight=SightModel(kind="single_pin_slider")))
        shots = tuple(Shot(0.01 * i, 0.002 * i, key=f"s{i}") for i in range(4))
        save_end(self.database, rig_id, EndDraft("e1", 17.0, 0, 20.0, shots), NOON)
        save_end(self.database, rig_id, EndDraft("e2", 61.0, 0, 45.0, shots), NOON)
        base = f"/rigs/{rig_id}/tape"
        self.assertEqual(len(open_rig(self.database, rig_id).evaluation.used), 2)
        answer = self.client.post(f"{base}/end/e2", data={"reason": "dusk"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("write why, in a few words", answer.text)
        self.assertIn('value="dusk"', answer.text)
        self.assertEqual(self.client.post(f"{base}/end/e2", data={"reason": "shot in the dusk"}).status_code, 303)
        rig = open_rig(self.database, rig_id)
        self.assertEqual([row.used for row in rig.evaluation.rows], [True, False])
        self.assertEqual(rig.range_log.ends[-1].note, "left out: shot in the dusk")
        self.client.post(f"{base}/end/e2", data={"use": "1"})
        self.assertEqual(len(open_rig(self.database, rig_id).evaluation.used), 2)
        self.assertEqual(self.client.post(f"{base}/end/none", data={"reason": "no such end"}).status_code, 404)
