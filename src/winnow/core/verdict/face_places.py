"""Where in a frame a hint about a face is seen: the eye, or the mouth, that it is about."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final

from winnow.core.measure import expression
from winnow.core.measure.faces import Face, Point, are_closed, rows
from winnow.core.verdict.hints import eyes, gaze, half_closed, speech

KINDS: Final = tuple(part.KIND.name for part in (eyes, half_closed, gaze, speech))
# From between the eyes down to the mouth, by the distance of the eyes' middles: about 70 mm to
# 63 mm in adults (from memory, of tables of the head's measures).
_DOWN_TO_MOUTH: Final = 1.1

# How much a face shows of what is noticed, the less the more, beside the same person's in another
# frame, None where that isn't seen; None where nothing is said of it.
Shows = Callable[[Face, Face | None], float | None]


def places(
    kind: str, here: Sequence[Face], there: Sequence[Face], ratio: float, closed_below: float
) -> tuple[Point, Point | None] | None:
    """Where a hint of this kind is seen in a frame, and the same of the same person in another one.

    ``here``, ``there``: the faces that count in both; ``ratio``: width by height of the pictures;
    ``closed_below``: how far apart closed lids are at most. None where no face shows it, or the
    other frame doesn't show the person.
    """
    pairs = [
        (here[first], None if second is None else there[second])
        for first, second in rows([here, there], ratio)
        if first is not None
    ]
    shows = _shows(kind, closed_below)
    known = [(shown, pair) for pair in pairs if (shown := shows(*pair)) is not None]
    if not known:
        return None
    face, other = min(known, key=lambda one: one[0])[1]
    if kind == speech.KIND.name:
        return _mouth(face, ratio), None if other is None else _mouth(other, ratio)
    side = min((0, 1), key=lambda n: math.inf if (gap := face.eyes[n].gap) is None else gap)
    return _eye(face, side), None if other is None else _eye(other, side)


def _shows(kind: str, closed_below: float) -> Shows:
    def narrow(face: Face, other: Face | None) -> float | None:
        usual = other.gap if other is not None and other.gap else 1.0
        return None if face.gap is None else face.gap / usual

    def half(face: Face, other: Face | None) -> float | None:
        return None if are_closed(face, closed_below) else narrow(face, other)

    def aside(face: Face, _other: Face | None) -> float | None:
        share = expression.looks_aside(face, closed_below)
        return None if share is None else -share

    def open_mouth(face: Face, _other: Face | None) -> float | None:
        gap = expression.mouth_gap(face)
        return None if gap is None else -gap

    return {
        eyes.KIND.name: narrow,
        half_closed.KIND.name: half,
        gaze.KIND.name: aside,
        speech.KIND.name: open_mouth,
    }[kind]


def _eye(face: Face, side: int) -> Point:
    return face.eyes[side].x, face.eyes[side].y


def _mouth(face: Face, ratio: float) -> Point:
    first, second = face.eyes
    across, down = (second.x - first.x) * ratio, second.y - first.y
    x, y = face.between_eyes
    # Square to the line of the eyes, whichever way the head leans.
    return x - _DOWN_TO_MOUTH * down / ratio, y + _DOWN_TO_MOUTH * across
