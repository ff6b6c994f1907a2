"""Facts that cameras put into JPEG segments of their own, outside Exif: an early pocket camera's
time, a thermal camera's lens.

Files in the wild, as exiftool's readers take them; no standard describes them.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence
from typing import Final

from winnow.core.facts import Facts
from winnow.photos.file_text import decoded, of_file, seconds_of
from winnow.photos.jpeg_segments import Segment

_QVCI: Final = b"QVCI\0"
_TIME_AT: Final = slice(0x4D, 0x4D + 19)  # "1998.10.24.12.08.57"
_FLIR: Final = b"FLIR\0"
_CAMERA: Final = 0x20
_MOST_RECORDS: Final = 100


def facts_in(segments: Sequence[Segment]) -> Facts:
    """What the segments before a JPEG's picture say; nothing where they hold no such ones."""
    bodies = (segment.body for segment in segments if segment.is_app(1, _QVCI))
    times = (seconds_of(decoded(body[_TIME_AT])) for body in bodies)
    lenses = _thermal_texts(segments, 0x170, 32)
    serials = _thermal_texts(segments, 0x104, 16)
    return Facts(
        taken_at=next((time for time in times if time is not None), None),
        lens=next(lenses, None),
        serial=next(serials, None),
    )


def _thermal_texts(segments: Sequence[Segment], at: int, length: int) -> Iterator[str]:
    """A text of the record of a thermal camera that tells of the camera itself."""
    # Eight bytes stand before each part of the data: name, version, part, last part.
    parts = [segment.body[8:] for segment in segments if segment.is_app(1, _FLIR)]
    data = b"".join(parts)
    if data[:4] != b"FFF\0" or len(data) < 0x40:
        return
    start, count = struct.unpack_from(">II", data, 0x18)
    for n in range(min(count, _MOST_RECORDS)):
        entry = data[start + 32 * n : start + 32 * (n + 1)]
        if len(entry) == 32 and struct.unpack_from(">H", entry)[0] == _CAMERA:
            (record,) = struct.unpack_from(">I", entry, 12)
            text = of_file(decoded(data[record + at : record + at + length].split(b"\0")[0]))
            if text:
                yield text
