"""A camera, from light to a JPEG: lens and hand, colour mosaic with its noise, and what the body
does to it before it is saved.

Noise: photons (Poisson, as a normal distribution) and read-out, of the order of sensors with 6 µm
pixels, from memory. Everything that the body does is common practice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.truth.free import HEIGHT, MARGIN, WIDTH, Light
from winnow.photos.jpegs import encode_jpeg

Kernel = NDArray[np.float32]

_FULL_WELL: Final = 52_000  # electrons at ISO 100
_READ_NOISE: Final = 3.0  # electrons
_LENS: Final = 0.45  # px, Gaussian: what a good lens does
# px, about: the blur of a frame to which nothing is added. Mosaic and sharpening are in it.
OWN: Final = 0.55


@dataclass(frozen=True, slots=True)
class Shot:
    """How a frame is taken.

    ``shift``: of the hand, px, x and y, at most ``MARGIN``; ``ev``: brighter than it should be;
    ``seed``: of the noise; ``sharpening``: amount at a radius of 0.8 px.
    """

    iso: int = 200
    ev: float = 0.0
    shift: tuple[float, float] = (0.0, 0.0)
    seed: int = 0
    sharpening: float = 0.5
    quality: int = 92


def gaussian(sigma: float) -> Kernel:
    """A normal distribution of a deviation in px."""
    n = max(1, math.ceil(4 * sigma))
    x = np.arange(-n, n + 1)
    line = np.exp(-0.5 * (x / max(sigma, 1e-3)) ** 2)
    kernel = np.outer(line, line)
    out: Kernel = (kernel / kernel.sum()).astype(np.float32)
    return out


def disc(diameter: float) -> Kernel:
    """Light out of focus: an even disc, px, drawn four times as fine."""
    n, fine = math.ceil(diameter / 2) + 1, 4
    y, x = np.mgrid[0 : (2 * n + 1) * fine, 0 : (2 * n + 1) * fine]
    middle = (2 * n + 1) * fine / 2 - 0.5
    inside = np.hypot(x - middle, y - middle) <= diameter * fine / 2
    kernel = inside.reshape(2 * n + 1, fine, 2 * n + 1, fine).mean((1, 3))
    out: Kernel = (kernel / kernel.sum()).astype(np.float32)
    return out


def shake(length: float, curve: float, rng: np.random.Generator) -> Kernel:
    """The path of a hand: ``length`` px from end to end of its run, turning by up to ``curve``
    degrees on the way."""
    steps = max(8, round(length * 8))
    turn = np.radians(rng.uniform(0, 360) + curve * np.linspace(0, 1, steps) * rng.choice([-1, 1]))
    x, y = np.cumsum(np.cos(turn)), np.cumsum(np.sin(turn))
    x, y = ((axis - (axis.min() + axis.max()) / 2) * length / steps for axis in (x, y))
    n = math.ceil(length / 2) + 2
    kernel = np.zeros((2 * n + 1, 2 * n + 1), np.float32)
    left, top = np.floor(x).astype(int), np.floor(y).astype(int)
    for dx in (0, 1):
        for dy in (0, 1):
            part = np.abs(1 - dx - (x - left)) * np.abs(1 - dy - (y - top))
            np.add.at(kernel, (top + dy + n, left + dx + n), part.astype(np.float32))
    out: Kernel = kernel / kernel.sum()
    return out


def blurred(light: Light, kernel: Kernel | None) -> Light:
    """Light behind a lens: its own blur, and that of a kernel."""
    out: Light = cv2.GaussianBlur(light, (0, 0), _LENS)
    if kernel is not None:
        out = cv2.filter2D(out, -1, kernel, borderType=cv2.BORDER_REFLECT)
    return out


def over(background: Light, subject: Light, mask: NDArray[np.float32], kernel: Kernel) -> Light:
    """A subject before a background, its rim as blurred as it is. Each is blurred already but for
    the subject's ``mask``."""
    alpha = cv2.filter2D(mask, -1, kernel, borderType=cv2.BORDER_CONSTANT)[..., None]
    out: Light = subject * alpha + background * (1 - alpha)
    return out


def taken(light: Light, shot: Shot) -> NDArray[np.uint8]:
    """The 8-bit sRGB picture (HEIGHT, WIDTH, 3) of light with a margin."""
    rng = np.random.default_rng(shot.seed)
    turn = np.array([[1, 0, -MARGIN - shot.shift[0]], [0, 1, -MARGIN - shot.shift[1]]], np.float32)
    seen = cv2.warpAffine(light, turn, (WIDTH, HEIGHT), flags=cv2.INTER_CUBIC)
    mosaic = _mosaic(np.maximum(seen, 0) * 2**shot.ev, shot.iso, rng)
    colour = cv2.cvtColor(mosaic, cv2.COLOR_BayerRGGB2RGB_EA).astype(np.float32) / 65535 * _ROOM
    return _developed(colour, shot)


_ROOM: Final = 2.0  # times white that the mosaic still holds


def _mosaic(light: Light, iso: int, rng: np.random.Generator) -> NDArray[np.uint16]:
    """What the pixels of a red-green-green-blue mosaic count, 16 bit."""
    electrons = np.empty(light.shape[:2], np.float32)
    for dy, dx, channel in ((0, 0, 0), (0, 1, 1), (1, 0, 1), (1, 1, 2)):
        electrons[dy::2, dx::2] = light[dy::2, dx::2, channel]
    white = _FULL_WELL * 100 / iso
    electrons *= white
    noise = rng.standard_normal(electrons.shape, np.float32)
    electrons += noise * np.sqrt(electrons + _READ_NOISE**2)
    out: NDArray[np.uint16] = np.clip(electrons / white / _ROOM * 65535, 0, 65535).astype(np.uint16)
    return out


def _developed(colour: Light, shot: Shot) -> NDArray[np.uint8]:
    """Tone, less noise, sharpening."""
    tone = np.where(
        colour <= 0.0031308, 12.92 * colour, 1.055 * np.maximum(colour, 1e-6) ** (1 / 2.4) - 0.055
    )
    picture = cv2.cvtColor(np.clip(tone, 0, 1).astype(np.float32), cv2.COLOR_RGB2YCrCb)
    luma, red, blue = cv2.split(picture)
    stops = math.log2(shot.iso / 100)
    if stops > 1:
        luma = cv2.bilateralFilter(luma, 5, 0.005 * stops, 1.2)
    red, blue = (cv2.GaussianBlur(colour, (0, 0), 0.6 + 0.5 * stops) for colour in (red, blue))
    luma += np.float32(shot.sharpening) * (luma - cv2.GaussianBlur(luma, (0, 0), 0.8))
    rgb = cv2.cvtColor(cv2.merge([luma, red, blue]), cv2.COLOR_YCrCb2RGB)
    out: NDArray[np.uint8] = (np.clip(rgb, 0, 1) * 255 + 0.5).astype(np.uint8)
    return out


def frame(light: Light, shot: Shot) -> bytes:
    """The JPEG."""
    return encode_jpeg(taken(light, shot), shot.quality)
