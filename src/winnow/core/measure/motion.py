"""Motion: length and direction of a blur along a line, from the picture's own spectrum.

A camera that moves evenly by L px during the exposure multiplies the spectrum with a sinc, whose
zeros lie L apart: the inverse transform of the logarithm of the power (the cepstrum) has a deep
place L px from its middle, in the direction of the motion.

Source: M. Cannon, "Blind deconvolution of spatially invariant image blurs with phase", IEEE Trans.
ASSP 24 (1976), 58-63. What all directions share (the subject's own spectrum, a soft lens) is taken
off first.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

VERSION: Final = 1
LEAST_PX: Final = 5.0
# From this clearness on a motion counts: photographs that nothing moved in stay below it.
CLEAR: Final = 30.0
_LONGEST_PX: Final = 60
_SIDE: Final = 512  # px of the parts that are looked at
_LOWEST, _HIGHEST = 0.004, 0.42  # cycles per px: below is the subject, above the noise


@dataclass(frozen=True, slots=True)
class Motion:
    """A blur along a line: ``length`` in px at 100 %, ``angle`` in degrees from the x axis (down
    counts), 0…180, and how far it stands out (times the spread of what is there by chance)."""

    length: float
    angle: float
    clearness: float


def measure(luma: NDArray[np.uint8]) -> Motion | None:
    """The strongest motion in a picture (h, w), both sides at least 128 px; else None.

    Every picture has a strongest one: what is said counts from a ``clearness`` of about 30 on, or
    less where the edges agree on the direction. Shorter than 5 px it can't be told from a soft
    lens.
    """
    h, w = luma.shape
    side = min(_SIDE, 1 << (min(h, w).bit_length() - 1))
    if side < 128:
        return None
    deep = cv2.GaussianBlur(_cepstrum(luma, side), (0, 0), 0.8)
    middle = deep.shape[0] // 2
    y, x = np.mgrid[-middle : middle + 1, -middle : middle + 1]
    away = np.hypot(y, x)
    ring = (away >= LEAST_PX - 0.5) & (away <= middle)
    common = float(np.median(deep[ring]))
    spread = 1.4826 * float(np.median(np.abs(deep[ring] - common))) + 1e-12
    row, column = np.unravel_index(np.where(ring, deep, np.inf).argmin(), deep.shape)
    y0, x0 = int(row), int(column)
    dy = y0 - middle + _between(deep[y0 - 1 : y0 + 2, x0])
    dx = x0 - middle + _between(deep[y0, x0 - 1 : x0 + 2])
    return Motion(
        length=float(np.hypot(dy, dx)),
        angle=float(np.degrees(np.arctan2(dy, dx)) % 180),
        clearness=(common - float(deep[row, column])) / spread,
    )


def _between(three: NDArray[np.float32]) -> float:
    """How far from the middle one of three values a parabola through them is lowest: −0.5…0.5."""
    if len(three) < 3:
        return 0.0
    before, here, after = (float(v) for v in three)
    bend = before - 2 * here + after
    return 0.0 if bend <= 0 else max(-0.5, min(0.5, 0.5 * (before - after) / bend))


def _cepstrum(luma: NDArray[np.uint8], side: int) -> NDArray[np.float32]:
    """The middle of the cepstrum, of parts of ``side`` px all over the picture."""
    window = np.hanning(side)[:, None] * np.hanning(side)
    power = np.zeros((side, side // 2 + 1))
    for top in _starts(luma.shape[0], side):
        for left in _starts(luma.shape[1], side):
            part = luma[top : top + side, left : left + side].astype(np.float32)
            power += np.abs(np.fft.rfft2((part - part.mean()) * window)) ** 2
    logarithm = np.log(power + 1e-3 * np.median(power) + 1e-12)
    fy, fx = np.fft.fftfreq(side)[:, None], np.fft.rfftfreq(side)
    frequency = np.hypot(fy, fx)
    band = np.minimum((frequency * side).astype(int), side // 2)
    shared = np.bincount(band.ravel(), logarithm.ravel()) / np.maximum(np.bincount(band.ravel()), 1)
    excess = logarithm - shared[band]
    excess *= np.clip((frequency - _LOWEST) / 0.01, 0, 1) * np.clip(
        (_HIGHEST - frequency) / 0.08, 0, 1
    )
    whole = np.fft.fftshift(np.fft.irfft2(excess, s=(side, side)))
    reach, middle = min(_LONGEST_PX, side // 2 - 2), side // 2
    inner = slice(middle - reach, middle + reach + 1)
    return whole[inner, inner].astype(np.float32)


def _starts(length: int, side: int) -> list[int]:
    """Where the parts begin: one in the middle, or three over a longer side."""
    if length <= 1.5 * side:
        return [(length - side) // 2]
    return [0, (length - side) // 2, length - side]
