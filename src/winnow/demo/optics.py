"""What a lens and a hand do to a picture: focus, depth of field, shake, framing. Linear light."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.demo.masters import Picture

# Diameters in px at which the picture is cut into layers, each blurred as one.
_SOFT: Final = 4.4  # px; wider blur is made on a picture of half the size
_CUTS: Final = (0.0, 1.3, 2.4, 3.8, 5.6, 8, 11, 15, 20, 27, 36, 48, 64, 86, 115, 160, 1e9)


def blur_px(lens: float, focus_m: float, metres: float) -> float:
    """Diameter in px of the circle of confusion at a distance.

    ``lens``: focal length in px times aperture in metres (f / N). Thin lens, c = A f |1/s - 1/z|
    for distances far beyond the focal length (Hecht, Optics, 5th ed., ch. 5).
    """
    return lens * abs(1 / focus_m - 1 / metres)


def disc(diameter: float) -> Picture:
    """A round kernel of sum 1 with a soft rim."""
    radius = max(diameter / 2, 0.5)
    n = math.ceil(radius)
    y, x = np.mgrid[-n : n + 1, -n : n + 1]
    kernel = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1)
    out: Picture = (kernel / kernel.sum()).astype(np.float32)
    return out


def spread(rgba: Picture, diameter: float) -> Picture:
    """Blur by a disc; wide discs on a smaller picture, where it can't be seen. Sides: times 8."""
    if diameter < _CUTS[1]:
        return rgba
    step = 1 if diameter < 6.5 else 2 if diameter < 16 else 4 if diameter < 48 else 8
    h, w = rgba.shape[:2]
    small = rgba
    if step > 1:
        small = cv2.resize(rgba, (w // step, h // step), interpolation=cv2.INTER_AREA)
    small = cv2.filter2D(small, -1, disc(diameter / step), borderType=cv2.BORDER_REFLECT)
    if step > 1:
        small = cv2.resize(small, (w, h), interpolation=cv2.INTER_LINEAR)
    out: Picture = small
    return out


def defocus(
    radiance: Picture, codes: NDArray[np.uint8], metres: Picture, focus_m: float, lens: float
) -> Picture:
    """Depth of field by layers from far to near, each blurred by its distance.

    ``codes``: H x W, sides times 8; ``metres``: the distance that each of the 256 codes stands for.
    What is blurred widely is put together at half size, where that can't be seen; if all is, the
    result has that size.
    """
    signed = (lens * (1 / focus_m - 1 / metres)).astype(np.float32)
    h, w = codes.shape
    full = (cv2.cvtColor(radiance, cv2.COLOR_RGB2RGBA), codes)  # alpha 1
    half = cv2.resize(full[0], (w // 2, h // 2), interpolation=cv2.INTER_AREA)
    small = (half, np.ascontiguousarray(codes[::2, ::2]))
    behind, before = _layers(signed, codes)
    total = np.zeros_like(half)
    for diameter, here in behind:
        if diameter >= _SOFT:
            _lay_over(total, *small, here, diameter / 2)
    sharp = [(diameter, here) for diameter, here in behind + before if diameter < _SOFT]
    if sharp:
        total = cv2.resize(total, (w, h), interpolation=cv2.INTER_LINEAR)
    for diameter, here in sharp:
        _lay_over(total, *full, here, diameter)
    front = np.zeros_like(half)
    for diameter, here in before:
        if diameter >= _SOFT:
            _lay_over(front, *small, here, diameter / 2)
    if front.any():
        if sharp:
            front = cv2.resize(front, (w, h), interpolation=cv2.INTER_LINEAR)
        _over(total, front)
    whole = 1 / np.maximum(total[..., 3], 1e-3)
    focused: Picture = cv2.cvtColor(total, cv2.COLOR_RGBA2RGB)
    focused *= cv2.merge([whole, whole, whole])  # multiplying is three times as fast as dividing
    return focused


Layers = list[tuple[float, NDArray[np.bool_]]]


def _layers(signed: Picture, codes: NDArray[np.uint8]) -> tuple[Layers, Layers]:
    """The layers behind the focus, far ones first, and those before it, near ones last.

    Each is a diameter in px and which of the 256 codes belong to it.
    """
    used = np.bincount(codes.ravel(), minlength=256) > 0
    behind: Layers = []
    before: Layers = []
    for low, high in pairwise(_CUTS):
        for side, side_layers in ((signed, behind), (-signed, before)):
            # What is exactly in focus belongs to the layers behind.
            here = used & (side < high) & ((side >= low) if side_layers is behind else (side > low))
            if side_layers is before and low == 0:
                here &= side > 0
            if here.any():
                side_layers.append((float(np.abs(signed[here]).mean()), here))
    return behind[::-1], before


def _lay_over(
    total: Picture,
    picture: Picture,
    codes: NDArray[np.uint8],
    here: NDArray[np.bool_],
    diameter: float,
) -> None:
    """Lay one layer of a picture (H x W x 4), blurred, over what lies behind it."""
    mask = cv2.LUT(codes, here.astype(np.uint8))
    h, w = codes.shape
    pad = math.ceil(diameter) + 8
    x, y, width, height = cv2.boundingRect(mask)
    if not width:
        return
    top, bottom = max(0, y - pad) // 8 * 8, min(h, (y + height + pad) // 8 * 8 + 8)
    left, right = max(0, x - pad) // 8 * 8, min(w, (x + width + pad) // 8 * 8 + 8)
    window = (slice(top, bottom), slice(left, right))
    if diameter < _CUTS[1]:
        cv2.copyTo(picture[window], mask[window], total[window])
    else:
        _over(total[window], spread(cv2.copyTo(picture[window], mask[window]), diameter))


def _over(below: Picture, layer: Picture) -> None:
    """Premultiplied ``layer`` over ``below``, in strips that stay in the processor's cache."""
    for row in range(0, len(layer), 64):
        strip, under = layer[row : row + 64], below[row : row + 64]
        clear = 1 - strip[..., 3]
        under *= cv2.merge([clear, clear, clear, clear])
        under += strip


def veiled(light: Picture, width: int) -> Picture:
    """With a veil round lamps: what scatters in the lens. Sides: times 8, of the whole picture of
    ``width`` px; ``light`` may have half of that.
    """
    h, w = light.shape[:2]
    step = 8 * w // width
    small = cv2.resize(light, (w // step, h // step), interpolation=cv2.INTER_AREA)
    lamps = np.maximum(small - 1, 0)
    veil = cv2.GaussianBlur(lamps, (0, 0), 2) * 0.05 + cv2.GaussianBlur(lamps, (0, 0), 9) * 0.03
    lit: Picture = cv2.add(light, cv2.resize(veil, (w, h), interpolation=cv2.INTER_LINEAR))
    return lit


@dataclass(frozen=True, slots=True)
class Framing:
    """Where the picture lies in the frame: px to the right and down, degrees, and enlargement."""

    dx: float = 0.0
    dy: float = 0.0
    roll: float = 0.0
    zoom: float = 1.0

    def matrix(self, source: tuple[int, int], frame: tuple[int, int]) -> NDArray[np.float64]:
        """2 x 3, from source px to frame px, both sizes as (width, height), middle to middle."""
        a = math.radians(self.roll)
        c, s = self.zoom * math.cos(a), self.zoom * math.sin(a)
        x, y = source[0] / 2, source[1] / 2
        return np.array(
            [
                [c, -s, frame[0] / 2 + self.dx - c * x + s * y],
                [s, c, frame[1] / 2 + self.dy - s * x - c * y],
            ]
        )


def framed(
    picture: Picture, matrix: NDArray[np.float64], frame: tuple[int, int], *, cut_out: bool = False
) -> Picture:
    """Move a picture into the frame; beyond its border it is mirrored, a cut-out is empty."""
    border = cv2.BORDER_CONSTANT if cut_out else cv2.BORDER_REFLECT
    moved: Picture = cv2.warpAffine(
        picture, matrix, frame, flags=cv2.INTER_LINEAR, borderMode=border
    )
    return moved


def shaken(picture: Picture, length: float, angle: float) -> Picture:
    """Blur along a slightly bent path of ``length`` px; ``angle``: degrees from the x axis.

    Halving: the mean of two copies half the path apart, then a quarter apart, and so on. Whole
    pixels are enough, and need no resampling.
    """
    pad = math.ceil(length) + 2
    h, w = picture.shape[:2]
    path = cv2.copyMakeBorder(picture, pad, pad, pad, pad, cv2.BORDER_REFLECT)
    step, bend = length / 2, 10.0
    while step > 0.6:
        a = math.radians(angle + bend)
        x, y = round(step * math.cos(a)), round(step * math.sin(a))
        if x or y:
            path = cv2.addWeighted(_aside(path, x, y), 0.5, _aside(path, -x, -y), 0.5, 0)
        step /= 2
        bend = -bend
    top, left = (path.shape[0] - h) // 2, (path.shape[1] - w) // 2
    out: Picture = path[top : top + h, left : left + w]
    return np.ascontiguousarray(out)


def _aside(picture: Picture, x: int, y: int) -> Picture:
    """The part of a picture that overlaps itself when it is moved by whole px."""
    h, w = picture.shape[:2]
    return picture[max(0, y) : h + min(0, y), max(0, x) : w + min(0, x)]
