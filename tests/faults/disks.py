"""Disks that fail for as long as a step goes on: full ones, read-only ones, ones that lie.

They are made of Python's own calls, replaced in a forked child for every path below some folders;
the database, which lies elsewhere, is none of them. What such a disk does by itself, by C code of
others, is not seen.
"""

from __future__ import annotations

import builtins
import ctypes
import errno
import io
import os
import shutil
import stat
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, Final

from tests.faults.handles import path_of
from winnow.photos import entries

_REAL_OPEN: Final = io.open
_FOLDERS: Final = ("mkdir", "rmdir")
_NAMES: Final = ("rename", "replace", "link", "symlink", "unlink", "remove")
_LOOKS: Final = ("stat", "lstat", "scandir", "listdir")
_ABOUT: Final = ("utime", "chmod", "chown", "setxattr")


@dataclass(frozen=True, slots=True)
class Disk:
    """One kind.

    ``refuses``: the error of calls by their names, also "write", "read", "sync", "sync folder",
    "new" (a file opened to be written). ``after``: bytes that are written before it refuses.
    ``harmless``: whatever is done there goes through. ``read``, ``written``: what becomes of the
    first bytes of a file at every third opening, or at every writing; ``shorter``: a write takes a
    part of them only.
    """

    name: str
    refuses: dict[str, int]
    after: int = 0
    harmless: bool = False
    read: Callable[[bytes], bytes] | None = None
    written: Callable[[bytes], bytes] | None = None
    shorter: bool = False


def _every(number: int, *more: str) -> dict[str, int]:
    return dict.fromkeys((*_FOLDERS, *_NAMES, "new", *more), number)


def _flipped(data: bytes) -> bytes:
    """One bit in the middle is another one."""
    at = len(data) // 2
    return data[:at] + bytes([data[at] ^ 16]) + data[at + 1 :] if data else data


def _cut(data: bytes) -> bytes:
    return data[: len(data) // 2]


KINDS: Final = (
    Disk("without hard links", {"link": errno.EPERM, "renameat2": errno.EINVAL}, harmless=True),
    Disk("that takes a few bytes at a time", {}, shorter=True, harmless=True),
    Disk("that can't sync folders", {"sync folder": errno.EINVAL}, harmless=True),
    Disk("that keeps no times, owners or attributes", dict.fromkeys(_ABOUT, errno.EPERM)),
    Disk("full", {"write": errno.ENOSPC, "mkdir": errno.ENOSPC, "link": errno.ENOSPC}),
    Disk("full after a while", {"write": errno.ENOSPC}, after=1500),
    Disk("with a quota", {"write": errno.EDQUOT, "new": errno.EDQUOT}, after=700),
    Disk("that can only be read", _every(errno.EROFS, *_ABOUT)),
    Disk("without permission", _every(errno.EACCES)),
    Disk("whose files can’t be read", {"read": errno.EIO}),
    Disk("that can't sync", {"sync": errno.EIO}),
    Disk("that goes away", _every(errno.EIO, *_LOOKS, "write", "read", "sync", "open"), after=1000),
    Disk("that reads too little", {}, read=_cut),
    Disk("that flips a bit on reading", {}, read=_flipped),
    Disk("that flips a bit on writing", {}, written=_flipped),
)


class Failing:
    """Makes some folders lie on a disk of a kind. It is for a child that ends: nothing is put
    back."""

    def __init__(self, kind: Disk, roots: list[Path]) -> None:
        self.kind = kind
        self._roots = tuple(f"{root}" for root in roots)
        self._left = kind.after
        self.openings: dict[Any, int] = {}

    def lies(self, path: object) -> bool:
        return path_of(path).startswith(self._roots)

    def begin(self) -> None:
        os_: Any = os
        for name in (*_FOLDERS, *_NAMES, *_LOOKS, *_ABOUT):
            if name in self.kind.refuses:
                setattr(os_, name, partial(self._called, name, getattr(os, name)))
        if "utime" in self.kind.refuses:
            setattr(shutil, "copystat", self._copystat)  # noqa: B010
        os_.fsync = partial(self._fsync, os.fsync)
        os_.open = partial(self._os_open, os.open)
        os_.fdopen = io.open = builtins.open = self._open
        found = entries._renameat2()
        if found is not None:
            renames = partial(self._renameat2, found)
            setattr(entries, "_renameat2", lambda: renames)  # noqa: B010

    def refuse(self, name: str, path: object, count: int = 0) -> None:
        number = self.kind.refuses.get(name)
        if number is None or not self.lies(path):
            return
        self._left -= count
        if self._left <= 0:
            raise OSError(number, os.strerror(number), str(path))

    def _called(self, name: str, real: Any, path: Any, *rest: Any, **more: Any) -> Any:
        self.refuse(name, path_of(path, more.get("src_dir_fd", more.get("dir_fd"))))
        if name in _NAMES and rest:
            self.refuse(name, path_of(rest[0], more.get("dst_dir_fd")))
        return real(path, *rest, **more)

    def _copystat(self, source: Any, target: Any, **_: Any) -> None:
        self.refuse("utime", target)

    def _fsync(self, real: Any, handle: int) -> None:
        is_folder = stat.S_ISDIR(os.fstat(handle).st_mode)
        self.refuse("sync folder" if is_folder else "sync", handle)
        real(handle)

    def _renameat2(
        self, real: Any, here: int, source: bytes, there: int, target: bytes, flags: int
    ) -> int:
        number = self.kind.refuses.get("renameat2") or self.kind.refuses.get("rename")
        ends = path_of(source, here), path_of(target, there)
        if number and self._left <= 0 and any(self.lies(end) for end in ends):
            ctypes.set_errno(number)
            return -1
        result: int = real(here, source, there, target, flags)
        return result

    def _os_open(self, real: Any, path: Any, flags: int, *rest: Any, **more: Any) -> int:
        self.refuse("open", path_of(path, more.get("dir_fd")))
        handle: int = real(path, flags, *rest, **more)
        return handle

    def _open(
        self, file: Any, mode: str = "r", buffering: int = -1, *rest: Any, **more: Any
    ) -> Any:
        if not self.lies(file):
            return _REAL_OPEN(file, mode, buffering, *rest, **more)
        self.refuse("open", file)
        writes = bool(set(mode) & set("wxa+"))
        if writes:
            self.refuse("new", file)
        raw = _Raw(file, mode.replace("b", "").replace("t", ""), self, more.pop("opener", None))
        if buffering == 0:
            return raw
        buffered: Any = (io.BufferedWriter if writes else io.BufferedReader)(raw)
        return buffered if "b" in mode else io.TextIOWrapper(buffered, *rest, **more)


class _Raw(io.FileIO):
    """A file on a failing disk."""

    def __init__(self, file: Any, mode: str, disk: Failing, opener: Any) -> None:
        super().__init__(file, mode, opener=opener)
        self._disk = disk
        openings = disk.openings
        openings[self.name] = openings.get(self.name, 0) + 1
        self._began = bool(openings[self.name] % 3)

    def _read(self, data: bytes | None) -> bytes:
        assert data is not None
        self._disk.refuse("read", self.name)
        if self._disk.kind.read and data and not self._began:
            self._began = True
            return self._disk.kind.read(data)
        return data

    def readinto(self, buffer: Any) -> int:
        data = self._read(super().read(len(buffer)))
        buffer[: len(data)] = data
        return len(data)

    def read(self, size: int | None = -1) -> bytes:
        return self.readall() if size is None or size < 0 else self._read(super().read(size))

    def readall(self) -> bytes:
        return self._read(super().readall())

    def write(self, data: Any) -> int:
        given = bytes(data)
        self._disk.refuse("write", self.name, len(given))
        if self._disk.kind.shorter:
            given = given[:100]
        if self._disk.kind.written:
            given = self._disk.kind.written(given)
        return super().write(given)
