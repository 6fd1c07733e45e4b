"""The instruments of the shop: each followed by a connection of its own, with what it said last."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Literal
from uuid import uuid4

from cross_staff import __version__
from cross_staff.core.rig.chronograph import same_shot
from cross_staff.core.rig.taken import GIVES, Figure, Kind
from cross_staff.devices.address import OUTSIDE, Address, within
from cross_staff.devices.line_feed import LineFeed
from cross_staff.devices.protocol import (
    PROTOCOL,
    BadLine,
    Hello,
    Reading,
    Status,
    Trouble,
    line_of,
    parse,
)

KEPT = 64  # readings of an instrument that are kept
CHUNK = 64 * 1024
PAUSE_S = 0.02  # after each piece that was read, so that a flood leaves room for all else
MOST_LINES = 200  # of one piece that are looked at, the last of them
CONNECT_S, SILENT_S = 5.0, 90.0
NOTED_EVERY_S = 60.0  # that it was heard is written down as often as this
FIRST_WAIT_S, LONGEST_WAIT_S = 1.0, 30.0
State = Literal["trying", "connected", "away", "mistaken"]


@dataclass(frozen=True)
class Device:
    """An instrument as the shop entered it: its number, its name, of which kind, where it listens."""

    device: int
    name: str
    kind: Kind
    address: Address


@dataclass(frozen=True)
class Received:
    """A reading as it came: its number in this program's run, when, whether it is the same shot as the one before,
    and whether the instrument was ready."""

    number: int
    reading: Reading
    at: datetime
    monotonic_s: float
    double: bool = False
    ready: bool = True


@dataclass(frozen=True)
class Standing:
    """How an instrument stands: its connection, what it says of itself, its latest readings, what was no good."""

    device: Device
    state: State = "trying"
    says: str = ""
    seen: datetime | None = None
    ready: bool = True
    readings: tuple[Received, ...] = ()
    bad_lines: int = 0
    last_bad: str = ""
    passed_over: int = 0

    def latest(self, figure: Figure) -> Received | None:
        """The newest reading of a figure that is not the same shot once more."""
        return next((r for r in reversed(self.readings) if r.reading.kind == figure and not r.double), None)

    def of(self, figure: Figure, sequence: int) -> Received | None:
        """The reading of this number, where it is still kept."""
        return next(
            (r for r in reversed(self.readings) if (r.reading.kind, r.reading.sequence) == (figure, sequence)), None
        )


class Hub:
    """Follows the instruments that it was given, each in a task of the loop that it was started in."""

    def __init__(self, on_seen: Callable[[int, datetime], None] = lambda device, when: None) -> None:
        self._standings: dict[int, Standing] = {}
        self._tasks: dict[int, asyncio.Task[None]] = {}
        self._loop: asyncio.AbstractEventLoop | None = None
        self._count = 0
        self.run = uuid4().hex
        self._on_seen = on_seen

    # ---- from any thread
    @property
    def version(self) -> int:
        """Grows with everything that is said."""
        return self._count

    def standings(self) -> list[Standing]:
        """All of them, by name."""
        return sorted(self._standings.values(), key=lambda each: each.device.name.lower())

    @property
    def kinds(self) -> frozenset[Kind]:
        """Of which kinds there are any."""
        return frozenset(each.device.kind for each in self.standings())

    def standing(self, device: int) -> Standing | None:
        return self._standings.get(device)

    def follow(self, devices: Iterable[Device]) -> None:
        """These and no others from now on; one that stays as it was keeps its connection."""
        wanted = {each.device: each for each in devices}
        if self._loop is None:
            raise RuntimeError("not started")
        self._loop.call_soon_threadsafe(self._follow, wanted)

    # ---- in the loop
    def start(self) -> None:
        self._loop = asyncio.get_running_loop()

    async def stop(self) -> None:
        tasks, self._tasks = list(self._tasks.values()), {}
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)

    def _follow(self, wanted: dict[int, Device]) -> None:
        for number in list(self._tasks):
            if wanted.get(number) != self._standings[number].device:
                self._tasks.pop(number).cancel()
                del self._standings[number]
                self._count += 1
        for number, device in wanted.items():
            if number not in self._tasks:
                self._standings[number] = Standing(device)
                self._tasks[number] = asyncio.get_running_loop().create_task(self._keep(device))
                self._count += 1

    async def _keep(self, device: Device) -> None:
        """Connect, listen, and again when it has gone, ever more slowly."""
        wait = FIRST_WAIT_S
        while True:
            try:
                reader, writer = await self._connect(device)
            except (OSError, TimeoutError) as error:
                outside = isinstance(error, PermissionError)
                self._say(device, state="away", says=OUTSIDE if outside else "does not answer")
            else:
                heard = self._standings[device.device].readings[-1:]
                with contextlib.suppress(OSError, TimeoutError), contextlib.closing(writer):
                    await self._listen(device, reader, writer)
                if self._standings[device.device].state != "mistaken":
                    self._say(device, state="away", says="has gone")
                if self._standings[device.device].readings[-1:] != heard:
                    wait = FIRST_WAIT_S
            await asyncio.sleep(wait)
            wait = min(2.0 * wait, LONGEST_WAIT_S)

    async def _connect(self, device: Device) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        """Raises PermissionError where the name leads outside of the shop's network."""
        loop, where = asyncio.get_running_loop(), device.address
        async with asyncio.timeout(CONNECT_S):
            known = await loop.getaddrinfo(where.host, where.port, type=1)
            numbers = [str(each[4][0]) for each in known]
            if not numbers or not all(map(within, numbers)):
                raise PermissionError(OUTSIDE)
            return await asyncio.open_connection(numbers[0], where.port, limit=CHUNK)

    async def _listen(self, device: Device, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self._say(device, state="connected", says="", ready=True, seen=datetime.now(UTC))
        self._on_seen(device.device, datetime.now(UTC))
        noted_s = time.monotonic()
        writer.write(line_of(Hello(protocol=PROTOCOL, name=f"Cross Staff {__version__}")))
        feed = LineFeed()
        while self._standings[device.device].state == "connected":
            async with asyncio.timeout(SILENT_S):
                chunk = await reader.read(CHUNK)
            if not chunk:
                return
            lines = feed.feed(chunk)
            self._take(device, lines[-MOST_LINES:], len(lines) - len(lines[-MOST_LINES:]), feed)
            if time.monotonic() - noted_s > NOTED_EVERY_S:
                noted_s = time.monotonic()
                self._on_seen(device.device, datetime.now(UTC))
            await asyncio.sleep(PAUSE_S)

    def _take(self, device: Device, lines: list[bytes], passed_over: int, feed: LineFeed) -> None:
        was = self._standings[device.device]
        bad, last_bad = feed.too_long, "longer than a line may be" if feed.too_long else was.last_bad
        feed.too_long = 0
        now = replace(was, seen=datetime.now(UTC), passed_over=was.passed_over + passed_over)
        for line in lines:
            if now.state == "mistaken":
                break  # whatever it says, it is not what was entered
            try:
                now = self._with(now, parse(line))
            except BadLine as error:
                bad, last_bad = bad + 1, str(error)[:120]
        self._standings[device.device] = replace(now, bad_lines=now.bad_lines + bad, last_bad=last_bad)
        self._count += 1

    def _with(self, now: Standing, message: Hello | Reading | Status | Trouble) -> Standing:
        if isinstance(message, Hello):
            if message.protocol != PROTOCOL:
                return replace(now, state="mistaken", says=f"speaks {message.protocol[:40]}, not {PROTOCOL}")
            if message.kind is not None and message.kind != now.device.kind:
                says = f"says that it is {_a(message.kind)}, not {_a(now.device.kind)}"
                return replace(now, state="mistaken", says=says)
            return now
        if isinstance(message, Status):
            return replace(
                now,
                ready=message.state == "ready",
                says=message.says or ("" if message.state == "ready" else message.state),
            )
        if isinstance(message, Trouble):
            return replace(now, ready=False, says=message.says)
        if message.kind not in GIVES[now.device.kind]:
            raise BadLine(f"a {now.device.kind} gives no {message.kind}")
        told = now.of(message.kind, message.sequence)
        if told is not None and told.reading.time == message.time:
            return now  # the same line once more; an instrument switched on anew counts from the start
        before = now.latest(message.kind)
        double = (
            now.device.kind == "chronograph" and before is not None and same_shot(before.reading.time, message.time)
        )
        self._count += 1
        came = Received(self._count, message, datetime.now(UTC), time.monotonic(), double, now.ready)
        return replace(now, readings=(*now.readings, came)[-KEPT:])

    def _say(self, device: Device, **changes: object) -> None:
        self._standings[device.device] = replace(self._standings[device.device], **changes)  # type: ignore[arg-type]
        self._count += 1


def _a(kind: Kind) -> str:
    return f"an {kind}" if kind[0] in "aeiou" else f"a {kind}"
