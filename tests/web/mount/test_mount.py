import io
import re
from dataclasses import replace
from html import unescape

from PIL import Image

from cross_staff.core.mount.planner import HOMES
from cross_staff.core.rig.card import Goals, Mount, RigCard
from cross_staff.core.rig.sight import SightModel
from cross_staff.services.card import save
from cross_staff.services.card import sight_library as sights
from cross_staff.services.rig import open_rig
from tests.rigs import NOON, TEMPLATES, full_card
from tests.web.client import HOST, WithClient, fields


def mounted_card(**changes: object) -> RigCard:
    fields_ = {
        "sight": replace(TEMPLATES["multi_pin_slider"], slider_travel_mm=50.0),
        "mount": Mount(0, 1, "top", vanes_mm=11.0, ahead_of_grip_m=0.17),
        "goals": Goals(17.0, 78.0, 0.25, 0.10, 38.0, (12.0, 17.0, 78.0), (17.0, 38.0, 61.0)),
    }
    return full_card(**(fields_ | changes))  # type: ignore[arg-type]


def picture(size: tuple[int, int] = (900, 600), form: str = "PNG", **more: object) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (90, 120, 60)).save(out, form, **more)
    return out.getvalue()


class WithMount(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(mounted_card())
        self.path = f"/rigs/{self.rig_id}/mount"

    @property
    def card(self) -> RigCard:
        return open_rig(self.database, self.rig_id).card


class Planner(WithMount):
    def test_all_places_in_one_table_with_the_best_marked_and_why(self) -> None:
        page = self.client.get(self.path).text
        self.assertEqual(page.count("<em>best</em>"), 1)
        self.assertIn("so it reads finest", page)
        self.assertEqual(page.count(f'hx-get="{self.path}?'), 12)

    def test_choosing_a_place_shows_its_numbers_alone(self) -> None:
        asked = self.client.get(f"{self.path}?hole=0&detent=3&home=centred", headers={"HX-Request": "true"}).text
        self.assertNotIn("<html", asked)
        self.assertIn("extension 36\u00a0mm, farthest out, home centred on the rail", asked)
        self.assertIn("25\u00a0mm above home", asked)
        self.assertIn("Mount it here", asked)
        self.assertEqual(self.client.get(f"{self.path}?hole=x&detent=99&home=moon").status_code, 200)

    def test_mounting_it_there_moves_the_lever_and_makes_a_revision(self) -> None:
        form = {"based_on": "2", "hole": "0", "detent": "2", "home": "reserve"}
        looked = self.client.get(f"{self.path}?hole=0&detent=2&home=reserve").text
        self.assertIn("That sets aside: clearances, peep and housing, level, home mark, tape.", looked)
        self.assertEqual(self.client.post(f"{self.path}/place", data=form).status_code, 303)
        self.assertAlmostEqual(self.card.eye_to_sight_m, 0.832)
        self.assertEqual((self.card.mount.detent, self.card.mount.home), (2, "reserve"))
        late = self.client.post(f"{self.path}/place", data=form | {"detent": "0"})
        self.assertEqual(late.status_code, 409)
        self.assertEqual(self.card.mount.detent, 2)
        self.assertIn("extension, home position", self.client.get(f"/rigs/{self.rig_id}/card/revisions").text)

    def test_what_cannot_reach_says_what_stops_it_and_what_would_help(self) -> None:
        card = mounted_card(goals=Goals(17.0, 150.0, 0.25, 0.10, 38.0, (), (17.0, 38.0, 61.0)))
        rig_id = self.add_rig(card)
        page = self.client.get(f"/rigs/{rig_id}/mount?detent=2&home=top").text
        self.assertRegex(page, r"(The slider runs out|The housing meets arrow and vanes), [\d.]+\u00a0mm short")
        self.assertIn("What would buy distance", page)
        self.assertIn("The sight at the place nearest the riser:", page)

    def test_a_place_that_the_sight_no_longer_names_stays_on_record_until_another_is_chosen(self) -> None:
        self.client.post(self.path, data=self.form(self.path) | {"now_detent": "3"})
        sight = f"/rigs/{self.rig_id}/card/sight"
        self.client.post(sight, data=self.form(sight) | {"extension": "0 12"})
        self.assertIn(
            "the one noted is not among the sight's any more: which is it?", unescape(self.client.get(self.path).text)
        )
        self.assertIn("Say below at which place of the extension", self.client.get(self.path).text)
        self.client.post(self.path, data=self.form(self.path) | {"vanes": "12"})
        self.assertEqual((self.card.mount.vanes_mm, self.card.mount.detent, self.card.detent), (12.0, 3, None))
        late = self.client.post(self.path, data=self.form(self.path) | {"now_detent": "2"})  # another window's list
        self.assertEqual((late.status_code, self.card.mount.detent), (422, 3))
        self.assertIn("choose one from the list", late.text)
        self.client.post(self.path, data=self.form(self.path) | {"now_detent": "1"})
        self.assertNotIn("any more: which is it?", self.client.get(self.path).text)
        self.assertEqual((self.card.mount.detent, self.card.detent), (1, 1))
        self.client.post(self.path, data=self.form(self.path) | {"now_detent": ""})
        self.assertIsNone(self.card.mount.detent)

    def test_what_nobody_measured_is_not_planned_with_and_each_home_says_its_own(self) -> None:
        rig_id = self.shop.rig(replace(mounted_card(), sight=SightModel("bare", "multi_pin_slider"), mount=Mount()))
        pages = {home: self.client.get(f"/rigs/{rig_id}/mount?home={home}").text for home in HOMES}
        for page in pages.values():
            self.assertNotIn("every place reaches", page)
            self.assertNotIn("<em>best</em>", page)
            self.assertIn("What this sight reaches is not known yet", page)
        near = [re.search(r"At the near end</dt><dd>(.*?)</dd>", page).group(1) for page in pages.values()]
        self.assertEqual(len(set(near)), 3)
        self.assertIn("which is not known", near[2])
        self.assertEqual(len(set(re.findall(r'hx-push-url="true">(.*?)</a>', pages["top"]))), 3)

    def test_a_generic_model_is_assumed_until_somebody_looked(self) -> None:
        rig_id = self.shop.rig(replace(mounted_card(), sight=sights.source(self.database, "single_pin_slider")))
        page = self.client.get(f"/rigs/{rig_id}/mount").text
        self.assertIn("Assumed: travel, housing and places are those of any such sight", page)
        self.assertNotIn('class="verdict ok"', page)
        self.assertIn("at most", page)
        self.assertIn(
            "whether this sight is as such sights usually are", self.client.get(f"/rigs/{rig_id}/tape/slopes").text
        )
        form = fields(self.client.get(f"/rigs/{rig_id}/card/sight").text)
        self.assertEqual(form["as_usual"], "yes")
        self.client.post(f"/rigs/{rig_id}/card/sight", data=form | {"as_usual": "no"})
        self.assertNotIn("Assumed:", self.client.get(f"/rigs/{rig_id}/mount").text)

    def test_which_of_quiver_and_wheel_goes_on_first_follows_from_their_outlines(self) -> None:
        self.assertIn("is not known: measure both outlines", self.client.get(self.path).text)
        form = fields(self.client.get(self.path).text) | {"quiver_ahead": "-20 60", "quiver_above": "-1 1/2 in, 40 mm"}
        form |= {"quiver_out": "12", "wheel_ahead": "30 75", "wheel_above": "-10 20", "wheel_out": "31"}
        self.assertEqual(self.client.post(self.path, data=form).status_code, 303)
        self.assertIn("The quiver bracket goes on first", self.client.get(self.path).text)
        bad = self.client.post(self.path, data=fields(self.client.get(self.path).text) | {"wheel_ahead": "75 30"})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("two numbers: from, and to", bad.text)

    def test_without_a_card_it_says_what_it_needs(self) -> None:
        self.client.post("/rigs", data={"name": "bare"})
        self.assertIn("The planner needs the card first", self.client.get("/rigs/2/mount").text)

    def test_the_place_stays_where_the_sight_names_no_other(self) -> None:
        one = replace(self.card.sight, holes_mm=(0.0,), extension_mm=())
        card = replace(self.card, sight=one, mount=replace(self.card.mount, hole=0, detent=2))
        save.save(self.database, self.rig_id, 2, card, {}, NOON)
        form = self.form(self.path) | {"vanes": "12"}
        self.assertEqual(self.client.post(self.path, data=form).status_code, 303)
        self.assertEqual((self.card.mount.hole, self.card.mount.detent, self.card.mount.vanes_mm), (0, 2, 12.0))

    def test_measures_are_kept_and_bad_ones_said(self) -> None:
        form = self.form(self.path) | {"pin_at_top": "85", "vanes": "12,5", "now_hole": "1"}
        self.client.post(self.path, data=form)
        self.assertEqual((self.card.mount.pin_at_top_mm, self.card.mount.vanes_mm), (85.0, 12.5))
        self.assertEqual((self.card.mount.hole, self.card.mount.detent), (1, 1))
        for typed, words in (
            ({"vanes": "-4"}, "too little"),
            ({"pin_at_top": "high"}, "is not a number"),
            ({"reserve": "55"}, "home would lie beyond it"),
        ):
            answer = self.client.post(self.path, data=self.form(self.path) | typed | {"torque": "as typed"})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)
            self.assertEqual(fields(answer.text)["torque"], "as typed")

    def test_what_saving_measures_makes_stale_is_shown_before(self) -> None:
        form = self.form(self.path) | {"now_detent": "3"}
        said = self.client.post(f"{self.path}/stale", data=form, headers={"HX-Request": "true"}).text
        self.assertIn("sight moved on its dovetail", said.lower())
        self.assertNotIn("sets aside:", self.client.post(f"{self.path}/stale", data=self.form(self.path)).text)

    def test_two_windows_are_joined(self) -> None:
        old = self.form(self.path)
        self.client.post(self.path, data=old | {"vanes": "12"})
        self.client.post(self.path, data=old | {"clearance": "4"})
        self.assertEqual((self.card.mount.vanes_mm, self.card.mount.clearance_mm), (12.0, 4.0))


class Steps(WithMount):
    def test_done_not_so_and_confirmed_are_told_apart(self) -> None:
        self.client.post(f"{self.path}/step/order", data={"state": "done"})
        self.client.post(f"{self.path}/step/threads", data={"state": "wrong"})
        page = self.client.get(self.path).text
        self.assertIn("It was not so.", page)
        refused = self.client.post(f"{self.path}/step/threads", data={"state": "skipped"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("say who confirms it", refused.text)
        self.client.post(f"{self.path}/step/threads", data={"state": "skipped", "note": "Maren says so"})
        self.assertIn("Fit both mount bolts.", self.client.get(self.path).text)
        states = {s.step.key: s.state for s in open_rig(self.database, self.rig_id).steps}
        self.assertEqual((states["order"], states["threads"], states["mount_bolts"]), ("done", "skipped", ""))

    def test_taking_back_and_unknown_steps(self) -> None:
        self.client.post(f"{self.path}/step/order", data={"state": "done"})
        self.client.post(f"{self.path}/order/undo")
        self.assertEqual(open_rig(self.database, self.rig_id).steps[0].state, "")
        self.assertEqual(self.client.post(f"{self.path}/step/nonsense", data={"state": "done"}).status_code, 404)

    def test_moving_the_sight_asks_for_the_steps_again(self) -> None:
        for step in ("order", "threads", "mount_bolts"):
            self.client.post(f"{self.path}/step/{step}", data={"state": "done"})
        self.client.post(f"{self.path}/place", data={"based_on": "2", "hole": "0", "detent": "2", "home": "top"})
        page = self.client.get(self.path).text
        self.assertIn("Done before the rig changed", page)
        self.assertIn("1 step of mounting set aside", page)  # the two before it do not hang on where the sight is


class WitnessMarks(WithMount):
    def test_a_mark_that_two_change_is_joined(self) -> None:
        marks = f"{self.path}/marks"
        self.client.post(marks, data={"joint": "rest", "place": "silver line"})
        old = self.form(f"{marks}?line=1")
        self.assertEqual((old["joint"], old["line"]), ("rest", "1"))
        self.client.post(marks, data=old | {"place": "red line"})
        self.client.post(marks, data=old | {"joint": "rest, upper screw"})
        (mark,) = open_rig(self.database, self.rig_id).witness
        self.assertEqual((mark.joint, mark.place), ("rest, upper screw", "red line"))
        late = self.client.post(marks, data=old | {"place": "white line"})
        self.assertEqual(late.status_code, 409)
        self.assertIn("saved: <b>red line</b>", late.text)

    def send(self, data: bytes | None, **typed: str):  # type: ignore[no-untyped-def]
        files = None if data is None else {"photo": ("mark.png", data, "image/png")}
        return self.client.post(f"{self.path}/marks", data={"joint": "rest", "place": ""} | typed, files=files)

    def test_a_photo_is_made_small_upright_and_stripped(self) -> None:
        exif = Image.Exif()
        exif[0x010F], exif[0x0112] = "a maker of cameras", 6
        self.assertEqual(self.send(picture((3000, 2000), "JPEG", exif=exif)).status_code, 303)
        mark = open_rig(self.database, self.rig_id).witness[0]
        answer = self.client.get(f"/rigs/{self.rig_id}/photos/{mark.photo_id}")
        kept = Image.open(io.BytesIO(answer.content))
        self.assertEqual((kept.format, kept.size), ("JPEG", (1067, 1600)))
        self.assertEqual(dict(kept.getexif()), {})
        self.assertNotIn(b"a maker of cameras", answer.content)
        self.assertEqual(answer.headers["content-type"], "image/jpeg")

    def test_all_three_formats_are_taken(self) -> None:
        for form in ("PNG", "JPEG", "WEBP"):
            self.assertEqual(self.send(picture(form=form)).status_code, 303)

    def test_what_is_no_photo_is_said_at_its_field_and_the_rest_kept(self) -> None:
        bomb = picture((9000, 9000))
        for data, words in (
            (b"<script>alert(1)</script>", "is not a PNG, JPEG or WebP picture"),
            (picture()[:400], "is not a PNG, JPEG or WebP picture"),
            (picture(form="GIF"), "is not a PNG, JPEG or WebP picture"),
            (b"\x89PNG" + b"0" * (60 * 1024 * 1024), "is larger than 12 MB"),
            (bomb, "which is too many"),
        ):
            answer = self.send(data, place="behind the clamp")
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)
            self.assertEqual(fields(answer.text)["place"], "behind the clamp")
        self.assertEqual(open_rig(self.database, self.rig_id).witness, ())

    def test_a_mark_needs_a_joint_and_a_place_or_a_photo(self) -> None:
        self.assertIn("which joint?", self.send(None, joint=" ").text)
        self.assertIn("say where it is, or add a photo", self.send(None).text)
        self.assertEqual(self.send(None, place="silver line").status_code, 303)

    def test_one_sheet_for_all_joints_and_one_photo_for_several(self) -> None:
        sheet = f"{self.path}/marks/sheet"
        self.client.post(f"{self.path}/marks", data={"joint": "rest", "place": "silver line"})
        form = fields(self.client.get(sheet).text)
        self.assertEqual(form["place_7"], "silver line")
        told = form | {"place_0": "white line", "shows_0": "on", "shows_7": "on", "place_11": "two dots"}
        refused = self.client.post(sheet, data=told)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("choose the photo that shows the ticked joints", refused.text)
        self.assertIn("two dots", refused.text)
        files = {"photo": ("joints.png", picture(), "image/png")}
        self.assertIn("tick the joints", self.client.post(sheet, data=form, files=files).text)
        self.assertEqual(self.client.post(sheet, data=told, files=files).status_code, 303)
        marks = {mark.joint: mark for mark in open_rig(self.database, self.rig_id).witness}
        self.assertEqual(set(marks), {"mount on the riser", "rest", "quiver"})
        self.assertEqual(marks["rest"].photo_id, marks["mount on the riser"].photo_id)
        self.assertIsNone(marks["quiver"].photo_id)
        empty = dict.fromkeys(form, "")
        self.assertEqual(self.client.post(sheet, data=empty).status_code, 422)
        self.assertEqual(len(open_rig(self.database, self.rig_id).witness), 3)  # nothing is taken out by an empty line

    def test_a_sheet_that_was_open_in_two_windows_is_joined(self) -> None:
        sheet = f"{self.path}/marks/sheet"
        first, second = (fields(self.client.get(sheet).text) for _ in range(2))
        self.assertEqual(self.client.post(sheet, data=first | {"place_0": "white line"}).status_code, 303)
        self.assertEqual(self.client.post(sheet, data=second | {"place_7": "silver line"}).status_code, 303)
        marks = {mark.joint: mark.place for mark in open_rig(self.database, self.rig_id).witness}
        self.assertEqual(marks, {"mount on the riser": "white line", "rest": "silver line"})
        asked = self.client.post(sheet, data=second | {"place_0": "red line"})
        self.assertEqual(asked.status_code, 409)
        self.assertIn("changed meanwhile to", asked.text)

    def test_a_knocked_rig_is_put_back_in_order(self) -> None:
        for joint in ("rest", "mount on the riser", "pointer"):
            self.send(None, joint=joint, place="a line")
        page = self.client.get(f"{self.path}/knocked").text
        self.assertIn("Look at mount on the riser first.", page)
        self.assertLess(page.index("2. Pointer"), page.index("3. Rest"))

    def test_taking_out_and_putting_back_and_other_rigs_photos(self) -> None:
        self.send(picture())
        answer = self.client.post(f"{self.path}/marks/1/remove")
        self.assertEqual(open_rig(self.database, self.rig_id).witness, ())
        self.assertIn("Put it back", self.client.get(answer.headers["location"]).text)
        self.client.post(f"{self.path}/marks/1/restore")
        self.assertEqual(len(open_rig(self.database, self.rig_id).witness), 1)
        other = self.add_rig()
        self.assertEqual(self.client.get(f"/rigs/{other}/photos/1").status_code, 404)
        self.assertEqual(self.client.post(f"{self.path}/marks/9/remove").status_code, 404)

    def test_an_ordinary_form_still_has_its_small_limit(self) -> None:
        answer = self.client.post(f"{HOST}{self.path}/step/order", data={"note": "x" * 100_000})
        self.assertEqual(answer.status_code, 413)
