"""What happens, told to every open window."""

from __future__ import annotations

import asyncio
import contextlib
import threading
from collections.abc import AsyncIterator, Callable
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from winnow.core.events import EventName

_MOST_WAITING = 1000


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened in a shoot. ``name`` is what the page listens for."""

    name: EventName
    data: dict[str, Any]


class Listener:
    """One open window: a queue on its event loop."""

    def __init__(self, shoot_id: int) -> None:
        self.shoot_id = shoot_id
        self._loop = asyncio.get_running_loop()
        self._queue: asyncio.Queue[Event | None] = asyncio.Queue(_MOST_WAITING)

    def tell(self, event: Event | None) -> None:
        """Queue an event from any thread; None ends the stream."""
        with contextlib.suppress(RuntimeError):  # a loop that has ended: nobody listens there
            self._loop.call_soon_threadsafe(self._put, event)

    def _put(self, event: Event | None) -> None:
        if self._queue.full():
            # The window has fallen far behind (asleep, say): end the stream, it starts afresh.
            while not self._queue.empty():
                self._queue.get_nowait()
            event = None
        self._queue.put_nowait(event)

    async def events(self, quiet_s: float) -> AsyncIterator[Event | None]:
        """Events in order; None after each stretch of silence, so that a dead peer is noticed."""
        while True:
            try:
                event = await asyncio.wait_for(self._queue.get(), quiet_s)
            except TimeoutError:
                yield None
                continue
            if event is None:
                return
            yield event


class Events:
    """The open windows. Safe to use from any thread."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._listeners: set[Listener] = set()
        self._watchers: list[Callable[[int, EventName], None]] = []

    def watch(self, watcher: Callable[[int, EventName], None]) -> None:
        """Call this with the shoot and the name of every event; it must be quick."""
        self._watchers.append(watcher)

    @contextmanager
    def listening(self, shoot_id: int) -> Any:
        """A listener for a shoot, for as long as the block runs."""
        listener = Listener(shoot_id)
        with self._lock:
            self._listeners.add(listener)
        try:
            yield listener
        finally:
            with self._lock:
                self._listeners.discard(listener)

    def tell(self, shoot_id: int, name: EventName, **data: Any) -> None:
        """Tell every window that shows this shoot."""
        with self._lock:
            listeners = [listener for listener in self._listeners if listener.shoot_id == shoot_id]
        for listener in listeners:
            listener.tell(Event(name, data))
        for watcher in self._watchers:
            watcher(shoot_id, name)

    def open_shoots(self) -> set[int]:
        """The shoots that a window shows."""
        with self._lock:
            return {listener.shoot_id for listener in self._listeners}

    def close(self) -> None:
        """End every stream, so that the server can stop."""
        with self._lock:
            for listener in self._listeners:
                listener.tell(None)
