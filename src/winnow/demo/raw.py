"""A raw file of the demo: the picture as a colour-filter mosaic, with its JPEG as full-size
preview.

DNG 1.4 (the published specification, 2012): a TIFF whose first directory holds the preview and
whose sub-directory holds the sensor's values.
"""

from __future__ import annotations

import struct
from typing import Final

import numpy as np
from numpy.typing import NDArray

_BLACK: Final = 512
_WHITE: Final = 15871
# What the made-up sensor records of neutral light, relative to green.
_NEUTRAL: Final = np.array([0.5, 1.0, 0.65])
# From CIE XYZ (D65) to linear sRGB, IEC 61966-2-1.
_XYZ_TO_SRGB: Final = np.array(
    [[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]]
)
_SIZES: Final = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 10: 8}  # bytes of a TIFF type

Entry = tuple[int, int, int, bytes]


def _ascii(tag: int, text: str) -> Entry:
    data = text.encode("ascii") + b"\0"
    return tag, 2, len(data), data


def _shorts(tag: int, *values: int) -> Entry:
    return tag, 3, len(values), struct.pack(f"<{len(values)}H", *values)


def _longs(tag: int, *values: int) -> Entry:
    return tag, 4, len(values), struct.pack(f"<{len(values)}I", *values)


def _bytes(tag: int, *values: int) -> Entry:
    return tag, 1, len(values), bytes(values)


def _ratios(tag: int, kind: int, values: NDArray[np.float64]) -> Entry:
    flat = [round(float(v) * 10_000) for v in values.ravel()]
    pairs = [n for value in flat for n in (value, 10_000)]
    return tag, kind, len(flat), struct.pack(f"<{len(pairs)}{'I' if kind == 5 else 'i'}", *pairs)


def _directory(entries: list[Entry], at: int) -> bytes:
    """A directory placed at an offset, followed by the values that don't fit into it."""
    entries = sorted(entries)
    out, beside = struct.pack("<H", len(entries)), b""
    after = at + 2 + 12 * len(entries) + 4
    for tag, kind, count, data in entries:
        out += struct.pack("<HHI", tag, kind, count)
        if len(data) <= 4:
            out += data.ljust(4, b"\0")
        else:
            out += struct.pack("<I", after + len(beside))
            beside += data + b"\0" * (len(data) % 2)
    return out + struct.pack("<I", 0) + beside


def mosaic(picture: NDArray[np.uint8]) -> NDArray[np.uint16]:
    """The values of a sensor with red, green, green, blue that would give this sRGB picture."""
    codes = np.arange(256) / 255
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    h, w = picture.shape[:2]
    values = np.empty((h, w), np.uint16)
    for y, x, channel in ((0, 0, 0), (0, 1, 1), (1, 0, 1), (1, 1, 2)):
        level = _BLACK + linear * _NEUTRAL[channel] * (_WHITE - _BLACK)
        values[y::2, x::2] = (level + 0.5).astype(np.uint16)[picture[y::2, x::2, channel]]
    return values


def dng(picture: NDArray[np.uint8], preview: bytes, camera: str) -> bytes:
    """A raw file of the picture, H x W x 3 with even sides, with a JPEG of the same size in it."""
    h, w = picture.shape[:2]
    sensor = mosaic(picture).tobytes()
    matrix = np.diag(_NEUTRAL) @ _XYZ_TO_SRGB
    maker, model = camera.split(" ", 1)

    def main(preview_at: int, raw_at: int) -> list[Entry]:
        return [
            _longs(254, 1), _longs(256, w), _longs(257, h), _shorts(258, 8, 8, 8), _shorts(259, 7),
            _shorts(262, 6), _ascii(271, maker), _ascii(272, model), _longs(273, preview_at),
            _shorts(274, 1), _shorts(277, 3), _longs(278, h), _longs(279, len(preview)),
            _longs(330, raw_at), _shorts(530, 2, 2), _bytes(50706, 1, 4, 0, 0),
            _bytes(50707, 1, 1, 0, 0), _ascii(50708, camera), _ratios(50721, 10, matrix),
            _ratios(50728, 5, _NEUTRAL), _shorts(50778, 21),
        ]  # fmt: skip

    def raw(sensor_at: int) -> list[Entry]:
        return [
            _longs(254, 0), _longs(256, w), _longs(257, h), _shorts(258, 16), _shorts(259, 1),
            _shorts(262, 32803), _longs(273, sensor_at), _shorts(277, 1), _longs(278, h),
            _longs(279, len(sensor)), _shorts(33421, 2, 2), _bytes(33422, 0, 1, 1, 2),
            _bytes(50710, 0, 1, 2), _shorts(50711, 1), _shorts(50714, _BLACK),
            _longs(50717, _WHITE),
        ]  # fmt: skip

    # Lengths don't depend on the offsets, so they can be laid out first.
    raw_at = 8 + len(_directory(main(0, 0), 8))
    preview_at = raw_at + len(_directory(raw(0), raw_at))
    sensor_at = preview_at + len(preview) + len(preview) % 2
    header = struct.pack("<2sHI", b"II", 42, 8)
    directories = _directory(main(preview_at, raw_at), 8) + _directory(raw(sensor_at), raw_at)
    return header + directories + preview + b"\0" * (len(preview) % 2) + sensor
