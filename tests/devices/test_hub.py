"""Instruments over real sockets: each fault, a flood, one that goes and comes back."""

from __future__ import annotations

import asyncio
import json
import tracemalloc
import unittest
from collections.abc import AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager
from unittest import mock

from jsonschema_rs import Draft202012Validator

from cross_staff.core.rig.taken import GIVES, Kind
from cross_staff.devices import hub as hub_module
from cross_staff.devices import stand_ins
from cross_staff.devices.address import Address
from cross_staff.devices.hub import KEPT, Device, Hub, Standing
from cross_staff.devices.protocol import BadLine, Reading, parse, schema
from cross_staff.devices.simulate import listening
from cross_staff.devices.stand_ins import FAULTS, StandIn

WAIT_S = 90.0
READY = b'{"type":"status","state":"ready"}\n'
SCHEMA = Draft202012Validator(schema())


def reading(sequence: int, time: float, value: float = 81.0, **changes: object) -> bytes:
    told = {"type": "reading", "kind": "speed", "value": value, "unit": "m/s", "resolution": 0.1, "time": time}
    return json.dumps(told | {"sequence": sequence} | changes).encode() + b"\n"


class OnSockets(unittest.IsolatedAsyncioTestCase):
    def run(self, result: unittest.TestResult | None = None) -> unittest.TestResult | None:
        """In a thread of its own: in this one the driver of the browser may hold a loop already."""
        with ThreadPoolExecutor(1) as aside:
            return aside.submit(super().run, result).result()

    async def asyncSetUp(self) -> None:
        self.enterContext(mock.patch.object(hub_module, "FIRST_WAIT_S", 0.05))
        self.enterContext(mock.patch.object(hub_module, "LONGEST_WAIT_S", 0.1))
        self.seen: list[int] = []
        self.hub = Hub(lambda device, when: self.seen.append(device))
        self.hub.start()
        self.addAsyncCleanup(self.hub.stop)

    @asynccontextmanager
    async def instrument(
        self, *pieces: bytes, host: str = "127.0.0.1", kind: Kind = "chronograph"
    ) -> AsyncIterator[None]:
        """Something that sends these pieces to whoever connects, and stays; the hub follows it."""

        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            self.greeting = await reader.readline()
            try:
                for piece in pieces:
                    writer.write(piece)
                    await writer.drain()
                await reader.read()
            except OSError:
                pass
            finally:
                writer.close()

        server = await asyncio.start_server(serve, "127.0.0.1", 0)
        port = server.sockets[0].getsockname()[1]
        self.hub.follow([Device(1, "Bench", kind, Address(host, port))])
        try:
            yield
        finally:
            server.close()

    async def until(self, holds: Callable[[Standing], bool], device: int = 1) -> Standing:
        async with asyncio.timeout(WAIT_S):
            while True:
                standing = self.hub.standing(device)
                if standing is not None and holds(standing):
                    return standing
                await asyncio.sleep(0.01)

    async def test_readings_come_and_doubles_count_once(self) -> None:
        lines = (reading(1, 4.0), reading(1, 4.0), reading(2, 4.1, 81.4), reading(3, 9.0, 80.6))
        async with self.instrument(*lines):
            standing = await self.until(lambda s: len(s.readings) == 3)
        self.assertEqual(
            [(r.reading.sequence, r.double) for r in standing.readings], [(1, False), (2, True), (3, False)]
        )
        self.assertEqual(standing.latest("speed").reading.value, 80.6)  # type: ignore[union-attr]
        self.assertEqual((standing.state, self.seen), ("connected", [1]))
        self.assertIn(b"cross-staff-instrument/1", self.greeting)

    async def test_that_it_is_heard_is_told_again_while_it_speaks(self) -> None:
        self.enterContext(mock.patch.object(hub_module, "NOTED_EVERY_S", 0.0))
        async with self.instrument(reading(1, 4.0), reading(2, 8.0)):
            await self.until(lambda s: len(s.readings) == 2 and len(self.seen) >= 2)

    async def test_one_that_was_switched_on_anew_counts_from_the_start(self) -> None:
        async with self.instrument(reading(1, 50.0), reading(1, 2.0, 79.0)):
            standing = await self.until(lambda s: len(s.readings) == 2)
        self.assertEqual([r.double for r in standing.readings], [False, False])

    async def test_bad_lines_are_counted_and_the_next_is_read(self) -> None:
        of_another = (reading(1, 1.0, unit="fps"), reading(2, 2.0, kind="mass", unit="g"))
        nonsense = (b"E04 LOW LIGHT\n", b'{"type":"reading","kind":"speed","value":NaN}\n', b"\xff\xfe\n")
        bad = (*of_another, *nonsense, b"x" * 10_000_000 + b"\n")
        async with self.instrument(*bad, reading(9, 9.0)):
            standing = await self.until(lambda s: len(s.readings) == 1)
        self.assertEqual((standing.bad_lines, standing.state), (len(bad), "connected"))

    async def test_another_kind_and_another_protocol_are_not_listened_to(self) -> None:
        for hello, why in (
            (b'"cross-staff-instrument/1", "kind": "scale"', "a scale, not a chron"),
            (b'"other/2"', "speaks other/2"),
        ):
            async with self.instrument(b'{"type": "hello", "protocol": ' + hello + b"}\n" + READY, reading(1, 1.0)):
                standing = await self.until(lambda s: s.state == "mistaken")
                self.assertIn(why, standing.says)
            self.hub.follow([])
            await asyncio.sleep(0.05)
            self.assertEqual(self.hub.standings(), [])

    async def test_what_warms_up_is_shown_and_not_ready(self) -> None:
        lines = (
            b'{"type":"status","state":"warming"}\n',
            reading(1, 1.0),
            b'{"type":"status","state":"ready"}\n',
            reading(2, 9.0),
        )
        async with self.instrument(*lines):
            standing = await self.until(lambda s: len(s.readings) == 2)
        self.assertEqual([r.ready for r in standing.readings], [False, True])

    async def test_an_instrument_says_what_is_wrong_with_it(self) -> None:
        async with self.instrument(b'{"type":"error","says":"too dark"}\n', reading(1, 1.0)):
            standing = await self.until(lambda s: len(s.readings) == 1)
        self.assertEqual((standing.says, standing.readings[0].ready), ("too dark", False))

    async def test_a_name_that_leads_outside_is_not_called(self) -> None:
        outside = [(2, 1, 6, "", ("203.0.113.5", 80))]
        with mock.patch.object(asyncio.get_running_loop(), "getaddrinfo", mock.AsyncMock(return_value=outside)):
            async with self.instrument(reading(1, 1.0), host="trick.example"):
                standing = await self.until(lambda s: s.state == "away")
        self.assertIn("outside of the shop", standing.says)

    async def test_nobody_there_is_tried_again_until_it_comes(self) -> None:
        stand_in = StandIn("scale")
        async with listening(stand_in) as port:
            pass
        self.hub.follow([Device(1, "Scale", "scale", Address("127.0.0.1", port))])
        await self.until(lambda s: s.state == "away" and s.says == "does not answer")
        async with listening(stand_in, port=port):
            await self.until(lambda s: s.state == "connected" and len(s.readings) > 0)
        await self.until(lambda s: s.state == "away")
        async with listening(StandIn("scale", seed=2), port=port):
            await self.until(lambda s: s.state == "connected")

    async def test_a_stand_in_of_each_kind_with_every_fault(self) -> None:
        quick = dict.fromkeys(tuple(GIVES), 0.02)
        self.enterContext(mock.patch.multiple(stand_ins, EVERY_S=quick, LEAVES_EVERY_S=1.0, AWAY_S=0.2, WARM_UP_S=0.3))
        ports = {}
        for kind in tuple(GIVES):
            listens = listening(StandIn(kind, faults=frozenset(FAULTS)))
            ports[kind] = await self.enterAsyncContext(listens)
        self.hub.follow(Device(n, kind, kind, Address("127.0.0.1", ports[kind])) for n, kind in enumerate(tuple(GIVES)))
        for number, kind in enumerate(tuple(GIVES)):
            standing = await self.until(lambda s: len(s.readings) > 20 and s.bad_lines > 2, number)
            self.assertEqual({r.reading.kind for r in standing.readings}, set(GIVES[kind]))
            middle = stand_ins.TRUTH[GIVES[kind][0]][0]
            ready = [r.reading.value for r in standing.readings if r.ready and r.reading.kind == GIVES[kind][0]]
            for value in ready:
                self.assertAlmostEqual(value, middle, delta=6.0 * stand_ins.TRUTH[GIVES[kind][0]][1] + 0.1)

    async def test_a_flood_leaves_memory_flat_and_the_newest_is_had(self) -> None:
        flood = [
            b"".join(reading(n, n * 2.0) for n in range(start, start + 10_000)) for start in range(0, 30_000, 10_000)
        ]
        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        async with self.instrument(*flood[:1]):
            await self.until(lambda s: bool(s.readings) and s.readings[-1].reading.sequence == 9_999)
            kept, _ = tracemalloc.get_traced_memory()
            tracemalloc.reset_peak()
        self.hub.follow([])
        async with self.instrument(*flood[1:]):
            standing = await self.until(lambda s: bool(s.readings) and s.readings[-1].reading.sequence == 29_999)
            after, peak = tracemalloc.get_traced_memory()
        self.assertEqual((len(standing.readings), standing.bad_lines), (KEPT, 0))
        self.assertGreater(standing.passed_over, 5_000)
        self.assertLess(after - kept, 1_000_000)
        self.assertLess(peak - kept, 4_000_000)


class Behaviour(unittest.TestCase):
    def sent(self, kind: Kind, until_s: float, *faults: str, **settings: object) -> list[bytes]:
        stand_in = StandIn(kind, faults=frozenset(faults), **settings)  # type: ignore[arg-type]
        return [*stand_in.hello().splitlines(keepends=True), *stand_in.lines(until_s)]

    def test_every_line_of_a_sound_one_is_of_the_protocol(self) -> None:
        for kind in tuple(GIVES):
            for line in self.sent(kind, 120.0):
                parse(line.rstrip(b"\n"))
                SCHEMA.validate(json.loads(line))

    def test_the_schema_refuses_another_unit_as_the_program_does(self) -> None:
        wrong = json.loads(reading(1, 1.0, unit="fps"))
        self.assertFalse(SCHEMA.is_valid(wrong))
        with self.assertRaises(BadLine):
            parse(json.dumps(wrong).encode())

    def test_its_faults_are_what_they_are_called(self) -> None:
        plain = len(self.sent("scale", 300.0))
        self.assertLess(len(self.sent("scale", 300.0, "dropouts")), plain - 20)
        self.assertGreater(len(self.sent("scale", 300.0, "doubles")), plain + 20)
        for fault in ("bad_lines", "wrong_units"):
            bad = 0
            for line in self.sent("scale", 300.0, fault):
                try:
                    parse(line.rstrip(b"\n"))
                except BadLine:
                    bad += 1
            self.assertGreater(bad, 10, fault)
        warm = [parse(line.rstrip(b"\n")) for line in self.sent("scale", 20.0, "warm_up", truth={"mass": 26.7})]
        masses = [m.value for m in warm if isinstance(m, Reading)]
        self.assertGreater(masses[0], masses[-1] + 0.05)
        self.assertIn("warming", [getattr(m, "state", "") for m in warm])
        self.assertEqual({StandIn("scale", faults=frozenset(["leaves"])).away(t) for t in (1.0, 39.0)}, {False, True})

    def test_the_same_seed_sends_the_same(self) -> None:
        self.assertEqual(self.sent("rangefinder", 60.0, *FAULTS), self.sent("rangefinder", 60.0, *FAULTS))
        self.assertNotEqual(self.sent("scale", 60.0, seed=1), self.sent("scale", 60.0, seed=2))
