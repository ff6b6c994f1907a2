"""Files in Winnow's folder that this user alone can read: what leads to the server, and lets in."""

from __future__ import annotations

import contextlib
import hmac
import html
import os
import re
import secrets
import sys
import webbrowser
from pathlib import Path
from typing import Final

_TOKEN: Final = "token"
_OPENS: Final = "open.html"


def write_own(file: Path, text: str) -> None:
    """Write a file that this user alone can read, anew: whatever had its name is not written
    through."""
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as written:
        written.write(text)


def leading_to(url: str, folder: Path) -> str:
    """The address of a file of this user's own that leads to an address: what stands in a command
    line, every user of this computer can read."""
    file = folder / _OPENS
    write_own(
        file, f'<!doctype html><meta http-equiv="refresh" content="0; url={html.escape(url)}">'
    )
    return file.absolute().as_uri()


def no_longer_leading(folder: Path) -> None:
    """Remove that file: it was used, or leads nowhere any more."""
    (folder / _OPENS).unlink(missing_ok=True)


def show(url: str, folder: Path) -> None:
    """Open an address in the person's browser."""
    webbrowser.open(leading_to(url, folder))


def has_screen() -> bool:
    """Whether a browser has a screen to be seen on: not where somebody is logged in from afar."""
    if sys.platform in ("win32", "darwin"):
        return True
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


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
        self._file.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
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
