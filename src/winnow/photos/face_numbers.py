"""What tells one person's face from another's: 128 numbers, near each other for one person.

The network is dlib's residual network for faces (29 layers, 150 × 150 px; dedicated to the public
domain), by the weights that ``@vladmandic/face-api`` carries in eight bits (MIT). It runs on the
processor, by matrix products alone: some 30 ms a face.
"""

from __future__ import annotations

from functools import cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.core import people
from winnow.core.measure.faces import Face
from winnow.photos import weights

Floats = NDArray[np.float32]

COUNT: Final = 128
_PX: Final = 150
# Where the network expects the middles of the eyes, in px: the means of the corners of dlib's mean
# face, with a quarter of the face around it.
_EYES: Final = ((47.73, 47.14), (100.28, 47.12))
# Seen from the side, the eyes are nearer to each other than they are: no face is taken for smaller
# than its height says, of which the distance between the eyes is such a share.
_OF_HEIGHT: Final = 0.42
_MEAN: Final = np.array([122.782, 117.001, 104.298], np.float32)
_NAME: Final = "face_recognition_model"


def available() -> bool:
    """Whether the network's weights are there."""
    return weights.available(_NAME)


def between_px(face: Face, width: int, height: int) -> float:
    """Between the eyes of a face, px of a picture of this size, as if it were seen from before."""
    (first, second) = face.eyes
    across = np.hypot((second.x - first.x) * width, (second.y - first.y) * height)
    return max(float(across), _OF_HEIGHT * face.height * height)


def numbers_of(picture: NDArray[np.uint8], face: Face, frame_px: int) -> Floats:
    """The 128 numbers of a face in an upright RGB picture (h, w, 3) of a frame that is ``frame_px``
    wide; NaN where it shows too little to tell whose it is."""
    height, width = picture.shape[:2]
    blur = None if face.blur is None else face.blur * width / max(frame_px, width)
    if not people.can_tell(face, between_px(face, width, height), blur):
        return np.full(COUNT, np.nan, np.float32)
    return _network(_chip(picture, face))


def _chip(picture: NDArray[np.uint8], face: Face) -> NDArray[np.uint8]:
    """The face as the network expects it (150, 150, 3): eyes level, at the same places."""
    height, width = picture.shape[:2]
    first, second = (np.array([eye.x * width, eye.y * height]) for eye in face.eyes)
    middle, line = (first + second) / 2, second - first
    size = between_px(face, width, height) / (_EYES[1][0] - _EYES[0][0])
    angle = np.arctan2(line[1], line[0])
    cos, sin = np.cos(angle) * size, np.sin(angle) * size
    x, y = (_EYES[0][0] + _EYES[1][0]) / 2, (_EYES[0][1] + _EYES[1][1]) / 2
    matrix = np.array(
        [
            [cos, -sin, middle[0] - cos * x + sin * y],
            [sin, cos, middle[1] - sin * x - cos * y],
        ]
    )
    shrink = max(1, int(size))
    if shrink > 1:
        smaller = (max(1, width // shrink), max(1, height // shrink))
        picture = np.asarray(cv2.resize(picture, smaller, interpolation=cv2.INTER_AREA), np.uint8)
        matrix *= [[smaller[0] / width], [smaller[1] / height]]
    chip = cv2.warpAffine(
        picture, matrix, (_PX, _PX), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return np.asarray(chip, np.uint8)


# --- the network ---------------------------------------------------------------------------------


@cache
def _layer(name: str) -> tuple[Floats, Floats, int]:
    """A convolution with the scale that follows it: a matrix, what is added, and its side."""
    arrays = weights.arrays(_NAME)
    filters, scale = arrays[f"{name}/conv/filters"], arrays[f"{name}/scale/weights"]
    added = arrays[f"{name}/conv/bias"] * scale + arrays[f"{name}/scale/biases"]
    side, _, _, out = filters.shape
    return np.ascontiguousarray((filters * scale).reshape(-1, out)), added, side


def _convolved(values: Floats, name: str, *, step: int = 1, padded: bool = True) -> Floats:
    """One layer on an array (h, w, channels)."""
    matrix, added, side = _layer(name)
    if padded:
        edge = (side // 2, side // 2)
        values = np.pad(values, (edge, edge, (0, 0)))
    windows = np.lib.stride_tricks.sliding_window_view(values, (side, side), (0, 1))[::step, ::step]
    rows = windows.transpose(0, 1, 3, 4, 2).reshape(-1, len(matrix))
    out: Floats = (rows @ matrix + added).reshape(*windows.shape[:2], -1)
    return out


def _positive(values: Floats) -> Floats:
    out: Floats = np.maximum(values, 0)
    return out


def _residual(values: Floats, name: str) -> Floats:
    inner = _convolved(_positive(_convolved(values, f"{name}/conv1")), f"{name}/conv2")
    return _positive(inner + values)


def _halved(values: Floats, name: str) -> Floats:
    """A block that halves the sides; what is missing at an edge or in a channel is nothing."""
    first = _positive(_convolved(values, f"{name}/conv1", step=2, padded=False))
    inner = _convolved(first, f"{name}/conv2")
    h, w = values.shape[0] // 2, values.shape[1] // 2
    means = values[: 2 * h, : 2 * w].reshape(h, 2, w, 2, -1).mean((1, 3))
    rows, columns = max(h, inner.shape[0]), max(w, inner.shape[1])
    out = np.zeros((rows, columns, inner.shape[2]), np.float32)
    out[: inner.shape[0], : inner.shape[1]] += inner
    out[:h, :w, : means.shape[2]] += means
    return _positive(out)


_BLOCKS: Final = (
    "conv32_1", "conv32_2", "conv32_3", "conv64_down", "conv64_1", "conv64_2", "conv64_3",
    "conv128_down", "conv128_1", "conv128_2", "conv256_down", "conv256_1", "conv256_2",
    "conv256_down_out",
)  # fmt: skip


def _network(chip: NDArray[np.uint8]) -> Floats:
    values = (chip.astype(np.float32) - _MEAN) / np.float32(255)
    values = _positive(_convolved(values, "conv32_down", step=2, padded=False))
    # The largest of each three by three, every second one.
    windows = np.lib.stride_tricks.sliding_window_view(values, (3, 3), (0, 1))[::2, ::2]
    values = windows.max((3, 4))
    for name in _BLOCKS:
        values = (_halved if "down" in name else _residual)(values, name)
    out: Floats = (values.mean((0, 1)) @ weights.arrays(_NAME)["fc"]).astype(np.float32)
    return out
