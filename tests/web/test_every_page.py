"""Every page of every rig opens: fresh from the bench, with a card only, and all of the demo."""

from __future__ import annotations

import re
import unittest
from dataclasses import replace
from html.parser import HTMLParser
from unittest import mock
from urllib.parse import urlsplit

from starlette.requests import Request

from cross_staff.core.carry.records import LOGS
from cross_staff.core.explain.explainers import EXPLAINERS
from cross_staff.core.rig.card import Mount
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.demo.shop import fill
from cross_staff.services import bench
from cross_staff.services.card import sight_library as sights
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop import people
from cross_staff.services.tape.record import printed_of
from cross_staff.web.app import page_routers
from cross_staff.web.forms.known import known_by, refuse_unknown
from tests.rigs import NOON, TEMPLATES, full_card
from tests.shop import IMPERIAL, METRIC, Shop, rig_card
from tests.web.client import WithClient

GETS = sorted({route.path for pages, _ in page_routers() for route in pages.routes if "GET" in route.methods})

ROUTES = [([route for route in pages.routes if "POST" in route.methods], fields) for pages, fields in page_routers()]


class Forms(HTMLParser):
    """The fields of a page's forms that are posted, but for files, each with the address it goes to."""

    def __init__(self) -> None:
        super().__init__()
        self.action: str | None = None
        self.actions: dict[str, str] = {}
        self.posted: list[tuple[str, str]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = {name: value or "" for name, value in attrs}
        if tag == "form":
            self.action = given.get("action", "") if given.get("method") == "post" else None
            if "id" in given and self.action is not None:
                self.actions[given["id"]] = self.action
        elif "name" in given and given.get("type") != "file":
            action = self.actions.get(given["form"]) if "form" in given else self.action
            if action is not None:
                self.posted.append((given.get("formaction", action), given["name"]))

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self.action = None


class Pages(WithClient):
    def addresses(self, rig: Rig) -> list[str]:
        """Every address of the application that this rig has something for."""
        tapes = printed_of(self.database, rig.rig_id)
        known = {
            "rig_id": [str(rig.rig_id)],
            "index": [str(i) for i in range(len(rig.card.builds))],
            "photo_id": [str(photo) for photo in sorted(rig.photos)][:1],
            "number": [str(tape.number) for tape in tapes][:1],
            "ending": ["pdf", "svg"],
            "model": [str(self.model)],
            "written_as": ["json", "zip"],
            "name": list(LOGS),
            "token": [],  # of a file that was sent: tests/web/carry
            "person": [str(each.person) for each in people.every(self.database)][:1],
            "key": list(EXPLAINERS),  # of an explanation; the exercises' files: tests/web/practice
            "device": [],  # the demo has none: tests/web/devices
        }
        addresses = [""]
        for path in GETS:
            made = [path]
            for name in re.findall(r"{(\w+)}", path):
                values = known[name][:1] and ["1"] if path.startswith("/instruments") else known[name]
                values = ["two-days"] if path.startswith("/practice") else values
                made = [address.replace(f"{{{name}}}", value) for address in made for value in values]
            addresses += made
        # the phone's code is only of a served network; the stream has no end; what is soon is a part of the bench
        of_practice = (f"/rigs/{rig.rig_id}/practice", f"/rigs/{rig.rig_id}/practice.json")
        not_pages = ("", "/phone.svg", "/devices/live/stream", "/plan/soon")
        not_pages += () if rig.log_of("practice") else of_practice  # type: ignore[assignment]
        return [address for address in addresses if address not in not_pages]

    def opens(self, rig: Rig) -> None:
        for address in self.addresses(rig):
            with self.subTest(rig=rig.card.name, address=address):
                answer = self.client.get(address)
                self.assertLess(answer.status_code, 400, answer.text[:300])
                if answer.status_code == 200 and answer.headers["content-type"].startswith("text/html"):
                    self.assertRegex(answer.text, r"<h1[ >]", "no heading")
                    self.assertNotRegex(
                        re.sub(r"<(script|pre|textarea).*?</\1>", "", answer.text, flags=re.S), r"\{[a-z_]+\}"
                    )
                    self.every_field_is_known(address, answer.text)

    def every_field_is_known(self, address: str, html: str) -> None:
        """What a page's forms would send is what the routes behind them take."""
        forms = Forms()
        forms.feed(html)
        for action, name in forms.posted:
            path = urlsplit(action or address).path
            fields = next(fields for routes, fields in ROUTES if any(route.path_regex.match(path) for route in routes))
            request = Request({"type": "http"})
            known_by(fields)(request)
            with self.subTest(action=path):
                refuse_unknown(request, [name])

    def setUp(self) -> None:
        super().setUp()
        self.model = sights.add(self.database, TEMPLATES["multi_pin_slider"], NOON)


class EveryPage(Pages):
    def test_a_rig_fresh_from_the_bench(self) -> None:
        self.client.post("/rigs", data={"name": "Grey bow"})
        self.opens(open_rig(self.database, 1))

    def test_a_rig_with_a_card_only(self) -> None:
        self.opens(open_rig(self.database, self.add_rig()))


class EveryOwnRig(Pages):
    """Rigs of an empty shop, as people come with them."""

    def test_each_kind_of_sight_in_either_hand_and_unit(self) -> None:
        shop = Shop(self.database)
        for number, kind in enumerate(TEMPLATES):
            left, yards = number % 2 == 1, number % 3 == 1
            shop.units = dict(IMPERIAL if yards else METRIC)
            full = rig_card(kind, "left" if left else "right", peep=number % 4 != 3, yards=yards)
            rig_id = shop.rig(full)
            shop.marks(rig_id, *full.goals.distances_m[1:4])
            self.opens(open_rig(self.database, rig_id))

    def test_a_place_that_the_sight_no_longer_names(self) -> None:
        shop = Shop(self.database)
        rig_id = shop.rig(rig_card("multi_pin_slider", mount=Mount(1, 3, "top", pin_at_top_mm=85.0, vanes_mm=11.0)))
        form = self.form(f"/rigs/{rig_id}/card/sight") | {"extension": "0 12", "holes": ""}
        self.client.post(f"/rigs/{rig_id}/card/sight", data=form)
        rig = open_rig(self.database, rig_id)
        self.assertEqual((rig.card.sight.extension_mm, rig.card.sight.holes_mm), ((0.0, 12.0), ()))
        self.assertEqual((rig.card.mount.hole, rig.card.mount.detent), (1, 3))  # what was written down is not lost
        self.opens(rig)


PEG = replace(
    KINDS["multi_pin_slider"], key="peg", name="peg sight", template=replace(TEMPLATES["multi_pin_slider"], kind="peg")
)


class ANewKindOfSight(Pages):
    """One entry, and every station knows it."""

    def setUp(self) -> None:
        super().setUp()
        patch = mock.patch.dict(KINDS, {"peg": PEG})
        patch.start()
        self.addCleanup(patch.stop)

    def test_every_page_opens_with_it(self) -> None:
        self.opens(open_rig(self.database, self.add_rig(replace(full_card(), sight=PEG.template))))

    def test_it_is_copied_from_the_library_chosen_on_the_card_and_sighted_in_by_its_procedure(self) -> None:
        self.assertIn("peg sight", self.client.get("/sights").text)
        rig_id = self.add_rig()
        form = self.form(f"/rigs/{rig_id}/card/sight?copy=peg")
        self.assertEqual(form["kind"], "peg")
        self.client.post(f"/rigs/{rig_id}/card/sight", data=form)
        rig = open_rig(self.database, rig_id)
        self.assertEqual(rig.card.sight.kind, "peg")
        asked = {step.step.key.rstrip("_0123456789") for step in rig.range.steps}
        self.assertLessEqual(asked, {step.key for step in PEG.procedure})
        self.assertIn("peg sight", self.client.get("/").text)
        self.assertIn('<option value="peg" selected>', self.client.get(f"/rigs/{rig_id}/card").text)


class EveryDemoPage(Pages):
    fill_with = staticmethod(fill)

    def test_every_rig_of_the_demo(self) -> None:
        rigs = bench.every(self.database)
        self.assertGreater(len(rigs), 5)
        for rig_id in rigs:
            self.opens(open_rig(self.database, rig_id))


if __name__ == "__main__":
    unittest.main()
