import csv
import io
import math
import re
import subprocess
from dataclasses import replace

from cross_staff.core.level.log import AXES
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.card import RigCard, Vial
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight import Control, Screw
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import open_rig
from tests.core.level.test_station import levelled_card
from tests.rigs import NOON
from tests.web.client import WithClient, fields
from tests.web.mount.test_mount import picture

DEG = math.radians(1.0)


class WithLevel(WithClient):
    """A bow whose gate is open and which is plumb, with calibrated vials."""

    plumb = True

    def setUp(self) -> None:
        super().setUp()
        self.levelling(levelled_card())

    def levelling(self, card: RigCard) -> None:
        self.rig_id = self.add_rig(card)
        self.path = f"/rigs/{self.rig_id}/level"
        self.open_gate(self.rig_id)
        if self.plumb:
            self.client.post(f"{self.path}/plumb", data={"side": "0", "fore": "0", "beside": "0", "seat": "flat"})

    def open_gate(self, rig_id: int) -> None:
        reason = BenchEntry("prepare", OVERRIDE, 0, NOON, note="checked at the shop, sheet by hand")
        prepare.override_gate(self.database, rig_id, reason)

    @property
    def state(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id).level

    def read(self, axis: str = "first", vial: str = "0", expect: int = 303, **typed: str) -> str:
        pitch = "-35" if axis == "third" else "0"
        method = {"first": "rail_vial", "second": "to_string", "third": "hand_plumb"}[axis]
        form = {"axis": axis, "method": method, "pitch": pitch, "vial": vial, "reference": "0"} | typed
        answer = self.client.post(f"{self.path}/read", data=form)
        self.assertEqual(answer.status_code, expect, answer.text[:200])
        return answer.text

    def now(self, query: str = "") -> str:
        page = self.client.get(self.path + query).text
        return re.search(r'<h2 class="now" id="now">(.*?)</h2>', page).group(1)  # type: ignore[union-attr]


class Gates(WithLevel):
    plumb = False

    def test_a_shut_gate_takes_no_reading_and_says_where_it_opens(self) -> None:
        rig_id = self.add_rig(levelled_card())
        page = self.client.get(f"/rigs/{rig_id}/level").text
        self.assertIn("Get the bow ready first.", page)
        self.assertNotIn('id="reading"', page)
        answer = self.client.post(f"/rigs/{rig_id}/level/read", data={"axis": "first", "vial": "1", "pitch": "0"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("The gate is shut", answer.text)
        self.assertEqual(open_rig(self.database, rig_id).level_log, ())

    def test_plumb_comes_before_any_axis_and_far_off_is_refused(self) -> None:
        self.assertEqual(self.now(), "Set the bow plumb both ways.")
        late = self.client.post(f"{self.path}/plumb", data={"side": "1.5", "fore": "0"})
        self.assertEqual(late.status_code, 422)
        self.assertIn("more than a line off", late.text)
        self.assertEqual(fields(late.text)["side"], "1.5")
        self.client.post(f"{self.path}/plumb", data={"side": "0.2 left", "fore": "0"})
        self.assertEqual(self.state.plumb.points, ((-0.2, 0.0),))
        self.assertEqual(self.now(), "Read the reference beside the string level.")
        for typed, status in (({"side": "0", "beside": ""}, 422), ({"side": "0", "beside": "0.3 right"}, 303)):
            self.assertEqual(self.client.post(f"{self.path}/match", data=typed).status_code, status)
        self.assertEqual(self.now(), "Read the first axis.")
        self.client.post(f"{self.path}/open/plumb")
        self.assertEqual(self.now(), "Set the bow plumb both ways.")
        self.assertEqual(self.client.post(f"{self.path}/open/moon").status_code, 404)

    def test_without_a_reversal_the_reference_is_first(self) -> None:
        rig_id = self.add_rig(levelled_card(reference=Vial(0.5 * DEG)))
        self.open_gate(rig_id)
        self.assertIn("Prove the reference level.", self.client.get(f"/rigs/{rig_id}/level").text)


class Readings(WithLevel):
    def test_a_look_then_a_watched_turn_then_by_what_was_counted(self) -> None:
        self.read(vial="0.2")
        self.assertEqual(self.now(), "Read the first axis once more.")
        self.client.post(f"{self.path}/undo/1")
        self.read(vial="2")
        self.assertEqual(self.now(), "Turn the first axis screw until its bubble stands in the middle.")
        form = fields(self.client.get(self.path).text)
        self.assertEqual(form["vial"], "")  # a bubble that nobody looked at is never read as level
        self.assertEqual((form["turned"], form["by_eye"]), ("", "yes"))
        for vial in ("1.4", "1.4"):
            self.read(vial=vial, turned="1/8" if self.state.axes["first"].turns == () else "")
        self.assertEqual(len(self.state.axes["first"].turns), 1)
        page = self.client.get(self.path).text
        self.assertIn("The bubble should come", page)
        self.assertIn("lines a turn, within", page)

    def test_a_knob_that_goes_against_its_card_is_noticed(self) -> None:
        card = levelled_card()
        knob = Control("First axis screw", "first_axis", clockwise="left")
        self.levelling(replace(card, sight=replace(card.sight, controls=(knob,))))
        for vial, turned in (("1", ""), ("1", ""), ("2.5", "1/4"), ("2.5", ""), ("4", "1/4"), ("4", "")):
            self.read(vial=vial, turned=turned)
        self.assertRegex(self.now(), "anticlockwise")
        self.assertIn("goes the other way than its card says", self.client.get(self.path).text)

    def test_what_cannot_be_is_said_at_its_field_and_kept(self) -> None:
        for axis, typed, field, words in (
            ("first", {"reference": ""}, "reference", "where does the bubble stand?"),
            ("first", {"vial": ""}, "vial", "where does the bubble stand?"),
            ("first", {"reference": "7"}, "reference", "beyond the vial: between"),
            ("first", {"vial": "-1 left"}, "vial", "minus is left already"),
            (
                "third",
                {"method": "vise_string", "seat": "flat", "pitch": "3"},
                "pitch",
                "too level to tell the third axis",
            ),
            ("third", {"method": "vise_riser", "seat": "string"}, "seat", "choose that, or another way"),
            ("third", {"method": "shooting", "pitch": "25", "distance": ""}, "distance", "at which distance?"),
            ("first", {"vial": "middle"}, "vial", "is not a number"),
            ("third", {"pitch": "89"}, "pitch", "between"),
            ("third", {"pitch": "3"}, "pitch", "too level to tell the third axis"),
            ("first", {"pitch": "30"}, "pitch", "read this axis with the bow level"),
            ("first", {"pitch": ""}, "pitch", "at which tilt of the arrow?"),
            ("first", {"turned": "a bit"}, "turned", "is not a number"),
        ):
            with self.subTest(axis, **typed):
                page = self.read(axis, expect=422, **({"vial": "0.4", "note": "kept"} | typed))
                self.assertIn(words, page)
                shown = fields(page)
                self.assertEqual((shown[field], shown["note"]), (typed.get(field, ""), "kept"))
        self.assertEqual(self.state.readings, ())

    def test_more_lines_on_the_vial_let_the_bubble_go_farther(self) -> None:
        self.levelling(levelled_card(rail=Vial(0.2 * DEG, lines=7)))
        self.assertIn("7 L", self.client.get(self.path).text)
        self.read(vial="7.5")
        self.assertEqual(self.state.readings[0].vial_div, 7.5)

    def test_left_and_right_are_understood(self) -> None:
        self.read(vial="0,6 left", reference="0.2R")
        self.assertEqual((self.state.readings[0].vial_div, self.state.readings[0].reference_div), (-0.6, 0.2))

    def test_uncalibrated_vials_want_the_reference_in_its_middle(self) -> None:
        self.levelling(levelled_card(sight=Vial(), rail=Vial(roll_error_div=0.0)))
        self.assertIn("bring the reference to its middle, by the bow", self.client.get(self.path).text)
        refused = self.read(vial="1", reference="1.2", expect=422)
        self.assertIn("these vials are not calibrated: bring the reference to 0 first", refused)
        self.read("third", "1", reference="1.2")  # against a line nothing is read beside
        self.client.post(f"{self.path}/undo/1")
        self.assertEqual(fields(refused)["reference"], "1.2")
        self.read(vial="1", reference="0.2")
        page = self.client.get(self.path).text
        self.assertIn("Calibrate, one minute", page)
        self.assertIn("−0.9 lines", page)  # two tenths of a half degree, of a line that is guessed
        self.assertIn("calibrate first", self.client.get(f"{self.path}/cost").text)

    def test_undo_and_flip(self) -> None:
        self.read(vial="1")
        self.client.post(f"{self.path}/undo/1")
        self.assertEqual(self.state.readings, ())
        self.assertIn("taken back", self.client.get(self.path).text)
        self.assertEqual(self.client.post(f"{self.path}/undo/1").status_code, 404)

    def test_a_flipped_sign_is_offered_to_be_turned(self) -> None:
        for axis in ("first", "second"):
            self.read(axis, "0")
            self.read(axis, "0.1")
        for vial, pitch in (("1.5", "-35"), ("1.4", "-35"), ("-1.9", "-45"), ("1.7", "-40"), ("1.5", "-35")):
            self.read("third", vial, pitch=pitch)
        page = self.client.get(self.path).text
        button = re.search(r'action="(/rigs/\d+/level/flip/\d+/\w+)"', page)
        self.assertIn("Turn its sign", page)
        self.client.post(button.group(1))  # type: ignore[union-attr]
        self.assertNotIn("Turn its sign", self.client.get(self.path).text)
        self.assertEqual(sorted(r.vial_div for r in self.state.readings)[-1], 1.9)

    def test_a_look_before_locking_teaches_what_locking_moves(self) -> None:
        for typed in (
            {"vial": "2"},
            {"vial": "2"},
            {"vial": "1.0", "turned": "1/4", "loose": "on"},
            {"vial": "1.4"},
            {"vial": "1.4"},
        ):
            self.read(**typed)
        self.assertIn("Locking moves it 0.4 right: stop that much short.", self.client.get(self.path).text)

    def test_at_rest_and_at_full_draw_stand_side_by_side(self) -> None:
        for axis in ("first", "second"):
            self.read(axis)
            self.read(axis)
        self.client.post(f"{self.path}/match", data={"side": "0", "beside": "0", "seat": "string"})
        for method, vial in (("vise_string", "0.2"), ("board_string", "1.2")):
            for pitch, seen in (("-35", vial), ("35", f"-{vial}")):
                self.read("third", seen, method=method, pitch=pitch)
        page = self.client.get(self.path).text
        self.assertIn("Third axis, by method", page)
        self.assertRegex(page, r"This riser twists 0\.8° ± 0\.\d when drawn")

    def test_how_many_more_looks_is_said(self) -> None:
        self.read("second", "0.4")
        self.assertRegex(self.client.get(f"{self.path}?axis=second").text, r"\d more looks? would likely settle it")

    def test_everything_good_says_stop(self) -> None:
        for axis in AXES:
            for _ in range(3):
                self.read(axis)
        self.assertEqual(self.now(), "Good enough: stop.")
        page = self.client.get(self.path).text
        self.assertIn("Print the record", page)
        self.assertRegex(self.client.get(f"/rigs/{self.rig_id}/card").text, r"Level</\w+>\s*<\w+[^>]*>done")


class Acceptance(WithLevel):
    def test_it_is_in_writing_and_only_of_what_was_read(self) -> None:
        for typed, words in (("no screw there", "read it first"), ("no", "write why")):
            answer = self.client.post(f"{self.path}/accept/first", data={"reason": typed})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.text)
            self.assertEqual(fields(answer.text)["reason"], typed)
            self.read(vial="1.4")
        self.client.post(f"{self.path}/undo/2")
        self.client.post(f"{self.path}/accept/first", data={"reason": "no adjustment; costs 2 cm"})
        self.assertEqual(self.now(), "Read the second axis.")
        self.assertIn("no adjustment; costs 2 cm", self.client.get(self.path).text)
        self.client.post(f"{self.path}/open/accept_first")
        self.assertEqual(self.now(), "Turn the first axis screw until its bubble stands in the middle.")
        self.assertEqual(self.client.post(f"{self.path}/accept/fourth", data={}).status_code, 404)

    def test_a_sight_that_does_not_adjust_is_measured_and_accepted(self) -> None:
        bare = levelled_card()
        axes = ("none", *bare.sight.axes[1:])
        self.levelling(replace(bare, sight=replace(bare.sight, axes=axes)))
        self.read(vial="2")
        self.read(vial="2")
        self.assertEqual(self.now(), "The first axis of this sight does not adjust: shim it, or accept it.")
        self.assertIn("A shim behind the upper edge of the mount", self.client.get(self.path).text)

    def test_a_ring_is_moved_to_a_bubble_and_has_no_turns_to_count(self) -> None:
        bare = levelled_card()
        ring = Screw("Vial ring", "second_axis", "ring")
        self.levelling(replace(bare, sight=replace(bare.sight, screws=(ring,))))
        for axis, vial in (("first", "0"), ("first", "0"), ("second", "1.6"), ("second", "1.6")):
            self.read(axis, vial)
        page = self.client.get(self.path).text
        self.assertIn("Move the vial ring until its bubble stands in the middle.", page)
        self.assertIn("Moved just before", page)
        self.assertIn("turn the housing clockwise, as the archer sees it", page)
        self.assertNotIn("turned", fields(page))
        self.assertIn('name="by_eye" value="yes" checked', page)
        self.read("second", "0", by_eye="yes")
        self.assertEqual(self.now(), "Read the first axis.")  # the ring may have taken it along
        log = self.client.get(self.path).text
        self.assertIn("moved, not counted", log)
        self.assertNotIn("1 turn", log)


class Photo(WithLevel):
    def test_a_bubble_read_off_a_photo_stays_with_its_reading(self) -> None:
        upload = {"photo": ("vial.png", picture(), "image/png")}
        sent = self.client.post(f"{self.path}/photo", data={"axis": "first", "method": "bare_bar"}, files=upload)
        self.assertEqual(sent.status_code, 303)
        page = sent.headers["location"]
        form = fields(self.client.get(page).text)
        marks = {"left_line": "30 20", "right_line": "60 20", "left_end": "48 21", "right_end": "54 19", "lines": "1"}
        back = self.client.post(page.split("?")[0], data=form | marks)
        self.assertEqual(back.status_code, 303)
        self.assertIn("vial=0.4&photo=1", back.headers["location"])
        brought = self.client.get(back.headers["location"]).text
        self.assertIn('name="photo" value="1"', brought)
        self.assertEqual((fields(brought)["vial"], fields(brought)["method"]), ("0.4", "bare_bar"))
        self.client.post(f"{self.path}/read", data=fields(brought) | {"photo": "1", "method": "rail_vial"})
        self.assertEqual((self.state.readings[0].vial_div, self.state.readings[0].photo_id), (0.4, 1))
        self.assertIn(f'href="/rigs/{self.rig_id}/photos/1"', self.client.get(self.path).text)

    def test_marks_that_cannot_be_are_said(self) -> None:
        upload = {"photo": ("vial.png", picture(), "image/png")}
        page = self.client.post(f"{self.path}/photo", data={"axis": "first"}, files=upload).headers["location"]
        path, form = page.split("?")[0], fields(self.client.get(page).text)
        marks = {"left_line": "30 20", "right_line": "60 20", "left_end": "48 21", "right_end": "54 19", "lines": "1"}
        for typed, words in (
            ({"left_line": "60 20", "right_line": "60 20"}, "stand on one another"),
            ({"left_end": ""}, "put this mark on the photo"),
            ({"lines": ""}, "how many lines from the middle"),
            ({"right_end": "5000 1"}, "off the picture"),
            ({"right_end": "here"}, "is no place on the photo"),
            ({"corners": "1 1; 2 2"}, "all four corners"),
        ):
            answer = self.client.post(path, data=form | marks | typed)
            self.assertEqual(answer.status_code, 422, words)
            self.assertIn(words, answer.text)
        none = self.client.post(
            f"{self.path}/photo", data={"axis": "first"}, files={"photo": ("x.png", b"", "image/png")}
        )
        self.assertEqual(none.status_code, 422)
        self.assertEqual(self.client.get(f"{self.path}/photo/99").status_code, 404)


class Setup(WithLevel):
    def post(self, status: int = 303, **typed: str) -> str:
        path = f"{self.path}/setup"
        answer = self.client.post(path, data=self.form(path) | typed)
        self.assertEqual(answer.status_code, status, answer.text[:200])
        return answer.text

    @property
    def setup(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id).card.level

    def test_a_reversal_proves_whichever_level_was_turned(self) -> None:
        self.post(first_way="0.5", turned_way="-0.1")
        self.assertAlmostEqual(self.setup.reference.roll_error_div, 0.3)
        self.post(reversed="string", first_way="0.2", turned_way="0.2")
        self.assertAlmostEqual(self.setup.string.roll_error_div, 0.0)
        self.assertAlmostEqual(self.setup.reference.roll_error_div, 0.3)
        page = self.client.get(f"{self.path}/setup").text
        self.assertIn("Level for the string: it has no error of its own", page)

    def test_a_change_shows_among_the_revisions_and_side_by_side(self) -> None:
        self.post(reversed="string", first_way="0.2", turned_way="0", string_lines="5")
        rig = f"/rigs/{self.rig_id}/card"
        self.assertIn("vials, reference and their tolerance", self.client.get(f"{rig}/revisions").text)
        compared = self.client.get(f"{rig}/compare?a=2&b=3").text
        self.assertIn("Level for the string, lines a side", compared)
        self.assertIn("its own error is 0.1 right", compared)

    def test_the_rail_levels_own_error_is_taken_out_of_the_first_axis(self) -> None:
        self.post(reversed="rail", first_way="0.4", turned_way="-0.4")
        self.client.post(f"{self.path}/plumb", data={"side": "0", "fore": "0"})
        self.read(vial="0.4")
        self.assertAlmostEqual(self.state.axes["first"].now.value, 0.0, delta=1e-4)

    def test_a_reference_that_contradicts_itself_is_asked_about(self) -> None:
        page = self.post(422, first_way="2", turned_way="-2")
        self.assertIn("were both read towards the same side of the room?", page)
        self.assertEqual(fields(page)["first_way"], "2")
        self.post(first_way="2", turned_way="-2", sure="yes")
        self.assertAlmostEqual(self.setup.reference.roll_error_div, 2.0)
        self.assertIn("both readings, or neither", self.post(422, first_way="1"))

    def test_a_shim_calibrates_a_vial_in_a_minute(self) -> None:
        self.post(cal_vial="sight", shim="0.5", base="100", moved="0.5")
        self.assertAlmostEqual(self.setup.sight.per_division_rad, math.asin(0.005) / 0.5)
        self.post(yaw="0.2")  # the line is shown rounded, and kept as it was made
        self.assertEqual(self.setup.sight.per_division_rad, math.asin(0.005) / 0.5)
        self.assertIn("needed to calibrate", self.post(422, cal_vial="rail", shim="0.5"))
        self.assertIn("which no vial has", self.post(422, cal_vial="rail", shim="20", base="20", moved="1"))

    def test_bad_fields_are_said_and_two_windows_are_joined(self) -> None:
        page = self.post(422, sight_line="9", reference_lines="40", tolerance="lots")
        self.assertEqual(page.count('class="field wrong"'), 3)
        old = self.form(f"{self.path}/setup")
        self.post(tolerance="7")
        self.client.post(f"{self.path}/setup", data=old | {"yaw": "0.4"})
        self.assertEqual((self.setup.tolerance_m, self.setup.yaw_rad), (0.07, math.radians(0.4)))


class Views(WithLevel):
    def test_the_cost_follows_its_sliders(self) -> None:
        htmx = {"HX-Request": "true"}
        true = self.client.get(f"{self.path}/cost?first=0&second=0&third=0", headers=htmx).text
        self.assertNotIn("<html", true)
        self.assertEqual(true.count('class="beyond"'), 0)
        off = self.client.get(f"{self.path}/cost?first=0&second=0&third=2&tolerance=3", headers=htmx).text
        self.assertGreater(off.count('class="beyond"'), 1)
        self.assertRegex(off, r"\d\u00a0?\s?cm L")
        self.assertRegex(off, r"\d\u00a0?\s?cm R")
        self.assertEqual(self.client.get(f"{self.path}/cost?first=moon&third=nan").status_code, 200)
        alone = self.client.get(f"{self.path}/cost?first=0&second=0&third=1&tolerance=5", headers=htmx).text
        self.assertRegex(alone, r"third axis</th><td>0\.\d\d°</td><td>\d\.\d lines</td><td>[1-9]")
        self.client.post("/rigs", data={"name": "bare"})
        self.assertIn("The card is not complete yet", self.client.get("/rigs/2/level/cost").text)

    def test_the_picture_shows_a_yawed_vial_only_on_the_slope(self) -> None:
        path, htmx = f"{self.path}/picture", {"HX-Request": "true"}
        level = self.client.get(f"{path}?pitch=0&cant=0&third=2", headers=htmx).text
        down = self.client.get(f"{path}?pitch=-35&cant=0&third=2", headers=htmx).text
        self.assertIn("sight: in the middle", level)
        self.assertRegex(down, r"sight: [\d.]+ (left|right)")
        self.assertIn("reference: in the middle", down)
        self.assertEqual(self.client.get(f"{path}?pitch=x&cant=inf").status_code, 200)

    def test_every_reading_goes_out_as_csv(self) -> None:
        self.read("first", "0.8", who="Maren, Jory")
        self.read("third", "-1.2", reference="0.1")
        self.client.post(f"{self.path}/undo/1")
        answer = self.client.get(f"{self.path}.csv")
        self.assertIn('filename="test-bow-level.csv"', answer.headers["content-disposition"])
        rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
        self.assertEqual([(r["axis"], r["stands"]) for r in rows], [("first", "taken back"), ("third", "locked")])
        self.assertEqual((rows[0]["who"], rows[1]["tilt_deg"], rows[1]["vial_lines"]), ("Maren, Jory", "-35.0", "-1.2"))

    def test_the_record_is_a_pdf_with_what_was_found_and_left(self) -> None:
        self.read(vial="0.8", who="Maren")
        answer = self.client.get(f"{self.path}.pdf")
        self.assertEqual(answer.headers["content-type"], "application/pdf")
        command = ["pdftotext", "-layout", "-", "-"]
        text = subprocess.run(command, input=answer.content, capture_output=True, check=True).stdout.decode()
        for words in ("Test bow: level", "as found", "as left", "Maren", "not read", "0.8 right", "own error"):
            self.assertIn(words, text)
