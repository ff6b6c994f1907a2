"""Likeness of two pictures: a difference hash and a small colour layout.

Sources: the difference hash as N. Krawetz describes it ("Kind of like that", 2013), bit for bit as
the package ImageHash computes it; CIELAB and its distance as in CIE 15:2004.
"""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

VERSION: Final = 1
LAYOUT_SIDE: Final = 8
_HASH_BYTES: Final = 8
_LAYOUT_BYTES: Final = LAYOUT_SIDE * LAYOUT_SIDE * 3


def difference_hash(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Hash an RGB picture of shape (h, w, 3) to 8 bytes; row by row, first bit highest."""
    gray = Image.fromarray(picture).convert("L").resize((9, 8), Image.Resampling.LANCZOS)
    pixels = np.asarray(gray)
    return np.packbits(pixels[:, 1:] > pixels[:, :-1])


def to_lab(srgb: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Convert sRGB of shape (..., 3) to CIELAB under D65; L in 0…100."""
    value = srgb.astype(np.float32) / 255
    linear = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    to_xyz = np.array(
        [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]], np.float32
    )
    ratio = linear @ to_xyz.T / np.array([0.9505, 1.0, 1.089], np.float32)
    root = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio * (29 / 6) ** 2 / 3 + 4 / 29)
    x, y, z = np.moveaxis(root, -1, 0)
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], -1).astype(np.float32)


def signature(picture: NDArray[np.uint8]) -> bytes:
    """What is kept of a picture (h, w, 3) to compare it: 8 bytes of hash, 192 of colour layout.

    The layout's lightness is taken relative to its mean, so that exposure drops out.
    """
    small = Image.fromarray(picture).resize((LAYOUT_SIDE, LAYOUT_SIDE), Image.Resampling.BOX)
    lab = to_lab(np.asarray(small))
    lab[..., 0] -= lab[..., 0].mean()
    layout = np.clip(np.rint(lab), -128, 127).astype(np.int8)
    return difference_hash(picture).tobytes() + layout.tobytes()


def distances_between_neighbours(signatures: list[bytes | None]) -> NDArray[np.float32]:
    """Distance, 0 (the same) to 1, of each picture to the one before it; NaN where unknown.

    Returns shape (n − 1,). Two thirds are the share of differing hash bits (half of them differing
    counts as 1: that is what unrelated pictures give), one third the mean colour difference
    (40 units counts as 1).
    """
    n = len(signatures)
    if n < 2:
        return np.empty(0, np.float32)
    blank = bytes(_HASH_BYTES + _LAYOUT_BYTES)
    known = np.array([signature is not None for signature in signatures])
    table = np.frombuffer(b"".join(s or blank for s in signatures), np.uint8).reshape(n, -1)
    hashes = table[:, :_HASH_BYTES]
    layouts = table[:, _HASH_BYTES:].view(np.int8).astype(np.int32)
    bits = np.unpackbits(hashes[1:] ^ hashes[:-1], axis=1).sum(1) / 32
    layouts = layouts.reshape(n, -1, 3)
    colour = np.sqrt(((layouts[1:] - layouts[:-1]) ** 2).sum(2)).mean(1) / 40
    distance = (2 * np.minimum(bits, 1) + np.minimum(colour, 1)) / 3
    distance[~(known[1:] & known[:-1])] = np.nan
    result: NDArray[np.float32] = distance.astype(np.float32)
    return result
