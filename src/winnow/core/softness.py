"""Softness within a group: how much more blurred each frame is than the sharpest ones, at one place.

Each edge is compared with itself in the other frames, so that a face, which has soft edges anyway,
isn't called soft for them. Common practice: a photographer compares the same eye in all frames.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.focus import FocusMap

# A frame this much more blurred (in logarithms; about a fifth) than the sharpest of its group is soft.
SOFT: Final = 0.21
_FEWEST: Final = 8
_SHARPEST: Final = 0.2


def compared(
    maps: Sequence[FocusMap], places: Sequence[tuple[float, float]], radius: float
) -> NDArray[np.float64]:
    """How soft each frame of a group is at its place: logarithms of blur against the sharpest.

    ``places``: where the same part of the subject is in each frame, x and y in px at 100 %;
    ``radius``: how far around it, in px. All maps have one cell size. Shape (n,); infinite for a
    frame that shows almost none of the edges, NaN for all where no frame has enough.
    """
    reach = max(1, int(radius // maps[0].cell))
    parts = np.array([_part(m, place, reach) for m, place in zip(maps, places, strict=True)])
    pooled = _with_neighbours(parts)
    seen = np.isfinite(pooled)
    reference = _quantile(pooled, seen, _SHARPEST)
    shared = (seen.sum(0) >= max(2, len(maps) / 2)) & np.isfinite(reference)
    if shared.sum() < _FEWEST:
        return np.full(len(maps), np.nan)
    out = np.empty(len(maps))
    for n, (frame, here) in enumerate(zip(pooled, seen, strict=True)):
        both = shared & here
        out[n] = np.median((frame - reference)[both]) if both.sum() >= _FEWEST else np.inf
    return out


def _part(focus: FocusMap, place: tuple[float, float], reach: int) -> NDArray[np.float64]:
    """Logarithms of blur around a place, (2 reach + 1)², NaN outside of a circle."""
    rows, columns = focus.blur.shape
    y = int(place[1] // focus.cell) + np.arange(-reach, reach + 1)
    x = int(place[0] // focus.cell) + np.arange(-reach, reach + 1)
    inside = ((y >= 0) & (y < rows))[:, None] & ((x >= 0) & (x < columns))
    inside &= np.hypot(*np.mgrid[-reach : reach + 1, -reach : reach + 1]) <= reach
    found = focus.blur[np.clip(y, 0, rows - 1)[:, None], np.clip(x, 0, columns - 1)]
    return np.where(inside, np.log(found), np.nan)


def _with_neighbours(parts: NDArray[np.float64]) -> NDArray[np.float64]:
    """The median of each cell and its eight neighbours, where three of them have an edge: a subject
    that moved by half a cell is still compared with itself."""
    padded = np.pad(parts, ((0, 0), (1, 1), (1, 1)), constant_values=np.nan)
    h, w = parts.shape[1:]
    around = np.stack([padded[:, y : y + h, x : x + w] for y in range(3) for x in range(3)])
    seen = np.isfinite(around)
    median = _quantile(around, seen, 0.5)
    return np.where(seen.sum(0) >= 3, median, np.nan)


def _quantile(
    values: NDArray[np.float64], seen: NDArray[np.bool_], share: float
) -> NDArray[np.float64]:
    """A quantile along the first axis of what is seen; NaN where nothing is."""
    count = seen.sum(0)
    ordered = np.sort(np.where(seen, values, np.inf), 0)
    place = share * np.maximum(count - 1, 0)
    low = np.floor(place).astype(int)[None]
    high = np.minimum(low + 1, np.maximum(count - 1, 0))
    part = place - low[0]
    below, above = (np.take_along_axis(ordered, at, 0)[0] for at in (low, high))
    rise = np.where(np.isfinite(above), above, 0) - np.where(np.isfinite(below), below, 0)
    return np.where(count > 0, below + rise * part, np.nan)


def blur_at(focus: FocusMap, place: tuple[float, float], radius: float) -> float | None:
    """The blur around a place, in px at 100 %: the median of the edges there. None with too few of them.

    ``place``: x and y in px at 100 %; ``radius`` in px.
    """
    part = _part(focus, place, max(1, int(radius // focus.cell)))
    seen = part[np.isfinite(part)]
    return float(np.exp(np.median(seen))) if len(seen) >= _FEWEST else None
