"""Camera raw files: their own previews, and a half-size development where those don't do."""

from __future__ import annotations

import io
import struct
from calendar import timegm
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np
import rawpy
from numpy.typing import NDArray

from winnow.core.facts import Facts
from winnow.photos.bounds import MAX_EDGE, MAX_PIXELS
from winnow.photos.jpeg_segments import HUFFMAN, leading
from winnow.say import say

_START: Final = b"\xff\xd8\xff"
_HEAD: Final = 256 * 1024  # in which a JPEG's frame stands, behind its Exif and profile
_MOST_PREVIEWS: Final = 64
# A smaller preview is a thumbnail: nothing can be judged by it.
_LEAST_PREVIEW_PX = 1000


class RawError(Exception):
    """A raw file that can't be read, with the reason in words."""


@dataclass(frozen=True, slots=True)
class Raw:
    """What a raw file says before it is developed. Sizes in px, as stored (not turned).

    ``preview``: the largest embedded picture, as JPEG or as pixels (h, w, 3); None without one.
    """

    width: int
    height: int
    preview: bytes | NDArray[np.uint8] | None
    notice: str = ""


def read(data: bytes) -> Raw:
    """Read the sensor's size and the embedded preview: some milliseconds. Raises RawError.

    Where the sensor's data can't be read, its preview may still be there.
    """
    try:
        with rawpy.imread(io.BytesIO(data)) as opened:
            sizes = opened.sizes
            across = max(sizes.width, sizes.height, sizes.raw_width, sizes.raw_height)
            if sizes.raw_width * sizes.raw_height > MAX_PIXELS or across > MAX_EDGE:
                raise RawError(
                    say(
                        "The raw picture is too large: {width:,} × {height:,} px.",
                        width=sizes.raw_width,
                        height=sizes.raw_height,
                    )
                )
            try:
                preview = opened.extract_thumb().data
            except (rawpy.LibRawNoThumbnailError, rawpy.LibRawUnsupportedThumbnailError):
                preview = None
            return Raw(sizes.width, sizes.height, _in_colour(preview))
    except (rawpy.LibRawError, OSError, ValueError):
        preview_of = largest_preview(data)
        if preview_of is None:
            raise RawError(say("This raw file can’t be read.")) from None
        preview, width, height = preview_of
        return Raw(width, height, preview, preview_only())


def _in_colour(preview: bytes | NDArray[np.uint8] | None) -> bytes | NDArray[np.uint8] | None:
    """A preview as JPEG, or as pixels (h, w, 3): a gray one has one channel, and a strange one is
    none."""
    if not isinstance(preview, np.ndarray):
        return preview
    if preview.ndim == 2 or preview.shape[2:] == (1,):
        return np.repeat(preview.reshape(*preview.shape[:2], 1), 3, axis=2)
    return preview if preview.ndim == 3 and preview.shape[2] == 3 and preview.size else None


def preview_only() -> str:
    """What is said of a frame whose sensor data can't be used."""
    return say("The raw data can’t be read: the preview that the file holds is shown.")


def largest_preview(data: bytes) -> tuple[bytes, int, int] | None:
    """The largest JPEG that lies anywhere in a file, with its width and height; None without one.

    The sensor's own data may be a JPEG without loss, which no preview is.
    """
    best: tuple[bytes, int, int] | None = None
    at = data.find(_START)
    for _ in range(_MOST_PREVIEWS):
        if at < 0:
            break
        frame = next((s for s in leading(data[at : at + _HEAD]) if s.marker in HUFFMAN), None)
        if frame is not None and len(frame.body) > 5 and frame.body[0] == 8:
            height, width = struct.unpack(">HH", frame.body[1:5])
            if width * height <= MAX_PIXELS and (not best or width * height > best[1] * best[2]):
                best = (data[at:], width, height)
        at = data.find(_START, at + 2)
    return best


def exposure_of(path: Path) -> Facts:
    """What LibRaw tells of the exposure, and when it was made by the camera's clock; empty facts
    where it can't read the file."""
    try:
        with rawpy.RawPy() as opened:
            opened.open_file(str(path))
            told = opened.other
    except (rawpy.LibRawError, OSError, ValueError, UnicodeError):
        return Facts()
    clock = told.timestamp  # of 1970 where it isn't said
    return Facts(
        taken_at=float(timegm(clock.timetuple())) if clock and clock.year > 1970 else None,
        focal_mm=_said(told.focal_length),
        aperture=_said(told.aperture),
        shutter_s=_said(told.shutter_speed),
        iso=int(told.iso_speed) if _said(told.iso_speed) else None,
    )


def _said(value: float) -> float | None:
    return float(value) if 0 < value < 1e6 else None


def develop(data: bytes) -> NDArray[np.uint8]:
    """Develop a raw file at half size to sRGB (h, w, 3), not turned. Raises RawError.

    Half size makes one pixel of each square of red, green, green and blue: no detail is guessed.
    """
    try:
        with rawpy.imread(io.BytesIO(data)) as opened:
            pixels = _in_colour(
                opened.postprocess(half_size=True, use_camera_wb=True, output_bps=8, user_flip=0)
            )
    except (rawpy.LibRawError, OSError, ValueError):
        pixels = None
    if not isinstance(pixels, np.ndarray):
        raise RawError(say("This raw file can’t be developed."))
    return pixels


def is_useful(raw: Raw, size: tuple[int, int]) -> bool:
    """Whether an embedded preview of this size (w, h) can stand for the frame in the sheet."""
    return max(size) >= min(_LEAST_PREVIEW_PX, max(raw.width, raw.height) / 2)


def is_enough_close(raw: Raw, size: tuple[int, int]) -> bool:
    """Whether it shows at 100 % what a half-size development would show."""
    return 2 * max(size) >= max(raw.width, raw.height)
