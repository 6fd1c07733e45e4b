import html

from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.services.rig import open_rig
from tests.shop import passing
from tests.web.client import WithClient, fields


class Prepare(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/prepare"

    def line(self, key: str):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id).checklist.line(key)

    def answer(self, key: str, **typed: str):  # type: ignore[no-untyped-def]
        return self.client.post(f"{self.path}/{key}", data=typed)

    def test_every_line_can_be_opened_and_says_what_to_do_and_why(self) -> None:
        for check in CHECKS.values():
            page = html.unescape(self.client.get(f"{self.path}?line={check.key}").text)
            self.assertIn(check.do, page)
            self.assertIn(check.why, page)

    def test_answering_goes_on_to_the_next_open_line(self) -> None:
        answer = self.answer("rest_centred", number="0.3")
        self.assertEqual(answer.headers["location"], f"{self.path}?line=arrow_square")
        self.assertAlmostEqual(self.line("rest_centred").entry.number, 0.0003)
        self.assertEqual(self.line("rest_centred").verdict, "pass")

    def test_a_line_that_fails_stays_and_says_what_to_try(self) -> None:
        answer = self.answer("d_loop", choice="same_side")
        self.assertEqual(answer.headers["location"], f"{self.path}?line=d_loop")
        self.assertIn("Tie it again with the ends on opposite sides.", self.client.get(answer.headers["location"]).text)

    def test_what_was_only_seen_or_is_not_known_is_kept_with_what_it_leaves_open(self) -> None:
        self.assertEqual(self.answer("cam_timing", choice="by_eye", number="").status_code, 303)
        page = self.client.get(f"{self.path}?line=cam_timing").text
        self.assertIn("by eye it looks right: noted.", page)
        self.assertIn("It leaves some 3.2\u00a0cm open at 95\u00a0m.", html.unescape(page))
        self.assertEqual(self.answer("eyes_closed", choice="absent").headers["location"].split("=")[1], "shafts")
        here = self.client.get(f"{self.path}?line=eyes_closed").text
        self.assertIn("no peep: noted.", here)
        self.assertIn("The card has a peep and its height: say there how it is.", here)
        self.answer("rest_centred", choice="not_known", note="no rule at hand")
        self.assertIn("not known: open.", self.client.get(f"{self.path}?line=rest_centred").text)
        refused = self.answer("servings", choice="absent")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("every bow has this", refused.text)

    def test_a_worn_string_is_said_on_every_page_until_somebody_qualified_has_looked(self) -> None:
        self.answer("servings", choice="worn")
        rig = f"/rigs/{self.rig_id}"
        for path in ("card", "prepare", "mount", "level", "sight_in", "tape", "prove"):
            self.assertIn("Do not draw this bow.", self.client.get(f"{rig}/{path}").text, path)
        self.assertIn("Do not draw this bow.", self.client.get("/").text)
        self.client.post(f"{self.path}/override", data={"reason": "only to level it in the vise"})
        self.assertIn("do not draw", self.client.get(rig + "/mount").text)
        self.answer("servings", choice="by_eye")
        self.assertIn("Do not draw this bow.", self.client.get(f"{rig}/level").text)
        unsaid = self.answer("servings", choice="passed")
        self.assertEqual(unsaid.status_code, 422)
        self.assertIn("say who looked at it", unsaid.text)
        self.answer("servings", choice="passed", note="looked at by the club's bow maker")
        self.assertNotIn("Do not draw this bow.", self.client.get(f"{rig}/level").text)

    def test_tuning_knows_what_the_bow_has_and_repeats_nothing(self) -> None:
        card = fields(self.client.get(f"/rigs/{self.rig_id}/card").text) | {"cams_by": "yokes"}
        self.assertEqual(self.client.post(f"/rigs/{self.rig_id}/card", data=card).status_code, 303)
        for after in ("", "grip", "rest_right"):
            self.answer("paper_tear", right="15", up="0", after=after)
        page = html.unescape(self.client.get(f"{self.path}?line=paper_tear").text)
        self.assertIn("Half a twist into the right leg of the yoke", page)
        self.assertNotIn("spacer", page)
        self.answer("paper_tear", right="15", up="0", after="yoke_right")
        self.assertIn("No step is left to try here.", self.client.get(f"{self.path}?line=paper_tear").text)
        self.answer("paper_tear", right="15", up="0", after="cam_left")  # what was done can be said all the same
        self.assertEqual(self.line("paper_tear").entry.after, "cam_left")

    def test_bad_input_is_said_at_its_field_and_kept(self) -> None:
        for key, typed, words in (
            ("rest_centred", {"number": "a bit"}, "is not a number"),
            ("rest_centred", {"number": ""}, "type a number"),
            ("cam_timing", {"number": "90"}, "too much"),
            ("d_loop", {"choice": "frayed"}, "choose one of these"),
            ("paper_tear", {"right": "12", "up": "sky"}, "is not a number"),
            ("paper_tear", {"right": "12", "up": "300"}, "too much"),
            ("paper_tear", {"right": "1", "up": "1", "after": "sawed"}, ""),
            ("bare_shaft", {"right": "1", "up": "1", "distance": "0.1"}, "too little"),
            ("walk_back", {"wb_0_distance": "10", "wb_0_right": "x"}, "is not a number"),
            ("walk_back", {"wb_0_distance": "10", "wb_0_right": "1"}, "three distances at least"),
        ):
            with self.subTest(key, typed=typed):
                answer = self.answer(key, note="as typed", **typed)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.text)
                back = fields(answer.text)
                self.assertEqual(back["note"], "as typed")
                for name in ("right", "wb_0_distance"):
                    if name in typed:
                        self.assertEqual(back[name], typed[name])
        self.assertEqual(open_rig(self.database, self.rig_id).log_of("prepare"), ())
        self.assertEqual(self.answer("spine", choice="good").status_code, 404)
        self.assertEqual(self.answer("nonsense", choice="good").status_code, 404)

    def test_tears_are_remembered_with_what_was_done_before_them(self) -> None:
        self.answer("paper_tear", right="12", up="-1")
        self.answer("paper_tear", right="12", up="-1", after="grip")
        self.answer("paper_tear", right="7,5", up="-1", after="rest_left")
        page = self.client.get(f"{self.path}?line=paper_tear").text
        self.assertIn("7.5\u00a0mm right, 1\u00a0mm low: noted.", page)
        self.assertIn("Move the rest 0.5 mm to the left.", page)
        self.assertIn("The last step shrank it", page)
        self.assertIn('<option value="rest_left" selected>', page)
        self.client.post(f"{self.path}/paper_tear/undo")
        self.assertIn("12\u00a0mm right", self.client.get(f"{self.path}?line=paper_tear").text)

    def test_nothing_is_offered_to_be_taken_that_nobody_looked_at(self) -> None:
        self.answer("paper_tear", right="12", up="-1")
        self.answer("walk_back", wb_0_distance="10", wb_0_right="8", wb_1_distance="20", wb_1_right="16")
        for key in ("paper_tear", "bare_shaft", "walk_back"):
            page = self.client.get(f"{self.path}?line={key}").text
            work = fields(page.split('class="work"')[1].split("</form>")[0])
            read = {name: value for name, value in work.items() if name.endswith(("right", "up")) and value}
            self.assertEqual(read, {}, key)
            again = self.client.post(f"{self.path}/{key}", data=work)
            self.assertEqual(again.status_code, 422, key)

    def test_a_bare_shaft_and_a_walk_back(self) -> None:
        self.answer("bare_shaft", right="-9", up="0", distance="18")
        self.assertEqual(self.line("bare_shaft").verdict, "fail")
        typed = {f"wb_{i}_{n}": v for i, row in enumerate((("30", "24"), ("10", "8"), ("20", "16")))
                 for n, v in zip(("distance", "right"), row)}  # fmt: skip
        self.answer("walk_back", **typed)
        page = self.client.get(f"{self.path}?line=walk_back").text
        self.assertIn("The line slants to the right with distance", page)
        self.assertEqual([d for d, _ in self.line("walk_back").entry.points], [10.0, 20.0, 30.0])

    def test_the_gate_opens_with_a_written_reason_which_stays_on_the_card(self) -> None:
        refused = self.client.post(f"{self.path}/override", data={"reason": "ok"})
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(fields(refused.text)["reason"], "ok")
        self.client.post(f"{self.path}/override", data={"reason": "rough sight-in before tuning"})
        self.assertTrue(open_rig(self.database, self.rig_id).checklist.gate_open)
        self.assertIn("rough sight-in before tuning", self.client.get(f"/rigs/{self.rig_id}/card").text)
        self.assertIn("opened with a reason", self.client.get(self.path).text)
        self.client.post(f"{self.path}/gate_override/undo")
        self.assertFalse(open_rig(self.database, self.rig_id).checklist.gate_open)

    def test_a_double_tap_is_one_entry_and_undo_of_nothing_is_said(self) -> None:
        self.answer("d_loop", choice="good")
        self.answer("d_loop", choice="good")
        self.assertEqual(len(open_rig(self.database, self.rig_id).log_of("prepare")), 1)
        self.client.post(f"{self.path}/d_loop/undo")
        self.assertEqual(self.client.post(f"{self.path}/d_loop/undo").status_code, 404)

    def test_what_happened_to_the_bow_makes_its_lines_old(self) -> None:
        self.answer("cam_timing", number="0")
        form, path = {"did_twist": "1", "why": "peep turned"}, f"/rigs/{self.rig_id}/events"
        ahead = self.client.post(f"{path}/ahead", data=form, headers={"HX-Request": "true"}).text
        self.assertIn("Sets aside 1 check of the bench sheet.", ahead)
        self.assertIn("a twisted string is shorter", ahead)
        self.client.post(path, data=form)
        self.assertEqual(self.line("cam_timing").verdict, "old")
        self.assertIn("1 to check again", self.client.get(self.path).text)
        self.assertIn("string twisted to turn the peep", self.client.get(f"/rigs/{self.rig_id}/card/revisions").text)

    def test_the_bench_asks_for_the_bow_before_the_tape(self) -> None:
        self.assertIn("Measure how far the rest stands", self.client.get("/").text)
        for entry in passing():
            if entry.choice:
                self.answer(entry.key, choice=entry.choice)
            elif entry.key in ("paper_tear", "bare_shaft"):
                self.answer(entry.key, right="1", up="0", distance="20")
            elif entry.number is not None:
                self.answer(entry.key, number=f"{entry.number:g}")
        self.assertTrue(open_rig(self.database, self.rig_id).checklist.good)
        self.assertIn("Lay out what blocks what.", self.client.get("/").text)

    def test_the_peep_is_told_what_the_far_end_asks(self) -> None:
        page = self.client.get(f"{self.path}?line=eyes_closed").text
        self.assertIn("square to the arrow", page)
        self.assertRegex(page, r"Set it a shade low, by up to [34]\.\d\u00a0mm")
