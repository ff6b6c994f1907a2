"""Exposure of a picture: how much of it is clipped, and how bright it is."""

from __future__ import annotations

from dataclasses import dataclass
from math import log2
from typing import Final

import numpy as np
from numpy.typing import NDArray

VERSION: Final = 1
_CLIPPED_HIGH: Final = 254
_CLIPPED_LOW: Final = 1
_MIDDLE_GREY: Final = 0.18


@dataclass(frozen=True, slots=True)
class Exposure:
    """Shares of pixels, 0…1, and brightness in EV against middle grey (18 %)."""

    clipped_high: float
    clipped_low: float
    brightness_ev: float


_LINEAR: Final = np.array(
    [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in np.arange(256) / 255],
    np.float64,
)


def measure(picture: NDArray[np.uint8]) -> Exposure:
    """Measure an sRGB picture of shape (h, w, 3).

    A pixel is clipped high when any channel is, and clipped low when all are. Brightness is the
    mean of the linear luminance (Rec. 709 weights, as in IEC 61966-2-1).
    """
    red, green, blue = (np.ascontiguousarray(picture[..., c]) for c in range(3))
    # Not picture.max(axis=2), which takes ten times as long over so short an axis.
    brightest = np.maximum(np.maximum(red, green), blue)
    high = float((brightest >= _CLIPPED_HIGH).mean())
    low = float((brightest <= _CLIPPED_LOW).mean())
    means = [
        float(np.bincount(channel.ravel(), minlength=256) @ _LINEAR) / channel.size
        for channel in (red, green, blue)
    ]
    luminance = 0.2126 * means[0] + 0.7152 * means[1] + 0.0722 * means[2]
    return Exposure(high, low, log2(max(luminance, 1e-6) / _MIDDLE_GREY))


def exposure_value(aperture: float, shutter_s: float) -> float:
    """Exposure value Ev = Av + Tv from the f-number and the time in seconds.

    Av = 2 log2 N and Tv = −log2 t, as in Exif 2.32, annex C. Raises ValueError if not positive.
    """
    if aperture <= 0 or shutter_s <= 0:
        raise ValueError("aperture and exposure time must be positive")
    return 2 * log2(aperture) - log2(shutter_s)
