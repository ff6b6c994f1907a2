"""Files in Winnow's folder that this user alone can read: what leads to the server, and lets in."""

from __future__ import annotations

import contextlib
import hmac
import os
import re
import secrets
from pathlib import Path
from typing import Final

_TOKEN: Final = "token"


def write_own(file: Path, text: str) -> None:
    """Write a file that this user alone can read, anew: whatever had its name is not written
    through."""
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as written:
        written.write(text)


class OwnToken:
    """A token for programs of the person's own. It lasts over starts, until it is made anew or
    forgotten; a running server knows of that at once."""

    def __init__(self, folder: Path) -> None:
        self._file = folder / _TOKEN

    def kept(self) -> str:
        """The token; "" where there is none, or where what is there is none."""
        with contextlib.suppress(OSError, ValueError):
            text = self._file.read_text("ascii").strip()
            if re.fullmatch(r"[\w-]{32,}", text):
                return text
        return ""

    def make(self) -> str:
        """Make it anew: the one before lets nobody in any more."""
        token = secrets.token_urlsafe(32)
        self._file.parent.mkdir(parents=True, exist_ok=True)
        write_own(self._file, token)
        return token

    def forget(self) -> bool:
        """Let no program in any more; returns whether there was a token."""
        there = bool(self.kept())
        self._file.unlink(missing_ok=True)
        return there

    def is_it(self, given: str) -> bool:
        """Whether a program shows this token; where there is none, nothing is it."""
        kept = self.kept()
        # guard: a program's token
        return bool(kept) and hmac.compare_digest(given.encode(), kept.encode())
