"""A stand-in that listens, as an instrument does."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import AsyncIterator

from cross_staff.devices.stand_ins import StandIn

TICK_S = 0.05
MOST_WAITING = 1 << 20


@contextlib.asynccontextmanager
async def listening(stand_in: StandIn, host: str = "127.0.0.1", port: int = 0) -> AsyncIterator[int]:
    """The stand-in on a port (a free one where none is said), as long as the block lasts; gives the port."""
    begun = time.monotonic()
    writers: set[asyncio.StreamWriter] = set()

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if stand_in.away(time.monotonic() - begun):
            writer.close()
            return
        writers.add(writer)
        try:
            writer.write(stand_in.hello(time.monotonic() - begun))
            while await reader.read(4096):
                pass  # what the shop says is of no matter to it
        except OSError:
            pass
        finally:
            writers.discard(writer)
            writer.close()

    async def send() -> None:
        while True:
            now = time.monotonic() - begun
            for line in stand_in.lines(now):
                for writer in writers:
                    if writer.transport.get_write_buffer_size() < MOST_WAITING:  # nobody takes it: it is lost
                        writer.write(line)
            if stand_in.away(now):
                for writer in list(writers):
                    writer.close()
            await asyncio.sleep(TICK_S)

    server = await asyncio.start_server(serve, host, port)
    sending = asyncio.create_task(send())
    try:
        yield int(server.sockets[0].getsockname()[1])
    finally:
        sending.cancel()
        server.close()
        for writer in list(writers):
            writer.close()
        await asyncio.gather(sending, return_exceptions=True)
