"""A disk that loses what was not synced when the power goes.

The model: a file's content is safe once the file was synced after its last writing; a name (made,
linked, renamed or removed) once its folder was synced after that. What is not safe may be there, or
not: content from any byte on reads as zeros, and of the changes of names all from some moment on
never were, as with a journalling file system. The database is left to SQLite, which syncs each
transaction before it counts (synchronous = FULL).
"""

from __future__ import annotations

import builtins
import contextlib
import io
import json
import os
import random
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import Any, Final

from tests.faults.handles import path_of
from winnow.photos import entries

_REAL_OPEN: Final = io.open
_PATCHED: Final = ("rename", "link", "unlink", "fsync", "open")


class Disk:
    """What lies below ``root``, with a log of what is not safe in the folder ``log``."""

    def __init__(self, root: Path, log: Path, seed: int) -> None:
        self._root = str(root)
        self._log = log
        self._seed = seed
        self._kept = 0
        for left in log.glob("*"):
            left.unlink()
        log.mkdir(exist_ok=True)

    def _note(self, what: str, **more: Any) -> None:
        with _REAL_OPEN(self._log / "log", "a") as file:
            file.write(json.dumps({"what": what, **more}) + "\n")

    def _keep(self, path: str) -> str:
        """Keep what a name stands for now, which is about to be lost; "" where there is nothing."""
        if not os.path.lexists(path):
            return ""
        self._kept += 1
        kept = self._log / f"kept {self._kept}"
        with _REAL_OPEN(path, "rb") as source, _REAL_OPEN(kept, "wb") as target:
            target.write(source.read())
        stat = os.stat(path)
        os.utime(kept, ns=(stat.st_mtime_ns, stat.st_mtime_ns))
        return str(kept)

    def _is_ours(self, path: object) -> bool:
        return isinstance(path, (str, os.PathLike)) and os.fspath(path).startswith(self._root)

    @contextlib.contextmanager
    def watched(self) -> Iterator[None]:
        """Log every change that Python makes below the root.

        It is for a child that ends: nothing is put back.
        """
        os_: Any = os
        self._real = {name: getattr(os, name) for name in _PATCHED}
        os_.rename = os_.replace = self._rename
        os_.link = self._link
        os_.unlink = os_.remove = self._unlink
        os_.fsync = self._fsync
        os_.open = self._os_open
        io.open = builtins.open = self._open
        found: Any = entries._renameat2()
        if found is not None:
            entries._renameat2 = lambda: partial(self._renameat2, found)  # type: ignore[assignment]
        yield

    def _open(self, file: Any, mode: str = "r", *rest: Any, **more: Any) -> Any:
        if "opener" in more:  # which comes by below
            return _REAL_OPEN(file, mode, *rest, **more)
        new = self._is_ours(file) and not os.path.lexists(file)
        opened = _REAL_OPEN(file, mode, *rest, **more)
        if self._is_ours(file) and set(mode) & set("wxa+"):
            self._opened(str(file), os.fstat(opened.fileno()).st_ino, new)
        return opened

    def _rename(self, source: Any, target: Any, *rest: Any, **more: Any) -> None:
        start = path_of(source, more.get("src_dir_fd"))
        end = path_of(target, more.get("dst_dir_fd"))
        kept = self._keep(end) if self._is_ours(end) else ""
        self._real["rename"](source, target, *rest, **more)
        self._renamed(start, end, kept)

    def _renameat2(
        self, real: Any, here: int, source: bytes, there: int, target: bytes, flags: int
    ) -> int:
        result: int = real(here, source, there, target, flags)
        if result == 0:
            self._renamed(path_of(source, here), path_of(target, there), "")
        return result

    def _link(self, source: Any, target: Any, *rest: Any, **more: Any) -> None:
        self._real["link"](source, target, *rest, **more)
        end = path_of(target, more.get("dst_dir_fd"))
        self._note("new", path=end, folders=_folders(end))

    def _unlink(self, path: Any, *rest: Any, **more: Any) -> None:
        whole = path_of(path, more.get("dir_fd"))
        kept = self._keep(whole) if self._is_ours(whole) else ""
        self._real["unlink"](path, *rest, **more)
        if kept:
            self._note("gone", path=whole, kept=kept, folders=_folders(whole))

    def _fsync(self, handle: int) -> None:
        self._real["fsync"](handle)
        self._note("synced", number=os.fstat(handle).st_ino)

    def _os_open(self, path: Any, flags: int, *rest: Any, **more: Any) -> int:
        whole = path_of(path, more.get("dir_fd"))
        new = self._is_ours(whole) and not os.path.lexists(whole)
        handle: int = self._real["open"](path, flags, *rest, **more)
        if self._is_ours(whole) and flags & (os.O_WRONLY | os.O_RDWR):
            self._opened(whole, os.fstat(handle).st_ino, new)
        return handle

    def _opened(self, path: str, number: int, new: bool) -> None:
        if new:
            self._note("new", path=path, folders=_folders(path))
        self._note("dirty", number=number)

    def _renamed(self, source: str, target: str, kept: str) -> None:
        if self._is_ours(source) or self._is_ours(target):
            folders = _folders(source) + _folders(target)
            self._note("renamed", path=target, source=source, kept=kept, folders=folders)

    def lose(self) -> str:
        """The power is gone: some of what is not safe is lost. Returns how much, in words."""
        log = self._log / "log"
        noted = [json.loads(line) for line in log.read_text().splitlines()] if log.exists() else []
        rng = random.Random(self._seed)
        dirty: set[int] = set()
        unsafe: list[dict[str, Any]] = []
        for note in noted:
            if note["what"] == "synced":
                dirty.discard(note["number"])
                unsafe = [change for change in unsafe if note["number"] not in change["folders"]]
            elif note["what"] == "dirty":
                dirty.add(note["number"])
            else:
                unsafe.append(note)
        lost = unsafe[rng.randrange(len(unsafe) + 1) :]
        spoilt = 0
        for path in Path(self._root).rglob("*"):
            if path.is_file() and path.stat().st_ino in dirty and rng.random() < 0.7:
                spoilt += 1
                size = path.stat().st_size
                at = rng.randrange(size + 1)
                data = path.read_bytes()[:at]
                path.write_bytes(data + bytes(size - at) * (rng.random() < 0.5))
        for change in reversed(lost):
            _undo(change)
        return f"{len(lost)} of {len(unsafe)} changes of names lost, {spoilt} contents: {lost}"


def _folders(path: object) -> list[int]:
    return [os.stat(os.path.dirname(str(path))).st_ino]


def _undo(change: dict[str, Any]) -> None:
    path = change["path"]
    if change["what"] == "new":
        with contextlib.suppress(FileNotFoundError):
            os.unlink(path)
        return
    if change["what"] == "renamed":
        os.makedirs(os.path.dirname(change["source"]), exist_ok=True)
        os.rename(path, change["source"])
    if change["kept"]:
        os.makedirs(os.path.dirname(path), exist_ok=True)
        os.rename(change["kept"], path)
