"""Disks that copies go to: whether one is there, and still the same one."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path

from winnow.photos.refusals import CopyError
from winnow.say import say


class DiskGone(CopyError):
    """The disk that is written to is not there any more."""


def mount_of(folder: Path) -> Path:
    """Where the disk is mounted that a folder, which may not be there yet, lies on."""
    place = Path(os.path.realpath(folder))
    while not os.path.ismount(place) and place != place.parent:
        place = place.parent
    return place


def check_mounted(mount: str, folder: str) -> None:
    """See whether the disk is there still that a folder lies on.

    Raises DiskGone: what is written then would lie hidden below the disk when it comes back.
    """
    if mount and not os.path.ismount(mount):
        raise DiskGone(
            say(
                "The disk of “{folder}” is gone. Connect it again, and go on.",
                folder=folder,
            )
        )


def check_same_disk(mount: str, folder: str, made: Sequence[Path]) -> None:
    """See whether the disk that is mounted is the one on which these files were made.

    Raises DiskGone where none of them is there: another disk may have taken its mount point.
    """
    # The system's own disk is no other one; and a single file may have been removed just before a
    # kill.
    if mount in ("", "/") or len(made) < 2 or any(os.path.lexists(path) for path in made):
        return
    raise DiskGone(
        say(
            "None of the files that were made in “{folder}” is there: is it another disk? Connect "
            "the first one again, and go on.",
            folder=folder,
        )
    )
