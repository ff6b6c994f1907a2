"""Files and folders written whole: the old one stands until the new one is on the disk."""

from __future__ import annotations

import contextlib
import errno
import logging
import os
import shutil
import time
import uuid
from collections.abc import Collection, Iterator
from pathlib import Path
from typing import Any, Final

from winnow.photos.copies import place_new
from winnow.photos.entries import Entry, entry
from winnow.photos.refusals import CopyError, reason
from winnow.say import say

log = logging.getLogger(__name__)
WRITE_PREFIX: Final = ".winnow-write-"  # of a sidecar or picture that is being written anew
FOLDER_PREFIX: Final = ".winnow-folder-"


def keep_about(source: Entry, target: Entry) -> None:
    """Give a copy what is known of its original beside its content: times, permissions, extended
    attributes, owner. What its disk can't keep, or this user may not give, goes to the log."""
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
    """Write a sidecar, or a picture file with other texts, whole: the old one stands until the new
    one is on the disk. ``expected`` is what was read before; None for a new one.

    Who may read it and its extended attributes stay. Raises CopyError when the file is no longer
    what it was, or a link, or write-protected, or when the disk refuses.
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
            place_new(part, entry)
            return
        if _bytes_of(entry) != expected:
            raise CopyError(say("{name} was changed by another program just now.", name=name))
        there = entry.look()
        if there and not there.st_mode & 0o222:
            raise CopyError(
                say("{name} is write-protected. Allow writing, then write again.", name=name)
            )
        keep_about(entry, part)
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
    """A new folder that appears under its name when it is whole, or not at all: what is written
    goes into the folder that this yields. Raises CopyError when the name is taken by then,
    OSError."""
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
    """Make a folder's list of names durable, where its file system can."""
    with contextlib.suppress(OSError), entry(folder / "any") as here:
        here.sync()
