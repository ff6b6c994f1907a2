"""The boxes of ISO base media files (ISO/IEC 14496-12): each is a size, a type, and what it
holds."""

from __future__ import annotations

import struct
from collections.abc import Iterator
from typing import Final

_UUID: Final = 16
# Types of boxes that hold only boxes.
_HOLDERS: Final = frozenset({b"moov", b"uuid"})
_MOST: Final = 200


def boxes(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    """The type and content of each whole box, those within others behind them; at most 200."""
    waiting, count = [data], 0
    while waiting:
        part, at = waiting.pop(), 0
        while at + 8 <= len(part) and count < _MOST:
            size, kind = struct.unpack_from(">I4s", part, at)
            head = 8
            if size == 1 and at + 16 <= len(part):
                (size,) = struct.unpack_from(">Q", part, at + 8)
                head = 16
            if size < head or at + size > len(part):
                break
            content = part[at + head : at + size]
            count += 1
            yield kind, content
            if kind in _HOLDERS:
                waiting.append(content[_UUID:] if kind == b"uuid" else content)
            at += size


def tiffs_of_cr3(data: bytes) -> dict[str, bytes]:
    """The TIFFs in which a CR3 keeps its facts, by the group that their tags belong to.

    Three boxes of a file whose brand is "crx " hold one directory each: the picture's, Exif's and
    that of the place. Files in the wild, as exiv2's and exiftool's readers take them.
    """
    if data[4:12] != b"ftypcrx ":
        return {}
    groups = {b"CMT1": "Image", b"CMT2": "Photo", b"CMT4": "GPSInfo"}
    return {groups[kind]: content for kind, content in boxes(data) if kind in groups}
