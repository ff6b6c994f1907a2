"""Whose face counts in a group, as somebody said it: "counts most", or not at all.

It is said of a face at a place of one frame, and holds for the same person's faces in the others.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from winnow.core.measure.faces import Face, Weight, face_at, rows


@dataclass(frozen=True, slots=True)
class Said:
    """How much the face at a place of a frame counts; ``x``, ``y``: 0…1 of the upright picture;
    ``everywhere``: it was said for the whole shoot."""

    x: float
    y: float
    weight: Weight
    everywhere: bool = False


def weighted(faces: Sequence[Face], said: Sequence[Said]) -> list[Face]:
    """The faces of a frame with what was said of them; what lies on none of them says nothing."""
    out = list(faces)
    for saying in said:
        at = face_at(faces, (saying.x, saying.y), margin=0)
        if at is not None:
            out[at] = replace(faces[at], weight=saying.weight)
    return out


def same_person(
    frames: Sequence[Sequence[Face]], ratio: float, n: int, at: int
) -> list[tuple[int, int]]:
    """The ``at``-th face of frame ``n`` in each frame of its group that shows it: (frame, number of
    the face there). ``ratio``: the pictures' width by their height."""
    row = next(row for row in rows(frames, ratio) if row[n] == at)
    return [(k, number) for k, number in enumerate(row) if number is not None]


def spread(
    frames: Sequence[Sequence[Face]], ratio: float, said: Mapping[int, Sequence[Said]]
) -> list[tuple[int, Said]]:
    """What is to be said as well, where frames came to a group of which something was said: (frame,
    saying) for faces of which nothing is said yet. ``said``: by frame."""
    known = [weighted(faces, said.get(n, ())) for n, faces in enumerate(frames)]
    out = []
    for row in rows(known, ratio):
        there = [(n, known[n][at]) for n, at in enumerate(row) if at is not None]
        about = (
            saying
            for n, face in there
            for saying in said.get(n, ())
            if face_at([face], (saying.x, saying.y), margin=0) is not None
        )
        if first := next(about, None):
            out += [
                (n, replace(first, x=face.middle[0], y=face.middle[1]))
                for n, face in there
                if not face.weight
            ]
    return out
