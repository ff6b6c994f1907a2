"""From the light that falls on a sensor to the picture a camera saves."""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.demo.masters import Picture
from winnow.photos.jpegs import encode_jpeg

_CODES: Final = 4096
_BRIGHTEST: Final = 8.0
_FULL_WELL: Final = 52_000  # electrons at ISO 100, of the order of sensors with 6 µm pixels
_READ_NOISE: Final = 3.0  # electrons
_GRAIN: Final = 2656  # px; larger than a frame, so that each takes another part
_TILE: Final = 900  # px; nobody sees noise come again, and all of it would take a second
_STRIP: Final = 40  # rows


@dataclass(frozen=True, slots=True)
class Body:
    """A camera body's own look: white balance of the three channels, and contrast."""

    balance: tuple[float, float, float]
    contrast: float


@functools.cache
def _curve(contrast: float, dark: float) -> NDArray[np.uint8]:
    """From codes, which are the root of linear light plus ``dark``, to 8-bit sRGB with a shoulder.

    The shoulder is the rational fit of Narkowicz (2015); the output follows IEC 61966-2-1.
    """
    x = np.maximum((np.arange(_CODES) / (_CODES - 1)) ** 2 * _BRIGHTEST - dark, 0)
    x = 0.18 * (x / 0.18) ** contrast
    t = np.clip(x * (2.51 * x + 0.03) / (x * (2.43 * x + 0.59) + 0.14), 0, 1)
    srgb = np.where(t <= 0.0031308, 12.92 * t, 1.055 * t ** (1 / 2.4) - 0.055)
    return (srgb * 255 + 0.5).astype(np.uint8)


@functools.cache
def _grain() -> Picture:
    """Noise of deviation 1, as it looks after the colours of the mosaic were filled in."""
    rng = np.random.default_rng(2026)
    fine = rng.standard_normal((_TILE, _TILE), np.float32)
    colour = rng.standard_normal((_TILE, _TILE, 3), np.float32)
    colour = cv2.GaussianBlur(colour, (0, 0), 1.1, borderType=cv2.BORDER_REFLECT)
    grain = cv2.GaussianBlur(fine, (0, 0), 0.55)[..., None] / 0.62 * 0.85 + colour * 1.6
    times = -(-_GRAIN // _TILE)
    out: Picture = np.tile((grain / grain.std()).astype(np.float32), (times, times, 1))
    return out


@functools.cache
def _gain(height: int, width: int, balance: tuple[float, float, float]) -> Picture:
    """What the light is multiplied by, less towards the corners: H x W x 3."""
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    r2 = ((x - width / 2) ** 2 + (y - height / 2) ** 2) / (max(width, height) ** 2 / 4)
    out: Picture = ((1 - 0.20 * r2)[..., None] * np.asarray(balance)).astype(np.float32)
    return out


def exposed(
    light: Picture, body: Body, ev: float, iso: int, rng: np.random.Generator
) -> NDArray[np.uint8]:
    """An 8-bit picture of the light, ``ev`` stops brighter than it should be."""
    h, w = light.shape[:2]
    # The root of light plus a constant for the read noise has the same noise everywhere: half the
    # root of what one electron is worth (Anscombe 1948).
    electron = _FULL_WELL * 100 / iso
    dark = _READ_NOISE**2 / electron
    scale = (_CODES - 1) ** 2 / _BRIGHTEST
    noise = 0.5 * math.sqrt(scale / electron)
    top, left = rng.integers(0, _GRAIN - max(h, w) + 1, 2)
    grain = _grain()[top : top + h, left : left + w]
    gain, curve = _gain(h, w, body.balance), _curve(body.contrast, dark)
    saved = np.empty((h, w, 3), np.uint8)
    # In strips that stay in the processor's cache: twice as fast.
    for y in range(0, h, _STRIP):
        rows = slice(y, min(y + _STRIP, h))
        signal = cv2.multiply(light[rows], gain[rows], scale=scale * 2**ev)
        signal += np.float32(dark * scale)
        cv2.sqrt(signal, signal)
        signal = cv2.scaleAdd(grain[rows], noise, signal)
        # Indices of any other type would be cast within, much slower.
        np.take(curve, signal.astype(np.intp), out=saved[rows], mode="clip")
    return saved


def jpeg(picture: NDArray[np.uint8], quality: int) -> tuple[bytes, bytes]:
    """The JPEG, and a small one for its Exif."""
    h, w = picture.shape[:2]
    scale = 240 / max(h, w)
    tiny = cv2.resize(picture, (round(w * scale), round(h * scale)), interpolation=cv2.INTER_AREA)
    return encode_jpeg(picture, quality), encode_jpeg(tiny.astype(np.uint8, copy=False), 80)
