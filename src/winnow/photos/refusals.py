"""Why a step with a file did not come about, in words."""

from __future__ import annotations

import errno
from pathlib import Path
from typing import Final

from winnow.say import say

DISK_FULL: Final = say("the disk is full")  # begins that refusal


class CopyError(Exception):
    """A copy that did not come about, with the reason in words."""


class SourceError(CopyError):
    """A copy that did not come about because its source can't be read."""


def taken(target: Path) -> CopyError:
    """The refusal of a name that another file has."""
    return CopyError(
        say("{name} is in “{folder}” already.", name=target.name, folder=target.parent.name)
    )


def reason(error: Exception, name: str = "") -> str:
    """Say a refusal of the disk in plain words, with what to do next.

    What is no OSError says it itself. ``name``: of the file that it is about; the error's own where
    it is not given.
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
