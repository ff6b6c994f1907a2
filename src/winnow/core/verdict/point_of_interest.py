"""The part of a frame that matters, and where the same part of a face is in other frames."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from winnow.core.measure import faces, focus_map, subject_lock
from winnow.core.measure.faces import Face, Point
from winnow.core.measure.focus_map import FocusMap
from winnow.core.measure.subject_lock import Place

# A place that the eyes of a matched face give is to be trusted; what the picture itself says is
# more exact, if it is no further from it than this share of the face's width.
_FACE_SURE: Final = 0.75
_NEAR: Final = 0.25
_SAME_RATIO: Final = 0.01


def point(
    people: Sequence[Face], told: Point | None, map_: FocusMap | None, size: tuple[int, int]
) -> Point:
    """What is looked at close unless somebody chooses: 0…1 of the upright picture.

    The sharper eye of the face that counts most, of the one that the camera focused on, or of the
    largest one; else where it says that it focused (``told``); else the sharpest part; else the
    middle. ``size``: width and height in px, 0 if not known.
    """
    width, height = size
    counting = faces.counting(people, width / height if width and height else 1.5)
    if counting:
        focused = faces.face_at(people, told) if told else None
        first = next((n for n in counting if people[n].weight == "most"), counting[0])
        if focused in counting and not people[first].weight:
            first = focused
        face = people[first]
        eye = min(face.eyes, key=lambda eye: eye.blur if eye.blur is not None else np.inf)
        return min(1.0, max(0.0, eye.x)), min(1.0, max(0.0, eye.y))
    if told is not None:
        return told
    region = focus_map.sharpest_region(map_) if map_ else None
    if region is None or not width or not height:
        return 0.5, 0.5
    left, top, right, bottom = region.box
    return min(1.0, (left + right) / 2 / width), min(1.0, (top + bottom) / 2 / height)


def at_faces(
    people: Sequence[Sequence[Face]], ratios: Sequence[float], at: Point
) -> list[tuple[Place, float] | None]:
    """Where the faces of other frames have a point of the first frame, 0…1, if that lies on a face
    there.

    For each frame the place and the width of its face, 0…1; None where that face isn't seen.
    ``ratios``: width by height of each.
    """
    out: list[tuple[Place, float] | None] = [None] * len(people)
    meant = faces.face_at(people[0], at)
    if meant is None:
        return out
    which = [n for n, ratio in enumerate(ratios) if abs(ratio - ratios[0]) < _SAME_RATIO]
    rows = faces.rows([people[n] for n in which], ratios[0])
    row = next(row for row in rows if row[0] == meant)
    original = people[0][meant]
    for n, number in zip(which, row, strict=True):
        if number is None:
            continue
        face = people[n][number]
        x, y = faces.carried_over(at, original, face, ratios[0])
        if 0 <= x <= 1 and 0 <= y <= 1:
            scale = face.height / max(original.height, 1e-6)
            out[n] = Place(x, y, scale, 0.0, _FACE_SURE), face.box[2] - face.box[0]
    return out


def of_both(locked: Place, by_face: tuple[Place, float]) -> Place:
    """The place that subject lock found, if it is at the same part of the face; else the face's."""
    place, width = by_face
    near = np.hypot(locked.x - place.x, locked.y - place.y) < _NEAR * width
    return locked if locked.confidence >= subject_lock.SURE and near else place
