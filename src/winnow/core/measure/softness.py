"""Softness within a group: how much more blurred each frame is than the sharpest ones, at one
place.

Each edge is compared with itself in the other frames, so that a face, which has soft edges anyway,
isn't called soft for them. Common practice: a photographer compares the same eye in all frames.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure.focus_map import DIRECTIONS, FocusMap

# A frame this much more blurred (in logarithms; about a fifth) than the sharpest of its group is
# soft.
SOFT: Final = 0.21
_FEWEST: Final = 8
_FEW_WHERE_SHARP: Final = 20
# Directions (of eight) that must have enough edges, before anything is said of a direction.
_FEWEST_BINS: Final = 5
_ALONG_DEG: Final = 25
# Edges within so much (in logarithms of blur) of the sharpest tenth lie at the depth that is in
# focus.
_ONE_DEPTH: Final = 1.0
# Edges that are sharper by this (in logarithms) are clearly so.
_CLEARLY: Final = 0.35
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


@dataclass(frozen=True, slots=True)
class Difference:
    """How one frame differs from its group, edge by edge.

    ``softer``: where most of the frames are sharp, as ``compared`` gives it. ``lean``: how much its
    blur depends on the direction (amplitude, in logarithms), ``angle``: along which it is most,
    degrees from the x axis towards y (down), ``length``: of an even motion along it that would blur
    so much, px at 100 %. ``elsewhere``: the share of the other edges, 0…1, that are clearly sharper
    than in most frames. ``worse``: the share of all edges that are clearly softer than in most;
    ``worse_at``: the middle of those, px at 100 % from the place, x and y. Each NaN where too few
    edges say so.
    """

    softer: float
    lean: float
    angle: float
    length: float
    elsewhere: float
    worse: float = float("nan")
    worse_at: tuple[float, float] = (float("nan"), float("nan"))


def against_group(
    maps: Sequence[FocusMap], places: Sequence[tuple[float, float]], radius: float
) -> list[Difference]:
    """How each frame of a group differs from the others around its place; as ``compared``.

    Of the cells around the places those are where the group is sharp whose edges are sharp in half
    of the frames, which outvotes a frame that is sharp somewhere else. An edge that is gone counts
    as soft.
    """
    reach = max(1, int(radius // maps[0].cell))
    parts = np.array([_part(m, place, reach) for m, place in zip(maps, places, strict=True)])
    pooled = _with_neighbours(parts)
    seen = np.isfinite(pooled)
    usual = _quantile(pooled, seen, 0.5)
    sharpest = _quantile(pooled, seen, _SHARPEST)
    shared = (seen.sum(0) >= max(2, len(maps) / 2)) & np.isfinite(usual)
    if shared.sum() < _FEW_WHERE_SHARP:
        nothing = float("nan")
        return [Difference(nothing, nothing, nothing, nothing, nothing) for _ in maps]
    # A subject that is small before a soft background must not be outvoted by it.
    limit = min(np.median(usual[shared]), np.quantile(usual[shared], 0.1) + _ONE_DEPTH)
    sharp, rest = shared & (usual <= limit), shared & (usual > limit)
    out = []
    for n, (focus_map, place) in enumerate(zip(maps, places, strict=True)):
        away = np.where(seen[n], pooled[n] - sharpest, np.inf)[sharp]
        usable = sharp & np.isfinite(parts[n])
        lean, angle, length = _lean(
            parts[n][usable], sharpest[usable], _directions(focus_map, place, reach)[usable]
        )
        others = (pooled[n] - usual)[rest & seen[n]]
        elsewhere = (others < -_CLEARLY).mean() if len(others) >= _FEW_WHERE_SHARP else np.nan
        worse = shared & seen[n] & (pooled[n] - usual > _CLEARLY)
        out.append(
            Difference(
                float(np.median(away)), lean, angle, length, float(elsewhere),
                float(worse.sum() / shared.sum()), _middle(worse, reach, focus_map.cell),
            )
        )  # fmt: skip
    return out


def _middle(cells: NDArray[np.bool_], reach: int, cell: float) -> tuple[float, float]:
    """The middle of some cells, px from the one in the middle; NaN without any."""
    y, x = np.nonzero(cells)
    if not len(x):
        return float("nan"), float("nan")
    return float(np.median(x) - reach) * cell, float(np.median(y) - reach) * cell


def _lean(
    blur: NDArray[np.float64], reference: NDArray[np.float64], direction: NDArray[np.int64]
) -> tuple[float, float, float]:
    """How the blur of edges (logarithms, against a reference) depends on their direction: see
    Difference."""
    bins = (direction + DIRECTIONS // 16) // (DIRECTIONS // 8) % 8
    count = np.bincount(bins, minlength=8)
    known = np.flatnonzero(count >= _FEWEST)
    if len(known) < _FEWEST_BINS:
        return float("nan"), float("nan"), float("nan")
    middle = np.array([np.median((blur - reference)[bins == k]) for k in known])
    turn = known * np.pi / 8
    weight = np.sqrt(count[known])
    table = np.stack([np.ones(len(known)), np.cos(2 * turn), np.sin(2 * turn)], 1)
    fit = np.linalg.lstsq(table * weight[:, None], middle * weight, rcond=None)[0]
    angle = float(np.degrees(np.arctan2(fit[2], fit[1]) / 2) % 180)
    along = np.abs((direction * 180 / DIRECTIONS - angle + 90) % 180 - 90) < _ALONG_DEG
    length = 0.0
    if along.sum() >= _FEWEST:
        along_blur, sharp = np.exp(np.median(blur[along])), np.exp(np.median(reference[along]))
        # An even motion over L px has the variance L² / 12.
        length = float(np.sqrt(12 * max(along_blur**2 - sharp**2, 0.0)))
    return float(np.hypot(fit[1], fit[2])), angle, length


def _directions(focus: FocusMap, place: tuple[float, float], reach: int) -> NDArray[np.int64]:
    """The directions that belong to ``_part``."""
    rows, columns = focus.blur.shape
    y = int(place[1] // focus.cell) + np.arange(-reach, reach + 1)
    x = int(place[0] // focus.cell) + np.arange(-reach, reach + 1)
    directions = focus.direction[np.clip(y, 0, rows - 1)[:, None], np.clip(x, 0, columns - 1)]
    return directions.astype(np.int64)


def _part(focus: FocusMap, place: tuple[float, float], reach: int) -> NDArray[np.float64]:
    """Logarithms of blur around a place, (2 reach + 1)², NaN outside of a circle."""
    rows, columns = focus.blur.shape
    y = int(place[1] // focus.cell) + np.arange(-reach, reach + 1)
    x = int(place[0] // focus.cell) + np.arange(-reach, reach + 1)
    inside = ((y >= 0) & (y < rows))[:, None] & ((x >= 0) & (x < columns))
    inside &= np.hypot(*np.mgrid[-reach : reach + 1, -reach : reach + 1]) <= reach
    blur = focus.blur[np.clip(y, 0, rows - 1)[:, None], np.clip(x, 0, columns - 1)]
    return np.where(inside, np.log(blur), np.nan)


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
