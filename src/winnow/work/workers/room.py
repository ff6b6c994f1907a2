"""Room in memory: all worker processes together take no more of it than the machine can give.

A picture claims what it is about to take once it is known what it says of itself, and waits until
that is free.
"""

from __future__ import annotations

import contextlib
import os
import time
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Final, ParamSpec, TypeVar

from winnow.photos import bounds

try:
    import fcntl
except ImportError:  # Windows: each process takes what it needs
    fcntl = None  # type: ignore[assignment]

P = ParamSpec("P")
T = TypeVar("T")
PIECE: Final = 64_000_000  # bytes
# What one process may take, with its libraries, in bytes: the system refuses more.
MOST: Final = 2_300_000_000
_SHARE: Final = 0.75  # of the machine's memory
_IDLE: Final = 120_000_000  # of a process that does nothing, in bytes
_UNKNOWN: Final = 8_000_000_000  # bytes of a machine that doesn't say what it has
_PAUSE_S: Final = 0.02


def memory_of_machine() -> int:
    """The memory of this machine in bytes, or what the group of processes may take of it."""
    if not hasattr(os, "sysconf"):  # Windows
        return _UNKNOWN
    memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    with contextlib.suppress(OSError, ValueError):
        memory = min(memory, int(Path("/sys/fs/cgroup/memory.max").read_text()))
    return memory


def pieces_for(memory: int, processes: int) -> int:
    """How many pieces there are for so many worker processes; one picture of any kind always has
    room."""
    return max(MOST, int(_SHARE * memory) - processes * _IDLE) // PIECE


class Room:
    """Pieces of memory that processes claim by locks on the bytes of a file: who dies gives them
    back.

    ``file`` is there already; ``pieces``: how many there are.
    """

    def __init__(self, file: Path, pieces: int) -> None:
        self._file = os.open(file, os.O_RDWR | os.O_CLOEXEC)
        self._pieces = pieces
        self._held: set[int] = set()

    def claim(self, size: int) -> None:
        """Wait until so many bytes are free, and hold them until ``release``; less than is held
        needs no waiting."""
        wanted = min(self._pieces, -(-size // PIECE))
        if wanted <= len(self._held):
            return
        # Nobody waits with anything in hand, and one at a time: two that have a half each would
        # wait for ever.
        self.release()
        fcntl.lockf(self._file, fcntl.LOCK_EX, 1, self._pieces)
        try:
            while not self._gather(wanted):
                time.sleep(_PAUSE_S)
        finally:
            fcntl.lockf(self._file, fcntl.LOCK_UN, 1, self._pieces)

    def _gather(self, wanted: int) -> bool:
        for piece in range(self._pieces):
            if len(self._held) >= wanted:
                break
            if piece not in self._held:
                with contextlib.suppress(OSError):
                    fcntl.lockf(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB, 1, piece)
                    self._held.add(piece)
        return len(self._held) >= wanted

    def release(self) -> None:
        """Give back what is held."""
        for piece in self._held:
            fcntl.lockf(self._file, fcntl.LOCK_UN, 1, piece)
        self._held.clear()

    def close(self) -> None:
        """Give back everything."""
        os.close(self._file)


_of_process: Room | None = None


def share(file: Path, pieces: int) -> None:
    """Let this process claim room with the others that share a file."""
    global _of_process
    if fcntl is None:
        return
    _of_process = Room(file, pieces)
    bounds.claim = _of_process.claim


def given_back(work: Callable[P, T]) -> Callable[P, T]:
    """Give back what a job claimed when it has ended."""

    @wraps(work)
    def working(*arguments: P.args, **named: P.kwargs) -> T:
        try:
            return work(*arguments, **named)
        finally:
            if _of_process is not None:
                _of_process.release()

    return working
