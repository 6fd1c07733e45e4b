"""The range's page: as it is posted to."""

import json
import re
from dataclasses import replace
from html import unescape
from unittest import mock

from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.acts import MOVE
from cross_staff.core.sight_in.log import End
from cross_staff.core.sight_in.orders import read_order
from cross_staff.services.card.save import save as save_card
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in.ends import EndDraft, EndWriter, SavedEnd, save_end
from tests.ends import exact_card, hits, shots
from tests.rigs import NOON
from tests.web.client import WithClient, fields
from tests.web.sight_in.posted import Posted


class Ends(Posted):
    def test_typed_lines_without_any_script(self) -> None:
        self.assertEqual(self.end(shots="21 34\n8,5 51 x\n")[0], 303)
        (end,) = self.rig().range_log.ends
        self.assertEqual(
            [(s.right_m, s.up_m, s.called_bad) for s in end.shots], [(0.021, 0.034, False), (0.0085, 0.051, True)]
        )

    def test_bad_lines_come_back_as_typed_with_the_message(self) -> None:
        for typed, message in (("21", "right and up, in "), ("2100 5", "off any butt"), ("a b", "not a number"),
                               ("1 2 3", "right and up"), ("5 nan", "not a number")):  # fmt: skip
            status, page = self.end(shots=f"1 1\n{typed}")
            self.assertEqual(status, 422)
            self.assertIn("line 2", page)
            self.assertIn(message, page)
            self.assertIn(typed, page)
        self.assertEqual(self.rig().range_log.ends, ())

    def test_a_distance_in_other_units_and_none_at_all(self) -> None:
        self.end(distance="26 yd")
        self.end(key="k2", distance="")
        first, second = self.rig().range_log.ends
        self.assertAlmostEqual(first.ranged_m or 0, 26 * 0.9144)
        self.assertIsNone(second.ranged_m)
        page = self.client.get(self.here).text
        self.assertIn("kept, not counted: no distance", page)

    def test_what_is_wrong_is_said_at_its_field(self) -> None:
        wrong = (("distance", "900", "too much"), ("distance", "far", "not a number"), ("pin", "9", "of the sight"),
                 ("pin", "x", "choose one"))  # fmt: skip
        for name, value, message in wrong:
            status, page = self.end(**{name: value})
            self.assertEqual(status, 422, (name, value))
            self.assertIn(message, page)

    def test_a_dial_off_any_scale(self) -> None:
        self.rig_id = self.add_rig(exact_card("multi_pin_slider"))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        status, page = self.end(dial="4000")
        self.assertEqual(status, 422)
        self.assertIn("too much", page)

    def test_tapped_shots_come_as_the_page_sends_them(self) -> None:
        rows = json.dumps([{"key": "a.1", "right": 3, "up": -4.5, "bad": False}])
        headers = {"HX-Request": "true"}
        data = {"key": "k1", "distance": "17", "pin": "0", "placed": rows}
        answer = self.client.post(f"{self.here}/end", data=data, headers=headers)
        told = answer.json()
        self.assertEqual((answer.status_code, told["kept"], told["errors"], told["asked"]), (200, 1, {}, []))
        head = {name: told["head"][name] for name in ("distance", "pin", "dial", "dial_as", "stands", "note")}
        self.assertEqual(head, {"distance": "17", "pin": "0", "dial": "", "dial_as": "mm", "stands": "", "note": ""})
        again = self.client.post(f"{self.here}/end", data=data | {"taken_back": "a.1", "placed": "[]"}, headers=headers)
        self.assertEqual(again.json()["kept"], 0)

    def test_an_older_page_does_not_write_over_what_stands_above_an_end(self) -> None:
        headers, address = {"HX-Request": "true"}, f"{self.here}/end"
        first = {"key": "k1", "distance": "17", "pin": "0", "placed": json.dumps([{"key": "a", "right": 3, "up": 4}])}
        seen = self.client.post(address, data=first, headers=headers).json()["seen"]
        self.client.post(address, data=first | {"distance": "26", "seen": seen}, headers=headers)
        two = json.dumps([{"key": "a", "right": 3, "up": 4}, {"key": "b", "right": 1, "up": 2}])
        tap = first | {"placed": two, "seen": seen}  # the page that still shows 17
        told = self.client.post(address, data=tap, headers=headers)
        self.assertEqual((told.status_code, told.json()["head"]["distance"], told.json()["kept"]), (200, "26", 2))
        self.assertEqual(self.ends()[-1].ranged_m, 26.0)
        asked = self.client.post(address, data=tap | {"distance": "38"}, headers=headers)
        self.assertEqual(asked.status_code, 409)
        self.assertEqual(asked.json()["asked"], [{"name": "distance", "mine": "38", "theirs": "26"}])
        answer = tap | {"distance": "38", "seen": asked.json()["seen"], "choose-distance": "mine"}
        self.assertEqual(self.client.post(address, data=answer, headers=headers).status_code, 200)
        self.assertEqual(
            (
                self.ends()[-1].ranged_m,
                len(self.ends()[-1].shots),
            ),
            (38.0, 2),
        )

    def test_an_older_page_does_not_erase_the_session(self) -> None:
        old = self.form(self.here)
        self.client.post(f"{self.here}/session", data={"place": "upper ledge"})
        old = self.session_form()
        self.client.post(f"{self.here}/session", data=old | {"crosswind": "3", "light": "low sun"})
        self.client.post(f"{self.here}/session", data=old | {"place": "lower butts"})
        session = open_rig(self.database, self.rig_id).session
        self.assertEqual((session.place, session.crosswind_mps, session.light), ("lower butts", 3.0, "low sun"))
        late = self.client.post(f"{self.here}/session", data=old | {"place": "the road"})
        self.assertEqual(late.status_code, 409)
        self.assertIn("saved: <b>lower butts</b>", late.text)

    def ends(self) -> tuple[End, ...]:
        return open_rig(self.database, self.rig_id).every_end

    def session_form(self) -> dict[str, str]:
        page = self.client.get(self.here).text
        return fields(page[page.index("/sight_in/session") : page.index("/sight_in/settings")])

    def test_the_circle_and_the_face_are_joined(self) -> None:
        page = self.client.get(self.here).text
        old = fields(page[page.index("/sight_in/settings") : page.index("/sight_in/import")])
        self.client.post(f"{self.here}/settings", data=old | {"circle": "20"})
        self.client.post(f"{self.here}/settings", data=old | {"face": "ring"})
        said = open_rig(self.database, self.rig_id).range_log.said
        self.assertEqual((said["circle"].number, said["face"].choice), (0.2, "ring"))

    def test_an_import_is_taken_back_whole(self) -> None:
        self.client.post(f"{self.here}/end", data={"key": "own", "distance": "17", "pin": "0", "shots": "1 2"})
        lines = "end,distance_m,right_mm,up_mm\nown,17,5,5\nnew,26,1,2\nnew,26,3,4\n"
        answer = self.client.post(f"{self.here}/import", data={"csv": lines})
        self.assertIn("taken=3", answer.headers["location"])
        self.assertEqual([len(end.shots) for end in self.ends()], [2, 2])
        back = self.client.post(f"{self.here}/import/undo")
        self.assertIn("back=3", back.headers["location"])
        self.assertEqual(
            [(end.key, len(end.shots)) for end in self.ends() if not end.removed],
            [("own", 1)],
        )
        self.assertEqual(self.client.post(f"{self.here}/import/undo").status_code, 404)

    def test_an_import_says_how_far_it_is(self) -> None:
        """Somebody else asks while it runs."""
        key, seen, keep = "import-key", [], EndWriter.save

        def save(writer: EndWriter, draft: EndDraft) -> SavedEnd:
            seen.append(self.client.get(f"/saves/{key}").json())
            return keep(writer, draft)

        self.assertEqual(self.client.get(f"/saves/{key}").status_code, 204)
        lines = "end,distance_m,right_mm,up_mm\na,17,5,5\nb,26,1,2\nb,26,3,4\nc,40,1,1\n"
        with mock.patch.object(EndWriter, "save", save):
            answer = self.client.post(f"{self.here}/import", data={"csv": lines}, headers={"X-Save": key})
        self.assertEqual(answer.status_code, 204)
        self.assertEqual(seen, [{"done": done, "of": 4} for done in (0, 1, 3)])
        self.assertEqual(self.client.get(f"/saves/{key}").json(), {"done": 4, "of": 4})
        self.assertEqual([len(end.shots) for end in self.ends()], [1, 2, 1])

    def test_an_import_over_what_is_here_is_taken_back_to_what_it_was(self) -> None:
        self.client.post(f"{self.here}/end", data={"key": "own", "distance": "17", "pin": "0", "shots": "1 2\n3 4"})
        before = self.ends()
        lines = "end,shot,distance_m,right_mm,up_mm\nown,own-1,17,90,90\nown,own-9,17,5,5\n"
        self.client.post(f"{self.here}/import", data={"csv": lines})
        self.assertEqual((self.ends()[0].ranged_m, len(self.ends()[0].shots)), (17.0, 3))
        self.client.post(f"{self.here}/import/undo")
        self.assertEqual(self.ends(), before)

    def test_garbled_shots_are_refused(self) -> None:
        for rows in ("{", "[1]", '[{"key": "../x", "right": 1, "up": 1}]', '[{"key": "k", "right": "no", "up": 1}]',
                     '[{"key": "k", "right": 1e9, "up": 1}]'):  # fmt: skip
            typed = {"key": "k", "distance": "17", "placed": rows}
            answer = self.client.post(f"{self.here}/end", data=typed, headers={"HX-Request": "true"})
            self.assertEqual(answer.status_code, 422, rows[:40])
            self.assertIn("shots", answer.json()["errors"])
        self.assertEqual(self.rig().range_log.ends, ())

    def test_an_end_is_opened_again_with_what_it_had(self) -> None:
        self.end(note="gusty")
        page = self.client.get(f"{self.here}?end=k1").text
        self.assertIn("End of 3 arrows, opened again", page)
        kept = fields(page)
        self.assertEqual((kept["key"], kept["distance"], kept["note"]), ("k1", "17", "gusty"))

    def test_an_end_keeps_its_pin_and_dial_on_another_sight(self) -> None:
        many = exact_card("multi_pin_slider")
        save_card(self.database, self.rig_id, 2, many, {}, NOON)
        self.end(dial="4", pin="2")
        few = replace(exact_card("fixed_pins"), sight=replace(exact_card("fixed_pins").sight, pins=()))
        few = replace(few, goals=replace(few.goals, pin_distances_m=()))
        save_card(self.database, self.rig_id, 3, few, {}, NOON)
        page = self.client.get(f"{self.here}?end=k1").text
        self.assertIn("pin 3, gone", page)
        answer = self.client.post(f"{self.here}/end", data=fields(page) | {"note": "gusty", "placed": ""})
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(self.post("/end/k1/leave_out", reason="gusts")[0], 303)
        (end,) = self.rig().range_log.ends
        self.assertEqual((end.pin, end.dial_mm, end.note[:5], end.left_out), (2, 4.0, "gusty", True))

    def test_leaving_out_removing_calling_bad(self) -> None:
        self.end(shots="1 1\n2 0\n-1 3\n0 0\n340 -200")
        page = self.client.get(self.here).text
        self.assertIn("far from the others", page)
        self.assertIn("Was it called bad?", page)
        self.assertEqual(self.post("/end/k1/shot/k1-5/bad")[0], 303)
        self.assertNotIn("Was it called bad?", self.client.get(self.here).text)
        for what in ("leave_out", "remove", "restore", "use", "counts"):
            self.assertEqual(self.post(f"/end/k1/{what}")[0], 303)
        self.assertEqual(self.post("/end/k1/burn")[0], 404)
        self.assertEqual(self.post("/end/none/remove")[0], 404)


class Instructions(Posted):
    def test_control_way_and_amount_are_named(self) -> None:
        self.wild_sight()
        page = self.client.get(self.here).text
        self.assertIn("Housing, up and down: 9", page)
        self.assertRegex(page, r"<b>[\d.]+ mm</b> <b class=\"way\">down</b>")
        self.assertIn(
            "Unlock Housing, up and down: half a turn, 2.5 mm key; move it; lock Housing, up and down again.", page
        )
        self.assertRegex(page, r"(right|left)</b><span>Housing, left and right|Windage micro")

    def test_done_then_it_is_shot_before_it_is_called_good(self) -> None:
        self.wild_sight()
        typed = fields(self.client.get(self.here).text)
        order = {"act_key": typed["act_key"], "order": unescape(typed["order"])}
        self.assertEqual(self.post("/moved", **order)[0], 303)
        self.assertIn("It was moved since", self.client.get(self.here).text)
        self.assertEqual(self.post("/moved", **order)[0], 303)  # a double tap
        self.assertEqual(len(self.rig().range_log.moves), len(read_order(order["order"])))

    def test_what_was_done_on_a_step_out_of_order_is_noted(self) -> None:
        self.wild_sight()
        typed = fields(self.client.get(f"{self.here}?step=home").text)
        self.end(key="k9")  # somebody shoots on meanwhile
        order = unescape(typed["order"])
        self.assertEqual(self.post("/moved", act_key=typed["act_key"], order=order)[0], 303)
        noted = [(move.drive, move.amount) for move in self.rig().range_log.moves]
        self.assertEqual(noted, [(each.drive, each.amount) for each in read_order(order)])

    def test_a_garbled_order_is_refused_in_words(self) -> None:
        self.wild_sight()
        status, page = self.post("/moved", act_key="x", order="[]")
        self.assertEqual(status, 422)
        self.assertIn("The order came in garbled", page)

    def test_an_unchecked_knob_offers_the_other_way(self) -> None:
        far = 17.82 / 0.82
        many = tuple(replace(s, key=f"a{n}") for n, s in enumerate(shots(1.4e-3 * far, 0.0, 0.01)))
        save_end(self.database, self.rig_id, EndDraft("a", 17.0, shots=many), NOON)
        page = self.client.get(f"{self.here}?step=home").text
        self.assertIn("Windage micro went the other way", page)
        self.assertIn("10 clicks", page)  # a small trial: nobody looked yet which way it goes
        self.assertIn("A small trial", page)

    def test_the_crosswind_stands_beside_windage_advice(self) -> None:
        self.post("/session", place="upper ledge", crosswind="3", counts="full", session_key="s")
        self.wild_sight()
        page = self.client.get(self.here).text
        self.assertIn("never a windage setting", page)

    def test_steps_said_skipped_and_taken_back(self) -> None:
        self.assertEqual(self.post("/step/face", state="done")[0], 303)
        status, page = self.post("/step/close", state="skipped")
        self.assertEqual(status, 422)
        self.assertIn("write who confirms it", page)
        self.assertEqual(self.post("/step/close", state="skipped", confirmed_by="Sela Brandt")[0], 303)
        self.assertIn("confirmed, Sela Brandt", self.client.get(self.here).text)
        self.assertEqual(self.post("/step/face/open")[0], 303)
        self.assertEqual(self.post("/step/nosuch", state="done")[0], 404)

    def test_out_of_order_is_allowed_with_a_word(self) -> None:
        page = self.client.get(f"{self.here}?step=each_2").text
        self.assertIn("A step that matters before it is still open", page)
        self.assertIn("You asked for this step", page)

    def test_a_wrong_pin_is_asked_about_and_put_right(self) -> None:
        for pin, distance in enumerate((17.0, 26.0, 38.0)):
            many = tuple(replace(s, key=f"{pin}.{n}") for n, s in enumerate(shots(0.0, 0.0, 8e-4 * distance)))
            save_end(self.database, self.rig_id, EndDraft(f"p{pin}", distance, pin, shots=many), NOON)
        many = tuple(replace(s, key=f"w{n}") for n, s in enumerate(shots(0.0, hits(0.0, 26.0, 38.0), 0.03)))
        save_end(self.database, self.rig_id, EndDraft("w", 38.0, 2, shots=many), NOON)
        page = self.client.get(self.here).text
        self.assertIn("What was different at the last end?", page)
        self.assertNotIn("Done, it moved that way", page)
        values = [unescape(v) for v in re.findall(r'name="answer" value="([^"]*)"', page)]
        pin = next(v for v in values if json.loads(v).get("pin") == 1)
        self.assertIn("asked about: not counted until that is answered", page)
        self.assertEqual(self.post("/answer", ends="w", answer=pin)[0], 303)
        self.assertEqual(self.rig().range_log.ends[-1].pin, 1)
        self.assertNotIn("What was different", self.client.get(self.here).text)
        status, page = self.post("/answer", ends="w", answer="{}")
        self.assertEqual(status, 422)
        self.assertIn("choose one of the answers", page)

    def test_one_s_own_movement(self) -> None:
        self.assertEqual(self.post("/own-move", drive="Windage micro", amount="-4", move_key="m1")[0], 303)
        wrong = (("amount", "0", "say how far"), ("amount", "a bit", "not a number"), ("drive", "Oar", "of the sight"))
        for name, value, message in wrong:
            typed = {name: value}
            status, page = self.post(
                "/own-move", **({"drive": "Windage micro", "amount": "3", "move_key": "m2"} | typed)
            )
            self.assertEqual(status, 422)
            self.assertIn(message, page)
        self.assertIn("4 clicks left", self.client.get(self.here).text)
        self.assertEqual(self.post("/move/m1/undo")[0], 303)

    def test_settings_and_session_say_what_is_wrong(self) -> None:
        self.assertEqual(self.post("/settings", circle="9", face="ring", face_size="10")[0], 303)
        self.assertIn("face-ring", self.client.get(self.here).text)
        status, page = self.post("/settings", circle="1", face="disc", face_size="0")
        self.assertEqual(status, 422)
        self.assertIn("too little", page)
        status, page = self.post("/session", crosswind="a breeze", temperature="99", place="lower ledge")
        self.assertEqual(status, 422)
        self.assertIn("not a number", page)
        self.assertIn("too much", page)
        self.assertIn('value="lower ledge"', page)

    def test_an_incomplete_card_still_keeps_arrows(self) -> None:
        self.rig_id = self.add_rig(replace(exact_card(), eye_to_sight_m=None))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        self.assertIn("Complete the card first.", self.client.get(self.here).text)
        self.assertEqual(self.end()[0], 303)
        self.assertEqual(len(self.rig().range_log.ends), 1)
        self.assertEqual(self.client.get(self.here).status_code, 200)

    def test_schools(self) -> None:
        self.rig_id = self.add_rig(exact_card("multi_pin_slider"))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        self.assertIn("Dialled pin: the far pin", self.client.get(self.here).text)
        self.assertEqual(self.post("/choose/dialled/near")[0], 303)
        self.assertIn("Dialled pin: the near pin", self.client.get(self.here).text)
        self.assertEqual(self.post("/choose/dialled/both")[0], 404)

    def test_a_click_is_calibrated_on_the_scale(self) -> None:
        self.rig_id = self.add_rig(exact_card("target_scope"))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        self.assertIn("5.00 by the card", self.client.get(f"{self.here}?step=click").text)
        for typed, message in (("", "read the travel"), ("0", "too little"), ("a lot", "not a number")):
            status, page = self.post("/click?step=click", hundred_clicks=typed)
            self.assertEqual(status, 422)
            self.assertIn(message, page)
        self.assertEqual(self.post("/click", hundred_clicks="5,2")[0], 303)
        scale = self.rig()
        drum = next(c for c in scale.card.sight.controls if c.moves == "elevation")
        self.assertAlmostEqual(drum.per_click_mm or 0, 0.052)
        self.assertEqual((scale.revision.why, scale.range.steps[1].state), ("a click travels 0.052 mm", "done"))
        self.rig_id = self.add_rig(exact_card("fixed_pins"))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        self.assertEqual(self.post("/click", hundred_clicks="5")[0], 422)

    def test_the_last_end_is_judged_by_itself_too(self) -> None:
        self.end(shots="21 34\n8 51\n30 22\n-4 40\n15 61")
        page = self.client.get(self.here).text.replace("\u00a0", " ")
        self.assertIn(
            "1.4 cm right, 4.2 cm high ± 1.3 cm: height beyond chance (so far off about once in 90 times by luck)", page
        )
        self.assertIn("times that of your earlier ends", page)

    def test_a_session_keeps_the_arrows_it_was_begun_with(self) -> None:
        self.post("/session", place="lower ledge", counts="full", session_key="s")
        made = self.rig()
        other = replace(made.card.build, name="stout")
        save_card(self.database, self.rig_id, made.revision.number, made.card.with_build(other), made.units, NOON, "x")
        self.post("/session", place="upper ledge", counts="half")
        (session,) = self.rig().range_log.sessions
        self.assertEqual((session.place, session.build, session.counts), ("upper ledge", "slim", "half"))

    def test_every_kind_of_sight_has_its_page(self) -> None:
        from cross_staff.core.rig.sight_kinds import KINDS

        for kind in KINDS:
            rig_id = self.add_rig(exact_card(kind))
            page = self.client.get(f"/rigs/{rig_id}/sight_in")
            self.assertEqual(page.status_code, 200, kind)
            for step in open_rig(self.database, rig_id).range.steps:
                shown = self.client.get(f"/rigs/{rig_id}/sight_in?step={step.step.key}")
                self.assertEqual(shown.status_code, 200, (kind, step.step.key))
                self.assertNotRegex(shown.text, r"\{(pin|at|home|far|place|centre|reserve)\}")


class Files(Posted):
    def test_csv_out_and_in_again_is_the_same(self) -> None:
        self.end(shots="21 34\n8 51 x\n-4.5 40")
        text = self.client.get(f"{self.here}.csv").content.decode("utf-8-sig")
        self.assertEqual(len(text.splitlines()), 4)
        before = self.rig().range_log
        self.assertEqual(self.post("/import", csv=text)[0], 303)
        self.assertEqual(self.rig().range_log.ends, before.ends)  # nothing twice
        other = self.add_rig(exact_card())
        self.client.post(f"/rigs/{other}/sight_in/import", data={"csv": text})
        (end,) = open_rig(self.database, other).range_log.ends
        self.assertEqual(end.shots, before.ends[0].shots)

    def test_five_hundred_shots_pasted_from_a_spreadsheet(self) -> None:
        lines = ["distance\tpin\tright\tup"]
        for n in range(500):
            distance, pin = ("26 m", 1) if n < 250 else ("38 m", 2)
            lines.append(f"{distance}\t{pin}\t{n % 40 - 20}\t{n % 30 - 15}")
        answer = self.client.post(f"{self.here}/import", data={"csv": "\n".join(lines)})
        self.assertEqual(answer.headers["location"], f"{self.here}?taken=500")
        self.assertIn("500 shots were taken in", self.client.get(answer.headers["location"]).text)
        self.assertEqual([len(e.shots) for e in self.rig().range_log.ends], [250, 250])

    def test_mixed_units_are_read_by_what_stands_behind(self) -> None:
        self.post("/import", csv="distance,right,up\n26,1,2\n30 yd,1,2\n")
        self.assertEqual([round(e.ranged_m or 0, 2) for e in self.rig().range_log.ends], [26.0, 27.43])

    def test_nothing_is_taken_unless_every_line_is_sound(self) -> None:
        wrong = {
            "": "paste the lines",
            "right,up\n1,2": "missing: distance_m",
            "distance,right,up\n17,1,2\n17,x,2": "1 of 2 lines is not sound",
            "distance,right,up\n9000,1,2": "between 0.5 and 400",
            "distance,pin,right,up\n17,9,1,2": "of the sight",
            "distance,pin,right,up\n17,b,1,2": "not a pin",
            "distance,right,up\n17,1": "up_mm is empty",
            "distance,right,up\n17,5000,0": "off any butt",
        }
        for text, message in wrong.items():
            status, page = self.post("/import", csv=text)
            self.assertEqual(status, 422, text)
            self.assertIn(message.lower(), page.lower())
            self.assertIn(text.splitlines()[-1] if text else "", page)
        self.assertEqual(self.rig().range_log.ends, ())

    def test_the_session_sheet_prints(self) -> None:
        self.wild_sight()
        for rig_id in (self.rig_id, self.add_rig(exact_card("target_scope")), self.add_rig(RigCard("bare"))):
            answer = self.client.get(f"/rigs/{rig_id}/sight_in.pdf")
            self.assertEqual((answer.status_code, answer.content[:5]), (200, b"%PDF-"))

    def test_what_the_sheet_says(self) -> None:
        from cross_staff.web.forms.units import Units
        from cross_staff.web.sight_in.files import sheet

        self.wild_sight()
        heading, tables = sheet(self.rig(), Units())
        self.assertIn("Now: Housing, up and down", heading[-1])
        named = dict(tables)
        self.assertEqual(list(named), ["Steps", "Aims", "Ends", "At the range, by hand"])
        self.assertEqual(len(named["Ends"]), 2)
        self.assertEqual(named["Steps"][1][2], "done")


class Followed(WithClient):
    def test_a_rig_is_led_on_from_the_bench(self) -> None:
        rig_id = self.add_rig(exact_card())
        self.assertIn("Sight in", self.client.get(f"/rigs/{rig_id}/card").text)
        self.assertEqual(open_rig(self.database, rig_id).range.act.kind == MOVE, False)
