"""The pace of a cull: how many frames are decided in a minute of work, and how long the rest takes."""

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
    thoughts = [
        min(after - before, _LONGEST_THOUGHT_S)
        for before, after in pairwise(decided_at)
        if after >= before
    ]
    last = thoughts[-_LAST:]
    spent = sum(last)
    a_minute = 60 * len(last) / spent if len(last) >= 5 and spent > 0 else None
    return Pace(a_minute, sum(thoughts))
