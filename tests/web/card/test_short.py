"""The short sheet: what matters, what an estimate costs, what is usual here, a second sight."""

import re

from cross_staff.core.card.estimates import ESTIMATES
from tests.web.client import WithClient, fields

MEASURED = {
    "sight_kind": "single_pin_slider", "arrow_mass": "400 gr", "shaft_diameter": "6", "readings": "280 fps 281 fps",
    "eye_to_sight": "812", "peep_square": "105", "home": "18", "farthest": "60", "target_size": "25",
}  # fmt: skip


class Short(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.shop.new("Hedge bow")
        self.path = f"/rigs/{self.rig_id}/card"

    def estimate(self, form: dict[str, str], name: str) -> dict[str, str]:
        """The form after a field was estimated."""
        page = self.client.post(f"{self.path}/estimate", data=form | {"estimate": name})
        self.assertEqual(page.status_code, 200)
        return fields(page.text)

    def saved(self, form: dict[str, str]):
        self.assertEqual(self.client.post(self.path, data=form).status_code, 303)
        return self.shop.open(self.rig_id).card

    def test_what_matters_is_marked_and_each_estimate_says_what_it_costs(self) -> None:
        page = self.client.get(self.path).text
        self.assertEqual(page.count('class="need lacks'), 9)
        costs = [float(cost) for cost in re.findall(r"up to ([\d.]+).cm at 60.m", page)]
        self.assertEqual(len(costs), 5)
        self.assertGreater(costs[2], 60.0)  # no speed: the most
        self.assertIn("which kind?", page)

    def test_the_kind_of_sight_is_asked_for_and_never_taken_for_granted(self) -> None:
        form = fields(self.client.get(self.path).text) | MEASURED
        page = self.client.post(self.path, data=form | {"sight_kind": ""})
        self.assertEqual(page.status_code, 422)
        self.assertIn("say which kind it is", page.text)
        self.assertEqual(self.saved(form | {"sight_kind": "fixed_pins"}).sight.kind, "fixed_pins")
        self.assertNotIn("which kind?", self.client.get(self.path).text)

    def test_all_of_it_estimated_is_marked_until_it_is_measured(self) -> None:
        form = fields(self.client.get(self.path).text) | {"sight_kind": "single_pin_slider", "home": "18"}
        form |= {"farthest": "60", "target_size": "25"}
        for name in ("arrow_mass", "shaft_diameter", "readings", "eye_to_sight", "peep_square"):
            form = self.estimate(form, name)
        card = self.saved(form)
        self.assertEqual((card.missing(), card.estimated), ((), ESTIMATES))
        self.assertTrue(card.build.speed_unmeasured)
        page = self.client.get(self.path).text
        self.assertEqual(page.count("Estimated, not measured: up to"), 4)
        self.assertIn("Not measured: up to", page)
        paper = self.client.get(f"{self.path}/sheet").text
        self.assertEqual(paper.count(", estimated</dd>"), 4)
        same = fields(page)
        self.assertEqual(self.saved(same | {"why": "looked over"}).estimated, ESTIMATES)
        card = self.saved(same | {"eye_to_sight": "731", "arrow_mass": "33.2", "unit_length": "in"})
        self.assertEqual(card.estimated, ("shaft_diameter", "peep"))
        self.assertAlmostEqual(card.eye_to_sight_m, 0.731)

    def test_an_estimate_stays_one_in_other_units(self) -> None:
        form = self.estimate(fields(self.client.get(self.path).text) | MEASURED | {"eye_to_sight": ""}, "eye_to_sight")
        inches = fields(self.client.post(f"{self.path}/units", data=form | {"unit_length": "in"}).text)
        self.assertEqual(inches["eye_to_sight"], "31.496")
        self.assertEqual(self.saved(inches).estimated, ("eye_to_sight",))

    def test_what_is_known_of_the_bow_is_used(self) -> None:
        bare = fields(self.client.get(self.path).text)
        light = self.estimate(bare | {"draw_weight": "40 lb"}, "arrow_mass")["arrow_mass"]
        heavy = self.estimate(bare | {"draw_weight": "70#"}, "arrow_mass")["arrow_mass"]
        self.assertEqual((light, heavy), ("18.15", "31.76"))

    def test_what_the_shop_chose_last_stands_there_and_says_from_where(self) -> None:
        self.saved(fields(self.client.get(self.path).text) | MEASURED | {"chrono_distance": "2.2", "home": "20"})
        other = self.shop.new("Gate bow")
        page = self.client.get(f"/rigs/{other}/card").text
        shown = fields(page)
        self.assertEqual((shown["home"], shown["target_size"], shown["chrono_distance"]), ("20", "25", "2.2"))
        self.assertEqual((shown["farthest"], shown["eye_to_sight"], shown["sight_kind"]), ("", "", ""))
        self.assertIn("as on Hedge bow: look whether it holds here", page)
        self.assertIsNone(self.shop.open(other).card.goals.home_m)  # until it is saved

    def test_nonsense_is_refused_and_keeps_what_was_typed(self) -> None:
        form = fields(self.client.get(self.path).text) | MEASURED
        self.assertEqual(self.estimate(form, "home"), self.estimate(form, "nothing"))
        page = self.client.post(
            f"{self.path}/estimate", data=form | {"eye_to_sight": "much", "estimate": "peep_square"}
        )
        self.assertIn("“much” is not a number: type figures, like 146, 146 mm, 5 7/8 in or 14.6 cm", page.text)

    def test_parts_place_themselves_and_a_balance_point_stands_for_all_of_them(self) -> None:
        form = fields(self.client.get(self.path).text) | MEASURED | {"arrow_mass": "", "shaft_length": "720"}
        form |= {"shaft_density": "17", "part_name_0": "Nock", "part_mass_0": "0.6", "part_name_1": "Point"}
        form |= {"part_mass_1": "7.8", "part_name_2": "tube", "part_mass_2": "1", "part_centre_2": ""}
        refused = self.client.post(self.path, data=form)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("placed from the shaft: 724", refused.text)
        self.assertIn("where its centre sits is missing", refused.text)
        card = self.saved(form | {"part_centre_2": "300"})
        self.assertAlmostEqual(card.build.components[1].centre_from_throat_m, 0.724)
        beyond = self.client.post(self.path, data=fields(self.client.get(self.path).text) | {"balance_point": "800"})
        self.assertIn("lies beyond the end of the shaft", beyond.text)
        card = self.saved(fields(self.client.get(self.path).text) | {"balance_point": "41 cm"})
        self.assertAlmostEqual(card.build.balance().foc_percent, 100.0 * 0.05 / 0.72)

    def test_without_a_peep_and_with_a_sight_for_the_other_hand(self) -> None:
        form = fields(self.client.get(self.path).text) | MEASURED | {"peep_way": "eye", "handed": "left"}
        self.saved(form)
        self.assertEqual(self.shop.open(self.rig_id).checklist.line("peep_rotation").verdict, "pass")
        self.assertIn("no peep", self.client.get(f"/rigs/{self.rig_id}/prepare").text)
        sight = fields(self.client.get(f"/rigs/{self.rig_id}/card/sight").text) | {"hand": "right", "sight_name": "peg"}
        self.assertEqual(self.client.post(f"/rigs/{self.rig_id}/card/sight", data=sight).status_code, 303)
        self.assertIn("made for right-handed bows", self.client.get(f"/rigs/{self.rig_id}/mount").text)

    def test_card_and_bench_sheet_on_paper_say_what_is_known_and_what_is_open(self) -> None:
        self.saved(fields(self.client.get(self.path).text) | MEASURED)
        self.client.post(f"/rigs/{self.rig_id}/prepare/cam_timing", data={"choice": "by_eye", "note": "with a rule"})
        page = self.client.get(f"{self.path}/sheet").text
        for said in (
            "Eye to sight</dt><dd>812 mm",
            "Not known: ",
            "by eye it looks right",
            "with a rule",
            "revision 2",
        ):
            self.assertIn(said, page)
        self.assertRegex(page, r"Times are (in UTC|those of the clock here)")


class OnTheBench(WithClient):
    def test_units_are_chosen_once_and_remembered(self) -> None:
        first = self.client.post("/rigs", data={"name": "Hedge bow", "units": "yards"})
        form = fields(self.client.get(first.headers["location"]).text)
        self.assertEqual((form["unit_distance"], form["unit_length"], form["unit_speed"]), ("yd", "in", "fps"))
        self.client.post(first.headers["location"], data=form | {"sight_kind": "fixed_pins"})
        self.assertIn("as on Hedge bow", self.client.get("/").text)
        second = self.client.post("/rigs", data={"name": "Gate bow"})
        self.assertEqual(fields(self.client.get(second.headers["location"]).text)["unit_distance"], "yd")

    def test_same_bow_second_sight(self) -> None:
        rig_id = self.add_rig()
        before = self.shop.open(rig_id).card
        new = self.client.post(f"/rigs/{rig_id}/copy", data={"keep": "bow"}).headers["location"]
        page = self.client.get(new).text
        card = self.shop.open(int(new.split("/")[2])).card
        self.assertEqual(
            (card.bow, card.builds, card.peep, card.archer), (before.bow, before.builds, before.peep, before.archer)
        )
        self.assertIsNone(card.eye_to_sight_m)
        self.assertIn("which kind?", page)
        self.assertEqual(card.name, f"{before.name}, second sight")
