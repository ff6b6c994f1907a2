"""Which path a call means that is given a handle on a folder, or on a file."""

import os
from typing import Any

_AT_CWD = -100


def path_of(path: Any, folder: int | None = None) -> str:
    """The whole path; "" of what is none."""
    if isinstance(path, int):
        return os.readlink(f"/proc/self/fd/{path}")
    if not isinstance(path, (str, bytes, os.PathLike)):
        return ""
    name = os.fsdecode(path)
    if folder is None or folder == _AT_CWD:
        return name
    return os.path.normpath(os.path.join(os.readlink(f"/proc/self/fd/{folder}"), name))
