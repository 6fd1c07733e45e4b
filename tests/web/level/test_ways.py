"""Other ways of a bench through the pages: a jig, a cant on purpose, the look before, the sight's own vial."""

import math
import re
import unittest
from dataclasses import replace

from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services.rig import open_rig
from tests.core.level.test_station import DEG, VIAL, levelled_card
from tests.rigs import full_card
from tests.web.client import fields
from tests.web.level.test_level import WithLevel
from tests.web.level.test_orders import WithScrews


class Bench(WithLevel):
    """A rig whose bow is not ready, and of which nothing is known."""

    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(levelled_card(reference=Vial(), string=Vial(), rail=Vial(), sight=Vial()))
        self.path = f"/rigs/{self.rig_id}/level"

    def post(self, path: str, expect: int = 303, **typed: str) -> str:
        answer = self.client.post(f"{self.path}/{path}", data=typed)
        self.assertEqual(answer.status_code, expect, answer.text[:200])
        return re.sub(r"\s+", " ", answer.text)

    def page(self, query: str = "") -> str:
        return re.sub(r"\s+", " ", self.client.get(self.path + query).text)


class Jig(Bench):
    def test_a_sight_off_the_bow_waits_for_no_bow(self) -> None:
        self.assertEqual(self.now(), "Get the bow ready first.")
        self.assertIn("the sight is off the bow, in a bench jig", self.page())
        self.post("where/jig")
        self.assertEqual(self.now(), "Read the first axis.")
        self.assertIn("bench jig, sight off the bow, level square on the rail", self.page())
        self.assertIn("Level square on the rail near its top.", self.page())
        self.read("first", "0.2", method="jig_rail", place="top")
        self.assertEqual(self.now(), "Prove the level for the rail.")
        self.assertTrue(self.state.in_jig)
        self.post("where/bow")
        self.assertEqual(self.now(), "Get the bow ready first.")
        self.assertEqual(self.client.post(f"{self.path}/where/moon").status_code, 422)

    def test_it_is_put_back_and_off_again_as_often_as_wanted(self) -> None:
        for where in ("jig", "bow", "jig", "bow"):
            self.post(f"where/{where}")
            self.assertEqual(self.state.in_jig, where == "jig")

    def test_the_gate_opens_from_here_with_a_reason_that_stands_there_already(self) -> None:
        reason = fields(self.client.get(self.path).text)["reason"]
        self.assertEqual(reason, "levelled before the bow was tuned")
        refused = self.post("anyway", 422, reason="so")
        self.assertIn("write why, in a few words", refused)
        self.assertEqual(fields(refused)["reason"], "so")
        self.post("anyway", reason=reason)
        self.assertEqual(self.now(), "Prove the reference level.")
        self.assertEqual(open_rig(self.database, self.rig_id).checklist.override.note, reason)

    def test_there_a_shim_tells_the_tilt(self) -> None:
        self.post("where/jig")
        self.read("first", "0", method="jig_rail", place="top")
        self.post("reverse/rail", first_way="0", turned_way="0")
        self.read("first", "0", method="jig_rail", place="bottom")
        self.assertEqual(self.now(), "Calibrate these vials: cant the jig on purpose.")
        page = self.page()
        self.assertIn("Shim one end of the jig", page)
        self.assertIn("Shim under one end", page)
        self.assertNotIn("String off the line", page)
        self.post("calibrate/first/jig_rail", off="5", over="250", moved_vial="2", moved_beside="3")
        setup = open_rig(self.database, self.rig_id).card.level
        lines = [round(getattr(setup, kind).per_division_rad / DEG, 3) for kind in ("rail", "jig")]
        self.assertEqual(lines, [0.573, 0.382])

    def test_squared_in_it_the_bow_is_next(self) -> None:
        sure = Vial(0.5 * DEG, roll_error_div=0.0)
        self.levelling(levelled_card(jig=sure, rail=sure))
        for axis, method in (("first", "jig_rail"), ("second", "jig_vial")):
            for place in ("top", "bottom", "top", "bottom"):
                self.read(axis, "0", method=method, **({"place": place} if axis == "first" else {}))
        for pitch in ("-35", "35", "-35", "35"):
            self.read("third", "0", method="bench_jig", pitch=pitch)
        self.assertEqual(self.now(), "Squared in the jig.")
        self.assertIn("Put it on the bow, and read on", self.page())
        self.assertNotIn("good enough", self.page())


class Calibrating(Bench):
    def ready(self) -> None:
        """Everything proven, nothing calibrated, an axis that its lines cannot show."""
        self.levelling(levelled_card(**{k: Vial(roll_error_div=0.0) for k in ("reference", "string", "rail", "sight")}))
        for place in ("top", "bottom", "top", "bottom"):
            self.read("first", "0", place=place)

    def test_a_cant_over_a_plumb_line_tells_both_lines(self) -> None:
        self.ready()
        self.assertEqual(self.now(), "Calibrate these vials: cant the bow on purpose.")
        usual = fields(self.client.get(self.path).text)
        self.assertEqual((usual["off"], usual["over"], usual["moved_vial"]), ("10", "500", ""))
        typed = {"off": "10", "over": "500", "moved_vial": "2", "moved_beside": "2,4", "moved_string": "3"}
        for name, wrong, said in (
            ("moved_vial", "", "how many lines did its bubble move?"), ("moved_vial", "o.4", "not a number"),
            ("moved_vial", "0.3", "less than a line tells little"), ("off", "600", "between"),
            ("over", "", "needed"), ("moved_beside", "", "how many lines?"),
        ):  # fmt: skip
            with self.subTest(name=name, wrong=wrong):
                refused = self.post("calibrate/first/rail_vial", 422, **(typed | {name: wrong}))
                self.assertIn(said, refused)
                self.assertEqual(fields(refused)[name], wrong)
        self.post("calibrate/first/rail_vial", **typed)
        setup = open_rig(self.database, self.rig_id).card.level
        lines = {kind: getattr(setup, kind).per_division_rad / DEG for kind in ("rail", "reference", "string")}
        self.assertEqual(
            {k: round(v, 3) for k, v in lines.items()}, {"rail": 0.573, "reference": 0.477, "string": 0.382}
        )
        self.assertNotIn("Calibrate", self.now())

    def test_in_inches_too(self) -> None:
        self.ready()
        self.post(
            "calibrate/second/to_string", 422, moved_vial="2", off="3/8 in", over="20 in"
        )  # beside it is asked for
        self.post("calibrate/second/to_string", moved_vial="2", moved_beside="2", off="3/8 in", over="20 in")
        line = open_rig(self.database, self.rig_id).card.level.sight.per_division_rad
        self.assertAlmostEqual(line / DEG, 0.5372, places=3)


class Again(WithLevel):
    def test_the_same_look_at_the_rails_other_end(self) -> None:
        self.levelling(levelled_card())
        self.read("first", "0.2", place="top", who="Sela", note="by the window")
        page = re.sub(r"\s+", " ", self.client.get(self.path).text)
        self.assertIn("Same again: 0.2 right, near its bottom", page)
        look = self.state.readings[-1]
        for _ in range(2):  # sent twice counts once
            self.client.post(f"{self.path}/again/{look.reading_id}", data={"sent": "k"})
        one, other = self.state.readings
        self.assertEqual((other.vial_div, other.place, other.who, other.note), (0.2, "bottom", "Sela", ""))
        self.assertEqual(one.place, "top")

    def test_a_reference_that_sits_elsewhere_by_now_makes_another_look(self) -> None:
        self.levelling(levelled_card())
        self.read("second", "0.1")
        look = self.state.readings[-1].reading_id
        self.client.post(f"{self.path}/match", data={"side": "0", "beside": "0.4", "seat": "other"})
        self.assertEqual(self.client.post(f"{self.path}/again/{look}").status_code, 404)

    def test_what_was_turned_since_is_not_as_before(self) -> None:
        self.levelling(levelled_card())
        self.read("second", "4")
        look = self.state.readings[-1].reading_id
        self.client.post(f"{self.path}/turned", data={"axis": "second", "by_eye": "yes"})
        self.assertEqual(self.client.post(f"{self.path}/again/{look}").status_code, 404)
        self.assertNotIn("Same again", self.client.get(self.path).text)


class Rail(WithLevel):
    def test_a_bent_rail_is_told(self) -> None:
        self.levelling(levelled_card())
        for place, vial in (("top", "-1"), ("bottom", "1")) * 2:
            self.read("first", vial, place=place)
        page = re.sub(r"\s+", " ", self.client.get(self.path).text)
        self.assertRegex(page, r"The rail is bent or worn: near its top it leans 0\.\d° more to the right")
        self.assertIn("first axis · level square on the rail, near both ends, near its top", page)

    def test_a_quick_look_by_a_plumb_line(self) -> None:
        self.levelling(levelled_card())
        asks = re.sub(r"\s+", " ", self.client.get(f"{self.path}?axis=first&method=plumb_wander").text)
        self.assertIn("How far did the housing wander?", asks)
        self.assertNotIn('id="vial"', asks)
        for typed, said in (
            ({"wander": "", "travel": "45"}, "how far did it wander?"),
            ({"wander": "1", "travel": ""}, "how much travel"),
            ({"wander": "40", "travel": "45"}, "more than half of the travel"),
        ):  # fmt: skip
            self.assertIn(said, self.read("first", method="plumb_wander", expect=422, **typed))
        self.read("first", method="plumb_wander", wander="-0.2", travel="45")
        self.assertEqual(self.now(), "Lay the level on the rail.")
        page = re.sub(r"\s+", " ", self.client.get(self.path).text)
        self.assertIn("0.2 mm left over 45.0 mm", page)
        row = self.client.get(f"{self.path}.csv").text.splitlines()[-1]
        self.assertIn(",wander,first,plumb_wander,", row)
        self.assertIn(",0.045,-0.0002,", row)

    def test_fixed_pins_are_asked_for_no_rail(self) -> None:
        self.levelling(replace(levelled_card(), sight=KINDS["fixed_pins"].template))
        page = re.sub(r"\s+", " ", self.client.get(self.path).text)
        self.assertEqual(self.now(), "Read the second axis.")
        self.assertIn("not asked for", page)
        self.assertNotIn("square to the rail", page)

    def test_a_straightedge_only_confirms(self) -> None:
        self.levelling(levelled_card())
        self.assertIn("where does the bubble stand", self.client.post(f"{self.path}/straightedge", data={}).text)
        before = self.state.axes["first"].action
        self.client.post(f"{self.path}/straightedge", data={"straightedge": "1.2 left"})
        page = re.sub(r"\s+", " ", self.client.get(self.path).text)
        self.assertIn("Straightedge over the limb pockets: 1.2 left; it does not agree", page)
        self.assertEqual(self.state.axes["first"].action, before)


class OwnVial(WithLevel):
    def test_its_end_screws_are_ordered_until_it_sits_true(self) -> None:
        self.levelling(levelled_card())
        path = f"{self.path}/scope"
        self.assertIn("off the bow", self.client.get(path).text)
        self.assertIn("where does the bubble stand?", self.client.post(path, data={"first_way": "0"}).text)
        self.client.post(path, data={"first_way": "0.8", "turned_way": "-0.4"})
        self.assertIn(
            "Lower its right end by its end screws until the bubble comes 0.6 left.", self.client.get(path).text
        )
        self.assertAlmostEqual(open_rig(self.database, self.rig_id).card.level.sight.roll_error_div, 0.6, places=6)
        self.client.post(path, data={"first_way": "0", "turned_way": "0.2"})
        self.assertIn("It sits true: nothing to turn.", self.client.get(path).text)


class CantOnPurpose(WithScrews):
    typed = {
        "distance": "50", "bubble": "4 left", "right_plumb": "0", "up_plumb": "0", "right_canted": "10",
        "up_canted": "-1",
        "arrows_plumb": "12", "arrows_canted": "12",
    }  # fmt: skip

    def test_two_groups_tell_the_cant_and_the_vials_line(self) -> None:
        self.levelling(levelled_card())
        path = f"{self.path}/cant"
        self.assertIn("is told by", self.client.get(path).text)
        for name, wrong in (
            ("bubble", "0"),
            ("bubble", "moon"),
            ("arrows_plumb", "1"),
            ("distance", ""),
            ("up_canted", "x"),
        ):
            refused = self.client.post(path, data=self.typed | {name: wrong})
            self.assertEqual((refused.status_code, fields(refused.text)[name]), (422, wrong))
        self.assertEqual(self.client.post(f"{path}/line").status_code, 404)
        self.client.post(path, data=self.typed)
        page = re.sub(r"\s+", " ", self.client.get(path).text)
        self.assertIn("the group came in 10 cm farther right", page)
        self.assertIn("Computed for this vial:", page)
        told = float(re.search(r"A line of this vial is then ([0-9.]+)°", page).group(1))  # type: ignore[union-attr]
        self.client.post(f"{path}/line")
        kept = open_rig(self.database, self.rig_id).card.level.sight.per_division_rad
        self.assertAlmostEqual(math.degrees(kept), told, delta=0.006)
        self.client.post(f"{path}/undo")
        self.assertIn("Shoot one group plumb, one canted.", self.client.get(path).text)

    def test_too_little_is_said_to_be_chance_and_calibrates_nothing(self) -> None:
        self.levelling(levelled_card())
        path = f"{self.path}/cant"
        self.client.post(path, data=self.typed | {"right_canted": "1", "arrows_plumb": "3", "arrows_canted": "3"})
        self.assertIn("That is within chance", self.client.get(path).text)
        self.assertEqual(self.client.post(f"{path}/line").status_code, 422)


class Told(WithScrews):
    def test_a_tolerance_that_nobody_can_judge_yet_says_so(self) -> None:
        said = "the usual: what it costs is said once the card is complete"
        self.levelling(levelled_card())
        self.assertNotIn(said, self.page)
        self.levelling(replace(full_card(level=LevelSetup()), eye_to_sight_m=None))
        self.assertIn(said, self.page)

    def test_the_little_figure_shows_which_way_as_the_archer_sees_it(self) -> None:
        self.levelling(levelled_card())
        for _ in range(2):
            self.read("second", "3")
        page = re.sub(r"\s+", " ", self.client.get(f"{self.path}?axis=second").text)
        self.assertIn("turn the housing clockwise, as the archer sees it: from behind", page)
        self.assertIn('class="drawing sense"', page)

    def test_the_cost_page_and_the_station_say_the_same_to_the_millimetre(self) -> None:
        self.levelling(levelled_card())
        for axis, vial in (("first", "0.31"), ("second", "0.37")):
            for place in ("top", "bottom"):
                self.read(axis, vial, **({"place": place} if axis == "first" else {}))
        for pitch in ("-35", "35"):
            self.read("third", "0.73", pitch=pitch)
        row = re.compile(r"<tr><th scope=\"row\">(.*?)</th>(.*?)</tr>")
        station = dict(row.findall(self.page.split("What is left costs, sideways")[1].split("</table>")[0]))
        cost = re.sub(r"\s+", " ", self.client.get(f"{self.path}/cost").text)
        page = dict(row.findall(cost.split("<table")[1].split("</table>")[0]))
        self.assertGreater(len(station), 2)
        self.assertEqual({k: re.sub(r"<.*?>", " ", v).split() for k, v in page.items()},
                         {k: re.sub(r"<.*?>", " ", v).split() for k, v in station.items()})  # fmt: skip
        slid = fields(self.client.get(f"{self.path}/cost").text)
        again = re.sub(
            r"\s+", " ", self.client.get(f"{self.path}/cost?third={slid['third']}&first={slid['first']}").text
        )
        self.assertEqual(dict(row.findall(again.split("<table")[1].split("</table>")[0])), page)

    def test_sliders_show_what_they_stand_at(self) -> None:
        self.levelling(levelled_card())
        for path in ("cost", "picture"):
            self.assertIn('class="slid-value"', self.client.get(f"{self.path}/{path}").text)

    def test_where_to_stand_and_how_many_arrows_and_ends_to_take(self) -> None:
        self.levelling(levelled_card())
        page = re.sub(r"\s+", " ", self.client.get(f"{self.path}?axis=third&method=shooting").text)
        self.assertRegex(
            page, r"Stand where the target is at 95.m, 30° uphill, then as much downhill: \d+ arrows each way"
        )
        level = {"method": "shooting", "pitch": "0", "distance": "50", "right": "1", "arrows": "6"}
        self.read("third", **level)  # a group on the level is one of them

    def test_the_time_a_bubble_moved_is_kept_and_learned(self) -> None:
        self.levelling(levelled_card(sight=replace(VIAL, settle_s=None)))
        for seconds in ("6", "7", "8", "nonsense", "9000"):
            self.read("second", "0", settled=seconds)
        self.assertEqual([r.settled_s for r in self.state.readings], [6.0, 7.0, 8.0, None, None])
        page = self.client.get(f"{self.path}?axis=second").text
        self.assertIn("settles in 8 s, learned from 3 looks", page)


if __name__ == "__main__":
    unittest.main()
