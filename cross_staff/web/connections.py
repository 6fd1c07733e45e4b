"""Connections that send nothing, or too slowly, are closed: they would hold what others need."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_SECONDS = 20.0


class ImpatientProtocol(H11Protocol):
    """uvicorn's protocol, with an end to the wait for the head of a request."""

    _waiting: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self._between_requests():
            if self._waiting is None:
                self._wait()
        else:
            self._stop_waiting()

    def on_response_complete(self) -> None:
        super().on_response_complete()
        self._stop_waiting()  # from here on it is the keep-alive's wait

    def connection_lost(self, exc: Exception | None) -> None:
        self._stop_waiting()
        super().connection_lost(exc)

    def _between_requests(self) -> bool:
        """Whether the head of a request is still to come, or to be ended."""
        return self.cycle is None or bool(self.cycle.response_complete)

    def _wait(self) -> None:
        self._waiting = self.loop.call_later(HEAD_SECONDS, self._give_up)

    def _stop_waiting(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _give_up(self) -> None:
        self._waiting = None
        if self._between_requests() and not self.transport.is_closing():
            self.transport.close()
