"""Steps with the files of a person: linked, moved, renamed, removed.

With ``copies`` and ``whole`` this is the only code that writes in a person's folders. Every step is
safe to be killed in: a file appears under its name complete or not at all, and nothing that is
already there is written over, but for a sidecar, or on demand a JPEG, that Winnow has just read.
``roots``, wherever it is given: the folders that a person opened or chose. Below them no link is
followed, also not one that takes a folder's place while a step goes on.
"""

from __future__ import annotations

import contextlib
import errno
import os
from collections.abc import Collection
from pathlib import Path

from send2trash import TrashPermissionError, send2trash

from winnow.photos.copies import NO_LINKS, check_as_planned, copy_entry, forget_entry, hash_of
from winnow.photos.entries import Entry, entry, renamed_new
from winnow.photos.refusals import CopyError, taken
from winnow.photos.whole import keep_about
from winnow.say import say


def link_new(
    source: Path, target: Path, roots: Collection[Path] = (), planned: int | None = None
) -> str:
    """Give a file one more name on the same disk, and return its BLAKE3.

    ``planned``: bytes that it should have. Raises CopyError, OSError.
    """
    with entry(source, roots) as here, entry(target, roots) as there:
        meant = here.check_no_link()
        check_as_planned(source.name, meant, planned)
        try:
            here.link(there)
        except FileExistsError:
            raise taken(target) from None
        except OSError as error:
            if error.errno in (errno.EXDEV, *NO_LINKS):
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
        return hash_of(there)


def move_new(source: Path, target: Path, roots: Collection[Path] = ()) -> None:
    """Give a file another name on the same disk, never over one that is there; its times stay.

    Folders are made. Killed within, the file has the one name, the other, or both. Called again
    then, it goes on. Raises CopyError, OSError.
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
            raise taken(there.path) from None
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
        if error.errno not in NO_LINKS:
            raise
        # No hard links here (FAT, some network disks).
        if there.look():
            raise taken(there.path) from None
        here.replace(there)
        there.sync()
        here.sync()
        return
    there.sync()
    here.unlink()
    here.sync()


def move_verified(source: Path, target: Path, roots: Collection[Path] = ()) -> None:
    """Move a file, also to another disk: there it is copied, read back, and only then removed here.

    Folders are made. Never over a file that is there, but for an equal one that an interrupted move
    left. Called again after an interruption, it goes on. Raises CopyError, OSError.
    """
    with entry(source, roots) as here, entry(target, roots, make=True) as there:
        meant = here.check_no_link()
        if meant is None:
            raise FileNotFoundError(errno.ENOENT, os.strerror(errno.ENOENT), str(source))
        if meant.st_dev == there.device():
            _move(here, there)
            return
        if there.look():
            if hash_of(there) != hash_of(here):
                raise taken(target)
        else:
            digest = copy_entry(here, there)
            # What goes for good is read once more: a disk, or its cable, may have given other bytes
            # the first time.
            forget_entry(here)
            if hash_of(here) != digest:
                there.unlink()
                raise CopyError(
                    say(
                        "{name} reads differently each time: it stays where it is. Check its disk "
                        "and the cable.",
                        name=source.name,
                    )
                )
            keep_about(here, there)
        here.unlink()
        here.sync()


def remove_copy(copy: Path, digest: str, roots: Collection[Path] = ()) -> None:
    """Remove a file that Winnow made, only if it is still as it was made.

    Raises CopyError, OSError.
    """
    with entry(copy, roots) as here:
        here.check_no_link()
        if hash_of(here) != digest:
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
    """Put a file in the system's trash, from where the system brings it back (freedesktop.org
    Trash). Raises CopyError where its disk has none, OSError."""
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


def outlives(path: Path, other: Path) -> bool:
    """Whether a file is still there when another one is removed: a link to that, or that itself by
    another way to its folder, is not. Raises OSError."""
    if path.is_symlink() or not path.is_file():
        return False
    here, there = path.stat(), other.stat()
    if not os.path.samestat(here, there):
        return True
    return here.st_nlink > 1 and os.path.realpath(path) != os.path.realpath(other)
