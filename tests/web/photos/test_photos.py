"""The photo bench through its pages: pictures of known geometry, slips, what goes where, what is kept."""

from __future__ import annotations

import io
import math
import re

import numpy as np
from PIL import Image

from cross_staff.core.simulate.pictures import Camera, SeenTarget, SeenVial
from cross_staff.core.tape.rows import TapeMark
from cross_staff.services.rig import Rig, open_rig
from tests.web.client import WithClient, fields

PEEP_M = 0.150 * math.sin(math.radians(38.0))


def jpeg(picture: np.ndarray, turned: int = 0) -> bytes:
    """A picture as a phone sends it, lying on its side where `turned` says so, with a place written into it."""
    out = io.BytesIO()
    made = Image.fromarray(picture)
    exif = made.getexif()
    exif[0x0112] = turned or 1
    exif.get_ifd(0x8825)[1] = "N"
    made.save(out, "JPEG", quality=92, exif=exif)
    return out.getvalue()


def side() -> tuple[Camera, dict[str, str]]:
    """A bow from the side, and the taps on its picture."""
    camera = Camera(1600, 1200, 1.4, 0.03, -0.02, 0.1)
    angle = math.radians(38.0)
    there = {
        "tap_nock": (-0.4, -0.1), "tap_point": (0.32, -0.1),
        "tap_peep": (-0.4 + 0.150 * math.cos(angle), -0.1 + PEEP_M),
        "tap_pin": (-0.4 + 0.150 * math.cos(angle) + 0.85, -0.05),
    }  # fmt: skip
    seen = {name: camera.on_photo([place])[0] for name, place in there.items()}
    return camera, {name: f"{x:.1f} {y:.1f}" for name, (x, y) in seen.items()}


class WithPhotos(WithClient):
    """A rig, and photos that are brought to its bench."""

    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/photo-bench"

    def rig(self, rig_id: int) -> Rig:
        return open_rig(self.database, rig_id)

    def link(self, page: str, to: str) -> str:
        """Where a page leads with what was measured."""
        found = re.search(rf'href="(/rigs/{self.rig_id}/{to}[?][^"#]*)', page)
        self.assertIsNotNone(found)
        return found.group(1).replace("&amp;", "&")  # type: ignore[union-attr]

    def lines(self) -> list[TapeMark]:
        """The marks that stand by pencil lines."""
        newest = {mark.line: mark for mark in self.rig(self.rig_id).log}
        return [mark for mark in newest.values() if mark.ruler == "lines" and not mark.removed]

    def bring(self, use: str, content: bytes | None = None) -> str:
        """Bring a photo; the page that measures it."""
        upload = {"photo": ("p.jpg", content or jpeg(np.full((1200, 1600, 3), 160, np.uint8)), "image/jpeg")}
        sent = self.client.post(self.path, data={"use": use}, files=upload)
        self.assertEqual(sent.status_code, 303, sent.text[:400])
        return str(sent.headers["location"])


class Bench(WithPhotos):
    def test_the_peep_goes_onto_the_card_with_its_doubt(self) -> None:
        page = self.bring("peep")
        _, taps = side()
        form = fields(self.client.get(page).text) | taps | {"length_1": "720", "act": "measure"}
        told = self.client.post(page.split("?")[0], data=form)
        self.assertEqual(told.status_code, 200)
        self.assertIn("Kept with the photo", told.text)
        self.assertIn("Onto the card", told.text)
        link = told.text.split('href="')[
            [i for i, part in enumerate(told.text.split('href="')) if "card?photo" in part][0]
        ].split('"')[0]
        card = fields(self.client.get(link.replace("&amp;", "&")).text)
        self.assertEqual(card["peep_way"], "photo")
        self.assertAlmostEqual(float(card["peep_square"]), 1000.0 * PEEP_M, delta=4.0)
        self.assertAlmostEqual(float(card["eye_to_sight"]), 850.0, delta=20.0)
        self.assertTrue(0.5 < float(card["peep_square_sd"]) < 10.0)
        self.assertEqual(self.client.post(f"/rigs/{self.rig_id}/card", data=card).status_code, 303)
        kept = self.rig(self.rig_id).card
        self.assertAlmostEqual(kept.peep.height().sd_m, float(card["peep_square_sd"]) / 1000.0, places=6)  # type: ignore[union-attr]
        self.assertAlmostEqual(kept.eye_to_sight_sd_m or 0.0, float(card["eye_to_sight_sd"]) / 1000.0, places=6)

    def test_a_measured_photo_is_shown_again_and_can_be_taken_back(self) -> None:
        page = self.bring("peep")
        _, taps = side()
        form = fields(self.client.get(page).text) | taps | {"length_1": "720", "act": "measure"}
        self.client.post(page.split("?")[0], data=form)
        again = fields(self.client.get(page).text)
        self.assertEqual({name: again[name] for name in taps}, taps)
        self.assertEqual(float(again["length_1"]), 720.0)
        bench = self.client.get(self.path).text
        self.assertIn("Peep, square to the arrow", bench)
        self.assertIn("measured on a photo: peep", self.client.get(f"/changes?rig={self.rig_id}").text)
        back = {name: bench.split(f'name="{name}" value="')[1].split('"')[0] for name in ("key", "entry")}
        self.client.post(page.split("?")[0], data=form | {"length_1": "700"})  # measured anew in another window
        self.assertEqual(
            self.client.post(f"{page.split('?')[0]}/back", data=back).headers["location"][-9:], "meanwhile"
        )
        bench = self.client.get(self.path).text
        back = {name: bench.split(f'name="{name}" value="')[1].split('"')[0] for name in ("key", "entry")}
        self.assertEqual(self.client.post(f"{page.split('?')[0]}/back", data=back).status_code, 303)
        self.assertEqual(float(fields(self.client.get(page).text)["length_1"]), 720.0)  # the one before it holds
        bench = self.client.get(self.path).text
        back = {name: bench.split(f'name="{name}" value="')[1].split('"')[0] for name in ("key", "entry")}
        self.assertEqual(self.client.post(f"{page.split('?')[0]}/back", data=back).status_code, 303)
        self.assertNotIn("Peep, square to the arrow", self.client.get(self.path).text)
        self.client.post(f"{page.split('?')[0]}/back", data=back)
        self.assertIn("Nothing was taken back", self.client.get(f"{self.path}?said=meanwhile").text)

    def test_what_is_wrong_stands_at_its_place_and_keeps_what_was_tapped(self) -> None:
        page = self.bring("peep")
        _, taps = side()
        form = fields(self.client.get(page).text) | taps | {"length_1": "720", "act": "measure"}
        for changed, words in (
            ({"length_1": ""}, "type what is known"), ({"length_1": "9000"}, "between"),
            ({"tap_peep": ""}, "tap the peep"),
            ({"tap_peep": taps["tap_nock"]}, "same point"), ({"tap_peep": "up there"}, "is no place on the photo"),
            ({"tap_peep": "99999 1"}, "off the picture"), ({"tap_point": taps["tap_nock"]}, "on the same point"),
            ({"tap_peep": "nan 3"}, "is no place on the photo"), ({"scale": "rope"}, "choose"),
        ):  # fmt: skip
            answer = self.client.post(page.split("?")[0], data=form | changed)
            self.assertEqual(answer.status_code, 422, changed)
            self.assertIn(words, answer.text)
            self.assertEqual(fields(answer.text)["tap_pin"], taps["tap_pin"])
        self.assertEqual(self.rig(self.rig_id).log_of("photos"), ())

    def test_a_tear_goes_to_the_paper_test_and_lines_to_the_marks(self) -> None:
        camera = Camera(1600, 1200, 0.4, 0.2, 0.1, 0.05)

        def at(*places: tuple[float, float]) -> str:
            return "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(places))

        corners = at((-0.1485, 0.105), (0.1485, 0.105), (0.1485, -0.105), (-0.1485, -0.105))
        page = self.bring("tear")
        taps = {"scale_taps": corners, "tap_point": at((0.0, 0.0)), "tap_nock": at((-0.012, 0.02))}
        form = fields(self.client.get(page).text) | taps | {"length_1": "297", "length_2": "210", "act": "measure"}
        told = self.client.post(page.split("?")[0], data=form).text
        link = f"/rigs/{self.rig_id}/prepare?" + told.split(f"/rigs/{self.rig_id}/prepare?")[1].split('"')[0].replace(
            "&amp;", "&"
        )
        paper = fields(self.client.get(link).text)
        self.assertAlmostEqual(float(paper["right"]), -12.0, delta=0.6)
        self.assertAlmostEqual(float(paper["up"]), 20.0, delta=0.6)
        page = self.bring("pencil")
        taps = {"scale_taps": at((-0.1, 0.03), (0.1, 0.03)), "tap_line": at((0.0, 0.0), (0.0, -0.02), (0.0, -0.05))}
        form = fields(self.client.get(page).text) | taps | {"length_1": "200", "act": "measure"}
        told = self.client.post(page.split("?")[0], data=form).text
        pasted = (
            self.client.get(self.link(told, "tape"))
            .text.split('id="pasted"')[1]
            .split("</textarea>")[0]
            .split(">")[1]
            .split()
        )
        (first, _, doubt), (second, _, _) = pasted[:3], pasted[3:]
        self.assertAlmostEqual(float(first), 20.0, delta=2.5)
        self.assertAlmostEqual(float(second) / float(first), 2.5, delta=0.2)
        table = self.form(self.link(told, "tape")) | {"pasted": f"30\t{first} ± {doubt}\t\t6\n40\t{second} ± 2\t\t6"}
        self.assertEqual(table["read"], "lines")  # lengths from the home line, no readings of the scale
        self.assertEqual(self.client.post(f"/rigs/{self.rig_id}/tape", data=table).status_code, 303)
        kept = self.lines()
        self.assertAlmostEqual(kept[0].reading_sd_mm or 0.0, float(doubt) / 1.96, places=3)
        again = self.form(f"/rigs/{self.rig_id}/tape")
        name = next(key for key, value in again.items() if key.endswith("-arrows") and value == "6")
        self.client.post(f"/rigs/{self.rig_id}/tape", data=again | {name: "5"})
        kept = self.lines()
        self.assertEqual(kept[0].arrows, 5)
        self.assertAlmostEqual(kept[0].reading_sd_mm or 0.0, float(doubt) / 1.96, places=3)  # it is known no better now

    def test_pins_stand_beside_what_the_tape_wants(self) -> None:
        camera = Camera(1600, 1200, 0.06)

        def at(*places: tuple[float, float]) -> str:
            return "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(places))

        page = self.bring("pins")
        rim = at((0.0, 0.02), (0.02, 0.0), (0.0, -0.02), (-0.02, 0.0))
        taps = {"scale_taps": rim, "tap_pin": at((0.0, 0.008), (0.0, 0.002), (0.0, -0.007))}
        form = fields(self.client.get(page).text) | taps | {"length_1": "40", "act": "measure"}
        told = self.client.post(page.split("?")[0], data=form)
        self.assertEqual(told.status_code, 200)
        self.assertIn("Pin 3, up of the middle", told.text)

    def test_another_scale_asks_for_its_own_points(self) -> None:
        page = self.bring("peep")
        form = fields(self.client.get(page).text) | {"scale": "sheet", "act": "scale", "tap_nock": "1.0 2.0"}
        shown = self.client.post(page.split("?")[0], data=form)
        self.assertEqual(shown.status_code, 200)
        self.assertIn("corners of the rectangle", shown.text)
        self.assertEqual(fields(shown.text)["tap_nock"], "1.0 2.0")

    def test_a_photo_on_its_side_is_turned_upright_and_its_place_is_gone(self) -> None:
        page = self.bring("peep", jpeg(np.full((600, 800, 3), 120, np.uint8), turned=6))
        photo = self.client.get(f"/rigs/{self.rig_id}/photos/{page.split('?')[0].rsplit('/', 1)[1]}").content
        with Image.open(io.BytesIO(photo)) as kept:
            self.assertEqual(kept.size, (600, 800))
            self.assertEqual(len(kept.getexif()), 0)

    def test_no_photo_too_many_points_no_such_use(self) -> None:
        none = self.client.post(self.path, data={"use": "peep"})
        self.assertEqual(none.status_code, 422)
        self.assertIn("choose a photo first", none.text)
        out = io.BytesIO()
        Image.new("1", (10000, 6000)).save(out, "PNG")  # 60 megapixels, a few kilobytes
        large = self.client.post(
            self.path, data={"use": "peep"}, files={"photo": ("p.png", out.getvalue(), "image/png")}
        )
        self.assertEqual(large.status_code, 422)
        self.assertIn("which is too many", large.text)
        page = self.bring("peep").split("?")[0]
        self.assertEqual(self.client.get(f"{page}?use=ruler").status_code, 404)
        self.assertEqual(self.client.get(f"{self.path}/99?use=peep").status_code, 404)


class Overlay(WithPhotos):
    def test_a_mark_that_moved_between_two_photos(self) -> None:
        self.bring("mark")
        self.bring("mark", jpeg(np.full((1100, 1500, 3), 90, np.uint8)))
        before, after = Camera(1600, 1200, 0.09), Camera(1500, 1100, 0.11, rolled_rad=0.4)

        def at(camera: Camera, *places: tuple[float, float]) -> str:
            return "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(places))

        fixed = ((-0.02, 0.01), (0.02, 0.012), (0.0, -0.02))
        form = {
            "before": "1", "after": "2", "tap_fixed": at(before, *fixed), "tap_again": at(after, *fixed),
            "tap_mark": at(before, (0.004, 0.0)), "tap_now": at(after, (0.005, 0.0)), "length_1": "40.05",
        }  # fmt: skip
        page = self.client.get(f"{self.path}/overlay")
        self.assertEqual(page.status_code, 200)
        laid = self.client.post(f"{self.path}/overlay", data=form)
        self.assertEqual(laid.status_code, 200, laid.text[:200])
        self.assertIn("matrix(", laid.text)
        self.assertRegex(laid.text.split('now">')[1][:200], r"moved by (1\.0|0\.9\d|1\.0\d)\smm")
        for changed, words in (
            ({"tap_again": at(after, *fixed[:2])}, "the same 3 points"), ({"tap_now": ""}, "on both photos"),
            ({"length_1": ""}, "how far are the first two"), ({"tap_fixed": "1 1; 1 2; 3 3"}, "nearly on one point"),
            ({"tap_again": at(after, fixed[1], fixed[0], fixed[2])}, "not the same points"),
            ({"tap_fixed": "5 5"}, "two to four"),
        ):  # fmt: skip
            answer = self.client.post(f"{self.path}/overlay", data=form | changed)
            self.assertEqual(answer.status_code, 422, changed)
            self.assertIn(words, answer.text)
        self.assertEqual(self.client.post(f"{self.path}/overlay", data=form | {"before": "77"}).status_code, 404)

    def test_one_photo_is_not_enough(self) -> None:
        self.bring("mark")
        self.assertIn("One photo more", self.client.get(f"{self.path}/overlay").text)


class Vial(WithPhotos):
    def test_the_bubble_is_found_and_taken_to_the_reading(self) -> None:
        rng = np.random.default_rng(3)
        vial, camera = SeenVial(0.7, 1.8), Camera(1000, 750, 0.06, 0.3, -0.2, 0.2)
        page = self.bring("vial", jpeg(camera.photo(vial.scene, rng)))
        self.assertIn("/level/photo/", page)
        corners = "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(vial.corners))
        form = fields(self.client.get(page).text) | {"corners": corners, "axis": "second"}
        found = self.client.post(page, data=form | {"act": "find"})
        self.assertEqual(found.status_code, 200)
        self.assertIn("Found: look", found.text)
        taken = self.client.post(page, data=fields(found.text) | {"act": "take", "lines": "1"})
        self.assertEqual(taken.status_code, 303, taken.text[:300])
        said = float(taken.headers["location"].split("vial=")[1].split("&")[0])
        self.assertAlmostEqual(said, 0.7, delta=0.1)

    def test_nothing_on_it_is_said_and_three_corners_are_refused(self) -> None:
        page = self.bring("vial")
        form = fields(self.client.get(page).text) | {"axis": "second", "act": "find"}
        found = self.client.post(page, data=form | {"corners": "200 300; 1400 310; 1390 600; 210 590"})
        self.assertIn("Not sure", found.text)
        marks = {
            "left_line": "600 450",
            "right_line": "1000 455",
            "left_end": "700 450",
            "right_end": "900 452",
            "lines": "1",
        }
        doubted = fields(found.text) | marks | {"act": "take"}
        doubted["doubted"] = " | ".join(marks[name] for name in ("left_line", "right_line", "left_end", "right_end"))
        asked = self.client.post(page, data=doubted)
        self.assertEqual(asked.status_code, 422)
        self.assertIn("nobody moved them", asked.text)
        self.assertEqual(self.client.post(page, data=doubted | {"sure": "yes"}).status_code, 303)
        self.assertEqual(self.client.post(page, data=doubted | {"left_end": "690 450"}).status_code, 303)
        for corners in ("", "200 300; 1400 310; 1390 600", "200 300; 200 300; 200 300; 200 300"):
            self.assertEqual(self.client.post(page, data=form | {"corners": corners}).status_code, 422)


class Target(WithPhotos):
    def test_holes_become_shots_of_the_end(self) -> None:
        rng = np.random.default_rng(8)
        holes = ((0.03, 0.04), (-0.05, 0.02), (0.04, -0.06), (0.004, 0.002), (0.008, 0.004))
        target, camera = SeenTarget(holes, shaft_m=0.007), Camera(1200, 1200, 0.85, 0.2, 0.1, 0.05)
        page = self.bring("target", jpeg(camera.photo(target.scene, rng)))
        self.assertIn("/sight_in/photo/", page)
        rim = "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(target.quarters))
        form = fields(self.client.get(page).text) | {
            "scale": "disc",
            "scale_taps": rim,
            "length_1": "40",
            "shaft_across": "7",
        }
        found = self.client.post(page, data=form | {"act": "find"})
        self.assertEqual(found.status_code, 200)
        proposed = fields(found.text)
        self.assertEqual(len(proposed["tap_holes"].split(";")), 3)
        pair = "; ".join(f"{x:.1f} {y:.1f}" for x, y in camera.on_photo(holes[3:]))
        taken = self.client.post(page, data=proposed | {"act": "take", "tap_holes": f"{proposed['tap_holes']}; {pair}"})
        self.assertEqual(taken.status_code, 303)
        shown = self.client.get(taken.headers["location"].split("#")[0]).text
        end = fields(shown.split('id="end"')[1].split("</form>")[0]) | {
            "placed": "",
            "taken_back": "",
            "shots": shown.split('name="shots"')[1].split("</textarea>")[0].split(">")[1],
        }
        shots = sorted(tuple(float(v) for v in line.split()) for line in end["shots"].split("\n"))
        for (right, up), (x, y) in zip(shots, sorted((1000 * x, 1000 * y) for x, y in holes), strict=True):
            self.assertAlmostEqual(right, x, delta=2.5)
            self.assertAlmostEqual(up, y, delta=2.5)
        self.assertIn("off photo", end["note"])
        kept = self.client.post(f"/rigs/{self.rig_id}/sight_in/end", data=end)
        self.assertEqual(kept.status_code, 303)
        self.assertEqual(len(self.rig(self.rig_id).every_end[-1].shots), 5)

    def test_what_is_wrong_is_said(self) -> None:
        page = self.bring("target")
        form = fields(self.client.get(page).text) | {"scale": "disc", "length_1": "40", "act": "take"}
        rim = "800 300; 1100 600; 800 900; 500 600"
        for changed, words in (
            ({"scale_taps": rim, "tap_holes": "; ".join(f"{n}0 600" for n in range(61))}, "60 at most"),
            ({"scale_taps": rim}, "tap every hole"), ({"scale_taps": "1 1", "tap_holes": "700 600"}, "all four"),
            ({"scale_taps": rim, "length_1": ""}, "type what is known"),
            ({"scale_taps": rim, "shaft_across": ""}, "how thick"),
            ({"scale_taps": "800 300; 830 600; 800 900; 770 600", "tap_holes": "800 600"}, "60 degrees"),
        ):  # fmt: skip
            answer = self.client.post(page, data=form | changed)
            self.assertEqual(answer.status_code, 422, changed)
            self.assertIn(words, answer.text)
        none = self.client.post(f"/rigs/{self.rig_id}/sight_in/photo", data={})
        self.assertEqual(none.status_code, 422)
        self.assertEqual(self.client.post(page, data=form | {"act": "find", "scale_taps": rim}).status_code, 200)
