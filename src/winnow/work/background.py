"""Long work in threads of its own, each piece named by its id, to be stopped and started again."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Final

_LONGEST_STOP_S: Final = 30.0


class Background:
    """Runs ``work(id, stopping)`` for ids, one thread each; ``stopping()`` asks it to end soon."""

    def __init__(self, name: str, work: Callable[[int, Callable[[], bool]], None]) -> None:
        self._name = name
        self._work = work
        self._lock = threading.Lock()
        self._running: dict[int, tuple[threading.Thread, threading.Event]] = {}

    def start(self, id: int) -> bool:
        """Start the work on an id; False where it is running already."""
        with self._lock:
            known = self._running.get(id)
            if known and known[0].is_alive():
                return False
            stop = threading.Event()
            thread = threading.Thread(
                target=self._work, args=(id, stop.is_set), name=f"{self._name}-{id}", daemon=True
            )
            self._running[id] = (thread, stop)
            thread.start()
            return True

    def is_free(self, id: int, *, ended: bool) -> bool:
        """Whether the work on an id can be started.

        ``ended``: its own state says that it is over. Then only the rest of its thread is waited
        for: whoever saw that it is over can go on at once.
        """
        if ended:
            self.wait(id)
        return not self.is_running(id)

    def is_running(self, id: int) -> bool:
        """Whether the work on an id goes on."""
        known = self._running.get(id)
        return known is not None and known[0].is_alive()

    def wait(self, id: int, seconds: float | None = None) -> None:
        """Wait until the work on an id has ended."""
        known = self._running.get(id)
        if known:
            known[0].join(seconds)

    def stop(self, id: int) -> None:
        """Ask the work on an id to end, and wait for it."""
        known = self._running.get(id)
        if known:
            known[1].set()
            known[0].join(_LONGEST_STOP_S)

    def close(self) -> None:
        """Stop everything. The server is about to end."""
        for _, stop in self._running.values():
            stop.set()
        for id in list(self._running):
            self.stop(id)
