"""The segments of a JPEG (ISO/IEC 10918-1, Annex B), and XMP among them (ISO 16684-3).

Every other byte stays.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

from winnow.photos.xmp_check import SidecarError
from winnow.say import say

XMP: Final = b"http://ns.adobe.com/xap/1.0/\0"
EXTENSION: Final = b"http://ns.adobe.com/xmp/extension/\0"
_EXIF: Final = b"Exif\0\0"
_MPF: Final = b"MPF\0"  # CIPA DC-007: several pictures in one file, by their places in it
LONGEST_PACKET: Final = 65_533 - len(XMP)
_LONGEST_PIECE: Final = 65_533 - len(EXTENSION) - 32 - 8
_MP_ENTRIES: Final = 0xB002
# Markers of frames in Huffman's code, and of any frames (table B.1).
HUFFMAN: Final = (0xC0, 0xC1, 0xC2)
FRAMES: Final = tuple(n for n in range(0xC0, 0xD0) if n not in (0xC4, 0xC8, 0xCC))
Order = Literal["little", "big"]


@dataclass(frozen=True, slots=True)
class Segment:
    """A segment as it stands in the file, with fill bytes before its marker."""

    raw: bytes
    fill: int

    @property
    def marker(self) -> int:
        """The second byte of the marker: 0xE1 for APP1."""
        return self.raw[self.fill + 1]

    @property
    def body(self) -> bytes:
        """What follows the length."""
        return self.raw[self.fill + 4 :]

    def is_app(self, number: int, name: bytes) -> bool:
        """Whether it is this application segment, by its number and name."""
        return self.marker == 0xE0 + number and self.body.startswith(name)


def parts(jpeg: bytes) -> tuple[list[Segment], bytes]:
    """The segments before the picture's data, and everything from there. Raises SidecarError."""
    segments = leading(jpeg)
    at = 2 + sum(len(segment.raw) for segment in segments)
    marker = at
    while jpeg[marker : marker + 2] == b"\xff\xff":
        marker += 1
    if (
        jpeg[:2] != b"\xff\xd8"
        or jpeg[marker : marker + 2] != b"\xff\xda"
        or marker + 4 > len(jpeg)
    ):
        raise SidecarError(say("it is not a JPEG that can be read"))
    return segments, jpeg[at:]


def leading(head: bytes) -> list[Segment]:
    """The segments before the picture's data that the beginning of a JPEG holds whole."""
    segments: list[Segment] = []
    at = 2
    while head[:2] == b"\xff\xd8" and at + 4 <= len(head) and head[at] == 0xFF:
        marker = at
        while marker + 4 <= len(head) and head[marker + 1] == 0xFF:
            marker += 1
        end = marker + 2 + int.from_bytes(head[marker + 2 : marker + 4], "big")
        if head[marker + 1] == 0xDA or end > len(head):
            break
        segments.append(Segment(head[at:end], marker - at))
        at = end
    return segments


def packet_of(segments: Sequence[Segment]) -> bytes:
    """The XMP of a JPEG, b"" if it has none."""
    return next((segment.body[len(XMP) :] for segment in segments if segment.is_app(1, XMP)), b"")


def extension_of(segments: Sequence[Segment], name: str) -> bytes:
    """The second part of a packet, by the name that the first part gives it.

    Raises SidecarError where it is cut.
    """
    pieces: dict[int, bytes] = {}
    whole = 0
    for segment in segments:
        if segment.is_app(1, EXTENSION):
            body = segment.body[len(EXTENSION) :]
            if body[:32] == name.encode("ascii", "replace"):
                whole = int.from_bytes(body[32:36], "big")
                pieces[int.from_bytes(body[36:40], "big")] = body[40:]
    data = b"".join(pieces[at] for at in sorted(pieces))
    if len(data) != whole or (not pieces and name):
        raise SidecarError(say("a part of its XMP is missing"))
    return data


def name_of_extension(data: bytes) -> str:
    """The name of a second part: the MD5 of its content, as the standard wants it."""
    return hashlib.md5(data, usedforsecurity=False).hexdigest().upper()


def with_packet(jpeg: bytes, packet: bytes, extension: bytes | None) -> bytes:
    """A JPEG with this XMP in place of its own.

    ``extension``: the second part; None leaves that as it is. What other segments say of places in
    the file stays right. Raises SidecarError.
    """
    segments, rest = parts(jpeg)
    if sum(segment.is_app(1, XMP) for segment in segments) > 1:
        raise SidecarError(say("it holds XMP twice, and programs differ in which one counts"))
    pieces = [_segment(XMP + packet)]
    if extension:
        name = name_of_extension(extension).encode()
        pieces += [
            _segment(
                EXTENSION + name + len(extension).to_bytes(4, "big") + at.to_bytes(4, "big")
                + extension[at : at + _LONGEST_PIECE]
            )
            for at in range(0, len(extension), _LONGEST_PIECE)
        ]  # fmt: skip

    def goes(segment: Segment) -> bool:
        return segment.is_app(1, XMP) or (extension is not None and segment.is_app(1, EXTENSION))

    place = _place(segments)
    before = [segment for segment in segments[:place] if not goes(segment)]
    after = [segment for segment in segments[place:] if not goes(segment)]
    made = [*before, *pieces, *after]
    start = sum(len(segment.raw) for segment in segments) + 2
    moved = sum(len(segment.raw) for segment in made) + 2 - start
    made = [
        _with_places(segment, _at(segments, segment), _at(made, segment), start, moved)
        if segment.is_app(2, _MPF)
        else segment
        for segment in made
    ]
    return jpeg[:2] + b"".join(segment.raw for segment in made) + rest


def same_but_for_xmp(before: bytes, after: bytes) -> bool:
    """Whether two JPEGs are the same, byte for byte and in order, but for their XMP and for places
    in the file."""

    def bare(jpeg: bytes) -> tuple[list[bytes], bytes]:
        segments, rest = parts(jpeg)
        kept = [
            segment.raw if not segment.is_app(2, _MPF) else _without_places(segment)
            for segment in segments
            if not segment.is_app(1, XMP) and not segment.is_app(1, EXTENSION)
        ]
        return kept, rest

    return bare(before) == bare(after)


def _segment(body: bytes) -> Segment:
    if len(body) > 65_533:
        raise SidecarError(say("its texts are too long for a JPEG; write them to a sidecar"))
    return Segment(b"\xff\xe1" + (len(body) + 2).to_bytes(2, "big") + body, 0)


def _place(segments: Sequence[Segment]) -> int:
    """Where XMP goes: where it is, but in front of places of other pictures; else behind JFIF and
    Exif."""
    place = next((n for n, segment in enumerate(segments) if segment.is_app(1, XMP)), None)
    if place is None:
        leading = [
            n
            for n, segment in enumerate(segments)
            if segment.marker == 0xE0 or segment.is_app(1, _EXIF)
        ]
        place = max(leading, default=-1) + 1
    listed = next(
        (n for n, segment in enumerate(segments) if segment.is_app(2, _MPF)), len(segments)
    )
    return min(place, listed)


def _at(segments: Sequence[Segment], wanted: Segment) -> int:
    """Where a segment begins in the file."""
    at = 2
    for segment in segments:
        if segment is wanted:
            return at
        at += len(segment.raw)
    raise AssertionError("no such segment")


def _entries(segment: Segment) -> tuple[int, int, Order] | None:
    """Where the entries of pictures lie in a segment's bytes, how many, and which byte of a number
    comes first."""
    head = segment.fill + 4 + len(_MPF)
    raw = segment.raw
    order: Order = "little" if raw[head : head + 2] == b"II" else "big"

    def number(at: int, size: int) -> int:
        return int.from_bytes(raw[at : at + size], order)

    directory = head + number(head + 4, 4)
    for n in range(min(number(directory, 2), 64)):
        entry = directory + 2 + 12 * n
        if number(entry, 2) == _MP_ENTRIES:
            size, at = number(entry + 4, 4), head + number(entry + 8, 4)
            return (at, size // 16, order) if at + size <= len(raw) else None
    return None


def _with_places(segment: Segment, was: int, now: int, start: int, moved: int) -> Segment:
    """The list of a file's pictures, when the list moved from one place to another, and all from
    ``start`` on by ``moved`` bytes."""
    entries = _entries(segment)
    if entries is None:
        return segment
    at, count, order = entries
    raw = bytearray(segment.raw)
    head = segment.fill + 4 + len(_MPF)
    for n in range(count):
        size_at, place_at = at + 16 * n + 4, at + 16 * n + 8
        place = int.from_bytes(raw[place_at : place_at + 4], order)
        if place and was + head + place >= start:
            there = place + was + moved - now
            raw[place_at : place_at + 4] = there.to_bytes(4, order)
        elif not place:  # the first picture, of which the segments are a part
            size = int.from_bytes(raw[size_at : size_at + 4], order)
            if size + moved > 0:
                raw[size_at : size_at + 4] = (size + moved).to_bytes(4, order)
    return Segment(bytes(raw), segment.fill)


def _without_places(segment: Segment) -> bytes:
    entries = _entries(segment)
    raw = bytearray(segment.raw)
    if entries is not None:
        at, count, _ = entries
        for n in range(count):
            raw[at + 16 * n + 4 : at + 16 * n + 12] = bytes(8)
    return bytes(raw)
