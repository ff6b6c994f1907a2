"""Worker processes that survive what is in a picture file."""

from __future__ import annotations

import atexit
import multiprocessing
import os
import tempfile
import threading
import time
from collections.abc import Callable
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from functools import cache
from multiprocessing.context import BaseContext
from pathlib import Path
from typing import TypeVar

from winnow.work.workers import face_tasks, hint_tasks, part_tasks, room, tasks

T = TypeVar("T")


class NoWorkersError(Exception):
    """The workers are gone and nobody starts others; says what to do next."""


class Workers:
    """A pool of processes that is made anew when one of them dies or hangs.

    ``make`` may give any other executor with the same interface. ``nice``: how much the processes
    stand back behind others.
    """

    def __init__(
        self,
        make: Callable[[], Executor] | None = None,
        count: int | None = None,
        nice: int = 5,
    ) -> None:
        self._nice = nice
        self.count = count or os.cpu_count() or 2
        self.are_here = make is None
        self._make = make or self._pool
        self._lock = threading.Lock()
        self._executor: Executor | None = None
        # When a job was submitted last, in s of the monotonic clock.
        self.used = time.monotonic()

    def _pool(self) -> Executor:
        # Read when a process loads its libraries; see tasks.start_worker for why.
        for library in ("OPENBLAS", "OMP"):
            os.environ.setdefault(f"{library}_NUM_THREADS", "1")
        return ProcessPoolExecutor(
            self.count, _context(), tasks.start_worker, (self._nice, _shared_room())
        )

    def submit(self, function: Callable[..., T], *args: object) -> Future[T]:
        """Run a function in a worker. Raises NoWorkersError where there are none any more."""
        self.used = time.monotonic()
        with self._lock:
            for _ in range(2):
                if self._executor is None:
                    self._executor = self._make()
                try:
                    return self._executor.submit(function, *args)
                except RuntimeError:
                    # The pool broke since: its futures have told so to whoever waits for them.
                    self._executor = None
        raise RuntimeError("no worker process can be started")

    def warm(self) -> None:
        """Start every worker now, so that the first pictures don't wait for it."""
        for _ in range(self.count):
            self.submit(tasks.ready)

    @property
    def are_started(self) -> bool:
        """Whether there are processes, at work or idle."""
        return self._executor is not None

    def restart(self) -> None:
        """End every worker at once; the next job starts new ones."""
        with self._lock:
            executor, self._executor = self._executor, None
        if executor is not None:
            for process in list((getattr(executor, "_processes", None) or {}).values()):
                process.kill()
            _shut_down(executor, wait=False)

    def close(self) -> None:
        """End the workers and wait for them."""
        with self._lock:
            executor, self._executor = self._executor, None
        if executor is not None:
            for process in list((getattr(executor, "_processes", None) or {}).values()):
                process.terminate()
            _shut_down(executor, wait=True)


@cache
def _context() -> BaseContext:
    """How workers begin: not forked from the server, which has threads, but from a process that has
    done nothing except load what all of them need. Loaded by each of them it takes a second, and
    memory of its own each time."""
    if "forkserver" not in multiprocessing.get_all_start_methods():  # Windows
        return multiprocessing.get_context("spawn")
    context = multiprocessing.get_context("forkserver")
    preloaded = (tasks, face_tasks, part_tasks, hint_tasks)
    context.set_forkserver_preload([module.__name__ for module in preloaded])
    return context


@cache
def _shared_room() -> tuple[Path, int]:
    """The file by which all worker processes of this one share the machine's memory, and how many
    pieces it has."""
    number, name = tempfile.mkstemp(prefix="winnow-room-")
    os.close(number)
    file = Path(name)
    atexit.register(file.unlink, missing_ok=True)
    # Those that analyse, those behind, and two for close looks.
    processes = 2 * (os.cpu_count() or 2) + 2
    return file, room.pieces_for(room.memory_of_machine(), processes)


def _shut_down(executor: Executor, *, wait: bool) -> None:
    try:
        executor.shutdown(wait=wait, cancel_futures=True)
    except TypeError:
        # Some executors don't know how to cancel; what they still do is not waited for.
        executor.shutdown(wait=wait)
