"""Numbers in sentences."""

from __future__ import annotations


def counted(number: int, noun: str) -> str:
    """Example: ``counted(1, "frame")`` is "1 frame", ``counted(1200, "frame")`` "1,200 frames"."""
    return f"{number:,} {noun}" if number == 1 else f"{number:,} {noun}s"
