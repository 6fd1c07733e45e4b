from dataclasses import replace

from cross_staff.services.card import sight_library as sights
from cross_staff.services.rig import open_rig
from tests.rigs import TEMPLATES
from tests.web.client import WithClient, fields

BAD = {
    "slider_travel": ("-3", "too little"),
    "housing_inner": ("60", "cannot be larger than its frame"),
    "pin_room": ("48", "must lie inside the housing"),
    "extension": ("0 24 12", "must rise"),
    "holes": ("low", "is not a number"),
    "sight_name": (" ", "give it a name"),
    "control_0_position_mm": ("80", "beyond its own travel"),
    "control_2_per_turn_mm": ("5", "its clicks make 1 mm a turn"),
    "screw_0_name": ("", "give it a name"),
    "kind": ("single_pin_slider", "at most 1 pins"),
}


class Library(WithClient):
    def test_every_template_can_be_copied_kept_and_read_back_the_same(self) -> None:
        for kind, model in TEMPLATES.items():
            with self.subTest(kind):
                page = self.client.get(f"/sights/new?copy={kind}")
                answer = self.client.post("/sights", data=fields(page.text))
                self.assertEqual(answer.status_code, 303)
                number = int(answer.headers["location"].split("/")[2].split("?")[0])
                kept = sights.find(self.database, number).sight
                self.assertEqual(kept, replace(sights.without_bow(model), as_usual=True))
        page = self.client.get("/sights").text
        self.assertEqual(page.count('href="/sights/new?copy='), 7)

    def test_what_cannot_be_is_said_at_its_field(self) -> None:
        form = fields(self.client.get("/sights/new?copy=multi_pin_slider").text)
        for name, (typed, words) in BAD.items():
            with self.subTest(name):
                answer = self.client.post("/sights", data=form | {name: typed, "note": "as typed"})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.text)
                self.assertIn(f'id="{name}-error"', answer.text)
                self.assertEqual(fields(answer.text)["note"], "as typed")
        self.assertEqual(sights.library(self.database), [])

    def test_two_windows_on_one_model(self) -> None:
        self.client.post("/sights", data=fields(self.client.get("/sights/new").text))
        old = fields(self.client.get("/sights/1").text)
        self.client.post("/sights/1", data=old | {"note": "first"})
        late = self.client.post("/sights/1", data=old | {"note": "second"})
        self.assertEqual(late.status_code, 409)
        self.assertEqual(fields(late.text)["note"], "second")
        again = self.client.post("/sights/1", data=fields(late.text))
        self.assertEqual(again.status_code, 409, "not put on top without a word")
        mine = fields(again.text) | {"choose-note": "mine"}
        self.assertEqual(self.client.post("/sights/1", data=mine).status_code, 303)
        self.assertEqual(fields(self.client.get("/sights/1").text)["note"], "second")

    def test_taking_out_and_putting_back(self) -> None:
        self.client.post("/sights", data=fields(self.client.get("/sights/new").text) | {"sight_name": "shop slider"})
        answer = self.client.post("/sights/1/remove")
        self.assertNotIn("shop slider", self.client.get("/sights").text)
        self.assertIn("Put it back", self.client.get(answer.headers["location"]).text)
        self.client.post("/sights/1", data=self.form("/sights/1") | {"note": "an older window"})
        self.assertNotIn("shop slider", self.client.get("/sights").text)
        self.assertIn("Put it back", self.client.get("/sights/1").text)
        self.client.post("/sights/1/restore")
        self.assertNotIn("Put it back", self.client.get("/sights/1").text)
        self.assertIn("shop slider", self.client.get("/sights").text)
        self.assertEqual(self.client.get("/sights/9").status_code, 404)
        self.assertEqual(self.client.get("/sights/new?copy=nonsense").status_code, 404)


class OnTheCard(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/card/sight"

    def test_a_copy_is_adapted_and_saved_as_a_revision(self) -> None:
        page = self.client.get(f"{self.path}?copy=vertical_pin_slider").text
        self.assertIn("is copied here", page)
        form = fields(page) | {"control_0_clockwise": "down", "control_0_checked": "on", "into_library": "1"}
        answer = self.client.post(self.path, data=form)
        self.assertEqual(answer.headers["location"], "/sights/1?saved=1")
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual((rig.revision.number, rig.card.sight.kind), (3, "vertical_pin_slider"))
        self.assertTrue(rig.card.sight.controls[0].checked)
        shelved = sights.find(self.database, 1).sight
        self.assertFalse(shelved.controls[0].checked)
        self.assertEqual(shelved.controls[0].clockwise, "down")
        self.assertIn("Fetch from the drawer", self.client.get(self.path).text)

    def test_what_saving_makes_stale_is_shown_before(self) -> None:
        form = self.form(self.path) | {"kind": "fixed_pins"}
        said = self.client.post(f"{self.path}/stale", data=form, headers={"HX-Request": "true"}).text
        self.assertIn("Saving this sets aside:", said)
        self.assertIn("home mark", said)
        self.assertEqual(open_rig(self.database, self.rig_id).revision.number, 2)

    def test_saving_what_is_shown_changes_nothing_and_bad_fields_come_back(self) -> None:
        self.client.post(self.path, data=self.form(self.path) | {"sight_name": "plain"})
        self.client.post(self.path, data=self.form(self.path))
        self.assertEqual(open_rig(self.database, self.rig_id).revision.number, 3)
        answer = self.client.post(self.path, data=self.form(self.path) | {"slider_travel": "a lot"})
        self.assertEqual((answer.status_code, fields(answer.text)["slider_travel"]), (422, "a lot"))

    def test_a_pointer_for_a_pin_that_the_card_has_not_is_said_at_its_field(self) -> None:
        """The sight's description does not count its pins: then the card's distances do."""
        card = f"/rigs/{self.rig_id}/card"
        self.client.post(card, data=self.form(card) | {"pin_distances": "17 30 40"})
        form = self.form(self.path) | {"sight_name": "plain", "kind": "multi_pin_slider"}
        answer = self.client.post(self.path, data=form | {"pointers": "1 5"})
        self.assertEqual((answer.status_code, fields(answer.text)["pointers"]), (422, "1 5"))
        self.assertIn('id="pointers-error">a pointer for pin 5, and the card has 3 pins', answer.text)
        self.assertEqual(self.client.post(self.path, data=form | {"pointers": "1 3"}).status_code, 303)
        fewer = self.client.post(card, data=self.form(card) | {"pin_distances": "17 30"})
        self.assertEqual((fewer.status_code, fields(fewer.text)["pin_distances"]), (422, "17 30"))
        self.assertIn("a pointer for pin 3, and the card has 2 pins", fewer.text)

    def test_two_windows_are_joined(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"sight_name": "plain"})
        self.client.post(self.path, data=old | {"note": "late"})
        sight = open_rig(self.database, self.rig_id).card.sight
        self.assertEqual((sight.name, sight.note), ("plain", "late"))


class Compare(WithClient):
    def test_two_revisions_side_by_side(self) -> None:
        rig_id = self.add_rig()
        page = self.client.get(f"/rigs/{rig_id}/card/compare?a=1&b=2")
        self.assertIn("Eye to sight", page.text)
        self.assertIn("820 mm", page.text)
        self.assertEqual(self.client.get(f"/rigs/{rig_id}/card/compare?a=1&b=9").status_code, 404)
        mount = f"/rigs/{rig_id}/mount"
        self.client.post(mount, data=self.form(mount) | {"vanes": "11"})
        moved = self.client.get(f"/rigs/{rig_id}/card/compare?a=2&b=3").text
        self.assertIn("Vane height", moved.split("What is the same")[0])
        same = self.client.get(f"/rigs/{rig_id}/card/compare?a=2&b=2").text
        self.assertIn("the same", same)
