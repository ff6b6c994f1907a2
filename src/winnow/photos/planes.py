"""JPEGs as the planes they hold: brightness at full size, colour as it was stored.

Decoding to planes spares the conversion to RGB of millions of pixels that are only shrunk again,
and brightness at full size is what focus is measured on.
"""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, partial
from typing import Any, Final

import cv2
import numpy as np
import turbojpeg
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError

from winnow.photos import bounds

_PIXEL_BYTES: Final = 8  # planes, and what is measured on them

Plane = NDArray[np.uint8]
# As libjpeg-turbo numbers them: horizontal and vertical steps of the colour planes.
_STEPS: Final = {
    turbojpeg.TJSAMP_444: (1, 1),
    turbojpeg.TJSAMP_422: (2, 1),
    turbojpeg.TJSAMP_420: (2, 2),
    turbojpeg.TJSAMP_440: (1, 2),
    turbojpeg.TJSAMP_411: (4, 1),
}
_YCBCR: Final = 1
_GRAY: Final = 2


@dataclass(frozen=True, slots=True)
class Planes:
    """A JPEG's planes as stored (not turned): ``luma`` (h, w), and ``blue`` and ``red`` of the size
    that the file gives them, None for a gray picture."""

    luma: Plane
    blue: Plane | None
    red: Plane | None


@cache
def _turbo() -> Any:
    """The library, or None where the system doesn't have it."""
    try:
        return turbojpeg.TurboJPEG()
    except (RuntimeError, OSError):
        return None


def is_quick() -> bool:
    """Whether libturbojpeg is there."""
    return _turbo() is not None


def read(data: bytes) -> Planes | None:
    """Decode a whole JPEG in YCbCr or gray; None for any other, for a large one, and for a damaged
    one. Raises PictureError where it would take too long."""
    turbo = _turbo()
    if turbo is None:
        return _read_slowly(data)
    made = _decoded(data, turbo, turbo.decode_to_yuv_planes)
    if made is None:
        return None
    planes, width, height, sampling, space = made
    luma = planes[0][:height, :width]
    if space == _GRAY:
        return Planes(luma, None, None)
    across, down = _STEPS[sampling]
    rows, columns = -(-height // down), -(-width // across)
    return Planes(luma, planes[1][:rows, :columns], planes[2][:rows, :columns])


def luma(data: bytes) -> Plane | None:
    """The brightness (h, w) of a whole JPEG alone, a quarter quicker; None and errors as ``read``
    has them."""
    turbo = _turbo()
    if turbo is None:
        slowly = _read_slowly(data)
        return slowly.luma if slowly else None
    made = _decoded(data, turbo, partial(turbo.decode, pixel_format=turbojpeg.TJPF_GRAY))
    return None if made is None else np.asarray(made[0], np.uint8)[..., 0]


def _decoded(
    data: bytes, turbo: Any, decode: Callable[[bytes], Any]
) -> tuple[Any, int, int, int, int] | None:
    """What a way of decoding gives of a JPEG, and its width, height, steps of colour, and space."""
    try:
        width, height, sampling, space = turbo.decode_header(data)
        known = space == _GRAY or (space == _YCBCR and sampling in _STEPS)
        if not known or bounds.is_large(width, height):
            return None
        bounds.check_scans(data, width, height)
        bounds.check_size(width, height, _PIXEL_BYTES, len(data))
        with warnings.catch_warnings(record=True) as damages:
            warnings.simplefilter("always")
            made = decode(data)
    except (OSError, ValueError, KeyError):
        return None
    return None if damages else (made, width, height, sampling, space)


def _read_slowly(data: bytes) -> Planes | None:
    """The same through Pillow, a third slower."""
    try:
        with Image.open(io.BytesIO(data)) as image:
            if image.format != "JPEG" or image.mode not in ("RGB", "L"):
                return None
            if bounds.is_large(*image.size):
                return None
            bounds.check_scans(data, *image.size)
            bounds.check_size(*image.size, _PIXEL_BYTES, len(data))
            if image.mode == "L":
                return Planes(np.asarray(image), None, None)
            image.draft("YCbCr", image.size)
            if image.mode != "YCbCr":
                return None
            luma, blue, red = cv2.split(np.asarray(image))
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        return None
    return Planes(luma, blue, red)


def shrunk(plane: Plane, size: tuple[int, int]) -> Plane:
    """A plane at ``size`` (w, h): halved by area as long as that is no smaller, then linearly."""
    width, height = size
    while plane.shape[1] >= 2 * width and plane.shape[0] >= 2 * height:
        half = (plane.shape[1] // 2, plane.shape[0] // 2)
        plane = cv2.resize(plane[: 2 * half[1], : 2 * half[0]], half, interpolation=cv2.INTER_AREA)
    if plane.shape[:2] == (height, width):
        return plane
    fitted: Plane = cv2.resize(plane, size, interpolation=cv2.INTER_LINEAR)
    return fitted


def upright(plane: Plane, orientation: int) -> Plane:
    """A plane turned as Exif's orientation (1 to 8) asks; contiguous."""
    if orientation in (5, 6, 7, 8):
        plane = plane.swapaxes(0, 1)
    if orientation in (2, 3, 6, 7):
        plane = plane[:, ::-1]
    if orientation in (3, 4, 7, 8):
        plane = plane[::-1]
    return np.ascontiguousarray(plane)


def rgb(luma: Plane, blue: Plane, red: Plane) -> Plane:
    """RGB (h, w, 3) of planes that have one size, as JFIF defines them (full-range BT.601)."""
    pixels: Plane = cv2.cvtColor(cv2.merge([luma, red, blue]), cv2.COLOR_YCrCb2RGB)
    return pixels
