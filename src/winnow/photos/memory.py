"""What a process that works on one picture after another does with freed memory."""

from __future__ import annotations

import ctypes
from typing import Final

# glibc's numbers for mallopt.
_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_MMAP_MAX = -1, -3, -4
_KEPT_BYTES: Final = 32 * 1024**2  # the most that the threshold takes


def keep(*, large: bool = False) -> None:
    """Let glibc keep what a picture's planes took for the next one's: fresh pages cost a tenth.

    ``large``: also what is larger than 32 MiB, such as whole pictures of floats.
    """
    try:
        mallopt = ctypes.CDLL(None).mallopt
    except (AttributeError, OSError):
        return  # another C library
    if large:
        mallopt(_M_MMAP_MAX, 0)
        mallopt(_M_TRIM_THRESHOLD, 32 * _KEPT_BYTES)
    else:
        mallopt(_M_MMAP_THRESHOLD, _KEPT_BYTES)
        mallopt(_M_TRIM_THRESHOLD, 8 * _KEPT_BYTES)
