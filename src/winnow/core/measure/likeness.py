"""Likeness of two pictures: a difference hash, a small colour layout and a layout of the edges.

Sources: the difference hash as N. Krawetz describes it ("Kind of like that", 2013), bit for bit as
the package ImageHash computes it; CIELAB and its distance as in CIE 15:2004; the edge layout as the
histograms of gradient directions of N. Dalal and B. Triggs (CVPR 2005) in coarse cells, compared by
the Hellinger distance. Neighbours are compared as they overlap best, so that a picture that was
only framed anew is like the one before it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

VERSION: Final = 2
LAYOUT_SIDE: Final = 8
_HASH_BYTES: Final = 8
_LAYOUT_BYTES: Final = LAYOUT_SIDE * LAYOUT_SIDE * 3
EDGE_SIDE: Final = 4  # cells; finer ones are disturbed by a little reframing
_EDGE_DIRECTIONS: Final = 4
_EDGE_PX: Final = 128
_EDGE_BYTES: Final = EDGE_SIDE * EDGE_SIDE * _EDGE_DIRECTIONS
_BYTES: Final = _HASH_BYTES + _LAYOUT_BYTES + _EDGE_BYTES
# What counts as altogether different: unrelated pictures reach it.
_HASH_APART: Final = 32  # bits
_COLOUR_APART: Final = 40.0  # CIELAB units, mean
_EDGES_APART: Final = 0.5  # Hellinger distance
_WEIGHTS: Final = (0.5, 0.25, 0.25)
# Of neighbours, which may be framed anew: cells by which the layout is shifted, what counts as
# altogether different then, and the weights of hash, shifted colour and edges. Found on the tuned
# part of benchmarks/truth.
_SHIFT: Final = 2
_SHIFTED_APART: Final = 20.0  # CIELAB units, mean
_WEIGHTS_SHIFTED: Final = (0.25, 0.5, 0.25)
# Levels by which a picture that shows something varies.
_SHOWS: Final = 4.0
# Small pictures of the demo's cameras are up to 0.06 from the whole ones, those of other pictures
# 0.8 and more (the dummies of exiv2's test files, which kept the small picture of another one).
_SAME_PICTURE: Final = 0.3
_AT_ONCE: Final = 512  # pairs, whose layouts stay in the processor's cache


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


def _spread() -> NDArray[np.float32]:
    """What sums a line of px into cells, shape (4, 128): each px blurred by a quarter of a cell, so
    that an edge near the border of a cell counts in both."""
    each = _EDGE_PX // EDGE_SIDE
    sigma = each / 4
    # As far as OpenCV's own blur of numbers reaches: four sigma.
    kernel = cv2.getGaussianKernel(round(8 * sigma + 1) | 1, sigma, cv2.CV_32F)
    blurred = cv2.sepFilter2D(
        np.eye(_EDGE_PX, dtype=np.float32), -1, np.ones((1, 1), np.float32), kernel
    )
    sums: NDArray[np.float32] = np.asarray(blurred).reshape(EDGE_SIDE, each, _EDGE_PX).sum(1)
    return sums


# Both blurring and summing are linear: as one product they take half the time.
_SPREAD: Final = _spread()


def edge_layout(picture: NDArray[np.uint8]) -> NDArray[np.float32]:
    """How the edges of a picture (h, w, 3) are spread over 4 × 4 cells and four directions.

    The roots of shares that sum to 1, shape (64,): neither contrast nor exposure matters.
    """
    side = _EDGE_PX
    grey = cv2.resize(
        cv2.cvtColor(np.ascontiguousarray(picture), cv2.COLOR_RGB2GRAY), (side, side),
        interpolation=cv2.INTER_AREA,
    )  # fmt: skip
    across, down = (cv2.Sobel(grey, cv2.CV_32F, dx, dy) for dx, dy in ((1, 0), (0, 1)))
    strength = np.hypot(across, down)
    turn = np.arctan2(down, across) / np.pi * _EDGE_DIRECTIONS
    direction = np.rint(turn).astype(int) % _EDGE_DIRECTIONS
    cells = []
    for one_way in range(_EDGE_DIRECTIONS):
        there = np.where(direction == one_way, strength, np.float32(0))
        cells.append(_SPREAD @ there @ _SPREAD.T)
    shares = np.stack(cells, -1).ravel()
    roots: NDArray[np.float32] = np.sqrt(shares / max(float(shares.sum()), 1e-6)).astype(np.float32)
    return roots


def signature(picture: NDArray[np.uint8]) -> bytes:
    """What is kept of a picture (h, w, 3) to compare it: 8 bytes of hash, 192 of colour layout, 64
    of edge layout.

    The colour layout's lightness is taken relative to its mean, so that exposure drops out.
    """
    small = Image.fromarray(picture).resize((LAYOUT_SIDE, LAYOUT_SIDE), Image.Resampling.BOX)
    lab = to_lab(np.asarray(small))
    lab[..., 0] -= lab[..., 0].mean()
    layout = np.clip(np.rint(lab), -128, 127).astype(np.int8)
    edges = np.rint(edge_layout(picture) * 255).astype(np.uint8)
    return difference_hash(picture).tobytes() + layout.tobytes() + edges.tobytes()


def signature_of_small(picture: NDArray[np.uint8]) -> bytes | None:
    """The signature of a camera's own small picture (h, w, 3); None where it shows nothing.

    Some programs leave an empty one, which would be like every other empty one.
    """
    return signature(picture) if float(picture.std()) >= _SHOWS else None


def same_picture(first: bytes, second: bytes) -> bool:
    """Whether two signatures are of one picture, made small, or converted, in different ways."""
    table = as_table([first, second])
    return bool(distances(table[:1], table[1:])[0] <= _SAME_PICTURE)


def distances_between_neighbours(signatures: list[bytes | None]) -> NDArray[np.float32]:
    """Distance, 0 (the same) to 1, of each picture to the one before it; NaN where unknown.

    Returns shape (n − 1,); see ``distances``.
    """
    table = as_table(signatures)
    return distances(table[1:], table[:-1])


def distances_back(
    table: NDArray[np.uint8],
    most: int,
    before: tuple[NDArray[np.uint8], NDArray[np.float32]] | None = None,
) -> NDArray[np.float32]:
    """How unlike each picture is to those before it, 0…1, whether framed anew or not; shape (n − 1,
    most): the first column to the one before it, the next to the one before that. NaN where
    unknown, and where there is none.

    ``table``: as ``as_table`` makes it; ``before``: another one with its distances, of which those
    that are the same are taken.
    """
    count = max(0, len(table) - 1)
    out = np.full((count, most), np.nan, np.float32)
    place = _places_in(before[0], table) if before else None
    for away in range(1, min(most, count) + 1):
        wanted = np.arange(away, len(table))
        if before and place is not None:
            was = place[wanted]
            same = (was >= away) & (place[wanted - away] == was - away)
            out[wanted[same] - 1, away - 1] = before[1][was[same] - 1, away - 1]
            wanted = wanted[~same]
        out[wanted - 1, away - 1] = reframed(table[wanted], table[wanted - away])
    return out


def _places_in(before: NDArray[np.uint8], table: NDArray[np.uint8]) -> NDArray[np.int64]:
    """Where each row stood before, -1 where it did not; shape (n,)."""
    known = {row.tobytes(): n for n, row in enumerate(before)}
    return np.array([known.get(row.tobytes(), -1) for row in table], np.int64)


def reframed(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Distance of pictures row by row as ``distances``, where their colours are compared as the
    pictures overlap best. Shape (n,)."""
    bits, edges = _hash_apart(first, second), _edges_apart(first, second)
    colour = np.minimum(_shifted(_layout(first), _layout(second)) / _SHIFTED_APART, 1)
    return _weighted((bits, colour, edges), _WEIGHTS_SHIFTED, _both_known(first, second))


def _shifted(first: NDArray[np.float32], second: NDArray[np.float32]) -> NDArray[np.float32]:
    """The mean colour difference of layouts (n, 8, 8, 3) where they are shifted so that it is the
    least, apart from the lightness of the part that both have; CIELAB units, shape (n,)."""
    # Colour by colour, with the pairs along the last axis: three times as fast.
    a, b = (np.ascontiguousarray(part.transpose(3, 1, 2, 0)) for part in (first, second))
    least = np.full(len(first), np.inf, np.float32)
    steps = range(-_SHIFT, _SHIFT + 1)
    for begin in range(0, len(first), _AT_ONCE):
        some = slice(begin, begin + _AT_ONCE)
        for down in steps:
            for across in steps:
                off = (
                    a[:, _part(down), _part(across), some]
                    - b[:, _part(-down), _part(-across), some]
                )
                off[0] -= off[0].mean((0, 1))
                np.multiply(off, off, out=off)
                apart = np.sqrt(off.sum(0)).mean((0, 1))
                np.minimum(least[some], apart, out=least[some])
    return least


def _part(shift: int) -> slice:
    """The cells that a layout still has where it is shifted."""
    return slice(max(0, shift), LAYOUT_SIDE + min(0, shift))


def as_table(signatures: Sequence[bytes | None]) -> NDArray[np.uint8]:
    """Signatures as rows of bytes, shape (n, 265): the first byte says whether it is known."""
    # One of another length is of older code, and will be made anew.
    rows = [
        b"\1" + signature
        if signature is not None and len(signature) == _BYTES
        else bytes(_BYTES + 1)
        for signature in signatures
    ]
    return np.frombuffer(b"".join(rows), np.uint8).reshape(len(rows), _BYTES + 1)


def distances(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Distance, 0 (the same) to 1, of pictures row by row; NaN where one is unknown. Shape (n,).

    ``first``, ``second``: rows of ``as_table``; one row is compared with all of the other table.
    Half of it is the share of differing hash bits (half of them differing counts as 1: that is what
    unrelated pictures give), a quarter the mean colour difference, a quarter the Hellinger distance
    of the edges.
    """
    off = _layout(first) - _layout(second)
    colour = np.sqrt(np.einsum("nijk,nijk->nij", off, off)).mean((1, 2)) / _COLOUR_APART
    parts = (_hash_apart(first, second), np.minimum(colour, 1), _edges_apart(first, second))
    return _weighted(parts, _WEIGHTS, _both_known(first, second))


def _weighted(
    parts: Sequence[NDArray[Any]], weights: Sequence[float], known: NDArray[np.bool_]
) -> NDArray[np.float32]:
    distance = sum(weight * part for weight, part in zip(weights, parts, strict=True))
    result: NDArray[np.float32] = np.asarray(distance, np.float32)
    # Rounding of equal edges must not show.
    result[result < 1e-3] = 0
    result[~known] = np.nan
    return result


def _both_known(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> NDArray[np.bool_]:
    known: NDArray[np.bool_] = (first[:, 0] > 0) & (second[:, 0] > 0)
    return known


def _hash_apart(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> NDArray[np.float64]:
    hashes = slice(1, 1 + _HASH_BYTES)
    bits = np.bitwise_count(first[:, hashes] ^ second[:, hashes]).sum(1)
    return np.asarray(np.minimum(bits / _HASH_APART, 1), np.float64)


def _layout(table: NDArray[np.uint8]) -> NDArray[np.float32]:
    """The colour layouts of rows, (n, 8, 8, 3) in CIELAB."""
    cells = np.ascontiguousarray(table[:, 1 + _HASH_BYTES : 1 + _HASH_BYTES + _LAYOUT_BYTES])
    return cells.view(np.int8).reshape(-1, LAYOUT_SIDE, LAYOUT_SIDE, 3).astype(np.float32)


def _edges_apart(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> NDArray[np.float32]:
    a, b = (signatures[:, -_EDGE_BYTES:].astype(np.float32) for signatures in (first, second))
    lengths = [np.maximum(np.linalg.norm(edges, axis=1), 1) for edges in (a, b)]
    common = (a * b).sum(1) / (lengths[0] * lengths[1])
    return np.asarray(np.minimum(np.sqrt(np.maximum(1 - common, 0)) / _EDGES_APART, 1), np.float32)
