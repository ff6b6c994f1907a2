"""Names in folders that are held open: what is done to a file is done in the folder where it was
found, whatever has taken that folder's place since. Below the folders that a person opened or
chose, no link is followed.

Where a system knows no handles on folders (Windows), all goes by paths.
"""

from __future__ import annotations

import contextlib
import ctypes
import errno
import os
import stat
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, BinaryIO, Final

from winnow.say import say

_BY_HANDLES: Final = {
    os.open,
    os.stat,
    os.rename,
    os.link,
    os.unlink,
    os.mkdir,
} <= os.supports_dir_fd
_NO_FOLLOW: Final = getattr(os, "O_NOFOLLOW", 0)
_FOLDER: Final = getattr(os, "O_DIRECTORY", 0) | getattr(os, "O_CLOEXEC", 0)
# Folders on the way need not be readable.
_ON_THE_WAY: Final = getattr(os, "O_PATH", os.O_RDONLY)
# Of renameat2(2).
_AT_CWD: Final = -100
_NO_REPLACE: Final = 1


@dataclass(frozen=True, slots=True)
class Entry:
    """A name in a folder that is held open.

    Whether anything has the name is another matter. Each call raises OSError. ``folder``: the
    handle on the folder; None where the system has none.
    """

    path: Path
    folder: int | None

    @property
    def _at(self) -> str | Path:
        return self.path if self.folder is None else self.path.name

    def beside(self, name: str) -> Entry:
        """Another name in the same folder."""
        return Entry(self.path.with_name(name), self.folder)

    def look(self) -> os.stat_result | None:
        """What the file system says of the name itself, be it a link; None where nothing has it."""
        with _about(self.path):
            try:
                return os.stat(self._at, dir_fd=self.folder, follow_symlinks=False)
            except FileNotFoundError:
                return None

    def check_no_link(self) -> os.stat_result | None:
        """``look``, where it must be no link."""
        there = self.look()
        if there and stat.S_ISLNK(there.st_mode):  # guard: links that would be moved or written
            raise _leads_elsewhere(self.path)
        return there

    def opened(self) -> BinaryIO:
        """The file, to be read. What is no plain file is refused."""
        with _about(self.path):
            file = open(self.path, "rb", opener=self._open)  # noqa: SIM115
        if stat.S_ISREG(os.fstat(file.fileno()).st_mode):
            return file
        file.close()
        raise OSError(errno.EINVAL, say("it is no plain file"), str(self.path))

    def created(self, buffering: int = 0) -> BinaryIO:
        """A new file, to be written; as a rule without a buffer of ours, so that each refusal comes
        where it belongs."""
        with _about(self.path):
            return open(self.path, "xb", buffering=buffering, opener=self._open)

    def _open(self, _path: str, flags: int) -> int:
        # Not waiting: a pipe in its place would never answer.
        # guard: links that took a file's place
        flags |= _NO_FOLLOW | getattr(os, "O_NONBLOCK", 0)
        return os.open(self._at, flags, 0o666, dir_fd=self.folder)

    def set_times(self, ns: int) -> None:
        """Set the times of the last use and the last change, in nanoseconds since 1970."""
        with _about(self.path):
            os.utime(
                self._at, ns=(ns, ns), dir_fd=self.folder,
                follow_symlinks=os.utime not in os.supports_follow_symlinks,
            )  # fmt: skip

    def replace(self, other: Entry) -> None:
        """Take another name, also one that a file has: that file is gone then."""
        with _about(self.path):
            os.replace(self._at, other._at, src_dir_fd=self.folder, dst_dir_fd=other.folder)

    def link(self, other: Entry) -> None:
        """Give the file one more name, never one that is taken."""
        with _about(self.path):
            os.link(
                self._at, other._at,
                src_dir_fd=self.folder, dst_dir_fd=other.folder, follow_symlinks=False,
            )  # fmt: skip

    def unlink(self) -> None:
        """Take the name away."""
        with _about(self.path):
            os.unlink(self._at, dir_fd=self.folder)

    def sync(self) -> None:
        """Make the folder's list of names durable, where its file system can."""
        with contextlib.suppress(OSError):
            where = self.path.parent if self.folder is None else "."
            handle = os.open(where, os.O_RDONLY | _FOLDER, dir_fd=self.folder)
            try:
                os.fsync(handle)
            finally:
                os.close(handle)

    def device(self) -> int:
        """The disk that the folder lies on."""
        return os.stat(self.path.parent if self.folder is None else self.folder).st_dev

    def names(self) -> list[str]:
        """All names in the folder."""
        if self.folder is None:
            return os.listdir(self.path.parent)
        with _about(self.path.parent):
            handle = os.open(".", os.O_RDONLY | _FOLDER, dir_fd=self.folder)
        try:
            return os.listdir(handle)
        finally:
            os.close(handle)


@contextlib.contextmanager
def entry(path: Path, roots: Collection[Path] = (), *, make: bool = False) -> Iterator[Entry]:
    """A name in its folder, which is held open meanwhile.

    ``roots``: the folders that a person opened or chose; the way from there is gone by handles, and
    no link on it is followed. ``make``: folders that are not there are made. Raises OSError.
    """
    folder = _open_folder(path, root_of(path, roots), make=make) if _BY_HANDLES else None
    if make and folder is None:
        path.parent.mkdir(parents=True, exist_ok=True)
    try:
        yield Entry(path, folder)
    finally:
        if folder is not None:
            os.close(folder)


def root_of(path: Path, roots: Collection[Path]) -> Path:
    """The innermost of some folders that a file lies in; its own folder, where that is none of
    them."""
    around = [root for root in roots if root != path and path.is_relative_to(root)]
    return max(around, key=lambda root: len(root.parts), default=path.parent)


def _open_folder(path: Path, root: Path, *, make: bool) -> int:
    """A handle on a file's folder, from ``root`` down by handles: what is found is what is used."""
    if make:
        root.mkdir(parents=True, exist_ok=True)
    handle = os.open(root, _ON_THE_WAY | _FOLDER)
    for name in path.parent.relative_to(root).parts:
        try:
            if make:
                with contextlib.suppress(FileExistsError):
                    os.mkdir(name, dir_fd=handle)
            # guard: links that took a folder's place
            below = os.open(name, _ON_THE_WAY | _FOLDER | _NO_FOLLOW, dir_fd=handle)
        except OSError as error:
            if error.errno in (errno.ELOOP, errno.ENOTDIR):
                raise _leads_elsewhere(path) from None
            raise OSError(error.errno, error.strerror, str(path)) from None
        finally:
            os.close(handle)
        handle = below
    return handle


def make_folder(folder: Path, roots: Collection[Path]) -> None:
    """Make a folder, and those above it that are not there. Raises OSError."""
    with entry(folder / "any", roots, make=True):
        pass


def check_in_place(path: Path, roots: Collection[Path]) -> None:
    """See whether a file that is about to be moved is in the folder where it was found: neither it
    nor a folder on the way is a link. One that is not there is nobody's. Raises OSError."""
    with entry(path, roots) as here:
        here.check_no_link()


@contextlib.contextmanager
def _about(path: Path) -> Iterator[None]:
    """Errors name the whole path, and say that a link leads elsewhere."""
    try:
        yield
    except OSError as error:
        if error.errno == errno.ELOOP:
            raise _leads_elsewhere(path) from None
        raise OSError(error.errno, error.strerror, str(path)) from None


def _leads_elsewhere(path: Path) -> OSError:
    return OSError(errno.ELOOP, say("a link leads elsewhere"), str(path))


def open_file(path: Path, *roots: Path) -> BinaryIO:
    """Open a picture or sidecar for reading, as it was found in an opened folder.

    Raises OSError where a link has taken its place since, or that of a folder on the way to it, and
    where it is no plain file: what lies elsewhere is not shown, copied or changed.
    """
    with entry(path, roots) as here:
        return here.opened()


def read_file(path: Path, *roots: Path) -> bytes:
    """All of what ``open_file`` opens."""
    with open_file(path, *roots) as file:
        return file.read()


def renamed_new(source: Entry, target: Entry) -> bool:
    """Rename a file, but never over one that is there (Linux, renameat2); False where that is not
    known here.

    Raises FileExistsError, OSError.
    """
    rename = _renameat2()
    if rename is None:
        return False
    here, there = (_AT_CWD if e.folder is None else e.folder for e in (source, target))
    flags = _NO_REPLACE  # guard: files that are there
    if rename(here, os.fsencode(source._at), there, os.fsencode(target._at), flags) == 0:
        return True
    number = ctypes.get_errno()
    # Not by this system, or not by this file system.
    if number in (errno.EINVAL, errno.ENOSYS, errno.ENOTSUP, errno.EPERM):
        return False
    raise OSError(number, os.strerror(number), str(source.path), None, str(target.path))


@cache
def _renameat2() -> Any:
    try:
        call = ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError, TypeError):
        return None
    call.argtypes = (ctypes.c_int, ctypes.c_char_p, ctypes.c_int, ctypes.c_char_p, ctypes.c_uint)
    return call
