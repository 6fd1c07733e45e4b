"""Every page of every rig opens: fresh from the bench, with a card only, and all of the demo."""

from __future__ import annotations

import re
import unittest

from cross_staff.core.sight_templates import TEMPLATES
from cross_staff.demo.scenario import fill
from cross_staff.services import bench, sights
from cross_staff.services.rig import RigView, open_rig
from cross_staff.services.tape import printed_of
from cross_staff.web.app import PAGES
from tests.rigs import NOON
from tests.web.client import WithClient

GETS = sorted({route.path for page in PAGES for route in page.router.routes if "GET" in route.methods})
# a file is made of a fit, or of a sight's pins: without them it says in words what is missing
NEEDS_A_FIT = ("/tape.pdf", "/tape.svg", "/tape.csv", "/tape.json", "/range-sheet.pdf", "/pins.svg", "/pins.pdf")


class EveryPage(WithClient):
    def addresses(self, found: RigView) -> list[str]:
        """Every address of the application that this rig has something for."""
        tapes = printed_of(self.database, found.rig_id)
        known = {
            "rig_id": [str(found.rig_id)],
            "index": [str(i) for i in range(len(found.card.builds))],
            "photo_id": [str(photo) for photo in sorted(found.photos)][:1],
            "number": [str(tape.number) for tape in tapes][:1],
            "ending": ["pdf", "svg"],
            "model": [str(self.model)],
        }
        addresses = [""]
        for path in GETS:
            made = [path]
            for name in re.findall(r"{(\w+)}", path):
                made = [address.replace(f"{{{name}}}", value) for address in made for value in known[name]]
            addresses += made
        host = "http://127.0.0.1"
        asked = {"/phone.svg": None, f"/rigs/{found.rig_id}/card/compare": "?one=1&other=1", "/sights/new": ""}
        return [f"{a}{asked.get(a) or ''}" for a in addresses if a and asked.get(a, "") is not None and host]

    def opens(self, found: RigView) -> None:
        fitted = found.reckoning.fit is not None
        for address in self.addresses(found):
            with self.subTest(rig=found.card.name, address=address):
                answer = self.client.get(address)
                if not fitted and answer.status_code == 422 and address.split("?")[0].endswith(NEEDS_A_FIT):
                    self.assertIn("<h1", answer.text)
                    continue
                self.assertLess(answer.status_code, 400, answer.text[:300])
                if answer.status_code == 200 and answer.headers["content-type"].startswith("text/html"):
                    self.assertRegex(answer.text, r"<h1[ >]", "no heading")
                    self.assertRegex(answer.text, r'<h[12][^>]*class="now"', "no next action")

    def setUp(self) -> None:
        super().setUp()
        self.model = sights.add(self.database, TEMPLATES["multi_pin_slider"], NOON)

    def test_a_rig_fresh_from_the_bench(self) -> None:
        self.client.post("/rigs", data={"name": "Grey bow"})
        self.opens(open_rig(self.database, 1))

    def test_a_rig_with_a_card_only(self) -> None:
        self.opens(open_rig(self.database, self.add_rig()))

    def test_the_card_of_every_kind_of_sight(self) -> None:
        from dataclasses import replace

        from tests.rigs import full_card

        for kind, sight in TEMPLATES.items():
            with self.subTest(kind):
                self.opens(open_rig(self.database, self.add_rig(replace(full_card(), sight=sight))))


class EveryDemoPage(EveryPage):
    def setUp(self) -> None:
        super().setUp()
        fill(self.database)

    test_a_rig_fresh_from_the_bench = test_a_rig_with_a_card_only = test_the_card_of_every_kind_of_sight = None  # type: ignore[assignment]

    def test_every_rig_of_the_demo(self) -> None:
        rigs = bench.every(self.database)
        self.assertGreater(len(rigs), 5)
        for found in rigs:
            self.opens(found)


if __name__ == "__main__":
    unittest.main()
