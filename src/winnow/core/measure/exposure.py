"""Exposure of a picture: how much of it is clipped, and how bright it is."""

from __future__ import annotations

from dataclasses import dataclass
from math import log2
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

VERSION: Final = 3
CLIPPED_HIGH: Final = 254
CLIPPED_LOW: Final = 1
# The same in a preview, on which they are shown: JPEG leaves a little to either side.
SHOWN_HIGH: Final = CLIPPED_HIGH - 1
SHOWN_LOW: Final = CLIPPED_LOW + 1
_MIDDLE_GREY: Final = 0.18


LEVELS: Final = (0.1, 0.25, 0.5, 0.75, 0.9)
Levels = tuple[float, ...]
# Of 0…255: outside, noise and the shoulder of the curve tell other than the light.
_SCALE: Final = (12, 235)


@dataclass(frozen=True, slots=True)
class Exposure:
    """Shares of pixels, 0…1, and brightness in EV against middle grey (18 %).

    ``clipped_high``: of pixels with a channel at its upper end; ``clipped_low``: of those with all
    three at the lower end. ``high`` and ``low``: of each channel (red, green, blue) alone, and of
    pixels with all three there. ``levels``: below which each share of ``LEVELS`` of the pixels is,
    in EV against middle grey.
    """

    clipped_high: float
    clipped_low: float
    brightness_ev: float
    high: tuple[float, float, float, float]
    low: tuple[float, float, float, float]
    levels: Levels = ()


_LINEAR: Final = np.array(
    [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in np.arange(256) / 255],
    np.float64,
)


_EV: Final = np.log2(np.maximum(_LINEAR, 1e-6) / _MIDDLE_GREY)


def within_scale(levels: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which levels, in EV, neither end of the scale hides; any shape."""
    within: NDArray[np.bool_] = (levels >= _EV[_SCALE[0]]) & (levels <= _EV[_SCALE[1]])
    return within


def _levels(picture: NDArray[np.uint8]) -> Levels:
    gray = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    count = cv2.calcHist([gray], [0], None, [256], [0, 256]).ravel().cumsum()
    # Between two values by the share of the pixels, so that a broad step is no jump.
    values = np.interp(np.array(LEVELS) * gray.size, count, np.arange(256))
    return tuple(round(float(ev), 3) for ev in np.interp(values, np.arange(256), _EV))


def measure(picture: NDArray[np.uint8]) -> Exposure:
    """Measure an sRGB picture of shape (h, w, 3).

    Brightness is the mean of the linear luminance (Rec. 709 weights, as in IEC 61966-2-1).
    """
    channels = cv2.split(np.ascontiguousarray(picture))
    # Not picture.max(axis=2), which takes ten times as long over so short an axis.
    brightest = np.maximum(np.maximum(channels[0], channels[1]), channels[2])
    darkest = np.minimum(np.minimum(channels[0], channels[1]), channels[2])
    # Not bincount, which turns each pixel into eight bytes first.
    counts = [cv2.calcHist([channel], [0], None, [256], [0, 256]).ravel() for channel in channels]
    size = channels[0].size
    high = [float(count[CLIPPED_HIGH:].sum()) / size for count in counts]
    low = [float(count[: CLIPPED_LOW + 1].sum()) / size for count in counts]
    luminance = sum(
        weight * float(count @ _LINEAR) / size
        for weight, count in zip((0.2126, 0.7152, 0.0722), counts, strict=True)
    )
    all_low = float((brightest <= CLIPPED_LOW).mean())
    return Exposure(
        clipped_high=float((brightest >= CLIPPED_HIGH).mean()),
        clipped_low=all_low,
        brightness_ev=log2(max(luminance, 1e-6) / _MIDDLE_GREY),
        high=(high[0], high[1], high[2], float((darkest >= CLIPPED_HIGH).mean())),
        low=(low[0], low[1], low[2], all_low),
        levels=_levels(np.ascontiguousarray(picture)),
    )
