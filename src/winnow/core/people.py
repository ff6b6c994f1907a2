"""Who is in which frame: the faces of a shoot put together by likeness.

Each face is a point of 128 numbers; one person's lie near each other. Faces are joined from the
nearest pair on, by the mean distance between two groups of faces (average linkage: Sokal and
Michener 1958), found by chains of nearest neighbours (Murtagh 1983). Two faces of one frame are
never one person, whatever they look like.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure.faces import Face

# Raised when faces are numbered or put together in another way: all of it is done anew then.
VERSION: Final = 1
# How far apart the faces of one person lie at most, on average. From 0.40 to 0.45 none of the
# demo's six people are mixed up; faces of 22 real people lie 0.47 apart and more. Two rows of one
# person are joined by a click; two people in one row are not so easily parted.
ALIKE: Final = 0.43
# Less of a face than so many px between its eyes, in the preview, says too little; nor does one
# that is turned further, degrees, or that is blurred by more than this share of that distance.
LEAST_PX: Final = 18.0
_TURNED: Final = 50.0
_BLURRED: Final = 0.15

# The means of two people's faces lie this near to each other where they may be one person: half of
# somebody's faces lie within 0.1 of the other half, two people's 0.34 apart and more (the demo's).
_MAYBE: Final = 0.33
_MOST_OFFERED: Final = 3

Link = tuple[int, int]


def can_tell(face: Face, between_px: float, blur_px: float | None) -> bool:
    """Whether a face shows enough to tell whose it is.

    ``between_px``: between its eyes, ``blur_px``: of its eyes, both in px of the same picture.
    """
    sharp = blur_px is None or blur_px <= _BLURRED * between_px
    return between_px >= LEAST_PX and abs(face.turned) <= _TURNED and sharp


def put_together(
    numbers: NDArray[np.float32],
    frames: Sequence[int],
    joined: Collection[Link] = (),
) -> list[int]:
    """Which faces are one person's: a number for each face, the same for the same person.

    ``numbers``: (n, 128), a row a face, NaN for one that is like nobody by itself; ``frames``: the
    frame of each; ``joined``: pairs of faces that somebody said are one person's.
    """
    count = len(numbers)
    if not count:
        return []
    distances = _distances(numbers)
    of_frame = np.asarray(frames)
    distances[of_frame[:, None] == of_frame[None, :]] = np.inf
    distances[np.isnan(distances)] = np.inf
    groups = _Groups(distances)
    groups.join_alike(ALIKE)
    # Whole people are joined, not two faces: so the others of both come along.
    for one, other in joined:
        groups.join(one, other)
    return groups.of_each()


def _distances(numbers: NDArray[np.float32]) -> NDArray[np.float32]:
    squares = (numbers**2).sum(1)
    between = squares[:, None] + squares[None, :] - 2 * (numbers @ numbers.T)
    apart: NDArray[np.float32] = np.sqrt(np.maximum(between, 0)).astype(np.float32)
    return apart


class _Groups:
    """Groups of faces, each known by one of them, and the mean distances between them."""

    def __init__(self, distances: NDArray[np.float32]) -> None:
        self._between = distances
        np.fill_diagonal(self._between, np.inf)
        self._sizes = np.ones(len(distances), np.float32)
        self._into = np.arange(len(distances))

    def _root(self, face: int) -> int:
        while self._into[face] != face:
            face = int(self._into[face])
        return face

    def join(self, one: int, other: int) -> None:
        """Make one group of the two that these faces are in."""
        one, other = self._root(one), self._root(other)
        if one == other:
            return
        a, b = self._sizes[one], self._sizes[other]
        # Never is never: infinity stays what it is.
        mean = (a * self._between[one] + b * self._between[other]) / (a + b)
        mean[one] = mean[other] = np.inf
        self._between[one] = self._between[:, one] = mean
        self._between[other] = self._between[:, other] = np.inf
        self._sizes[one] = a + b
        self._into[other] = one

    def join_alike(self, most: float) -> None:
        """Join what lies no further apart than this, the nearest first."""
        for start in range(len(self._into)):
            chain = [start] if self._into[start] == start else []
            while chain:
                near = int(self._between[chain[-1]].argmin())
                away = self._between[chain[-1], near]
                if away > most:
                    chain.pop()
                elif len(chain) > 1 and self._between[chain[-1], chain[-2]] <= away:
                    # Nearest to each other: nothing that is joined elsewhere can change that.
                    self.join(chain[-2], chain[-1])
                    chain = chain[:-2] or [chain[-2]]
                else:
                    chain.append(near)

    def of_each(self) -> list[int]:
        """The face that each face's group is known by."""
        return [self._root(face) for face in range(len(self._into))]


def told_apart(
    numbers: NDArray[np.float32],
    frames: Sequence[int],
    before: Sequence[int | None],
    joined: Collection[Link] = (),
) -> list[int | None]:
    """The number of each face's person, from 1 on; None for a face that is like no other, as who is
    seen once may be anybody.

    ``before``: the numbers that they had; for the others see ``put_together``.
    """
    groups = put_together(numbers, frames, joined)
    sizes = Counter(groups)
    known = [n for n, group in enumerate(groups) if sizes[group] > 1]
    people = numbered([groups[n] for n in known], [before[n] for n in known])
    number_of = dict(zip(known, people, strict=True))
    return [number_of.get(n) for n in range(len(groups))]


def numbered(groups: Sequence[int], before: Sequence[int | None]) -> list[int]:
    """The number of each face's person, from 1 on: the one that most of its faces had before, so
    that person 3 stays person 3; new ones by how often they are seen.

    ``groups``: as ``put_together`` gives them; ``before``: a number or None for each face.
    """
    sizes = Counter(groups)
    had: dict[int, Counter[int]] = {group: Counter() for group in sizes}
    for group, number in zip(groups, before, strict=True):
        if number is not None:
            had[group][number] += 1
    claims = sorted(
        (-count, number, group)
        for group, numbers in had.items()
        for number, count in numbers.items()
    )
    number_of: dict[int, int] = {}
    taken: set[int] = set()
    for _, number, group in claims:
        if group not in number_of and number not in taken:
            number_of[group] = number
            taken.add(number)
    following = max(taken, default=0)
    for group in sorted(sizes, key=lambda group: (-sizes[group], groups.index(group))):
        if group not in number_of:
            following += 1
            number_of[group] = following
    return [number_of[group] for group in groups]


def maybe_the_same(
    numbers_of: Mapping[int, Sequence[NDArray[np.float32]]], frames_of: Mapping[int, set[int]]
) -> dict[int, list[int]]:
    """For each person those who may be the same, by number, the most alike first; never two who are
    in one frame.

    ``numbers_of``: by person, (128,) of each face that can be told; ``frames_of``: where they are.
    """
    means = {number: np.nanmean(faces, axis=0) for number, faces in numbers_of.items() if faces}
    out: dict[int, list[int]] = {}
    for number, mean in means.items():
        near = [
            (float(np.linalg.norm(mean - other_mean)), other)
            for other, other_mean in means.items()
            if other != number and frames_of[number].isdisjoint(frames_of[other])
        ]
        out[number] = [other for away, other in sorted(near) if away < _MAYBE][:_MOST_OFFERED]
    return out
