"""The hub of an application: started and stopped with it, following what the shop has entered."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator
from datetime import datetime

from cross_staff.core.errors import CrossStaffError
from cross_staff.devices.address import Address
from cross_staff.devices.hub import Device, Hub
from cross_staff.services import devices
from cross_staff.services.devices import Database


def entered(database: Database) -> list[Device]:
    """The shop's instruments as the hub follows them."""
    return [
        Device(each.device, each.name, each.kind, Address(each.host, each.port))  # type: ignore[arg-type]
        for each in devices.kept(database)
    ]


@contextlib.asynccontextmanager
async def listening(database: Database) -> AsyncIterator[Hub]:
    """A hub that follows the shop's instruments as long as the block lasts, and writes down when each was heard."""
    loop = asyncio.get_running_loop()

    def heard(device: int, when: datetime) -> None:
        def write() -> None:
            with contextlib.suppress(CrossStaffError):  # it is heard again
                devices.heard(database, device, when)

        loop.run_in_executor(None, write)

    hub = Hub(heard)
    hub.start()
    hub.follow(entered(database))
    try:
        yield hub
    finally:
        await hub.stop()
