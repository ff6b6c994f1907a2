"""What libraries print while they read a file goes to the log with the file's name, a few lines of
it."""

from __future__ import annotations

import contextlib
import os
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO, Final

from winnow.photos.file_text import of_file
from winnow.terminal import plain

_ERRORS: Final = 2  # the file descriptor that libraries in C print to
_MOST_LINES: Final = 3
_MOST_BYTES: Final = 4096


class Prints:
    """The errors that this process prints while a file is read; before and after, they go where
    they went."""

    def __init__(self) -> None:
        self._kept: BinaryIO | None = None
        self._log = -1

    def keep(self) -> None:
        """From now on keep what is printed about files.

        For processes that read one at a time, as a rule to their end.
        """
        self._kept = tempfile.TemporaryFile()  # noqa: SIM115
        self._log = os.dup(_ERRORS)

    def close(self) -> None:
        """Keep nothing any more."""
        if self._kept is not None:
            self._kept.close()
            os.close(self._log)
            self._kept = None

    @contextlib.contextmanager
    def about(self, path: Path) -> Iterator[None]:
        """Say of which file it was that something is printed."""
        if self._kept is None:
            yield
            return
        os.dup2(self._kept.fileno(), _ERRORS)
        try:
            yield
        finally:
            sys.stderr.flush()
            os.dup2(self._log, _ERRORS)
            self._tell(self._kept.fileno(), path)

    def _tell(self, kept: int, path: Path) -> None:
        if not os.lseek(kept, 0, os.SEEK_CUR):
            return
        os.lseek(kept, 0, os.SEEK_SET)
        text = os.read(kept, _MOST_BYTES)
        os.lseek(kept, 0, os.SEEK_SET)
        os.ftruncate(kept, 0)
        lines = [of_file(line.decode("utf-8", "replace")) for line in text.splitlines()]
        lines = list(dict.fromkeys(line for line in lines if line))
        more = [f"({len(lines) - _MOST_LINES} more)"] if len(lines) > _MOST_LINES else []
        when = time.strftime("%Y-%m-%d %H:%M:%S")
        for line in (*lines[:_MOST_LINES], *more):
            said = f"{when} {plain(path)}: {line}\n"
            os.write(self._log, said.encode("utf-8", "backslashreplace"))


PRINTS: Final = Prints()
