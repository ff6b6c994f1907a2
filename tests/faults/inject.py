"""Faults at every boundary of a step: between any two calls by which Python reads or changes what
lies on a disk.

A step runs in a forked child. A profile function sees each call to the system, to an open file and
to SQLite just before it is made; there the child is killed, or the call answers with an error in
place of what it does.
"""

from __future__ import annotations

import errno
import itertools
import os
import signal
import sqlite3
import sys
import threading
import traceback
from collections.abc import Callable
from pathlib import Path
from types import FrameType
from typing import Any, Final

_CHANGES: Final = frozenset(
    (
        "open", "write", "rename", "replace", "link", "symlink", "unlink", "remove", "mkdir",
        "rmdir", "fsync",
        "utime", "chmod", "chown", "truncate", "setxattr", "execute", "executemany",
        "executescript", "backup",
        "connect", "renamed_new", "flush",
    )
)  # fmt: skip
_READS: Final = frozenset(
    ("read", "readinto", "stat", "lstat", "scandir", "listdir", "readlink", "fetchone", "fetchall",
    "statvfs")
)  # fmt: skip
_MODULES: Final = frozenset(("posix", "io", "_io", "_sqlite3", "sqlite3"))
# Calls of these are the interpreter's and the tests' own.
_NOT_FROM: Final = ("<frozen", "/logging/", "/tests/", "/importlib/", "/linecache.py",
"/traceback.py")  # fmt: skip

# What disks answer.
ERRORS: Final = (errno.EIO, errno.ENOSPC, errno.EACCES, errno.EROFS, errno.ENODEV)


class Fault:
    """What is to happen before the call of number ``at``, counted from 0: a kill, or the error
    ``number``; nothing where ``at`` is None. ``seen``: how many calls there were."""

    def __init__(self, at: int | None = None, number: int = 0, *, reads: bool = False) -> None:
        self.at = at
        self.number = number
        self.names = _CHANGES | _READS if reads else _CHANGES
        self._count = itertools.count()
        self.seen = 0
        self.hit = ""

    def _before(self, frame: FrameType, event: str, function: Any) -> None:
        name, module = _called(frame, event, function)
        if name not in self.names or module not in _MODULES:
            return
        if any(part in frame.f_code.co_filename for part in _NOT_FROM):
            return
        number = next(self._count)
        self.seen = number + 1
        if number != self.at:
            return
        self.hit = f"{name} in {Path(frame.f_code.co_filename).name}:{frame.f_lineno}"
        self.strike(module)

    def strike(self, module: str) -> None:
        """What happens there."""
        if not self.number:
            os.kill(os.getpid(), signal.SIGKILL)
        # Here ends the watching: a profile function that raises is taken out.
        raise _error(module, self.number)

    def __enter__(self) -> Fault:
        threading.setprofile(self._before)
        sys.setprofile(self._before)
        return self

    def __exit__(self, *_: object) -> None:
        sys.setprofile(None)
        threading.setprofile(None)
        self.at = None


def _called(frame: FrameType, event: str, function: Any) -> tuple[str, str]:
    """The name and the module of what is about to be called."""
    if event == "call" and frame.f_code.co_name == "renamed_new":
        return "renamed_new", "posix"  # which goes to the system without a function of C's
    if event != "c_call":
        return "", ""
    owner = getattr(function, "__self__", None)
    module = function.__module__ or type(owner).__module__
    return function.__name__, module


def _error(module: str, number: int) -> Exception:
    if "sqlite" not in module:
        return OSError(number, os.strerror(number))
    code = {
        errno.EIO: sqlite3.SQLITE_IOERR,
        errno.ENOSPC: sqlite3.SQLITE_FULL,
        errno.EROFS: sqlite3.SQLITE_READONLY,
        errno.EACCES: sqlite3.SQLITE_CANTOPEN,
    }.get(number, sqlite3.SQLITE_IOERR)
    error = sqlite3.OperationalError("disk I/O error")
    error.sqlite_errorcode = code
    return error


def in_child(work: Callable[[], object], log: Path) -> int:
    """Do something in a forked child; its status, as of ``os.waitpid``.

    What it raises is written to ``log``.
    """
    child = os.fork()
    if child == 0:
        status = 1
        try:
            with log.open("w") as written:
                try:
                    work()
                    status = 0
                except BaseException:
                    traceback.print_exc(file=written)
        finally:
            os._exit(status)
    _, status = os.waitpid(child, 0)
    return status
