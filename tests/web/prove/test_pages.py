from __future__ import annotations

import re
from datetime import date, timedelta

from cross_staff.services.rig import Rig, open_rig
from tests.shop import IMPERIAL, Shop, rig_card
from tests.web.client import WithClient

LINE = {"key": "a1", "seen": "0", "distance": "61", "arrows": "4", "up": "3", "up_way": "low", "day": "2026-11-20"}


class Proving(WithClient):
    def setUp(self) -> None:
        super().setUp()
        shop = self.shop
        self.rig_id = shop.rig()
        shop.marks(self.rig_id, 17.0, 38.0, 61.0, 78.0)
        shop.printed(self.rig_id)

    @property
    def path(self) -> str:
        return f"/rigs/{self.rig_id}/prove"

    @property
    def rig(self) -> Rig:
        return open_rig(self.database, self.rig_id)

    def keep(self, **changes: str) -> int:
        return int(self.client.post(self.path, data=LINE | changes).status_code)

    def page(self, below: str = "") -> str:
        answer = self.client.get(self.path + below)
        self.assertEqual(answer.status_code, 200)
        return str(answer.text)

    def shot(self, days: int, per_m: float) -> None:
        """Lines that come in so much higher for each metre at the distance [m/m]."""
        shop = self.shop
        for day in range(days):
            for distance in ((38.0, 78.0), (47.0, 61.0))[day % 2]:
                shop.proof(self.rig_id, day, distance, per_m * (distance + 0.82))


class Lines(Proving):
    def test_a_line_is_kept_and_shown_in_the_log(self) -> None:
        self.assertEqual(self.keep(), 303)
        line = self.rig.prove.lines[0]
        self.assertEqual((line.ranged_m, line.dialled_m, line.arrows, line.day), (61.0, 61.0, 4, date(2026, 11, 20)))
        self.assertAlmostEqual(line.up_m or 0.0, -0.03)
        self.assertIsNone(line.right_m)
        self.assertIn("4 arrows 3.0\u00a0cm low", self.page("?said=kept"))

    def test_heights_as_people_write_them(self) -> None:
        for text, way, up in (
            ("3 low", "high", -0.03),
            ("3 high", "low", 0.03),
            ("-2", "high", -0.02),
            ("+2,5", "low", 0.025),
            ("0", "low", 0.0),
            ("1 in low", "high", -0.0254),
        ):
            with self.subTest(text):
                key = "key " + "".join(letter for letter in text if letter.isalnum()) + str(len(text))
                self.assertEqual(self.keep(key=key, up=text, up_way=way), 303)
                newest = next(line for line in self.rig.prove.lines if line.key == key)
                self.assertAlmostEqual(newest.up_m or 0.0, up, places=6)

    def test_sideways_dialled_elsewhere_cold_wind_and_slope(self) -> None:
        self.assertEqual(self.keep(right="4 left", dialled="64", cold="yes", wind="2", slope="-12", note="gusts"), 303)
        line = self.rig.prove.lines[0]
        self.assertEqual((line.dialled_m, line.cold, line.crosswind_mps, line.note), (64.0, True, 2.0, "gusts"))
        self.assertAlmostEqual(line.right_m or 0.0, -0.04)
        self.assertAlmostEqual(line.slope_rad, -0.2094, places=3)

    def test_what_is_wrong_is_said_at_its_field_and_what_was_typed_stays(self) -> None:
        for field, text, said in (
            ("distance", "", "say at which distance"),
            ("distance", "far", "not a number"),
            ("dialled", "9999", "too much"),
            ("arrows", "", "say how many"),
            ("arrows", "0", "between 1 and 60"),
            ("up", "some", "not a number"),
            ("up", "", "say how high or low"),
            ("up", "900", "too much"),
            ("right", "much left", "not a number"),
            ("wind", "gale", "not a number"),
            ("slope", "80", "too much"),
            ("day", "yesterday", "not a day"),
            ("day", (date.today() + timedelta(days=40)).isoformat(), "not a day that was"),
        ):
            with self.subTest(field=field, text=text):
                answer = self.client.post(self.path, data=LINE | {"note": "kept as typed", field: text})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(said, answer.text)
                self.assertIn("kept as typed", answer.text)
                self.assertRegex(answer.text, rf'name="{field}"[^>]*aria-invalid="true"')
        self.assertEqual(self.rig.proof_log, ())

    def test_a_double_click_is_one_line(self) -> None:
        self.keep()
        self.keep()
        self.assertEqual(len(self.rig.proof_log), 1)

    def test_a_line_is_opened_again_and_mended(self) -> None:
        self.keep(right="2", right_way="left")
        line = self.rig.prove.lines[0]
        opened = self.page("?line=a1")
        self.assertIn("A line, opened again", opened)
        self.assertIn(f'name="seen" value="{line.entry_id}"', opened)
        self.assertEqual(self.keep(seen=str(line.entry_id), up="13"), 303)
        self.assertAlmostEqual(self.rig.prove.lines[0].up_m or 0.0, -0.13)
        self.assertEqual(self.client.get(self.path + "?line=nothing").status_code, 404)

    def test_of_two_windows_the_second_is_asked_and_keeps_what_it_typed(self) -> None:
        self.keep()
        seen = str(self.rig.prove.lines[0].entry_id)
        self.keep(seen=seen, up="5")
        answer = self.client.post(self.path, data=LINE | {"seen": seen, "up": "9"})
        self.assertEqual(answer.status_code, 409)
        self.assertIn("meanwhile, in another window, changed to: at 61", answer.text)
        self.assertIn('value="9"', answer.text)
        again = re.search(r'name="seen" value="(\d+)"', answer.text)
        assert again is not None
        self.assertEqual(self.keep(seen=again[1], up="9"), 303)
        self.assertAlmostEqual(self.rig.prove.lines[0].up_m or 0.0, -0.09)

    def test_a_key_can_always_be_an_address(self) -> None:
        self.assertEqual(self.keep(key="../a/b?c#d"), 303)
        key = self.rig.prove.lines[0].key
        self.assertEqual(key, "..abcd")
        self.assertEqual(self.client.post(f"{self.path}/line/{key}/undo").status_code, 303)
        self.assertFalse(re.search(r'name="key" value="(\d+)"', self.page()))

    def test_taken_back_and_put_back(self) -> None:
        self.keep()
        self.client.post(f"{self.path}/line/a1/undo")
        self.assertEqual(self.rig.prove.lines, ())
        self.assertIn("Taken back: 1", self.page())
        self.client.post(f"{self.path}/line/a1/again")
        self.assertEqual(len(self.rig.prove.lines), 1)
        self.assertEqual(self.client.post(f"{self.path}/line/zz/undo").status_code, 404)

    def test_the_log_goes_out_as_csv(self) -> None:
        self.keep(right="2", note="gusts, from the left")
        self.keep(key="b2", cold="yes")
        rows = self.client.get(f"{self.path}/lines.csv").text.splitlines()
        self.assertTrue(rows[0].lstrip("\ufeff").startswith("day,"))
        self.assertIn("2026-11-20,61,61,4,-3,2,0,,,strip 1.0,,yes,", rows[1])
        self.assertIn('"gusts, from the left"', rows[1])
        self.assertIn("cold first shots", rows[2])

    def test_in_yards_and_inches(self) -> None:
        shop = Shop(self.database, dict(IMPERIAL))
        rig_id = shop.rig(rig_card(yards=True))
        answer = self.client.post(f"/rigs/{rig_id}/prove", data=LINE | {"distance": "50", "up": "2"})
        self.assertEqual(answer.status_code, 303)
        line = open_rig(self.database, rig_id).prove.lines[0]
        self.assertAlmostEqual(line.ranged_m, 45.72)
        self.assertAlmostEqual(line.up_m or 0.0, -0.0508)
        self.assertIn("at 50\u00a0yd, 4 arrows 2.0\u00a0in low", self.client.get(f"/rigs/{rig_id}/prove").text)


class Verdicts(Proving):
    def test_nothing_shot_asks_for_the_first_group(self) -> None:
        page = self.page()
        self.assertRegex(page, r"Shoot 4 arrows at \d+\u00a0m, by the tape\.")
        self.assertIn("Nothing shot yet", page)

    def test_a_true_tape_says_so_and_asks_for_no_more(self) -> None:
        self.shot(8, 0.0)
        page = self.page()
        self.assertIn("The tape is true.", page)
        self.assertNotIn("may be called", page)

    def test_one_day_alone_is_never_called_true(self) -> None:
        shop = self.shop
        for _ in range(8):
            for distance in (38.0, 78.0):
                shop.proof(self.rig_id, 1, distance, 0.0)
        page = self.page()
        self.assertIn("True on this one day", page)
        self.assertIn("Shoot 4 arrows", page)

    def test_one_day_alone_mends_nothing(self) -> None:
        for distance in (38.0, 78.0, 47.0, 61.0):
            self.shop.proof(self.rig_id, 1, distance, -0.006 * (distance + 0.82))
        page = self.page()
        self.assertIn("Wrong on this one day", page)
        self.assertIn("wrong on one day", page)
        self.assertNotIn("Move the pointer", page)
        self.assertIn("Shoot 4 arrows", page)

    def test_a_shift_names_the_way_and_both_numbers_and_is_mended_once(self) -> None:
        self.shot(6, -0.0031)
        page = self.page()
        moved = re.search(r"Move the pointer ([\d.]+) mm towards the near end of the tape\.", page)
        assert moved is not None
        self.assertAlmostEqual(float(moved[1]), 2.5, delta=0.3)
        reads = re.search(r"with the pointer on (\d+): it is to read ([\d.]+)", page)
        assert reads is not None
        self.assertLess(float(reads[2]), float(reads[1]))
        laying = re.search(r'name="laying" value="(\d+)"', page)
        assert laying is not None
        before = self.rig.revision.number
        for status in (303, 409):
            answer = self.client.post(f"{self.path}/mended", data={"laying": laying[1], "way": "strip"})
            self.assertEqual(answer.status_code, status)
        self.assertEqual(self.rig.revision.number, before + 1)
        self.assertEqual(self.rig.revision.why, f"proof: the strip moved {moved[1]} mm towards the far end of the tape")
        after = self.page()
        self.assertIn("before something was done", after)
        self.assertIn("Shifted", after)  # of the old chain
        self.assertIn("Shoot 4 arrows", after)

    def test_a_way_that_there_is_not_changes_nothing(self) -> None:
        self.shot(6, -0.0031)
        chain = self.rig.prove.current
        assert chain is not None
        answer = self.client.post(f"{self.path}/mended", data={"laying": str(chain.laying), "way": "hammer"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("say what was moved", answer.text)

    def test_a_stretch_is_taken_over_and_printed_anew(self) -> None:
        shop = self.shop
        strip = self.rig.prove.tapes[0].strip
        for day in range(9):
            for distance in ((38.0, 78.0), (47.0, 61.0))[day % 2]:
                away = 0.09 * strip.place_mm("", distance)
                shop.proof(self.rig_id, day, distance, -away * (0.82 + distance) / 820.0)
        page = self.page()
        self.assertIn("Print the tape anew, with these lines among its marks.", page)
        self.assertIn("Take the lines over, beside the marks", page)
        self.assertEqual(self.client.post(f"{self.path}/take-over", data={"way": "beside"}).status_code, 303)
        self.assertEqual(len(self.rig.log), 4 + 18)
        self.assertIn("tape/print", self.page())

    def test_something_that_moved_is_not_called_a_shift(self) -> None:
        self.shot(4, 0.0)
        shop = self.shop
        for day in range(4, 8):
            for distance in (38.0, 78.0):
                shop.proof(self.rig_id, day, distance, -0.0035 * (distance + 0.82))
        page = self.page()
        self.assertIn("Something moved.", page)
        self.assertNotIn("Move the pointer", page)
        self.assertIn("Find the joint", page)
        laying = re.search(r'name="laying" value="(\d+)"', page)
        assert laying is not None
        sent = {"laying": laying[1]}
        self.assertEqual(self.client.post(f"{self.path}/split", data=sent).status_code, 303)
        state = self.rig.prove
        assert state.current is not None
        self.assertEqual((len(state.current.lines), [len(each.lines) for each in state.others]), (8, [8]))
        self.assertEqual(len(state.lines), 16)
        self.assertIn("The lines since count by themselves", self.page("?said=split"))
        self.assertEqual(self.client.post(f"{self.path}/split", data=sent).status_code, 409)

    def test_the_wrong_line_is_pointed_at(self) -> None:
        self.shot(4, 0.0)
        self.shop.proof(self.rig_id, 5, 61.0, 0.55)
        page = self.page()
        self.assertIn("The lines differ.", page)
        self.assertIn("Look first at: at 61\u00a0m, 4 arrows 55\u00a0cm high", page)


class Tapes(Proving):
    def test_of_two_tapes_it_is_asked_which(self) -> None:
        shop = self.shop
        rig_id = shop.rig()
        shop.marks(rig_id, 17.0, 38.0, 61.0, 78.0)
        for far in (78.0, 61.0):
            shop.printed(rig_id, far, lay=False)
        page = self.client.get(f"/rigs/{rig_id}/prove").text
        self.assertIn("Which tape is on the sight?", page)
        code = open_rig(self.database, rig_id).prove.tapes[0].code
        self.assertEqual(self.client.post(f"/rigs/{rig_id}/prove/tape", data={"tape": code}).status_code, 303)
        self.assertNotIn("Which tape", self.client.get(f"/rigs/{rig_id}/prove").text)
        wrong = self.client.post(f"/rigs/{rig_id}/prove/tape", data={"tape": "strip 99.0"})
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("not one of this rig", wrong.text)

    def test_without_a_tape_lines_are_kept(self) -> None:
        rig_id = self.shop.rig()
        page = self.client.get(f"/rigs/{rig_id}/prove").text
        self.assertIn("Print the tape, lay it on.", page)
        self.assertEqual(self.client.post(f"/rigs/{rig_id}/prove", data=LINE).status_code, 303)
        self.assertIn("4 arrows 3.0\u00a0cm low", self.client.get(f"/rigs/{rig_id}/prove").text)

    def test_a_card_without_a_target_says_so(self) -> None:
        rig_id = self.shop.new()
        self.assertIn("Print the tape", self.client.get(f"/rigs/{rig_id}/prove").text)

    def test_fixed_pins_are_proven_without_a_print(self) -> None:
        rig_id = self.shop.rig(rig_card("fixed_pins"))
        page = self.client.get(f"/rigs/{rig_id}/prove").text
        self.assertIn("Shoot 4 arrows", page)
        self.assertIn("Pin for", page)


class Sides(Proving):
    def test_left_and_right_without_groups_teaches(self) -> None:
        self.assertIn("Note left and right.", self.page("/drift"))

    def test_windage_is_named_with_the_housing_s_way(self) -> None:
        shop = self.shop
        for day in range(5):
            for distance in (26.0, 47.0, 78.0):
                shop.proof(self.rig_id, day, distance, 0.0, right_m=0.002 * distance)
        page = self.page("/drift")
        self.assertIn('<h2 class="now" id="now">Windage', page)
        self.assertRegex(page, r"Housing 1\.\d+ mm \(± 0\.\d+\) to the right, chasing the arrow")
        self.assertIn("only the bench tells which", page)
        self.assertIn(f'href="/rigs/{self.rig_id}/sight_in"', page)

    def test_groups_from_before_a_knock_do_not_count_for_left_and_right(self) -> None:
        self.shop.proof(self.rig_id, 1, 47.0, 0.0, right_m=0.2)
        self.assertIn("20\u00a0cm right", self.page("/drift"))
        self.client.post(f"/rigs/{self.rig_id}/events", data={"did_knock": "yes"})
        self.assertIn("Note left and right.", self.page("/drift"))

    def test_two_kinds_of_point(self) -> None:
        base = {"kind": "points", "name": "", "distance": "38", "arrows": "6", "day": "2026-11-20"}
        first = base | {"key": "p1", "side": "0", "up": "0", "right": "0"}
        self.assertEqual(self.client.post(f"{self.path}/pairs", data=first).status_code, 303)
        second = base | {"key": "p2", "side": "1", "up": "12", "up_way": "low", "right": "0"}
        refused = self.client.post(f"{self.path}/pairs", data=second)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("only into a butt that takes them", refused.text)
        self.assertIn('value="12"', refused.text)
        self.assertEqual(self.client.post(f"{self.path}/pairs", data=second | {"butt": "yes"}).status_code, 303)
        page = self.page("/pairs")
        self.assertIn("They differ.", page)
        self.assertIn("hunting points hit 12\u00a0cm low", page)
        self.assertIn("Low: ", page)
        self.assertEqual(self.rig.prove.current and self.rig.prove.current.lines, ())
        self.client.post(f"{self.path}/pairs/p2/undo")
        self.assertIn("One of the two is missing.", self.page("/pairs"))

    def test_a_small_difference_says_how_many_more(self) -> None:
        base = {"kind": "builds", "name": "wet days", "distance": "38", "arrows": "6", "day": "2026-11-20"}
        self.client.post(f"{self.path}/pairs", data=base | {"key": "p1", "side": "0", "up": "0", "right": "0"})
        self.client.post(f"{self.path}/pairs", data=base | {"key": "p2", "side": "1", "up": "2", "right": "1"})
        page = self.page("/pairs?kind=builds")
        self.assertIn("Not told apart.", page)
        self.assertRegex(page, r"\d+ arrows more of each would tell it")
        self.assertIn("Two builds, wet days", page)

    def test_a_cant_names_what_it_should_cost(self) -> None:
        self.assertRegex(
            self.page("/pairs?kind=cant"), r"3° of cant with the top to the right put the arrows [\d.]+\u00a0cm right"
        )

    def test_the_slope_says_where_to_stand(self) -> None:
        page = self.page("/slope")
        self.assertRegex(page, r"\d+ arrows up and \d+ down, at 78\u00a0m\.")
        wrong = self.client.get(f"{self.path}/slope?up=x&down=20&wanted=1&distances=78")
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("not a number", wrong.text)
        fine = self.page("/slope?up=3&down=3&wanted=0.1&distances=26")
        self.assertIn("No stand of these tells it so finely.", fine)

    def test_after_a_knock(self) -> None:
        self.assertIn("Look at the marks, then shoot two distances.", self.page("/knocked"))
        self.client.post(f"/rigs/{self.rig_id}/events", data={"did_knock": "yes", "why": "fell"})
        answer = self.client.post(self.path, data=LINE | {"key": "k1", "back": "/knocked", "up": "19", "right": "0"})
        self.assertEqual(answer.headers["location"], f"{self.path}/knocked")
        page = self.page("/knocked")
        self.assertIn("One distance alone", page)
        self.keep(key="k2", distance="26", up="8", right="0")
        self.assertEqual(self.client.post(f"{self.path}/knocked", data={"mark_pointer": "moved"}).status_code, 303)
        page = self.page("/knocked")
        self.assertRegex(page, r"Pointer: 9\d times in 100|Pointer: nearly always|Pointer: 9 times in 10")
        self.assertIn("Then prove it:", page)
        self.assertEqual(self.client.post(f"{self.path}/knocked", data={"mark_pointer": "gone"}).status_code, 404)
