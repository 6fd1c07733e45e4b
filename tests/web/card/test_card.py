from dataclasses import replace

from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.tape import record as tape
from cross_staff.services.tape.record import RowEdit
from tests.rigs import NOON, full_card
from tests.shop import METRIC
from tests.web.client import WithClient, fields

BAD = {
    "eye_to_sight": ("eighty", "is not a number"),
    "shaft_diameter": ("62", "62 mm is too much: between 3 and 15 mm"),
    "peep_along": ("1640", "too much"),
    "peep_angle": ("95", "between 15 and 70"),
    "farthest": ("400", "400 m is too much: between 5 and 200 m"),
    "home": ("0.5", "too little"),
    "target_size": ("-3", "too little"),
    "chrono_accuracy": ("50", "too much"),
    "due": ("next week", "is not a date"),
    "part_mass_0": ("heavy", "is not a number"),
    "readings": ("82.1 eighty", "is not a number"),
    "name": (" ", "a rig needs a name"),
    "handed": ("both", "choose one"),
}


class Card(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/card"

    def kept(self) -> Rig:
        return open_rig(self.database, self.rig_id)

    def test_saving_what_is_shown_changes_nothing(self) -> None:
        self.assertEqual(self.client.post(self.path, data=self.form(self.path)).status_code, 303)
        self.assertEqual((self.kept().revision.number, self.kept().card), (2, full_card()))

    def test_a_change_is_a_revision_with_its_reason(self) -> None:
        form = self.form(self.path) | {"target_size": "30", "why": "larger faces"}
        self.client.post(self.path, data=form)
        self.assertEqual(self.kept().card.goals.target_size_m, 0.30)
        page = self.client.get(f"{self.path}/revisions").text
        self.assertIn("target size", page)
        self.assertIn("larger faces", page)

    def test_every_bad_field_says_so_at_its_place_and_keeps_what_was_typed(self) -> None:
        for name, (typed, message) in BAD.items():
            with self.subTest(name):
                answer = self.client.post(self.path, data=self.form(self.path) | {name: typed, "bow": "as typed"})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(message, answer.text)
                self.assertEqual(fields(answer.text)["bow"], "as typed")
                if name not in ("handed",):
                    self.assertEqual(fields(answer.text)[name], typed)
                    self.assertRegex(answer.text, f'name="{name}"[^>]*aria-invalid="true"')
        self.assertEqual(self.kept().revision.number, 2)

    def test_speeds_of_5_and_of_900_fps(self) -> None:
        for typed, side in (("5", "too little"), ("900", "too much")):
            form = self.form(self.path) | {"typed_unit_speed": "fps", "unit_speed": "fps", "readings": typed}
            answer = self.client.post(self.path, data=form)
            self.assertIn(f"{typed} fps is {side}: between 65.6 and 656.2 fps", answer.text)

    def test_no_chronograph_is_said_and_the_speed_comes_from_the_bow(self) -> None:
        bare = {"readings": "", "speed_way": "measured"}
        number = self.add_rig(replace(full_card(), builds=(replace(full_card().build, sessions=()),)))
        path = f"/rigs/{number}/card"
        self.assertIn("Say “not measured”", self.client.get(f"/rigs/{number}").text + self.client.get(path).text)
        given = self.form(path) | bare | {"draw_weight": "60", "bow_draw": "690"}
        page = self.client.post(f"{path}/reckoning", data=given | {"speed_way": "unmeasured"}).text
        self.assertRegex(
            page.replace("\u00a0", " "), r"Not measured\. 8\d m/s ± 1\d is expected of 60 lb draw weight, 690 mm"
        )
        self.assertIn("Taken for granted, as nobody said it: let-off.", page)
        self.client.post(path, data=given | {"speed_way": "unmeasured", "let_off": "80"})
        card = open_rig(self.database, number).card
        self.assertEqual((card.build.speed_unmeasured, card.bow.let_off, card.missing()), (True, 0.8, ()))
        tape = self.client.get(f"/rigs/{number}/tape").text.replace("\u00a0", " ")
        self.assertRegex(
            tape, r"The speed was not measured: it is taken from the bow\. A chronograph would bring ± \d+ cm at 95 m"
        )
        again = self.client.post(path, data=self.form(path) | {"let_off": "150"})
        self.assertEqual(again.status_code, 422)
        self.assertIn("150 % is too much", again.text)

    def test_units_typed_behind_the_readings(self) -> None:
        answer = self.client.post(self.path, data=self.form(self.path) | {"readings": "900 fps 901 fps"})
        self.assertIn("274.32 m/s is too much: between 20 and 200 m/s", answer.text)
        self.client.post(self.path, data=self.form(self.path) | {"readings": "265 fps 266 fps"})
        self.assertAlmostEqual(self.kept().card.chronograph.readings_mps[1], 266 * 0.3048)

    def test_an_unusual_drag_is_pointed_at_and_kept(self) -> None:
        form = self.form(self.path) | {"shaft_diameter": "14", "shaft_density": "6"}
        self.assertIn("unusual drag, 0.0", self.client.post(f"{self.path}/reckoning", data=form).text)
        self.assertEqual(self.client.post(self.path, data=form | {"meant_arrow": "changed"}).status_code, 303)

    def test_a_peep_height_that_looks_like_a_length_along_the_string(self) -> None:
        form = self.form(self.path) | {"peep_way": "square", "peep_square": "150"}
        answer = self.client.post(f"{self.path}/reckoning", data=form)
        self.assertIn("looks like a length along the string", answer.text)
        self.assertIn("86\u00a0mm to 100\u00a0mm", answer.text)

    def test_a_decimal_comma_is_taken(self) -> None:
        self.client.post(self.path, data=self.form(self.path) | {"shaft_diameter": "5,9"})
        self.assertAlmostEqual(self.kept().card.build.shaft_diameter_m, 0.0059)

    def test_two_windows_are_joined_field_by_field(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"archer": "Jory Penhale"})
        self.assertEqual(self.client.post(self.path, data=old | {"bow": "second window"}).status_code, 303)
        card = self.kept().card
        self.assertEqual(
            (self.kept().revision.number, card.archer, card.bow.words), (4, "Jory Penhale", "second window")
        )

    def test_an_older_window_does_not_put_the_units_back(self) -> None:
        old = self.form(self.path)
        inches = self.client.post(f"{self.path}/units", data=old | {"unit_length": "in"})
        self.assertEqual(self.client.post(self.path, data=fields(inches.text)).status_code, 303)
        self.client.post(self.path, data=old | {"eye_to_sight": "823"})
        kept = self.kept()
        self.assertEqual((kept.units["length"], round(kept.card.eye_to_sight_m or 0.0, 6)), ("in", 0.823))

    def test_units_chosen_in_an_older_window_hold(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"archer": "Jory Penhale"})
        yards = fields(self.client.post(f"{self.path}/units", data=old | {"unit_distance": "yd"}).text)
        self.assertEqual(self.client.post(self.path, data=yards).status_code, 303)
        self.assertEqual((self.kept().units["distance"], self.kept().card.archer), ("yd", "Jory Penhale"))

    def test_a_field_that_both_changed_is_asked_with_both_values(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"eye_to_sight": "823"})
        late = self.client.post(self.path, data=old | {"eye_to_sight": "817", "bow": "second window"})
        self.assertEqual(late.status_code, 409)
        self.assertIn("yours: <b>817</b>", late.text)
        self.assertRegex(late.text, r"saved at [0-9: -]+: <b>823</b>")
        self.assertNotIn("on top", late.text)
        again = fields(late.text)
        self.assertEqual(self.client.post(self.path, data=again).status_code, 409)  # asked until it is said
        said = self.client.post(self.path, data=again | {"choose-eye_to_sight": "theirs"})
        self.assertEqual(said.status_code, 303)
        card = self.kept().card
        self.assertEqual((round(card.eye_to_sight_m or 0.0, 6), card.bow.words), (0.823, "second window"))

    def test_an_answer_to_what_has_changed_again_is_asked_again(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"home": "18"})
        late = fields(self.client.post(self.path, data=old | {"home": "19"}).text)
        self.client.cookies.clear()  # another device, which does not see what is not saved here
        self.client.post(self.path, data=self.form(self.path) | {"home": "16"})
        once_more = self.client.post(self.path, data=late | {"choose-home": "mine"})
        self.assertEqual((once_more.status_code, self.kept().card.goals.home_m), (409, 16.0))
        self.client.post(self.path, data=fields(once_more.text) | {"choose-home": "mine"})
        self.assertEqual(self.kept().card.goals.home_m, 19.0)

    def test_a_post_with_some_of_the_fields_erases_none_of_the_others(self) -> None:
        before = self.kept().card
        self.assertEqual(self.client.post(self.path, data={"archer": "Jory Penhale"}).status_code, 303)
        after = self.kept().card
        self.assertEqual((after.archer, after.goals, after.builds), ("Jory Penhale", before.goals, before.builds))
        self.assertEqual(self.kept().units, METRIC)

    def test_other_units_keep_what_was_typed_and_what_was_kept(self) -> None:
        form = self.form(self.path) | {"home": "18", "bow": "typed but not saved", "unit_distance": "yd"}
        shown = self.client.post(f"{self.path}/units", data=form, headers={"HX-Request": "true"})
        after = fields(shown.text)
        self.assertEqual((after["home"], after["bow"]), ("19.69", "typed but not saved"))
        self.assertNotIn("<html", shown.text)
        form = self.form(self.path)
        for quantity, unit in (
            ("distance", "yd"),
            ("length", "in"),
            ("speed", "fps"),
            ("mass", "gr"),
            ("offset", "in"),
        ):
            form = fields(self.client.post(f"{self.path}/units", data=form | {f"unit_{quantity}": unit}).text)
        self.client.post(self.path, data=form)
        self.assertEqual(self.kept().units["mass"], "gr")
        self.assertEqual(self.kept().card.build, full_card().build)
        self.assertEqual(self.kept().card.chronograph, full_card().chronograph)

    def test_what_cannot_be_read_stays_when_units_change(self) -> None:
        form = self.form(self.path) | {"home": "near", "unit_distance": "yd"}
        self.assertEqual(fields(self.client.post(f"{self.path}/units", data=form).text)["home"], "near")

    def test_the_reckoning_follows_what_is_typed(self) -> None:
        form = self.form(self.path) | {"readings": "80.1 80.3 80.2 76.0 80.2"}
        answer = self.client.post(f"{self.path}/reckoning", data=form, headers={"HX-Request": "true"})
        self.assertIn("76 is odd", answer.text)
        self.assertIn("leave out 76", answer.text)
        kept = self.client.post(f"{self.path}/reckoning", data=form | {"left_out_3": "on"}).text
        self.assertNotIn("is odd", kept)
        self.assertIn("mean of 4", kept)
        self.assertEqual(self.kept().revision.number, 2)

    def test_fields_that_are_wrong_only_together(self) -> None:
        for changes, words in (
            ({"shaft_diameter": "15", "shaft_density": "5", "part_mass_0": "1"}, "makes a drag of 0.0"),
            ({"peep_along": "31", "peep_angle": "15"}, "the peep would be 8\u00a0mm high"),
        ):
            answer = self.client.post(self.path, data=self.form(self.path) | changes)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)

    def test_the_smallest_bow_still_has_an_angle(self) -> None:
        form = {"peep_way": "estimated", "bow_axles": "600", "bow_draw": "450"}
        answer = self.client.post(self.path, data=self.form(self.path) | form)
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(self.client.get(f"/rigs/{self.rig_id}/tape").status_code, 200)

    def test_half_a_component_is_said(self) -> None:
        answer = self.client.post(
            self.path, data=self.form(self.path) | {"part_name_4": "Tube", "part_mass_4": "0.4", "part_centre_4": ""}
        )
        self.assertIn("where its centre sits is missing", answer.text)

    def test_a_changed_arrow_tells_the_tape(self) -> None:
        tape.save_rows(self.database, self.rig_id, [RowEdit(17.0, 20.0)], NOON)
        heavier = self.form(self.path) | {"part_mass_0": "12"}
        self.assertIn("Was the bow changed", self.client.post(self.path, data=heavier).text)
        self.client.post(self.path, data=heavier | {"meant_arrow": "changed"})
        self.assertIn("set aside: rig changed", self.client.get(self.path).text)

    def test_a_new_rig_shows_every_field_empty(self) -> None:
        self.client.post("/rigs", data={"name": "bare"})
        page = self.client.get("/rigs/2/card")
        self.assertEqual(page.status_code, 200)
        self.assertIn("Weigh the arrow", page.text)
