"""Focus: how blurred a picture is at its edges, in px at 100 %.

An edge that a lens or a hand blurred is a step that went through a Gaussian. Seen through two more
Gaussians of known width, its steepness says how wide the first one was, whatever the contrast and
the exposure: the gradient of a step of height A, blurred by s0 and seen through s, is
A / sqrt(2 pi (s0² + s²)), so the ratio of two of them leaves s0 alone.

Source: S. Zhuo and T. Sim, "Defocus map estimation from a single image", Pattern Recognition 44
(2011), 1852-1858, doi:10.1016/j.patcog.2011.03.009. Done here on profiles across the steepest pixel
of each cell, on the picture and on its halves, so that 0.7 and 8 px are measured alike; where the
noise hides an edge it isn't counted.
"""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.core.measure.focus_map import DIRECTIONS, LEAST, MOST, Floats, FocusMap

VERSION: Final = 1

_SEEN: Final = (0.8, 1.6)  # px of the level: the two Gaussians
_REACH: Final = 8  # px of the level on each side of the edge
_SHIFTS: Final = np.arange(-2.5, 3)  # px: where the steepest place is looked for
_MARGIN: Final = _REACH + 2
_STANDS_OUT: Final = 6.0  # times the noise
# What a perfectly sharp edge is measured wrong by, in px² of the level: decides between levels.
_UNSURE: Final = 0.1
# Above this blur in px the next finer level has nothing to add.
_HALF_BELOW: Final = 3.2
_FULL_BELOW: Final = 1.7
_KNOTS: Final = 17  # of the noise by brightness: 0, 16, ... 256
_FEW_PIXELS: Final = 8_000_000  # a picture with fewer has finer cells

Luma = NDArray[np.uint8]


def levels(luma: Luma) -> tuple[Luma, Luma, Luma]:
    """The picture (h, w) cut to sides that four divides, its half and its quarter (by area)."""
    h, w = luma.shape[0] // 4 * 4, luma.shape[1] // 4 * 4
    full = luma[:h, :w]
    if not full.size:  # narrower than 4 px
        return full, full[: h // 2, : w // 2], full[: h // 4, : w // 4]
    half = cv2.resize(full, (w // 2, h // 2), interpolation=cv2.INTER_AREA)
    quarter = cv2.resize(half, (w // 4, h // 4), interpolation=cv2.INTER_AREA)
    return full, half, quarter


def measure(luma: Luma) -> FocusMap:
    """Measure a picture's luma (h, w) at full size, both sides at least 96 px; else all is NaN."""
    return measure_levels(*levels(luma))


def measure_levels(full: Luma, half: Luma, quarter: Luma) -> FocusMap:
    """The same from the three levels, where they are at hand; see ``levels``."""
    step = 16 if full.size > _FEW_PIXELS else 8
    rows, columns = half.shape[0] // step, half.shape[1] // step
    blur = np.full((rows, columns), np.nan, np.float32)
    direction = np.zeros((rows, columns), np.uint8)
    if min(quarter.shape) <= 2 * _MARGIN:
        return FocusMap(blur, direction, 2 * step, 0.0)
    noises = [_noise(level) for level in (full, half, quarter)]
    rise, y, x = _steepest(half, step)
    keep = rise > np.maximum(8, 5.5 * _at_brightness(noises[1], half[y, x]))
    cells = np.flatnonzero(keep)
    y, x = y[cells], x[cells]
    at = np.minimum(y // 2, quarter.shape[0] - 1), np.minimum(x // 2, quarter.shape[1] - 1)
    # Directions from the quarter: there the noise is least.
    across = tuple(
        cv2.Sobel(quarter, cv2.CV_16S, dx, dy, ksize=5)[at].astype(np.float32)
        for dx, dy in ((1, 0), (0, 1))
    )
    # Each halving by area is a blur of its own: (n² − 1) / 12 px² for n px in one.
    variance, unsure = _variance(quarter, y // 2, x // 2, across, noises[2])
    variance, unsure = variance * 16 - 15 / 12, unsure * 16
    for level, scale, below, known in (
        (half, 2, _HALF_BELOW, noises[1]),
        (full, 1, _FULL_BELOW, noises[0]),
    ):
        fine = np.flatnonzero(~(variance > below**2))
        here = tuple(part[fine] for part in across)
        to_level = 2 // scale
        finer, doubt = _variance(level, y[fine] * to_level, x[fine] * to_level, here, known)
        finer, doubt = finer * scale**2 - (scale**2 - 1) / 12, doubt * scale**2
        better = doubt < unsure[fine]
        variance[fine] = np.where(better, finer, variance[fine])
        unsure[fine] = np.minimum(doubt, unsure[fine])
    blur.ravel()[cells] = np.clip(np.sqrt(np.maximum(variance, 0)), LEAST, MOST)
    turn = np.arctan2(across[1], across[0]) / np.pi * DIRECTIONS
    direction.ravel()[cells] = np.rint(turn).astype(int) % DIRECTIONS
    return FocusMap(blur, direction, 2 * step, float(noises[0][_KNOTS // 2]))


def _responses() -> tuple[Floats, float, float]:
    """From profiles (n, 2 * _REACH + 1) to their steepness through both Gaussians at each shift,
    and the sum of squares of one column of each."""
    between = np.arange(-_REACH + 0.5, _REACH)
    columns = []
    for seen in _SEEN:
        whole = np.exp(-(np.arange(-20, 21) ** 2) / (2 * seen**2)).sum()
        for shift in _SHIFTS:
            weight = np.exp(-((between - shift) ** 2) / (2 * seen**2)) / whole
            column = np.zeros(2 * _REACH + 1)
            column[1:] += weight
            column[:-1] -= weight
            columns.append(column)
    table = np.array(columns, np.float32).T
    middle = len(_SHIFTS) // 2
    energy = [float((table[:, middle + n * len(_SHIFTS)] ** 2).sum()) for n in (0, 1)]
    return table, energy[0], energy[1]


_TABLE, _ENERGY_NARROW, _ENERGY_WIDE = _responses()
_ROWS: Final = np.full(3, 1 / 3, np.float32)  # each profile is the mean of three


def _steepest(half: Luma, step: int) -> tuple[NDArray[np.int64], ...]:
    """The steepest pixel of each cell of ``step`` px: rise within 3 px, y and x."""
    rise = cv2.morphologyEx(half, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    rows, columns = half.shape[0] // step, half.shape[1] // step
    # The place within the cell goes into the low byte, so that one maximum finds both.
    code = rise[: rows * step, : columns * step].astype(np.uint16) << 8
    place = (np.arange(step)[:, None] * 16 + np.arange(step)).astype(np.uint16)
    code = code.reshape(rows, step, columns * step)
    code += np.tile(place, (1, columns))
    best = code.max(1)
    # Not max() over the short last axis, which takes ten times as long.
    largest = best[:, ::step].copy()
    for n in range(1, step):
        np.maximum(largest, best[:, n::step], out=largest)
    y = np.arange(rows)[:, None] * step + ((largest >> 4) & 15)
    x = np.arange(columns) * step + (largest & 15)
    return (
        (largest >> 8).ravel().astype(np.int64),
        y.ravel().astype(np.int64),
        x.ravel().astype(np.int64),
    )


def _profiles(
    level: Luma,
    y: NDArray[np.int64],
    x: NDArray[np.int64],
    flat: NDArray[np.bool_],
    lean: NDArray[np.int64],
) -> Floats:
    """Brightness along the rows (``flat``) or columns through points, (n, 2 * _REACH + 1).

    Each is the mean of three neighbours, displaced by ``lean`` px to follow a leaning edge.
    """
    width = level.shape[1]
    pixels = level.ravel()
    along, beside = np.where(flat, 1, width), np.where(flat, width, 1)
    index = (y * width + x)[:, None] + along[:, None] * np.arange(-_REACH, _REACH + 1)
    aside = (beside - lean * along)[:, None]
    profile: Floats = pixels.take(index).astype(np.float32)
    profile += pixels.take(index + aside)
    profile += pixels.take(index - aside)
    profile /= 3
    return profile


def _variance(
    level: Luma,
    y: NDArray[np.int64],
    x: NDArray[np.int64],
    across: tuple[Floats, ...],
    noise: Floats,
) -> tuple[Floats, Floats]:
    """Variance of the blur at edges, and how unsure it is, both in px² of the level.

    NaN and a huge doubt where an edge lies too near the border or doesn't stand out of the noise.
    """
    level = np.ascontiguousarray(level)
    h, w = level.shape
    inside = (y >= _MARGIN) & (y < h - _MARGIN) & (x >= _MARGIN) & (x < w - _MARGIN)
    y, x = np.clip(y, _MARGIN, h - _MARGIN - 1), np.clip(x, _MARGIN, w - _MARGIN - 1)
    flat = np.abs(across[0]) >= np.abs(across[1])
    lead = np.where(flat, across[0], across[1])
    tangent = np.where(flat, across[1], across[0]) / np.where(lead == 0, 1, lead)
    tangent = np.clip(tangent, -1.5, 1.5)
    lean = np.rint(tangent).astype(np.int64)
    profile = _profiles(level, y, x, flat, lean)
    steep = np.abs(profile @ _TABLE)
    count = len(_SHIFTS)
    wide, place = _peak(steep[:, count:])
    # At the same place, or noise would always find a steeper one.
    narrow = _height_at(steep[:, :count], place)
    known = _at_brightness(noise, profile.mean(1)) ** 2 / 3
    stands_out = narrow / np.sqrt(known * _ENERGY_NARROW + 1e-3)
    a = np.maximum(narrow**2 - known * _ENERGY_NARROW, 1e-3)
    b = np.maximum(wide**2 - known * _ENERGY_WIDE, 1e-3)
    first, second = (seen**2 for seen in _SEEN)
    raw = np.where(a > b * 1.001, (b * second - a * first) / np.maximum(a - b, 1e-6), 1e3)
    # Differences between neighbours, and three rows that don't follow the edge exactly, blur too.
    blur = raw - 1 / 12 - (tangent - lean) ** 2 * 2 / 3
    blur /= 1 + tangent**2  # across the edge, not along the row
    raw = np.clip(raw, 0, 50)
    unsure = (raw + first) * (raw + second) / (second - first) * 2.8 / np.maximum(stands_out, 0.1)
    good = inside & (stands_out > _STANDS_OUT)
    return (
        np.where(good, blur, np.nan).astype(np.float32),
        np.where(good, unsure + _UNSURE, 1e9).astype(np.float32),
    )


def _peak(steep: Floats) -> tuple[Floats, Floats]:
    """Height and place of the highest inner value of each row: a parabola of the logarithms."""
    row = np.arange(len(steep))
    at = steep[:, 1:-1].argmax(1) + 1
    left, middle, right = (np.log(np.maximum(steep[row, at + n], 1e-3)) for n in (-1, 0, 1))
    bend = np.minimum(left + right - 2 * middle, -1e-6)
    aside = np.clip(0.5 * (left - right) / bend, -0.5, 0.5)
    return np.exp(middle - 0.25 * (left - right) * aside), at + aside


def _height_at(steep: Floats, place: Floats) -> Floats:
    row = np.arange(len(steep))
    at = np.clip(np.rint(place).astype(int), 1, steep.shape[1] - 2)
    left, middle, right = (np.log(np.maximum(steep[row, at + n], 1e-3)) for n in (-1, 0, 1))
    t = place - at
    height: Floats = np.exp(
        middle + t * (right - left) / 2 + t * t * (left + right - 2 * middle) / 2
    )
    return height


def _noise(level: Luma) -> Floats:
    """Standard deviation of the noise by brightness, _KNOTS values, as edges are measured.

    From small patches, the quiet ones of each brightness. A picture that is textured everywhere has
    no quiet patch: then the estimate of J. Immerkær ("Fast noise variance estimation", CVIU 64,
    1996) bounds it, which lets texture pass but not the grain of a developed picture.
    """
    side = 24 + 2 * _REACH
    h, w = level.shape
    if h < side or w < side:
        return np.full(_KNOTS, 0.3, np.float32)
    tops, lefts = np.linspace(0, h - side, 6).astype(int), np.linspace(0, w - side, 8).astype(int)
    # One picture of all patches: filtering it is far quicker than filtering each.
    patches = np.concatenate([level[t : t + side, x : x + side] for t in tops for x in lefts])
    count = len(patches) // side
    kernel = np.ascontiguousarray(_TABLE[:, len(_SHIFTS) // 2][::-1])
    laplacian = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    inner = slice(_REACH, -_REACH)

    def strengths_of(filtered: Floats) -> Floats:
        parts = filtered.reshape(count, side, side)[:, inner, inner]
        strengths: Floats = np.abs(parts).reshape(count, -1)
        return strengths

    brightness = patches.reshape(count, -1).mean(1)
    strength = np.median(strengths_of(cv2.sepFilter2D(patches, cv2.CV_32F, kernel, _ROWS)), 1)
    plain = strengths_of(cv2.filter2D(patches, cv2.CV_32F, laplacian)).mean(1)
    # What is clipped has no noise, and would say so.
    usable = (brightness > 2) & (brightness < 253)
    if usable.sum() < 8:
        return np.full(_KNOTS, 0.3, np.float32)
    brightness, strength, plain = brightness[usable], strength[usable], plain[usable]
    order = np.argsort(strength)
    strength, at = strength[order], brightness[order]
    out = np.empty(_KNOTS)
    for knot in range(_KNOTS):
        share = np.cumsum(np.exp(-(((at - 16 * knot) / 24) ** 2) / 2) + 1e-3)
        out[knot] = strength[np.searchsorted(share, 0.15 * share[-1])]
    deviation = out / 0.6745 / np.sqrt(_ENERGY_NARROW / 3)
    most = 0.3 + 6 * np.sqrt(np.pi / 2) / 6 * np.percentile(plain, 30)
    bounded: Floats = np.clip(deviation, 0.3, most).astype(np.float32)
    return bounded


def _at_brightness(noise: Floats, brightness: NDArray[np.generic]) -> Floats:
    place = brightness.astype(np.float32) / 16
    knot = np.minimum(place.astype(int), _KNOTS - 2)
    part = place - knot
    deviation: Floats = noise[knot] * (1 - part) + noise[knot + 1] * part
    return deviation


# --- reading a map -------------------------------------------------------------------------------


# --- as bytes ------------------------------------------------------------------------------------
