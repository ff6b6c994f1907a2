"""The folders that a shoot is made of."""

from __future__ import annotations

import re
from collections.abc import Sequence
from urllib.parse import unquote, urlsplit

_QUOTES = ("''", '""', "‘’", "“”", "„“", "«»", "``")


def nested(folders: Sequence[Sequence[str]]) -> tuple[int, int] | None:
    """The first folder that lies within another of them, and that other; None where none does.

    A folder is searched with all below it, so the inner one's frames would be listed twice.
    ``folders``: the parts of each whole path, from its root on, without links and without "..".
    Returns places in ``folders``.
    """
    parts = [tuple(folder) for folder in folders]
    for n, inner in enumerate(parts):
        for k, outer in enumerate(parts):
            if len(outer) < len(inner) and inner[: len(outer)] == outer:
                return n, k
    return None


def typed_path(text: str) -> str:
    """A folder's path from what a person typed, pasted or dropped.

    Takes off what came along: spaces and lines around it, a pair of quotation marks, ``file://``
    with its escapes (RFC 8089), and the backslashes of a shell before spaces. ``~`` stays.
    """
    path = next((line.strip() for line in text.splitlines() if line.strip()), "")
    if len(path) > 1 and path[0] + path[-1] in _QUOTES:
        return path[1:-1].strip()
    if path.lower().startswith("file:"):
        return unquote(urlsplit(path).path)
    if path.startswith(("/", "~")):
        return re.sub(r"\\(?=[ '\"()&])", "", path)
    return path
