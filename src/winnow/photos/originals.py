"""The only code that writes in a person's folders: verified copies, whole sidecars, and texts within pictures.

Every step is safe to be killed in: a file appears under its name complete or not at all, and
nothing that is already there is written over, but for a sidecar, or on demand a JPEG, that Winnow has just
read. ``roots``, wherever it is given: the folders that a person opened or chose. Below them no link is followed, also not
one that takes a folder's place while a step goes on.
"""

from __future__ import annotations

import contextlib
import errno
import logging
import os
import shutil
import time
import uuid
from collections.abc import Callable, Collection, Iterator, Sequence
from pathlib import Path
from typing import Any, BinaryIO, Final

from blake3 import blake3
from send2trash import TrashPermissionError, send2trash

from winnow.photos.entries import Entry, entry, renamed_new
from winnow.say import say

log = logging.getLogger(__name__)
_BLOCK: Final = 4 * 1024 * 1024
# What file systems without hard links answer, or without a rename that refuses (FAT, some network disks).
_NO_LINKS: Final = (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK)
PART_PREFIX: Final = ".winnow-part-"
WRITE_PREFIX: Final = ".winnow-write-"  # of a sidecar or picture that is being written anew
FOLDER_PREFIX: Final = ".winnow-folder-"
DISK_FULL: Final = say("the disk is full")  # begins that refusal


class CopyError(Exception):
    """A copy that did not come about, with the reason in words."""


def file_hash(path: Path, roots: Collection[Path] = ()) -> str:
    """BLAKE3 of a file's content. Raises OSError, also where a disk gives less than it says the file has."""
    with entry(path, roots) as here:
        return _hash_of(here)


def _hash_of(entry: Entry) -> str:
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


class SourceError(CopyError):
    """A copy that did not come about because its source can't be read."""


def copy_verified(
    source: Path,
    target: Path,
    tick: Callable[[int], None] = lambda c: None,
    roots: Collection[Path] = (),
) -> str:
    """Copy a file, read the copy back from the disk, and return its BLAKE3.

    The copy keeps the time of the last change. Raises CopyError when the target is there already,
    when the two differ, or when the disk refuses; then nothing is left behind.
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
        return _copy(here, there, tick)


def _copy(here: Entry, there: Entry, tick: Callable[[int], None] = lambda c: None) -> str:
    name = here.path.name
    try:
        opened = here.opened()
    except OSError as error:
        raise SourceError(reason(error, name)) from error
    with opened:
        stat = os.fstat(opened.fileno())
        part = _Part(name)
        part.begin(there)
        digest = _fill([part], opened, stat.st_mtime_ns, tick, stat.st_size)
    if part.refusal:
        raise CopyError(part.refusal)
    return digest


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
    """Fill begun copies, and return the BLAKE3 of what was read. Raises SourceError; then there is no copy."""
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
                    "{name} is not as long as it should be: it is being written, or can’t be read to its end.",
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
            if _hash_of(self._part) != digest:  # guard: copies that the disk spoilt
                raise CopyError(
                    say("The copy of {name} differs from the original on the disk.", name=self.name)
                )
            _place_new(self._part, self._target)

    def remove(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._file.close()
            with contextlib.suppress(OSError):
                self._part.unlink()


def link_new(source: Path, target: Path, roots: Collection[Path] = ()) -> str:
    """Give a file one more name on the same disk, and return its BLAKE3. Raises CopyError, OSError."""
    with entry(source, roots) as here, entry(target, roots) as there:
        meant = here.check_no_link()
        try:
            here.link(there)
        except FileExistsError:
            raise _taken(target) from None
        except OSError as error:
            if error.errno in (errno.EXDEV, errno.EPERM, errno.ENOTSUP, errno.EMLINK):
                raise CopyError(
                    say(
                        "{name} can’t be linked there: that needs the same disk. Choose copies.",
                        name=source.name,
                    )
                ) from None
            raise
        made = there.look()
        if meant is None or made is None or not os.path.samestat(meant, made):
            # What took its place in this very moment.
            there.unlink()
            raise CopyError(
                say("{name} was changed by another program just now.", name=source.name)
            )
        there.sync()
        return _hash_of(there)


def move_new(source: Path, target: Path, roots: Collection[Path] = ()) -> None:
    """Give a file another name on the same disk, never over one that is there; its times stay. Folders are made.

    Killed within, the file has the one name, the other, or both. Called again then, it goes on. Raises
    CopyError, OSError.
    """
    with entry(source, roots) as here, entry(target, roots, make=True) as there:
        _move(here, there)


def _move(here: Entry, there: Entry) -> None:
    here.check_no_link()
    try:
        if renamed_new(here, there):
            there.sync()
            here.sync()
            return
        here.link(there)
    except FileExistsError:
        ours, theirs = here.look(), there.look()
        if not ours or not theirs or not os.path.samestat(ours, theirs):
            raise _taken(there.path) from None
        if ours.st_nlink == 1:
            # One name, to a file system that doesn't tell its two forms apart.
            here.replace(there)
            there.sync()
            return
    except OSError as error:
        if error.errno == errno.EXDEV:
            raise CopyError(
                say("{name} would leave its disk: only moves on it are made.", name=here.path.name)
            ) from None
        if error.errno not in _NO_LINKS:
            raise
        # No hard links here (FAT, some network disks).
        if there.look():
            raise _taken(there.path) from None
        here.replace(there)
        there.sync()
        here.sync()
        return
    there.sync()
    here.unlink()
    here.sync()


def _taken(target: Path) -> CopyError:
    return CopyError(
        say("{name} is in “{folder}” already.", name=target.name, folder=target.parent.name)
    )


def move_verified(source: Path, target: Path, roots: Collection[Path] = ()) -> None:
    """Move a file, also to another disk: there it is copied, read back, and only then removed here. Folders are made.

    Never over a file that is there, but for an equal one that an interrupted move left. Called again after an
    interruption, it goes on. Raises CopyError, OSError.
    """
    with entry(source, roots) as here, entry(target, roots, make=True) as there:
        meant = here.check_no_link()
        if meant is None:
            raise FileNotFoundError(errno.ENOENT, os.strerror(errno.ENOENT), str(source))
        if meant.st_dev == there.device():
            _move(here, there)
            return
        if there.look():
            if _hash_of(there) != _hash_of(here):
                raise _taken(target)
        else:
            digest = _copy(here, there)
            # What goes for good is read once more: a disk, or its cable, may have given other bytes the first time.
            _forget_read(here)
            if _hash_of(here) != digest:
                there.unlink()
                raise CopyError(
                    say(
                        "{name} reads otherwise each time: it stays where it is. Check its disk and the cable.",
                        name=source.name,
                    )
                )
            _keep_about(here, there)
        here.unlink()
        here.sync()


def forget_read(path: Path) -> None:
    """Let the next reading of a file come from its disk, not from this computer's memory of it."""
    with contextlib.suppress(OSError), entry(path) as here:
        _forget_read(here)


def _forget_read(entry: Entry) -> None:
    with contextlib.suppress(OSError, AttributeError), entry.opened() as opened:
        os.posix_fadvise(opened.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)


def remove_copy(copy: Path, digest: str, roots: Collection[Path] = ()) -> None:
    """Remove a file that Winnow made, only if it is still as it was made. Raises CopyError, OSError."""
    with entry(copy, roots) as here:
        here.check_no_link()
        if _hash_of(here) != digest:
            raise CopyError(say("{name} was changed since: it stays.", name=copy.name))
        here.unlink()
        here.sync()


def remove_for_good(path: Path, roots: Collection[Path] = ()) -> None:
    """Delete a file that the person gave up, counted and confirmed. Raises OSError."""
    with entry(path, roots) as here:
        with contextlib.suppress(FileNotFoundError):
            here.unlink()
        here.sync()


def put_in_trash(path: Path, roots: Collection[Path] = ()) -> None:
    """Put a file in the system's trash, from where the system brings it back (freedesktop.org Trash). Raises
    CopyError where its disk has none, OSError."""
    with entry(path, roots) as here:
        here.check_no_link()
        try:
            # By its path, which the trash notes down.
            send2trash(path)
        except TrashPermissionError:
            raise CopyError(
                say(
                    "{name}: this disk has no trash that you may use. Delete it for good instead.",
                    name=path.name,
                )
            ) from None
        here.sync()


def _place_new(part: Entry, target: Entry) -> None:
    """Give a finished file its name, never over one that is there. Raises CopyError, OSError."""
    try:
        if not renamed_new(part, target):
            part.link(target)  # guard: files that are there, by links
    except FileExistsError:
        raise _taken(target.path) from None
    except OSError as error:
        if error.errno not in _NO_LINKS:
            raise
        # Neither here (some network disks). An empty file of ours that holds the name for the moment would stay
        # where Winnow is killed in it.
        if target.look():
            raise _taken(target.path) from None
        part.replace(target)
    target.sync()


def outlives(path: Path, other: Path) -> bool:
    """Whether a file is still there when another one is removed: a link to that, or that itself by another way to its
    folder, is not. Raises OSError."""
    if path.is_symlink() or not path.is_file():
        return False
    here, there = path.stat(), other.stat()
    if not os.path.samestat(here, there):
        return True
    return here.st_nlink > 1 and os.path.realpath(path) != os.path.realpath(other)


def _keep_about(source: Entry, target: Entry) -> None:
    """Give a copy what is known of its original beside its content: times, permissions, extended attributes, owner.
    What its disk can't keep, or this user may not give, goes to the log."""
    try:
        with source.opened() as here, target.opened() as there:
            ends: Any = (here.fileno(), there.fileno())
            if source.folder is None:
                ends = (source.path, target.path)
            shutil.copystat(*ends)
            stat, made = os.fstat(here.fileno()), os.fstat(there.fileno())
            if (stat.st_uid, stat.st_gid) != (made.st_uid, made.st_gid):
                os.chown(ends[1], stat.st_uid, stat.st_gid)
    except OSError as error:
        log.warning("%s: its owner or permissions could not be kept: %s", target.path, error)


def write_whole(
    path: Path, data: bytes, expected: bytes | None, roots: Collection[Path] = ()
) -> None:
    """Write a sidecar, or a picture file with other texts, whole: the old one stands until the new one
    is on the disk. ``expected`` is what was read before; None for a new one.

    Who may read it and its extended attributes stay. Raises CopyError when the file is no longer what it was, or a
    link, or write-protected, or when the disk refuses.
    """
    try:
        with entry(path, roots) as here:
            try:
                here.check_no_link()
            except OSError as error:
                if error.errno != errno.ELOOP:
                    raise
                raise CopyError(
                    say("{name} is a link to another file, which is left alone.", name=path.name)
                ) from None
            _write(here, data, expected)
    except OSError as error:
        raise CopyError(reason(error, path.name)) from error


def _write(entry: Entry, data: bytes, expected: bytes | None) -> None:
    name = entry.path.name
    part = entry.beside(f"{WRITE_PREFIX}{uuid.uuid4().hex}")
    try:
        with part.created(buffering=-1) as write:
            write.write(data)
            write.flush()
            os.fsync(write.fileno())
            written = os.fstat(write.fileno())
        if _bytes_of(part) != data:
            raise CopyError(say("{name} could not be written as it should be.", name=name))
        if expected is None:
            _place_new(part, entry)
            return
        if _bytes_of(entry) != expected:
            raise CopyError(say("{name} was changed by another program just now.", name=name))
        found = entry.look()
        if found and not found.st_mode & 0o222:
            raise CopyError(
                say("{name} is write-protected. Allow writing, then write again.", name=name)
            )
        _keep_about(entry, part)
        part.set_times(written.st_mtime_ns)  # but not when it was changed
        part.replace(entry)
        entry.sync()
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


def _bytes_of(entry: Entry) -> bytes:
    with entry.opened() as file:
        return file.read()


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
