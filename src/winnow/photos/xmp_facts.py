"""Facts that a file's XMP states, by the properties for Exif of CIPA DC-010 and ISO 16684-1: for
what Exif leaves out."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import datetime
from typing import Any, Final

from winnow.photos.xmp_check import SidecarError
from winnow.photos.xmp_packet import Packet, as_utf8, tag_of

# By fact, the properties that state it: the first one that can be read counts.
_PROPERTIES: Final = {
    "make": ("tiff:Make",),
    "model": ("tiff:Model",),
    "lens": ("exifEX:LensModel", "aux:Lens"),
    "serial": ("exifEX:BodySerialNumber", "aux:SerialNumber"),
    "lens_serial": ("exifEX:LensSerialNumber", "aux:LensSerialNumber"),
    "aperture": ("exif:FNumber",),
    "aperture_apex": ("exif:ApertureValue",),
    "shutter_s": ("exif:ExposureTime",),
    "shutter_apex": ("exif:ShutterSpeedValue",),
    "focal_mm": ("exif:FocalLength",),
    "iso": (
        "exifEX:PhotographicSensitivity",
        "exif:ISOSpeedRatings",
        "exifEX:RecommendedExposureIndex",
    ),
    "exposure_bias_ev": ("exif:ExposureBiasValue",),
    "orientation": ("tiff:Orientation",),
    "latitude": ("exif:GPSLatitude",),
    "longitude": ("exif:GPSLongitude",),
    "taken": ("exif:DateTimeOriginal", "photoshop:DateCreated", "xmp:CreateDate"),
    "zone": ("exifEX:OffsetTimeOriginal",),
}
_TAGS: Final = {prop: tag_of(prop) for props in _PROPERTIES.values() for prop in props}


def facts_in(data: bytes) -> dict[str, Any]:
    """The facts that a packet states, by the names of ``metadata.Facts``; {} for one that can't be
    read.

    ``camera`` is given as ``make`` and ``model``, the time as the texts ``taken`` and ``zone``.
    """
    try:
        packet = Packet(data) if as_utf8(data) else None
    except SidecarError:
        return {}
    if packet is None:
        return {}
    said = packet.said(_TAGS)
    texts = {
        fact: [text for prop in props for text in said.get(prop, [])[:1] if text.strip()]
        for fact, props in _PROPERTIES.items()
    }
    facts: dict[str, Any] = {}
    for fact, read in _READERS.items():
        facts[fact] = next((v for text in texts[fact] if (v := read(text)) is not None), None)
    for fact, apex, value in (
        ("aperture", "aperture_apex", aperture_of),
        ("shutter_s", "shutter_apex", shutter_of),
    ):
        number = facts.pop(apex)
        if facts[fact] is None and number is not None:
            facts[fact] = value(number)
    fired = packet.within(tag_of("exif:Fired"))
    facts["flash"] = None if fired is None else fired.strip().lower() in ("true", "1")
    degrees = (facts.pop("latitude"), facts.pop("longitude"))
    facts["place"] = None if None in degrees or degrees == (0, 0) else degrees
    return {fact: value for fact, value in facts.items() if value is not None}


def aperture_of(av: float) -> float | None:
    """The f-number of an aperture in APEX (Exif 2.32, annex C)."""
    return float(2 ** (av / 2)) if abs(av) < 30 else None


def shutter_of(tv: float) -> float | None:
    """The seconds of a shutter speed in APEX."""
    return float(2**-tv) if abs(tv) < 30 else None


def _number(text: str) -> float | None:
    """A number that may be written as a fraction; None for any other text."""
    top, _, bottom = text.strip().partition("/")
    try:
        return float(top) / float(bottom or 1)
    except (ValueError, ZeroDivisionError, OverflowError):
        return None


def _positive(text: str) -> float | None:
    number = _number(text)
    return number if number is not None and 0 < number < 1e6 else None


def _whole(text: str) -> int | None:
    number = _number(text)
    return int(number) if number is not None and 0 < number < 10_000_000 else None


def _bias(text: str) -> float | None:
    number = _number(text)
    return number if number is not None and abs(number) <= 20 else None


def _turn(text: str) -> int | None:
    return int(text) if text.strip() in tuple("12345678") else None


def _degrees(text: str) -> float | None:
    """Degrees of "54,59.38N" or "54,59,22.8N"; south and west are negative."""
    match = re.fullmatch(
        r"\s*(\d{1,3}),(\d{1,2}(?:\.\d+)?)(?:,(\d{1,2}(?:\.\d+)?))?\s*([NSEW])\s*", text, re.ASCII
    )
    if not match:
        return None
    value = float(match[1]) + float(match[2]) / 60 + float(match[3] or 0) / 3600
    if value > (90 if match[4] in "NS" else 180):
        return None
    return -value if match[4] in "SW" else value


def _when(text: str) -> str | None:
    # Some programs write it as Exif does: "2026:06:15 12:00:00".
    return text.strip() if re.match(r"\s*\d{4}[-:]\d\d[-:]\d\d[T ]\d\d:\d\d", text) else None


def _text(text: str) -> str | None:
    return text.strip() or None


_READERS: Final[dict[str, Callable[[str], Any]]] = {
    "make": _text,
    "model": _text,
    "lens": _text,
    "serial": _text,
    "lens_serial": _text,
    "aperture": _positive,
    "aperture_apex": _number,
    "shutter_s": _positive,
    "shutter_apex": _number,
    "focal_mm": _positive,
    "iso": _whole,
    "exposure_bias_ev": _bias,
    "orientation": _turn,
    "latitude": _degrees,
    "longitude": _degrees,
    "taken": _when,
    "zone": _text,
}


def zone_in(text: str) -> int | None:
    """Minutes from UTC at the end of a time of XMP, "2026-06-15T18:42:07+02:00"; None where it
    states none."""
    try:
        offset = datetime.fromisoformat(text.strip()).utcoffset()
    except ValueError:
        return None
    return None if offset is None else round(offset.total_seconds() / 60)
