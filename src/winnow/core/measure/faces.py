"""Faces and their eyes: which count, which are the same person's in a group, whether eyes are open.

Nothing here, or stored, tells who somebody is: faces are matched within a group only, by where they
are and how they look there.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final, Literal

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure.focus_map import FocusMap, figure_at

VERSION: Final = 3

# The gap between the lids as a share of the eye's width. Measured on free portraits and on the
# demo: open eyes show 0.19 and more, closed ones 0.17 and less, most of them half of that.
CLOSED_BELOW: Final = 0.175
_HALF_SURE: Final = 0.015
# Turned further to the side, degrees, what is seen of an eye says nothing of its lids.
TURNED: Final = 35.0
# A face counts from this share of the largest one's height, and this share of the long edge, on.
_LEAST_OF_LARGEST: Final = 0.4
_LEAST_OF_EDGE: Final = 0.02
# A face this many times as blurred as the sharpest, and by this many px, is background.
_BACKGROUND: Final = 2.5
_BACKGROUND_PX: Final = 2.5
# The part of a face that is looked at for "the same face": rows, columns and channels.
LOOK_SHAPE: Final = (8, 8, 3)
# Costs over which two faces are not taken to be one person's.
_APART: Final = 1.0

Point = tuple[float, float]
# How much a face counts, as somebody said it: more than the others, or not at all.
Weight = Literal["", "most", "none"]


@dataclass(frozen=True, slots=True)
class Eye:
    """One eye.

    ``x``, ``y``: its middle, 0…1 of the upright picture; ``gap``: between the lids, as a share of
    its width, None where it is turned away; ``blur``: of its edges, px at 100 %, None if not known.
    """

    x: float
    y: float
    gap: float | None
    blur: float | None = None

    @property
    def open(self) -> float | None:
        """How likely it is open, 0…1; None where that can't be seen."""
        return None if self.gap is None else openness(self.gap)


@dataclass(frozen=True, slots=True)
class Face:
    """A face in the upright picture.

    ``box``: left, top, right, bottom, 0…1. ``eyes``: first the one further left in the picture of
    an upright head. ``turned``: to the side, degrees, 0 looks at the camera. ``score``: how sure it
    is a face, 0…1. ``look``: a small picture of it, shape LOOK_SHAPE, standardised. ``mouth``: how
    far the lips are apart, by the mouth's width, and how wide it is, by the distance of the outer
    corners of the eyes; ``gaze``: how far beside the camera it looks, by the eye's width, to the
    right of the picture above zero; ``smile``: how likely it looks happy, 0…1, and the shape of a
    smile, how wide the mouth is and how far its corners are above the upper lip, by the same
    distance and by its width; all None where nothing can be said. ``weight``: how much it counts,
    if somebody said so: that is stored apart from it.
    """

    box: tuple[float, float, float, float]
    eyes: tuple[Eye, Eye]
    turned: float
    score: float
    look: NDArray[np.float32]
    mouth: tuple[float, float] | None = None
    gaze: float | None = None
    smile: tuple[float, float] | None = None
    weight: Weight = ""

    @property
    def middle(self) -> Point:
        """The middle of its box, 0…1."""
        return (self.box[0] + self.box[2]) / 2, (self.box[1] + self.box[3]) / 2

    @property
    def height(self) -> float:
        """Of its box, as a share of the picture's height."""
        return self.box[3] - self.box[1]

    @property
    def gap(self) -> float | None:
        """Between the lids of the eye that is less open; None where neither can be seen."""
        seen = [eye.gap for eye in self.eyes if eye.gap is not None]
        return min(seen) if seen else None

    @property
    def blur(self) -> float | None:
        """Of the sharper eye, px at 100 %: an eye in focus is enough. None if not known."""
        known = [eye.blur for eye in self.eyes if eye.blur is not None]
        return min(known) if known else None

    @property
    def between_eyes(self) -> Point:
        """The middle between both eyes, 0…1."""
        first, second = self.eyes
        return (first.x + second.x) / 2, (first.y + second.y) / 2


def openness(gap: float) -> float:
    """How likely an eye with this gap between its lids is open, 0…1."""
    return float(1 / (1 + np.exp(-(gap - CLOSED_BELOW) / _HALF_SURE)))


def are_closed(face: Face, below: float) -> bool | None:
    """Whether a face has an eye that is closed, its lids no further than ``below`` apart; None
    where its eyes can't be seen."""
    return None if face.gap is None else face.gap <= below


def ordered(faces: Sequence[Face]) -> list[Face]:
    """By size, largest first; of nearly one size (a fifth) the sharper first."""

    def rank(face: Face) -> tuple[int, float, float]:
        size = round(np.log(max(face.height, 1e-6)) / np.log(1.2))
        return -size, face.blur if face.blur is not None else np.inf, -face.height

    return sorted(faces, key=rank)


def counting(faces: Sequence[Face], ratio: float) -> list[int]:
    """Which faces count toward hints: not the tiny and not the blurred ones of the background,
    unless somebody said so; and never those that somebody said don't count.

    ``ratio``: the picture's width by its height.
    """
    asked = [face for face in faces if face.weight != "none"]
    if not asked:
        return []
    edge = max(ratio, 1.0)  # of the long edge by the height
    largest = max(face.height for face in asked)
    blurs = [face.blur for face in asked if face.blur is not None and face.height > largest / 2]
    sharpest = min(blurs) if blurs else None

    def counts(face: Face) -> bool:
        if face.weight:
            return face.weight == "most"
        if face.height < max(_LEAST_OF_LARGEST * largest, _LEAST_OF_EDGE * edge):
            return False
        if sharpest is None or face.blur is None or face.height == largest:
            return True
        return not (face.blur > _BACKGROUND * sharpest and face.blur > sharpest + _BACKGROUND_PX)

    return [n for n, face in enumerate(faces) if counts(face)]


# --- the same face in several frames -------------------------------------------------------------


def rows(frames: Sequence[Sequence[Face]], ratio: float) -> list[list[int | None]]:
    """The faces of compared frames in rows, one a person: entry n of a row is the number of that
    face in frame n, None where it isn't seen. ``ratio``: the pictures' width by their height.

    Faces are matched by where they are, after the shift that most of them share, and by how they
    look. Rows stand in the order of their largest face.
    """
    people: list[list[int | None]] = []
    for n, faces in enumerate(frames):
        shared = _shift(frames, people, n, ratio)
        pairs = sorted(
            (_cost(_last(frames, row), face, shared, ratio), r, f)
            for r, row in enumerate(people)
            for f, face in enumerate(faces)
        )
        taken_rows: set[int] = set()
        taken_faces: set[int] = set()
        for cost, r, f in pairs:
            if cost > _APART or r in taken_rows or f in taken_faces:
                continue
            people[r].append(f)
            taken_rows.add(r)
            taken_faces.add(f)
        for r, row in enumerate(people):
            if r not in taken_rows:
                row.append(None)
        people += [[*[None] * n, f] for f in range(len(faces)) if f not in taken_faces]

    def size(row: list[int | None]) -> float:
        return max(
            face.height
            for faces, at in zip(frames, row, strict=True)
            if at is not None
            for face in [faces[at]]
        )

    return sorted(people, key=size, reverse=True)


def _last(frames: Sequence[Sequence[Face]], row: Sequence[int | None]) -> Face:
    return next(frames[n][at] for n, at in reversed(list(enumerate(row))) if at is not None)


def _shift(
    frames: Sequence[Sequence[Face]], people: Sequence[Sequence[int | None]], n: int, ratio: float
) -> Point:
    """How far the camera turned since the frames before: the median of the likeliest pairs."""
    moves = []
    for row in people:
        before = _last(frames, row)
        near = [(_cost(before, face, (0.0, 0.0), ratio), i) for i, face in enumerate(frames[n])]
        if near and min(near)[0] < 1.5 * _APART:
            after = frames[n][min(near)[1]]
            moves.append((after.middle[0] - before.middle[0], after.middle[1] - before.middle[1]))
    if len(moves) < 2:
        return 0.0, 0.0
    x, y = np.median(moves, 0)
    return float(x), float(y)


def _cost(before: Face, after: Face, shift: Point, ratio: float) -> float:
    """How little two faces are one person's: 0 the same, 1 hardly."""
    size = max(before.height, after.height, 1e-6)
    apart = np.hypot(
        (after.middle[0] - before.middle[0] - shift[0]) * ratio,
        after.middle[1] - before.middle[1] - shift[1],
    )
    larger = abs(np.log(max(after.height, 1e-6) / max(before.height, 1e-6)))
    unlike = unlikeness(before.look, after.look)
    return float(0.28 * apart / size + 0.5 * larger + 0.5 * unlike)


def unlikeness(one: NDArray[np.float32], other: NDArray[np.float32]) -> float:
    """How differently two faces look, 0…2: one less their correlation."""
    if one.size != other.size or not one.size:
        return 1.0
    return float(1 - np.clip((one * other).mean(), -1, 1))


def standardised(look: NDArray[np.generic]) -> NDArray[np.float32]:
    """A small picture of shape LOOK_SHAPE with mean 0 and deviation 1, whatever its exposure."""
    values = look.astype(np.float32)
    values = values - values.mean()
    deviation = float(values.std())
    even: NDArray[np.float32] = values / np.float32(deviation if deviation > 1e-6 else 1)
    return even


def carried_over(point: Point, before: Face, after: Face, ratio: float) -> Point:
    """Where a point of one face is on the same face in another frame, by the line between the eyes.

    Points and places 0…1; ``ratio``: the pictures' width by their height, which both share.
    """
    (a, b), (c, d) = (
        [complex(eye.x * ratio, eye.y) for eye in face.eyes] for face in (before, after)
    )
    if abs(b - a) < 1e-9:
        return after.between_eyes
    at = c + (complex(point[0] * ratio, point[1]) - a) * (d - c) / (b - a)
    return at.real / ratio, at.imag


def face_at(faces: Sequence[Face], point: Point, margin: float = 0.15) -> int | None:
    """The smallest face that a point lies in (or beside, by a share of its size); None outside of
    all."""
    inside = [
        (face.height, n)
        for n, face in enumerate(faces)
        if face.box[0] - margin * (face.box[2] - face.box[0])
        <= point[0]
        <= face.box[2] + margin * (face.box[2] - face.box[0])
        and face.box[1] - margin * face.height <= point[1] <= face.box[3] + margin * face.height
    ]
    return min(inside)[1] if inside else None


# --- as text -------------------------------------------------------------------------------------


def pack(faces: Sequence[Face]) -> str:
    """Faces as JSON, some 400 bytes each."""
    return json.dumps(
        [
            {
                "box": [round(v, 5) for v in face.box],
                "eyes": [
                    [
                        round(eye.x, 5),
                        round(eye.y, 5),
                        eye.gap if eye.gap is None else round(eye.gap, 3),
                        eye.blur if eye.blur is None else round(eye.blur, 3),
                    ]
                    for eye in face.eyes
                ],
                "turned": round(face.turned, 1),
                "score": round(face.score, 3),
                "mouth": face.mouth and [round(v, 3) for v in face.mouth],
                "smile": face.smile and [round(v, 3) for v in face.smile],
                "gaze": face.gaze if face.gaze is None else round(face.gaze, 3),
                "look": np.clip(face.look * 32 + 128, 0, 255).astype(np.uint8).tobytes().hex(),
            }
            for face in faces
        ],
        separators=(",", ":"),
    )


def unpack(text: str) -> list[Face]:
    """The faces that ``pack`` made text of. Raises ValueError for anything else."""
    try:
        return [_face(face) for face in json.loads(text)]
    except (KeyError, TypeError, IndexError) as error:
        raise ValueError("this text is no list of faces") from error


def _face(told: Mapping[str, Any]) -> Face:
    left, top, right, bottom = told["box"]
    first, second = (Eye(*eye) for eye in told["eyes"])
    pixels = np.frombuffer(bytes.fromhex(told["look"]), np.uint8).astype(np.float32)
    look = ((pixels - np.float32(128)) / np.float32(32)).reshape(LOOK_SHAPE)
    mouth, smile = told.get("mouth"), told.get("smile")
    return Face(
        (left, top, right, bottom), (first, second), told["turned"], told["score"], look,
        None if mouth is None else (mouth[0], mouth[1]), told.get("gaze"),
        None if smile is None else (smile[0], smile[1]),
    )  # fmt: skip


# Eyes blurred by more than this share of an eye's width don't tell where they look, nor lips
# whether they touch.
_TOO_BLURRED: Final = 0.12
# How far around an eye edges are its own, as a share of the face's width; and in cells of the map
# at least.
_EYE_RADIUS: Final = 0.3
_LEAST_CELLS: Final = 3


def with_eyes_measured(faces: Sequence[Face], focus_map: FocusMap) -> list[Face]:
    """The faces with the blur of their eyes, from the focus map of the same upright picture; of
    those too blurred for that, mouth, smile and gaze are not told."""
    rows, columns = focus_map.blur.shape
    width, height = columns * focus_map.cell, rows * focus_map.cell

    def measured(eye: Eye, radius: float) -> Eye:
        figure = figure_at(focus_map, eye.x * width, eye.y * height, radius)
        return replace(eye, blur=figure.blur if figure else None)

    out = []
    for face in faces:
        eyes = _EYE_RADIUS * (face.box[2] - face.box[0]) * width
        radius = max(_LEAST_CELLS * focus_map.cell, eyes)
        first, second = (measured(eye, radius) for eye in face.eyes)
        seen = replace(face, eyes=(first, second))
        # Between the middles of two eyes there are about two widths of an eye.
        apart = float(np.hypot((second.x - first.x) * width, (second.y - first.y) * height)) / 2
        if seen.blur is None or seen.blur > _TOO_BLURRED * apart:
            seen = replace(seen, mouth=None, smile=None, gaze=None)
        out.append(seen)
    return out
