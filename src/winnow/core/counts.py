"""Numbers in sentences."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, Literal

from winnow.say import say_of

Noun = Literal["comment", "file", "frame", "group", "star", "step"]
_NOUNS: Final[dict[Noun, Callable[[int], str]]] = {
    "comment": lambda n: say_of(n, "{n:,} comment", "{n:,} comments"),
    "file": lambda n: say_of(n, "{n:,} file", "{n:,} files"),
    "frame": lambda n: say_of(n, "{n:,} frame", "{n:,} frames"),
    "group": lambda n: say_of(n, "{n:,} group", "{n:,} groups"),
    "star": lambda n: say_of(n, "{n:,} star", "{n:,} stars"),
    "step": lambda n: say_of(n, "{n:,} step", "{n:,} steps"),
}


def counted(number: int, noun: Noun) -> str:
    """Example: ``counted(1, "frame")`` is "1 frame", ``counted(1200, "frame")`` "1,200 frames"."""
    return _NOUNS[noun](number)
