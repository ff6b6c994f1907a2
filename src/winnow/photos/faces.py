"""Finds faces and their eyes with three small models that ship with Winnow.

The models: a detector of faces, a mesh of a face and the contour of an eye, trained and published
for LiteRT under the Apache License 2.0 (see ``models/NOTICE``). They run on the processor, one
thread. Another model can take their place: all that the rest of Winnow knows of them is ``find``.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from importlib.resources import files
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.core.measure import expression, faces, landmarks
from winnow.core.measure.faces import Eye, Face
from winnow.photos import smiles, weights

# The picture that is looked at has this long edge; the tiles in which it is looked at once more are
# this large and overlap by a quarter. So faces are found from about 2.5 % of the long edge on.
LONG_EDGE: Final = 2048
_TILE: Final = 896
_OVERLAP: Final = 0.25

_DETECTED: Final = 0.4
_IS_FACE: Final = 0.5
_SAME: Final = 0.3  # of the union that two boxes share
_INSIDE: Final = 0.7  # of the smaller one
_DETECTOR_PX, _MESH_PX, _EYE_PX = 192, 192, 64
# In the mesh: the middles of the inner lips, upper and lower; the inner and the outer corners of
# the mouth.
_LIPS, _INNER_CORNERS, _OUTER_CORNERS = (13, 14), (78, 308), (61, 291)
# Corners of the eyes in the mesh, outer and inner: of the eye at the left in the picture, and at
# the right.
_LEFT, _RIGHT = (33, 133), (362, 263)

Picture = NDArray[np.uint8]
Floats = NDArray[np.float32]


@contextmanager
def _quiet() -> Iterator[None]:
    """The library tells the terminal of each model that it loads, and can't be asked not to."""
    kept, nowhere = os.dup(2), os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 2)
        yield
    finally:
        os.dup2(kept, 2)
        os.close(kept)
        os.close(nowhere)


class _Model:
    """One of the models; arrays of shape (h, w, 3) in, flat arrays out."""

    def __init__(self, name: str) -> None:
        # Its library takes a while to load, and only the workers that look for faces need it.
        from ai_edge_litert.interpreter import Interpreter

        content = (files("winnow.photos") / "models" / f"{name}.tflite").read_bytes()
        with _quiet():
            self._it = Interpreter(model_content=content, num_threads=1)
            self._it.allocate_tensors()
        self._input = self._it.get_input_details()[0]["index"]
        self._outputs = [detail["index"] for detail in self._it.get_output_details()]

    def __call__(self, picture: Floats) -> list[Floats]:
        self._it.set_tensor(self._input, picture[None])
        self._it.invoke()
        return [np.array(self._it.get_tensor(n), np.float32).ravel() for n in self._outputs]


@cache
def model(name: str) -> Any:
    """One of the models, loaded once in a process: "face_detection_full_range", "face_landmark" or
    "iris_landmark"."""
    return _Model(name)


_NAMES: Final = ("face_detection_full_range", "face_landmark", "iris_landmark")


def available() -> bool:
    """Whether the models are there; without them no face is found."""
    folder = files("winnow.photos") / "models"
    return all((folder / f"{name}.tflite").is_file() for name in _NAMES)


def find(picture: Picture) -> list[Face]:
    """The faces of an upright RGB picture (h, w, 3), best with a long edge of 2,048 px; the largest
    first."""
    h, w = picture.shape[:2]
    long = max(w, h)
    tile = min(long, max(1, round(_TILE * min(long, LONG_EDGE) / LONG_EDGE)))
    boxes = []
    halves = _halves(picture)
    for side in (long, tile):
        # Shrunk once as the tiles are seen, so that each is only cut out.
        shown = _shrunk(halves, _DETECTOR_PX / side)
        for left, top in parts(shown.shape[1], shown.shape[0]):
            part = shown[top : top + _DETECTOR_PX, left : left + _DETECTOR_PX]
            boxes += _detect(part, (left, top), (w / shown.shape[1], h / shown.shape[0]))
    out = [face for box in _merged(boxes) if (face := _face(picture, box)) is not None]
    return faces.ordered(_apart(out))


def _halves(picture: Picture) -> list[Picture]:
    """The picture, its half and its quarter: whole factors are quick."""
    out = [picture]
    for _ in range(2):
        h, w = out[-1].shape[0] // 2, out[-1].shape[1] // 2
        if min(h, w) < 1:
            break
        even = out[-1][: 2 * h, : 2 * w]
        out.append(np.asarray(cv2.resize(even, (w, h), interpolation=cv2.INTER_AREA), np.uint8))
    return out


def _shrunk(halves: list[Picture], scale: float) -> Picture:
    """The picture at this scale, from the smallest of its halves that is no smaller."""
    h, w = halves[0].shape[:2]
    size = (max(1, round(w * scale)), max(1, round(h * scale)))
    large = [half for half in halves if half.shape[1] >= size[0] and half.shape[0] >= size[1]]
    source = large[-1] if large else halves[0]
    way = cv2.INTER_AREA if large else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(source, size, interpolation=way), np.uint8)


def parts(width: int, height: int) -> list[tuple[int, int]]:
    """Where the parts of a shrunk picture begin that the detector is shown, left and top, in px:
    one where it all fits, else parts that overlap by a quarter."""

    def starts(length: int) -> list[int]:
        if length <= _DETECTOR_PX:
            return [0]
        count = int(np.ceil((length - _DETECTOR_PX) / (_DETECTOR_PX * (1 - _OVERLAP)))) + 1
        return [round(v) for v in np.linspace(0, length - _DETECTOR_PX, count)]

    return [(left, top) for top in starts(height) for left in starts(width)]


@cache
def _anchors() -> Floats:
    """The middles of the detector's cells, 0…1: one a cell of four px."""
    side = _DETECTOR_PX // 4
    y, x = np.mgrid[:side, :side]
    return ((np.stack([x, y], -1).reshape(-1, 2) + 0.5) / side).astype(np.float32)


# A detected face: left, top, width, height in px, how sure, and its two eyes (2, 2) in px.
_Found = tuple[float, float, float, float, float, Floats]


def _detect(part: Picture, origin: tuple[int, int], enlarged: tuple[float, float]) -> list[_Found]:
    """The faces in a part (h, w, 3) of a shrunk picture, at most as large as the detector sees.

    ``origin``: left and top of it there; ``enlarged``: how much larger the picture itself is.
    """
    rows, columns = part.shape[:2]
    across, down = (_DETECTOR_PX - columns) // 2, (_DETECTOR_PX - rows) // 2
    canvas = np.zeros((_DETECTOR_PX, _DETECTOR_PX, 3), np.float32)
    canvas[down : down + rows, across : across + columns] = part / np.float32(127.5) - 1
    results = model("face_detection_full_range")(canvas)
    shapes, scores = sorted(results, key=len, reverse=True)
    sure = 1 / (1 + np.exp(-np.clip(scores, -80, 80)))
    out: list[_Found] = []
    for n in np.flatnonzero(sure > _DETECTED):
        values = shapes.reshape(len(scores), -1)[n] / _DETECTOR_PX
        middle = values[:2] + _anchors()[n]
        points = np.stack([middle - values[2:4] / 2, middle + values[2:4] / 2])
        points = np.concatenate([points, values[4:8].reshape(2, 2) + _anchors()[n]])
        points = (points * _DETECTOR_PX - (across, down) + origin) * enlarged
        (x0, y0), (x1, y1) = points[:2]
        out.append((x0, y0, x1 - x0, y1 - y0, float(sure[n]), points[2:].astype(np.float32)))
    return out


def _merged(candidates: list[_Found]) -> list[_Found]:
    """Each face once: of boxes that overlap the surest stays."""
    kept: list[_Found] = []
    for box in sorted(candidates, key=lambda f: -f[4]):
        if not any(_overlap(box[:4], other[:4]) for other in kept):
            kept.append(box)
    return kept


def _overlap(box: tuple[float, ...], other: tuple[float, ...]) -> bool:
    across = min(box[0] + box[2], other[0] + other[2]) - max(box[0], other[0])
    down = min(box[1] + box[3], other[1] + other[3]) - max(box[1], other[1])
    shared = max(0.0, across) * max(0.0, down)
    areas = box[2] * box[3], other[2] * other[3]
    return shared > _SAME * (sum(areas) - shared) or shared > _INSIDE * min(areas)


def _apart(listed: list[Face]) -> list[Face]:
    """Without faces that turned out to be one once their meshes were laid on them."""
    kept: list[Face] = []
    for face in sorted(listed, key=lambda f: -f.score):
        x0, y0, x1, y1 = face.box
        box = (x0, y0, x1 - x0, y1 - y0)
        if not any(
            _overlap(box, (o.box[0], o.box[1], o.box[2] - o.box[0], o.box[3] - o.box[1]))
            for o in kept
        ):
            kept.append(face)
    return kept


def _face(picture: Picture, candidate: _Found) -> Face | None:
    """The face with its eyes, if a mesh fits it."""
    h, w = picture.shape[:2]
    left, top, width, height, _, eyes = candidate
    angle = float(np.arctan2(eyes[1][1] - eyes[0][1], eyes[1][0] - eyes[0][0]))
    middle = np.array([left + width / 2, top + height / 2])
    mesh = _mesh(picture, middle, 1.6 * max(width, height), angle)
    # Once more, turned and cut by what was found: the detector's box is a rough one.
    points = mesh[0]
    line = points[_RIGHT[1]] - points[_LEFT[0]]
    angle = float(np.arctan2(line[1], line[0]))
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    lying = points @ turn.T
    low, high = lying.min(0), lying.max(0)
    points, sure, depth = _mesh(
        picture, ((low + high) / 2) @ turn, 1.5 * float((high - low).max()), angle
    )
    if sure < _IS_FACE:
        return None
    lying = points @ turn.T
    across = lying[_RIGHT[1]][0] - lying[_LEFT[0]][0]
    turned = landmarks.turned(float(across), float(depth[_RIGHT[1]] - depth[_LEFT[0]]))
    looked = [_eye(picture, points, corners, angle) for corners in (_LEFT, _RIGHT)]
    gaps = [gap for gap, _ in looked]
    seen = abs(turned) <= faces.TURNED
    made = [
        Eye(float(x / w), float(y / h), gap if seen else None)
        for gap, (x, y) in zip(
            gaps, (points[list(corners)].mean(0) for corners in (_LEFT, _RIGHT)), strict=True
        )
    ]
    (x0, y0), (x1, y1) = points.min(0), points.max(0)
    if min(x1 - x0, y1 - y0) < 8 or not np.isfinite(points).all():
        return None
    return Face(
        box=(float(x0 / w), float(y0 / h), float(x1 / w), float(y1 / h)),
        eyes=(made[0], made[1]),
        turned=turned,
        score=float(sure),
        mouth=_mouth(points),
        smile=_smile(picture, points, angle) if seen else None,
        gaze=expression.aside([offset for _, offset in looked], turned) if seen else None,
        look=_look(picture, (points.min(0) + points.max(0)) / 2, 1.5 * float(y1 - y0)),
    )


def _cut(
    picture: Picture, middle: NDArray[Any], size: float, angle: float, px: int
) -> tuple[Picture, NDArray[np.float64]]:
    """A square of a picture, turned upright and scaled to ``px``, and the matrix from it to the
    picture."""
    cos, sin = np.cos(angle) * size / px, np.sin(angle) * size / px
    matrix = np.array(
        [
            [cos, -sin, middle[0] - (cos - sin) * px / 2],
            [sin, cos, middle[1] - (sin + cos) * px / 2],
        ]
    )
    # Area by area where it shrinks much, and only of what is cut out.
    shrink = max(1, int(size / px))
    if shrink == 1:
        source, origin = picture, np.zeros(2)
    else:
        reach = size * 0.75
        low = np.clip(np.floor(middle - reach), 0, np.array(picture.shape[1::-1]) - 1).astype(int)
        high = np.clip(np.ceil(middle + reach), low + 1, picture.shape[1::-1]).astype(int)
        part = picture[low[1] : high[1], low[0] : high[0]]
        smaller = (max(1, part.shape[1] // shrink), max(1, part.shape[0] // shrink))
        source, origin = cv2.resize(part, smaller, interpolation=cv2.INTER_AREA), low
    to_source = matrix.copy()
    to_source[:, 2] -= origin
    to_source /= shrink
    cut = cv2.warpAffine(
        source, to_source, (px, px), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return cut, matrix


def _mesh(
    picture: Picture, middle: NDArray[Any], size: float, angle: float
) -> tuple[NDArray[np.float64], float, Floats]:
    """The mesh of a face: points (468, 2) in px of the picture, how sure, and their depth in the
    same px."""
    cut, matrix = _cut(picture, middle, size, angle, _MESH_PX)
    results = model("face_landmark")(cut.astype(np.float32) / 255)
    points, flag = sorted(results, key=len, reverse=True)[:2]
    mesh = points.reshape(468, 3)
    sure = float(1 / (1 + np.exp(-np.clip(flag[0], -80, 80))))
    placed = mesh[:, :2] @ matrix[:, :2].T + matrix[:, 2]
    return placed, sure, mesh[:, 2] * np.float32(size / _MESH_PX)


def _mouth(points: NDArray[np.float64]) -> tuple[float, float]:
    pairs = (_LIPS, _INNER_CORNERS, _OUTER_CORNERS, (_LEFT[0], _RIGHT[1]))
    return landmarks.mouth(*(points[list(pair)] for pair in pairs))


def _smile(
    picture: Picture, points: NDArray[np.float64], angle: float
) -> tuple[float, float] | None:
    """How likely the face looks happy, and the shape of a smile: how wide the mouth is, by the
    distance of the eyes' outer corners, and how far its corners are above the upper lip, by its
    width; None without the network."""
    if not weights.available(smiles.NAME):
        return None
    cut, _ = _cut(picture, *smiles.region(points, angle), angle, smiles.PX)
    down = np.array([-np.sin(angle), np.cos(angle)])
    up = landmarks.corners_up(points[_LIPS[0]], points[list(_OUTER_CORNERS)], down)
    return smiles.happiness(cut), _mouth(points)[1] + up


def _eye(
    picture: Picture, points: NDArray[np.float64], corners: tuple[int, int], angle: float
) -> tuple[float, float]:
    """Between the lids of an eye, and how far its iris is to the right of its middle, both as a
    share of its width."""
    first, second = points[list(corners)]
    size = 2.3 * float(np.hypot(*(second - first)))
    cut, _ = _cut(picture, (first + second) / 2, max(size, 2.0), angle, _EYE_PX)
    if corners == _LEFT:
        cut = np.ascontiguousarray(cut[:, ::-1])  # the model knows the other eye
    results = model("iris_landmark")(cut.astype(np.float32) / 255)
    contour = max(results, key=len).reshape(71, 3)[:, :2]
    iris = min(results, key=len).reshape(5, 3)[0, :2]
    offset = landmarks.iris_aside(contour, iris)
    # The corners lie the other way round in the eye at the right.
    return landmarks.lids(contour), offset if corners == _LEFT else -offset


def _look(picture: Picture, middle: NDArray[Any], size: float) -> Floats:
    cut, _ = _cut(picture, middle, size, 0.0, 32)
    small = cv2.resize(cut, faces.LOOK_SHAPE[:2], interpolation=cv2.INTER_AREA)
    return faces.standardised(small)
