"""Facts in picture files, through exiv2: see ``photos.xmp`` for marks and texts, and the lock they
share."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any, Final, TypeVar

import exiv2

from winnow.core.facts import Facts
from winnow.core.files.merge import Stated
from winnow.core.frames import Kind, kind_of
from winnow.photos import boxes, makers_segments, raw, raw_headers, xmp_facts
from winnow.photos.file_text import of_file, seconds_of
from winnow.photos.jpeg_segments import leading
from winnow.photos.xmp import LOCK, in_head, packet_of, stated_in

T = TypeVar("T")


def read_facts(data: bytes, *, with_thumbnail: bool = False) -> Facts:
    """Read the facts of a picture file. Unreadable metadata gives empty facts, never an error."""
    # exiv2 knows the first part of a packet only, and takes it for UTF-8.
    facts = _read(data, with_thumbnail, in_head(data))
    return _filled(facts, makers_segments.facts_in(leading(data)))


def _read(source: bytes | str, with_thumbnail: bool, described: Stated | None = None) -> Facts:
    with LOCK:
        try:
            image = exiv2.ImageFactory.open(source)
            image.readMetadata()
            return _facts(image, with_thumbnail, described)
        except (exiv2.Exiv2Error, ValueError, UnicodeDecodeError, OverflowError):
            return Facts()


def read_facts_at(path: Path, *, with_thumbnail: bool = False) -> Facts:
    """The same of a file on disk, without reading all of it: raw files and TIFFs keep their facts
    in many places. Raises OSError when the file can't be opened."""
    try:
        name = str(path).encode().decode()
    except UnicodeEncodeError:
        return read_facts(path.read_bytes(), with_thumbnail=with_thumbnail)
    path.stat()
    facts = _read(name, with_thumbnail)
    if kind_of(path.name) is Kind.JPEG:
        with path.open("rb") as file:
            return _filled(facts, makers_segments.facts_in(leading(file.read(_HEAD_OF_JPEG))))
    if kind_of(path.name) is not Kind.RAW or facts.camera or facts.taken_at is not None:
        return facts
    return _said_elsewhere(path, facts)


_HEAD_OF_JPEG: Final = 256 * 1024
# Where the facts of a raw file lie, if they do not lie where exiv2 looks.
_HEAD_OF_RAW: Final = 4 * 1024**2


def _said_elsewhere(path: Path, facts: Facts) -> Facts:
    """The facts of a raw file that exiv2 can't read: a CR3's own TIFFs, the maker's own header, the
    Exif of a JPEG in it, and what LibRaw tells. What is known already stays."""
    with path.open("rb") as file:
        head = file.read(_HEAD_OF_RAW)
        stated = raw_headers.of_x3f(file)
    inside = (_of_cr3(head), stated, raw_headers.of_kyocera(head), _of_jpeg_within(head))
    for elsewhere in (*inside, raw.exposure_of(path)):
        facts = _filled(facts, elsewhere)
    return facts


def _filled(facts: Facts, elsewhere: Facts) -> Facts:
    """Facts with what is said elsewhere where nothing is known."""
    missing = {
        name: value
        for name in _OF_EXPOSURE
        if getattr(facts, name) is None and (value := getattr(elsewhere, name)) is not None
    }
    return replace(facts, **missing) if missing else facts


# What is filled in from elsewhere; orientation and size of an embedded picture are its own.
_OF_EXPOSURE: Final = (
    "taken_at", "utc_offset_min", "camera", "lens", "focal_mm", "aperture", "shutter_s", "iso",
    "flash", "serial", "lens_serial", "exposure_bias_ev", "program", "place",
)  # fmt: skip


def _of_cr3(head: bytes) -> Facts:
    """The facts of a CR3 by the directories in it, each a TIFF of its own."""
    tiffs = boxes.tiffs_of_cr3(head)
    if "Image" not in tiffs:
        return Facts()
    with LOCK:
        try:
            image = exiv2.ImageFactory.open(tiffs.pop("Image"))
            image.readMetadata()
            exif = image.exifData()
            for group, tiff in tiffs.items():
                other = exiv2.ImageFactory.open(tiff)
                other.readMetadata()
                for datum in other.exifData():
                    exif[exiv2.ExifKey(datum.tag(), group).key()] = datum.value()
            return _facts(image, False, None)
        except (exiv2.Exiv2Error, ValueError, UnicodeDecodeError, OverflowError):
            return Facts()


def _of_jpeg_within(head: bytes) -> Facts:
    """The facts that the first JPEG with Exif in a raw file states."""
    at = head.find(b"Exif\0\0")
    start = head.rfind(b"\xff\xd8\xff", 0, at) if at > 0 else -1
    return _read(head[start:], False) if start >= 0 and at - start < 64 else Facts()


def _facts(image: Any, with_thumbnail: bool, described: Stated | None) -> Facts:
    exif = image.exifData()
    thumbnail = bytes(exiv2.ExifThumb(exif).copy().data()) if with_thumbnail and exif else b""
    orientation = _whole(exif, "Exif.Image.Orientation") or 0
    maker, model = _text(exif, "Exif.Image.Make"), _text(exif, "Exif.Image.Model")
    flash = _first(_whole, exif, "Flash")
    packet = packet_of(image)
    stated = xmp_facts.facts_in(packet) if packet else {}
    if not 1 <= orientation <= 8:
        # A page turns a JPEG by its Exif alone.
        orientation = 1 if image.mimeType() == "image/jpeg" else stated.get("orientation", 1)
    taken_at, in_xmp = _time(image, stated)
    offset = _offset(_text(exif, "Exif.Photo.OffsetTimeOriginal"))
    if offset is None and in_xmp:
        offset = _offset(stated.get("zone")) or xmp_facts.zone_in(stated["taken"])
    width, height = image.pixelWidth() or None, image.pixelHeight() or None
    return Facts(
        taken_at=taken_at,
        utc_offset_min=offset,
        camera=_camera(maker, model) or _camera(stated.get("make"), stated.get("model")),
        lens=_text(exif, "Exif.Photo.LensModel")
        # Where Exif has none, what programs have put into the picture's own directory.
        or _text(exif, "Exif.Image.0xa434")
        or _makers(exif, exiv2.lensName)
        or stated.get("lens"),
        focal_mm=_first(_number, exif, "FocalLength")
        or _focal_of_maker(exif)
        or stated.get("focal_mm"),
        aperture=_first(_number, exif, "FNumber")
        or _apex(exif, "ApertureValue", xmp_facts.aperture_of)
        or stated.get("aperture"),
        shutter_s=_first(_number, exif, "ExposureTime")
        or _apex(exif, "ShutterSpeedValue", xmp_facts.shutter_of)
        or stated.get("shutter_s"),
        iso=_iso(exif) or stated.get("iso"),
        flash=stated.get("flash") if flash is None else bool(flash & 1),
        orientation=orientation,
        width=width,
        height=height,
        thumbnail=thumbnail or None,
        serial=_text_but_zeros(exif, "Exif.Photo.BodySerialNumber")
        or _text_but_zeros(exif, "Exif.Image.0xa431")
        or _text(exif, "Exif.Image.CameraSerialNumber")
        or _makers(exif, exiv2.serialNumber)
        or stated.get("serial"),
        lens_serial=_text_but_zeros(exif, "Exif.Photo.LensSerialNumber")
        or _text_but_zeros(exif, "Exif.Image.0xa435")
        or stated.get("lens_serial"),
        exposure_bias_ev=stated.get("exposure_bias_ev") if (bias := _bias(exif)) is None else bias,
        drive_mode=_stated_mode(exif, _DRIVE),
        focus_mode=_stated_mode(exif, _FOCUS),
        program=_PROGRAMS.get(_first(_whole, exif, "ExposureProgram") or 0),
        focus_point=_focus_point(exif, width, height, orientation),
        place=_place(exif) or stated.get("place"),
        # "R03" names the option colour space (DCF 2.0); Exif 2.32 calls it "uncalibrated".
        optional_space=_text(exif, "Exif.Iop.InteroperabilityIndex") == "R03"
        and _whole(exif, "Exif.Photo.ColorSpace") in (None, 2, 65535),
        described=stated_in(image) if described is None else described,
    )


# Makers' notes have no common place for these, but their names for them are much alike.
_DRIVE: Final = ("DriveMode", "ReleaseMode", "ContinuousDrive", "BurstMode", "Continuous")
_FOCUS: Final = ("FocusMode", "AFMode", "FocusMode2")
# Exif 2.32, table 8.
_PROGRAMS: Final = {
    1: "manual",
    2: "normal program",
    3: "aperture priority",
    4: "shutter priority",
    5: "creative program",
    6: "action program",
    7: "portrait mode",
    8: "landscape mode",
}
_LONGEST_MODE: Final = 60


def _stated_mode(exif: Any, names: tuple[str, ...]) -> str | None:
    """The first of these tags in the maker's notes, as text a person can read."""
    texts: dict[str, str] = {}
    for datum in exif:
        name = datum.tagName()
        if name in names and name not in texts:
            text = of_file(datum.print(exif))
            if text and not text.startswith("("):  # "(7)": not known what it means
                texts[name] = text[:_LONGEST_MODE]
    return next((texts[name] for name in names if name in texts), None)


def _first(read: Callable[[Any, str], T | None], exif: Any, tag: str) -> T | None:
    """A tag of Exif's own directory, else of the picture's, where TIFF/EP has it (ISO 12234-2)."""
    value = read(exif, f"Exif.Photo.{tag}")
    return read(exif, f"Exif.Image.{tag}") if value is None else value


def _makers(exif: Any, find: Callable[[Any], Any]) -> str | None:
    """What the maker's notes say in place of a standard tag, as text a person can read."""
    datum = find(exif)
    if datum is None or datum.key() not in exif:
        return None
    text = of_file(datum.print(exif))[:_LONGEST_MODE]
    # "(7)", or a bare "0", "n/a" or "----": not known what it means, or nothing.
    return text if re.search(r"[^\W_]", text) and not re.match(r"\(|n/a$|0*$", text) else None


def _iso(exif: Any) -> int | None:
    """The sensitivity; where it does not fit its first tag, by those of Exif 2.3 (Annex G)."""
    most = 65_535  # "more than fits"
    small = _first(_whole, exif, "ISOSpeedRatings")
    if small is not None and 0 < small < most:
        return small
    for tag in ("RecommendedExposureIndex", "ISOSpeed", "StandardOutputSensitivity"):
        large = _whole(exif, f"Exif.Photo.{tag}")
        if large is not None and 0 < large < 10_000_000:
            return large
    text = _makers(exif, exiv2.isoSpeed)
    makers = int(text) if text and text.isascii() and text.isdecimal() else 0
    return makers if 0 < makers < 10_000_000 else None


def _bias(exif: Any) -> float | None:
    value = _first(_signed, exif, "ExposureBiasValue")
    if value is None:
        # In 32nds of an EV, thirds rounded: Canon's own way, where there is no Exif (CRW).
        makers = _signed(exif, "Exif.CanonSi.ExposureCompensation")
        value = None if makers is None else round(makers / 32 * 6) / 6
    return value if value is not None and abs(value) <= 20 else None


def _signed(data: Any, key: str) -> float | None:
    return (
        float(data[key].value().toFloat(0)) if key in data and data[key].value().count() else None
    )


def _focus_point(
    exif: Any, width: int | None, height: int | None, orientation: int
) -> tuple[float, float] | None:
    """The middle of Exif's SubjectArea or SubjectLocation, or of a maker's own focus pixel."""
    if not width or not height:
        return None
    keys = ["Exif.Photo.SubjectArea", "Exif.Photo.SubjectLocation", "Exif.Image.SubjectLocation"]
    keys += [datum.key() for datum in exif if datum.tagName() == "FocusPixel"]
    for key in keys:
        if key not in exif or exif[key].value().count() < 2:
            continue
        value = exif[key].value()
        x, y = value.toInt64(0) / width, value.toInt64(1) / height
        # Some write zeros for "nowhere".
        if (x, y) != (0, 0) and 0 <= x <= 1 and 0 <= y <= 1:
            return turned_point(x, y, orientation)
    return None


def turned_point(x: float, y: float, orientation: int) -> tuple[float, float]:
    """A place (0…1) of the stored picture in the upright one."""
    if orientation in (5, 6, 7, 8):
        x, y = y, x
    if orientation in (2, 3, 6, 7):
        x = 1 - x
    if orientation in (3, 4, 7, 8):
        y = 1 - y
    return x, y


def _place(exif: Any) -> tuple[float, float] | None:
    degrees = []
    for name, reference, most in (
        ("Latitude", {"N": 1, "S": -1}, 90.0),
        ("Longitude", {"E": 1, "W": -1}, 180.0),
    ):
        key = f"Exif.GPSInfo.GPS{name}"
        sign = reference.get((_text(exif, f"{key}Ref") or "")[:1].upper())
        if key not in exif or sign is None or exif[key].value().count() != 3:
            return None
        parts = [float(exif[key].value().toFloat(n)) for n in range(3)]
        value = parts[0] + parts[1] / 60 + parts[2] / 3600
        if not 0 <= value <= most:
            return None
        degrees.append(sign * value)
    # Null Island: a receiver without a fix.
    return None if degrees == [0, 0] else (degrees[0], degrees[1])


def _camera(maker: str | None, model: str | None) -> str | None:
    """Maker and model, the maker once only: many models begin with it."""
    if model and maker and not model.lower().startswith(maker.split()[0].lower()):
        return f"{maker} {model}"
    return model or maker


def _text(data: Any, key: str) -> str | None:
    if key not in data:
        return None
    return of_file(data[key].toString()) or None


def _text_but_zeros(data: Any, key: str) -> str | None:
    """A serial number; some write zeros for "none"."""
    text = _text(data, key)
    return text if text and text.strip("0") else None


def _number(data: Any, key: str) -> float | None:
    if key not in data:
        return None
    value = data[key].value()
    if not value.count():
        return None
    number = float(value.toFloat(0))
    # A rational with a denominator of zero comes as a huge or infinite number.
    return number if 0 < number < 1e6 else None


def _whole(data: Any, key: str) -> int | None:
    if key not in data or not data[key].value().count():
        return None
    return int(data[key].value().toInt64(0))


def _apex(exif: Any, tag: str, value: Callable[[float], float | None]) -> float | None:
    """What a tag states in APEX (Exif 2.32, annex C), as a plain number."""
    key = f"Exif.Photo.{tag}"
    if key not in exif or not exif[key].value().count():
        return None
    return value(float(exif[key].value().toFloat(0)))


def _focal_of_maker(exif: Any) -> float | None:
    """The focal length that the maker's notes state, in mm."""
    text = _makers(exif, exiv2.focalLength) or ""
    match = re.match(r"(\d+(?:\.\d+)?) mm$", text)
    return float(match[1]) if match and float(match[1]) > 0 else None


def _time(image: Any, stated: Mapping[str, Any]) -> tuple[float | None, bool]:
    """When it was taken: as Exif says, else XMP, else the older IPTC; last, when Exif says the file
    was changed. And whether it is XMP that says so. ``stated``: by XMP."""
    exif, iptc = image.exifData(), image.iptcData()
    for name, fraction in (
        ("Exif.Photo.DateTimeOriginal", "Exif.Photo.SubSecTimeOriginal"),
        ("Exif.Photo.DateTimeDigitized", "Exif.Photo.SubSecTimeDigitized"),
        ("Exif.Image.DateTimeOriginal", "Exif.Photo.SubSecTimeOriginal"),
    ):
        if (seconds := seconds_of(_text(exif, name))) is not None:
            return seconds + _fraction(_text(exif, fraction)), False
    text = stated.get("taken", "")
    if (seconds := seconds_of(text)) is not None:
        part = re.match(r"\.(\d{1,9})", text[19:])
        return seconds + (_fraction(part[1]) if part else 0.0), True
    day = _text(iptc, "Iptc.Application2.DateCreated")
    time = _text(iptc, "Iptc.Application2.TimeCreated")
    if day and time and (seconds := seconds_of(f"{day} {time}")) is not None:
        return seconds, False
    seconds = seconds_of(_text(exif, "Exif.Image.DateTime"))
    if seconds is None:
        return None, False
    return seconds + _fraction(_text(exif, "Exif.Photo.SubSecTime")), False


def _fraction(digits: str | None) -> float:
    """The part of a second that these digits say."""
    return float(f"0.{digits}") if digits and digits.isascii() and digits.isdecimal() else 0.0


def _offset(text: str | None) -> int | None:
    """Minutes from "+02:00"; None for anything else."""
    if not text or len(text) != 6 or text[0] not in "+-" or text[3] != ":":
        return None
    if not (text[1:3].isdecimal() and text[4:].isdecimal()):
        return None
    minutes = int(text[1:3]) * 60 + int(text[4:])
    return -minutes if text[0] == "-" else minutes
