"""Frames of which each shows somebody with closed eyes, and which together show everybody with open
ones: the parts of one picture that is put together later."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from winnow.core.measure.faces import Face, are_closed, rows

# Among so many of the best frames it is looked for; more than three would never be put together.
_MOST_FRAMES = 60
_SIZES = (2, 3)


def open_together(people: Sequence[Sequence[bool]], candidates: Sequence[int]) -> list[int]:
    """The places, ascending, of the fewest frames in which each person has open eyes at least once;
    empty where one frame does that alone, or no three do.

    ``people``: for each person, frame by frame, whether their eyes are seen and open;
    ``candidates``: the places of frames that may be taken, the best first: of sets that are as
    small, the one with the better frames is taken.
    """
    chosen_from = candidates[:_MOST_FRAMES]
    # One bit a person.
    shows = [sum(1 << n for n, person in enumerate(people) if person[at]) for at in chosen_from]
    everybody = (1 << len(people)) - 1
    if not everybody or everybody in shows:
        return []
    for size in _SIZES:
        for chosen in combinations(range(len(chosen_from)), size):
            together = 0
            for n in chosen:
                together |= shows[n]
            if together == everybody:
                return sorted(chosen_from[n] for n in chosen)
    return []


def of_faces(
    frames: Sequence[Sequence[Face]], ratio: float, below: float, candidates: Sequence[int]
) -> list[int]:
    """The same of frames by their faces that count.

    ``ratio``: width by height of the pictures; ``below``: how far apart closed lids are at most;
    ``candidates``: see ``open_together``. Who is seen in fewer than half of the frames walked
    through them, and is not waited for. Where nobody blinks there is nothing to be put together.
    """
    if not any(are_closed(face, below) for faces in frames for face in faces):
        return []
    people = [
        [
            at is not None and are_closed(faces[at], below) is False
            for faces, at in zip(frames, row, strict=True)
        ]
        for row in rows(frames, ratio)
        if 2 * sum(at is not None for at in row) >= len(frames)
    ]
    return open_together(people, candidates)
