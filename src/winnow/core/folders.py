"""The folders that a shoot is made of."""

from __future__ import annotations

from collections.abc import Sequence


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
