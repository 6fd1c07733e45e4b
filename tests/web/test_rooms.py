"""A new station is a package and one entry: staff, bench, keys, pages and log take it from there."""

from __future__ import annotations

import sys
import tempfile
import types
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response
from starlette.testclient import TestClient

from cross_staff.core import stations
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.stations import DUE, NextStep, RigState, Station, StationName
from cross_staff.services import log as entries
from cross_staff.services.rig import open_rig
from cross_staff.settings import Settings
from cross_staff.web.app import create_app
from cross_staff.web.shared.room import StationRoom, room_of
from cross_staff.web.shared.words import Now
from tests.web.client import HOST

router = APIRouter()


@router.get("/rigs/{rig_id}/wax")
def wax_page(rig_id: int) -> Response:
    return Response(f"<h1>Wax rig {rig_id}</h1>", media_type="text/html")


@router.post("/rigs/{rig_id}/wax")
def wax(request: Request, rig_id: int) -> Response:
    entry = BenchEntry("wax", "string", 0, datetime.now(UTC), choice="done")
    entries.enter(request.app.state.database, rig_id, entry)
    return RedirectResponse(f"/rigs/{rig_id}/wax", 303)


def wax_words(step: NextStep, _units: object) -> Now:
    return Now("Wax the string.", "A dry string wears.", "Let down first.", step.station, "Get the wax")


ROOM = StationRoom("wax", (router,), wax_words, {"dry": "{} strands dry"})


def dry(_rig: RigState) -> tuple[str, str, int]:
    return DUE, "dry", 3


WAX = Station("wax", "Wax", dry, lambda _rig: NextStep("wax", "string"), check=lambda _card, _entry: None)


class ANewStation(unittest.TestCase):
    def setUp(self) -> None:
        package, module = types.ModuleType("cross_staff.web.wax"), types.ModuleType("cross_staff.web.wax.room")
        module.ROOM = ROOM  # type: ignore[attr-defined]
        modules = {"cross_staff.web.wax": package, "cross_staff.web.wax.room": module}
        for patch in (
            mock.patch.dict(sys.modules, modules),
            mock.patch.object(stations, "STATIONS", (WAX, *stations.STATIONS)),
        ):
            patch.start()
            self.addCleanup(patch.stop)
        self.addCleanup(room_of.cache_clear)
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        self.client = TestClient(create_app(Settings(data=Path(folder.name))), base_url=HOST, follow_redirects=False)
        self.client.__enter__()
        self.addCleanup(self.client.__exit__, None, None, None)
        self.client.post("/rigs", data={"name": "Grey bow"})

    def test_the_bench_says_what_is_to_be_done_there(self) -> None:
        bench = self.client.get("/").text
        self.assertIn("Wax the string.", bench)
        self.assertIn("Get the wax", bench)
        self.assertIn("3 strands dry", bench)

    def test_it_stands_on_the_staff_with_its_key(self) -> None:
        card = self.client.get("/rigs/1/card").text
        self.assertRegex(card, r'href="/rigs/1/wax"[^>]* data-key="1"')
        self.assertRegex(card, r'href="/rigs/1/tape"[^>]* data-key="7"')

    def test_its_page_opens_and_its_log_is_kept(self) -> None:
        self.assertEqual(self.client.get("/rigs/1/wax").text, "<h1>Wax rig 1</h1>")
        self.client.post("/rigs/1/wax")
        rig = open_rig(self.client.app.state.database, 1)  # type: ignore[attr-defined]
        self.assertEqual([entry.choice for entry in rig.log_of("wax")], ["done"])
        self.assertEqual(rig.standings[0].station, StationName("wax", "Wax"))


class Registry(unittest.TestCase):
    def test_every_station_has_its_room(self) -> None:
        for station in stations.STATIONS:
            room = room_of(station.key)
            self.assertEqual(room.key, station.key)
            self.assertTrue(room.routers and room.standing)

    def test_every_result_is_made_at_a_station(self) -> None:
        made = [result for station in stations.STATIONS for result in station.results]
        self.assertEqual(sorted(made), sorted(stations.RESULTS))


if __name__ == "__main__":
    unittest.main()
