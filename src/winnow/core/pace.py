"""The pace of a cull: how many frames are decided in a minute of work, and how long the rest
takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

# Who decides nothing for so long does something else; the clock stands meanwhile.
_LONGEST_THOUGHT_S: Final = 60.0
# The pace is that of the last so many frames: it changes in the course of a shoot.
_LAST: Final = 200


@dataclass(frozen=True, slots=True)
class Pace:
    """``a_minute``: frames decided in a minute of work, None until that can be said; ``worked_s``:
    the time that was worked so far, pauses left out."""

    a_minute: float | None
    worked_s: float


def pace(decided_at: Sequence[float]) -> Pace:
    """The pace from when decisions were made, in seconds, in order.

    A decision on several frames at once is one: it says nothing about the time that a frame takes.
    """
    thoughts = _thoughts(decided_at)
    last = thoughts[-_LAST:]
    spent = sum(last)
    a_minute = 60 * len(last) / spent if len(last) >= 5 and spent > 0 else None
    return Pace(a_minute, sum(thoughts))


def over_time(decided_at: Sequence[float], parts: int) -> list[int]:
    """How many decisions were made in each of so many equal parts of the time worked, pauses left
    out.

    Empty where there are too few decisions to show.
    """
    thoughts = _thoughts(decided_at)
    worked = sum(thoughts)
    if len(thoughts) < parts or worked <= 0:
        return []
    counts = [0] * parts
    so_far = 0.0
    for thought in thoughts:
        so_far += thought
        counts[min(parts - 1, int(parts * so_far / worked))] += 1
    return counts


def _thoughts(decided_at: Sequence[float]) -> list[float]:
    """The time before each decision but the first, a pause cut to the longest thought."""
    return [
        min(after - before, _LONGEST_THOUGHT_S)
        for before, after in pairwise(decided_at)
        if after >= before
    ]
