"""What matters in the frames of a group, and where it is in each.

The eyes of the largest face, or of the one that somebody said counts most; else where the camera
focused; else the sharpest part that most of the frames agree on. The same part is then found in all
of them, by the face or by subject lock.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np

from winnow.core.measure import faces, focus_map, subject_lock
from winnow.core.measure.faces import Face, Point
from winnow.core.measure.focus_map import FocusMap
from winnow.core.measure.subject_lock import Gray, Place

Matter = Literal["eyes", "focus point", "sharpest part", ""]

# How far around the place edges are compared: as a share of the long edge, or of a face's width.
RADIUS: Final = 0.094
FACE_RADIUS: Final = 1.0
_LEAST_CELLS: Final = 4
# A face stands for the group when so many of its frames show it; the others may be blurred.
_SHOWN: Final = 0.3
# So many frames say where they are sharpest, when neither faces nor the camera tell.
_VOTERS: Final = 9
# So many frames are tried as the one to which the others are held, where the first is unlike most
# of them.
_TRIED: Final = 3
_NEAR: Final = 0.12  # of the long edge: two of them mean the same part


@dataclass(frozen=True, slots=True)
class Seen:
    """What is known of one frame.

    ``width``, ``height``: px at 100 %, upright; ``focus_point``: 0…1, if the camera says; ``gray``:
    gives a smaller grey picture (h, w) of it, None where there is none; ``close``: gives its
    brightness at 100 % around a place, see ``extra_blur.cut``, None where it can't.
    """

    width: int
    height: int
    map: FocusMap | None
    faces: Sequence[Face]
    focus_point: Point | None
    gray: Callable[[], Gray | None]
    close: Callable[[float, float, int], Gray | None] = lambda x, y, reach: None

    @property
    def ratio(self) -> float:
        """Width by height."""
        return self.width / self.height

    @property
    def long(self) -> int:
        """The long edge, px."""
        return max(self.width, self.height)


def places(seen: Sequence[Seen]) -> tuple[Matter, float, list[Place]]:
    """What matters in the frames of a group, in the order of time: what it is, how far around it
    focus counts (px at 100 %), and where it is in each (0…1)."""
    cell = max((frame.map.cell for frame in seen if frame.map), default=16.0)
    least = _LEAST_CELLS * cell
    row = _main_face(seen)
    if row is not None:
        widths = [
            (frame.faces[f].box[2] - frame.faces[f].box[0]) * frame.width
            for frame, f in zip(seen, row, strict=True)
            if f is not None
        ]
        radius = max(least, FACE_RADIUS * float(np.median(widths)))
        return "eyes", radius, _at_face(seen, row)
    radius = max(least, RADIUS * max(frame.long for frame in seen))
    if sum(frame.focus_point is not None for frame in seen) > len(seen) / 2:
        return "focus point", radius, found(seen, _by_blur_at_their_points(seen, radius))
    votes = _agreed(seen)
    return ("sharpest part" if votes else ""), radius, found(seen, votes or [(0, (0.5, 0.5))])


def _main_face(seen: Sequence[Seen]) -> list[int | None] | None:
    """The row of the largest face that enough of the frames show; first of those of which somebody
    said that they count most."""
    rows = faces.rows([frame.faces for frame in seen], seen[0].ratio)

    def counts_most(row: list[int | None]) -> bool:
        return any(
            f is not None and frame.faces[f].weight == "most"
            for frame, f in zip(seen, row, strict=True)
        )

    for row in sorted(rows, key=counts_most, reverse=True):
        if sum(f is not None for f in row) >= _SHOWN * len(seen):
            return row
    return None


def _at_face(seen: Sequence[Seen], row: Sequence[int | None]) -> list[Place]:
    """The middle of the face; where the face wasn't found, subject lock looks for it."""
    out: list[Place | None] = []
    for frame, f in zip(seen, row, strict=True):
        out.append(None if f is None else Place(*frame.faces[f].middle, 1, 0, 1))
    shown = [n for n, place in enumerate(out) if place is not None]
    for n, place in enumerate(out):
        if place is None:
            nearest = min(shown, key=lambda other: abs(other - n))
            reference = out[nearest]
            assert reference is not None
            out[n] = _lock(seen, nearest, (reference.x, reference.y), n)
    return [place for place in out if place is not None]


def _lock(seen: Sequence[Seen], first: int, point: Point, other: int) -> Place:
    """A point of one frame in another, both 0…1."""
    if first == other:
        return Place(point[0], point[1], 1, 0, 1)
    before, after = seen[first].gray(), seen[other].gray()
    if before is None or after is None:
        return Place(point[0], point[1], 1, 0, 0)
    spot = (point[0] * before.shape[1] - 0.5, point[1] * before.shape[0] - 0.5)
    place = subject_lock.locate(before, spot, after)
    return Place(
        (place.x + 0.5) / after.shape[1],
        (place.y + 0.5) / after.shape[0],
        place.scale,
        place.angle,
        place.confidence,
    )


def _locked(seen: Sequence[Seen], first: int, point: Point) -> list[Place]:
    return [_lock(seen, first, point, n) for n in range(len(seen))]


def found(seen: Sequence[Seen], wanted: Sequence[tuple[int, Point]]) -> list[Place]:
    """The part that matters in every frame.

    ``wanted``: frames that show it, and where, the one to begin with first. Where most of the
    others don't show it as that frame does (much darker or brighter, or turned), another one may be
    nearer to all of them.
    """
    best: list[Place] = []
    most = 0
    for first, point in wanted[:_TRIED]:
        places = _locked(seen, first, point)
        sure = sum(place.confidence >= subject_lock.SURE for place in places)
        if sure > most:
            best, most = places, sure
        if 2 * sure > len(seen):
            break
    return best


def _by_blur_at_their_points(seen: Sequence[Seen], radius: float) -> list[tuple[int, Point]]:
    """The frames whose camera says where it focused, and where, the sharpest there first."""

    def blur(n: int, point: Point) -> float:
        frame = seen[n]
        if frame.map is None:
            return np.inf
        x, y = point
        figure = focus_map.figure_at(frame.map, x * frame.width, y * frame.height, radius)
        return figure.blur if figure else focus_map.MOST

    known = [(n, frame.focus_point) for n, frame in enumerate(seen) if frame.focus_point]
    return sorted(known, key=lambda point: blur(*point))


def _agreed(seen: Sequence[Seen]) -> list[tuple[int, Point]]:
    """The sharpest part that most frames agree on: frames that show it, and where, the sharpest
    first; none where no frame shows an edge.

    A frame with missed focus is sharpest somewhere else; it is outvoted.
    """
    step = max(1, len(seen) // _VOTERS)
    votes: list[tuple[int, Point, float]] = []
    for n in range(0, len(seen), step):
        frame = seen[n]
        region = focus_map.sharpest_region(frame.map) if frame.map else None
        if region:
            left, top, right, bottom = region.box
            middle = ((left + right) / 2 / frame.width, (top + bottom) / 2 / frame.height)
            votes.append((n, (min(1.0, middle[0]), min(1.0, middle[1])), region.figure.blur))
    if len(votes) < 2:
        return [(n, point) for n, point, _ in votes]
    first = min(votes, key=lambda vote: vote[2])[0]
    # All of them seen from one frame.
    there = []
    for n, point, _ in votes:
        place = _lock(seen, n, point, first)
        there.append((place.x, place.y) if place.confidence >= subject_lock.SURE else point)
    ratio = seen[first].ratio
    scaled = np.array(there) * np.array([ratio, 1.0]) / max(ratio, 1.0)
    near = np.hypot(*(scaled[:, None] - scaled).transpose(2, 0, 1)) < _NEAR
    agree = near.sum(1)
    ranked = sorted(range(len(votes)), key=lambda n: (-agree[n], votes[n][2]))
    return [(votes[n][0], votes[n][1]) for n in ranked]
