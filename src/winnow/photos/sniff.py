"""What a file is, by its first bytes."""

from __future__ import annotations

from typing import Final

from winnow.core.frames import Kind

_BEGINNINGS: Final = (
    (b"\xff\xd8\xff", Kind.JPEG),
    (b"\x89PNG\r\n\x1a\n", Kind.PNG),
    (b"II*\0", Kind.TIFF),
    (b"MM\0*", Kind.TIFF),
    (b"II+\0", Kind.TIFF),
    (b"MM\0+", Kind.TIFF),
    (b"\xff\x0a", Kind.JXL),
    (b"\0\0\0\x0cJXL \r\n\x87\n", Kind.JXL),
    (b"8BPS", Kind.PSD),
)


_HEIC_BRANDS: Final = (b"heic", b"heix", b"heim", b"heis", b"mif1", b"msf1")


def sniff(head: bytes) -> Kind | None:
    """Tell a file's kind by its first bytes (64 are enough). Raw kinds based on TIFF read as
    TIFF."""
    by_beginning = next(
        (kind for beginning, kind in _BEGINNINGS if head.startswith(beginning)), None
    )
    if by_beginning is not None:
        return by_beginning
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return Kind.WEBP
    if head[:2] == b"PK" and b"mimetypeimage/openraster" in head:
        return Kind.ORA
    if head[4:8] == b"ftyp":
        # The brand of its own, and those that it is compatible with (ISO 14496-12, 4.3).
        brands = head[8 : min(len(head), int.from_bytes(head[:4], "big"))]
        if head[8:12] in (b"avif", b"avis") or (head[8:12] == b"mif1" and b"avif" in brands):
            return Kind.AVIF
        if head[8:12] in _HEIC_BRANDS:
            return Kind.HEIC
    return None


def is_raw(data: bytes, promised: Kind) -> bool:
    """Whether a file whose name promises ``promised`` is a camera raw file."""
    return promised is Kind.RAW and sniff(data[:64]) in (None, Kind.TIFF)
