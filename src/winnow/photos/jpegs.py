"""JPEGs that Winnow makes, and parts of pictures: cut, shrunk, encoded."""

from __future__ import annotations

import io

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError

from winnow.core.frames import Kind
from winnow.photos import bounds, jpeg_segments, planes
from winnow.photos.picture import Picture
from winnow.photos.sniff import sniff


def cut(
    picture: Picture, left: int, top: int, width: int, height: int, scale: int
) -> NDArray[np.uint8] | None:
    """A part of a picture (px at its full size) enlarged ``scale`` times; None outside of it.

    A picture that is smaller than the frame it stands for is enlarged to match.
    """
    right, bottom = min(left + width, picture.width), min(top + height, picture.height)
    left, top = max(0, left), max(0, top)
    if right <= left or bottom <= top:
        return None
    across = picture.pixels.shape[1] / picture.width
    down = picture.pixels.shape[0] / picture.height
    size = (scale * (right - left), scale * (bottom - top))
    if across == 1 == down:
        part = picture.pixels[top:bottom, left:right]
        if scale == 1:
            return part
        enlarged: NDArray[np.uint8] = cv2.resize(part, size, interpolation=cv2.INTER_CUBIC)
        return enlarged
    # Only what is needed of it: OpenCV warps no picture of more than 32,767 px.
    x0, x1 = _needed(left, right, across, picture.pixels.shape[1])
    y0, y1 = _needed(top, bottom, down, picture.pixels.shape[0])
    matrix = np.array([[across / scale, 0, left * across - x0], [0, down / scale, top * down - y0]])
    matrix[:, 2] += [(across / scale - 1) / 2, (down / scale - 1) / 2]
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    matched: NDArray[np.uint8] = cv2.warpAffine(
        picture.pixels[y0:y1, x0:x1], matrix, size, flags=flags, borderMode=cv2.BORDER_REPLICATE
    )
    return matched


def _needed(start: int, end: int, share: float, size: int) -> tuple[int, int]:
    """From where to where a side is needed, with what the edges are made from."""
    return max(0, int(start * share) - 4), min(size, int(end * share) + 5)


def encode_jpeg(pixels: NDArray[np.uint8], quality: int) -> bytes:
    """Encode a picture (h, w, 3) as JPEG, its colour at half size."""
    encoded: bytes = simplejpeg.encode_jpeg(
        np.ascontiguousarray(pixels), quality, "RGB", "420", fastdct=False
    )
    return encoded


def decode_small(data: bytes) -> NDArray[np.uint8]:
    """The pixels (h, w, 3) of a JPEG that Winnow made itself."""
    pixels: NDArray[np.uint8] = simplejpeg.decode_jpeg(data, "RGB")
    return pixels


def shrunk(data: bytes, orientation: int, longest: int) -> bytes | None:
    """A JPEG made small and upright; None when it can't be read."""
    try:
        with Image.open(io.BytesIO(data), formats=["JPEG"]) as image:
            # Decoded at a fraction of its size at once.
            image.draft("RGB", (longest, longest))
            image.thumbnail((longest, longest))
            small = np.asarray(image.convert("RGB"))
    except Exception:
        # As for thumbnails: it is a glance, and the picture itself is looked at later.
        return None
    return encode_jpeg(planes.upright(small, orientation), 85)


def upright_thumbnail(thumbnail: bytes, orientation: int, ratio: float) -> bytes | None:
    """Turn an embedded thumbnail upright and cut off the bars that cameras put around it.

    ``ratio`` is the frame's width to height before turning. None when it can't be read.
    """
    try:
        image = Image.open(io.BytesIO(thumbnail)).convert("RGB")
    except Exception:
        # A thumbnail is a shortcut: when it is broken in any way, the real picture follows soon.
        return None
    width, height = image.size
    if width / height < ratio * 0.98:
        cut = round((height - width / ratio) / 2)
        image = image.crop((0, cut, width, height - cut))
    elif width / height > ratio * 1.02:
        cut = round((width - height * ratio) / 2)
        image = image.crop((cut, 0, width - cut, height))
    return encode_jpeg(planes.upright(np.asarray(image), orientation), 85)


def browser_can_show(data: bytes) -> bool:
    """Whether a page shows this file right as it is, at full size: a JPEG in gray or YCbCr, of 8
    bits, in Huffman's code (baseline, extended or progressive: ISO/IEC 10918-1, table B.1)."""
    if sniff(data[:64]) is not Kind.JPEG:
        return False
    frame = next((s for s in jpeg_segments.leading(data) if s.marker in jpeg_segments.FRAMES), None)
    if frame is None or frame.marker not in jpeg_segments.HUFFMAN or frame.body[:1] != b"\x08":
        return False
    try:
        with Image.open(io.BytesIO(data)) as image:
            return image.mode in ("RGB", "L") and bounds.longest_held(*image.size) is None
    except (UnidentifiedImageError, OSError, ValueError):
        return False


def rgb_of_jpeg(data: bytes) -> NDArray[np.uint8]:
    """The pixels (h, w, 3) of a JPEG that Winnow made itself. Raises ValueError for anything
    else."""
    return np.asarray(simplejpeg.decode_jpeg(data, "RGB"), np.uint8)


_FACE_QUALITY = 85


def face_of_jpeg(data: bytes, box: tuple[float, float, float, float], px: int) -> bytes:
    """A square JPEG of a face with some hair and chin, from a JPEG that Winnow made itself.

    ``box``: of the face, 0…1. Raises ValueError for anything else.
    """
    pixels = rgb_of_jpeg(data)
    height, width = pixels.shape[:2]
    left, top, right, bottom = box[0] * width, box[1] * height, box[2] * width, box[3] * height
    side = 1.5 * max(right - left, bottom - top, 1.0)
    x, y = (left + right) / 2 - side / 2, (top + bottom) / 2 - 0.55 * side
    matrix = np.array([[side / px, 0, x], [0, side / px, y]])
    cut = cv2.warpAffine(
        pixels, matrix, (px, px), flags=cv2.INTER_AREA | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(cut), _FACE_QUALITY))
