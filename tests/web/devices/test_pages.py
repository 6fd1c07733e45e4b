"""The page of the instruments, what a field says it takes, and what stays with a value."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.instrument import Instrument
from cross_staff.devices.address import Address
from cross_staff.devices.hub import Device, Hub, Received, Standing
from cross_staff.devices.protocol import Reading
from cross_staff.devices.stand_ins import StandIn
from cross_staff.services import devices
from cross_staff.services.level import instruments
from tests.rigs import NOON
from tests.shop import rig_card
from tests.stand_ins import Listening
from tests.web.client import WithClient, fields

WAIT_S = 20.0


class Instruments(WithClient):
    def enter(self, **typed: str) -> Any:
        return self.client.post(
            "/devices", data={"name": "Gate", "kind": "chronograph", "address": "10.9.8.7:7001"} | typed
        )

    def until_heard(self, count: int = 1) -> Standing:
        hub: Hub = self.client.app.state.hub  # type: ignore[attr-defined]
        end = time.monotonic() + WAIT_S
        while time.monotonic() < end:
            standing = hub.standing(1)
            if standing and len(standing.readings) >= count:
                return standing
            time.sleep(0.02)
        raise AssertionError("nothing was heard")

    def scale(self) -> int:
        """A scale that is there, entered as instrument 1; its port."""
        listening = Listening([StandIn("scale", truth={"mass": 26.71})])
        self.addCleanup(listening.stop)
        address = f"127.0.0.1:{listening.ports[0]}"
        self.assertEqual(self.enter(name="Bench scale", kind="scale", address=address).status_code, 303)
        self.until_heard()
        return listening.ports[0]

    def test_one_is_entered_heard_changed_and_removed(self) -> None:
        port = self.scale()
        page = self.client.get("/devices").text
        self.assertIn("connected", page)
        self.assertRegex(page, r"mass 26\.\d+ g, \d+ s ago")
        self.assertIn("last heard", page)
        self.assertEqual(fields(self.client.get("/devices/1").text)["address"], f"127.0.0.1:{port}")
        self.client.post("/devices/1", data={"name": "Old scale", "address": f"127.0.0.1:{port}"})
        self.assertIn("<b>Old scale</b>", self.client.get("/devices").text)
        self.client.post("/devices/1/remove")
        self.assertIn("Enter the first instrument.", self.client.get("/devices").text)
        self.client.post("/devices/1/remove", data={"back": "yes"})
        self.assertIn("<b>Old scale</b>", self.client.get("/devices").text)

    def test_what_cannot_be_is_said_at_its_field_and_kept(self) -> None:
        self.enter()
        for typed, words in (
            ({"name": ""}, "what is it called"),
            ({"name": "GATE", "address": "10.9.8.7:1"}, "another instrument has this name"),
            ({"name": "Two"}, "Gate listens there"), ({"address": "8.8.8.8:80"}, "outside of the shop"),
            ({"address": "scale"}, "host and port"), ({"address": "http://10.0.0.1:80"}, "host and port"),
            ({"name": "W", "kind": "windmill", "address": "10.9.8.7:2"}, "one of chronograph"),
        ):  # fmt: skip
            with self.subTest(typed):
                answer = self.enter(**typed)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.text)
                for name, text in typed.items():
                    if name != "kind":
                        self.assertEqual(fields(answer.text)[name], text)
        self.assertEqual(self.client.get("/devices/99").status_code, 404)
        self.assertEqual(self.client.post("/devices/99/remove").status_code, 404)

    def test_without_any_nothing_of_it_is_on_a_page(self) -> None:
        rig_id = self.add_rig()
        for station in ("card", "prepare", "mount", "level", "sight_in", "tape", "prove"):
            page = self.client.get(f"/rigs/{rig_id}/{station}").text
            for part in ('id="takes"', "take.js", "taken-from", 'href="/devices'):
                self.assertNotIn(part, page, station)

    def takes(self, path: str) -> dict[str, dict[str, Any]]:
        page = self.client.get(path).text
        return json.loads(page.split('id="takes">')[1].split("</script>")[0]) if 'id="takes"' in page else {}

    def test_a_page_names_the_fields_that_an_instrument_of_the_shop_can_fill(self) -> None:
        rig_id = self.shop.ready()
        self.enter()
        self.assertEqual(set(self.takes(f"/rigs/{rig_id}/card")), {"readings"})
        for number, kind in enumerate(("inclinometer", "rangefinder", "scale", "caliper")):
            self.enter(name=kind, kind=kind, address=f"10.9.8.7:{8000 + number}")
        self.assertLessEqual(
            {"readings", "arrow_mass", "part_mass_#", "shaft_diameter"}, set(self.takes(f"/rigs/{rig_id}/card"))
        )
        self.assertEqual(self.takes(f"/rigs/{rig_id}/level?axis=second")["pitch"]["figure"], "pitch")
        slope = self.takes(f"/rigs/{rig_id}/level?axis=third&method=shooting")
        self.assertEqual((slope["pitch"]["figure"], slope["distance"]["figure"]), ("slope", "distance"))
        self.assertEqual(self.takes(f"/rigs/{rig_id}/sight_in")["distance"]["unit"], "m")
        self.assertEqual(set(self.takes(f"/rigs/{rig_id}/prove")), {"distance", "slope"})
        self.assertIn("span_#", self.takes(f"/rigs/{rig_id}/tape/booklet"))
        self.assertIn("row-#-mark", self.takes(f"/rigs/{rig_id}/tape?read=lines"))
        self.assertEqual(self.takes(f"/rigs/{rig_id}/prepare?line=rest_centred")["number"]["figure"], "length")
        self.assertIn("vanes", self.takes(f"/rigs/{rig_id}/mount"))
        self.assertEqual(self.takes("/sights"), {})

    def test_a_digital_level_stands_in_only_for_the_level_of_its_name(self) -> None:
        self.enter(name="Tilt box", kind="inclinometer")
        own = replace(rig_card().level, reference=Vial(per_division_rad=0.01))
        rig_id = self.shop.ready(replace(rig_card(), level=own))  # a glass of the rig's own, with an error of its own
        self.assertEqual(set(self.takes(f"/rigs/{rig_id}/level?axis=second")), {"pitch"})
        box = Instrument("Tilt box", "reference", Vial(per_division_rad=0.02, lines=3))
        number = instruments.add(self.database, box, NOON)
        chosen = instruments.chosen(self.database, own, "reference", number)
        rig_id = self.shop.ready(replace(rig_card(name="Fern bow"), level=chosen))
        level = self.takes(f"/rigs/{rig_id}/level?axis=second")["reference"]
        self.assertEqual((level["only"], level["per"], level["unit"], level["high"]), ("Tilt box", 0.02, "lines", 0.08))

    def test_what_is_removed_can_be_put_back(self) -> None:
        self.enter()
        gone = self.client.post("/devices/1/remove").headers["location"]
        page = self.client.get(gone).text
        self.assertIn("Gate is listened to no more", page)
        self.enter(name="GATE")
        refused = self.client.post("/devices/1/remove", data={"back": "yes"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("another instrument has this name", refused.text)
        self.client.post("/devices/2/remove")
        self.assertEqual(self.client.post("/devices/1/remove", data={"back": "yes"}).headers["location"], "/devices")
        self.assertIn("<b>Gate</b>", self.client.get("/devices").text)
        for odd in ("9", "x", "-1", "1" * 40):
            self.assertEqual(self.client.get(f"/devices?gone={odd}").status_code, 200)

    def test_the_stream_says_what_is_known_and_then_what_comes(self) -> None:
        self.scale()
        with self.client.stream("GET", "/devices/live/stream") as answer:
            self.assertEqual(answer.headers["content-type"].split(";")[0], "text/event-stream")
            told = []
            for line in answer.iter_lines():
                if line.startswith("data: "):
                    told.append(json.loads(line.removeprefix("data: ")))
                if len(told) == 2:
                    break
        first, then = (each["instruments"][0] for each in told)
        self.assertEqual((first["name"], first["state"]), ("Bench scale", "connected"))
        self.assertRegex(first["readings"][-1]["shown"], r"^mass 26\.\d+ g$")
        self.assertEqual((told[0]["run"], first["stands"]), (told[1]["run"], "connected"))
        self.assertGreater(then["readings"][-1]["number"], first["readings"][-1]["number"])
        self.assertAlmostEqual(first["readings"][-1]["si"], 0.02671, delta=1e-4)


class StaysWithTheValue(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        devices.add(self.database, "Gate", "chronograph", "10.9.8.7", 7001, datetime.now(UTC))
        reading = Reading(kind="speed", value=81.25, unit="m/s", resolution=0.05, time=3.0, sequence=7)
        device = Device(1, "Gate", "chronograph", Address("10.9.8.7", 7001))
        hub: Hub = self.client.app.state.hub  # type: ignore[attr-defined]
        came = Received(1, reading, datetime.now(UTC), time.monotonic())
        hub._standings[1] = Standing(device, "connected", readings=(came,))

    def told(self, **changes: Any) -> str:
        one = {"field": "readings", "text": "81.25", "device": 1, "figure": "speed", "sequence": 7}
        one |= {"si": 1.0, "resolution": 1.0, "at": "2026-01-01T00:00:00+00:00"}
        return json.dumps([one | changes])

    def save(self, taken: str, readings: str = "80.9 81.25") -> Any:
        form = self.form(f"/rigs/{self.rig_id}/card")
        return self.client.post(
            f"/rigs/{self.rig_id}/card", data=form | {"readings": readings, "speed_way": "measured", "taken": taken}
        )

    def kept(self) -> list[tuple[str, str, float, str]]:
        return [(t.field, t.text, t.value_si, t.instrument) for t in devices.taken(self.database, self.rig_id)]

    def test_what_was_taken_is_written_down_as_the_instrument_gave_it_and_said_beside_the_field(self) -> None:
        self.assertEqual(self.save(self.told()).status_code, 303)
        self.assertEqual(self.kept(), [("readings", "81.25", 81.25, "Gate")])
        self.assertIn("by Gate, ", self.client.get(f"/rigs/{self.rig_id}/card").text)
        self.assertIn('<td class="words">Gate</td>', self.client.get(f"/rigs/{self.rig_id}/taken").text)

    def test_a_draft_is_of_what_was_typed_alone(self) -> None:
        form = self.form(f"/rigs/{self.rig_id}/card") | {"taken": self.told()}
        self.client.post(f"/rigs/{self.rig_id}/draft/card", data=form)
        self.assertNotIn("Not saved yet", self.client.get(f"/rigs/{self.rig_id}/card").text)

    def test_every_page_of_the_rig_leads_to_what_was_taken(self) -> None:
        link = f'href="/rigs/{self.rig_id}/taken"'
        self.assertNotIn(link, self.client.get(f"/rigs/{self.rig_id}/tape").text)
        self.save(self.told())
        for page in ("card", "tape", "keep", "events"):
            self.assertIn(link, self.client.get(f"/rigs/{self.rig_id}/{page}").text, page)

    def test_what_is_typed_over_is_nobody_s(self) -> None:
        self.assertEqual(self.save(self.told(), readings="80.9 81.3").status_code, 303)
        self.assertEqual(self.kept(), [])
        self.assertNotIn("by Gate, ", self.client.get(f"/rigs/{self.rig_id}/card").text)

    def test_what_was_refused_keeps_nothing(self) -> None:
        self.assertEqual(self.save(self.told(), readings="81.25 9999").status_code, 422)
        self.assertEqual(self.kept(), [])

    def test_what_only_looks_ahead_keeps_nothing(self) -> None:
        form = self.form(f"/rigs/{self.rig_id}/card") | {"readings": "81.25", "taken": self.told()}
        answer = self.client.post(f"/rigs/{self.rig_id}/card/reckoning", data=form)
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.kept(), [])

    def test_from_before_a_restart_it_is_kept_as_the_page_had_it(self) -> None:
        self.save(self.told(sequence=3, si=81.2501, resolution=0.05))
        self.assertEqual(self.kept(), [("readings", "81.25", 81.2501, "Gate")])

    def test_nonsense_is_passed_over_and_the_save_stands(self) -> None:
        for taken in (
            "{", "[" * 5000, "7", "[7]", "[{}]", self.told(device=9), self.told(sequence="x"), self.told(field="nose"),
            self.told(sequence=1, figure="wind"), self.told(sequence=1, si="nan"), self.told(sequence=1, at="noon"),
            self.told(sequence=1, si=1e300), self.told(text=""), "[null]",
        ):  # fmt: skip
            with self.subTest(taken[:80]):
                self.assertEqual(self.save(taken).status_code, 303)
                self.assertEqual(self.kept(), [])

    def test_a_level_reading_says_in_its_log_what_gave_its_tilt(self) -> None:
        rig_id = self.shop.rig(replace(rig_card(), level=LevelSetup()))
        self.shop.prepared(rig_id)
        self.shop.mounted(rig_id)
        self.shop.plumb(rig_id)
        path = f"/rigs/{rig_id}/level"
        form = self.form(f"{path}?axis=first")
        taken = self.told(field="pitch", text=form["pitch"], figure="speed", sequence=1, si=0.0, resolution=0.001)
        answer = self.client.post(f"{path}/read", data=form | {"vial": "0.2", "reference": "0", "taken": taken})
        self.assertEqual(answer.status_code, 303, answer.text[:300])
        self.assertIn("tilt by Gate", self.client.get(path).text)
