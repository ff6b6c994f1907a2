"""Switches the sharing of a shoot on and off, while Winnow runs."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from starlette.types import ASGIApp

from winnow.store import frames
from winnow.store.db import Database
from winnow.web.guests.addresses import is_numeric, own_addresses
from winnow.web.guests.certificate import certificate
from winnow.web.guests.guard import GuestGuard
from winnow.web.guests.line import Line, listening
from winnow.web.guests.sessions import ALL_RIGHTS, May, Sharing


@dataclass(frozen=True, slots=True)
class Shared:
    """A shoot that is shared now.

    ``urls``: by which others open it, the one without a name first; ``fingerprint``: SHA-256 of the
    certificate.
    """

    sharing: Sharing
    line: Line
    urls: tuple[str, ...]
    fingerprint: str


class Shares:
    """What is shared: one shoot at a time, or none. Safe to use from any thread.

    ``port``: the one to try first. ``folder``: where the certificate is kept.
    """

    def __init__(self, app: ASGIApp, db: Database, folder: Path, port: int) -> None:
        self._app = app
        self._db = db
        self._folder = folder
        self._port = port
        self._lock = threading.Lock()
        self._shared: Shared | None = None

    @property
    def now(self) -> Shared | None:
        """What is shared now."""
        return self._shared

    def switch_on(self, shoot_id: int, password: str, may: Iterable[May] = ALL_RIGHTS) -> Shared:
        """Share a shoot, and no other any more.

        Raises ValueError for a short password, OSError without a port.
        """
        sharing = Sharing(shoot_id, password, may)
        with self._lock:
            self._stop()
            names = own_addresses()
            known = certificate(self._folder, names)
            socket = listening(self._port)
            ordered = sorted(names, key=lambda address: not is_numeric(address))
            hosts = [f"{name}:{socket.getsockname()[1]}" for name in ordered]
            named = frozenset(host.lower() for host in hosts)
            guard = GuestGuard(self._app, sharing, named, known.fingerprint, self._shoot_of)
            line = Line(guard, known, socket)
            line.start()
            urls = tuple(f"https://{host}/" for host in hosts)
            self._shared = Shared(sharing, line, urls, known.fingerprint)
            return self._shared

    def forget(self, shoot_id: int) -> None:
        """Share a shoot no more, if it is the one that is shared."""
        with self._lock:
            if self._shared is not None and self._shared.sharing.shoot_id == shoot_id:
                self._stop()

    def switch_off(self) -> None:
        """Share nothing any more; every guest's session ends."""
        with self._lock:
            self._stop()

    def _stop(self) -> None:
        if self._shared is not None:
            for guest in self._shared.sharing.guests():
                self._shared.sharing.end(guest.id)
            self._shared.line.stop()
            self._shared = None

    def _shoot_of(self, frame_id: int) -> int | None:
        return frames.shoot_of(self._db, frame_id)
