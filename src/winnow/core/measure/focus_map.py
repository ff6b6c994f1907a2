"""A focus map, and what is read from it: figures at a place, the sharpest region, tiles; kept in
few bytes."""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

TILE: Final = 64  # px at 100 %
LEAST: Final = 0.2  # px; sharper than that nobody can tell


MOST: Final = 25.0  # px
DIRECTIONS: Final = 32  # steps of the half circle


Floats = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class FocusMap:
    """Blur at the clearest edge of each cell.

    ``blur``: standard deviation in px at 100 %, NaN where there is no edge, shape (rows, columns).
    ``direction``: across the edge, in steps of 180° / 32 from the x axis towards y (down).
    ``cell``: px at 100 % that a cell is wide and high. ``noise``: of the luma at middle brightness,
    0…255.
    """

    blur: Floats
    direction: NDArray[np.uint8]
    cell: float
    noise: float


@dataclass(frozen=True, slots=True)
class Figure:
    """The blur in px (standard deviation) of a part of a picture, and how many edges say so."""

    blur: float
    edges: int


def _cells_in_a_tile(focus: FocusMap) -> int:
    return max(1, round(TILE / focus.cell))


def tile_px(focus: FocusMap) -> float:
    """How many px at 100 % a tile of this map is wide and high: about 64."""
    return _cells_in_a_tile(focus) * focus.cell


def tiles(focus: FocusMap) -> tuple[Floats, NDArray[np.int32]]:
    """Blur in px of each tile of 64 × 64 px (median, NaN without edges), and its number of
    edges."""
    each = _cells_in_a_tile(focus)
    rows, columns = (-(-side // each) for side in focus.blur.shape)
    padded = np.full((rows * each, columns * each), np.nan, np.float32)
    padded[: focus.blur.shape[0], : focus.blur.shape[1]] = focus.blur
    cells = padded.reshape(rows, each, columns, each).swapaxes(1, 2).reshape(rows, columns, -1)
    edges = np.isfinite(cells).sum(2).astype(np.int32)
    ordered = np.sort(cells, 2)  # NaN last
    low, high = np.maximum(edges - 1, 0) // 2, edges // 2
    low, high = (np.minimum(n, cells.shape[2] - 1)[..., None] for n in (low, high))
    median = (np.take_along_axis(ordered, low, 2) + np.take_along_axis(ordered, high, 2))[
        ..., 0
    ] / 2
    return np.where(edges > 0, median, np.nan).astype(np.float32), edges


def figure_at(focus: FocusMap, x: float, y: float, radius: float) -> Figure | None:
    """The blur round a point, all in px at 100 %; None where fewer than eight edges say so.

    The mean (of logarithms) of where the sharpest fifth, third and half of the edges end: a face or
    a flower has soft edges too, but what is in focus shows some that are sharp.
    """
    rows, columns = focus.blur.shape
    cy = (np.arange(rows) + 0.5)[:, None] * focus.cell - y
    cx = (np.arange(columns) + 0.5) * focus.cell - x
    blur = focus.blur[cy**2 + cx**2 < radius**2]
    return _figure(blur)


def _figure(blur: Floats) -> Figure | None:
    known = blur[np.isfinite(blur)]
    if len(known) < 8:
        return None
    sharp = np.log(np.quantile(known, (0.2, 0.35, 0.5)))
    return Figure(float(np.exp(sharp.mean())), len(known))


@dataclass(frozen=True, slots=True)
class Region:
    """A part of a picture in px at 100 % (left, top, right, bottom) and its blur."""

    box: tuple[int, int, int, int]
    figure: Figure


def blur_of(focus: FocusMap) -> float:
    """The blur of the sharpest region in px at 100 %; without edges the most that can be told."""
    region = sharpest_region(focus)
    return region.figure.blur if region else MOST


def sharpest_region(focus: FocusMap) -> Region | None:
    """The sharpest connected part of at least 0.5 % of the frame; None without edges.

    A window of that size (three tiles at least) looks for the place whose edges are sharpest on
    average; what lies around it and is hardly softer belongs to it.
    """
    there = np.isfinite(focus.blur)
    if there.sum() < 8:
        return None
    side = max(3 * TILE / focus.cell, (0.005 * focus.blur.size) ** 0.5)
    window = (2 * round(side / 2) + 1,) * 2
    logarithm = np.log(np.clip(focus.blur, 0.3, 12))

    def summed(values: Floats) -> Floats:
        total: Floats = cv2.boxFilter(
            values, -1, window, normalize=False, borderType=cv2.BORDER_CONSTANT
        )
        return total

    count = summed(there.astype(np.float32))
    enough = count >= min(12, 0.5 * there.sum())
    if not enough.any():
        return None
    mean = summed(np.where(there, logarithm, 0).astype(np.float32)) / np.maximum(count, 1)
    mean = np.where(enough, mean, np.inf)
    best = np.unravel_index(int(mean.argmin()), mean.shape)
    limit = np.log(np.exp(mean[best]) * 1.25 + 0.1)
    _, labels = cv2.connectedComponents((mean <= limit).astype(np.uint8), connectivity=8)
    inside = (labels == labels[best]).astype(np.uint8)
    # From the windows' middles to all that lies in them.
    inside = cv2.dilate(inside, np.ones(window, np.uint8))
    figure = _figure(focus.blur[inside > 0])
    if figure is None:
        return None
    left, top, width, height = (v * focus.cell for v in cv2.boundingRect(inside))
    return Region((round(left), round(top), round(left + width), round(top + height)), figure)


def turned(focus: FocusMap, orientation: int) -> FocusMap:
    """The map of the upright picture; ``orientation``: 1 to 8 as in Exif."""
    blur, direction = focus.blur, focus.direction.astype(int)
    if orientation in (5, 6, 7, 8):
        blur, direction = blur.T, (DIRECTIONS // 2 - direction.T) % DIRECTIONS
    for mirrored, axis in (((2, 3, 6, 7), 1), ((3, 4, 7, 8), 0)):
        if orientation in mirrored:
            blur, direction = np.flip(blur, axis), np.flip(-direction % DIRECTIONS, axis)
    return FocusMap(np.ascontiguousarray(blur), direction.astype(np.uint8), focus.cell, focus.noise)


_NO_EDGE: Final = 255
_STEPS: Final = 36.0  # codes for a factor of two: steps of 2 %


def pack(focus: FocusMap) -> bytes:
    """A map in some kilobytes: blur in steps of 2 %."""
    code = np.rint(np.log2(np.maximum(focus.blur, LEAST) / LEAST) * _STEPS)
    code = np.where(np.isfinite(focus.blur), np.clip(code, 0, _NO_EDGE - 1), _NO_EDGE)
    rows, columns = focus.blur.shape
    numbers = (rows, columns, round(focus.cell * 64), round(focus.noise * 16))
    head = np.minimum(numbers, 0xFFFF).astype("<u2").tobytes()
    direction = np.where(code == _NO_EDGE, 0, focus.direction).astype(np.uint8)
    return head + zlib.compress(code.astype(np.uint8).tobytes() + direction.tobytes(), 1)


def unpack(packed: bytes) -> FocusMap:
    """The map that ``pack`` made bytes of. Raises ValueError for anything else."""
    try:
        rows, columns, cell, noise = (int(n) for n in np.frombuffer(packed[:8], "<u2"))
        data = np.frombuffer(zlib.decompress(packed[8:]), np.uint8).reshape(2, rows, columns)
    except (ValueError, zlib.error):
        raise ValueError("these bytes are not a focus map") from None
    blur = (LEAST * np.exp2(data[0] / _STEPS)).astype(np.float32)
    blur[data[0] == _NO_EDGE] = np.nan
    return FocusMap(blur, data[1].copy(), cell / 64, noise / 16)
