"""What the level page orders, asks and calls things: the words a technician obeys."""

import re
from dataclasses import replace

from cross_staff.core.rig.card import Vial
from cross_staff.core.rig.sight import Screw
from cross_staff.core.stations import standings
from cross_staff.services.rig import open_rig
from tests.core.level.test_station import DEG, levelled_card
from tests.web.client import fields
from tests.web.level.test_level import WithLevel


class WithScrews(WithLevel):
    def screws(self, *screws: Screw, **setup: object) -> None:
        card = levelled_card(**setup)
        self.levelling(replace(card, sight=replace(card.sight, axes=("pair", "pair", "pair"), screws=screws)))

    @property
    def page(self) -> str:
        return re.sub(r"\s+", " ", self.client.get(self.path).text)

    def squared_up(self) -> None:
        """First and second axis good."""
        for axis in ("first", "second"):
            for _ in range(4):
                self.read(axis)

    def thirds(self, method: str, **typed: str) -> None:
        for pitch in ("-35", "35") * 3:
            self.read("third", method=method, pitch=pitch, **typed)

    @property
    def word(self) -> str:
        made = next(
            each for each in standings(open_rig(self.database, self.rig_id).state) if each.station.key == "level"
        )
        return f"{made.state.value} {made.word}"


class Orders(WithScrews):
    def test_of_a_pair_it_says_which_to_loosen_and_which_to_drive(self) -> None:
        for pair, first, other in (("front_rear", "front", "rear"), ("", "dotted", "plain")):
            self.screws(Screw("Rail pair", "first_axis", "pair", "a quarter", pair=pair))
            for _ in range(2):
                self.read(vial="2")
            self.assertEqual(self.now(), "Turn the rail pair until its bubble stands in the middle.")
            self.assertIn(f"Loosen the {first} screw as you drive the {other} one, or the other way round", self.page)
            self.read(vial="1.6", turned="1/8", turned_way="clockwise")
            self.read(vial="1.6")
            words = (
                rf"Rail pair: loosen the ({other}|{first}) screw (.*?), then drive the ({first}|{other}) one as much\."
            )
            self.assertRegex(self.now(), words)
            page = self.client.get(self.path).text
            self.assertIn(f">{first} screw driven</option>", page)
            self.assertEqual("Put a dot of marker" in page, not pair)
            form = fields(page)
            driven = re.search(words, self.now()).group(3)  # type: ignore[union-attr]
            self.assertEqual(form["turned_way"], "clockwise" if driven == first else "anticlockwise")
            self.read(vial="0.9", turned=form["turned"], turned_way=form["turned_way"])
            self.assertIn(f"{driven} screw driven", self.page)

    def test_a_bubble_at_the_end_of_its_glass_orders_a_coarse_turn(self) -> None:
        for typed in ({"vial": "6.9"}, {"vial": "0", "vial_end": "right"}):
            self.screws(Screw("Rail pair", "first_axis", "pair", pair="front_rear"))
            self.read(**typed)
            self.assertEqual(self.now(), "Turn the rail pair while you watch: the right end must come down.")
            self.assertIn("beyond −2.5°", self.page)
            self.assertIn("at its right end", self.page)
            self.assertIn('name="by_eye" value="yes" checked', self.page)
            self.assertEqual((self.state.axes["first"].now, self.state.readings[0].vial_end), (None, 1))

    def test_after_a_turn_the_wrong_way_the_other_way(self) -> None:
        self.screws(Screw("Rail screw", "first_axis", "screw_lock"))
        for _ in range(2):
            self.read(vial="3.5")
        self.read(vial="6", turned="1/8", turned_way="clockwise")
        self.assertTrue(self.now().endswith(" anticlockwise."), self.now())
        self.assertIn("took the bubble to the end of its glass: the other way", self.page)

    def test_a_shim_says_where_and_how_thick(self) -> None:
        for hand, edge in (("right", "lower"), ("left", "upper")):
            card = levelled_card()
            sight = replace(card.sight, axes=("none", "pair", "pair"))
            self.levelling(replace(card, sight=sight, handed=hand))
            for _ in range(2):
                self.read(vial="-2")
            self.assertIn(f"behind the {edge} edge of the mount, 0.17 mm for every 10 mm", self.page)

    def test_the_turn_alone_is_kept_and_the_bubble_read_later(self) -> None:
        for _ in range(2):
            self.read(vial="2")
        sent = {"axis": "first", "turned": "1/8", "turned_way": "clockwise", "sent": "a"}
        for _ in range(2):
            self.assertEqual(self.client.post(f"{self.path}/turned", data=sent).status_code, 303)
        self.assertEqual(sum(r.turn for r in self.state.readings), 1)
        self.assertIn("It was turned since the last look.", self.page)
        empty = self.client.post(f"{self.path}/turned", data={"axis": "first"})
        self.assertEqual(empty.status_code, 422)
        self.assertIn("or tick that nobody counted", empty.text)

    def test_what_is_sent_twice_is_one_look(self) -> None:
        for _ in range(2):
            self.read(vial="1", sent="form")
        self.assertEqual(len(self.state.axes["first"].looks), 1)

    def test_a_reading_undone_leaves_the_turn_and_the_turn_can_be_unmade(self) -> None:
        for vial, turned in (("2", ""), ("2", ""), ("1", "1/8")):
            self.read(vial=vial, turned=turned)
        turn, look = (r.reading_id for r in self.state.readings[-2:])
        self.client.post(f"{self.path}/undo/{look}")
        self.assertEqual(fields(self.client.get(self.path).text)["turned"], "")
        self.assertIn(">not made</button>", self.page)
        self.client.post(f"{self.path}/undo/{turn}")
        self.assertEqual(self.state.log.last, 0)


class Ways(WithScrews):
    def test_each_way_asks_for_what_is_read_in_it(self) -> None:
        for method, asked, not_asked in (
            ("hand_plumb", ("vial", "pitch"), ("reference", "seat", "distance")),
            ("board_rod", ("vial", "pitch"), ("reference", "seat", "distance")),
            ("bench_jig", ("vial", "reference"), ("seat",)),
            ("vise_riser", ("vial", "reference", "seat"), ("right",)),
            ("vise_string", ("vial", "reference"), ("seat",)),
            ("shooting", ("pitch", "distance", "right", "arrows"), ("vial", "reference", "vial_end")),
        ):
            shown = fields(self.client.get(f"{self.path}?axis=third&method={method}").text)
            with self.subTest(method):
                self.assertLessEqual(set(asked), set(shown))
                self.assertEqual(set(not_asked) & set(shown), set())

    def test_another_way_keeps_what_was_typed(self) -> None:
        typed = {"axis": "third", "method": "hand_plumb", "vial": "1.3", "pitch": "-41", "note": "by lamp"}
        page = self.client.post(f"{self.path}/way", data=typed)
        self.assertEqual(page.status_code, 200)
        shown = fields(page.text)
        self.assertEqual((shown["vial"], shown["pitch"], shown["note"]), ("1.3", "-41", "by lamp"))
        self.assertEqual(self.state.readings, ())

    def test_caution_and_look_are_those_of_the_way_that_is_chosen(self) -> None:
        for method, words, not_words in (
            ("hand_plumb", "Arrow on the string", "both vials together"),
            ("board_string", "both vials together", "Arrow on the string"),
        ):
            page = re.sub(r"\s+", " ", self.client.get(f"{self.path}?axis=third&method={method}").text)
            self.assertIn(words, page)
            self.assertNotIn(not_words, page)

    def test_groups_on_a_slope_are_readings(self) -> None:
        self.squared_up()
        for slope, right in (("25", "12"), ("-25", "-11")):
            self.read("third", method="shooting", pitch=slope, distance="61", right=right, arrows="6")
        self.assertIn("12 cm right, 6 arrows", self.page.replace("\u00a0", " "))
        self.assertGreater(self.state.axes["third"].now.value, 0.5 * DEG)

    def test_which_way_this_archer_needs_is_said_before_the_work(self) -> None:
        page = self.page
        self.assertRegex(page, r"It may be off 0\.\d°\. The easiest way that proves it: ")
        self.assertRegex(page, r"At rest in the vise is enough to \d\d m\.")
        self.assertIn("not enough", page)


class Labels(WithScrews):
    def test_a_vise_alone_is_squared_at_rest_on_every_page(self) -> None:
        self.squared_up()
        self.thirds("vise_riser", seat="flat", reference="0")
        self.assertEqual(self.now(), "Squared as far as this tool can tell.")
        page = self.page.replace("\u00a0", " ")
        self.assertRegex(page, r"Squared at rest, ± 0\.\d+°\.")
        self.assertRegex(page, r"Full draw not seen: ± 1\.\d+°, up to \d+(\.\d)? cm at your farthest and steepest\.")
        self.assertRegex(page, r"Within 5(\.0)? cm about \d+ times in 20\.")
        self.assertEqual(self.word, "due squared_at_rest")
        self.assertIn("squared at rest", self.client.get("/").text)
        self.assertNotIn("all axes good", self.record())

    def record(self) -> str:
        from cross_staff.services.level.page import level_page
        from cross_staff.web.forms.units import Units
        from cross_staff.web.level.record import record
        from tests.rigs import NOON

        rig = open_rig(self.database, self.rig_id)
        heading, tables = record(level_page(self.database, rig, NOON.date()), Units.of(rig.units))
        return " ".join([*heading, *(f"{cell}" for _, rows in tables for row in rows for cell in row)])

    def test_it_is_left_so_by_name_and_keeps_its_label(self) -> None:
        self.squared_up()
        self.thirds("vise_riser", seat="flat", reference="0")
        nameless = self.client.post(f"{self.path}/leave", data={"left_by": ""})
        self.assertEqual(nameless.status_code, 422)
        self.assertIn("who leaves it so?", nameless.text)
        self.assertEqual(self.client.post(f"{self.path}/leave", data={"left_by": "Sela Brandt"}).status_code, 303)
        self.assertEqual(self.word, "done left_squared_at_rest")
        self.assertEqual(self.now(), "Done, squared at rest.")
        record = self.record()
        for words in ("squared at rest, left so in writing", "left so by Sela Brandt", "machined flat near the grip",
                      "proved square", "in the vise at rest"):  # fmt: skip
            self.assertIn(words, record)
        self.thirds("hand_plumb")
        self.client.post(f"{self.path}/open/accept_third")
        self.assertEqual(self.word, "done levelled")

    def test_the_record_says_turned_by_eye_and_a_seat_that_was_not_proved(self) -> None:
        self.screws(yaw_proved=False, seat="string")
        self.client.post(f"{self.path}/match", data={"side": "0", "beside": "0", "seat": "string"})
        for _ in range(2):
            self.read("first", "2")
        self.read("first", "0", by_eye="yes")
        self.thirds("board_string", reference="0")
        record = self.record()
        for words in ("0, 1 not counted", "clipped on the string", "yaw not proved", "turned by eye, not counted"):
            self.assertIn(words, record)
        self.assertIn("another tilt does not help", self.page)

    def test_a_match_that_was_mistyped_is_taken_back(self) -> None:
        self.client.post(f"{self.path}/match", data={"side": "0", "beside": "3", "seat": "flat"})
        self.assertIn("was matched, 2 times: string level in the middle, reference 3 right.", self.page)
        self.client.post(f"{self.path}/open/match")
        self.assertIn("was matched: string level in the middle, reference in the middle.", self.page)
        self.assertNotIn("take the last match back", self.page)

    def test_nothing_to_leave_is_said(self) -> None:
        answer = self.client.post(f"{self.path}/leave", data={"left_by": "Sela"})
        self.assertEqual(answer.status_code, 422)


class Reversals(WithScrews):
    def test_each_level_is_proved_on_the_page_in_its_turn(self) -> None:
        self.plumb = False
        bare = Vial(0.5 * DEG)
        self.levelling(levelled_card(reference=bare, string=bare, rail=bare))
        for kind, said in (("reference", "Prove the reference level."), ("string", "Prove the string level.")):
            self.assertEqual(self.now(), said)
            half = self.client.post(f"{self.path}/reverse/{kind}", data={"first_way": "0.4"})
            self.assertEqual((half.status_code, fields(half.text)["first_way"]), (422, "0.4"))
            odd = {"first_way": "2", "turned_way": "-2"}
            self.assertIn("same side of the room?", self.client.post(f"{self.path}/reverse/{kind}", data=odd).text)
            self.client.post(f"{self.path}/reverse/{kind}", data={"first_way": "0.4", "turned_way": "0"})
        self.assertEqual(self.now(), "Set the bow plumb both ways.")
        self.client.post(f"{self.path}/plumb", data={"side": "0.2", "fore": "0", "beside": "0.2"})
        self.assertEqual(self.now(), "Read the first axis.")
        self.read("first", "0")
        self.assertEqual(self.now(), "Prove the level for the rail.")
        self.assertEqual(self.client.post(f"{self.path}/reverse/moon", data={}).status_code, 404)
        self.client.post(f"{self.path}/reverse/rail", data={"first_way": "0", "turned_way": "0"})
        self.assertEqual(self.now(), "Read the first axis once more.")


class Shop(WithScrews):
    def enter(self, **typed: str) -> str:
        form = {"name": "Silver", "kind": "reference", "line": "0.5", "lines": "4", "reverse_days": "30"} | typed
        return self.client.post("/instruments", data=form).headers.get("location", "")

    def test_a_level_is_entered_once_and_chosen_on_a_rig(self) -> None:
        self.assertIn("Enter each level once", self.client.get("/instruments").text)
        self.assertEqual(self.enter(first_way="0.4", turned_way="0"), "/instruments/1?saved=1")
        shown = self.client.get("/instruments").text
        self.assertIn("its own error is 0.2 right", shown)
        setup = self.form(f"{self.path}/setup")
        self.client.post(f"{self.path}/setup", data=setup | {"shop_reference": "1"})
        level = open_rig(self.database, self.rig_id).card.level
        self.assertEqual(level.from_shop, (("reference", 1),))
        self.assertAlmostEqual(level.reference.roll_error_div, 0.2)
        self.assertNotIn("reference_line", self.form(f"{self.path}/setup"))
        self.client.post("/instruments/1", data=self.form("/instruments/1") | {"line": "0.4"})
        self.assertIn("The shop knows other figures by now of: Silver.", self.page)
        self.client.post(f"{self.path}/instruments")
        self.assertAlmostEqual(open_rig(self.database, self.rig_id).card.level.reference.per_division_rad, 0.4 * DEG)
        self.client.post("/instruments/1/remove")
        self.assertNotIn("Silver", self.client.get("/instruments").text)
        self.assertIn(">Silver</option>", self.client.get(f"{self.path}/setup").text)
        self.client.post("/instruments/1/restore")
        self.assertIn("Silver", self.client.get("/instruments").text)

    def test_what_is_wrong_is_said_at_its_field_and_kept(self) -> None:
        for typed, words in (
            ({"name": ""}, "what is it called?"),
            ({"line": "9"}, "between"),
            ({"first_way": "1"}, "both readings, or neither"),
            ({"first_way": "2", "turned_way": "-2"}, "same side of the room?"),
        ):
            form = {"name": "Silver", "kind": "reference", "lines": "4", "note": "kept"} | typed
            answer = self.client.post("/instruments", data=form)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)
            self.assertEqual(fields(answer.text)["note"], "kept")

    def test_one_past_its_reversal_is_said(self) -> None:
        from datetime import date, timedelta

        old = Vial(0.5 * DEG, 4.0, 0.0, date.today() - timedelta(days=200))
        self.levelling(levelled_card(reference=old))
        self.assertIn("The reference level was proved 200 days ago: turn it end for end again.", self.page)
