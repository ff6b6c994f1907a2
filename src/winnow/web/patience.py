"""Connections that say nothing, or never finish what they say, are closed."""

from __future__ import annotations

import asyncio
from typing import Any, Final

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

_HEADERS_S: Final = 15.0


class Patient(HttpToolsProtocol):
    """HTTP as uvicorn speaks it, but each request's headers must be there within some seconds."""

    _waits: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """Begin to wait for the first request."""
        super().connection_made(transport)
        self._wait()

    def on_message_begin(self) -> None:
        """Begin to wait for its headers."""
        super().on_message_begin()
        self._wait()

    def on_headers_complete(self) -> None:
        """Wait no more: the headers are there."""
        self._come()
        super().on_headers_complete()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no more."""
        self._come()
        super().connection_lost(exc)

    def _wait(self) -> None:
        if self._waits is None:
            # guard: headers that never end
            self._waits = self.loop.call_later(_HEADERS_S, self._give_up)

    def _come(self) -> None:
        if self._waits is not None:
            self._waits.cancel()
            self._waits = None

    def _give_up(self) -> None:
        if self.transport is not None and not self.transport.is_closing():
            self.transport.abort()
