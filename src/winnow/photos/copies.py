"""Verified copies: written under another name, read back, compared, and only then named."""

from __future__ import annotations

import contextlib
import errno
import os
import uuid
from collections.abc import Callable, Collection, Iterator, Sequence
from pathlib import Path
from typing import BinaryIO, Final

from blake3 import blake3

from winnow.photos.entries import Entry, entry, renamed_new
from winnow.photos.refusals import CopyError, SourceError, reason, taken
from winnow.say import say

_BLOCK: Final = 4 * 1024 * 1024
# What file systems without hard links answer, or without a rename that refuses (FAT, some network
# disks).
NO_LINKS: Final = (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK)


PART_PREFIX: Final = ".winnow-part-"


def file_hash(path: Path, roots: Collection[Path] = ()) -> str:
    """BLAKE3 of a file's content.

    Raises OSError, also where a disk gives less than it says the file has.
    """
    with entry(path, roots) as here:
        return hash_of(here)


def hash_of(entry: Entry) -> str:
    """``file_hash`` of a name in a folder that is held open. Raises OSError."""
    digest = blake3()
    read = 0
    with entry.opened() as source:
        size = os.fstat(source.fileno()).st_size
        while block := source.read(_BLOCK):
            digest.update(block)
            read += len(block)
    if read < size:
        raise OSError(errno.EIO, os.strerror(errno.EIO), str(entry.path))
    return str(digest.hexdigest())


def copy_verified(
    source: Path,
    target: Path,
    tick: Callable[[int], None] = lambda c: None,
    roots: Collection[Path] = (),
    planned: int | None = None,
) -> str:
    """Copy a file, read the copy back from the disk, and return its BLAKE3.

    ``planned``: bytes that it should have. The copy keeps the time of the last change. Raises
    CopyError when the target is there already, when the two differ, or when the disk refuses; then
    nothing is left behind.
    """
    with contextlib.ExitStack() as folders:
        try:
            here = folders.enter_context(entry(source, roots))
        except OSError as error:
            raise SourceError(reason(error, source.name)) from error
        try:
            there = folders.enter_context(entry(target, roots))
        except OSError as error:
            raise CopyError(reason(error, source.name)) from error
        return copy_entry(here, there, tick, planned)


def copy_entry(
    here: Entry,
    there: Entry,
    tick: Callable[[int], None] = lambda c: None,
    planned: int | None = None,
) -> str:
    """``copy_verified`` between two names in folders that are held open.

    Raises CopyError, SourceError.
    """
    name = here.path.name
    try:
        opened = here.opened()
    except OSError as error:
        raise SourceError(reason(error, name)) from error
    with opened:
        stat = os.fstat(opened.fileno())
        check_as_planned(name, stat, planned)
        part = _Part(name)
        part.begin(there)
        digest = _fill([part], opened, stat.st_mtime_ns, tick, stat.st_size)
    if part.refusal:
        raise CopyError(part.refusal)
    return digest


def check_as_planned(name: str, stat: os.stat_result | None, planned: int | None) -> None:
    """See whether a file is still as large as when a step with it was planned. Raises CopyError."""
    # guard: files that were changed since a step was planned
    if stat and planned is not None and stat.st_size != planned:
        raise CopyError(say("{name} was changed since this was planned. Plan it again.", name=name))


def copy_to_each(
    source: BinaryIO,
    name: str,
    mtime_ns: int,
    targets: Sequence[Path],
    tick: Callable[[int], None] = lambda c: None,
    size: int | None = None,
    roots: Collection[Path] = (),
) -> tuple[str, list[str]]:
    """Copy an open file to several places, reading it once; each copy is read back and compared.
    ``size``: bytes that it should have.

    Returns the BLAKE3 of what was read and, for each target, why there is no copy ("" if there is
    one). A copy that did not come about leaves nothing behind. Raises SourceError when the source
    can't be read to its end; then there is no copy at all.
    """
    with contextlib.ExitStack() as folders:
        parts = []
        for target in targets:
            part = _Part(name)
            with part.refusing():
                part.begin(folders.enter_context(entry(target, roots)))
            parts.append(part)
        digest = _fill(parts, source, mtime_ns, tick, size)
        return digest, [part.refusal for part in parts]


def _fill(
    parts: Sequence[_Part],
    source: BinaryIO,
    mtime_ns: int,
    tick: Callable[[int], None],
    size: int | None,
) -> str:
    """Fill begun copies, and return the BLAKE3 of what was read.

    Raises SourceError; then there is no copy.
    """
    name = parts[0].name
    try:
        digest = blake3()
        read = 0
        for block in _blocks(source, name):
            digest.update(block)
            read += len(block)
            for part in parts:
                part.write(block)
            tick(len(block))
        if size is not None and read != size:
            raise SourceError(
                say(
                    "{name} is not as long as it should be: it is being written, or can’t be read "
                    "to its end.",
                    name=name,
                )
            )
        wanted = str(digest.hexdigest())
        for part in parts:
            part.finish(wanted, mtime_ns)
        return wanted
    finally:
        for part in parts:
            part.remove()


def _blocks(source: BinaryIO, name: str) -> Iterator[bytes]:
    while True:
        try:
            block = source.read(_BLOCK)
        except OSError as error:
            raise SourceError(reason(error, name)) from error
        if not block:
            return
        yield block


def digest_of(source: BinaryIO, name: str) -> str:
    """BLAKE3 of what an open file has left. Raises SourceError."""
    digest = blake3()
    for block in _blocks(source, name):
        digest.update(block)
    return str(digest.hexdigest())


class _Part:
    """A copy while it is made, under another name. Its first refusal is kept, the rest skipped."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.refusal = ""
        self._file: BinaryIO | None = None

    def begin(self, target: Entry) -> None:
        with self.refusing():
            self._target = target
            self._part = target.beside(f"{PART_PREFIX}{uuid.uuid4().hex}")
            self._file = self._part.created()

    @contextlib.contextmanager
    def refusing(self) -> Iterator[None]:
        try:
            yield
        except OSError as error:
            self.refusal = reason(error, self.name)
        except CopyError as error:
            self.refusal = str(error)

    def write(self, block: bytes) -> None:
        if self.refusal or self._file is None:
            return
        with self.refusing():
            rest = memoryview(block)
            while rest:
                # A file system may take less than it was given.
                taken = self._file.write(rest)
                if not taken:
                    raise OSError(errno.EIO, "nothing was written")
                rest = rest[taken:]

    def finish(self, digest: str, mtime_ns: int) -> None:
        if self.refusal or self._file is None:
            return
        with self.refusing():
            handle = self._file.fileno()
            os.fsync(handle)
            with contextlib.suppress(OSError, AttributeError):
                # Let the check read the disk, not the memory it was just written from.
                os.posix_fadvise(handle, 0, 0, os.POSIX_FADV_DONTNEED)
            self._file.close()
            self._part.set_times(mtime_ns)
            if hash_of(self._part) != digest:  # guard: copies that the disk spoilt
                raise CopyError(
                    say("The copy of {name} differs from the original on the disk.", name=self.name)
                )
            place_new(self._part, self._target)

    def remove(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._file.close()
            with contextlib.suppress(OSError):
                self._part.unlink()


def forget_read(path: Path) -> None:
    """Let the next reading of a file come from its disk, not from this computer's memory of it."""
    with contextlib.suppress(OSError), entry(path) as here:
        forget_entry(here)


def forget_entry(entry: Entry) -> None:
    """``forget_read`` of a name in a folder that is held open."""
    with contextlib.suppress(OSError, AttributeError), entry.opened() as opened:
        os.posix_fadvise(opened.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)


def place_new(part: Entry, target: Entry) -> None:
    """Give a finished file its name, never over one that is there. Raises CopyError, OSError."""
    try:
        if not renamed_new(part, target):
            part.link(target)  # guard: files that are there, by links
    except FileExistsError:
        raise taken(target.path) from None
    except OSError as error:
        if error.errno not in NO_LINKS:
            raise
        # Neither here (some network disks). An empty file of ours that holds the name for the
        # moment would stay where Winnow is killed in it.
        if target.look():
            raise taken(target.path) from None
        part.replace(target)
    target.sync()


def remove_parts(folder: Path, prefix: str = PART_PREFIX, roots: Collection[Path] = ()) -> int:
    """Remove what an interrupted copy, or writing, left behind; returns how many files."""
    count = 0
    with contextlib.suppress(OSError), entry(folder / prefix, roots) as here:
        for name in here.names():
            if name.startswith(prefix):
                with contextlib.suppress(OSError):
                    here.beside(name).unlink()
                    count += 1
    return count
