"""The line by which guests come in: a server of its own, encrypted, in a thread of its own.

Whatever guests do to it, the owner's requests are answered by another thread, over other
connections.
"""

from __future__ import annotations

import asyncio
import contextlib
import socket
import threading
from collections import Counter
from collections.abc import Iterator
from typing import Final

import uvicorn
from starlette.types import ASGIApp

from winnow.web.guests.certificate import Certificate
from winnow.web.patience import Patient

_MOST_OF_ONE: Final = 40  # connections of one address
_MOST: Final = 300
_STARTS_S: Final = 10.0


class _Open(socket.socket):
    """An accepted connection that is counted until it is closed."""

    count: Counter[str]
    address: str

    def close(self) -> None:
        if self.fileno() != -1:
            self.count[self.address] -= 1
        super().close()


class _Listening(socket.socket):
    """Accepts no more connections of one address, and of all, than can be borne."""

    def __init__(self) -> None:
        super().__init__(socket.AF_INET, socket.SOCK_STREAM)
        self._count: Counter[str] = Counter()

    def accept(self) -> tuple[socket.socket, tuple[str, int]]:
        number, peer = self._accept()  # type: ignore[attr-defined]  # as socket.accept does
        opened = _Open(self.family, self.type, self.proto, fileno=number)
        opened.count, opened.address = self._count, peer[0]
        self._count[peer[0]] += 1
        of_one, of_all = self._count[peer[0]], self._count.total()
        if of_one > _MOST_OF_ONE or of_all > _MOST:  # guard: connections of one guest
            opened.close()
            # asyncio takes this for a peer that hung up, and goes on listening.
            raise ConnectionAbortedError
        return opened, peer


class _Server(uvicorn.Server):
    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        """Signals belong to the owner's server."""
        yield


class Line:
    """A server on a socket of ``listening``, in a thread of its own."""

    def __init__(self, app: ASGIApp, certificate: Certificate, socket: socket.socket) -> None:
        self._socket = socket
        self.port = socket.getsockname()[1]
        config = uvicorn.Config(
            app,
            log_level="warning",
            lifespan="off",
            http=Patient,
            ws="none",
            ssl_keyfile=str(certificate.file),
            ssl_certfile=str(certificate.file),
            timeout_graceful_shutdown=1,
        )
        self._server = _Server(config)
        self._thread = threading.Thread(target=self._run, name="guests", daemon=True)

    def start(self) -> None:
        """Begin to answer."""
        self._thread.start()

    def _run(self) -> None:
        # Not the owner's quicker loop: that one accepts connections by itself, uncounted.
        with asyncio.Runner(loop_factory=asyncio.new_event_loop) as runner:
            runner.run(self._serve())

    async def _serve(self) -> None:
        await self._server.serve(sockets=[self._socket])
        for connection in list(self._server.server_state.connections):
            connection.transport.abort()
        await asyncio.sleep(0)  # in which they are closed

    def stop(self) -> None:
        """End every connection and stop listening."""
        self._server.should_exit = True
        self._server.force_exit = True
        self._thread.join(_STARTS_S)
        self._socket.close()


def listening(port: int) -> socket.socket:
    """A socket that others on the network can reach; another port where this one is taken.

    Raises OSError.
    """
    listener = _Listening()
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("0.0.0.0", port))
    except OSError:
        listener.bind(("0.0.0.0", 0))
    listener.listen(64)
    return listener
