"""The only code that writes in a person's folders: verified copies and whole sidecars.

Every step is safe to be killed in: a file appears under its name complete or not at all, and
nothing that is already there is written over, but for a sidecar that Winnow has just read.
"""

from __future__ import annotations

import contextlib
import errno
import os
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Final

from blake3 import blake3

_BLOCK: Final = 4 * 1024 * 1024
PART_PREFIX: Final = ".winnow-part-"


class CopyError(Exception):
    """A copy that did not come about, with the reason in words."""


def file_hash(path: Path, tick: Callable[[int], None] = lambda count: None) -> str:
    """BLAKE3 of a file's content; ``tick`` is told the bytes read of each block."""
    digest = blake3()
    with path.open("rb") as source:
        while block := source.read(_BLOCK):
            digest.update(block)
            tick(len(block))
    return str(digest.hexdigest())


def copy_verified(source: Path, target: Path, tick: Callable[[int], None] = lambda c: None) -> str:
    """Copy a file, read the copy back from the disk, and return its BLAKE3.

    The copy keeps the time of the last change. Raises CopyError when the target is there already,
    when the two differ, or when the disk refuses; then nothing is left behind.
    """
    part = target.parent / f"{PART_PREFIX}{uuid.uuid4().hex}"
    try:
        digest = blake3()
        with source.open("rb") as read, part.open("xb") as write:
            while block := read.read(_BLOCK):
                digest.update(block)
                write.write(block)
                tick(len(block))
            write.flush()
            os.fsync(write.fileno())
            with contextlib.suppress(OSError):
                # Let the check read the disk, not the memory it was just written from.
                os.posix_fadvise(write.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)
        stat = source.stat()
        os.utime(part, ns=(stat.st_atime_ns, stat.st_mtime_ns))
        if file_hash(part) != digest.hexdigest():
            raise CopyError(f"The copy of {source.name} differs from the original on the disk.")
        place_new(part, target)
        return str(digest.hexdigest())
    except OSError as error:
        raise CopyError(reason(error, source.name)) from error
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


def place_new(part: Path, target: Path) -> None:
    """Give a finished file its name, never over one that is there. Raises CopyError, OSError."""
    try:
        os.link(part, target)
    except FileExistsError:
        raise CopyError(f"{target.name} is in the folder already.") from None
    except OSError as error:
        if error.errno not in (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK):
            raise
        # No hard links here (FAT, some network disks): take the name with an empty file of our
        # own, which can't be somebody else's, and replace that.
        try:
            os.close(os.open(target, os.O_CREAT | os.O_EXCL | os.O_WRONLY))
        except FileExistsError:
            raise CopyError(f"{target.name} is in the folder already.") from None
        os.replace(part, target)
    sync_folder(target.parent)


def write_sidecar(path: Path, data: bytes, expected: bytes | None) -> None:
    """Write a sidecar whole. ``expected`` is what was read before; None for a new one.

    Raises CopyError when the file is no longer what it was, or when the disk refuses.
    """
    part = path.parent / f"{PART_PREFIX}{uuid.uuid4().hex}"
    try:
        with part.open("xb") as write:
            write.write(data)
            write.flush()
            os.fsync(write.fileno())
        if expected is None:
            place_new(part, path)
        else:
            if path.read_bytes() != expected:
                raise CopyError(f"{path.name} was changed by another program just now.")
            os.chmod(part, path.stat().st_mode & 0o7777)
            os.replace(part, path)
            sync_folder(path.parent)
    except OSError as error:
        raise CopyError(reason(error, path.name)) from error
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


def sync_folder(folder: Path) -> None:
    """Make a folder's list of names durable."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def remove_parts(folder: Path) -> int:
    """Remove what an interrupted copy left behind; returns how many files."""
    count = 0
    for part in folder.glob(f"{PART_PREFIX}*"):
        with contextlib.suppress(OSError):
            part.unlink()
            count += 1
    return count


def reason(error: OSError, name: str) -> str:
    """Say a refusal of the disk in plain words, with what to do next."""
    words = {
        errno.ENOSPC: "the disk is full. Free some space and start again",
        errno.EACCES: "there is no permission. Choose another folder or change its permissions",
        errno.EPERM: "there is no permission. Choose another folder or change its permissions",
        errno.EROFS: "the disk can only be read. Choose another folder",
        errno.ENOENT: "the file or its folder is no longer there",
        errno.EIO: "the disk reports a read or write error. Check the disk and its cable",
        errno.ENAMETOOLONG: "the name is too long for this disk",
    }
    return f"{name}: {words.get(error.errno or 0, error.strerror or str(error))}."
