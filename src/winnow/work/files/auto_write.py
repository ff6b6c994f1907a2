"""Writing to files in the background: on demand with progress, and by itself after marks."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

from cachetools import LRUCache

from winnow.core.events import EventName, FramePatch
from winnow.photos.cache import PictureCache
from winnow.store import file_state, settings, shoots
from winnow.store.db import Database
from winnow.work import change_events, failures
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.files import write as files_write
from winnow.work.files.write import Order, Shown, Written

# Written by itself when nothing was marked for this long, or at the latest after the longer time.
_QUIET_S: Final = 2.0
_LONGEST_S: Final = 10.0
_MOST_SHOWN: Final = 8  # plans, for as many windows


@dataclass(frozen=True, slots=True)
class FilesStatus:
    """How the last writing of a shoot stands, or stood.

    ``total``: frames; ``notice``: why it ended before its end.
    """

    running: bool = False
    by_itself: bool = False
    stopped: bool = False
    done: int = 0
    total: int = 0
    result: Written | None = None
    notice: str = ""


class FileWriter:
    """Writes marks and texts to files, one shoot at a time each, without holding up marking."""

    def __init__(self, db: Database, cache: PictureCache, events: Events) -> None:
        self._db = db
        self._cache = cache
        self._events = events
        self._orders: dict[int, Order] = {}
        self._status: dict[int, FilesStatus] = {}
        self._jobs = Background("write", self._run)
        self._due: dict[int, tuple[float, float]] = {}
        self._shown: LRUCache[str, Shown] = LRUCache(_MOST_SHOWN)
        self._wake = threading.Condition()
        self._closing = False
        self._lock = threading.Lock()
        events.watch(self._noticed)
        self._thread = threading.Thread(target=self._wait, name="write-by-itself", daemon=True)
        self._thread.start()

    def start(self, shoot_id: int, order: Order) -> bool:
        """Write a shoot's files; False where that goes on already."""
        with self._lock:
            if not self._jobs.is_free(shoot_id, ended=not self.status(shoot_id).running):
                return False
            self._orders[shoot_id] = order
            self._status[shoot_id] = FilesStatus(running=True)
            return self._jobs.start(shoot_id)

    def remember(self, shown: Shown) -> str:
        """Remember what a plan showed; returns a name for it. The plans shown last are known."""
        name = secrets.token_hex(8)
        with self._lock:
            self._shown[name] = shown
        return name

    def shown(self, name: str) -> Shown:
        """What the plan of this name showed: nothing, where it is forgotten."""
        with self._lock:
            return self._shown.get(name, {})

    def stop(self, shoot_id: int) -> None:
        """Stop after the files that are being written; what is written stays."""
        self._jobs.stop(shoot_id)

    def wait(self, shoot_id: int, seconds: float | None = None) -> None:
        """Wait until the writing of a shoot has ended."""
        self._jobs.wait(shoot_id, seconds)

    def status(self, shoot_id: int) -> FilesStatus:
        """How the writing of a shoot stands."""
        return self._status.get(shoot_id, FilesStatus())

    def is_on(self) -> bool:
        """Whether marks are written by themselves."""
        return settings.load(self._db).write_by_itself

    def _noticed(self, shoot_id: int, name: EventName) -> None:
        if name == "marks":
            self.soon(shoot_id)

    def soon(self, shoot_id: int) -> None:
        """Something was said: write it when it has become quiet, if that is wanted."""
        now = time.monotonic()
        with self._wake:
            first, _ = self._due.get(shoot_id, (now, now))
            self._due[shoot_id] = (first, now)
            self._wake.notify()

    def _wait(self) -> None:
        while True:
            with self._wake:
                while not self._closing:
                    now = time.monotonic()
                    times = {
                        shoot: min(last + _QUIET_S, first + _LONGEST_S)
                        for shoot, (first, last) in self._due.items()
                    }
                    ready = [shoot for shoot, at in times.items() if at <= now]
                    if ready:
                        break
                    self._wake.wait(min(times.values()) - now if times else None)
                if self._closing:
                    return
                for shoot in ready:
                    del self._due[shoot]
            if self.is_on():
                for shoot in ready:
                    self._write_unwritten(shoot, lambda: self._closing)

    def _write_unwritten(self, shoot_id: int, stopping: Callable[[], bool]) -> None:
        frames = file_state.unwritten(self._db, shoot_id)
        if frames and shoots.get(self._db, shoot_id) is not None:
            self._write(shoot_id, Order(tuple(frames), shown={}), stopping, by_itself=True)

    def _run(self, shoot_id: int, stopping: Callable[[], bool]) -> None:
        self._write(shoot_id, self._orders.pop(shoot_id), stopping, by_itself=False)

    def _write(
        self, shoot_id: int, order: Order, stopping: Callable[[], bool], *, by_itself: bool
    ) -> None:
        told_at = 0.0

        def tick(done: int, total: int, patches: list[FramePatch]) -> None:
            nonlocal told_at
            self._status[shoot_id] = FilesStatus(True, by_itself, False, done, total)
            if patches:
                self._events.tell(shoot_id, "frames", frames=patches)
            if time.monotonic() - told_at > 0.3:
                told_at = time.monotonic()
                self._events.tell(shoot_id, "files")

        try:
            result, change = files_write.write(
                self._db, self._cache, shoot_id, order, tick, stopping
            )
            if change is not None:
                change_events.tell(self._db, self._events, shoot_id, change)
            self._status[shoot_id] = replace(
                self.status(shoot_id), by_itself=by_itself, stopped=stopping(), result=result
            )
        except Exception as error:
            notice = failures.in_words(error, f"writing files of shoot {shoot_id}")
            self._status[shoot_id] = replace(
                self.status(shoot_id), by_itself=by_itself, result=None, notice=notice
            )
        finally:
            self._status[shoot_id] = replace(self.status(shoot_id), running=False)
            self._events.tell(shoot_id, "files")
            self._events.tell(shoot_id, "progress")

    def close(self) -> None:
        """Stop; what is not written yet is written after the next start.

        The server is about to end.
        """
        with self._wake:
            self._closing = True
            self._wake.notify()
        self._jobs.close()
        self._thread.join(10)
