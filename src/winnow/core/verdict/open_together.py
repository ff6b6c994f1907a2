"""Frames of which each shows somebody with closed eyes, and which together show everybody with open
ones: the parts of one picture that is put together later."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

# Of so many frames at most it is looked for; more than three would never be put together.
_MOST_FRAMES = 60
_SIZES = (2, 3)


def open_together(people: Sequence[Sequence[bool]]) -> list[int]:
    """The places of the fewest frames in which each person has open eyes at least once, the
    earliest of as many; empty where one frame does that alone, or no three do.

    ``people``: for each person, frame by frame, whether their eyes are seen and open.
    """
    frames = min((len(person) for person in people), default=0)
    frames = min(frames, _MOST_FRAMES)
    if any(all(person[n] for person in people) for n in range(frames)):
        return []
    for size in _SIZES:
        for chosen in combinations(range(frames), size):
            if all(any(person[n] for n in chosen) for person in people):
                return list(chosen)
    return []
