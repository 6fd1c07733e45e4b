"""The explanations through their pages: with a rig and without, by sliders, by nonsense, over the whole screen."""

from __future__ import annotations

import unittest

from cross_staff.core.explain.explainers import EXPLAINERS
from cross_staff.web.shared.explain_links import FOR
from tests.web.client import WithClient

HTMX = {"hx-request": "true"}


class Pages(WithClient):
    def test_each_opens_with_a_rig_and_without(self) -> None:
        rig_id = self.shop.ready()
        for key, explainer in EXPLAINERS.items():
            for query in ("", f"?rig={rig_id}", "?full=1"):
                with self.subTest(key, query=query):
                    page = self.client.get(f"/explain/{key}{query}")
                    self.assertEqual(page.status_code, 200)
                    self.assertIn(f'<h1 class="now">{explainer.name}</h1>', page.text)
                    self.assertIn('class="drawing explain"', page.text)
                    self.assertNotIn("nan", page.text)
        self.assertIn("Two bubbles part", self.client.get("/explain").text)
        self.assertIn("with the numbers of", self.client.get(f"/explain/cant?rig={rig_id}").text)
        self.assertIn("with a usual bow", self.client.get("/explain/cant").text)

    def test_a_slider_moves_the_words_and_shows_its_value(self) -> None:
        page = self.client.get("/explain/cant?cant=4&distance=40").text
        self.assertIn('id="value-cant">4°</output>', page)
        more = self.client.get("/explain/cant?cant=8&distance=40", headers=HTMX).text
        self.assertIn('id="value-cant" hx-swap-oob="true">8°', more)
        self.assertNotIn("<html", more)
        self.assertIn("leans 8° throws", more)

    def test_nonsense_is_the_usual_and_what_is_not_there_is_not_found(self) -> None:
        self.assertIn('id="value-cant">3°', self.client.get("/explain/cant?cant=lots&distance=nan").text)
        self.assertIn('id="value-cant">10°', self.client.get("/explain/cant?cant=1e9").text)
        self.assertEqual(self.client.get("/explain/magic").status_code, 404)
        self.assertEqual(self.client.get("/explain/cant?rig=99").status_code, 404)

    def test_stations_lead_to_what_is_needed_there(self) -> None:
        rig_id = self.shop.ready()
        for here, keys in FOR.items():
            page = self.client.get(f"/rigs/{rig_id}/{here}").text
            for key in keys:
                with self.subTest(here, key=key):
                    self.assertIn(f"/explain/{key}?rig={rig_id}", page)

    def test_in_yards_and_inches(self) -> None:
        rig_id = self.shop.ready()
        page = self.client.get(f"/explain/cosine?rig={rig_id}").text
        self.assertIn("To be dialled:", page)


if __name__ == "__main__":
    unittest.main()
