"""What one picture may take of memory and time, by what it says of itself, before any pixel of it
is decoded."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Final

from winnow.say import say

MAX_PIXELS: Final = 400_000_000  # in a picture; more is refused
MAX_EDGE: Final = 500_000  # px; a longer one would be a line on every screen
# A picture of more is shrunk while it is decoded, or right after: only what is needed of it stays.
LARGE_PIXELS: Final = 100_000_000
# A file and its pixels as they are decoded, in bytes. With what is made of them a process stays
# below 2 GB.
MAX_BYTES: Final = 1_500_000_000
# At 100 % whole pictures are held, a larger one at half its size, or less.
_HELD_PIXELS: Final = 130_000_000
# A progressive JPEG goes over all its pixels with each scan: about a nanosecond each. Sound ones
# have some ten scans.
_MAX_SCANNED: Final = 10_000_000_000


def _nobody_waits(size: int) -> None:
    """Outside of worker processes there is no room to be shared."""


# Called with the bytes that a picture is about to take; a worker waits there until they are free.
claim: Callable[[int], None] = _nobody_waits


class PictureError(Exception):
    """A picture that can't be shown, with the reason in words."""


class NoMemoryError(PictureError):
    """There is not enough memory for a picture now."""

    def __init__(self) -> None:
        super().__init__(say("There is not enough memory to decode this picture."))


def check_size(width: int, height: int, pixel_bytes: int = 1, file_bytes: int = 0) -> None:
    """Refuse a picture that is too large, and claim the room for any other.

    ``pixel_bytes``: what a pixel takes as it is decoded; ``file_bytes``: what its file takes
    beside. Raises PictureError.
    """
    if width * height > MAX_PIXELS:  # guard: picture bombs
        raise PictureError(
            say(
                "The picture is too large to show: {width:,} × {height:,} px. Winnow shows up to "
                "{most} megapixels.",
                width=width,
                height=height,
                most=MAX_PIXELS // 1_000_000,
            )
        )
    if max(width, height) > MAX_EDGE:
        raise PictureError(
            say(
                "The picture is too long to show: {width:,} × {height:,} px. Winnow shows up to "
                "{most:,} px.",
                width=width,
                height=height,
                most=MAX_EDGE,
            )
        )
    if width * height * pixel_bytes + file_bytes > MAX_BYTES:  # guard: picture bombs by depth
        raise PictureError(
            say(
                "The picture is too large to show: {width:,} × {height:,} px of its kind take "
                "more memory than one picture may.",
                width=width,
                height=height,
            )
        )
    claim(width * height * pixel_bytes + file_bytes)


def check_scans(jpeg: bytes, width: int, height: int) -> None:
    """Refuse a JPEG that goes over its pixels again and again. Raises PictureError."""
    # In the coded data 0xFF is followed by 0 or a restart (ISO/IEC 10918-1, B.1.1.5): these are
    # scans, but for a few in previews and other segments.
    scans = jpeg.count(b"\xff\xda")
    if scans * width * height > _MAX_SCANNED:  # guard: scans without end
        raise PictureError(
            say("The file is damaged: it goes over its picture {times} times.", times=scans)
        )


def longest_held(width: int, height: int) -> int | None:
    """The long edge, in px, at which a picture can be held; None where that is its own."""
    return _shortened(width, height, _HELD_PIXELS)


def _shortened(width: int, height: int, most: int) -> int | None:
    """The long edge of a picture divided by a whole number, so that it has at most so many
    pixels."""
    parts = math.ceil(math.sqrt(width * height / most))
    return None if parts <= 1 else max(width, height) // parts


def is_large(width: int, height: int) -> bool:
    """Whether a picture is measured at a smaller size than its own."""
    return width * height > LARGE_PIXELS


def longest_measured(width: int, height: int) -> int | None:
    """The long edge, in px, at which a large picture is measured; None for another."""
    return _shortened(width, height, LARGE_PIXELS)
