"""Camera raw files: their own previews, and a half-size development where those don't do."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
import rawpy
from numpy.typing import NDArray

from winnow.photos.planes import MAX_PIXELS
from winnow.say import say

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


def read(data: bytes) -> Raw:
    """Read the sensor's size and the embedded preview: some milliseconds. Raises RawError."""
    try:
        with rawpy.imread(io.BytesIO(data)) as opened:
            sizes = opened.sizes
            if sizes.raw_width * sizes.raw_height > MAX_PIXELS:
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
            return Raw(sizes.width, sizes.height, preview)
    except (rawpy.LibRawError, OSError, ValueError):
        raise RawError(say("This raw file can't be read.")) from None


def develop(data: bytes) -> NDArray[np.uint8]:
    """Develop a raw file at half size to sRGB (h, w, 3), not turned. Raises RawError.

    Half size makes one pixel of each square of red, green, green and blue: no detail is guessed.
    """
    try:
        with rawpy.imread(io.BytesIO(data)) as opened:
            pixels: NDArray[np.uint8] = opened.postprocess(
                half_size=True, use_camera_wb=True, output_bps=8, user_flip=0
            )
            return pixels
    except (rawpy.LibRawError, OSError, ValueError):
        raise RawError(say("This raw file can't be developed.")) from None


def is_useful(raw: Raw, size: tuple[int, int]) -> bool:
    """Whether an embedded preview of this size (w, h) can stand for the frame in the sheet."""
    return max(size) >= min(_LEAST_PREVIEW_PX, max(raw.width, raw.height) / 2)


def is_enough_close(raw: Raw, size: tuple[int, int]) -> bool:
    """Whether it shows at 100 % what a half-size development would show."""
    return 2 * max(size) >= max(raw.width, raw.height)
