"""Stand-ins that listen in a thread of their own, for tests that drive the application beside them."""

from __future__ import annotations

import asyncio
import contextlib
import threading
from collections.abc import Iterable

from cross_staff.devices.simulate import listening
from cross_staff.devices.stand_ins import StandIn


class Listening:
    """Stand-ins on free ports, until they are stopped."""

    def __init__(self, stand_ins: Iterable[StandIn]) -> None:
        self._stand_ins = list(stand_ins)
        self.ports: list[int] = []
        self._loop = asyncio.new_event_loop()
        self._ready, self._stop = threading.Event(), asyncio.Event()
        self._thread = threading.Thread(target=self._loop.run_until_complete, args=(self._run(),))
        self._thread.start()
        self._ready.wait()

    async def _run(self) -> None:
        async with contextlib.AsyncExitStack() as stack:
            for each in self._stand_ins:
                self.ports.append(await stack.enter_async_context(listening(each)))
            self._ready.set()
            await self._stop.wait()

    def stop(self) -> None:
        self._loop.call_soon_threadsafe(self._stop.set)
        self._thread.join()
        self._loop.close()
