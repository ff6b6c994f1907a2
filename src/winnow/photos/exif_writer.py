"""Facts written into a JPEG that Winnow made."""

from __future__ import annotations

from fractions import Fraction
from time import gmtime, strftime

import exiv2

from winnow.core.facts import Facts
from winnow.photos.metadata import turned_point
from winnow.photos.xmp import LOCK


def with_facts(jpeg: bytes, facts: Facts) -> bytes:
    """Return a JPEG that states these facts in its Exif (the demo's and the tests' pictures)."""
    with LOCK:
        image = exiv2.ImageFactory.open(jpeg)
        image.readMetadata()
        exif = image.exifData()
        for key, value in _stated(facts).items():
            exif[key] = value
        if facts.thumbnail:
            exiv2.ExifThumb(exif).setJpegThumbnail(facts.thumbnail)
        image.writeMetadata()
        with image.io().data() as written:
            return bytes(written)


def _stated(facts: Facts) -> dict[str, str]:  # noqa: C901
    stated = {"Exif.Image.Orientation": str(facts.orientation)}
    if facts.taken_at is not None:
        # Rounded first, so that 0.9996 s don't become 1000 ms.
        milliseconds = round(facts.taken_at * 1000)
        when = gmtime(milliseconds // 1000)
        stated["Exif.Photo.DateTimeOriginal"] = strftime("%Y:%m:%d %H:%M:%S", when)
        stated["Exif.Photo.SubSecTimeOriginal"] = f"{milliseconds % 1000:03d}"
    if facts.utc_offset_min is not None:
        sign = "-" if facts.utc_offset_min < 0 else "+"
        hours, minutes = divmod(abs(facts.utc_offset_min), 60)
        stated["Exif.Photo.OffsetTimeOriginal"] = f"{sign}{hours:02d}:{minutes:02d}"
    if facts.place is not None:
        for name, degrees, signs in zip(
            ("Latitude", "Longitude"), facts.place, ("NS", "EW"), strict=True
        ):
            stated[f"Exif.GPSInfo.GPS{name}Ref"] = signs[degrees < 0]
            millionths = round(abs(degrees) * 1_000_000)
            stated[f"Exif.GPSInfo.GPS{name}"] = f"{millionths}/1000000 0/1 0/1"
    if facts.exposure_bias_ev is not None:
        stated["Exif.Photo.ExposureBiasValue"] = f"{round(facts.exposure_bias_ev * 100)}/100"
    for key, number in (
        ("Exif.Photo.FocalLength", facts.focal_mm),
        ("Exif.Photo.FNumber", facts.aperture),
        ("Exif.Photo.ExposureTime", facts.shutter_s),
    ):
        if number is not None:
            fraction = Fraction(number).limit_denominator(10_000)
            stated[key] = f"{fraction.numerator}/{fraction.denominator}"
    if facts.focus_point is not None and facts.width and facts.height:
        back = {6: 8, 8: 6}.get(facts.orientation, facts.orientation)
        x, y = turned_point(*facts.focus_point, back)
        stated["Exif.Photo.SubjectArea"] = f"{round(x * facts.width)} {round(y * facts.height)}"
    for key, value in (
        ("Exif.Image.Model", facts.camera),
        ("Exif.Photo.LensModel", facts.lens),
        ("Exif.Photo.ISOSpeedRatings", facts.iso),
        ("Exif.Photo.Flash", None if facts.flash is None else int(facts.flash)),
        ("Exif.Photo.BodySerialNumber", facts.serial),
        ("Exif.Photo.LensSerialNumber", facts.lens_serial),
    ):
        if value is not None:
            stated[key] = str(value)
    return stated
