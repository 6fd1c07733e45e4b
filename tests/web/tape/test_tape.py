import csv
import io
import json

from cross_staff.services.rig import open_rig
from tests.rigs import full_card, true_mark
from tests.web.client import WithClient, fields

HTMX = {"HX-Request": "true"}


def table(*rows: tuple) -> dict[str, str]:
    """A posted table: distance, mark, high or low, arrows as text."""
    form = {"distance": "m", "offset": "cm"}
    for index, row in enumerate(rows):
        for column, text in zip(("distance", "mark", "up", "arrows"), [*row, "", "", ""]):
            form[f"row-{index}-{column}"] = str(text)
    return form


class Marks(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/tape"

    def post(self, form: dict[str, str], **headers: str) -> object:
        return self.client.post(self.path, data=form, headers=headers)

    def kept(self) -> list[tuple[float, float]]:
        rows = open_rig(self.database, self.rig_id).evaluation.rows
        return [(row.entry.ranged_m, row.entry.mark_mm) for row in rows]

    def test_without_javascript_a_table_is_saved_and_shown(self) -> None:
        answer = self.post(table(("17", "20"), ("61", "44,3", "3 low", "6"), ("", "")))
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(self.kept(), [(17.0, 20.0), (61.0, 44.3)])
        shown = fields(self.client.get(self.path).text)
        self.assertEqual((shown["row-1-mark"], shown["row-1-up"], shown["row-1-line"]), ("44.3", "-3", "2"))

    def test_saving_what_is_shown_writes_nothing(self) -> None:
        self.post(table(("17", "20"), ("61", "44.3", "-3", "6")))
        self.post(self.form(self.path))
        self.assertEqual(len(open_rig(self.database, self.rig_id).log), 2)

    def test_with_htmx_the_pieces_come_alone(self) -> None:
        answer = self.post(table(("17", "20"), ("61", f"{true_mark(61):.1f}")), **HTMX)
        self.assertEqual(answer.status_code, 200)
        for piece in ("staff", "tape-now", "tape-drawing", "tape-reckoning", "row-0-said", "row-1-said", "tape-log"):
            self.assertEqual(answer.text.count(f'id="{piece}"'), 1, piece)
        self.assertNotIn("<html", answer.text)
        self.assertNotIn('name="row-0-mark"', answer.text)

    def test_a_wrong_cell_is_said_keeps_its_text_and_holds_up_no_other_row(self) -> None:
        answer = self.post(
            table(("17", "20"), ("sixty", "44"), ("400", "60"), ("38", ""), ("47", "33", "up there", "six"))
        )
        self.assertEqual(answer.status_code, 422)
        for words in (
            "“sixty” is not a number",
            "400 m is too much: between 2 and 200 m",
            "the mark is missing",
            "“six” is not a count",
            "not a number: type figures",
        ):  # noqa: E501
            self.assertIn(words, answer.text)
        typed = fields(answer.text)
        self.assertEqual((typed["row-1-distance"], typed["row-4-up"]), ("sixty", "up there"))
        self.assertEqual(self.kept(), [(17.0, 20.0)])

    def test_an_empty_table_is_a_tape_from_speed_alone(self) -> None:
        self.assertEqual(self.post(table(("", ""))).status_code, 303)
        page = self.client.get(self.path).text
        self.assertIn("comes from speed and geometry alone", page)
        self.assertIn("Shoot 6 arrows at 17", page)

    def test_one_mark_places_the_tape_only(self) -> None:
        self.post(table(("17", "20")))
        self.assertIn("says nothing of its length", self.client.get(self.path).text)

    def test_findings_are_said_at_their_rows(self) -> None:
        cases = (
            ("Nearer than the turnover", [("17", "20"), ("8", f"{true_mark(8):.1f}"), ("61", f"{true_mark(61):.1f}")]),
            ("more than chance", [("17", "20"), ("61", f"{true_mark(61):.1f}"), ("61", f"{true_mark(61) + 5:.1f}")]),
            ("Read the scale the other way", [("17", "80"), ("61", "55"), ("78", "44")]),
            ("Suspect", [("17", "20"), ("26", f"{true_mark(26):.1f}"), ("38", f"{true_mark(38) + 4:.1f}"), ("61", f"{true_mark(61):.1f}")]),  # noqa: E501
        )  # fmt: skip
        for words, rows in cases:
            with self.subTest(words):
                self.rig_id = self.add_rig()
                self.path = f"/rigs/{self.rig_id}/tape"
                self.post(table(*rows))
                self.assertIn(words, self.client.get(self.path).text)

    def test_inputs_that_contradict_name_the_largest_pull(self) -> None:
        self.rig_id = self.add_rig(
            full_card(chronograph=full_card().chronograph.__class__((92.0, 92.1, 92.2), accuracy=0.001))
        )
        self.path = f"/rigs/{self.rig_id}/tape"
        self.post(table(*((f"{d}", f"{true_mark(d):.1f}", "", "6") for d in (17, 38, 61, 78))))
        self.assertIn("They differ most about", self.client.get(self.path).text)

    def test_pasted_spreadsheet_rows(self) -> None:
        answer = self.post(
            table(("", ""))
            | {"pasted": "distance\tmark\thit\tarrows\n17\t20,0\t\t6\n38\t31.2\t-2\t6\r\n61;44.1;3 low;4\n"}
        )
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(self.kept(), [(17.0, 20.0), (38.0, 31.2), (61.0, 44.1)])

    def test_a_table_sent_twice_is_kept_once(self) -> None:
        form = self.form(self.path) | {"row-0-distance": "17", "row-0-mark": "20"}
        self.post(form, **HTMX)
        self.post(form | {"row-0-arrows": "6", "pasted": "61\t44"}, **HTMX)
        self.assertEqual(self.kept(), [(17.0, 20.0)])
        for _ in range(2):
            self.post(form | {"row-0-arrows": "6", "pasted": "61\t44"})
        self.assertEqual(self.kept(), [(17.0, 20.0), (61.0, 44.0)])

    def test_pasted_rows_that_are_wrong_come_back_with_their_message(self) -> None:
        answer = self.post(table(("", "")) | {"pasted": "17\t20\n38\tn/a 7\n"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("n/a 7", answer.text)
        self.assertEqual(self.kept(), [(17.0, 20.0)])

    def test_more_pasted_rows_than_there_is_room_for_are_not_lost(self) -> None:
        lines = "\n".join(f"{17 + n / 10}\t{20 + n / 10:.1f}" for n in range(70))
        answer = self.post(table(("", "")) | {"pasted": lines})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("The table is full", answer.text)
        self.assertRegex(answer.text, r"<textarea[^>]*>23\.0\t26\.0")
        self.assertEqual(len(self.kept()), 60)

    def test_nothing_is_called_good_while_the_inputs_disagree(self) -> None:
        marks = [(f"{d}", f"{true_mark(d):.1f}", "", "6") for d in (70, 20, 45)]
        slip = (*marks[2][:1], f"{true_mark(45) + 9:.1f}", *marks[2][2:])
        self.client.post(self.path, data=table(*marks[:2], slip))
        page = self.client.get(self.path).text
        self.assertIn(">In doubt<", page)
        self.assertNotRegex(page, "[Gg]ood to [0-9]")
        mended = fields(page) | {"row-2-mark": marks[2][1]}
        self.client.post(self.path, data=mended)
        self.assertRegex(self.client.get(self.path).text, "Good to [0-9]")

    def test_the_next_action_leads_to_the_suspect(self) -> None:
        self.post(table(*((f"{d}", f"{true_mark(d) + 4 * (d == 38):.1f}") for d in (17, 26, 38, 61))))
        self.assertIn('data-focus="row-2-mark"', self.client.get(self.path).text)

    def test_a_row_changed_in_another_window_is_not_overwritten(self) -> None:
        self.post(table(("17", "20")))
        old = self.form(self.path)
        self.post(old | {"row-0-mark": "20.6"})
        late = self.post(old | {"row-0-mark": "21.3"})
        self.assertEqual(late.status_code, 422)
        self.assertIn("saved: 20.6 at 17", late.text)
        self.assertEqual(fields(late.text)["row-0-mark"], "21.3")
        asked = fields(late.text)
        self.post(asked)
        self.assertEqual(self.kept(), [(17.0, 20.6)])
        self.post(asked | {"row-0-choose": "mine"})
        self.assertEqual(self.kept(), [(17.0, 21.3)])
        theirs = self.post(old | {"row-0-mark": "22"})
        self.assertEqual(self.post(fields(theirs.text) | {"row-0-choose": "theirs"}).status_code, 303)
        self.assertEqual(self.kept(), [(17.0, 21.3)])

    def test_other_cells_of_a_row_are_joined(self) -> None:
        self.post(table(("17", "20")))
        old = self.form(self.path)
        self.post(old | {"row-0-mark": "20.6"})
        self.assertEqual(self.post(old | {"row-0-arrows": "6"}).status_code, 303)
        entry = open_rig(self.database, self.rig_id).log[-1]
        self.assertEqual((entry.mark_mm, entry.arrows), (20.6, 6))

    def test_taking_out_emptying_and_undoing(self) -> None:
        self.post(table(("17", "20"), ("61", "44")))
        self.post(self.form(self.path) | {"remove": "0"})
        self.assertEqual(self.kept(), [(61.0, 44.0)])
        form = self.form(self.path)
        self.post(form | {"row-0-distance": "", "row-0-mark": ""})
        self.assertEqual(self.kept(), [])
        newest = open_rig(self.database, self.rig_id).log[-1].entry_id
        self.assertEqual(self.client.post(f"{self.path}/undo/{newest}").status_code, 303)
        self.assertEqual(self.kept(), [(61.0, 44.0)])

    def test_leaving_out(self) -> None:
        self.post(table(("17", "20"), ("61", "44")))
        answer = self.post(self.form(self.path) | {"row-1-left_out": "on"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("write why, in a few words", answer.text)
        self.assertEqual(len(open_rig(self.database, self.rig_id).evaluation.used), 2)
        reason = {"row-1-left_out": "on", "row-1-reason": "read it in the dusk"}
        self.assertEqual(self.post(self.form(self.path) | reason).status_code, 303)
        page = self.client.get(self.path).text
        self.assertIn("Left out of the fit", page)
        self.assertIn("left out of the fit: read it in the dusk", page)
        self.assertEqual(len(open_rig(self.database, self.rig_id).evaluation.used), 1)
        self.post({k: v for k, v in self.form(self.path).items() if k != "row-1-left_out"})
        self.assertEqual(len(open_rig(self.database, self.rig_id).evaluation.used), 2)

    def test_old_marks_can_be_said_to_hold(self) -> None:
        self.post(table(("17", "20"), ("61", "44")))
        card = f"/rigs/{self.rig_id}/card"
        moved = self.form(card) | {"eye_to_sight": "760", "meant_dovetail": "changed"}
        self.client.post(card, data=moved)
        page = self.client.get(self.path).text
        self.assertIn("Set aside: measured at revision 2", page)
        self.assertRegex(page, r"<b>2 marks set aside</b> since [-0-9: ]+: sight moved on its dovetail or extension")
        taken = {f"result_{result}": "1" for result in ("home", "tape")}
        self.client.post(f"/rigs/{self.rig_id}/events/take-up", data=taken | {"station": "tape", "why": "no"})
        self.assertIn("Set aside", self.client.get(self.path).text)
        answer = self.client.post(
            f"/rigs/{self.rig_id}/events/take-up", data=taken | {"station": "tape", "why": "the bar was never loose"}
        )
        self.assertEqual(answer.headers["location"], self.path)
        self.assertNotIn("set aside", self.client.get(self.path).text.lower())

    def test_the_scale_can_be_read_the_other_way(self) -> None:
        self.post(table(("17", "80"), ("61", f"{100 - true_mark(61):.1f}")))
        self.client.post(f"{self.path}/scale")
        page = self.client.get(self.path).text
        self.assertNotIn("Read the scale the other way", page)
        self.assertIn("revision 3", page)

    def test_rows_typed_in_yards_before_the_card_went_metric_stay_yards(self) -> None:
        self.post(table(("20", "20")) | {"distance": "yd"})
        self.assertAlmostEqual(self.kept()[0][0], 18.288)


class Printing(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.base = f"/rigs/{self.rig_id}/tape"
        rows = [(f"{d}", f"{true_mark(d):.1f}", "", "6") for d in (17, 47, 78)]
        self.client.post(self.base, data=table(*rows))

    def test_pdf_and_svg_come_as_files(self) -> None:
        pdf = self.client.get(f"{self.base}.pdf")
        self.assertEqual((pdf.status_code, pdf.content[:5]), (200, b"%PDF-"))
        self.assertIn('filename="test-bow-tape.pdf"', pdf.headers["content-disposition"])
        self.assertEqual(pdf.content, self.client.get(f"{self.base}.pdf").content)
        svg = self.client.get(f"{self.base}.svg")
        self.assertIn('width="210.0mm"', svg.text)
        self.assertIn('width="100.0000"', svg.text)
        for words in ("Test bow", "fitted · rev 2", "3 marks, good to", "good to 95"):
            self.assertIn(words, svg.text.replace("\u00a0", " "))

    def test_the_table_as_csv_and_json_agrees_with_the_fit(self) -> None:
        fit = open_rig(self.database, self.rig_id).evaluation.fit
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"{self.base}.csv").text.lstrip("\ufeff"))))
        data = json.loads(self.client.get(f"{self.base}.json").text)
        self.assertEqual((rows[0]["distance_m"], rows[-1]["distance_m"], len(rows)), ("17", "95", 79))
        self.assertEqual((data["revision"], data["marks_used"]), (2, 3))
        for row, other in zip(rows, data["rows"]):
            mark = fit.tape([float(row["distance_m"])])[0].mark_mm
            self.assertAlmostEqual(float(row["scale_mm"]), mark, delta=1e-3)
            self.assertAlmostEqual(other["scale_mm"], mark, delta=1e-5)

    def test_options_that_cannot_be_are_said_at_their_field(self) -> None:
        for query, words in (
            ("bar=50", "50 mm is too little: between 90 and 110 mm"),
            ("to=far", "is not a number"),
            ("copies=99", "too much"),
            ("copies=1.5", "whole number"),
            ("to=10", "farther than where it starts"),
            ("width=99", "too much"),
        ):
            page = self.client.get(f"{self.base}/print?{query}")
            self.assertEqual(page.status_code, 422, query)
            self.assertIn(words, page.text)
            self.assertEqual(self.client.get(f"{self.base}.pdf?{query}").status_code, 422)

    def test_a_span_that_leaves_nothing_or_too_much(self) -> None:
        page = self.client.get(f"{self.base}/print?from=3&to=6")
        self.assertIn("at least two ticks", page.text)

    def test_a_measured_bar_is_corrected_and_said(self) -> None:
        svg = self.client.get(f"{self.base}.svg?bar=98").text
        self.assertIn('width="102.0408"', svg)
        self.assertIn("bar measured 98 mm", svg)

    def test_letters_that_the_type_lacks_are_shown_as_such(self) -> None:
        from reportlab.pdfbase import pdfmetrics

        from cross_staff.web.shared.pdf import printable

        self.client.get(f"{self.base}.pdf")
        self.assertIn("SheetBold", pdfmetrics.getRegisteredFontNames())
        self.assertEqual(printable("Łuk é × 1 → 2", "SheetBold"), "?uk é × 1 ? 2")

    def test_pages_of_an_svg(self) -> None:
        self.assertEqual(self.client.get(f"{self.base}.svg?copies=12&page=2").status_code, 200)
        self.assertEqual(self.client.get(f"{self.base}.svg?page=9").status_code, 422)

    def test_nothing_to_print_yet(self) -> None:
        self.client.post("/rigs", data={"name": "bare"})
        self.assertIn("no tape yet", self.client.get("/rigs/2/tape/print").text)
        for ending in ("pdf", "svg", "csv", "json"):
            self.assertEqual(self.client.get(f"/rigs/2/tape.{ending}").headers["location"], "/rigs/2/tape/print")
