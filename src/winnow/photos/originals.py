"""The only code that writes in a person's folders: verified copies, whole sidecars, and texts within pictures.

Every step is safe to be killed in: a file appears under its name complete or not at all, and
nothing that is already there is written over, but for a sidecar, or on demand a JPEG, that Winnow has just
read.
"""

from __future__ import annotations

import contextlib
import ctypes
import errno
import logging
import os
import shutil
import time
import uuid
from collections.abc import Callable, Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import Any, BinaryIO, Final, cast

from blake3 import blake3
from send2trash import TrashPermissionError, send2trash

from winnow.photos import scan
from winnow.say import say

log = logging.getLogger(__name__)
# Of renameat2(2).
_AT_CWD: Final = -100
_NO_REPLACE: Final = 1
_BLOCK: Final = 4 * 1024 * 1024
PART_PREFIX: Final = ".winnow-part-"
WRITE_PREFIX: Final = ".winnow-write-"  # of a sidecar or picture that is being written anew
FOLDER_PREFIX: Final = ".winnow-folder-"
DISK_FULL: Final = say("the disk is full")  # begins that refusal


class CopyError(Exception):
    """A copy that did not come about, with the reason in words."""


def file_hash(path: Path, tick: Callable[[int], None] = lambda count: None) -> str:
    """BLAKE3 of a file's content; ``tick`` is told the bytes read of each block. Raises OSError, also where a disk
    gives less than it says the file has."""
    digest = blake3()
    read = 0
    with path.open("rb") as source:
        size = os.fstat(source.fileno()).st_size
        while block := source.read(_BLOCK):
            digest.update(block)
            read += len(block)
            tick(len(block))
    if read < size:
        raise OSError(errno.EIO, os.strerror(errno.EIO), str(path))
    return str(digest.hexdigest())


class SourceError(CopyError):
    """A copy that did not come about because its source can't be read."""


def copy_verified(
    source: Path,
    target: Path,
    tick: Callable[[int], None] = lambda c: None,
    root: Path | None = None,
) -> str:
    """Copy a file, read the copy back from the disk, and return its BLAKE3. ``root``: the opened folder in which it
    was found; a link that took its place, or that of a folder on the way, is not followed.

    The copy keeps the time of the last change. Raises CopyError when the target is there already,
    when the two differ, or when the disk refuses; then nothing is left behind.
    """
    try:
        opened = scan.open_file(source, root or source.parent)
    except OSError as error:
        raise SourceError(reason(error, source.name)) from error
    with opened:
        stat = os.fstat(opened.fileno())
        digest, refusals = copy_to_each(
            opened, source.name, stat.st_mtime_ns, [target], tick, stat.st_size
        )
    if refusals[0]:
        raise CopyError(refusals[0])
    return digest


def copy_to_each(
    source: BinaryIO,
    name: str,
    mtime_ns: int,
    targets: Sequence[Path],
    tick: Callable[[int], None] = lambda c: None,
    size: int | None = None,
) -> tuple[str, list[str]]:
    """Copy an open file to several places, reading it once; each copy is read back and compared.
    ``size``: bytes that it should have.

    Returns the BLAKE3 of what was read and, for each target, why there is no copy ("" if there is
    one). A copy that did not come about leaves nothing behind. Raises SourceError when the source
    can't be read to its end; then there is no copy at all.
    """
    parts = [_Part(target, name) for target in targets]
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
                    "{name} is not as long as it should be: it is being written, or can’t be read to its end.",
                    name=name,
                )
            )
        wanted = str(digest.hexdigest())
        for part in parts:
            part.finish(wanted, mtime_ns)
        return wanted, [part.refusal for part in parts]
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


def open_part(path: Path) -> BinaryIO:
    """Open a new file for writing, without a buffer of ours: each refusal comes where it belongs."""
    return cast(BinaryIO, path.open("xb", buffering=0))


class _Part:
    """A copy while it is made, under another name. Its first refusal is kept, the rest skipped."""

    def __init__(self, target: Path, name: str) -> None:
        self._target = target
        self._name = name
        self._path = target.parent / f"{PART_PREFIX}{uuid.uuid4().hex}"
        self._file: BinaryIO | None = None
        self.refusal = ""
        with self._refusing():
            self._file = open_part(self._path)

    @contextlib.contextmanager
    def _refusing(self) -> Iterator[None]:
        try:
            yield
        except OSError as error:
            self.refusal = reason(error, self._name)
        except CopyError as error:
            self.refusal = str(error)

    def write(self, block: bytes) -> None:
        if self.refusal or self._file is None:
            return
        with self._refusing():
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
        with self._refusing():
            handle = self._file.fileno()
            os.fsync(handle)
            with contextlib.suppress(OSError, AttributeError):
                # Let the check read the disk, not the memory it was just written from.
                os.posix_fadvise(handle, 0, 0, os.POSIX_FADV_DONTNEED)
            self._file.close()
            os.utime(self._path, ns=(mtime_ns, mtime_ns))
            if file_hash(self._path) != digest:  # guard: copies that the disk spoilt
                raise CopyError(
                    say(
                        "The copy of {name} differs from the original on the disk.", name=self._name
                    )
                )
            place_new(self._path, self._target)

    def remove(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._file.close()
        with contextlib.suppress(OSError):
            self._path.unlink()


def link_new(source: Path, target: Path, root: Path | None = None) -> str:
    """Give a file one more name on the same disk, and return its BLAKE3. ``root``: see ``copy_verified``. Raises
    CopyError, OSError."""
    scan.check_in_place(source, root or source.parent)
    try:
        os.link(source, target, follow_symlinks=False)
    except FileExistsError:
        raise CopyError(say("{name} is in the folder already.", name=target.name)) from None
    except OSError as error:
        if error.errno in (errno.EXDEV, errno.EPERM, errno.ENOTSUP, errno.EMLINK):
            raise CopyError(
                say(
                    "{name} can’t be linked there: that needs the same disk. Choose copies.",
                    name=source.name,
                )
            ) from None
        raise
    sync_folder(target.parent)
    return file_hash(target)


def move_new(source: Path, target: Path) -> None:
    """Give a file another name on the same disk, never over one that is there; its times stay.

    Killed within, the file has the one name, the other, or both. Called again then, it goes on. Raises
    CopyError, OSError.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        if renamed_new(source, target):
            sync_folder(target.parent)
            sync_folder(source.parent)
            return
        os.link(source, target, follow_symlinks=False)
    except FileExistsError:
        here, there = os.lstat(source), os.lstat(target)
        if not os.path.samestat(here, there):
            raise CopyError(
                say("{name} is in “{folder}” already.", name=target.name, folder=target.parent.name)
            ) from None
        if here.st_nlink == 1:
            # One name, to a file system that doesn't tell its two forms apart.
            os.rename(source, target)
            sync_folder(target.parent)
            return
    except OSError as error:
        if error.errno == errno.EXDEV:
            raise CopyError(
                say("{name} would leave its disk: only moves on it are made.", name=source.name)
            ) from None
        if error.errno not in (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK):
            raise
        # No hard links here (FAT, some network disks).
        if os.path.lexists(target):
            raise CopyError(
                say("{name} is in “{folder}” already.", name=target.name, folder=target.parent.name)
            ) from None
        os.rename(source, target)
        sync_folder(target.parent)
        sync_folder(source.parent)
        return
    sync_folder(target.parent)
    os.unlink(source)
    sync_folder(source.parent)


def move_verified(source: Path, target: Path) -> None:
    """Move a file, also to another disk: there it is copied, read back, and only then removed here.

    Never over a file that is there, but for an equal one that an interrupted move left. Called again after an
    interruption, it goes on. Raises CopyError, OSError.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    if source.stat().st_dev == target.parent.stat().st_dev:
        move_new(source, target)
        return
    if os.path.lexists(target):
        if target.is_symlink() or file_hash(target) != file_hash(source):
            raise CopyError(
                say("{name} is in “{folder}” already.", name=target.name, folder=target.parent.name)
            )
    else:
        digest = copy_verified(source, target)
        # What goes for good is read once more: a disk, or its cable, may have given other bytes the first time.
        forget_read(source)
        if file_hash(source) != digest:
            target.unlink()
            raise CopyError(
                say(
                    "{name} reads otherwise each time: it stays where it is. Check its disk and the cable.",
                    name=source.name,
                )
            )
        keep_about(source, target)
    os.unlink(source)
    sync_folder(source.parent)


def forget_read(path: Path) -> None:
    """Let the next reading of a file come from its disk, not from this computer's memory of it."""
    with contextlib.suppress(OSError, AttributeError), path.open("rb") as opened:
        os.posix_fadvise(opened.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)


def remove_copy(copy: Path, digest: str) -> None:
    """Remove a file that Winnow made, only if it is still as it was made. Raises CopyError, OSError."""
    if copy.is_symlink() or file_hash(copy) != digest:
        raise CopyError(say("{name} was changed since: it stays.", name=copy.name))
    copy.unlink()
    sync_folder(copy.parent)


def remove_for_good(path: Path) -> None:
    """Delete a file that the person gave up, counted and confirmed. Raises OSError."""
    path.unlink(missing_ok=True)
    sync_folder(path.parent)


def put_in_trash(path: Path) -> None:
    """Put a file in the system's trash, from where the system brings it back (freedesktop.org Trash). Raises
    CopyError where its disk has none, OSError."""
    try:
        send2trash(path)
    except TrashPermissionError:
        raise CopyError(
            say(
                "{name}: this disk has no trash that you may use. Delete it for good instead.",
                name=path.name,
            )
        ) from None
    sync_folder(path.parent)


def place_new(part: Path, target: Path) -> None:
    """Give a finished file its name, never over one that is there. Raises CopyError, OSError."""
    try:
        if not renamed_new(part, target):
            os.link(part, target)  # guard: files that are there, by links
    except FileExistsError:
        raise CopyError(say("{name} is in the folder already.", name=target.name)) from None
    except OSError as error:
        if error.errno not in (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK):
            raise
        # Neither here (some network disks). An empty file of ours that holds the name for the moment would stay
        # where Winnow is killed in it.
        if os.path.lexists(target):
            raise CopyError(say("{name} is in the folder already.", name=target.name)) from None
        os.rename(part, target)
    sync_folder(target.parent)


def renamed_new(source: Path, target: Path) -> bool:
    """Rename a file, but never over one that is there (Linux, renameat2); False where that is not known here.

    Raises FileExistsError, OSError.
    """
    rename = _renameat2()
    if rename is None:
        return False
    flags = _NO_REPLACE  # guard: files that are there
    if rename(_AT_CWD, os.fsencode(source), _AT_CWD, os.fsencode(target), flags) == 0:
        return True
    number = ctypes.get_errno()
    # Not by this system, or not by this file system.
    if number in (errno.EINVAL, errno.ENOSYS, errno.ENOTSUP, errno.EPERM):
        return False
    raise OSError(number, os.strerror(number), str(source), None, str(target))


@cache
def _renameat2() -> Any:
    try:
        found = ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError, TypeError):
        return None
    found.argtypes = (ctypes.c_int, ctypes.c_char_p, ctypes.c_int, ctypes.c_char_p, ctypes.c_uint)
    return found


def outlives(path: Path, other: Path) -> bool:
    """Whether a file is still there when another one is removed: a link to that, or that itself by another way to its
    folder, is not. Raises OSError."""
    if path.is_symlink() or not path.is_file():
        return False
    here, there = path.stat(), other.stat()
    if not os.path.samestat(here, there):
        return True
    return here.st_nlink > 1 and os.path.realpath(path) != os.path.realpath(other)


def keep_about(source: Path, target: Path) -> None:
    """Give a copy what is known of its original beside its content: times, permissions, extended attributes, owner.
    What its disk can't keep, or this user may not give, goes to the log."""
    try:
        shutil.copystat(source, target)
        stat, made = source.stat(), target.stat()
        if (stat.st_uid, stat.st_gid) != (made.st_uid, made.st_gid):
            os.chown(target, stat.st_uid, stat.st_gid)
    except OSError as error:
        log.warning("%s: its owner or permissions could not be kept: %s", target, error)


def write_whole(path: Path, data: bytes, expected: bytes | None, root: Path | None = None) -> None:
    """Write a sidecar, or a picture file with other texts, whole: the old one stands until the new one
    is on the disk. ``expected`` is what was read before; None for a new one. ``root``: see ``copy_verified``.

    Who may read it and its extended attributes stay. Raises CopyError when the file is no longer what it was, or a
    link, or write-protected, or when the disk refuses.
    """
    if path.is_symlink():
        raise CopyError(
            say("{name} is a link to another file, which is left alone.", name=path.name)
        )
    try:
        scan.check_in_place(path, root or path.parent)
    except OSError as error:
        raise CopyError(reason(error, path.name)) from error
    part = path.parent / f"{WRITE_PREFIX}{uuid.uuid4().hex}"
    try:
        with part.open("xb") as write:
            write.write(data)
            write.flush()
            os.fsync(write.fileno())
        if part.read_bytes() != data:
            raise CopyError(say("{name} could not be written as it should be.", name=path.name))
        if expected is None:
            place_new(part, path)
        else:
            if path.read_bytes() != expected:
                raise CopyError(
                    say("{name} was changed by another program just now.", name=path.name)
                )
            if not path.stat().st_mode & 0o222:
                raise CopyError(
                    say(
                        "{name} is write-protected. Allow writing, then write again.",
                        name=path.name,
                    )
                )
            keep_about(path, part)
            os.utime(part)  # but not when it was changed
            os.replace(part, path)
            sync_folder(path.parent)
    except OSError as error:
        raise CopyError(reason(error, path.name)) from error
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


@contextlib.contextmanager
def whole_folder(place: Path) -> Iterator[Path]:
    """A new folder that appears under its name when it is whole, or not at all: what is written goes into the folder
    that this yields. Raises CopyError when the name is taken by then, OSError."""
    part = place.parent / f"{FOLDER_PREFIX}{uuid.uuid4().hex}"
    part.mkdir()
    try:
        yield part
        if os.path.lexists(place):
            raise CopyError(say("“{name}” is there already.", name=place.name))
        os.rename(part, place)
        sync_folder(place.parent)
    finally:
        shutil.rmtree(part, ignore_errors=True)


def remove_unfinished_folders(parent: Path) -> None:
    """Remove folders that an interrupted ``whole_folder`` left behind, an hour ago or more."""
    for part in parent.glob(f"{FOLDER_PREFIX}*"):
        with contextlib.suppress(OSError):
            if time.time() - part.stat().st_mtime > 3600:
                shutil.rmtree(part, ignore_errors=True)


def sync_folder(folder: Path) -> None:
    """Make a folder's list of names durable."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def remove_parts(folder: Path, prefix: str = PART_PREFIX) -> int:
    """Remove what an interrupted copy, or writing, left behind; returns how many files."""
    count = 0
    for part in folder.glob(f"{prefix}*"):
        with contextlib.suppress(OSError):
            part.unlink()
            count += 1
    return count


def reason(error: Exception, name: str = "") -> str:
    """Say a refusal of the disk in plain words, with what to do next. What is no OSError says it itself.

    ``name``: of the file that it is about; the error's own where it is not given.
    """
    if not isinstance(error, OSError):
        return str(error)
    name = name or Path(str(error.filename or say("A file"))).name
    words = {
        errno.ENOSPC: say("{full}. Free some space and go on", full=DISK_FULL),
        errno.EDQUOT: say("{full} for you. Free some space and go on", full=DISK_FULL),
        errno.ENODEV: say("the device is gone. Connect it again and go on"),
        errno.ENXIO: say("the device is gone. Connect it again and go on"),
        errno.EACCES: say(
            "there is no permission. Choose another folder or change its permissions"
        ),
        errno.EPERM: say("there is no permission. Choose another folder or change its permissions"),
        errno.EROFS: say("the disk can only be read. Choose another folder"),
        errno.ENOENT: say("the file or its folder is no longer there"),
        errno.EIO: say("the disk reports a read or write error. Check the disk and its cable"),
        errno.ENAMETOOLONG: say("the name is too long for this disk"),
    }
    return f"{name}: {words.get(error.errno or 0, error.strerror or str(error))}."
