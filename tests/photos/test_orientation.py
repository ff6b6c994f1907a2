"""Every kind of file in each of Exif's eight orientations (Exif 2.32, tag 0x0112), wherever a
picture is shown."""

import io

import numpy as np
import pillow_heif
import pillow_jxl  # noqa: F401
import pytest
import tifffile
from numpy.typing import NDArray
from PIL import Image, ImageOps

from tests.pictures import dng, jpeg
from winnow.core.frames import Kind
from winnow.photos import decode, jpegs, pictures
from winnow.photos.metadata import read_facts

WIDE, HIGH = 480, 320
KINDS = {
    "jpg": Kind.JPEG,
    "png": Kind.PNG,
    "tif": Kind.TIFF,
    "deep tif": Kind.TIFF,
    "dng": Kind.RAW,
    "heic": Kind.HEIC,
    "avif": Kind.AVIF,
    "webp": Kind.WEBP,
    "jxl": Kind.JXL,
}
BY_THEMSELVES = ("heic", "avif", "jxl")
FORMATS = {
    "jpg": "JPEG",
    "png": "PNG",
    "heic": "HEIF",
    "avif": "AVIF",
    "webp": "WEBP",
    "jxl": "JXL",
}
pillow_heif.register_heif_opener()


def stored() -> Image.Image:
    """Four corners of different colours: no way to turn or mirror it leaves it alike."""
    pixels = np.empty((HIGH, WIDE, 3), np.uint8)
    half, middle = HIGH // 2, WIDE // 2
    pixels[:half, :middle], pixels[:half, middle:] = (220, 30, 30), (30, 200, 30)
    pixels[half:, :middle], pixels[half:, middle:] = (30, 30, 220), (230, 230, 230)
    return Image.fromarray(pixels)


def file_of(ending: str, orientation: int) -> bytes:
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x0112] = orientation
    if ending == "dng":
        stored().save(out, "JPEG", quality=95)
        return dng(out.getvalue(), WIDE, HIGH, orientation)
    if ending == "tif":
        stored().save(out, "TIFF", tiffinfo={0x0112: orientation})
    elif ending == "deep tif":
        deep = np.asarray(stored()).astype(np.uint16) * 257
        tifffile.imwrite(
            out, deep, photometric="rgb", extratags=[(0x0112, 3, 1, orientation, True)]
        )
    else:
        more = {"use_container": True} if ending == "jxl" else {}
        stored().save(out, FORMATS[ending], exif=exif.tobytes(), quality=95, **more)
    return out.getvalue()


def wanted(orientation: int) -> list[list[int]]:
    """The colours of the corners as a person sees them, by another way: Pillow's."""
    image = stored()
    image.getexif()[0x0112] = orientation
    return corners(np.asarray(ImageOps.exif_transpose(image)))


def corners(pixels: NDArray[np.generic]) -> list[list[int]]:
    height, width = pixels.shape[:2]
    return [
        [round(float(c) / 100) for c in pixels[y, x]]
        for y in (height // 4, 3 * height // 4)
        for x in (width // 4, 3 * width // 4)
    ]


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("ending", KINDS)
def test_a_picture_is_upright_wherever_it_is_shown(ending: str, orientation: int) -> None:
    data, kind = file_of(ending, orientation), KINDS[ending]
    facts = read_facts(data)
    if ending in BY_THEMSELVES:
        # Their own boxes say how they lie (ISO 23008-12, 18181-1), which the decoder reads; Exif's
        # word doesn't count.
        orientation = 1 if ending == "jxl" else orientation
    else:
        assert facts.orientation == orientation
    size = (WIDE, HIGH) if orientation < 5 else (HIGH, WIDE)
    expected = wanted(orientation)
    for longest in (None, 240):
        found = decode.decode(data, kind, facts.orientation, longest)
        assert (found.width, found.height) == size
        assert corners(found.pixels) == expected, f"decoded, {longest}"
    look = pictures.look(data, kind, facts.orientation)
    assert (look.width, look.height) == size
    for name, made in (("preview", look.preview), ("thumbnail", look.thumbnail)):
        with Image.open(io.BytesIO(made)) as image:
            assert corners(np.asarray(image)) == expected, name
    if ending not in ("dng", "jxl"):
        assert (facts.width, facts.height) == (WIDE, HIGH)


@pytest.mark.parametrize("orientation", range(1, 9))
def test_the_cameras_own_thumbnail_is_upright(orientation: int) -> None:
    out = io.BytesIO()
    stored().resize((160, 107)).save(out, "JPEG", quality=95)
    made = jpegs.upright_thumbnail(out.getvalue(), orientation, WIDE / HIGH)
    assert made is not None
    with Image.open(io.BytesIO(made)) as image:
        assert corners(np.asarray(image)) == wanted(orientation)


def test_a_picture_without_an_orientation_is_as_it_is_stored() -> None:
    assert read_facts(jpeg(1)).orientation == 1
