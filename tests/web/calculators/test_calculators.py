"""Quick calculators, without a rig."""

import html
import math

from cross_staff.services import calculators
from tests.rigs import RIG_A
from tests.web.client import WithClient, fields


class Calculators(WithClient):
    def page(self, status: int = 200, **query: str) -> str:
        answer = self.client.get("/calculators", params=query)
        self.assertEqual(answer.status_code, status)
        return html.unescape(answer.text)

    def test_a_usual_bow_stands_there_and_is_answered(self) -> None:
        page = self.page()
        for said in (
            "A bow held out of plumb",
            "A third axis that is off",
            "Dial ",
            "The far pin stands",
            "front of centre",
            "9 arrows",
        ):
            self.assertIn(said, page)

    def test_any_unit_and_the_same_answer_in_the_other_units(self) -> None:
        metric = self.page(units="metric", typed_in="metric", near="20 yd", far="40 yd", speed="280 fps")
        yards = self.page(units="yards", typed_in="yards", near="20", far="40", speed="280", across="6.2 mm",
                          mass="27 g", eye="80 cm", peep="10 cm")  # fmt: skip
        apart = calculators.pins_apart(calculators.figures_of(280 * 0.3048, 0.027, 0.0062, 0.8, 0.1), 18.288, 36.576)
        self.assertIn(f"The far pin stands {1000 * apart:.1f}\u00a0mm below", metric)
        self.assertIn(f"The far pin stands {apart / 0.0254:.2f}\u00a0in below", yards)
        turned = fields(
            self.client.get("/calculators", params={"units": "yards", "typed_in": "metric", "near": "18.288"}).text
        )
        self.assertEqual(turned["near"], "20")

    def test_a_wrong_field_is_said_and_keeps_what_was_typed_and_the_others_are_answered(self) -> None:
        page = self.page(422, near="close", length="3 m")
        self.assertIn("“close” is not a number", page)
        self.assertIn('value="close"', page)
        self.assertIn("is too much", page)
        self.assertEqual(page.count("Not told: a field needs another look."), 2)
        self.assertIn("Dial ", page)
        self.assertIn("type a number", self.page(422, speed=""))
        self.assertIn("No answer:", self.page(speed="150 fps", far="150", mass="5 g", across="15 mm"))

    def test_what_they_compute(self) -> None:
        self.assertEqual(calculators.arrows(0.1, 0.02), math.ceil((1.96 * 0.1 / 3.3 / 0.02) ** 2))
        self.assertEqual(calculators.arrows(0.01, 1.0), 1)
        off = calculators.degree(RIG_A, 50.0, math.radians(1.0), math.radians(20.0))
        self.assertGreater(abs(off.canted_m), 0.02)
        self.assertIsNone(calculators.pins_apart(RIG_A, 20.0, 5000.0))
        self.assertAlmostEqual(calculators.balance(0.72, 0.017, 0.009, 0.002).mass_kg, 0.72 * 0.017 + 0.011)


class Search(WithClient):
    def test_rigs_archers_sights_and_notes(self) -> None:
        rig_id = self.add_rig()
        self.client.post(f"/rigs/{rig_id}/prepare/cam_timing", data={"choice": "by_eye", "note": "100 % sure_ly fine"})
        name = self.shop.open(rig_id).card.name
        for asked, where in ((name.lower(), "card"), ("100 % fine", "prepare"), ("sure_ly", "prepare")):
            page = self.client.get("/search", params={"q": asked}).text
            self.assertIn(f'href="/rigs/{rig_id}/{where}"', page, asked)
        for nothing in ("sureXly", "zebra", "'; drop table rigs"):
            self.assertIn("Nothing here has", self.client.get("/search", params={"q": nothing}).text)
        self.assertNotIn("Nothing here", self.client.get("/search?q=").text)

    def test_what_was_on_the_card_before_is_not_found(self) -> None:
        rig_id = self.add_rig()
        form = fields(self.client.get(f"/rigs/{rig_id}/card").text)
        old = form["archer"]
        self.client.post(f"/rigs/{rig_id}/card", data=form | {"archer": "Somebody Else"})
        self.assertIn("Nothing here has", self.client.get("/search", params={"q": old}).text)
