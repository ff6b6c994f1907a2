"""How happy a face looks, told by a small network for expressions.

The network is that of face-api.js for expressions (convolutions of depth and point, 112 × 112 px),
by the weights that ``@vladmandic/face-api`` carries in eight bits (MIT). It runs on the processor,
in NumPy. Of its seven expressions only one is asked for.
"""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.photos import weights

Floats = NDArray[np.float32]

NAME: Final = "face_expression_model"
PX: Final = 112
_MEAN: Final = np.array([122.782, 117.001, 104.298], np.float32)
# Neutral, happy, sad, angry, fearful, disgusted, surprised.
_HAPPY: Final = 1
# In the mesh: brows, temples, cheeks and chin. They, and a fifth around them, are what the network
# was trained on.
_OUTLINE: Final = (
    70, 105, 300, 334, 93, 234, 323, 454, 58, 132, 288, 361, 136, 172, 365, 397, 148, 152, 377,
)  # fmt: skip
_AROUND: Final = 0.2


def region(points: NDArray[np.float64], angle: float) -> tuple[NDArray[np.float64], float]:
    """The square that the network looks at: its middle and its side, px.

    ``points``: of a face's mesh (468, 2), px; ``angle``: of the line between its eyes, radians.
    """
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    lying = points[list(_OUTLINE)] @ turn.T
    low, high = lying.min(0), lying.max(0)
    return (low + high) / 2 @ turn, float((1 + 2 * _AROUND) * (high - low).max())


def happiness(cut: NDArray[np.uint8]) -> float:
    """How likely a face looks happy, 0…1; ``cut``: its region, eyes level, RGB (PX, PX, 3)."""
    return float(_network(cut)[_HAPPY])


# --- the network ---------------------------------------------------------------------------------


def _padded(values: Floats, step: int) -> Floats:
    """With a rim of nothing, as TensorFlow's "same" has it for a side of three."""
    rim = (0, 1) if step == 2 else (1, 1)
    return np.pad(values, (rim, rim, (0, 0)))


def _whole(values: Floats, name: str) -> Floats:
    """A convolution of all channels that halves the sides of an array (h, w, channels)."""
    filters = weights.arrays(NAME)[f"{name}/filters"]
    windows = np.lib.stride_tricks.sliding_window_view(_padded(values, 2), (3, 3), (0, 1))[::2, ::2]
    rows = windows.transpose(0, 1, 3, 4, 2).reshape(*windows.shape[:2], -1)
    out: Floats = rows @ filters.reshape(-1, filters.shape[-1]) + _bias(name)
    return out


def _apart(values: Floats, name: str, step: int = 1) -> Floats:
    """A convolution of each channel by itself, then of all at each point."""
    known = weights.arrays(NAME)
    depth, point = known[f"{name}/depthwise_filter"][..., 0], known[f"{name}/pointwise_filter"]
    h, w = values.shape[:2]
    wide = _padded(values, step)
    seen = np.zeros((-(-h // step), -(-w // step), values.shape[2]), np.float32)
    for row in range(3):
        for column in range(3):
            seen += wide[row : row + h : step, column : column + w : step] * depth[row, column]
    out: Floats = seen @ point[0, 0] + _bias(name)
    return out


def _bias(name: str) -> Floats:
    return weights.arrays(NAME)[f"{name}/bias"]


def _block(values: Floats, name: str) -> Floats:
    """Four layers, each of which sees the sum of those before it; the first halves the sides."""
    is_first = f"{name}/conv0/filters" in weights.arrays(NAME)
    layer = _whole(values, f"{name}/conv0") if is_first else _apart(values, f"{name}/conv0", 2)
    total = np.maximum(layer, 0)
    for number in (1, 2, 3):
        total = total + _apart(np.maximum(total, 0), f"{name}/conv{number}")
    return np.maximum(total, 0)


def _network(cut: NDArray[np.uint8]) -> Floats:
    """The seven expressions of a face, which add up to 1."""
    known = weights.arrays(NAME)
    values = (cut.astype(np.float32) - _MEAN) / np.float32(255)
    for name in ("dense0", "dense1", "dense2", "dense3"):
        values = _block(values, name)
    told = values.mean((0, 1)) @ known["fc/weights"] + known["fc/bias"]
    shares = np.exp(told - told.max())
    out: Floats = shares / shares.sum()
    return out
