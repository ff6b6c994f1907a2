"""Facts that raw files state in ways of their own, outside Exif: the properties of an X3F, and the
header of a medium-format back's RAW. They are there though the sensor's data is cut off.

Files in the wild, as exiftool's readers take them; no standard describes them.
"""

from __future__ import annotations

import struct
from collections.abc import Callable, Mapping
from io import SEEK_END
from typing import BinaryIO, Final, TypeVar

from winnow.core.facts import Facts
from winnow.photos.file_text import decoded, of_file, seconds_of

T = TypeVar("T", int, float)
_MOST_PROPERTIES: Final = 1000
_MOST_BYTES: Final = 1024**2


def of_x3f(file: BinaryIO) -> Facts:
    """The facts of an X3F: pairs of a name and a text; no facts of another or a damaged file."""
    try:
        stated = _properties(file)
    except (struct.error, UnicodeDecodeError, ValueError):
        return Facts()
    seconds = _number(stated, "TIME", int)
    return Facts(
        taken_at=None if seconds is None else float(seconds),
        camera=of_file(stated.get("CAMMODEL", "")) or None,
        serial=of_file(stated.get("CAMSERIAL", "")) or None,
        focal_mm=_number(stated, "FLENGTH", float),
        aperture=_number(stated, "APERTURE", float),
        shutter_s=_number(stated, "SHUTTER", float),
        iso=_number(stated, "ISO", int),
        exposure_bias_ev=_number(stated, "EXPCOMP", float, least=-20),
    )


def _properties(file: BinaryIO) -> dict[str, str]:
    """Names and texts, in a section of the directory that the last four bytes point to."""

    def part(at: int, length: int) -> bytes:
        file.seek(at)
        return file.read(min(length, _MOST_BYTES))

    if part(0, 4) != b"FOVb":
        return {}
    (directory,) = struct.unpack("<I", part(file.seek(-4, SEEK_END), 4))
    tag, _, count = struct.unpack("<4sII", part(directory, 12))
    if tag != b"SECd":
        return {}
    entries = part(directory + 12, 12 * min(count, _MOST_PROPERTIES))
    for start, length, kind in struct.iter_unpack("<II4s", entries):
        if kind == b"PROP":
            return _pairs(part(start, length))
    return {}


def _pairs(section: bytes) -> dict[str, str]:
    tag, _, count, _, _, _ = struct.unpack_from("<4s5I", section)
    if tag != b"SECp" or count > _MOST_PROPERTIES:
        return {}
    texts = section[24 + 8 * count :].decode("utf-16-le").split("\0")
    starts, at = {}, 0
    for text in texts:
        starts[at] = text
        at += len(text) + 1
    pairs = (struct.unpack_from("<II", section, 24 + 8 * n) for n in range(count))
    return {starts[name]: starts[text] for name, text in pairs if {name, text} <= starts.keys()}


def _number(
    stated: Mapping[str, str], name: str, kind: Callable[[str], T], least: float = 0
) -> T | None:
    """A property that is a number, and more than ``least``."""
    try:
        value = kind(stated[name])
    except (KeyError, ValueError):
        return None
    return value if least < value < 1e10 else None


# The back's codes for sensitivities begin with this one, for ISO 25; three are a doubling.
_FIRST_ISO: Final = 7
_ISOS: Final = (25, 32, 40, 50, 64, 80, 100, 125, 160, 200, 250, 320, 400)


def of_kyocera(data: bytes) -> Facts:
    """The facts in the header of a RAW whose texts stand from the last letter to the first; no
    facts of another file."""
    if len(data) < 0x7C or data[0x19:0x20] != b"ARECOYK":
        return Facts()
    iso, shutter, aperture, focal = (
        int.from_bytes(data[at : at + 4], "big") for at in (0x34, 0x38, 0x58, 0x70)
    )
    steps = iso - _FIRST_ISO
    return Facts(
        taken_at=seconds_of(_backwards(data[0x21:0x35])),
        camera=f"KYOCERA {_backwards(data[0x0C:0x18])}".strip(),
        iso=_ISOS[steps] if 0 <= steps < len(_ISOS) else None,
        # In eighths and sixteenths of a doubling.
        shutter_s=2 ** (shutter / 8) / 16_000 if 0 < shutter < 200 else None,
        aperture=2 ** (aperture / 16) if 0 < aperture < 200 else None,
        focal_mm=float(focal) if 0 < focal < 10_000 else None,
    )


def _backwards(text: bytes) -> str:
    return of_file(decoded(text[::-1].strip(b"\0")))
